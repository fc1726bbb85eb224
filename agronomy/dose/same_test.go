package dose_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// worked works a random request and one that was changed.
func worked(t *testing.T, n int, a, b dose.Request) (dose.Answer, dose.Answer) {
	t.Helper()
	x, err := dose.For(a)
	check(t, err == nil, n, "%v", err)
	y, err := dose.For(b)
	check(t, err == nil, n, "%v", err)
	return x, y
}

func TestNeedIsLinearInDepth(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 1))
	for n := range cases {
		a := random(rng)
		a.Reading.Layers, a.History, a.Ground.Depth = nil, nil, min(a.Ground.Depth, 0.3)
		b := a
		b.Ground.Depth *= 2
		x, y := worked(t, n, a, b)
		check(t, math.Abs(float64(y.Need.CaCO3-2*x.Need.CaCO3)) < 0.01, n, "need %v, twice as deep %v", x.Need.CaCO3, y.Need.CaCO3)
	}
}

func TestDoseDoesNotDependOnOrder(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 2))
	for n := range cases {
		a := random(rng)
		b := a
		b.Materials, b.History = slices.Clone(a.Materials), slices.Clone(a.History)
		rng.Shuffle(len(b.Materials), func(i, j int) { b.Materials[i], b.Materials[j] = b.Materials[j], b.Materials[i] })
		rng.Shuffle(len(b.History), func(i, j int) { b.History[i], b.History[j] = b.History[j], b.History[i] })
		x, y := worked(t, n, a, b)
		check(t, len(x.Options) == len(y.Options) && len(x.Refused) == len(y.Refused), n, "other options")
		for _, pair := range [][2][]dose.Option{{x.Options, y.Options}, {x.Potassium.Options, y.Potassium.Options}} {
			for i := range pair[0] {
				o, p := pair[0][i], pair[1][i]
				check(t, len(o.Applications) == len(p.Applications) && o.Retest == p.Retest && math.Abs(float64(o.PH.P95-p.PH.P95)) < 1e-6, n,
					"option %d is another", i)
				for j := range o.Parts {
					check(t, o.Parts[j].Kind == p.Parts[j].Kind && math.Abs(float64(o.Parts[j].Rate-p.Parts[j].Rate)) < 1e-6, n,
						"%s, then %s", o.Parts[j].Kind, p.Parts[j].Kind)
				}
			}
		}
		for i := range x.Refused {
			check(t, x.Refused[i].Kind == y.Refused[i].Kind && x.Refused[i].Guards[0].ID == y.Refused[i].Guards[0].ID, n,
				"refused otherwise")
		}
	}
}

// shift moves every day of a request.
func shift(r dose.Request, by func(quantity.Day) quantity.Day) dose.Request {
	move := func(d quantity.Day) quantity.Day {
		if d == 0 {
			return 0
		}
		return by(d)
	}
	r.Date, r.Sowing, r.Planted, r.Cleared = move(r.Date), move(r.Sowing), move(r.Planted), move(r.Cleared)
	r.Reading.Date, r.Reading.PotassiumDate = move(r.Reading.Date), move(r.Reading.PotassiumDate)
	r.More, r.History, r.Materials = slices.Clone(r.More), slices.Clone(r.History), slices.Clone(r.Materials)
	for i := range r.More {
		r.More[i].Date = move(r.More[i].Date)
	}
	for i := range r.History {
		r.History[i].Date = move(r.History[i].Date)
	}
	for i := range r.Materials {
		r.Materials[i].Burnt = move(r.Materials[i].Burnt)
	}
	return r
}

// Four years on the calendar is the same to the day.
func TestDoseDoesNotDependOnYear(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 3))
	const later = 4*365 + 1
	for n := range cases {
		a := random(rng)
		x, y := worked(t, n, a, shift(a, func(d quantity.Day) quantity.Day { return d + later }))
		check(t, math.Abs(float64(x.Need.CaCO3-y.Need.CaCO3)) < 1e-9 && x.Direction == y.Direction && len(x.Options) == len(y.Options),
			n, "%v, then %v", x.Need, y.Need)
		for i := range x.Options {
			for j, g := range x.Options[i].Applications {
				h := y.Options[i].Applications[j]
				check(t, h.Date == g.Date+later && math.Abs(float64(h.Rate-g.Rate)) < 1e-9, n, "%v, then %v", g, h)
			}
		}
	}
}

