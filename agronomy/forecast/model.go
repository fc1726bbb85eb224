package forecast

import (
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Model is what a forecast knows of a bed.
type Model struct {
	// Curve is the method's, Curved its doubt: the sd of the logarithm of how stubborn the bed
	// is beside it.
	Curve  soil.Curve
	Curved float64
	Warmth soil.Warmth `json:"-"`
	Dug    bool
	// DugUntil is the day before which what was applied was dug in on ground that is dug no more; no day: Dug tells of all.
	DugUntil quantity.Day
	// Drift is what rain, crops, feeds and water come to, g CaCO₃/m² a year, DriftSD its doubt.
	Drift, DriftSD float64
	// Additions are what was applied and what is planned, Readings what was read, each in the order
	// of its days.
	Additions []Addition
	Readings  []Read
	// FreeLime is the acid that free lime takes first, g CaCO₃/m²; Pulls is set where there is so much that
	// it pulls the bed to its own set point.
	FreeLime float64
	Pulls    bool
	// Others is what the garden's other beds say of this one; the zero Others says nothing.
	Others Others
	// lean is how much likelier each point of the grid is by what else was read of the same ground, in the logarithm.
	lean []float64
}

// Addition is something put on, of a batch whose strength is doubted as a whole.
type Addition struct {
	Date quantity.Day
	// CaCO3 is what it is worth, g/m², below 0 for acid.
	CaCO3  float64
	Reacts material.Reaction
	// Kind is what it is of.
	Kind material.Kind
	// Batch distinguishes batches; StrengthSD is the uncertainty of its strength, in the logarithm.
	Batch      string
	StrengthSD float64
}

// Read is a reading on the water basis; SD is that of its method and sampling.
type Read struct {
	Date   quantity.Day
	PH     quantity.PH
	SD     float64
	Method soil.Method
}

// ModelOf returns a bed of a ground: by a method applied to it, with its readings, what was applied
// and is planned, and what pulls it.
func ModelOf(g soil.Ground, w soil.Warmth, school soil.Buffering, readings []soil.Reading, goes []Addition, pulls []Pull) Model {
	b := Model{Curve: school.Raise, Curved: school.LogSD, Warmth: w, Dug: g.Worked == soil.Dug, DugUntil: g.DugUntil, Additions: goes,
		FreeLime: float64(soil.FreeLimePerPercent) * float64(g.FreeLime.Share()) * g.SoilMass(),
		Pulls:    g.FreeLime == soil.LimeClear || g.FreeLime == soil.LimeStrong}
	b.Drift, b.DriftSD = Drift(pulls)
	for _, x := range readings {
		b.Readings = append(b.Readings, Read{Date: x.Date, PH: x.Water(), SD: x.SD(), Method: x.Method})
	}
	slices.SortStableFunc(b.Readings, func(x, y Read) int { return int(x.Date - y.Date) })
	return b
}

// dugOn reports whether what was applied on a day was dug in.
func (b *Model) dugOn(day quantity.Day) bool { return b.Dug || day < b.DugUntil }

// The model’s own figures (field guide, section 9).
const (
	gridPoints        = 61
	gridReach         = 1.5
	startSD           = 1.5 // of the first balance, pH
	wanderSD          = 0.10
	monthDays         = 365.25 / 12
	yearMonths        = 12
	tails             = 4.0 // degrees of freedom of a reading's error
	calcareousPH      = 7.9
	calcareousMonths  = 48
	usualSwing        = 0.08 // sd of the season’s swing of water pH
	methodBiasUnknown = 0.25
)

// The truth is of another make than the model: things react faster or slower than their table has it, a curve is steeper here and flatter
// there, something goes on that nobody notes. What moves a bed is doubted by so much more: the variance for each gram that reacts, and
// that of a year (fitted to beds of another make, package simulate; docs/forecast.md).
const (
	moveNoise    = 8.0   // g CaCO₃/m²
	unnotedNoise = 400.0 // (g CaCO₃/m²)² a year
	// doseNoise is that for each gram that is still to go on: it may cross pieces of the curve that no reading has told of.
	doseNoise = 16.0
)

// methodBias is how far a method may read off in one garden, always alike: sd, pH.
var methodBias = map[soil.Method]float64{soil.Lab: 0.05, soil.Meter: 0.08, soil.MeterStale: 0.08, soil.Kit: 0.25, soil.Probe: 0.35}

// Where the parts of the state stand: the acid balance on the curve, the drift, the slow
// wander, the season's swing; methods and batches after them.
const (
	atBalance = iota
	atDrift
	atWander
	atSwing
	atFirst
)

// step is the way from one day of the timeline to the next, and what is read at its end.
type step struct {
	day    quantity.Day
	months float64
	phi    float64
	// again are the places that a batch takes at the start; reacted is what reacts on the way, by place, g CaCO₃/m², plain
	// what is left of batches that have given up theirs; of is the batch of each place. Let are the batches that give it up at the end.
	anew    []taken
	reacted []float64
	of      []int
	plain   float64
	// moved is what reacts on the way in all, whichever way.
	moved float64
	let   []taken
	// swing is the season’s share at the end.
	swing float64
	// reads are the readings of the day, months’ firsts are reported.
	reads []int
	tell  bool
}

// taken is a place of the state that a batch has.
type taken struct{ batch, place int }

// timeline is a bed laid out for its filter.
type timeline struct {
	bed     *Model
	steps   []step
	methods []soil.Method
	batches []string
	// strength is what is thought of each batch at first.
	strength []Slanted
	// about is where the strength of each batch is taken as straight, by point of the grid; nil: where it is thought to be.
	about [][]float64
	// places is how many batches have one at once, at most, size how long the state is.
	places, size int
	start        quantity.Day
	// left is what has not reacted at the end, brought all that had not at the start, total what
	// reacts in all with a place, by batch, plain without.
	left, brought, plain float64
	total                []float64
}

// layOut lays a bed out from its first reading to a day, with the firsts of months where they are reported, and other days.
func (b *Model) layOut(until quantity.Day, tell bool, more ...quantity.Day) *timeline {
	t := &timeline{bed: b, start: b.Readings[0].Date}
	for _, r := range b.Readings {
		if !slices.Contains(t.methods, r.Method) {
			t.methods = append(t.methods, r.Method)
		}
	}
	for i := range b.Additions {
		if g := &b.Additions[i]; !slices.Contains(t.batches, g.Batch) {
			t.batches, t.strength = append(t.batches, g.Batch), append(t.strength, b.strength(g))
		}
	}
	days := []quantity.Day{t.start}
	if tell {
		for m := t.start.AddMonths(1) - quantity.Day(t.start.DayOfMonth()-1); m <= until; m = m.AddMonths(1) {
			days = append(days, m)
		}
	}
	for _, r := range b.Readings {
		days = append(days, r.Date)
	}
	for _, d := range more {
		if d > t.start {
			days = append(days, d)
		}
	}
	slices.Sort(days)
	newWalk(t).along(slices.Compact(days))
	t.size = t.firstBatch() + t.places
	return t
}

// firstBatch returns where the batches begin in the state.
func (t *timeline) firstBatch() int { return atFirst + len(t.methods) }
