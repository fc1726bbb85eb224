package material

import (
	"cmp"

	"zephyrfield/agronomy/quantity"
)

// Compare orders batches by kind, then by every property that affects a dose; only batches equal in
// all of them compare equal.
func (b *Batch) Compare(o *Batch) int {
	x, y := b.Worth(), o.Worth()
	return cmp.Or(cmp.Compare(Order(b.Kind), Order(o.Kind)), cmp.Compare(x.EffectiveCCE, y.EffectiveCCE), cmp.Compare(x.K2O, y.K2O),
		cmp.Compare(x.LogSD, y.LogSD), cmp.Compare(b.Source, o.Source), compareOpt(b.Price, o.Price), compareOpt(b.OnHand, o.OnHand),
		compareOpt(b.Held, o.Held),
		cmp.Compare(b.Burnt, o.Burnt), cmp.Compare(b.Fine(), o.Fine()), cmp.Compare(bit(b.Walnut),
			bit(o.Walnut)), cmp.Compare(b.Condition, o.Condition))
}

// Owned reports whether some of the batch is in stock.
func (b *Batch) Owned() bool { return b.OnHand != nil || b.Held != nil }

// Unbound returns the batch without a limit of stock, for use where the stock is shared out
// elsewhere.
func (b Batch) Unbound() Batch {
	if b.Held == nil {
		b.Held = b.OnHand
	}
	b.OnHand = nil
	return b
}

// Has reports whether the stock covers a total.
func (b *Batch) Has(total quantity.Mass) bool {
	const slack = 1 + 1e-6
	return b.OnHand != nil && total <= *b.OnHand*slack || b.Held != nil && total <= *b.Held*slack
}

func bit(b bool) int {
	if b {
		return 1
	}
	return 0
}

// compareOpt compares optional values, nil last.
func compareOpt[T cmp.Ordered](a, b *T) int {
	switch {
	case a == nil && b == nil:
		return 0
	case a == nil:
		return 1
	case b == nil:
		return -1
	}
	return cmp.Compare(*a, *b)
}

// VinegarTest is the vinegar that 10 g of sifted ash take until they stop fizzing.
type VinegarTest struct {
	// MilliLitres of vinegar, Strength its acid, 5 or 9 %.
	MilliLitres float64
	Strength    quantity.Percent
}

// perMilliLitre is the CCE in per cent that a millilitre of 5 % vinegar indicates.
const perMilliLitre = 0.417

// strongVinegar is the factor for a millilitre of 9 % vinegar.
const strongVinegar = 1.8

// CCE returns the strength that the test indicates.
func (v VinegarTest) CCE() quantity.Percent {
	p := perMilliLitre * v.MilliLitres
	if v.Strength > 7 {
		p *= strongVinegar
	}
	return quantity.Percent(p)
}

// FinenessWeights are the shares of each class that react in practice.
var FinenessWeights = [4]float64{0, 0.2, 0.6, 1}

// finenessHalfLives are the half-lives of the classes, weeks at 15 °C.
var finenessHalfLives = [4]float64{36 * weeksPerMonth, 24 * weeksPerMonth, 9 * weeksPerMonth, 2.5 * weeksPerMonth}

// handCrushed is the fineness of shells crushed by hand; it weighs 0.35.
var handCrushed = [4]quantity.Percent{0, 62.5, 37.5, 0}

// Shares returns the shares of the fineness classes; nil: all in the finest class.
func (b *Batch) Shares() *[4]quantity.Percent {
	if b.Fineness == nil && b.Crushed {
		return &handCrushed
	}
	return b.Fineness
}

// Fine returns the reactive share by fineness.
func (b *Batch) Fine() float64 {
	shares := b.Shares()
	if shares == nil {
		return 1
	}
	sum := 0.0
	for i, p := range shares {
		sum += float64(p) / 100 * FinenessWeights[i]
	}
	return sum
}

// Speed returns the batch's reaction. For a lime of several classes it is the mean of their rates,
// weighted by reactive share.
func (b *Batch) Speed() Reaction {
	r := b.Reacts
	fine, shares := b.Fine(), b.Shares()
	if shares == nil || fine <= 0 {
		return r
	}
	rate := 0.0
	for i, p := range shares {
		rate += float64(p) / 100 * FinenessWeights[i] / fine / finenessHalfLives[i]
	}
	r.HalfLife *= 1 / rate / finenessHalfLives[3]
	return r
}

// Ages of ash, in days.
const (
	// HotDays is how long ash may hold embers.
	HotDays quantity.Day = 7
	// From OldDays on an ash gets a caution; from StaleDays on its potash is unknown.
	OldDays   quantity.Day = 365
	StaleDays quantity.Day = 4 * 365
)

// Losses of an ash left out in the rain.
const (
	wetPotash = 0.3
	wetCCE    = 0.85
)

// Worth is the effect of a gram of a batch.
type Worth struct {
	// EffectiveCCE is g CaCO₃ equivalent per g applied, negative for acid.
	EffectiveCCE float64
	// LogSD is the standard deviation of ln(EffectiveCCE).
	LogSD float64
	// K2O is g K₂O per g applied.
	K2O float64
	// Typical is set when the strength is the kind's typical value, not a measured one.
	Typical bool
	// Fine is the reactive share by fineness relative to the stone that the need is printed in.
	Fine float64
}

// Standard deviations of ln(strength): bought materials, tested ash, untested ash. They double for
// ash left in the rain.
const (
	boughtSD  = 0.05
	testedSD  = 0.15
	typicalSD = 0.30
)

// Worth returns the effect of a gram of the batch for a need in pure lime.
func (b *Batch) Worth() Worth { return b.WorthBeside(1) }

// WorthBeside returns the effect of a gram for a need printed in limestone of fineness weight
// stone: a limestone counts by its own weight relative to that, at most 1.
func (b *Batch) WorthBeside(stone float64) Worth {
	w := Worth{K2O: float64(b.K2O.Typical) / 100, LogSD: boughtSD, Fine: 1}
	if b.Potash != nil {
		w.K2O = float64(*b.Potash) / 100
	}
	row, sign := b.CCE, 1.0
	if b.Lowers() {
		row, sign = b.Purity, -b.Acid/100
	}
	strength := row.Typical
	switch {
	case b.Vinegar != nil:
		strength = b.Vinegar.CCE()
	case b.Effective != nil:
		strength = *b.Effective
	case b.Measured != nil:
		strength = *b.Measured
	default:
		w.Typical = true
	}
	if b.Family == Ash {
		w.LogSD = testedSD
		if w.Typical {
			w.LogSD = typicalSD
		}
	}
	w.EffectiveCCE = sign * float64(strength) / 100
	if b.Effective == nil {
		// A label's effective figure already includes fineness and moisture.
		w.Fine = min(1, b.Fine()/stone)
		w.EffectiveCCE *= w.Fine * (1 - float64(b.Moisture)/100)
	}
	if b.Family == Ash {
		w.EffectiveCCE *= 1 - float64(b.Charcoal)/100
		w.K2O *= (1 - float64(b.Charcoal)/100) * (1 - float64(b.Moisture)/100)
	}
	if b.Family == Ash && b.Condition == Wet {
		// Measured values already include the losses by rain.
		if b.Potash == nil {
			w.K2O *= wetPotash
		}
		if w.Typical {
			w.EffectiveCCE *= wetCCE
			w.LogSD *= 2
		}
	}
	return w
}
