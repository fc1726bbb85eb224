package material

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Barred reports whether an ash must not be applied to growing ground: its source is unknown, or
// anything but clean wood.
func (b *Batch) Barred() bool { return b.Family == Ash && b.Source != Clean }

// Cool returns the day from which an ash may be handled; no day where its fire is not known.
func (b *Batch) Cool() quantity.Day {
	if b.Burnt == 0 {
		return 0
	}
	return b.Burnt + HotDays
}

// Hot reports whether a batch may still hold embers on a day: some were seen, or its fire
// is not HotDays old.
func (b *Batch) Hot(day quantity.Day) bool { return b.Family == Ash && (b.Embers || day < b.Cool()) }

// wildRun is the distance from the median, as a share, at which a run of a vinegar test is left
// out; tellRuns is the least number of runs needed to tell.
const (
	wildRun  = 0.25
	tellRuns = 3
)

// VinegarRuns returns the mean of the runs of a vinegar test, in mL of vinegar. With three or more
// runs, one far from the median is left out; wild is its index, or -1.
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

// The ash that a cord of firewood leaves.
const (
	cordAsh    quantity.Mass = 9 * quantity.Kilogram
	cordVolume               = 3.6 // m³, stacked
)

// OfLogs estimates the ash that a volume of stacked firewood in m³ leaves.
func OfLogs(cubicMetres float64) quantity.Mass {
	return quantity.Mass(cubicMetres / cordVolume * float64(cordAsh))
}

// Mixed returns the mixture of batches of ash in the given amounts. Strength and potash are means
// by weight; the mixture is as young as its youngest batch, and it is barred or hot if any of them
// is. Strength counts as measured only if all were tested. Losses by rain are already in the
// batches' figures, so the mixture is marked wet only if all of them were: taken for weaker than it
// is, it would be overdosed.
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

// enoughDays is the least span of logged fires for an estimate of the winter's ash.
const enoughDays quantity.Day = 14

// ByEnd extrapolates the ash burnt since the first fire to the end of the winter at the same pace;
// 0 before enoughDays.
func ByEnd(since quantity.Mass, first, today, end quantity.Day) (more quantity.Mass, ok bool) {
	if since <= 0 || today-first < enoughDays || end <= today {
		return 0, false
	}
	return since * quantity.Mass(end-today) / quantity.Mass(today-first), true
}

// Grade is a named fineness of ground stone.
type Grade struct {
	ID string
	// Shares are the shares of the fineness classes, coarsest first.
	Shares [4]quantity.Percent
}

// Grades lists the grades, finest first. Ordinary is the stone of the printed tables: all under 2
// mm, half under 0.15 mm.
var Grades = []Grade{
	{"flour", [4]quantity.Percent{0, 0, 0, 100}},
	{"ordinary", [4]quantity.Percent{0, 10, 30, 60}},
	{"sandy", [4]quantity.Percent{5, 45, 35, 15}},
	{"grit", [4]quantity.Percent{50, 40, 10, 0}},
}

// GradeOf returns the grade with these shares; ok is false when no grade has them, as with shares
// from a label.
func GradeOf(shares [4]quantity.Percent) (Grade, bool) {
	i := slices.IndexFunc(Grades, func(g Grade) bool { return g.Shares == shares })
	if i < 0 {
		return Grade{}, false
	}
	return Grades[i], true
}

// FindGrade returns the grade with an id.
func FindGrade(id string) (Grade, bool) {
	i := slices.IndexFunc(Grades, func(g Grade) bool { return g.ID == id })
	if i < 0 {
		return Grade{}, false
	}
	return Grades[i], true
}
