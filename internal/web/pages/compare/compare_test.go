package compare_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/webtest"
)

// Ways to go on are laid beside each other: nothing more, a go once and each year, harder water; what is wrong keeps what was
// typed, and one that is kept goes in the year by the rules of any dose.
func TestWhatIf(t *testing.T) {
	s := webtest.New(t, true)
	ledge := s.Bed("Middle ledge").Bed
	path := fmt.Sprintf("/beds/%d/try", ledge.ID)
	assert.Contains(t, s.Get(path).Body.String(), "nothing more put on")
	season, err := s.App.Outlook.Bed(context.Background(), ledge.ID, s.Today)
	require.NoError(t, err)
	lime := dosing.BatchKey(s.Stock("Ground limestone").ID)
	page := s.Get(path + "?what1=nothing&what2=" + lime + "&amount2=2&day2=2027-02-01&what3=nothing&water3=2000").Body.String()
	five := s.Today.AddMonths(outlook.Ahead)
	idle := text.PH(quantity.PH(forecast.On(season.Idle.PH, five).Median))
	litres := 2000.0
	watered := text.PH(quantity.PH(forecast.On(season.Try(outlook.Try{Litres: &litres}).PH, five).Median))
	assert.NotEqual(t, idle, watered, "hard water sweetens")
	for _, want := range []string{idle, watered, "2 kg of ground lim", "on 1 Feb 2027"} {
		assert.Contains(t, page, want)
	}
	fed := s.Get(path + "?what1=nothing&what2=ammonium-nitrate&amount2=0.4&every2=1&what3=rotted-manure&amount3=40&every3=1").Body.String()
	var levels []string
	for _, tr := range webtest.Elements(webtest.Parsed(fed), "tr") {
		if figures := webtest.Pieces(tr.Node, "num"); len(figures) >= 4 {
			levels = append(levels, figures[3].Says)
		}
	}
	require.Len(t, levels, 3)
	assert.Less(t, levels[1], levels[0], "a feed makes it sourer over the years")
	assert.Greater(t, levels[2], levels[0], "rotted manure sweeter")
	bad := s.Get(path + "?what1=" + lime + "&amount1=-3&what2=" + lime + "&amount2=1&day2=2020-01-01&what3=nothing&water3=9000")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	for _, want := range []string{`value="-3"`, "An amount above 0 is needed", "A day to come is needed", "to 5000 litres"} {
		assert.Contains(t, strings.ReplaceAll(bad.Body.String(), "How much each time? an", "An"), want)
	}
	// Kept as the plan.
	kept := s.Post(fmt.Sprintf("/beds/%d/mix", ledge.ID), url.Values{"key": {"try-1"}, "lime_of": {lime}, "lime_on": {"2"}})
	assert.Equal(t, http.StatusSeeOther, kept.Code)
	now, err := s.App.Outlook.Bed(context.Background(), ledge.ID, s.Today)
	require.NoError(t, err)
	assert.Equal(t, 1, now.Planned)
}

// keptFields returns those of the form that keeps a way as the plan, and where it goes; "" where it
// offers none.
func keptFields(page string, way int) (action string, fields url.Values) {
	for _, form := range webtest.Elements(webtest.Parsed(page), "form") {
		fields = webtest.Fields(form.Node)
		if strings.HasSuffix(fields.Get("key"), fmt.Sprint("t", way)) {
			fields.Set("key", fmt.Sprint("way-", way))
			action, _ = webtest.Attr(form.Node, "action")
			return action, fields
		}
	}
	return "", nil
}

// Sulfur and feeds are kept as the plan as lime is; what goes the wrong way for the bed, and a feed of today, which would be
// noted as done, are not offered.
func TestSulfurAndFeedArePlanned(t *testing.T) {
	s := webtest.New(t, true)
	blue := s.Bed("Blueberry pocket").Bed
	w, err := s.App.Dosing.Dose(context.Background(), blue.ID, dosing.Choice{}, s.Today)
	require.NoError(t, err)
	require.NotEmpty(t, w.Answer.Options)
	o := &w.Answer.Options[0]
	path := fmt.Sprintf("/beds/%d/try?what1=%s&amount1=%.3f&day1=2027-04-20&what2=ammonium-nitrate&amount2=0.1&day2=2027-05-01",
		blue.ID, w.Key(*o), float64(o.Parts[0].Total)/2000) +
		"&what3=ammonium-nitrate&amount3=0.1&day3=" + s.Today.String()
	page := s.Get(path).Body.String()
	to, _ := keptFields(page, 3)
	assert.Empty(t, to, "today’s would be noted as done")
	to, fields := keptFields(page, 1)
	require.Equal(t, fmt.Sprintf("/beds/%d/mix", blue.ID), to)
	require.Equal(t, http.StatusSeeOther, s.Post(to, fields).Code)
	planned := func() (out []material.Kind) {
		rec, err := s.App.BedState.Bed(context.Background(), blue.ID, s.Today)
		require.NoError(t, err)
		for i := range rec.Tasks {
			if k := &rec.Tasks[i]; k.State == garden.Open && k.Kind == garden.TaskApplication {
				out = append(out, k.What)
			}
		}
		return out
	}
	assert.Contains(t, planned(), o.Parts[0].Kind)
	to, fields = keptFields(page, 2)
	require.Equal(t, "/log", to)
	require.Equal(t, http.StatusSeeOther, s.Post(to, fields).Code)
	assert.Contains(t, planned(), material.Kind("ammonium-nitrate"))
	lime := slices.IndexFunc(w.Request.Materials, func(b material.Batch) bool { return b.Family == material.Lime })
	require.GreaterOrEqual(t, lime, 0)
	page = s.Get(fmt.Sprintf("/beds/%d/try?what1=%s&amount1=1&day1=2027-04-20", blue.ID, w.MaterialKey(lime))).Body.String()
	require.Contains(t, page, "1 kg of ground lim", "it may be tried")
	to, _ = keptFields(page, 1)
	assert.Empty(t, to, "lime is no way to make ground sourer")
}
