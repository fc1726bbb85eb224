package forecast

import (
	"math"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Why is the id of the most likely reason for a missed promise.
type Why string

// The reasons. AsPromised: the miss is within the error of two readings. TooSoon: the reading is as
// expected for its day, and a good part has yet to react. ByChance: no term explains a third of the
// miss. TooEarly: as ByChance, and most has yet to react; undissolved lime can read high, and slow
// material low.
const (
	AsPromised     Why = "as-promised"
	TooSoon        Why = "too-soon"
	OtherBuffering Why = "stubborn"
	Strength       Why = "strength"
	Drifted        Why = "drift"
	OffMethod      Why = "method"
	ByChance       Why = "chance"
	TooEarly       Why = "too-early"
)

// Term is the contribution of one cause to a miss, pH.
type Term struct {
	Why Why
	PH  float64
}

// Check compares a promise with a reading: for the applications between two readings.
type Check struct {
	// First is the day of the first application, Date that of the following reading, Batch the batch
	// with the largest share.
	First, Date quantity.Day
	Batch       string
	// From is the reading before; Promised the pH expected for the day, drift included; Settles the
	// expected final pH; Measured the reading, SD the standard deviation of the two readings
	// together.
	From, Promised, Settles, Measured quantity.PH
	SD                                float64
	// Reacted is the share that had reacted by the reading.
	Reacted float64
	// Why is the most likely reason of the miss, Terms the contribution of each cause; the
	// remainder is reading error.
	Why   Why
	Terms []Term
}

// Miss returns reading minus promise.
func (k *Check) Miss() float64 { return float64(k.Measured - k.Promised) }

// Checks returns the tested promises of a bed, one for each pair of readings with an application
// between them, explained by what was learned.
func Checks(b *Model, l *Learned) (out []Check) {
	from, last := 0, 0
	for i := 1; i < len(b.Readings); i++ {
		if b.Readings[i].Date > b.Readings[last].Date { // readings of one day test the same promise
			from = last
		}
		k, ok := b.check(&b.Readings[from], &b.Readings[i], l)
		if ok {
			out = append(out, k)
		}
		// If most had yet to react, the promise stays open for the next reading.
		if !ok || k.Reacted >= mostly {
			last = i
		}
	}
	return out
}

// carries is the least share of a miss that a term must explain to be its reason, unsettled the
// least unreacted share for TooSoon, mostly the least reacted share that closes a promise. Our own
// values.
const (
	carries   = 1.0 / 3
	unsettled = 0.15
	mostly    = 0.5
)

func (b *Model) check(was, is *Read, l *Learned) (k Check, ok bool) {
	k = Check{Date: is.Date, From: was.PH, Measured: is.PH, SD: math.Hypot(was.SD, is.SD)}
	years := float64(is.Date-was.Date) / monthDays / yearMonths
	acted, come, proved, most := 0.0, 0.0, 0.0, 0.0
	for i := range b.Additions {
		g := &b.Additions[i]
		if g.Date >= is.Date {
			continue
		}
		left := Unreacted(g.Reacts, b.Warmth, b.dugOn(g.Date), g.Date, was.Date)
		by := g.CaCO3 * (left - Unreacted(g.Reacts, b.Warmth, b.dugOn(g.Date), g.Date, is.Date))
		acted, come = acted+by, come+g.CaCO3*left
		proved += by * l.Stronger(g.Batch)
		// The lime value of a feed counts, but no pH was promised for it.
		if m, known := material.Find(g.Kind); g.Date < was.Date || known && (m.GivesAmmonia() || !m.MovesPH()) {
			continue
		}
		if k.First == 0 || g.Date < k.First {
			k.First = g.Date
		}
		if x := math.Abs(by); x >= most {
			most, k.Batch = x, g.Batch
		}
	}
	if k.First == 0 {
		return k, false
	}
	settle := func(amount float64) quantity.PH { return b.Curve.Settle(was.PH, quantity.Rate(amount)) }
	k.Promised, k.Settles = settle(acted+b.Drift*years), settle(come+b.Drift*years)
	if k.Reacted = 1; come != 0 {
		k.Reacted = acted / come
	}
	if l.Buffering.Median > 0 {
		k.explain(b, l, settle, acted, proved, years, l.Bias[is.Method]-l.Bias[was.Method])
	}
	return k, true
}

// Stronger returns a batch's proven strength relative to its computed one; 1 when unknown.
func (l *Learned) Stronger(batch string) float64 {
	if x, ok := l.Strength[batch]; ok {
		return x
	}
	return 1
}

// explain computes the terms one after another, from what was promised to what is known now.
func (k *Check) explain(b *Model, l *Learned, settle func(float64) quantity.PH, acted, proved, years, bias float64) {
	first := acted + b.Drift*years
	strong := proved + b.Drift*years
	drifted := proved + l.Drift.Median*years
	buffered := drifted / l.Buffering.Median
	step := func(from, to float64) float64 { return float64(settle(to) - settle(from)) }
	k.Terms = []Term{
		{Strength, step(first, strong)}, {Drifted, step(strong, drifted)}, {OtherBuffering, step(drifted, buffered)}, {OffMethod, bias},
	}
	miss := k.Miss()
	switch {
	case math.Abs(miss) > k.SD:
		k.Why = ByChance
		best := carries
		for _, t := range k.Terms {
			if share := t.PH / miss; share >= best {
				best, k.Why = share, t.Why
			}
		}
		if k.Why == ByChance && k.Reacted < mostly {
			k.Why = TooEarly
		}
	case 1-k.Reacted >= unsettled && math.Abs(float64(k.Settles-k.Measured)) > k.SD:
		k.Why = TooSoon
	default:
		k.Why = AsPromised
	}
}
