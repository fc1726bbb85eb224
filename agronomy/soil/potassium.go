package soil

import (
	"zephyrfield/agronomy/quantity"
)

// Supply is the verdict on a soil's potassium.
type Supply string

// The potassium ranges.
const (
	Short   Supply = "short"
	Enough  Supply = "enough"
	Plenty  Supply = "plenty"
	TooMuch Supply = "too-much"
	Unknown Supply = "unknown"
)

// PotassiumScale holds the bounds of the ranges for a ground.
type PotassiumScale struct {
	// Enough begins at Critical, plenty at EnoughTo, too much at Ceiling.
	Critical, EnoughTo, Ceiling quantity.Concentration
}

// Critical potassium by ammonium acetate and its increase per cmol/kg of capacity, mg/kg.
const (
	AcetateBase   = 75
	AcetatePerCEC = 2.5
)

// mostCounted is the capacity at which critical potassium stops rising, cmol/kg.
const mostCounted = 30

// Critical Mehlich-3 figures of soils of low capacity and of the others, mg/kg.
const (
	mehlich3Light quantity.Concentration          = 100
	mehlich3Other quantity.Concentration          = 120
	lightCapacity quantity.CationExchangeCapacity = 5
)

// enoughSpan is the width of the range Enough, mg/kg.
const enoughSpan quantity.Concentration = 60

// critical returns an extractant's critical figure for a capacity.
type critical func(quantity.CationExchangeCapacity) quantity.Concentration

// always returns a critical figure independent of capacity.
func always(c quantity.Concentration) critical {
	return func(quantity.CationExchangeCapacity) quantity.Concentration { return c }
}

// acetate returns ammonium acetate's critical figure: 75 + 2.5 × CEC ppm, CEC counted to at most
// 30.
func acetate(cec quantity.CationExchangeCapacity) quantity.Concentration {
	return quantity.Concentration(AcetateBase + AcetatePerCEC*min(float64(cec), mostCounted))
}

func mehlich3(cec quantity.CationExchangeCapacity) quantity.Concentration {
	if cec < lightCapacity {
		return mehlich3Light
	}
	return mehlich3Other
}

// Extractant is a lab's extraction method for potassium. Figures of different extractants are not
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

// extractants are all extractants with their critical figures.
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

// criticalOf returns an extractant's critical figure; sure is false when ammonium acetate's stands
// in for it.
func criticalOf(e Extractant, cec quantity.CationExchangeCapacity) (c quantity.Concentration, sure bool) {
	for _, x := range extractants {
		if x.id == e && x.critical != nil {
			return x.critical(cec), true
		}
	}
	return acetate(cec), false
}

// PotassiumRanges returns the ranges for a ground and an extractant: by the lab's own optimum if it
// prints one, else by the extractant's critical figure. sure is false when ammonium acetate's
// figure stands in for another or unknown extractant, and on muck, where potassium follows volume.
func PotassiumRanges(g Ground, e Extractant, lab *KRange) (s PotassiumScale, sure bool) {
	if lab != nil {
		return PotassiumScale{Critical: lab.From, EnoughTo: lab.To, Ceiling: max(2*lab.From, lab.To)}, true
	}
	c, sure := criticalOf(e, g.CationExchangeCapacity())
	return PotassiumScale{Critical: c, EnoughTo: c + enoughSpan, Ceiling: 2 * c}, sure && g.Texture.ID != Muck
}

// Judge returns the range of a figure; nil is unknown.
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

// K2OToK converts K₂O to K by weight.
const K2OToK = 0.83

// The share of added potassium that a test recovers, and its decrease with capacity.
const (
	HeldBase   = 0.6
	HeldPerCEC = 0.05
)

// Held returns the share of added potassium that a test recovers.
func Held(g Ground) float64 {
	if g.Texture.ID == Muck {
		return 0.8
	}
	return HeldBase / (1 + HeldPerCEC*float64(g.CationExchangeCapacity()))
}

