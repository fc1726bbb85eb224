package material

import (
	"cmp"

	"zephyrfield/agronomy/quantity"
)

// Compare orders batches by what they are: by kind, then by what they do. Only
// those that are alike in all that counts come out equal.
func (b *Batch) Compare(o *Batch) int {
	x, y := b.Worth(), o.Worth()
	return cmp.Or(cmp.Compare(Order(b.Kind), Order(o.Kind)), cmp.Compare(x.EffectiveCCE, y.EffectiveCCE), cmp.Compare(x.K2O, y.K2O),
		cmp.Compare(x.LogSD, y.LogSD), cmp.Compare(b.Source, o.Source), compareOpt(b.Price, o.Price), compareOpt(b.OnHand, o.OnHand),
		compareOpt(b.Held, o.Held),
		cmp.Compare(b.Burnt, o.Burnt), cmp.Compare(b.Fine(), o.Fine()), cmp.Compare(bit(b.Walnut),
			bit(o.Walnut)), cmp.Compare(b.Condition, o.Condition))
}

// Owned reports whether some of a batch stands on the gardener's shelf.
func (b *Batch) Owned() bool { return b.OnHand != nil || b.Held != nil }

// Unbound is the batch with as much of it as is wanted: what there is of it is shared out elsewhere, and stays known.
func (b Batch) Unbound() Batch {
	if b.Held == nil {
		b.Held = b.OnHand
	}
	b.OnHand = nil
	return b
}

// Has reports whether so much of it stands there.
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

// compareOpt puts what is not known last.
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

// VinegarTest is vinegar added to 10 g of sifted ash until the fizz stays
// stopped.
type VinegarTest struct {
	// MilliLitres of vinegar of this strength, 5 or 9 %.
	MilliLitres float64
	Strength    quantity.Percent
}

// perMilliLitre is the CCE that a millilitre of 5 % vinegar stands for.
const perMilliLitre = 0.417

// strongVinegar is how much more a millilitre of 9 % counts.
const strongVinegar = 1.8

// CCE is what the test says.
func (v VinegarTest) CCE() quantity.Percent {
	p := perMilliLitre * v.MilliLitres
	if v.Strength > 7 {
		p *= strongVinegar
	}
	return quantity.Percent(p)
}

// FinenessWeights are the shares of each class that ever react in practice.
var FinenessWeights = [4]float64{0, 0.2, 0.6, 1}

// finenessHalfLives are those of the classes, in weeks at 15 °C.
var finenessHalfLives = [4]float64{36 * weeksPerMonth, 24 * weeksPerMonth, 9 * weeksPerMonth, 2.5 * weeksPerMonth}

// handCrushed is about what a hand makes of shells: it weighs 0.35.
var handCrushed = [4]quantity.Percent{0, 62.5, 37.5, 0}

// Shares are those of the fineness classes; nil: all of the finest.
func (b *Batch) Shares() *[4]quantity.Percent {
	if b.Fineness == nil && b.Crushed {
		return &handCrushed
	}
	return b.Fineness
}

// Fine is the share that acts, by its fineness.
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

// Speed is how fast the batch acts: of a lime of several classes the mean of
// their rates, each by the share that acts.
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
	// Hot ash may still hold embers.
	HotDays quantity.Day = 7
	// OldDays from then on a caution; StaleDays its potash is unknown.
	OldDays   quantity.Day = 365
	StaleDays quantity.Day = 4 * 365
)

// Rain takes this from an ash left out wet.
const (
	wetPotash = 0.3
	wetCCE    = 0.85
)

// Worth is what a batch does.
type Worth struct {
	// EffectiveCCE is g CaCO₃ equivalent per g spread, below 0 for acid.
	EffectiveCCE float64
	// LogSD is the uncertainty in it, in the logarithm.
	LogSD float64
	// K2O is g per g spread.
	K2O float64
	// Typical is set when the strength is the kind's usual one, not measured.
	Typical bool
	// Fine is the share that acts by its fineness, beside the stone that the
	// need is printed in.
	Fine float64
}

// Doubts of a strength, in the logarithm: what is bought, an ash that was
// tested, an ash that was not. Left out wet, they double.
const (
	boughtSD  = 0.05
	testedSD  = 0.15
	typicalSD = 0.30
)

// Worth computes what a gram of the batch does where the need is of pure lime.
func (b *Batch) Worth() Worth { return b.WorthBeside(1) }

// WorthBeside computes it where the need is of limestone whose fineness weighs
// stone: a limestone counts by its own weight beside that, at most 1.
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
		// A label's effective figure has fineness and moisture in it already.
		w.Fine = min(1, b.Fine()/stone)
		w.EffectiveCCE *= w.Fine * (1 - float64(b.Moisture)/100)
	}
	if b.Family == Ash {
		w.EffectiveCCE *= 1 - float64(b.Charcoal)/100
		w.K2O *= (1 - float64(b.Charcoal)/100) * (1 - float64(b.Moisture)/100)
	}
	if b.Family == Ash && b.Condition == Wet {
		// What was measured of the batch as it is stands as measured.
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
