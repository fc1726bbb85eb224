package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// standing are cucumbers, planted out in May on a sour bed, in July.
func standing(change ...func(*dose.Request)) dose.Request {
	return request(append([]func(*dose.Request){func(r *dose.Request) {
		r.Date, r.Crop, r.Sowing, r.Planted, r.Target = at("2026-07-10"), cropOf("cucumber"), 0, at("2026-05-20"), nil
		r.Reading.Date, r.Materials = at("2026-04-20"), r.Materials[1:]
	}}, change...)...)
}

func side(t *testing.T, r dose.Request, plants int, across quantity.Depth) dose.SideDressing {
	t.Helper()
	x, err := dose.SideDress(r, dose.Ring{Plants: plants, Across: across})
	require.NoError(t, err)
	return x
}

// A plant with roots 1 m across has 0.785 m², at 125 g/m² 98 g: a cup of ash, more or less. Six of them on
// 10 m² are 589 g, 59 g/m² of what the bed's year may have.
func TestSideDressingIsLimitedByRootArea(t *testing.T) {
	x := side(t, standing(), 6, 1)
	require.True(t, x.May(), "%+v", x)
	assert.InDelta(t, 0.7854, float64(x.Ground), 1e-4)
	assert.InDelta(t, 98.17, float64(x.Each), 0.01)
	assert.InDelta(t, 589, float64(x.Total), 0.1)
	assert.InDelta(t, 58.9, float64(x.Rate), 0.01)
	assert.Equal(t, "side-roots", x.Limit)
	// Roots that meet share the ground: 40 such plants have 0.25 m² each.
	many := side(t, standing(), 40, 1)
	assert.InDelta(t, 0.25, float64(many.Ground), 1e-9)
	assert.LessOrEqual(t, float64(many.Rate), 125.0+1e-9)
}

// What stays on top round a plant is held by the top 5 cm there: on sand at 6.2 it settles no nearer than 0.2 to the range's top, and a
// weak reading carries half.
func TestSideDressingSparesTopLayer(t *testing.T) {
	sandy := func(r *dose.Request) {
		r.Ground.Texture, _ = soil.FindTexture(soil.Sand)
		r.Ground.Worked, r.Reading.PH, r.Reading.Potassium = soil.Surface, 6.2, ptr(quantity.Concentration(40))
	}
	x := side(t, standing(sandy), 6, 1)
	require.Positive(t, x.Each)
	assert.Equal(t, "top-layer", x.Limit)
	r := standing(sandy)
	ground := r.Ground
	ground.Depth = soil.TopLayer
	method, err := soil.Buffer(soil.ByTable, ground, r.Reading, 6.8)
	require.NoError(t, err)
	caco3 := quantity.Rate(float64(x.OnRoots) * r.Materials[0].Worth().EffectiveCCE)
	assert.LessOrEqual(t, float64(method.Raise.Settle(6.2, caco3)), 6.8+1e-6)
	weak := side(t, standing(sandy, func(r *dose.Request) { r.Reading.Method = soil.Kit }), 6, 1)
	assert.LessOrEqual(t, float64(weak.OnRoots), float64(x.OnRoots))
	for ph := quantity.PH(4.8); ph < 6.75; ph += 0.1 {
		y := side(t, standing(sandy, func(r *dose.Request) { r.Reading.PH = ph }), 6, 1)
		caco3 = quantity.Rate(float64(y.OnRoots) * r.Materials[0].Worth().EffectiveCCE)
		assert.LessOrEqual(t, float64(method.Raise.Settle(ph, caco3)), 6.8+1e-6, "from %v", ph)
	}
}

func TestSideDressingIsLimitedByStock(t *testing.T) {
	x := side(t, standing(func(r *dose.Request) { r.Materials[0].OnHand = ptr(quantity.Mass(300)) }), 6, 1)
	assert.InDelta(t, 50, float64(x.Each), 1e-9)
	assert.Equal(t, "supply", x.Limit)
}

// The bed's own room holds it too, and its year, its windows and what must be kept apart.
func TestSideDressingCountsInCaps(t *testing.T) {
	ash := stuff(material.HardwoodAsh)
	full := side(t, standing(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2025-11-01"), Material: ash, Rate: 480}}
	}), 6, 1)
	assert.LessOrEqual(t, float64(full.Rate), 20.0+1e-9, "the year’s cap")
	young := side(t, standing(func(r *dose.Request) { r.Planted = at("2026-06-25") }), 6, 1)
	assert.Equal(t, calendar.NearSowing, young.Why)
	assert.False(t, young.May())
	fed := side(t, standing(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2026-07-01"), Material: stuff(material.Urea), Rate: 5}}
	}), 6, 1)
	assert.Equal(t, calendar.NearNitrogen, fed.Why)
	assert.Equal(t, at("2026-07-22"), fed.Next)
	// Tomatoes do not welcome ash: in growth only where potassium is short.
	enough := side(t, standing(func(r *dose.Request) {
		r.Crop, r.Reading.Potassium = cropOf("tomato"), ptr(quantity.Concentration(120))
	}), 6, 1)
	assert.Equal(t, calendar.InGrowth, enough.Why)
	blue := side(t, standing(func(r *dose.Request) { r.Crop = cropOf("blueberry") }), 6, 1)
	assert.NotEmpty(t, blue.Against)
	sweet := side(t, standing(func(r *dose.Request) { r.Reading.PH = 6.8 }), 6, 1)
	assert.False(t, sweet.May())
}

func TestInvalidRingNamesField(t *testing.T) {
	for field, x := range map[string]dose.Ring{"plants": {Plants: 0, Across: 1}, "across": {Plants: 3, Across: 0.05}} {
		_, err := dose.SideDress(standing(), x)
		var wrong *dose.InputError
		require.ErrorAs(t, err, &wrong)
		assert.Equal(t, field, wrong.Field)
	}
	_, err := dose.SideDress(request(), dose.Ring{Plants: 1, Across: 1})
	require.Error(t, err, "lime is no side dressing")
	dug := standing()
	side(t, dug, 3, 1)
	assert.Equal(t, soil.Dug, dug.Ground.Worked, "the bed stays as it is")
}
