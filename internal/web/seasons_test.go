package web_test

import (
	"context"
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
)

// The page tells the forecast's own figures: its table, and where the line of a bed stands today.
func TestSeasonsTellTheForecastsFigures(t *testing.T) {
	s := newSite(t, true)
	kale := s.bed("Kale and roots").Bed
	page := s.get(fmt.Sprintf("/seasons?bed=%d", kale.ID)).Body.String()
	season, err := s.keep.Seasons.Bed(context.Background(), kale.ID, s.today)
	require.NoError(t, err)
	july := quantity.Date(2029, 7, 1)
	at, idle := forecast.On(season.Run.PH, july), forecast.On(season.Idle.PH, july)
	for _, want := range []float64{at.Median, at.P05, at.P95, idle.Median} {
		assert.Contains(t, page, words.PH2(quantity.PH(want)))
	}
	assert.Contains(t, page, "nothing more put on")
	assert.Contains(t, page, words.SeasonTitle("Kale and roots", forecast.Yearly(season.Lesson.Model(), season.Lesson.Learned())))
	assert.Contains(t, page, "goes planned, it")
	for _, m := range season.Moves {
		assert.Contains(t, page, words.Signed(m.PH))
	}
	// A bed that was never tested says what to do.
	fresh := s.get(fmt.Sprintf("/seasons?bed=%d", s.bed("New ground").Bed.ID)).Body.String()
	assert.Contains(t, fresh, "never tested")
	assert.Contains(t, fresh, "Add a reading")
	assert.Equal(t, http.StatusNotFound, s.get("/seasons?bed=9999").Code)
	assert.Equal(t, http.StatusOK, s.get("/seasons").Code)
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
