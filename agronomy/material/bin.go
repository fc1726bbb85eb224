package material

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Barred reports whether an ash may not be applied to growing ground: whatever was burnt that is
// no clean wood, and what nobody knows.
func (b *Batch) Barred() bool { return b.Family == Ash && b.Source != Clean }

// Cool is the day from which an ash may be handled; no day where its fire is not known.
func (b *Batch) Cool() quantity.Day {
	if b.Burnt == 0 {
		return 0
	}
	return b.Burnt + HotDays
}

// Hot reports whether a batch may still hold embers on a day: some were seen, or its fire
// is not HotDays old.
func (b *Batch) Hot(day quantity.Day) bool { return b.Family == Ash && (b.Embers || day < b.Cool()) }

// wildRun is how far a run of a vinegar test may lie from the middle of its runs before
// it is named and left out, as a share; and how many runs it takes to tell.
const (
	wildRun  = 0.25
	tellRuns = 3
)

// VinegarRuns joins the runs of a vinegar test, mL of vinegar each: their mean. One that
// lies far from the middle of three or more is left out and named by its place; wild is
// -1 where none does.
func VinegarRuns(ml []float64) (mean float64, wild int) {
	wild = -1
	if len(ml) == 0 {
		return 0, wild
	}
	middle := medianOf(ml)
	for i, x := range ml {
		far := math.Abs(x - middle)
		if len(ml) >= tellRuns && far > wildRun*middle && (wild < 0 || far > math.Abs(ml[wild]-middle)) {
			wild = i
		}
	}
	n := 0.0
	for i, x := range ml {
		if i != wild {
			mean, n = mean+x, n+1
		}
	}
	return mean / n, wild
}

func medianOf(xs []float64) float64 {
	s := slices.Sorted(slices.Values(xs))
	if n := len(s); n%2 == 0 {
		return (s[n/2-1] + s[n/2]) / 2
	}
	return s[len(s)/2]
}

// A cord of firewood leaves about this much ash.
const (
	cordAsh    quantity.Mass = 9 * quantity.Kilogram
	cordVolume               = 3.6 // m³, stacked
)

// OfLogs is about how much ash so many cubic metres of stacked firewood leave.
func OfLogs(cubicMetres float64) quantity.Mass {
	return quantity.Mass(cubicMetres / cordVolume * float64(cordAsh))
}

// Mixed is what batches of ash come to when they are tipped together, each with how
// much of it: its strength and potash are their means by weight, it is as young as the
// youngest, and one that is barred or holds embers spoils it. Its strength counts as
// measured only where each was tested. What rain took from some of it is in its figures,
// and it counts as wet where all of it was: a mix taken for weaker than it is would be
// put on too thick.
func Mixed(batches []Batch, amounts []quantity.Mass) Batch {
	out := batches[0]
	var sum, lime, potash, charcoal float64
	tested, wet := true, true
	for i := range batches {
		wet = wet && batches[i].Condition == Wet
	}
	out.Condition = Dry
	if wet {
		out.Condition = Wet
	}
	out.Vinegar, out.Effective, out.Price, out.OnHand, out.Fineness, out.Moisture = nil, nil, nil, nil, nil, 0
	for i := range batches {
		b, g := &batches[i], float64(amounts[i])
		plain := *b
		plain.Charcoal = 0
		w := plain.Worth()
		tested = tested && !w.Typical
		sum, lime, potash = sum+g, lime+g*w.EffectiveCCE, potash+g*w.K2O
		charcoal += g * float64(b.Charcoal)
		out.Burnt = max(out.Burnt, b.Burnt)
		out.Embers, out.Walnut = out.Embers || b.Embers, out.Walnut || b.Walnut
		if b.Barred() {
			out.Source = b.Source
		}
		if b.Kind != out.Kind {
			out.Material, _ = Find(UnknownAsh)
		}
	}
	k := quantity.Percent(quantity.Round(100*potash/sum, 2))
	out.Charcoal, out.Potash, out.Measured = quantity.Percent(quantity.Round(charcoal/sum, 2)), &k, nil
	if tested {
		cce := quantity.Percent(quantity.Round(100*lime/sum, 2))
		out.Measured = &cce
	}
	return out
}

// enoughDays is how long fires are logged before they tell anything of the winter.
const enoughDays quantity.Day = 14

// ByEnd is what fires would add by the end of a winter if they went on as they have: so
// much since the first of them, today, told from a fortnight on.
func ByEnd(since quantity.Mass, first, today, end quantity.Day) (more quantity.Mass, ok bool) {
	if since <= 0 || today-first < enoughDays || end <= today {
		return 0, false
	}
	return since * quantity.Mass(end-today) / quantity.Mass(today-first), true
}

// Grade is a fineness in words, as a bag or a hand tells it.
type Grade struct {
	ID string
	// Shares are those of the fineness classes, coarsest first.
	Shares [4]quantity.Percent
}

// Grades of ground stone, finest first. Ordinary is the printed tables' own stone: all
// of it under 2 mm and half under 0.15.
var Grades = []Grade{
	{"flour", [4]quantity.Percent{0, 0, 0, 100}},
	{"ordinary", [4]quantity.Percent{0, 10, 30, 60}},
	{"sandy", [4]quantity.Percent{5, 45, 35, 15}},
	{"grit", [4]quantity.Percent{50, 40, 10, 0}},
}

// GradeOf finds a grade by its shares; ok is false for those of a label.
func GradeOf(shares [4]quantity.Percent) (Grade, bool) {
	i := slices.IndexFunc(Grades, func(g Grade) bool { return g.Shares == shares })
	if i < 0 {
		return Grade{}, false
	}
	return Grades[i], true
}

// FindGrade finds a grade by its name.
func FindGrade(id string) (Grade, bool) {
	i := slices.IndexFunc(Grades, func(g Grade) bool { return g.ID == id })
	if i < 0 {
		return Grade{}, false
	}
	return Grades[i], true
}
