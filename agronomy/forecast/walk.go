package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// spentShare is the remaining share at which a batch leaves the state: the rest says too little
// about its strength.
const spentShare = 0.02

// walk builds the steps of a timeline: what reacts in each, and the batches' places in the state.
type walk struct {
	t    *timeline
	last quantity.Day
	// batch is the batch of each application, left its unreacted amount, free the remaining free
	// lime.
	batch []int
	left  []float64
	free  float64
	// at is each batch's place, -1 for none; used marks taken places.
	at          []int
	used        []bool
	lastReading quantity.Day
}

func newWalk(t *timeline) *walk {
	b := t.bed
	w := &walk{t: t, batch: make([]int, len(b.Additions)), left: make([]float64, len(b.Additions)), free: b.FreeLime, last: t.start,
		at: make([]int, len(t.batches)), lastReading: b.Readings[len(b.Readings)-1].Date}
	for i := range w.at {
		w.at[i] = -1
	}
	for i := range b.Additions {
		g := &b.Additions[i]
		w.batch[i], w.left[i] = slices.Index(t.batches, g.Batch), g.CaCO3
		if g.Date < t.start { // the first reading includes what had reacted by then
			w.left[i] *= Unreacted(g.Reacts, b.Warmth, b.dugOn(g.Date), g.Date, t.start)
		}
	}
	return w
}

// steps builds the steps from day to day.
func (w *walk) steps(days []quantity.Day) {
	t := w.t
	t.total = make([]float64, len(t.batches))
	end := days[len(days)-1]
	for i := range t.bed.Additions {
		if t.bed.Additions[i].Date <= end {
			t.brought += w.left[i]
		}
	}
	for _, d := range days {
		s := step{day: d, months: float64(d-w.last) / monthDays, tell: d.DayOfMonth() == 1 || slices.Contains(w.t.also, d)}
		s.phi = math.Exp(-s.months / yearMonths)
		s.swing = math.Cos(2 * math.Pi * (float64(d.Month()) - 1) / yearMonths)
		for n := range t.bed.Readings {
			if t.bed.Readings[n].Date == d {
				s.reads = append(s.reads, n)
			}
		}
		w.react(&s)
		w.release(&s)
		t.steps = append(t.steps, s)
		w.last = d
	}
	t.places = len(w.used)
	for i := range t.bed.Additions {
		if t.bed.Additions[i].Date <= end {
			t.left += w.left[i]
		}
	}
}

// react computes what reacts in a step.
func (w *walk) react(s *step) {
	t := w.t
	for i := range t.bed.Additions {
		g := &t.bed.Additions[i]
		if g.Date >= s.day || w.left[i] == 0 {
			continue
		}
		now := w.left[i] * Unreacted(g.Reacts, t.bed.Warmth, t.bed.dugOn(g.Date), max(w.last, g.Date), s.day)
		acts := w.left[i] - now
		w.left[i] = now
		s.moved += math.Abs(acts)
		if acts < 0 && w.free > 0 { // acid consumes free lime first
			consumed := min(w.free, -acts)
			w.free -= consumed
			acts += consumed
		}
		b := w.batch[i]
		if w.at[b] < 0 && math.Abs(now+acts) <= spentShare*math.Abs(g.CaCO3) {
			s.plain += acts
			t.plain += acts
			continue
		}
		p := w.place(s, b)
		for len(s.reacted) <= p {
			s.reacted, s.of = append(s.reacted, 0), append(s.of, 0)
		}
		s.reacted[p] += acts
		s.of[p] = b
		t.total[b] += acts
	}
}

// place returns a batch's place, assigning a free one if it has none.
func (w *walk) place(s *step, batch int) int {
	if w.at[batch] < 0 {
		p := slices.Index(w.used, false)
		if p < 0 {
			p, w.used = len(w.used), append(w.used, false)
		}
		w.used[p], w.at[batch] = true, p
		s.anew = append(s.anew, taken{batch, p})
	}
	return w.at[batch]
}

// release releases the places of batches with little left, once a reading has covered that or none will
// come.
func (w *walk) release(s *step) {
	if len(s.reads) == 0 && s.day < w.lastReading {
		return
	}
	for b, p := range w.at {
		if p < 0 || w.busy(b) {
			continue
		}
		s.let = append(s.let, taken{b, p})
		w.used[p], w.at[b] = false, -1
	}
}

// busy reports whether a batch has more than spentShare left.
func (w *walk) busy(batch int) bool {
	for i := range w.left {
		if g := &w.t.bed.Additions[i]; w.batch[i] == batch && math.Abs(w.left[i]) > spentShare*math.Abs(g.CaCO3) {
			return true
		}
	}
	return false
}
