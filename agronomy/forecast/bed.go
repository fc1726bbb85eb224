package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Bed is what a forecast knows of a bed.
type Bed struct {
	// Curve is the school's, Curved its doubt: the sd of the logarithm of how stubborn the bed
	// is beside it.
	Curve  soil.Curve
	Curved float64
	Warmth soil.Warmth
	Dug    bool
	// Drift is what rain, crops, feeds and water come to, g CaCO₃/m² a year, DriftSD its doubt.
	Drift, DriftSD float64
	// Goes are what was put on and what is planned, Readings what was read, each in the order
	// of its days.
	Goes     []Gone
	Readings []Read
	// FreeLime is the acid that free lime takes first, g CaCO₃/m²; Pulls is set where there is so much that
	// it pulls the bed to its own set point.
	FreeLime float64
	Pulls    bool
}

// Gone is something put on, of a batch whose strength is doubted as a whole.
type Gone struct {
	Date quantity.Day
	// CaCO3 is what it is worth, g/m², below 0 for acid.
	CaCO3  float64
	Reacts material.Reaction
	// Batch tells batches apart; StrengthSD is the doubt of its strength, in the logarithm.
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

// BedOf is a bed of a ground: by a school applied to it, with its readings, what went on and is planned,
// and what pulls it.
func BedOf(g soil.Ground, w soil.Warmth, school soil.Buffering, readings []soil.Reading, goes []Gone, pulls []Pull) Bed {
	b := Bed{Curve: school.Raise, Curved: school.LogSD, Warmth: w, Dug: g.Worked == soil.Dug, Goes: goes,
		FreeLime: float64(soil.FreeLimePerPercent) * float64(g.FreeLime.Share()) * g.SoilMass(),
		Pulls:    g.FreeLime == soil.LimeClear || g.FreeLime == soil.LimeStrong}
	b.Drift, b.DriftSD = Drift(pulls)
	for _, x := range readings {
		b.Readings = append(b.Readings, Read{Date: x.Date, PH: x.Water(), SD: x.SD(), Method: x.Method})
	}
	slices.SortStableFunc(b.Readings, func(x, y Read) int { return int(x.Date - y.Date) })
	return b
}

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
	// reacted is what reacts on the way, by batch, g CaCO₃/m²; swing the season’s share at the end.
	reacted []float64
	swing   float64
	// reads are the readings of the day, months’ firsts are told.
	reads []int
	tell  bool
}

// timeline is a bed laid out for its filter.
type timeline struct {
	bed     *Bed
	steps   []step
	methods []soil.Method
	batches []string
	// strength is the doubt of each batch.
	strength []float64
	size     int
	start    quantity.Day
	// left is what has not reacted at the end, brought all that had not at the start, total what
	// reacts in all, by batch.
	left, brought float64
	total         []float64
}

// layOut lays a bed out from its first reading to a day.
func (b *Bed) layOut(until quantity.Day) *timeline {
	t := &timeline{bed: b, start: b.Readings[0].Date}
	for _, r := range b.Readings {
		if !slices.Contains(t.methods, r.Method) {
			t.methods = append(t.methods, r.Method)
		}
	}
	for _, g := range b.Goes {
		if !slices.Contains(t.batches, g.Batch) {
			t.batches, t.strength = append(t.batches, g.Batch), append(t.strength, g.StrengthSD)
		}
	}
	t.size = atFirst + len(t.methods) + len(t.batches)
	days := []quantity.Day{t.start}
	for m := t.start.AddMonths(1) - quantity.Day(t.start.DayOfMonth()-1); m <= until; m = m.AddMonths(1) {
		days = append(days, m)
	}
	for _, r := range b.Readings {
		days = append(days, r.Date)
	}
	slices.Sort(days)
	days = slices.Compact(days)
	t.walk(days)
	return t
}

// walk makes the steps from day to day, with what reacts on each.
func (t *timeline) walk(days []quantity.Day) {
	left := make([]float64, len(t.bed.Goes))
	t.total = make([]float64, len(t.batches))
	free := t.bed.FreeLime
	last := days[0]
	for i := range t.bed.Goes {
		g := &t.bed.Goes[i]
		left[i] = g.CaCO3
		if g.Date < last { // what had reacted by the first reading is in it
			left[i] *= Unreacted(g.Reacts, t.bed.Warmth, t.bed.Dug, g.Date, last)
		}
		if g.Date <= days[len(days)-1] {
			t.brought += left[i]
		}
	}
	for _, d := range days {
		s := step{day: d, months: float64(d-last) / monthDays, reacted: make([]float64, len(t.batches)), tell: d.DayOfMonth() == 1}
		s.phi = math.Exp(-s.months / yearMonths)
		s.swing = math.Cos(2 * math.Pi * (float64(d.Month()) - 1) / yearMonths)
		for i := range t.bed.Goes {
			g := &t.bed.Goes[i]
			if g.Date >= d || left[i] == 0 {
				continue
			}
			now := left[i] * Unreacted(g.Reacts, t.bed.Warmth, t.bed.Dug, max(last, g.Date), d)
			acts := left[i] - now
			left[i] = now
			if acts < 0 && free > 0 { // acid spends free lime first
				spent := min(free, -acts)
				free -= spent
				acts += spent
			}
			at := slices.Index(t.batches, g.Batch)
			s.reacted[at] += acts
			t.total[at] += acts
		}
		for n := range t.bed.Readings {
			if t.bed.Readings[n].Date == d {
				s.reads = append(s.reads, n)
			}
		}
		t.steps = append(t.steps, s)
		last = d
	}
	for i := range t.bed.Goes {
		if t.bed.Goes[i].Date <= last {
			t.left += left[i]
		}
	}
}
