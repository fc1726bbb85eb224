package server_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
)

// The page tells the forecast's own figures: its table, and where the line of a bed stands today.
func TestSeasonsTellTheForecastsFigures(t *testing.T) {
	s := newSite(t, true)
	kale := s.bed("Kale and roots").Bed
	page := s.get(fmt.Sprintf("/seasons?bed=%d", kale.ID)).Body.String()
	season, err := s.app.Outlook.Bed(context.Background(), kale.ID, s.today)
	require.NoError(t, err)
	july := quantity.Date(2029, 7, 1)
	at, idle := forecast.On(season.Run.PH, july), forecast.On(season.Idle.PH, july)
	for _, want := range []float64{at.Median, at.P05, at.P95, idle.Median} {
		assert.Contains(t, page, text.PH2(quantity.PH(want)))
	}
	assert.Contains(t, page, "nothing more put on")
	assert.Contains(t, page, text.SeasonTitle("Kale and roots", forecast.Yearly(season.Record.Lesson.Model(), season.Record.Lesson.Learned())))
	assert.Contains(t, page, " planned, it")
	for _, m := range season.Moves {
		assert.Contains(t, page, text.Signed(m.PH))
	}
	// A bed that was never tested says what to do.
	fresh := s.get(fmt.Sprintf("/seasons?bed=%d", s.bed("New ground").Bed.ID)).Body.String()
	assert.Contains(t, fresh, "never tested")
	assert.Contains(t, fresh, "Add a reading")
	assert.Equal(t, http.StatusNotFound, s.get("/seasons?bed=9999").Code)
	assert.Equal(t, http.StatusOK, s.get("/seasons").Code)
}

// The first reading of a bed stands in its picture, also where the month that its line begins with came after.
func TestASeasonBeginsWithItsFirstReading(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("New ground").Bed
	first := quantity.PH(5.4)
	s.add(&garden.Reading{BedID: b.ID, Date: s.today - 4, Method: soil.Lab, Basis: soil.Water, PH: &first, Cores: 12, Depth: 0.15})
	page := s.get(fmt.Sprintf("/seasons?bed=%d", b.ID)).Body.String()
	assert.Contains(t, page, "5.4 by lab, "+text.DayYear(s.today-4))
}

// What a dose rests on of what the bed has taught is told beside it, with the way to put it aside.
func TestADoseSaysWhatTheBedTaught(t *testing.T) {
	s := newSite(t, true)
	ledge := s.bed("Upper ledge").Bed
	page := s.get(fmt.Sprintf("/beds/%d/dose", ledge.ID)).Body.String()
	assert.Contains(t, page, "By what its own 7 tests have taught")
	left := s.get(fmt.Sprintf("/beds/%d/dose?buffering=table", ledge.ID)).Body.String()
	assert.Contains(t, left, "which is left out here")
	taught := s.get(fmt.Sprintf("/beds/%d/taught", ledge.ID)).Body.String()
	assert.Contains(t, taught, "Put aside what it has taught")
}

// The report on the page, the table and the workbook tell the same: what was read, what went on of which batch, what it
// brought, what was promised, and what is next.
func TestASeasonsReportTellsTheSameEverywhere(t *testing.T) {
	s := newSite(t, true)
	kale := s.bed("Kale and roots").Bed
	ask := fmt.Sprintf("season=2026&bed=%d", kale.ID)
	page := s.get("/seasons/report?" + ask).Body.String()
	rows, err := csv.NewReader(s.get("/export/season.csv?" + ask).Body).ReadAll()
	require.NoError(t, err)
	at := map[string]int{}
	for i, h := range rows[0] {
		at[h] = i
	}
	rec := s.record(kale.ID)
	count := map[string]int{}
	for _, row := range rows[1:] {
		assert.Equal(t, "Kale and roots", row[at["bed"]])
		count[row[at["line"]]]++
	}
	reads, puts, lime := 0, 0, 0.0
	for _, x := range rec.Readings {
		if x.Date.Year() == 2026 && x.Date <= s.today {
			reads++
			assert.Contains(t, page, text.DayYear(x.Date))
		}
	}
	for _, x := range rec.Applications {
		if p, ok := x.Put(); ok && x.Date.Year() == 2026 && x.Date <= s.today {
			puts++
			lime += float64(p.Brought().CaCO3)
		}
	}
	assert.Equal(t, reads, count["reading"])
	assert.Equal(t, puts, count["put on"])
	assert.Positive(t, count["to do"])
	for _, row := range rows[1:] {
		if row[at["line"]] == "put on in all" {
			sum, err := strconv.ParseFloat(row[at["caco3_g_m2"]], 64)
			require.NoError(t, err)
			assert.InDelta(t, lime, sum, 0.01)
		}
	}
	book := s.get("/export/season.xlsx?" + ask)
	cells, err := exchange.ReadCells("season.xlsx", book.Body.Bytes())
	require.NoError(t, err)
	require.Len(t, cells, len(rows))
	// All beds, and a season of which nothing is known.
	all, err := csv.NewReader(s.get("/export/season.csv").Body).ReadAll()
	require.NoError(t, err)
	assert.Greater(t, len(all), len(rows))
	assert.Equal(t, http.StatusOK, s.get("/seasons/report?season=1999").Code)
}

