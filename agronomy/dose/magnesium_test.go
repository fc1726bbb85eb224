package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// At 50 ppm 202.5 kg of soil want 6.1 g of magnesium: 39 g of kieserite or 62 of Epsom salt, half of it before another test.
func TestLowMagnesium(t *testing.T) {
	at50 := func(change ...func(*dose.Request)) dose.Answer {
		return answer(t, request(append([]func(*dose.Request){func(r *dose.Request) {
			r.Reading.PH, r.Target, r.Reading.Magnesium = 6.5, nil, ptr(quantity.Concentration(50))
		}}, change...)...))
	}
	m := at50().Magnesium
	require.Len(t, m.Ways, 2)
	assert.InDelta(t, 30*202.5/1000, float64(m.Need), 1e-9)
	assert.Equal(t, material.Kieserite, m.Ways[0].Kind)
	assert.InDelta(t, 6.075/0.155, float64(m.Ways[0].Rate), 1e-9)
	assert.InDelta(t, 6.075/0.098, float64(m.Ways[1].Rate), 1e-9)
	assert.InDelta(t, 0.5, float64(m.Ways[0].First/m.Ways[0].Rate), 1e-9)
	// Never more than a year may have, what was applied counted.
	poor := at50(func(r *dose.Request) { r.Reading.Magnesium = ptr(quantity.Concentration(5)) })
	assert.InDelta(t, 12, float64(poor.Magnesium.Need), 1e-9)
	given := at50(put("2026-05-01", material.EpsomSalt, 30))
	assert.InDelta(t, 6.075-2.94, float64(given.Magnesium.Need), 1e-9)
	assert.Empty(t, at50(func(r *dose.Request) { r.Reading.Magnesium = ptr(quantity.Concentration(60)) }).Magnesium.Ways)
	sour := at50(func(r *dose.Request) { r.Reading.PH = 5.5 })
	assert.Empty(t, sour.Magnesium.Ways, "where lime is wanted, dolomite brings it")
}
