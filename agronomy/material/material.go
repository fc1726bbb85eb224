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
	CalciticLime    Kind = "calcitic-lime"
	DolomiticLime   Kind = "dolomitic-lime"
	HardwoodAsh     Kind = "wood-ash-hardwood"
	SulfurPowder    Kind = "elemental-sulfur-powder"
	AmmoniumSulfate Kind = "ammonium-sulfate"
	Urea            Kind = "urea"
	Manure          Kind = "manure"
)

// Family groups materials that share caps, windows and guards.
type Family string

// Families.
const (
	Lime         Family = "lime"
	HydratedLime Family = "hydrated-lime"
	Ash          Family = "ash"
	Sulfur       Family = "sulfur"
	MetalSulfate Family = "metal-sulfate"
	Nitrogen     Family = "nitrogen"
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
	Reacts             Reaction
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
	{Kind: "aluminium-sulfate", Name: "aluminium sulfate", Family: MetalSulfate, Acid: 45, Purity: Range{100, 100, 100}, Reacts: metalReaction},
	{Kind: "iron-sulfate", Name: "iron sulfate", Family: MetalSulfate, Acid: 36, Purity: Range{100, 100, 100}, Reacts: metalReaction},
	{Kind: AmmoniumSulfate, Name: "ammonium sulfate", Family: Nitrogen, Acid: 112, Purity: Range{100, 100, 100}, Reacts: nitrogenReacts},
	{Kind: Urea, Name: "urea", Family: Nitrogen, Acid: 83, Purity: Range{100, 100, 100}, Reacts: nitrogenReacts},
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
func (m Material) GivesAmmonia() bool { return m.Family == Nitrogen || m.Kind == Manure }

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
}

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