func TestHemispheresAreSymmetric(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 4))
	options, near := 0, 0
	for n := range cases {
		a := random(rng)
		a.History = nil
		b := shift(a, func(d quantity.Day) quantity.Day { return d.AddMonths(6) })
		b.Climate, _ = soil.FindClimate(a.Climate.ID, soil.South)
		x, y := worked(t, n, a, b)
		check(t, math.Abs(float64(x.Need.CaCO3-y.Need.CaCO3)) < 1e-9, n, "%v, then %v", x.Need, y.Need)
		for i := range min(len(x.Options), len(y.Options)) {
			g, h := x.Options[i].Applications[0], y.Options[i].Applications[0]
			options++
			// Half years are not of one length, and months neither.
			if d := h.Date - g.Date.AddMonths(6); g.Kind == h.Kind && d > -8 && d < 8 {
				near++
			}
		}
	}
	assert.Greater(t, near, options*97/100, "%d of %d first goes mirror", near, options)
}

func TestStrongerMaterialNeverNeedsMore(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 5))
	for n := range cases {
		a := random(rng)
		b := a
		b.Materials = slices.Clone(a.Materials)
		for i := range b.Materials {
			if m := &b.Materials[i]; m.Raises() {
				m.Measured = ptr(m.CCE.Typical)
			}
		}
		a.Materials = slices.Clone(b.Materials)
		for i := range b.Materials {
			if m := &b.Materials[i]; m.Raises() {
				m.Measured = ptr(m.CCE.Typical * 1.2)
			}
		}
		x, y := worked(t, n, a, b)
		rates := ratesOf(x)
		for k, rate := range ratesOf(y) {
			if was, ok := rates[k]; ok {
				check(t, rate <= was+1e-6, n, "%s: %v, a fifth stronger %v", k, was, rate)
			}
		}
	}
}

// ratesOf returns those of the options of one material whose applications all found a day: else the
// days decide, not the strength.
func ratesOf(a dose.Answer) map[material.Kind]quantity.Rate {
	out := map[material.Kind]quantity.Rate{}
	for _, o := range a.Options {
		left := slices.ContainsFunc(o.Guards, func(f guard.Finding) bool { return f.ID == "days-left-out" })
		if len(o.Parts) == 1 && !left {
			out[o.Parts[0].Kind] = o.Parts[0].Rate
		}
	}
	return out
}

func TestMorePotassiumNeverAllowsMoreAsh(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 6))
	for n := range cases {
		a := random(rng)
		if a.Reading.Potassium == nil {
			continue
		}
		b := a
		b.Reading.Potassium = ptr(*a.Reading.Potassium + quantity.Concentration(60*rng.Float64()))
		x, y := worked(t, n, a, b)
		rates := ratesOf(x)
		for k, rate := range ratesOf(y) {
			if was, ok := rates[k]; ok && stuff(k).Family == material.Ash {
				check(t, rate <= was+1e-6, n, "%s: %v, with more potassium %v", k, was, rate)
			}
		}
		check(t, y.Potassium.Need <= x.Potassium.Need+1e-6, n, "potassium wants %v, with more %v", x.Potassium.Need, y.Potassium.Need)
	}
}

// A hundredth of a pH moves the need by little more than a hundredth of the
// curve's steepest piece: nothing jumps but at named thresholds.
func TestNeedIsContinuous(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(31, 7))
	for n := range cases {
		a := random(rng)
		if a.Reading.Method == soil.Fizz || a.Crop.Is(crop.Scab) {
			continue
		}
		a.Reading.Layers, a.More, a.With = nil, nil, nil
		a.Methods.Buffering = pick(rng, soil.ByTable, soil.ByOrganicMatter, soil.ByMeasured)
		b := a
		b.Reading.PH += 0.01
		x, y := worked(t, n, a, b)
		if w := a.Reading.Water(); w <= x.Target+1e-9 && w+0.01 >= x.Target || w <= soil.SulfidePH || w+0.01 >= soil.SodiumPH ||
			len(x.Need.Working) == 0 {
			continue // it turns from raising to lowering, or has no rate
		}
		buffer, err := soil.Buffer(a.Methods.Buffering, asFound(a), a.Reading, x.Target)
		check(t, err == nil, n, "%v", err)
		steepest := 0.0
		for p := quantity.PH(3.5); p < 8.5; p += 0.5 {
			steepest = max(steepest, float64(buffer.Raise.Need(p, p+0.5))/0.5, float64(buffer.Lower.Need(p, p+0.5))/0.5)
		}
		check(t, math.Abs(float64(x.Need.CaCO3-y.Need.CaCO3)) <= 0.012*steepest+1e-9, n, "%v at %.2f, %v a hundredth on", x.Need.CaCO3,
			float64(a.Reading.PH), y.Need.CaCO3)
	}
}

// asFound returns the ground as it is assumed.
func asFound(r dose.Request) soil.Ground { s := bed.Judge(&r.Record); return s.Ground }
