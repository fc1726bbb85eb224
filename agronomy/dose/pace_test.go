package dose_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func careful(r *dose.Request) { r.Methods.Pace = dose.Careful }

// limeOnly leaves the lime of the request's shelf.
func limeOnly(r *dose.Request) { r.Materials = r.Materials[:1] }

func TestFirstPartRarelyOvershoots(t *testing.T) {
	whole := of(t, answer(t, request(limeOnly)), material.CalciticLime)
	require.Greater(t, whole.Over, guard.CarefulOver, "all at once this one overshoots too often")
	a := answer(t, request(careful, limeOnly))
	o := of(t, a, material.CalciticLime)
	p := o.Parts[0]
	require.Positive(t, p.Rest)
	assert.LessOrEqual(t, o.Over, guard.CarefulOver)
	// A share of 5 per cent more of the need would be too much, unless it is the least of 40.
	steps := p.Share * 20
	assert.InDelta(t, steps, float64(int(steps+0.5)), 1e-9, "in steps of 5 per cent")
	more := request(limeOnly, func(r *dose.Request) { r.Methods.Pace = dose.AllAtOnce })
	over, _, ok, err := dose.ByHand(more, []quantity.Rate{quantity.Rate((p.Share + 0.05) / p.Share * float64(p.Rate))})
	require.NoError(t, err)
	require.True(t, ok)
	assert.Greater(t, over.Over, guard.CarefulOver)
	assert.InDelta(t, float64(a.Need.CaCO3), float64(o.CaCO3+p.Rest*quantity.Rate(p.Worth.EffectiveCCE)+o.Shortfall), 1e-6)
	assert.Equal(t, o.Applications[len(o.Applications)-1].Date.AddWeeks(26), o.Retest,
		"the test stands 26 weeks after lime, whatever the season")
	assert.False(t, found(a)["overshoot"])
}

func TestSafeDoseIsNotSplit(t *testing.T) {
	r := request(careful, limeOnly, func(r *dose.Request) { r.Target, r.Methods.Buffering = ptr(quantity.PH(5.8)), soil.ByTable })
	o := of(t, answer(t, r), material.CalciticLime)
	assert.Zero(t, o.Parts[0].Rest)
	assert.InDelta(t, 1, o.Parts[0].Share, 1e-9)
	all := of(t, answer(t, request(limeOnly, func(r *dose.Request) { r.Target = ptr(quantity.PH(5.8)) })), material.CalciticLime)
	assert.Equal(t, all.Retest, o.Retest, "the test at the end keeps its rule")
}

func TestWeakReadingGivesAtMostHalf(t *testing.T) {
	for _, pace := range []dose.Pace{dose.Careful, dose.AllAtOnce} {
		r := request(limeOnly, func(r *dose.Request) {
			r.Methods.Pace, r.Reading.Method, r.Reading.PH, r.Target = pace, soil.Kit, 4.6, ptr(quantity.PH(5.6))
		})
		a := answer(t, r)
		o := of(t, a, material.CalciticLime)
		first := o.Applications[0].CaCO3
		assert.LessOrEqual(t, float64(first), float64(a.Need.CaCO3)/2+1e-6, pace)
	}
}

func TestLeastFirstPartHasCaution(t *testing.T) {
	r := request(careful, limeOnly, func(r *dose.Request) { r.Reading.PH, r.Reading.Method, r.Target = 6.4, soil.Kit, ptr(quantity.PH(6.9)) })
	o := of(t, answer(t, r), material.CalciticLime)
	require.InDelta(t, 0.4, o.Parts[0].Share, 1e-9)
	require.Greater(t, o.Over, guard.CarefulOver)
	assert.True(t, hasGuard(o, "overshoot"))
}

func hasGuard(o dose.Option, id string) bool {
	for _, g := range o.Guards {
		if g.ID == id {
			return true
		}
	}
	return false
}

// Repeated doses on one reading never exceed the first part.
func TestRestNeedsNewReading(t *testing.T) {
	first := of(t, answer(t, request(careful, limeOnly)), material.CalciticLime)
	for _, days := range []quantity.Day{1, 30, 300, 700} {
		r := request(careful, limeOnly, func(r *dose.Request) {
			r.Sowing, r.Date = 0, r.Date+days
		}, put(first.Applications[0].Date.String(), material.CalciticLime, first.Parts[0].Rate))
		if first.Applications[0].Date > r.Date {
			continue
		}
		r.History[0].Measured = ptr(quantity.Percent(97))
		a := answer(t, r)
		assert.Empty(t, a.Options, "%d days later", days)
		assert.True(t, found(a)[guard.FirstPartGoneID])
	}
}

