// Package material is the table of what can be put on: how strong it is, what
// it brings, how fast it acts, and how much of it a bed may be given at once.
package material

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// Kind is the id of a material.
type Kind string

// Kinds that the code names.
const (
	CalciticLime     Kind = "calcitic-lime"
	DolomiticLime    Kind = "dolomitic-lime"
	HardwoodAsh      Kind = "wood-ash-hardwood"
	SulfurPowder     Kind = "elemental-sulfur-powder"
	AmmoniumSulfate  Kind = "ammonium-sulfate"
	Urea             Kind = "urea"
	Manure           Kind = "manure"
	PotassiumSulfate Kind = "potassium-sulfate"
)

// Family groups materials that share caps, windows and guards.
type Family string

// Families.
const (
	Lime         Family = "lime"
	HydratedLime Family = "hydrated-lime"
	Ash          Family = "ash"
	Sulfur       Family = "sulfur"
	Aluminium    Family = "aluminium-sulfate"
	Iron         Family = "iron-sulfate"
	Ammonium     Family = "ammonium-sulfate"
	UreaFeed     Family = "urea"
	Potash       Family = "potash"
	Inert        Family = "inert"
)

// Range is low, typical and high.
type Range struct{ Low, Typical, High quantity.Percent }

// Reaction is how fast a material acts when it is dug in.
type Reaction struct {
	// HalfLife is in weeks at Reference.
	HalfLife  float64
	Reference quantity.Temperature
	// Q10 is the factor for ten degrees more.
	Q10 float64
	// Floor is the temperature below which nothing happens.
	Floor quantity.Temperature
}

// weeksPerMonth turns the months of the fineness table into weeks.
const weeksPerMonth = 365.25 / 12 / 7

var (
	limeReaction   = Reaction{HalfLife: 2.5 * weeksPerMonth, Reference: 15, Q10: 1.5, Floor: -50}
	dolomite       = Reaction{HalfLife: 2.5 * 1.8 * weeksPerMonth, Reference: 15, Q10: 1.5, Floor: -50}
	pelleted       = Reaction{HalfLife: 2.5*weeksPerMonth + 3, Reference: 15, Q10: 1.5, Floor: -50}
	hydrated       = Reaction{HalfLife: 1, Reference: 15, Q10: 1.5, Floor: -50}
	ashReaction    = Reaction{HalfLife: 3, Reference: 15, Q10: 1.5, Floor: -50}
	sulfurPowder   = Reaction{HalfLife: 5, Reference: 25, Q10: 3, Floor: 5}
	sulfurPellets  = Reaction{HalfLife: 20, Reference: 25, Q10: 3, Floor: 5}
	metalReaction  = Reaction{HalfLife: 2, Reference: 15, Q10: 1.5, Floor: -50}
	nitrogenReacts = Reaction{HalfLife: 4, Reference: 15, Q10: 1.5, Floor: 0}
)

// RateAt is the share of HalfLife's speed at a temperature.
func (r Reaction) RateAt(t quantity.Temperature) float64 {
	if t < r.Floor {
		return 0
	}
	return math.Pow(r.Q10, float64(t-r.Reference)/10)
}

// Material is a row of the table.
type Material struct {
	Kind   Kind
	Name   string
	Family Family
	// CCE is the calcium carbonate equivalent; 0 for what does not raise pH.
	CCE Range
	// Acid is g CaCO₃ that 100 g cancels at 100 % purity; 0 for the rest.
	Acid float64
	// Purity is the share that acts, for sulfur.
	Purity Range
	// K2O, Calcium and Magnesium are brought, per cent by weight.
	K2O                Range
	Calcium, Magnesium quantity.Percent
	// N is nitrogen, per cent by weight.
	N      quantity.Percent
	Reacts Reaction
	// Retest is how many weeks after the last go a retest tells.
	Retest int
	// WarmWeeks makes Retest count warm weeks only.
	WarmWeeks bool
}