// PotassiumRise returns the rise of tested K by an amount of K₂O, without losses.
func PotassiumRise(g Ground, k2o quantity.Rate) quantity.Concentration {
	return quantity.Concentration(float64(k2o) * K2OToK * 1000 / g.SoilMass() * Held(g))
}

// PotashFor returns the K₂O for a rise of tested K: the inverse of PotassiumRise.
func PotashFor(g Ground, rise quantity.Concentration) quantity.Rate {
	return quantity.Rate(float64(rise) / (K2OToK * 1000) * g.SoilMass() / Held(g))
}

// KStaleMonths is the age in months from which a potassium figure is stale.
const KStaleMonths = 24

// KCarried is a bed's potassium carried forward to a day: the figure, and what was applied, removed
// by crops and leached since the newest reading.
type KCarried struct {
	Now            quantity.Concentration
	Given, Carried quantity.Rate
	Leached        quantity.Concentration
}

// PotassiumNow is the potassium status of a bed on a day.
type PotassiumNow struct {
	// Read is the tested figure with its day; nil when never tested.
	Read *quantity.Concentration
	Date quantity.Day
	// Now is the figure carried forward. Moved is the change since the test, Weighed the correction
	// by earlier readings and how well they were predicted.
	Now     *quantity.Concentration
	Moved   KCarried
	Weighed quantity.Concentration
	Scale   PotassiumScale
	// Sure is false when the scale fits the figure only approximately.
	Sure bool
	// Stale is set when the figure is too old and counts as unknown; plenty or more still rules out
	// potassium.
	Stale bool
	// Vague is set when the figure is not reliable: stale, or on muck without the lab's own range.
	Vague bool
	State Supply
}

// JudgePotassium returns the status of a reading's potassium carried forward to a day.
func JudgePotassium(g Ground, r Reading, c KCarried, day quantity.Day) PotassiumNow {
	p := PotassiumNow{Read: r.Potassium, State: Unknown}
	p.Scale, p.Sure = PotassiumRanges(g, r.Extractant, r.KRange)
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

// AboveCritical is how far above critical a dose brings a bed that is short.
const AboveCritical quantity.Concentration = 30

// Wants returns the K₂O that brings a short bed to AboveCritical over critical; 0 for a bed that is
// not short.
func (p PotassiumNow) Wants(g Ground) quantity.Rate {
	if p.State != Short {
		return 0
	}
	return PotashFor(g, p.Scale.Critical+AboveCritical-*p.Now)
}

// From MagnesiumHigh on dolomitic lime gets a caution, and so does potassium below KMgLow times
// magnesium.
const MagnesiumHigh quantity.Concentration = 400

// KMgLow is the low ratio of potassium to magnesium.
const KMgLow = 0.5

// KMgHigh is the ratio of potassium to magnesium from which potassium hinders the uptake of
// magnesium.
const KMgHigh = 1.5

// A low magnesium is raised to MagnesiumAim, by at most MostMagnesium a year.
const (
	MagnesiumAim  quantity.Concentration = 80
	MostMagnesium quantity.Rate          = 12
)

// MagnesiumFor returns the magnesium from a figure to the aim, g/m².
func MagnesiumFor(g Ground, mg quantity.Concentration) quantity.Rate {
	return quantity.Rate(max(0, float64(MagnesiumAim-mg)) * g.SoilMass() / 1000)
}

// CalciumLow is the figure below which calcium is short.
const CalciumLow quantity.Concentration = 400

// CalciumShare is the least share of the cation exchange capacity held by calcium in soil that is
// not short of it; calciumPerCmol is ppm of calcium per cmol/kg.
const (
	CalciumShare   = 0.40
	calciumPerCmol = 200.4
)

// CalciumShort reports whether a calcium figure is short on a ground.
func CalciumShort(g Ground, ca quantity.Concentration) bool {
	return ca < CalciumLow || float64(ca)/calciumPerCmol < CalciumShare*float64(g.CationExchangeCapacity())
}

// MagnesiumLow is the figure below which dolomitic lime is preferred.
const MagnesiumLow quantity.Concentration = 60
