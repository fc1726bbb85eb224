package ui_test

import (
	"bytes"
	"html/template"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/web/ui"
)

// parsed are the elements of a piece of a page by their names, with their attributes; what
// is written is read as a browser reads it.
func parsed(t *testing.T, piece template.HTML) map[string][]map[string]string {
	t.Helper()
	out := map[string][]map[string]string{}
	z := html.NewTokenizer(bytes.NewReader([]byte(piece)))
	for z.Next() != html.ErrorToken {
		x := z.Token()
		switch x.Type {
		case html.StartTagToken, html.SelfClosingTagToken:
			at := map[string]string{}
			for _, a := range x.Attr {
				require.NotContains(t, at, a.Key, "twice in %s", piece)
				at[a.Key] = a.Val
			}
			out[x.Data] = append(out[x.Data], at)
		case html.TextToken:
			if all := out["text"]; len(all) > 0 {
				all[0]["said"] += x.Data
			} else {
				out["text"] = []map[string]string{{"said": x.Data}}
			}
		}
	}
	return out
}

const nasty = `6,5"><script>alert('x')</script>`

func TestAFieldHoldsWhatWasTypedAndSaysWhatIsWrong(t *testing.T) {
	f := form("ph", nasty, "day", "2026-11-24", "lime1", "2")
	f.Faults["ph"] = nasty
	got := parsed(t, f.Field("ph", "pH & more", "if read", "decimal"))
	in := got["input"][0]
	assert.Equal(t, nasty, in["value"])
	assert.Equal(t, "true", in["aria-invalid"])
	assert.Equal(t, "ph-fault", in["aria-describedby"])
	assert.Equal(t, in["id"], got["label"][0]["for"])
	assert.Equal(t, in["aria-describedby"], got["p"][0]["id"])
	assert.Equal(t, "decimal", in["inputmode"])
	assert.Equal(t, "pH & more if read"+nasty, got["text"][0]["said"])
	assert.Empty(t, got["script"])

	day := parsed(t, f.Field("day", "Day", "", "date"))
	assert.Equal(t, "date", day["input"][0]["type"])
	assert.NotContains(t, day["input"][0], "aria-invalid")
	assert.Empty(t, day["span"], "nothing beside the label")
	assert.NotContains(t, parsed(t, f.Field("name", "Name", "", ""))["input"][0], "inputmode")
	assert.Equal(t, "figure", parsed(t, f.Figure("ph", "pH", "", "text"))["input"][0]["class"])

	// One of a row is wrong by its own fault, or by the row's.
	bare := func() map[string]string { return parsed(t, f.Bare("lime1", "Lime in jar 1", "jars"))["input"][0] }
	assert.Equal(t, "Lime in jar 1", bare()["aria-label"])
	assert.Equal(t, "jars-fault", bare()["aria-describedby"])
	assert.NotContains(t, bare(), "aria-invalid")
	for _, at := range []string{"lime1", "jars"} {
		f.Faults[at] = "no"
		assert.Equal(t, "true", bare()["aria-invalid"], at)
		delete(f.Faults, at)
	}
	hidden := parsed(t, f.Hidden([]string{"ph", "none"}))["input"]
	require.Len(t, hidden, 2)
	assert.Equal(t, map[string]string{"type": "hidden", "name": "ph", "value": nasty}, hidden[0])
	assert.Empty(t, hidden[1]["value"])
}

func TestWhatHoldsIsChosenAndWhatIsOffCannotBe(t *testing.T) {
	list := []ui.Choice{{ID: "a-1", Value: "1", Text: "One", Why: "first"}, {ID: "a-2", Value: "2", Text: "Two", On: true},
		{ID: "a-3", Value: "3", Text: "Three", Off: nasty}}
	for kind, piece := range map[string]template.HTML{"radio": ui.Radios("a", list), "checkbox": ui.Checks(list)} {
		got := parsed(t, piece)
		require.Len(t, got["input"], 3)
		for i, in := range got["input"] {
			assert.Equal(t, kind, in["type"])
			assert.Equal(t, map[string]string{"radio": "a", "checkbox": in["id"]}[kind], in["name"])
			assert.Equal(t, got["label"][i]["for"], in["id"])
			_, on := in["checked"]
			assert.Equal(t, list[i].On, on)
			_, off := in["disabled"]
			assert.Equal(t, list[i].Off != "", off)
		}
		assert.Contains(t, got["text"][0]["said"], "One first")
	}
	side := parsed(t, ui.Segments("a", list))
	assert.Equal(t, nasty, side["label"][2]["title"], "why not is told")
	assert.NotContains(t, side["label"][0], "title")
	_, on := side["input"][1]["checked"]
	assert.True(t, on)
	options := parsed(t, ui.Options([]ui.Option{{Value: "x", Text: "X"}, {Value: nasty, Text: nasty}}, nasty))["option"]
	assert.Equal(t, nasty, options[1]["value"])
	assert.NotContains(t, options[0], "selected")
	assert.Contains(t, options[1], "selected")
}

func TestAGuardBearsItsLevelAndWhatWouldLiftIt(t *testing.T) {
	got := parsed(t, ui.Guards([]words.Guarded{{Level: guard.Stop, Says: nasty, Lifts: "a test"}, {Level: guard.Note, Says: "wait"}}))
	require.Len(t, got["div"], 2)
	assert.Equal(t, "guard stop", got["div"][0]["class"])
	assert.Equal(t, "guard note", got["div"][1]["class"])
	require.Len(t, got["p"], 3, "what nothing lifts says nothing of it")
	assert.Equal(t, "lifts", got["p"][1]["class"])
	assert.Contains(t, got["text"][0]["said"], "What would lift it: a test")
	assert.Empty(t, got["script"])
}

func TestTheFieldsOfAFormStandInATable(t *testing.T) {
	f := form("part", nasty, "kind", "b", "note", nasty)
	f.Faults["kind"] = nasty
	got := parsed(t, f.Rows([]ui.Row{
		{Name: "part", Label: "Part", Box: ` data-for="x"`, Control: ` maxlength="60"`, Suggests: []string{nasty, "Tunnel"}},
		{Name: "kind", Label: "Kind", Options: []ui.Option{{Value: "a", Text: "A"}, {Value: "b", Text: "B"}}},
		{Name: "note", Label: "Note", Mode: ui.Lines, Box: ui.Wide},
		{Box: ` class="pair"`, Together: []ui.Row{{Name: "from", Label: "From"}, {Name: "to", Label: "To"}}}}))
	part := got["input"][0]
	assert.Equal(t, nasty, part["value"])
	assert.Equal(t, "60", part["maxlength"])
	assert.Equal(t, got["datalist"][0]["id"], part["list"], "what is offered is its own")
	offered := got["option"][:2]
	assert.Equal(t, []string{nasty, "Tunnel"}, []string{offered[0]["value"], offered[1]["value"]})
	assert.Equal(t, "true", got["select"][0]["aria-invalid"])
	assert.Equal(t, "kind-fault", got["select"][0]["aria-describedby"])
	assert.NotContains(t, got["option"][2], "selected")
	assert.Contains(t, got["option"][3], "selected")
	assert.Len(t, got["textarea"], 1)
	assert.Len(t, got["input"], 3)
	assert.Equal(t, "x", got["div"][0]["data-for"])
	assert.Equal(t, "wide", got["div"][2]["class"])
	assert.Equal(t, "pair", got["div"][3]["class"])
	assert.Len(t, got["div"], 6)
	assert.Len(t, got["p"], 5, "each has its sentence")
	assert.Empty(t, got["script"])
}
