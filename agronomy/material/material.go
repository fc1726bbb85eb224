// Package material is the table of materials: strength, nutrients, speed of reaction, and the
// caps on how much of each a bed may be given.
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
	UnknownAsh       Kind = "wood-ash-unknown"
	SulfurPowder     Kind = "elemental-sulfur-powder"
	AmmoniumSulfate  Kind = "ammonium-sulfate"
	Urea             Kind = "urea"
	Manure           Kind = "manure"
	PotassiumSulfate Kind = "potassium-sulfate"
	TapWater         Kind = "tap-water"
	GreenManure      Kind = "green-manure"
	Compost          Kind = "compost"
	ShellMeal        Kind = "shell-meal"
	Kieserite        Kind = "kieserite"
	EpsomSalt        Kind = "epsom-salt"
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
	// OtherFeed are nitrogen feeds with ammonium that are logged, and never dosed.
	OtherFeed Family = "ammonium-feed"
	Potash    Family = "potash"
	// Organic is what feeds by the kilogram and barely moves pH.
	Organic Family = "organic"
	// FreshManure is that which gives off ammonia and wants time before planting.
	FreshManure Family = "fresh-manure"
	// RottedManure is that which wants a fortnight before planting.
	RottedManure Family = "rotted-manure"
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
	for i := range speeds {
		if x := &speeds[i]; x.q10 == r.Q10 {
			return x.at(float64(t - r.Reference))
		}
	}
	return math.Pow(r.Q10, float64(t-r.Reference)/10)
}

// speed is Q10 raised to tenths of a degree, in even steps: dating and computation
// a dose asks for thousands.
type speed struct {
	q10 float64
	by  [speedSteps + 1]float64
}

// speedReach is how far from the reference the steps go, °C.
const (
	speedReach = 80
	speedSteps = 2 * speedReach * 4
)

func speedOf(q10 float64) (s speed) {
	s.q10 = q10
	for i := range s.by {
		s.by[i] = math.Pow(q10, (float64(i)/4-speedReach)/10)
	}
	return s
}

var speeds = [...]speed{speedOf(1.5), speedOf(3)}

func (s *speed) at(off float64) float64 {
	x := (off + speedReach) * 4
	if !(x >= 0 && x < speedSteps) {
		return math.Pow(s.q10, off/10)
	}
	i := int(x)
	return s.by[i] + (s.by[i+1]-s.by[i])*(x-float64(i))
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
	// N and P2O5 are nitrogen and phosphate, per cent by weight.
	N, P2O5 quantity.Percent
	// Chalky is set where lime was mixed in, as in the feed of hens and the casing of mushrooms.
	Chalky bool
	// Drift is the lime that 100 g come to over the years, g CaCO₃, below 0 for acid (field guide,
	// section 7): too slow for a rate, it counts among what a bed drifts by.
	Drift  float64
	Reacts Reaction
	// Retest is how many weeks after the last application a retest tells.
	Retest int
	// WarmWeeks makes Retest count warm weeks only.
	WarmWeeks bool
}

