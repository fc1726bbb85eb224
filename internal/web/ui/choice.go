package ui

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Choice is one of a few to choose from, each of which shows on the page.
type Choice struct {
	ID, Value, Text string
	// Why says more of it in a list.
	Why string
	On  bool
	// Off says why it cannot be chosen, "" when it can.
	Off string
}

// Segments writes choices of which one holds, side by side.
func Segments(name string, list []Choice) template.HTML {
	var k ink.Ink
	for i := range list {
		c := &list[i]
		c.button(&k, "radio", name)
		k.Put(`<label for="%"`, c.ID)
		if c.Off != "" {
			k.Put(` title="%"`, c.Off)
		}
		k.Put(`>%</label>`, c.Text)
	}
	return k.HTML()
}

// Radios writes choices of which one holds, one below the other with what is to be said of each.
func Radios(name string, list []Choice) template.HTML {
	return below(list, "radio", func(Choice) string { return name })
}

// Checks writes choices each of which holds or does not.
func Checks(list []Choice) template.HTML {
	return below(list, "checkbox", func(c Choice) string { return c.ID })
}

func below(list []Choice, kind string, name func(Choice) string) template.HTML {
	var k ink.Ink
	for i := range list {
		c := &list[i]
		k.Put(`<label for="%">`, c.ID)
		c.button(&k, kind, name(*c))
		k.Put("<span><b>%</b> %</span></label>\n", c.Text, c.Why)
	}
	return k.HTML()
}

func (c *Choice) button(k *ink.Ink, kind, name string) {
	k.Put(`<input type="%" id="%" name="%" value="%"`, kind, c.ID, name, c.Value)
	if c.On {
		k.Put(` checked`)
	}
	if c.Off != "" {
		k.Put(` disabled`)
	}
	k.Put(`>`)
}
