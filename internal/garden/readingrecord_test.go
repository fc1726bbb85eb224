package garden_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// A lab's figures that belong together are taken in together, whichever way they come.
func TestReadingFiguresBelongTogether(t *testing.T) {
	today := quantity.Date(2026, 11, 24)
	ppm := func(x quantity.Concentration) *quantity.Concentration { return &x }
	for field, change := range map[string]func(r *garden.Reading){
		"":          func(*garden.Reading) {},
		"k_to":      func(r *garden.Reading) { r.KFrom = ppm(90) },
		"buffer_ph": func(r *garden.Reading) { r.BufferKind = soil.SMP },
		"depth":     func(r *garden.Reading) { r.Depth = 0.01 },
		"date":      func(r *garden.Reading) { r.Date = today + 1 },
	} {
		ph := quantity.PH(5.8)
		r := garden.Reading{BedID: 1, Date: today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Potassium: ppm(80), Cores: 12, Depth: 0.15}
		change(&r)
		err := garden.CheckReading(r, today)
		if field == "" {
			require.NoError(t, err)
			continue
		}
		var f garden.Faults
		require.ErrorAs(t, err, &f, field)
		assert.Contains(t, f, field)
	}
}