// Table is every material.
var Table = []Material{
	{Kind: CalciticLime, Name: "ground limestone", Family: Lime, CCE: Range{90, 97, 100}, Calcium: 38, Reacts: limeReaction, Retest: 26},
	{Kind: DolomiticLime, Name: "dolomitic limestone", Family: Lime, CCE: Range{95, 103, 109}, Calcium: 22, Magnesium: 11,
		Reacts: dolomite, Retest: 52},
	{Kind: "pelleted-lime", Name: "pelleted lime", Family: Lime, CCE: Range{85, 92, 96}, Calcium: 35, Reacts: pelleted, Retest: 26},
	{Kind: "hydrated-lime", Name: "hydrated lime", Family: HydratedLime, CCE: Range{120, 130, 135}, Calcium: 52, Reacts: hydrated,
		Retest: 26},
	{Kind: ShellMeal, Name: "shell meal", Family: Lime, CCE: Range{85, 92, 95}, Calcium: 36, Reacts: limeReaction, Retest: 52},
	{Kind: "gypsum", Name: "gypsum", Family: Inert, Calcium: 23},
	{Kind: UnknownAsh, Name: "wood ash of unknown kind", Family: Ash, CCE: Range{22, 43, 92}, K2O: Range{0.5, 3.1, 10},
		Calcium: 15, Magnesium: 1, P2O5: 1.2, Reacts: ashReaction, Retest: 12},
	{Kind: HardwoodAsh, Name: "hardwood ash", Family: Ash, CCE: Range{35, 50, 70}, K2O: Range{3, 5, 8}, Calcium: 20, Magnesium: 2,
		P2O5: 1.5, Reacts: ashReaction, Retest: 12},
	{Kind: "wood-ash-softwood", Name: "softwood or pellet ash", Family: Ash, CCE: Range{30, 42, 60}, K2O: Range{1.5, 3, 5}, Calcium: 16,
		Magnesium: 1.5, P2O5: 1.2, Reacts: ashReaction, Retest: 12},
	{Kind: "wood-ash-twigs", Name: "ash of twigs and prunings", Family: Ash, CCE: Range{35, 48, 65}, K2O: Range{4, 7, 10}, Calcium: 18,
		Magnesium: 2.5, P2O5: 2.5, Reacts: ashReaction, Retest: 12},
	{Kind: "leaf-ash", Name: "leaf ash", Family: Ash, CCE: Range{25, 40, 55}, K2O: Range{3, 3, 3}, Calcium: 20, Magnesium: 3, P2O5: 2,
		Reacts: ashReaction, Retest: 12},
	{Kind: SulfurPowder, Name: "sulfur powder", Family: Sulfur, Acid: 312, Purity: Range{90, 95, 99}, Reacts: sulfurPowder, Retest: 12,
		WarmWeeks: true},
	{Kind: "elemental-sulfur-pellets", Name: "sulfur pellets", Family: Sulfur, Acid: 312, Purity: Range{90, 90, 90},
		Reacts: sulfurPellets, Retest: 12, WarmWeeks: true},
	{Kind: "aluminium-sulfate", Name: "aluminium sulfate", Family: Aluminium, Acid: 45, Purity: Range{100, 100, 100},
		Reacts: metalReaction, Retest: 12},
	{Kind: "iron-sulfate", Name: "iron sulfate", Family: Iron, Acid: 36, Purity: Range{100, 100, 100}, Reacts: metalReaction, Retest: 12},
	{Kind: AmmoniumSulfate, Name: "ammonium sulfate", Family: Ammonium, Acid: 112, Purity: Range{100, 100, 100}, N: 21,
		Reacts: nitrogenReacts, Retest: 12},
	{Kind: Urea, Name: "urea", Family: UreaFeed, Acid: 83, Purity: Range{100, 100, 100}, N: 46, Reacts: nitrogenReacts, Retest: 12},
	{Kind: "ammonium-nitrate", Name: "ammonium nitrate", Family: OtherFeed, N: 34, Drift: -1.8 * 34},
	{Kind: "monoammonium-phosphate", Name: "monoammonium phosphate", Family: OtherFeed, N: 11, P2O5: 52, Drift: -5 * 11},
	{Kind: "calcium-nitrate", Name: "calcium nitrate", Family: Inert, N: 15.5, Calcium: 19, Drift: 1.35 * 15.5},
	{Kind: Kieserite, Name: "kieserite", Family: Inert, Magnesium: 15.5},
	{Kind: EpsomSalt, Name: "Epsom salt", Family: Inert, Magnesium: 9.8},
	{Kind: "citric-acid", Name: "citric acid", Family: Inert},
	{Kind: PotassiumSulfate, Name: "potassium sulfate", Family: Potash, K2O: Range{50, 50, 50}, Retest: 52},
	{Kind: "peat", Name: "peat", Family: Inert},
	{Kind: Compost, Name: "garden compost", Family: Organic, K2O: Range{0.5, 0.5, 0.5}, N: 0.7, P2O5: 0.4, Retest: 52},
	{Kind: Manure, Name: "fresh manure", Family: FreshManure, K2O: Range{0.6, 0.6, 0.6}, N: 0.5, P2O5: 0.3, Retest: 52},
	{Kind: "rotted-manure", Name: "rotted manure", Family: RottedManure, K2O: Range{0.6, 0.6, 0.6}, N: 0.5, P2O5: 0.3, Drift: 0.5,
		Retest: 52},
	{Kind: "horse-manure", Name: "fresh horse manure", Family: FreshManure, K2O: Range{0.7, 0.7, 0.7}, N: 0.7, P2O5: 0.3, Retest: 52},
	{Kind: "sheep-manure", Name: "fresh sheep manure", Family: FreshManure, K2O: Range{0.8, 0.8, 0.8}, N: 0.7, P2O5: 0.3, Retest: 52},
	{Kind: "poultry-manure", Name: "fresh poultry manure", Family: FreshManure, K2O: Range{1, 1, 1}, N: 1.5, P2O5: 1.4, Chalky: true,
		Retest: 52},
	{Kind: "poultry-pellets", Name: "poultry manure pellets", Family: RottedManure, K2O: Range{2.5, 2.5, 2.5}, N: 4, P2O5: 3,
		Chalky: true, Retest: 52},
	{Kind: "mushroom-compost", Name: "mushroom compost", Family: Organic, K2O: Range{0.8, 0.8, 0.8}, N: 0.7, P2O5: 0.6, Chalky: true,
		Retest: 52},
	{Kind: "leaf-mould", Name: "leaf mould", Family: Organic, K2O: Range{0.3, 0.3, 0.3}, N: 0.4, P2O5: 0.1, Retest: 52},
	{Kind: "coffee-grounds", Name: "coffee grounds", Family: Inert},
	{Kind: "pine-needles", Name: "pine needles", Family: Inert},
	{Kind: "bone-meal", Name: "bone meal", Family: Inert, N: 4, P2O5: 20, Calcium: 24},
	{Kind: "blood-meal", Name: "blood meal", Family: Inert, N: 12},
	{Kind: "hoof-and-horn", Name: "hoof and horn", Family: Inert, N: 13},
	{Kind: "fish-meal", Name: "fish meal", Family: Inert, N: 9, P2O5: 6},
	{Kind: GreenManure, Name: "green manure, dug in", Family: Inert, K2O: Range{0.4, 0.4, 0.4}, N: 0.4},
	{Kind: "straw", Name: "straw", Family: Inert, K2O: Range{1.2, 1.2, 1.2}, N: 0.5},
	{Kind: "rock-phosphate", Name: "rock phosphate", Family: Inert, P2O5: 28, Calcium: 33},
	{Kind: "rock-dust", Name: "rock dust", Family: Inert},
	{Kind: "wood-chips", Name: "wood chips", Family: Inert},
	{Kind: "leaves", Name: "leaves", Family: Inert},
	{Kind: TapWater, Name: "water of the tap", Family: Inert},
	{Kind: "plant-feed", Name: "comfrey or nettle feed", Family: Inert},
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

// Order is where a kind stands in the table; it settles what is else alike.
func Order(k Kind) int {
	for i := range Table {
		if Table[i].Kind == k {
			return i
		}
	}
	return len(Table)
}

// MovesPH reports whether it does either.
func (m Material) MovesPH() bool { return m.Raises() || m.Lowers() }

// Manure reports whether it is manure, fresh, rotted or in pellets.
func (m *Material) Manure() bool { return m.Family == FreshManure || m.Family == RottedManure }

// GivesAmmonia reports whether ash or lime would drive ammonia out of it.
func (m Material) GivesAmmonia() bool {
	return m.Family == Ammonium || m.Family == UreaFeed || m.Family == OtherFeed || m.Family == FreshManure
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

// Conditions lists them.
var Conditions = []Condition{Dry, Wet}

// Source is what was burnt.
type Source string

// Sources of ash. Only Clean may be applied a bed.
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
	Driftwood   Source = "driftwood"
)

// Sources lists them, clean wood first.
var Sources = []Source{Clean, UnknownFire, Painted, Treated, Pallets, Briquettes, PressedLogs, Rubbish, Coal, Driftwood}

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
	// Held is what stands on the shelf of something of which more can be bought; nil: none of it.
	Held *quantity.Mass
	// Fineness is the shares by weight coarser than 2.36 mm, to 0.85, to 0.25
	// and finer; nil: all of the finest.
	Fineness *[4]quantity.Percent
	// Crushed is set for shells crushed by hand.
	Crushed bool
	// Moisture is water by weight; Charcoal what was not sifted out of an ash.
	Moisture, Charcoal quantity.Percent
	// Vinegar is a home test of an ash, nil when not made.
	Vinegar *VinegarTest
	// Burnt is the day of the fire, no day when not known.
	Burnt quantity.Day
	// Embers is set when some were seen in it.
	Embers bool
	// Walnut is set when black walnut was burnt.
	Walnut bool
	// Price is for a kilogram, in the gardener's money; nil when not known.
	Price *float64
}

// AshApproach is the id of a method on how strong ash is to be taken.
type AshApproach string

// Approaches to ash.
const (
	Equivalence  AshApproach = "equivalence"
	Dusting      AshApproach = "dusting"
	MeasuredOnly AshApproach = "measured-only"
)

// AshApproaches lists them, the default first.
var AshApproaches = []AshApproach{Equivalence, Dusting, MeasuredOnly}

// What one kilogram of ash brings in heavy metal and boron is little, but it
// stays: a bed that got more than MuchAshYears in MuchAshSpan, or more than
// MuchAshYear in each of three years running, is to be tested.
const (
	MuchAsh      quantity.Rate = 1000
	MuchAshSpan  quantity.Day  = 5 * 365
	MuchAshYear  quantity.Rate = 250
	MuchAshYears               = 3
)

// Worthwhile is the least of a family that is worth a go in all, g/m²; 0 where
// any is.
func Worthwhile(f Family) quantity.Rate {
	switch f {
	case Lime, HydratedLime:
		return 25
	case Ash:
		return 20
	case Sulfur:
		return 5
	}
	return 0
}

// DustingCap is the most that the light dusting method ever puts on, once a
// year.
const DustingCap quantity.Rate = 75
