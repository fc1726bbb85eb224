package seasons_test

import (
	"context"
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// The page tells the forecast's own figures: its table, and where the line of a bed stands today.
func TestPageMatchesForecast(t *testing.T) {
	s := webtest.New(t, true)
	kale := s.Bed("Kale and roots").Bed
	page := s.Get(fmt.Sprintf("/seasons?bed=%d", kale.ID)).Body.String()
	season, err := s.App.Outlook.Bed(context.Background(), kale.ID, s.Today)
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
	fresh := s.Get(fmt.Sprintf("/seasons?bed=%d", s.Bed("New ground").Bed.ID)).Body.String()
	assert.Contains(t, fresh, "never tested")
	assert.Contains(t, fresh, "Add a reading")
	assert.Equal(t, http.StatusNotFound, s.Get("/seasons?bed=9999").Code)
	assert.Equal(t, http.StatusOK, s.Get("/seasons").Code)
}

// The first reading of a bed stands in its picture, also where the month that its line begins with came after.
func TestChartStartsAtFirstReading(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("New ground").Bed
	first := quantity.PH(5.4)
	s.Add(&garden.Reading{BedID: b.ID, Date: s.Today - 4, Method: soil.Lab, Basis: soil.Water, PH: &first, Cores: 12, Depth: 0.15})
	page := s.Get(fmt.Sprintf("/seasons?bed=%d", b.ID)).Body.String()
	assert.Contains(t, page, "5.4 by lab, "+text.DayYear(s.Today-4))
}
