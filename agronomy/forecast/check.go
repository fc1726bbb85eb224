package forecast

import (
	"math"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Why is the id of what a promise was most likely missed by.
type Why string

// Reasons. AsPromised is reported where the miss is within what two readings can tell, TooSoon where what was read is as
// promised for its day, and a good part has yet to act; ByChance where no term carries a third of the miss, TooEarly where
// besides that most has yet to act: what lies in the soil undissolved can read high, and slow stuff low.
const (
	AsPromised Why = "as-promised"
	TooSoon    Why = "too-soon"
	Stubborn   Why = "stubborn"
	Strength   Why = "strength"
	Drifted    Why = "drift"
	OffMethod  Why = "method"
	ByChance   Why = "chance"
	TooEarly   Why = "too-early"
)

// Term is what one thing makes of a miss, pH.
type Term struct {
	Why Why
	PH  float64
}

// Check is a promise beside what was read: of applications between two readings.
type Check struct {
	// Go is the first of them, Date the day of the reading after, Batch that of the most of it.
	Go, Date quantity.Day
	Batch    string
	// From is what was read before, Promised what the method let expect for the day, with the drift, Settles where it was to
	// settle; Measured what was read, SD the uncertainty of the two readings together.
	From, Promised, Settles, Measured quantity.PH
	SD                                float64
	// Reacted is the share of it that had acted by the reading.
	Reacted float64
	// Why is what most likely stands behind the miss, Terms what each thing makes of it: the readings' own error is the rest.
	Why   Why
	Terms []Term
}

// Miss returns how far the reading lies off the promise, below 0 where it is short.
func (k *Check) Miss() float64 { return float64(k.Measured - k.Promised) }

// Checks returns the promises of a bed that were tested, each pair of readings with an application
// between them, with what was learned of it standing behind what was missed.
func Checks(b *Model, l *Learned) (out []Check) {
	from, last := 0, 0
	for i := 1; i < len(b.Readings); i++ {
		if b.Readings[i].Date > b.Readings[last].Date { // readings of one day are held against the same promise
			from = last
		}
		k, ok := b.check(&b.Readings[from], &b.Readings[i], l)
		if ok {
			out = append(out, k)
		}
		// Where most had yet to act, the promise is still open: the reading after is held against it too.
		if !ok || k.Reacted >= mostly {
			last = i
		}
	}
	return out
}

// carries is the least share of a miss that a term must carry to stand for it, unsettled the least that has yet to act for a
// reading to have come too soon, mostly the least that must have acted for a reading to judge a promise for good. All ours.
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
		// What a feed brings beside its nitrogen counts, but nobody was promised a pH of it.
		if m, known := material.Find(g.Kind); g.Date < was.Date || known && (m.GivesAmmonia() || !m.MovesPH()) {
			continue
		}
		if k.Go == 0 || g.Date < k.Go {
			k.Go = g.Date
		}
		if x := math.Abs(by); x >= most {
			most, k.Batch = x, g.Batch
		}
	}
	if k.Go == 0 {
		return k, false
	}
	settle := func(amount float64) quantity.PH { return b.Curve.Settle(was.PH, quantity.Rate(amount)) }
	k.Promised, k.Settles = settle(acted+b.Drift*years), settle(come+b.Drift*years)
	if k.Reacted = 1; come != 0 {
		k.Reacted = acted / come
	}
	if l.Stubborn.Median > 0 {
		k.explain(b, l, settle, acted, proved, years, l.Bias[is.Method]-l.Bias[was.Method])
	}
	return k, true
}

// Stronger returns how strong a batch proved beside what it was computed as; 1 where nothing is
// known of it.
func (l *Learned) Stronger(batch string) float64 {
	if x, ok := l.Strength[batch]; ok {
		return x
	}
	return 1
}

// explain puts the terms beside each other, one after the other from what was promised to what is known now.
func (k *Check) explain(b *Model, l *Learned, settle func(float64) quantity.PH, acted, proved, years, bias float64) {
	first := acted + b.Drift*years
	strong := proved + b.Drift*years
	drifted := proved + l.Drift.Median*years
	stubborn := drifted / l.Stubborn.Median
	step := func(from, to float64) float64 { return float64(settle(to) - settle(from)) }
	k.Terms = []Term{{Strength, step(first, strong)}, {Drifted, step(strong, drifted)}, {Stubborn, step(drifted, stubborn)}, {OffMethod, bias}}
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