// Ways to go on are laid beside each other: nothing more, a go once and each year, harder water; what is wrong keeps what was
// typed, and one that is kept goes in the year by the rules of any dose.
func TestWhatIf(t *testing.T) {
	s := newSite(t, true)
	ledge := s.bed("Middle ledge").Bed
	path := fmt.Sprintf("/beds/%d/try", ledge.ID)
	assert.Contains(t, s.get(path).Body.String(), "nothing more put on")
	season, err := s.app.Outlook.Bed(context.Background(), ledge.ID, s.today)
	require.NoError(t, err)
	m := regexp.MustCompile(`<option value="(b\d+)">Ground lim[^<]*`).FindStringSubmatch(s.get(path).Body.String())
	require.NotEmpty(t, m)
	page := s.get(path + "?what1=nothing&what2=" + m[1] + "&amount2=2&day2=2027-02-01&what3=nothing&water3=2000").Body.String()
	five := s.today.AddMonths(outlook.Ahead)
	idle := text.PH(quantity.PH(forecast.On(season.Idle.PH, five).Median))
	litres := 2000.0
	watered := text.PH(quantity.PH(forecast.On(season.Try(outlook.Try{Litres: &litres}).PH, five).Median))
	assert.NotEqual(t, idle, watered, "hard water sweetens")
	for _, want := range []string{idle, watered, "2 kg of ground lim", "on 1 Feb 2027"} {
		assert.Contains(t, page, want)
	}
	fed := s.get(path + "?what1=nothing&what2=ammonium-nitrate&amount2=0.4&every2=1&what3=rotted-manure&amount3=40&every3=1").Body.String()
	cell := regexp.MustCompile(`(?s)<th scope="row">\d</th><td>[^<]*(?:<span[^<]*</span>)?</td>(?:<td class="num">([\d.]+)</td>){4}`)
	levels := cell.FindAllStringSubmatch(strings.ReplaceAll(fed, "\n  ", ""), -1)
	require.Len(t, levels, 3)
	assert.Less(t, levels[1][1], levels[0][1], "a feed makes it sourer over the years")
	assert.Greater(t, levels[2][1], levels[0][1], "rotted manure sweeter")
	bad := s.get(path + "?what1=" + m[1] + "&amount1=-3&what2=" + m[1] + "&amount2=1&day2=2020-01-01&what3=nothing&water3=9000")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	for _, want := range []string{`value="-3"`, "An amount above 0 is needed", "A day to come is needed", "to 5000 litres"} {
		assert.Contains(t, strings.ReplaceAll(bad.Body.String(), "How much each time? an", "An"), want)
	}
	// Kept as the plan.
	kept := s.post(fmt.Sprintf("/beds/%d/mix", ledge.ID), url.Values{"key": {"try-1"}, "lime_of": {m[1]}, "lime_on": {"2"}})
	assert.Equal(t, http.StatusSeeOther, kept.Code)
	now, err := s.app.Outlook.Bed(context.Background(), ledge.ID, s.today)
	require.NoError(t, err)
	assert.Equal(t, 1, now.Planned)
}

// keptFields are those of the form that keeps a way as the plan, and where it goes; "" where it offers none.
func keptFields(page string, way int) (action string, fields url.Values) {
	form := regexp.MustCompile(fmt.Sprintf(`(?s)<form method="post" action="([^"]+)">\s*<input type="hidden" name="key" value="[^"]+t%d">`+
		`(.*?)</form>`, way)).FindStringSubmatch(page)
	if form == nil {
		return "", nil
	}
	fields = url.Values{"key": {fmt.Sprint("way-", way)}}
	for _, m := range regexp.MustCompile(`name="([^"]+)" value="([^"]*)"`).FindAllStringSubmatch(form[2], -1) {
		fields.Set(m[1], m[2])
	}
	return form[1], fields
}

