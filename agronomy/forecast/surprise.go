package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// A test far from its forecast is neither accepted nor rejected until a confirming test decides
// (guide, section 9).
const (
	// surprised is the standardised innovation from which a test is surprising, and within which a
	// confirming one agrees.
	surprised = 2.0
	// ConfirmAfter is the interval to the confirming test.
	ConfirmAfter quantity.Day = 21
	// leastEarlier is the least number of earlier readings for a surprise, unless an application
	// gave an expectation.
	leastEarlier = 2
)

// Surprise is a test that awaits a confirming one.
type Surprise struct {
	// Read is the test, Expected its forecast, SD the standard deviation of the difference.
	Read     Read
	Expected quantity.PH
	SD       float64
	// Test is the day of the confirming test; More is set when that one agreed with neither and
	// another is needed.
	Test quantity.Day
	More bool
}

// Verdict is the outcome of a confirming test.
type Verdict struct {
	// First is the surprising test, Second the confirming one, Expected the forecast of the first.
	First, Second Read
	Expected      quantity.PH
	// Stood is set when the surprising test was confirmed.
	Stood bool
}

// Sifted are a bed's readings after the check for surprises.
type Sifted struct {
	// Left are readings that are left out: surprising ones not confirmed, or not yet.
	Left []Read
	// Open is the last test if it is surprising and awaits confirmation, or nil.
	Open *Surprise
	// Verdicts are the outcomes of earlier surprises, oldest first.
	Verdicts []Verdict
}

// Out reports whether a reading is left out.
func (s *Sifted) Out(r *Read) bool {
	return slices.ContainsFunc(s.Left, func(x Read) bool { return x == *r })
}

// Sift goes through a bed's readings in order and finds the surprising ones, each by the record up
// to then. It needs at least one reading.
func (b *Model) Sift() (out Sifted) {
	last := b.Readings[len(b.Readings)-1].Date
	x := sifter{t: b.layOut(last, false), out: &out}
	x.lanes = x.t.newLanes()
	for i := range x.t.steps {
		s := &x.t.steps[i]
		for _, l := range x.lanes {
			l.predict(x.t, s)
		}
		if len(s.reads) > 0 {
			x.day(s)
		}
		for _, l := range x.lanes {
			l.release(x.t, s)
		}
	}
	if n := len(x.waiting); n > 0 {
		first, newest := x.waiting[0], x.waiting[n-1]
		out.Open = &Surprise{Read: newest.read, Expected: newest.expected, SD: newest.sd, Test: newest.read.Date + ConfirmAfter, More: n > 1}
		if n > 1 {
			out.Open.Expected = first.expected
		}
	}
	return out
}

// Without returns the bed without the readings left out.
func (b *Model) Without(s *Sifted) Model {
	out := *b
	if len(s.Left) > 0 {
		out.Readings = slices.DeleteFunc(slices.Clone(b.Readings), func(r Read) bool { return s.Out(&r) })
	}
	return out
}

// unexpected is a test that awaits confirmation, with the others of its day.
type unexpected struct {
	read     Read
	all      []int
	expected quantity.PH
	sd       float64
}

// sifter is the state of Sift.
type sifter struct {
	t        *timeline
	lanes    []*lane
	out      *Sifted
	waiting  []unexpected
	believed int
	lastRead quantity.Day
}

// day processes the readings of a day; the most accurate one is tested.
func (x *sifter) day(s *step) {
	readings := x.t.bed.Readings
	best := s.reads[0]
	for _, n := range s.reads {
		if readings[n].SD < readings[best].SD {
			best = n
		}
	}
	r := readings[best]
	off, sd := x.innovation(s, &r)
	u := unexpected{read: r, all: s.reads, expected: r.PH - quantity.PH(off), sd: sd}
	switch {
	case len(x.waiting) > 0:
		x.confirm(s, u, off)
	case x.canSurprise(&r) && math.Abs(off) > surprised*sd:
		x.wait(u)
	default:
		x.believe(s)
	}
}

// innovation returns a reading's innovation and its standard deviation.
func (x *sifter) innovation(s *step, r *Read) (off, sd float64) {
	w, m := weights(x.lanes), x.t.method(r)
	var mean, square float64
	for i, l := range x.lanes {
		o, all := l.innovation(x.t, s, r, m)
		mean += w[i] * o
		square += w[i] * (all + o*o)
	}
	return mean, math.Sqrt(max(square-mean*mean, 1e-9))
}

// canSurprise reports whether a reading can be surprising: there are enough earlier ones, or an application
// since gave an expectation.
func (x *sifter) canSurprise(r *Read) bool {
	if x.believed >= leastEarlier {
		return true
	}
	return x.believed > 0 && slices.ContainsFunc(x.t.bed.Additions, func(g Addition) bool { return g.Date >= x.lastRead && g.Date < r.Date })
}

func (x *sifter) wait(u unexpected) {
	x.waiting = append(x.waiting, u)
	for _, n := range u.all {
		x.out.Left = append(x.out.Left, x.t.bed.Readings[n])
	}
}

func (x *sifter) believe(s *step) {
	for _, n := range s.reads {
		x.t.read(x.lanes, s, n)
	}
	x.believed, x.lastRead = x.believed+1, s.day
}

// confirm compares a test with the forecast and with the waiting tests: the nearest within two
// standard deviations is right. A weaker method confirms nothing and is left out, and so does a test
// that comes before the day that was announced: it may be of the very sample that was mixed up.
func (x *sifter) confirm(s *step, u unexpected, off float64) {
	for i := range x.waiting {
		if first := &x.waiting[i].read; u.read.SD > first.SD+1e-9 || u.read.Date < first.Date+ConfirmAfter {
			for _, n := range u.all {
				x.out.Left = append(x.out.Left, x.t.bed.Readings[n])
			}
			return
		}
	}
	right, near := -2, math.Inf(1) // -1 is the forecast
	if d := math.Abs(off); d <= surprised*u.sd {
		right, near = -1, d
	}
	for i := range x.waiting {
		first := &x.waiting[i].read
		if d := math.Abs(float64(u.read.PH - first.PH)); d <= surprised*math.Hypot(u.read.SD, first.SD) && d < near {
			right, near = i, d
		}
	}
	if right == -2 {
		x.wait(u)
		return
	}
	first := &x.waiting[0]
	if right >= 0 {
		first = &x.waiting[right]
		for _, n := range first.all {
			was := x.t.bed.Readings[n]
			x.out.Left = slices.DeleteFunc(x.out.Left, func(r Read) bool { return r == was })
		}
	}
	x.out.Verdicts = append(x.out.Verdicts, Verdict{First: first.read, Second: u.read, Expected: first.expected, Stood: right >= 0})
	x.waiting = nil
	x.believe(s)
}

// Beside reports whether two readings may be combined: not one that is left out, nor a surprising
// test with its confirming one.
func (s *Sifted) Beside(day, other quantity.Day) bool {
	for _, v := range s.Verdicts {
		if v.First.Date == other && v.Second.Date == day || v.First.Date == day && v.Second.Date == other {
			return false
		}
	}
	return !slices.ContainsFunc(s.Left, func(r Read) bool { return r.Date == other || r.Date == day })
}

// Sift returns the model of the record under a lime method without the readings left out, and the
// outcome of the check.
func (r *Record) Sift(method soil.Buffering) (b Model, s Sifted) {
	b = r.Model(method, false)
	s = b.Sift()
	return b.Without(&s), s
}
