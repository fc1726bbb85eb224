package report_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"html"
	"net/http"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/web/webtest"
)

// The report on the page, the table and the workbook tell the same: what was read, what was applied of which batch, what it
// brought, what was promised, and what is next.
func TestReportMatchesExports(t *testing.T) {
	s := webtest.New(t, true)
	kale := s.Bed("Kale and roots").Bed
	ask := fmt.Sprintf("season=2025/26&bed=%d", kale.ID)
	page := s.Get("/seasons/report?" + ask).Body.String()
	rows, err := csv.NewReader(s.Get("/export/season.csv?" + ask).Body).ReadAll()
	require.NoError(t, err)
	from, to := quantity.Date(2025, 9, 1), quantity.Date(2026, 9, 1)
	at := map[string]int{}
	for i, h := range rows[0] {
		at[h] = i
	}
	rec := s.Record(kale.ID)
	count := map[string]int{}
	for _, row := range rows[1:] {
		assert.Equal(t, "Kale and roots", row[at["bed"]])
		count[row[at["line"]]]++
	}
	reads, puts, lime := 0, 0, 0.0
	for _, x := range rec.Readings {
		if x.Date >= from && x.Date < to {
			reads++
			assert.Contains(t, page, text.DayYear(x.Date))
		}
	}
	for _, x := range rec.Applications {
		if p, ok := x.Put(); ok && x.Date >= from && x.Date < to {
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
	book := s.Get("/export/season.xlsx?" + ask)
	cells, err := exchange.ReadCells("season.xlsx", book.Body.Bytes())
	require.NoError(t, err)
	require.Len(t, cells, len(rows))
	// All beds, and a season of which nothing is known.
	all, err := csv.NewReader(s.Get("/export/season.csv").Body).ReadAll()
	require.NoError(t, err)
	assert.Greater(t, len(all), len(rows))
	assert.Equal(t, http.StatusOK, s.Get("/seasons/report?season=1999").Code)
}

// Two seasons stand beside each other on the plan: today beside a year ago, another day beside today, each by its own figures.
func TestTwoSeasons(t *testing.T) {
	s := webtest.New(t, true)
	kale := s.Bed("Kale and roots").Bed
	page := s.Get("/?look=change").Body.String()
	assert.Contains(t, page, "24 Nov 2025 to 24 Nov 2026: ")
	then, err := s.App.BedState.On(context.Background(), s.Today, s.Today.AddMonths(-12), bedstate.ForecastOutlook{})
	require.NoError(t, err)
	now, err := s.App.BedState.View(context.Background(), s.Today)
	require.NoError(t, err)
	a, _ := then.Bed(kale.ID)
	b, _ := now.Bed(kale.ID)
	assert.Contains(t, page, text.PH(a.PH)+" → "+text.PH(b.PH))
	later := s.Today.AddMonths(9)
	ahead, err := s.App.BedState.On(context.Background(), s.Today, later, bedstate.ForecastOutlook{})
	require.NoError(t, err)
	x, _ := ahead.Bed(kale.ID)
	page = s.Get("/?look=change&on=" + later.String()).Body.String()
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
	assert.Contains(t, page, fmt.Sprintf("%s, %d sweeter", text.Count(sourer, "bed more sour", "beds more sour"), sweeter))
}