// Table is every material.
var Table = []Material{
	{Kind: CalciticLime, Name: "ground limestone", Family: Lime, CCE: Range{90, 97, 100}, Calcium: 38, Reacts: limeReaction, Retest: 26},
	{Kind: DolomiticLime, Name: "dolomitic limestone", Family: Lime, CCE: Range{95, 103, 109}, Calcium: 22, Magnesium: 11, Reacts: dolomite, Retest: 52},
	{Kind: "pelleted-lime", Name: "pelleted lime", Family: Lime, CCE: Range{85, 92, 96}, Calcium: 35, Reacts: pelleted, Retest: 26},
	{Kind: "hydrated-lime", Name: "hydrated lime", Family: HydratedLime, CCE: Range{120, 130, 135}, Calcium: 52, Reacts: hydrated, Retest: 26},
	{Kind: "shell-meal", Name: "shell meal", Family: Lime, CCE: Range{85, 92, 95}, Calcium: 36, Reacts: limeReaction, Retest: 52},
	{Kind: "gypsum", Name: "gypsum", Family: Inert, Calcium: 23},
	{Kind: "wood-ash-unknown", Name: "wood ash of unknown kind", Family: Ash, CCE: Range{22, 43, 92}, K2O: Range{0.5, 3.1, 10}, Calcium: 15, Magnesium: 1, Reacts: ashReaction, Retest: 12},
	{Kind: HardwoodAsh, Name: "hardwood ash", Family: Ash, CCE: Range{35, 50, 70}, K2O: Range{3, 5, 8}, Calcium: 20, Magnesium: 2, Reacts: ashReaction, Retest: 12},
	{Kind: "wood-ash-softwood", Name: "softwood or pellet ash", Family: Ash, CCE: Range{30, 42, 60}, K2O: Range{1.5, 3, 5}, Calcium: 16, Magnesium: 1.5, Reacts: ashReaction, Retest: 12},
	{Kind: "wood-ash-twigs", Name: "ash of twigs and prunings", Family: Ash, CCE: Range{35, 48, 65}, K2O: Range{4, 7, 10}, Calcium: 18, Magnesium: 2.5, Reacts: ashReaction, Retest: 12},
	{Kind: "leaf-ash", Name: "leaf ash", Family: Ash, CCE: Range{25, 40, 55}, K2O: Range{3, 3, 3}, Calcium: 20, Magnesium: 3, Reacts: ashReaction, Retest: 12},
	{Kind: SulfurPowder, Name: "sulfur powder", Family: Sulfur, Acid: 312, Purity: Range{90, 95, 99}, Reacts: sulfurPowder, Retest: 12, WarmWeeks: true},
	{Kind: "elemental-sulfur-pellets", Name: "sulfur pellets", Family: Sulfur, Acid: 312, Purity: Range{90, 90, 90}, Reacts: sulfurPellets, Retest: 12, WarmWeeks: true},
	{Kind: "aluminium-sulfate", Name: "aluminium sulfate", Family: Aluminium, Acid: 45, Purity: Range{100, 100, 100}, Reacts: metalReaction, Retest: 12},
	{Kind: "iron-sulfate", Name: "iron sulfate", Family: Iron, Acid: 36, Purity: Range{100, 100, 100}, Reacts: metalReaction, Retest: 12},
	{Kind: AmmoniumSulfate, Name: "ammonium sulfate", Family: Ammonium, Acid: 112, Purity: Range{100, 100, 100}, N: 21, Reacts: nitrogenReacts, Retest: 12},
	{Kind: Urea, Name: "urea", Family: UreaFeed, Acid: 83, Purity: Range{100, 100, 100}, N: 46, Reacts: nitrogenReacts, Retest: 12},
	{Kind: "citric-acid", Name: "citric acid", Family: Inert},
	{Kind: "potassium-sulfate", Name: "potassium sulfate", Family: Potash, K2O: Range{50, 50, 50}},
	{Kind: "peat", Name: "peat", Family: Inert},
	{Kind: "compost", Name: "compost", Family: Inert},
	{Kind: Manure, Name: "fresh manure", Family: Inert},
	{Kind: "coffee-grounds", Name: "coffee grounds", Family: Inert},
	{Kind: "pine-needles", Name: "pine needles", Family: Inert},
}

// Find gives the row of a kind.
func Find(k Kind) (Material, bool) {
	for _, m := range Table {
		if m.Kind == k {
			return m, true
		}
	}
	return Material{}, false
}

// Raises and Lowers tell which way a material moves pH.
func (m Material) Raises() bool { return m.CCE.Typical > 0 }

// Lowers is the other way.
func (m Material) Lowers() bool { return m.Acid > 0 }

// GivesAmmonia tells whether ash or lime would drive ammonia out of it.
func (m Material) GivesAmmonia() bool {
	return m.Family == Ammonium || m.Family == UreaFeed || m.Kind == Manure
}

// Strength is g CaCO₃ equivalent that 100 g of it is worth as bought, with a
// sign: below 0 it cancels lime.
func (m Material) Strength() float64 {
	if m.Lowers() {
		return -m.Acid * float64(m.Purity.Typical) / 100
	}
	return float64(m.CCE.Typical)
}

// Condition is how an ash was kept.
type Condition string

// Conditions of ash.
const (
	Dry Condition = "dry"
	Wet Condition = "wet"
)

// Source is what was burnt.
type Source string

