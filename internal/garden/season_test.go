package garden_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// A season runs from autumn to autumn unless another month is chosen, so that one winter's lime lies in one season.
func TestSeasonOf(t *testing.T) {
	for _, x := range []struct {
		hemisphere string
		from       int
		day, want  string
	}{
		{soil.North, 0, "2026-08-31", "2025/26"}, {soil.North, 0, "2026-09-01", "2026/27"}, {soil.North, 0, "2027-02-10", "2026/27"},
		{soil.South, 0, "2026-02-28", "2025/26"}, {soil.South, 0, "2026-03-01", "2026/27"},
		{soil.North, 1, "2026-01-01", "2026"}, {soil.North, 1, "2026-12-31", "2026"},
		{soil.South, 12, "2026-11-30", "2025/26"}, {soil.South, 12, "2026-12-01", "2026/27"},
		{soil.North, 2, "2099-05-01", "2099/00"},
	} {
		day, err := quantity.ParseDay(x.day)
		require.NoError(t, err)
		assert.Equal(t, x.want, garden.Garden{Hemisphere: x.hemisphere, SeasonFrom: x.from}.SeasonOf(day), "%v", x)
	}
	var f garden.Faults
	require.ErrorAs(t, garden.CheckPlace(garden.Garden{SeasonFrom: 13}), &f)
	assert.Contains(t, f, "season_from")
}
