package soil

import (
	"zephyrfield/agronomy/quantity"
)

// Supply is how a soil stands in potassium.
type Supply string

// Bands of potassium.
const (
	Short   Supply = "short"
	Enough  Supply = "enough"
	Plenty  Supply = "plenty"
	TooMuch Supply = "too-much"
	Unknown Supply = "unknown"
)

// PotassiumScale holds the edges of the bands for a ground.
type PotassiumScale struct {
	// Critical is where enough begins; EnoughTo where plenty begins; Ceiling
	// where too much begins.
	Critical, EnoughTo, Ceiling quantity.Concentration
}

// Critical potassium by ammonium acetate, and what it gains by a cmol/kg of
// capacity, mg/kg.
const (
	AcetateBase   = 75
	AcetatePerCEC = 2.5
)

// mostCounted is how much of a capacity counts in critical potassium, cmol/kg.
const mostCounted = 30

// Critical figures of Mehlich-3 for soils that hold little and for the others, mg/kg.
const (
	mehlich3Light quantity.Concentration          = 100
	mehlich3Other quantity.Concentration          = 120
	lightCapacity quantity.CationExchangeCapacity = 5
)

// enoughSpan is how far enough reaches above critical, mg/kg.
const enoughSpan quantity.Concentration = 60

// critical is where enough begins by an extractant, for a capacity.
type critical func(quantity.CationExchangeCapacity) quantity.Concentration

// always is a critical figure that no capacity changes.
func always(c quantity.Concentration) critical {
	return func(quantity.CationExchangeCapacity) quantity.Concentration { return c }
}

// acetate is ammonium acetate's critical figure: 75 + 2.5 × CEC ppm, CEC counted to
// 30 at most.
func acetate(cec quantity.CationExchangeCapacity) quantity.Concentration {
	return quantity.Concentration(AcetateBase + AcetatePerCEC*min(float64(cec), mostCounted))
}

func mehlich3(cec quantity.CationExchangeCapacity) quantity.Concentration {
	if cec < lightCapacity {
		return mehlich3Light
	}
	return mehlich3Other
}

// Extractant is what a lab drew the potassium out with; they are not
// interchangeable.
type Extractant string

// Extractants.
const (
	Mehlich3        Extractant = "mehlich-3"
	AmmoniumAcetate Extractant = "ammonium-acetate"
	Olsen           Extractant = "olsen"
	Morgan          Extractant = "morgan"
	OtherExtractant Extractant = "other"
)

// extractants are all of them, each with the critical figure that is its own.
var extractants = []struct {
	id       Extractant
	critical critical
}{
	{Mehlich3, mehlich3},
	{AmmoniumAcetate, acetate},
	{Olsen, always(110)},
	{Morgan, always(60)},
	{OtherExtractant, nil},
}

// Extractants lists them.
var Extractants = func() (out []Extractant) {
	for _, e := range extractants {
		out = append(out, e.id)
	}
	return out
}()

// criticalOf is the critical figure by an extractant; sure is false where it has
// none of its own and ammonium acetate's stands in.
func criticalOf(e Extractant, cec quantity.CationExchangeCapacity) (c quantity.Concentration, sure bool) {
	for _, x := range extractants {
		if x.id == e && x.critical != nil {
			return x.critical(cec), true
		}
	}
	return acetate(cec), false
}

// PotassiumBands gives the edges for a ground and what its potassium was drawn
// out with: the lab's own optimum where it prints one, else each extractant's own.
// sure is false where ammonium acetate's figure stands in for an extractant that is
// another or not known, and on muck, whose potassium follows volume.
func PotassiumBands(g Ground, e Extractant, lab *KRange) (s PotassiumScale, sure bool) {
	if lab != nil {
		return PotassiumScale{Critical: lab.From, EnoughTo: lab.To, Ceiling: max(2*lab.From, lab.To)}, true
	}
	c, sure := criticalOf(e, g.CationExchangeCapacity())
	return PotassiumScale{Critical: c, EnoughTo: c + enoughSpan, Ceiling: 2 * c}, sure && g.Texture.ID != Muck
}

// Judge puts a figure in its band; nil is unknown.
func (s PotassiumScale) Judge(k *quantity.Concentration) Supply {
	switch {
	case k == nil:
		return Unknown
	case *k < s.Critical:
		return Short
	case *k <= s.EnoughTo:
		return Enough
	case *k <= s.Ceiling:
		return Plenty
	default:
		return TooMuch
	}
}

// K2OToK turns potash into potassium by weight.
const K2OToK = 0.83

// What a test finds again of added potassium, and how capacity lessens it.
const (
	HeldBase   = 0.6
	HeldPerCEC = 0.05
)

