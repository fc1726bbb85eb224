package text_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

func TestEveryStepTemplateAndSignHasText(t *testing.T) {
	u := text.Units{}
	for _, id := range bedprep.Steps {
		if id != bedprep.Own {
			assert.NotEmpty(t, text.StepName(id, ""), id)
			assert.NotEmpty(t, u.StepHow(id), id)
			assert.NotContains(t, u.StepHow(id), "{", id)
		}
	}
	assert.Equal(t, "Lay boards", text.StepName(bedprep.Own, "Lay boards"))
	for _, x := range bedprep.Templates {
		assert.NotEmpty(t, text.Template(x.ID), x.ID)
		assert.NotContains(t, u.TemplateSays(x.ID), "{", x.ID)
	}
	for _, l := range bedprep.Looks {
		assert.NotEmpty(t, text.Look(l.ID))
		for _, s := range l.Signs {
			assert.NotEmpty(t, text.Sign(s), s)
			if _, against := bedprep.Ready([]bedprep.Sign{s}); len(against) > 0 {
				assert.NotContains(t, text.NotReady(against, quantity.Date(2026, 11, 24)), ": .", s)
			}
		}
	}
	for _, why := range []calendar.Why{calendar.StepOrder, calendar.PotatoYear} {
		assert.NotEqual(t, string(why), text.Limit(string(why)))
	}
}

// Three rings of 250 g are 750 g; 98 g of ash are 0.8 of a cup of 0.24 L, loose at half a kilo a litre.
func TestAmountsPerPlant(t *testing.T) {
	u := text.Units{}
	assert.Equal(t, "250 g to each of the three", u.Each(750, 3, nil))
	assert.Equal(t, "2.5 scoops to each of the three", u.Each(750, 3, &text.Scoop{Name: "scoop", Of: 100}))
	assert.Empty(t, u.Each(750, 1, nil))
	ash, _ := material.Find(material.HardwoodAsh)
	assert.Equal(t, "about 0.8 cups", text.InCups(ash, 98))
}