// Sulfur and feeds are kept as the plan as lime is; what goes the wrong way for the bed, and a feed of today, which would be
// noted as done, are not offered.
func TestAWayOfSulfurAndOneOfAFeedAreKept(t *testing.T) {
	s := newSite(t, true)
	blue := s.bed("Blueberry pocket").Bed
	w, err := s.app.Dosing.Dose(context.Background(), blue.ID, dosing.Choice{}, s.today)
	require.NoError(t, err)
	require.NotEmpty(t, w.Answer.Options)
	o := &w.Answer.Options[0]
	path := fmt.Sprintf("/beds/%d/try?what1=%s&amount1=%.3f&day1=2027-04-20&what2=ammonium-nitrate&amount2=0.1&day2=2027-05-01",
		blue.ID, w.Key(*o), float64(o.Parts[0].Total)/2000) +
		"&what3=ammonium-nitrate&amount3=0.1&day3=" + s.today.String()
	page := s.get(path).Body.String()
	to, _ := keptFields(page, 3)
	assert.Empty(t, to, "today’s would be noted as done")
	to, fields := keptFields(page, 1)
	require.Equal(t, fmt.Sprintf("/beds/%d/mix", blue.ID), to)
	require.Equal(t, http.StatusSeeOther, s.post(to, fields).Code)
	planned := func() (out []material.Kind) {
		rec, err := s.app.BedState.Bed(context.Background(), blue.ID, s.today)
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
	require.Equal(t, http.StatusSeeOther, s.post(to, fields).Code)
	assert.Contains(t, planned(), material.Kind("ammonium-nitrate"))
	lime := slices.IndexFunc(w.Request.Materials, func(b material.Batch) bool { return b.Family == material.Lime })
	require.GreaterOrEqual(t, lime, 0)
	page = s.get(fmt.Sprintf("/beds/%d/try?what1=%s&amount1=1&day1=2027-04-20", blue.ID, w.MaterialKey(lime))).Body.String()
	require.Contains(t, page, "1 kg of ground lim", "it may be tried")
	to, _ = keptFields(page, 1)
	assert.Empty(t, to, "lime is no way to make ground sourer")
}

// Two seasons stand beside each other on the plan: today beside a year ago, another day beside today, each by its own figures.
func TestTwoSeasonsStandBesideEachOther(t *testing.T) {
	s := newSite(t, true)
	kale := s.bed("Kale and roots").Bed
	page := s.get("/?look=change").Body.String()
	assert.Contains(t, page, "24 Nov 2025 to 24 Nov 2026: ")
	then, err := s.app.BedState.On(context.Background(), s.today, s.today.AddMonths(-12), bedstate.Foretold{})
	require.NoError(t, err)
	now, err := s.app.BedState.View(context.Background(), s.today)
	require.NoError(t, err)
	a, _ := then.Bed(kale.ID)
	b, _ := now.Bed(kale.ID)
	assert.Contains(t, page, text.PH(a.PH)+" → "+text.PH(b.PH))
	later := s.today.AddMonths(9)
	ahead, err := s.app.BedState.On(context.Background(), s.today, later, bedstate.Foretold{})
	require.NoError(t, err)
	x, _ := ahead.Bed(kale.ID)
	page = s.get("/?look=change&on=" + later.String()).Body.String()
	assert.Contains(t, page, text.PH(b.PH)+" → "+text.PH(x.PH))
	assert.Contains(t, html.UnescapeString(page), text.SignedPH(x.PH-b.PH))
	assert.Contains(t, page, "New ground, not tested on both days")
	sweeter, sourer := 0, 0
	for _, p := range ahead.Beds {
		before, ok := now.Bed(p.Bed.ID)
		if !ok || p.Reading == nil {
			continue
		}
		switch d := p.PH - before.PH; {
		case d >= 0.1:
			sweeter++
		case d <= -0.1:
			sourer++
		}
	}
	assert.Contains(t, page, fmt.Sprintf("%s, %d sweeter", text.Count(sourer, "bed sourer", "beds sourer"), sweeter))
}
