package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// KBed is what is known of a bed's potassium.
type KBed struct {
	// Rise is how much a test finds again of 1 g K₂O/m², ppm.
	Rise float64
	// Leached is the share that leaches in a year of what is over half of critical, Half.
	Leached, Half float64
	// Moves are what was brought, above 0, or carried off, g K₂O/m², on their days.
	Moves []KMove
	// Reads are what was read, ppm, in the order of their days.
	Reads []KRead
}

// KMove is K₂O that came or went on a day.
type KMove struct {
	Date quantity.Day
	K2O  float64
}

// KRead is a reading of potassium.
type KRead struct {
	Date quantity.Day
	PPM  float64
}

const (
	kReadSD = 0.08 // of a reading, of itself
	kMoveSD = 0.10 // of what moved in a year
)

// kState is what is believed of potassium on a day: foretold before a reading of the day, known after it.
type kState struct {
	day                    quantity.Day
	foretold, foretoldVar  float64
	known, knownVar, keeps float64
}

// RunPotassium foretells a bed's potassium from its first reading to a day, on the first of each month. What moves it is
// doubted as the guide has it, or more where its own readings lie further off than that lets them: the ground gives and takes
// potassium too, and no ledger knows of that.
func RunPotassium(b *KBed, until quantity.Day) (out []Spread, innovations []float64) {
	if len(b.Reads) == 0 {
		return nil, nil
	}
	days := b.days(until)
	best := math.Inf(-1)
	var states []kState
	for i, wider := range kWider {
		run, off, log := b.run(days, kMoveSD*wider)
		if log -= kUnlikely * float64(i); log > best {
			best, states, innovations = log, run, off
		}
	}
	return toldK(states, b.Reads[len(b.Reads)-1].Date), innovations
}

// kWider are how many times the usual doubt of what moves is tried, kUnlikely how much less likely, in the logarithm, each next
// is thought.
var kWider = []float64{1, 2, 4, 8}

const kUnlikely = 1.0

// run filters the bed with a doubt of what moves; log is how likely its readings then are.
func (b *KBed) run(days []quantity.Day, moveSD float64) (states []kState, innovations []float64, log float64) {
	states = make([]kState, 0, len(days))
	last, moved := days[0], 0.0
	mean, variance := b.Reads[0].PPM, math.Inf(1)
	for n, d := range days {
		s := kState{day: d, keeps: 1}
		if n > 0 {
			years := float64(d-last) / monthDays / yearMonths
			if d >= days[0].AddMonths(yearMonths*(1+int(float64(last-days[0])/monthDays/yearMonths))) {
				moved = 0 // a year’s doubt is of what moved in it
			}
			got := 0.0
			for _, m := range b.Moves {
				if m.Date > last && m.Date <= d {
					got += m.K2O * b.Rise
				}
			}
			if mean > b.Half {
				lost := b.Leached * years
				s.keeps = 1 - lost
				mean -= lost * (mean - b.Half)
			}
			step := math.Abs(got)
			variance = variance*s.keeps*s.keeps + moveSD*moveSD*(2*moved*step+step*step)
			mean, moved = max(0, mean+got), moved+step
		}
		s.foretold, s.foretoldVar = mean, variance
		for _, r := range b.Reads {
			if r.Date == d {
				if all := variance + sq2(kReadSD*r.PPM); !math.IsInf(all, 1) {
					log -= math.Log(all)/2 + sq2(r.PPM-mean)/all/2
				}
				mean, variance = seesK(r.PPM, mean, variance, &innovations)
			}
		}
		s.known, s.knownVar = mean, variance
		states = append(states, s)
		last = d
	}
	return states, innovations, log
}

// seesK takes a reading in.
func seesK(ppm, mean, variance float64, innovations *[]float64) (float64, float64) {
	noise := sq2(kReadSD * ppm)
	if math.IsInf(variance, 1) {
		return ppm, noise
	}
	off := ppm - mean
	*innovations = append(*innovations, off/math.Sqrt(variance+noise))
	gain := variance / (variance + noise)
	return mean + gain*off, variance * (1 - gain)
}

func sq2(x float64) float64 { return x * x }

// days are those of the timeline: the first reading, the firsts of months, and each reading.
func (b *KBed) days(until quantity.Day) []quantity.Day {
	start := b.Reads[0].Date
	days := []quantity.Day{start}
	for m := start.AddMonths(1) - quantity.Day(start.DayOfMonth()-1); m <= until; m = m.AddMonths(1) {
		days = append(days, m)
	}
	for _, r := range b.Reads {
		days = append(days, r.Date)
	}
	slices.Sort(days)
	return slices.Compact(days)
}

// toldK are the firsts of months, those before the last reading by all readings.
func toldK(states []kState, last quantity.Day) (out []Spread) {
	mean, variance := make([]float64, len(states)), make([]float64, len(states))
	for n := len(states) - 1; n >= 0; n-- {
		s := &states[n]
		mean[n], variance[n] = s.known, s.knownVar
		if n == len(states)-1 || s.day >= last {
			continue
		}
		next := &states[n+1]
		if next.foretoldVar > 0 {
			g := s.knownVar * next.keeps / next.foretoldVar
			mean[n] += g * (mean[n+1] - next.foretold)
			variance[n] += g * g * (variance[n+1] - next.foretoldVar)
		}
	}
	for n, s := range states {
		if s.day.DayOfMonth() == 1 {
			out = append(out, spreadOf(s.day, []part{{1, mean[n], math.Sqrt(max(variance[n], 1e-10))}}))
		}
	}
	return out
}
