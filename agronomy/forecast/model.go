package forecast

import (
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Model is the input of a bed's forecast.
type Model struct {
	// Curve is the method's, Curved the standard deviation of the logarithm of the bed's buffering
	// relative to it.
	Curve  soil.Curve
	Curved float64
	Warmth soil.Warmth `json:"-"`
	Dug    bool
	// DugUntil is the day before which applications were dug in, on ground that is no longer dug;
	// 0: Dug applies to all.
	DugUntil quantity.Day
	// Drift is the sum of rain, crops, feeds and water, g CaCO₃/m² a year, DriftSD its standard
	// deviation.
	Drift, DriftSD float64
	// Additions are past and planned applications, Readings the readings, both in order of day.
	Additions []Addition
	Readings  []Read
	// FreeLime is the acid that free lime consumes first, g CaCO₃/m²; Pulls is set when there is
	// enough of it to pull the bed to its set point.
	FreeLime float64
	Pulls    bool
	// Others is the information of the garden's other beds.
	Others Others
	// lean is the log likelihood of each point of the grid by other readings of the same ground.
	lean []float64
}

// Addition is an application of a batch of uncertain strength.
type Addition struct {
	Date quantity.Day
	// CaCO3 is its nominal effect, g/m², negative for acid.
	CaCO3  float64
	Reacts material.Reaction
	// Kind is its material.
	Kind material.Kind
	// Batch identifies the batch; StrengthSD is the standard deviation of its strength, in the
	// logarithm.
	Batch      string
	StrengthSD float64
}

// Read is a reading on the water basis; SD includes method and sampling.
type Read struct {
	Date   quantity.Day
	PH     quantity.PH
	SD     float64
	Method soil.Method
}

// ModelOf builds a bed's model from its ground, lime method, readings, applications and pulls.
func ModelOf(g soil.Ground, w soil.Warmth, method soil.Buffering, readings []soil.Reading, goes []Addition, pulls []Pull) Model {
	b := Model{Curve: method.Raise, Curved: method.LogSD, Warmth: w, Dug: g.Worked == soil.Dug, DugUntil: g.DugUntil, Additions: goes,
		FreeLime: float64(soil.FreeLimePerPercent) * float64(g.FreeLime.Share()) * g.SoilMass(),
		Pulls:    g.FreeLime == soil.LimeClear || g.FreeLime == soil.LimeStrong}
	b.Drift, b.DriftSD = Drift(pulls)
	for _, x := range readings {
		b.Readings = append(b.Readings, Read{Date: x.Date, PH: x.Water(), SD: x.SD(), Method: x.Method})
	}
	slices.SortStableFunc(b.Readings, func(x, y Read) int { return int(x.Date - y.Date) })
	return b
}

// dugOn reports whether an application of a day was dug in.
func (b *Model) dugOn(day quantity.Day) bool { return b.Dug || day < b.DugUntil }

// The model's own parameters (guide, section 9).
const (
	gridPoints        = 61
	gridReach         = 1.5
	startSD           = 1.5 // sd of the first balance, pH
	wanderSD          = 0.10
	monthDays         = 365.25 / 12
	yearMonths        = 12
	tails             = 4.0 // degrees of freedom of a reading's error
	calcareousPH      = 7.9
	calcareousMonths  = 48
	usualSwing        = 0.08 // sd of the season’s swing of water pH
	methodBiasUnknown = 0.25
)

// Model error: materials react faster or slower than the table, curves differ in shape,
// applications go unrecorded. A move has this additional variance per gram that reacts and per
// year, fitted to beds simulated by another model (package simulate; docs/forecast.md).
const (
	moveNoise    = 8.0   // g CaCO₃/m²
	unnotedNoise = 400.0 // (g CaCO₃/m²)² a year
	// doseNoise is the variance per gram still to be applied: it may cross pieces of the curve that
	// no reading has covered.
	doseNoise = 16.0
)

// methodBias is the standard deviation of a method's constant offset in one garden, pH.
var methodBias = map[soil.Method]float64{soil.Lab: 0.05, soil.Meter: 0.08, soil.MeterStale: 0.08, soil.Kit: 0.25, soil.Probe: 0.35}

// Indexes of the state: the acid balance on the curve, the drift, the slow wander, the seasonal
// swing; methods and batches follow.
const (
	atBalance = iota
	atDrift
	atWander
	atSwing
	atFirst
)

// step is the interval between two days of the timeline, with the readings at its end.
type step struct {
	day    quantity.Day
	months float64
	phi    float64
	// anew are the places assigned to batches at the start; reacted is what reacts, by place, g
	// CaCO₃/m², plain the reaction of batches without a place; of is the batch of each place. let
	// are the batches that release their place at the end.
	anew    []taken
	reacted []float64
	of      []int
	plain   float64
	// moved is the sum of the absolute amounts that react.
	moved float64
	let   []taken
	// swing is the season's share at the end.
	swing float64
	// reads are the readings of the day; the first of each month is reported.
	reads []int
	tell  bool
}

// taken is a batch's place in the state.
type taken struct{ batch, place int }

// timeline is a bed laid out for its filter.
type timeline struct {
	bed     *Model
	steps   []step
	methods []soil.Method
	batches []string
	// strength is the prior of each batch.
	strength []Slanted
	// about is where the strength of each batch is linearised, by point of the grid; nil: at its
	// prior.
	about [][]float64
	// places is the largest number of batches in the state at once, size the length of the state.
	places, size int
	start        quantity.Day
	// also are further days to report.
	also []quantity.Day
	// left is what has not reacted at the end, brought what had not at the start, total what reacts
	// with a place, by batch, plain without one.
	left, brought, plain float64
	total                []float64
}

// layOut builds the timeline from the first reading to a day, with the first of each month where
// reported, and other days.
func (b *Model) layOut(until quantity.Day, report bool, more ...quantity.Day) *timeline {
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
	if report {
		for m := t.start.AddMonths(1) - quantity.Day(t.start.DayOfMonth()-1); m <= until; m = m.AddMonths(1) {
			days = append(days, m)
		}
	}
	for _, r := range b.Readings {
		days = append(days, r.Date)
	}
	for _, d := range more {
		if d > t.start {
			days, t.also = append(days, d), append(t.also, d)
		}
	}
	slices.Sort(days)
	newWalk(t).steps(slices.Compact(days))
	t.size = t.firstBatch() + t.places
	return t
}

// firstBatch returns the index of the first batch in the state.
func (t *timeline) firstBatch() int { return atFirst + len(t.methods) }