// Held is the share of added potassium that a test finds again.
func Held(g Ground) float64 {
	if g.Texture.ID == Muck {
		return 0.8
	}
	return HeldBase / (1 + HeldPerCEC*float64(g.CationExchangeCapacity()))
}

// PotassiumRise is the rise of tested K from K₂O put on, the addition alone.
func PotassiumRise(g Ground, k2o quantity.Rate) quantity.Concentration {
	return quantity.Concentration(float64(k2o) * K2OToK * 1000 / g.SoilMass() * Held(g))
}

// PotashFor is the K₂O that brings a rise: the reverse of PotassiumRise.
func PotashFor(g Ground, rise quantity.Concentration) quantity.Rate {
	return quantity.Rate(float64(rise) / (K2OToK * 1000) * g.SoilMass() / Held(g))
}

// KStaleMonths is how long a potassium figure is good for.
const KStaleMonths = 24

// KCarried is a bed's potassium carried forward to a day: the figure, and what of it was put on, carried off by crops and
// leached since its newest reading.
type KCarried struct {
	Now            quantity.Concentration
	Given, Carried quantity.Rate
	Leached        quantity.Concentration
}

// PotassiumNow is what a bed's potassium is to be computed as on a day.
type PotassiumNow struct {
	// Read is the figure with its day; nil when it was never tested.
	Read *quantity.Concentration
	Date quantity.Day
	// Now is it carried forward. Moved is what moved it since, Weighed what the readings before it and how they were
	// met change it by.
	Now     *quantity.Concentration
	Moved   KCarried
	Weighed quantity.Concentration
	Scale   PotassiumScale
	// Sure is false where the scale does not fit the figure quite.
	Sure bool
	// Stale is set when the figure is too old: it is unknown then, but that one
	// of plenty or more still bars potassium.
	Stale bool
	// Vague is set where it is not to be counted on: stale, or on muck without the
	// lab's own range.
	Vague bool
	State Supply
}

// JudgePotassium judges a reading's potassium as it was carried forward to a day.
func JudgePotassium(g Ground, r Reading, c KCarried, day quantity.Day) PotassiumNow {
	p := PotassiumNow{Read: r.Potassium, State: Unknown}
	p.Scale, p.Sure = PotassiumBands(g, r.Extractant, r.KRange)
	if p.Read == nil {
		return p
	}
	p.Moved, p.Date = c, r.KDate()
	p.Weighed = c.Now - (*p.Read + PotassiumRise(g, c.Given) - PotassiumRise(g, c.Carried) - c.Leached)
	p.Now, p.Stale = &c.Now, p.Date.AddMonths(KStaleMonths) < day
	p.State = p.Scale.Judge(p.Now)
	p.Vague = p.Stale || g.Texture.ID == Muck && r.KRange == nil
	if p.Vague && p.State != Plenty && p.State != TooMuch {
		p.State = Unknown
	}
	return p
}

// AboveCritical is how far over critical a dose of potassium brings a bed that
// is short.
const AboveCritical quantity.Concentration = 30

// Wants is the K₂O that brings a bed that is short to 30 ppm over critical, 0
// where it is not short.
func (p PotassiumNow) Wants(g Ground) quantity.Rate {
	if p.State != Short {
		return 0
	}
	return PotashFor(g, p.Scale.Critical+AboveCritical-*p.Now)
}

// MagnesiumHigh is where dolomitic lime wants a caution, and so does a potassium
// below KMgLow times the magnesium.
const MagnesiumHigh quantity.Concentration = 400

// KMgLow is that share.
const KMgLow = 0.5

// KMgHigh is the potassium beside the magnesium from which it crowds that out.
const KMgHigh = 1.5

// Magnesium that is low is brought to MagnesiumAim, by at most MostMagnesium in a year.
const (
	MagnesiumAim  quantity.Concentration = 80
	MostMagnesium quantity.Rate          = 12
)

// MagnesiumFor is the magnesium that brings ground from a figure to the aim, g/m².
func MagnesiumFor(g Ground, mg quantity.Concentration) quantity.Rate {
	return quantity.Rate(max(0, float64(MagnesiumAim-mg)) * g.SoilMass() / 1000)
}

// CalciumLow is the figure below which calcium is short.
const CalciumLow quantity.Concentration = 400

// CalciumShare is the least share of the cation exchange capacity that calcium takes where it is not short; calciumPerCmol is the
// calcium of a cmol of charge in a kilogram, ppm.
const (
	CalciumShare   = 0.40
	calciumPerCmol = 200.4
)

// CalciumShort reports whether a figure of calcium is short on a ground.
func CalciumShort(g Ground, ca quantity.Concentration) bool {
	return ca < CalciumLow || float64(ca)/calciumPerCmol < CalciumShare*float64(g.CationExchangeCapacity())
}

// MagnesiumLow is the figure below which dolomitic lime is preferred.
const MagnesiumLow quantity.Concentration = 60
