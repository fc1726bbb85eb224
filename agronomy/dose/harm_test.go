package dose_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Pots hold a mix and heaps none of it: no reading of them makes a dose, whatever the range.
func TestPotsAndHeapsGetNoDose(t *testing.T) {
	for use, id := range map[soil.Use]string{soil.UsePot: "pots-by-recipe", soil.UseHeap: "heap-no-dose"} {
		for _, ph := range []quantity.PH{5.2, 6.5, 7.8} {
			a := answer(t, request(func(r *dose.Request) {
				r.Reading.PH, r.Reading.Potassium, r.Target, r.Ground.Use = ph, ptr(quantity.Concentration(20)), nil, use
				r.Ground.Texture, _ = soil.FindTexture(soil.Muck)
			}))
			assert.Equal(t, dose.Refused, a.Direction, "%s at %v", use, ph)
			assert.True(t, hasFinding(a.Guards, id))
			assert.Empty(t, a.Options)
			assert.Empty(t, a.Potassium.Options)
		}
	}
}

func hasFinding(fs []guard.Finding, id string) bool {
	return slices.ContainsFunc(fs, func(f guard.Finding) bool { return f.ID == id })
}

// Lime that overshot is waited for, for two years; an acid lover cannot wait.
func TestSulfurDoesNotAnswerLimeThatOvershot(t *testing.T) {
	for _, c := range []struct {
		crop, limed string
		refused     bool
	}{{"tomato", "2024-10-01", true}, {"tomato", "2024-09-30", false}, {"blueberry", "2025-10-01", false}, {"tomato", "2026-09-25", false}} {
		a := answer(t, request(sweet(7.35, soil.LimeNone), put(c.limed, material.CalciticLime, 200), func(r *dose.Request) {
			r.Crop = cropOf(c.crop)
		}))
		assert.Equal(t, c.refused, found(a)["sulfur-after-lime"], "%s, limed %s", c.crop, c.limed)
	}
}

func TestTooSmallToApply(t *testing.T) {
	ask := func(target quantity.PH) dose.Answer {
		return answer(t, request(func(r *dose.Request) { r.Reading.PH, r.Target, r.Materials = 6.3, ptr(target), r.Materials[:1] }))
	}
	// An option that moves pH by less than 0.1 is not worth applying, whatever its mass.
	little := ask(6.39)
	assert.Equal(t, dose.Leave, little.Direction)
	assert.True(t, found(little)[guard.TooLittle])
	assert.InDelta(t, 0.09*321.5, float64(little.Need.CaCO3), 0.1, "the need is told all the same")
	assert.Equal(t, dose.Raise, ask(6.40).Direction)
	// On light ground 19 g/m² bring it from 5.95 to 6.5.
	light := answer(t, request(func(r *dose.Request) {
		r.Ground.Texture, _ = soil.FindTexture(soil.Sand)
		r.Ground.Table, r.Ground.Depth, r.Reading.PH, r.Target = soil.WarmTable, 0.05, 5.95, ptr(quantity.PH(6.5))
		r.Materials = r.Materials[:1]
	}))
	require.Equal(t, dose.Raise, light.Direction)
	// A light dusting is little on purpose.
	dusted := answer(t, request(func(r *dose.Request) { r.Methods.Ash, r.Ground.Depth = material.Dusting, 0.20 }))
	assert.InDelta(t, 75, float64(of(t, dusted, material.HardwoodAsh).Parts[0].Rate), 1e-9)
	assert.Less(t, float64(light.Need.CaCO3), 20.0)
}

// Neutral potash promises no pH, and gets no pH caution.
func TestNeutralPotashPromisesNoPH(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.Crop, r.Reading.PH, r.Target, r.Reading.Method = cropOf("blueberry"), 5.9, nil, soil.Kit
		r.Reading.Potassium, r.Ground.Worked = ptr(quantity.Concentration(40)), soil.DugAmong
		r.Materials = []material.Batch{batch(material.SulfurPowder), batch(material.PotassiumSulfate), batch(material.Compost)}
	}))
	require.Equal(t, dose.Lower, a.Direction)
	require.NotEmpty(t, a.Potassium.Options)
	for _, o := range a.Potassium.Options {
		assert.Zero(t, o.CaCO3)
		assert.Zero(t, o.PH, "%s", o.Parts[0].Kind)
		assert.Zero(t, o.Over)
		assert.False(t, hasFinding(o.Guards, "undershoot") || hasFinding(o.Guards, "overshoot"))
	}
	// Ash for it is stopped on ground that is too sweet by the rule that says so.
	sweet := answer(t, request(func(r *dose.Request) {
		r.Reading.PH, r.Target, r.Reading.Potassium = 7.35, nil, ptr(quantity.Concentration(40))
		r.Materials = append(r.Materials, batch(material.SulfurPowder))
	}))
	require.Equal(t, dose.Lower, sweet.Direction)
	i := slices.IndexFunc(sweet.Potassium.Refused, func(r dose.Refusal) bool { return r.Kind == material.HardwoodAsh })
	require.GreaterOrEqual(t, i, 0)
	assert.True(t, hasFinding(sweet.Potassium.Refused[i].Guards, "above-band-top"))
}