// A reading less than twelve weeks after lime is no test of it: the application still counts toward
// the first part.
func TestEarlyReadingIsNoTest(t *testing.T) {
	kit := func(r *dose.Request) { r.Reading.Method = soil.Kit }
	first := of(t, answer(t, request(careful, limeOnly, kit)), material.CalciticLime)
	readAfter := func(days quantity.Day) (a dose.Answer) {
		on := first.Applications[0].Date
		r := request(careful, limeOnly, kit, put(on.String(), material.CalciticLime, first.Parts[0].Rate), func(r *dose.Request) {
			r.Sowing, r.Date, r.Reading.Date = 0, on+days, on+days
		})
		r.History[0].Measured = ptr(quantity.Percent(97))
		return answer(t, r)
	}
	assert.True(t, found(readAfter(1))[guard.FirstPartGoneID])
	soon, late := of(t, readAfter(83), material.CalciticLime), of(t, readAfter(84), material.CalciticLime)
	assert.Less(t, float64(soon.Parts[0].Rate), 0.6*float64(late.Parts[0].Rate), "a day makes it a test")
}

func TestSurfaceApplicationWaitsForTopTest(t *testing.T) {
	surface := func(r *dose.Request) { r.Ground.Worked, r.Ground.Depth, r.Reading.PH = soil.Surface, 0.10, 5.0 }
	all := of(t, answer(t, request(limeOnly, surface, func(r *dose.Request) { r.Sowing = 0 })), material.CalciticLime)
	require.Greater(t, len(all.Applications), 1)
	o := of(t, answer(t, request(careful, limeOnly, surface, func(r *dose.Request) { r.Sowing = 0 })), material.CalciticLime)
	assert.Len(t, o.Applications, 1)
	assert.Positive(t, o.Parts[0].Rest)
}

func TestAshForPotassiumIsPaced(t *testing.T) {
	short := func(r *dose.Request) {
		r.Reading.PH, r.Target, r.Crop = 6.2, nil, cropOf("general-vegetables")
		r.Reading.Potassium, r.Materials = ptr(quantity.Concentration(60)), r.Materials[1:]
		r.Sowing = 0
	}
	all := answer(t, request(short)).Potassium.Options
	slow := answer(t, request(careful, short)).Potassium.Options
	require.NotEmpty(t, all)
	require.NotEmpty(t, slow)
	require.Equal(t, material.HardwoodAsh, all[0].Parts[0].Kind)
	require.Equal(t, material.HardwoodAsh, slow[0].Parts[0].Kind)
	if slow[0].Parts[0].Share > 0.4 && all[0].Over > guard.CarefulOver {
		assert.Positive(t, slow[0].Parts[0].Rest)
		assert.LessOrEqual(t, slow[0].Over, guard.CarefulOver)
	}
	weak := request(careful, short, func(r *dose.Request) { r.Reading.Method = soil.Kit })
	for _, o := range answer(t, weak).Potassium.Options {
		if o.Parts[0].Kind == material.HardwoodAsh {
			assert.LessOrEqual(t, float64(o.Parts[0].Rate), float64(o.Parts[0].Asked)/2+1e-6, "half on a weak reading")
		}
	}
}

func TestBegunCorrectionContinues(t *testing.T) {
	ask := func(ph quantity.PH, begun bool) dose.Direction {
		return answer(t, request(careful, limeOnly, func(r *dose.Request) {
			r.Target, r.Reading.PH, r.Begun = nil, ph, begun // tomato: 6.2 to 6.8, aim 6.5
		})).Direction
	}
	assert.Equal(t, dose.Leave, ask(6.3, false), "in range, nothing begun")
	assert.Equal(t, dose.Raise, ask(6.3, true))
	assert.Equal(t, dose.Raise, ask(6.34, true), "a hundredth more than 0.15 below the aim")
	assert.Equal(t, dose.Leave, ask(6.35, true), "within 0.15 of the aim")
	assert.Equal(t, dose.Leave, ask(6.7, true), "past it")
	blue := func(ph quantity.PH, put ...func(*dose.Request)) dose.Direction {
		return answer(t, request(append(put, careful, func(r *dose.Request) {
			r.Target, r.Reading.PH, r.Begun, r.Crop, r.Materials = nil, ph, true, cropOf("blueberry"), nil
			r.Date, r.Reading.Date, r.Sowing, r.Ground.Worked = at("2027-05-01"), at("2027-04-20"), 0, soil.DugAmong
		})...)).Direction
	}
	assert.Equal(t, dose.Leave, blue(5.1), "what nobody told went up")
	assert.Equal(t, dose.Lower, blue(5.1, put("2026-06-01", material.SulfurPowder, 50)))
}

// The first part of any dose rarely settles past the range, or is the least part with its caution.
func TestOvershootRiskIsStated(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(30, 1))
	waiting := 0
	for n := range cases / 10 {
		r := random(rng)
		r.Methods.Pace = dose.Careful
		a, err := dose.For(r)
		require.NoError(t, err)
		for _, o := range a.Options {
			if found(a)["fizz-dusting"] {
				continue
			}
			if o.Waits() {
				waiting++
			}
			if o.Over > guard.CarefulOver+1e-3 {
				check(t, hasGuard(o, "overshoot") || hasGuard(o, "undershoot"), n, "%s: %.3f past the range, unsaid", nameOf(o), o.Over)
			}
		}
	}
	assert.Positive(t, waiting)
}