// Sources of ash. Only Clean may go on a bed.
const (
	Clean       Source = "clean"
	UnknownFire Source = "unknown"
	Painted     Source = "painted"
	Treated     Source = "treated"
	Pallets     Source = "pallets"
	Briquettes  Source = "briquettes"
	PressedLogs Source = "pressed-logs"
	Rubbish     Source = "rubbish"
	Coal        Source = "coal"
)

// Sources lists them, clean wood first.
var Sources = []Source{Clean, UnknownFire, Painted, Treated, Pallets, Briquettes, PressedLogs, Rubbish, Coal}

// Batch is a material as it stands on the gardener's shelf.
type Batch struct {
	Material
	// Measured is the batch's own CCE (or sulfur's purity); nil: the typical.
	Measured *quantity.Percent
	// Effective is a label's one effective figure; it is taken as it is.
	Effective *quantity.Percent
	// Potash is the batch's own K₂O; nil: the typical.
	Potash    *quantity.Percent
	Condition Condition
	Source    Source
	// OnHand is what there is; nil: enough.
	OnHand *quantity.Mass
	// Fineness is the shares by weight coarser than 2.36 mm, to 0.85, to 0.25
	// and finer; nil: all of the finest.
	Fineness *[4]quantity.Percent
	// Moisture is water by weight; Charcoal what was not sifted out of an ash.
	Moisture, Charcoal quantity.Percent
	// Vinegar is a home test of an ash, nil when not made.
	Vinegar *VinegarTest
	// Burnt is the day of the fire, no day when not known.
	Burnt quantity.Day
	// Walnut is set when black walnut was burnt.
	Walnut bool
	// Price is for a kilogram, in the gardener's money; nil when not known.
	Price *float64
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

// Fine is the share that acts, by its fineness.
func (b Batch) Fine() float64 {
	if b.Fineness == nil {
		return 1
	}
	sum := 0.0
	for i, p := range b.Fineness {
		sum += float64(p) / 100 * FinenessWeights[i]
	}
	return sum
}

// Speed is how fast the batch acts: of a lime of several classes the mean of
// their rates, each by the share that acts.
func (b Batch) Speed() Reaction {
	r := b.Reacts
	fine := b.Fine()
	if b.Fineness == nil || fine <= 0 {
		return r
	}
	rate := 0.0
	for i, p := range b.Fineness {
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
	// Strength is g CaCO₃ equivalent per g spread, below 0 for acid.
	Strength float64
	// RelativeSD is the doubt in it, as a share.
	RelativeSD float64
	// K2O is g per g spread.
	K2O float64
	// Typical is set when the strength is the kind's usual one, not measured.
	Typical bool
}

// measuredSD is the doubt of a home vinegar test, and labelSD that of a bag.
const (
	measuredSD = 0.15
	labelSD    = 0.03
)

// Worth reckons what a gram of the batch does.
func (b Batch) Worth() Worth {
	w := Worth{K2O: float64(b.K2O.Typical) / 100}
	if b.Potash != nil {
		w.K2O = float64(*b.Potash) / 100
	}
	row, sign := b.CCE, 1.0
	if b.Lowers() {
		row, sign = b.Purity, -b.Acid/100
	}
	typical := row.Typical
	w.RelativeSD = float64(row.High-row.Low) / 4 / math.Max(float64(typical), 1)
	switch {
	case b.Vinegar != nil:
		typical, w.RelativeSD = b.Vinegar.CCE(), measuredSD
	case b.Effective != nil:
		typical, w.RelativeSD = *b.Effective, labelSD
	case b.Measured != nil:
		typical, w.RelativeSD = *b.Measured, labelSD
		if b.Family == Ash {
			w.RelativeSD = measuredSD
		}
	default:
		w.Typical = true
	}
	w.Strength = sign * float64(typical) / 100
	if b.Effective == nil {
		// A label's effective figure has fineness and moisture in it already.
		w.Strength *= b.Fine() * (1 - float64(b.Moisture)/100)
	}
	if b.Family == Ash {
		w.Strength *= 1 - float64(b.Charcoal)/100
		w.K2O *= (1 - float64(b.Charcoal)/100) * (1 - float64(b.Moisture)/100)
	}
	if b.Family == Ash && b.Condition == Wet {
		w.K2O *= wetPotash
		w.Strength *= wetCCE
		w.RelativeSD *= 2
	}
	return w
}

// AshSchool is the id of a school on how strong ash is to be taken.
type AshSchool string

// Schools of ash.
const (
	Equivalence  AshSchool = "equivalence"
	Dusting      AshSchool = "dusting"
	MeasuredOnly AshSchool = "measured-only"
)

// AshSchools lists them, the default first.
var AshSchools = []AshSchool{Equivalence, Dusting, MeasuredOnly}

// DustingCap is the most that the light dusting school ever puts on, once a
// year.
const DustingCap quantity.Rate = 75
