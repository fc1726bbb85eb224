package components_test

import (
	"bytes"
	"html/template"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// parsed returns the elements of a piece of a page by their names, with their attributes; what is
// written is read as a browser reads it.
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

// wordsOf returns all that is said, with single spaces.
func wordsOf(got map[string][]map[string]string) string {
	if len(got["text"]) == 0 {
		return ""
	}
	return strings.Join(strings.Fields(got["text"][0]["said"]), " ")
}

// typed returns a form with what was typed in it.
func typed(values ...string) form.Form {
	f := form.NoForm()
	for i := 0; i < len(values); i += 2 {
		f.Values[values[i]] = values[i+1]
	}
	return f
}

const nasty = `6,5"><script>alert('x')</script>`

func TestFieldShowsValueAndFault(t *testing.T) {
	f := typed("ph", nasty, "day", "2026-11-24", "lime1", "2")
	f.Faults["ph"] = nasty
	got := part(t, "field", f.Field("ph", "pH & more", "if read", "decimal"))
	in := got["input"][0]
	assert.Equal(t, nasty, in["value"])
	assert.Equal(t, "true", in["aria-invalid"])
	assert.Equal(t, "ph-fault", in["aria-describedby"])
	assert.Equal(t, in["id"], got["label"][0]["for"])
	assert.Equal(t, in["aria-describedby"], got["p"][0]["id"])
	assert.Equal(t, "decimal", in["inputmode"])
	assert.Equal(t, "pH & more if read "+strings.Join(strings.Fields(nasty), " "), wordsOf(got))
	assert.Empty(t, got["script"])

	day := part(t, "field", f.Field("day", "Day", "", "date"))
	assert.Equal(t, "date", day["input"][0]["type"])
	assert.NotContains(t, day["input"][0], "aria-invalid")
	assert.Empty(t, day["span"], "nothing beside the label")
	assert.NotContains(t, part(t, "field", f.Field("name", "Name", "", ""))["input"][0], "inputmode")
	assert.Equal(t, "figure", part(t, "field", f.Figure("ph", "pH", "", "text"))["input"][0]["class"])

	// One of a row is wrong by its own fault, or by the row's.
	bare := func() map[string]string {
		return part(t, "input", f.Bare("lime1", "Lime in jar 1", "jars"))["input"][0]
	}
	assert.Equal(t, "Lime in jar 1", bare()["aria-label"])
	assert.Equal(t, "jars-fault", bare()["aria-describedby"])
	assert.NotContains(t, bare(), "aria-invalid")
	for _, at := range []string{"lime1", "jars"} {
		f.Faults[at] = "no"
		assert.Equal(t, "true", bare()["aria-invalid"], at)
		delete(f.Faults, at)
	}
	hidden := part(t, "hidden", f.Hidden([]string{"ph", "none"}))["input"]
	require.Len(t, hidden, 2)
	assert.Equal(t, map[string]string{"type": "hidden", "name": "ph", "value": nasty}, hidden[0])
	assert.Empty(t, hidden[1]["value"])
}

func TestTiles(t *testing.T) {
	list := []view.Choice{{Value: "1", Text: "One", Why: "first", Drawn: view.DrawnJar, Picture: svg.FizzJarOf(soil.LimeClear)},
		{Value: "2", Text: nasty, Aside: nasty, Drawn: view.DrawnHandful, Picture: present.Feels[0].ID}}
	f := form.NoForm()
	f.Values["a"] = "2"
	for kind, tiles := range map[string][]view.Choice{"radio": f.Tiles("a", "at", list),
		"checkbox": form.Ticks("a", "at", list, []string{"2"})} {
		got := part(t, "tiles", tiles)
		require.Len(t, got["input"], 2)
		for i, in := range got["input"] {
			assert.Equal(t, kind, in["type"])
			assert.Equal(t, "a", in["name"])
			assert.Equal(t, "at-"+list[i].Value, in["id"])
			assert.Equal(t, in["id"], got["label"][i]["for"])
			_, on := in["checked"]
			assert.Equal(t, i == 1, on, "the list that it is made of is left alone")
		}
		assert.Len(t, got["svg"], 2, "each has its picture")
		assert.Contains(t, wordsOf(got), "One first")
	}
	assert.Empty(t, list[0].ID)
}

func TestChosenAndDisabledChoices(t *testing.T) {
	list := []view.Choice{{ID: "a-1", Name: "a", Value: "1", Text: "One", Why: "first"}, {ID: "a-2", Name: "a", Value: "2",
		Text: "Two", On: true},
		{ID: "a-3", Name: "a", Value: "3", Text: "Three", Off: nasty}}
	for kind, name := range map[string]string{"radio": "radios", "checkbox": "checks"} {
		got := part(t, name, list)
		require.Len(t, got["input"], 3)
		for i, in := range got["input"] {
			assert.Equal(t, kind, in["type"])
			assert.Equal(t, "a", in["name"])
			assert.Equal(t, got["label"][i]["for"], in["id"])
			_, on := in["checked"]
			assert.Equal(t, list[i].On, on)
			_, off := in["disabled"]
			assert.Equal(t, list[i].Off != "", off)
		}
		assert.Contains(t, wordsOf(got), "One first")
	}
	side := part(t, "segments", list)
	assert.Equal(t, nasty, side["label"][2]["title"], "why not is told")
	assert.NotContains(t, side["label"][0], "title")
	_, on := side["input"][1]["checked"]
	assert.True(t, on)
	options := part(t, "options", view.Choose([]view.Option{{Value: "x", Text: "X"}, {Value: nasty, Text: nasty}}, nasty))["option"]
	assert.Equal(t, nasty, options[1]["value"])
	assert.NotContains(t, options[0], "selected")
	assert.Contains(t, options[1], "selected")
}

func TestGuardShowsLevelAndLift(t *testing.T) {
	got := part(t, "notices", view.NoticesOf([]text.Guarded{{Level: guard.Stop, Says: nasty, Lifts: "a test"}, {Level: guard.Note,
		Says: "wait"}}))
	require.Len(t, got["div"], 2)
	assert.Equal(t, "guard stop", got["div"][0]["class"])
	assert.Equal(t, "guard note", got["div"][1]["class"])
	require.Len(t, got["p"], 3, "what nothing lifts says nothing of it")
	assert.Contains(t, wordsOf(got), "The way out: a test")
	assert.Empty(t, got["script"])
}

func TestFormTable(t *testing.T) {
	f := typed("part", nasty, "kind", "b", "note", nasty)
	f.Faults["kind"] = nasty
	got := part(t, "fields", f.Rows([]form.Row{
		{Name: "part", Label: "Part", For: "x", MaxLength: 60, Suggests: []string{nasty, "Tunnel"}},
		{Name: "kind", Label: "Kind", Options: []view.Option{{Value: "a", Text: "A"}, {Value: "b", Text: "B"}}},
		{Name: "note", Label: "Note", Mode: form.Lines, Box: form.Wide},
		{Box: "pair", Together: []form.Row{{Name: "from", Label: "From"}, {Name: "to", Label: "To"}}}}))
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

func TestFileField(t *testing.T) {
	got := part(t, "fields", typed("file", nasty).Rows([]form.Row{
		{Name: "file", Label: "File", Mode: form.File, Accept: form.Pictures, Camera: true}}))
	in := got["input"][0]
	assert.Equal(t, "file", in["type"])
	assert.Equal(t, form.Pictures, in["accept"])
	assert.Equal(t, "environment", in["capture"])
	assert.NotContains(t, in, "value", "a page cannot choose a file")
	assert.NotContains(t, in, "inputmode")
}

func TestCheckbox(t *testing.T) {
	f := typed("wet", "yes", "old", "no")
	got := part(t, "fields", f.Rows([]form.Row{{Name: "wet", Label: "Wet", Mode: form.Tick}, {Name: "old", Label: nasty, Mode: form.Tick},
		{Name: "new", Label: "New", Mode: form.Tick}}))
	require.Len(t, got["input"], 3)
	for i, name := range []string{"wet", "old", "new"} {
		in := got["input"][i]
		assert.Equal(t, "checkbox", in["type"])
		assert.Equal(t, []string{name, name, "yes"}, []string{in["id"], in["name"], in["value"]})
		assert.Equal(t, name, got["label"][i]["for"])
		_, on := in["checked"]
		assert.Equal(t, name == "wet", on, name)
	}
	assert.Empty(t, got["script"])
}

// A shelf may be empty: what is chosen from it is not typed instead.
func TestEmptySelect(t *testing.T) {
	got := part(t, "fields", typed().Rows([]form.Row{{Name: "ash", Label: "Ash", Options: []view.Option{}}}))
	assert.Len(t, got["select"], 1)
	assert.Empty(t, got["input"])
}

// The same name may stand in two forms of a page: each has its own id and sentence.
func TestRepeatedFormHasOwnIDs(t *testing.T) {
	got := part(t, "fields", typed().Rows([]form.Row{{Name: "bed", Label: "Bed"}, {Name: "bed", ID: "of-bed", Label: "Bed"}}))
	assert.Equal(t, []string{"bed", "bed"}, []string{got["input"][0]["name"], got["input"][1]["name"]})
	assert.Equal(t, "of-bed", got["input"][1]["id"])
	assert.Equal(t, "bed-fault", got["input"][0]["aria-describedby"])
	assert.Equal(t, "of-bed-fault", got["input"][1]["aria-describedby"])
	assert.Equal(t, "of-bed-fault", got["p"][1]["id"])
}

// Two notices stand open, the gravest first; the rest are folded, and counted.
func TestAtMostTwoNoticesAreOpen(t *testing.T) {
	list := []text.Guarded{{Level: guard.Note, Says: "n1"}, {Level: guard.Caution, Says: "c1"}, {Level: guard.Stop, Says: "s1"},
		{Level: guard.Caution, Says: "c2"}}
	piece, err := set(t).Part("notices", view.NoticesOf(list))
	require.NoError(t, err)
	open, folded, found := strings.Cut(string(piece), "<details")
	assert.True(t, found)
	assert.Less(t, strings.Index(open, "s1"), strings.Index(open, "c1"))
	assert.Equal(t, 2, strings.Count(open, "<p>"))
	assert.Contains(t, folded, "2 more notes")
	assert.Contains(t, folded, "n1")
	assert.Empty(t, part(t, "notices", view.NoticesOf(list[:2]))["details"])
	assert.Equal(t, "n1", list[0].Says, "what came in stays as it is")
}

func TestRunsHaveNoExtraSpaces(t *testing.T) {
	piece, err := set(t).Part("runs", []struct{ Text, Class, Fact string }{{"It is ", "", ""}, {"sour", "sour", ""}, {", by a test.", "", ""}})
	require.NoError(t, err)
	assert.Equal(t, `It is <b class="sour">sour</b>, by a test.`, string(piece))
}

func TestChartHasTitleAndTable(t *testing.T) {
	c := svg.Chart{Title: nasty, Says: nasty, Rows: []svg.ChartRow{{Day: "1 Mar", What: nasty, Value: "pH 5.8"}}}
	got := part(t, "chart", c)
	assert.Contains(t, wordsOf(got), strings.Join(strings.Fields(nasty), " "))
	assert.Equal(t, nasty, got["svg"][0]["aria-label"])
	assert.Equal(t, nasty+", as a table", got["div"][0]["aria-label"])
	assert.Len(t, got["tr"], 2)
	assert.Empty(t, got["script"])
}

func TestRulerShowsPegAndRing(t *testing.T) {
	span := crop.Range{Low: 6.2, High: 6.8}
	classes := func(r svg.Rule) string {
		all := ""
		for _, marks := range part(t, "rule", r) {
			for _, m := range marks {
				all += " " + m["class"] + "."
			}
		}
		return all
	}
	all := classes(svg.RuleOf(256, span, nasty, "sour", 5.7, 0.14, 6.5, nasty))
	assert.Contains(t, all, " peg sour.")
	assert.Contains(t, all, " way.", "the way to go")
	assert.Contains(t, all, " ring.")
	there := classes(svg.RuleOf(256, span, "band", "in-range", 6.5, 0.14, 6.5, "there"))
	assert.NotContains(t, there, " way.", "nothing to go")
	none := classes(svg.RuleOf(256, span, "band", "untested", 0, 0, 0, "not read"))
	assert.NotContains(t, none, " peg")
	assert.NotContains(t, none, " ring.")
}

func TestPlanHasZoomData(t *testing.T) {
	plan := part(t, "plan", svg.PlanOf(svg.Scene{}, 846, 486))["svg"][0]
	assert.Equal(t, "0 0 846 486", plan["viewbox"])
	assert.Contains(t, plan["data-steps"], plan["data-step"]+":", "what a script zooms by")
	assert.NotContains(t, plan["data-scale"], "e", "a script reads it")
}

func TestPicturesHaveTables(t *testing.T) {
	got := part(t, "table", svg.Table{Says: nasty, Heads: []string{"Day", nasty}, Rows: [][]string{{"1 May", "6.1"}, {nasty, ""}}, Figures: 1})
	require.Len(t, got["th"], 2)
	require.Len(t, got["td"], 4, "an empty cell has its place")
	assert.NotContains(t, got["td"][0], "class")
	assert.Equal(t, "num", got["td"][1]["class"], "figures stand in figures’ letters")
	assert.Equal(t, nasty, got["div"][0]["aria-label"])
	assert.Equal(t, "0", got["div"][0]["tabindex"], "what is wider than its window is pushed by keys")
}
