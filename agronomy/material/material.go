// Package material is the table of materials: strength, nutrients, speed of reaction, and the
// caps on how much of each a bed may be given.
package material

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// Kind is the id of a material.
type Kind string

// Kinds that are named in code.
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
	// OtherFeed are nitrogen fertilizers with ammonium: logged, never dosed.
	OtherFeed Family = "ammonium-feed"
	Potash    Family = "potash"
	// Organic are fertilizers applied by the kilogram that barely move pH.
	Organic Family = "organic"
	// FreshManure gives off ammonia and needs a long interval before planting.
	FreshManure Family = "fresh-manure"
	// RottedManure needs a fortnight before planting.
	RottedManure Family = "rotted-manure"
	Inert        Family = "inert"
)

// Range holds a low, a typical and a high value.
type Range struct{ Low, Typical, High quantity.Percent }

// Reaction is the speed at which a material reacts when dug in.
type Reaction struct {
	// HalfLife is in weeks, at the temperature Reference.
	HalfLife  float64
	Reference quantity.Temperature
	// Q10 is the factor of speed for ten degrees more.
	Q10 float64
	// Floor is the temperature below which it does not react.
	Floor quantity.Temperature
}

// weeksPerMonth converts the months of the fineness table to weeks.
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

// RateAt returns the speed at a temperature, relative to that at Reference.
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

// speed is a table of Q10 powers in tenths of a degree: one dose asks for thousands.
type speed struct {
	q10 float64
	by  [speedSteps + 1]float64
}

// speedReach is how far the table reaches from the reference, °C.
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

// Material is a row of Table.
type Material struct {
	Kind   Kind
	Name   string
	Family Family
	// CCE is the calcium carbonate equivalent; 0 for what does not raise pH.
	CCE Range
	// Acid is the g CaCO₃ that 100 g neutralises at 100 % purity; 0 for materials that do not lower
	// pH.
	Acid float64
	// Purity is the active share of sulfur.
	Purity Range
	// K2O, Calcium and Magnesium are contents in per cent by weight.
	K2O                Range
	Calcium, Magnesium quantity.Percent
	// N and P2O5 are nitrogen and phosphate in per cent by weight.
	N, P2O5 quantity.Percent
	// Chalky is set when lime was mixed in, as in layer hens' feed and mushroom casing.
	Chalky bool
	// Drift is the g CaCO₃ that 100 g are worth over the years, negative for acid (guide, section
	// 7). It is too slow to dose with and counts in the bed's drift.
	Drift  float64
	Reacts Reaction
	// Retest is the number of weeks from the last application to a meaningful retest.
	Retest int
	// WarmWeeks makes Retest count warm weeks only.
	WarmWeeks bool
	// Does is what the material is for, and its limits, in one line for the gardener; gaps in braces
	// are filled by package text.
	Does string
}

// Table lists every material.
var Table = []Material{
	{Kind: CalciticLime, Name: "ground limestone", Family: Lime, CCE: Range{90, 97, 100}, Calcium: 38, Reacts: limeReaction, Retest: 26,
		Does: "Raises pH over months."},
	{Kind: DolomiticLime, Name: "dolomitic limestone", Family: Lime, CCE: Range{95, 103, 109}, Calcium: 22, Magnesium: 11,
		Reacts: dolomite, Retest: 52,
		Does: "Raises pH slowly and brings magnesium."},
	{Kind: "pelleted-lime", Name: "pelleted lime", Family: Lime, CCE: Range{85, 92, 96}, Calcium: 35, Reacts: pelleted, Retest: 26,
		Does: "Raises pH over months; little dust."},
	{Kind: "hydrated-lime", Name: "hydrated lime", Family: HydratedLime, CCE: Range{120, 130, 135}, Calcium: 52, Reacts: hydrated,
		Retest: 26,
		Does:   "Raises pH within weeks. It burns: trained hands only."},
	{Kind: ShellMeal, Name: "shell meal", Family: Lime, CCE: Range{85, 92, 95}, Calcium: 36, Reacts: limeReaction, Retest: 52,
		Does: "Raises pH, by its fineness."},
	{Kind: "gypsum", Name: "gypsum", Family: Inert, Calcium: 23,
		Does: "Feeds calcium. It does not move pH."},
	{Kind: UnknownAsh, Name: "wood ash of unknown kind", Family: Ash, CCE: Range{22, 43, 92}, K2O: Range{0.5, 3.1, 10},
		Calcium: 15, Magnesium: 1, P2O5: 1.2, Reacts: ashReaction, Retest: 12,
		Does: "Raises pH within weeks and feeds potassium."},
	{Kind: HardwoodAsh, Name: "hardwood ash", Family: Ash, CCE: Range{35, 50, 70}, K2O: Range{3, 5, 8}, Calcium: 20, Magnesium: 2,
		P2O5: 1.5, Reacts: ashReaction, Retest: 12,
		Does: "Raises pH within weeks and feeds potassium."},
	{Kind: "wood-ash-softwood", Name: "softwood or pellet ash", Family: Ash, CCE: Range{30, 42, 60}, K2O: Range{1.5, 3, 5}, Calcium: 16,
		Magnesium: 1.5, P2O5: 1.2, Reacts: ashReaction, Retest: 12,
		Does: "Raises pH within weeks and feeds potassium."},
	{Kind: "wood-ash-twigs", Name: "ash of twigs and prunings", Family: Ash, CCE: Range{35, 48, 65}, K2O: Range{4, 7, 10}, Calcium: 18,
		Magnesium: 2.5, P2O5: 2.5, Reacts: ashReaction, Retest: 12,
		Does: "Raises pH within weeks and feeds potassium."},
	{Kind: "leaf-ash", Name: "leaf ash", Family: Ash, CCE: Range{25, 40, 55}, K2O: Range{3, 3, 3}, Calcium: 20, Magnesium: 3, P2O5: 2,
		Reacts: ashReaction, Retest: 12,
		Does: "Raises pH within weeks and feeds potassium."},
	{Kind: SulfurPowder, Name: "sulfur powder", Family: Sulfur, Acid: 312, Purity: Range{90, 95, 99}, Reacts: sulfurPowder, Retest: 12,
		WarmWeeks: true,
		Does:      "Lowers pH over a warm season."},
	{Kind: "elemental-sulfur-pellets", Name: "sulfur pellets", Family: Sulfur, Acid: 312, Purity: Range{90, 90, 90},
		Reacts: sulfurPellets, Retest: 12, WarmWeeks: true,
		Does: "Lowers pH over two warm seasons."},
	{Kind: "aluminium-sulfate", Name: "aluminium sulfate", Family: Aluminium, Acid: 45, Purity: Range{100, 100, 100},
		Reacts: metalReaction, Retest: 12,
		Does: "Lowers pH within weeks. Never where food grows."},
	{Kind: "iron-sulfate", Name: "iron sulfate", Family: Iron, Acid: 36, Purity: Range{100, 100, 100}, Reacts: metalReaction, Retest: 12,
		Does: "Lowers pH within weeks; it stains."},
	{Kind: AmmoniumSulfate, Name: "ammonium sulfate", Family: Ammonium, Acid: 112, Purity: Range{100, 100, 100}, N: 21,
		Reacts: nitrogenReacts, Retest: 12,
		Does: "A nitrogen feed that lowers pH a little. Never near lime or ash."},
	{Kind: Urea, Name: "urea", Family: UreaFeed, Acid: 83, Purity: Range{100, 100, 100}, N: 46, Reacts: nitrogenReacts, Retest: 12,
		Does: "A nitrogen feed that lowers pH a little. Never near lime or ash."},
	{Kind: "ammonium-nitrate", Name: "ammonium nitrate", Family: OtherFeed, N: 34, Drift: -1.8 * 34,
		Does: "A nitrogen feed that makes ground a little more sour over the years. Never near lime or ash."},
	{Kind: "monoammonium-phosphate", Name: "monoammonium phosphate", Family: OtherFeed, N: 11, P2O5: 52, Drift: -5 * 11,
		Does: "Feeds nitrogen and phosphorus; makes ground more sour over the years. Never near lime or ash."},
	{Kind: "calcium-nitrate", Name: "calcium nitrate", Family: Inert, N: 15.5, Calcium: 19, Drift: 1.35 * 15.5,
		Does: "A quick nitrogen feed that makes ground a little sweeter over the years."},
	{Kind: Kieserite, Name: "kieserite", Family: Inert, Magnesium: 15.5,
		Does: "Feeds magnesium. It does not move pH."},
	{Kind: EpsomSalt, Name: "Epsom salt", Family: Inert, Magnesium: 9.8,
		Does: "Feeds magnesium at once. It does not move pH."},
	{Kind: "citric-acid", Name: "citric acid", Family: Inert,
		Does: "Lowers pH for weeks only: for pots."},
	{Kind: PotassiumSulfate, Name: "potassium sulfate", Family: Potash, K2O: Range{50, 50, 50}, Retest: 52,
		Does: "Feeds potassium. It does not move pH."},
	{Kind: "peat", Name: "peat", Family: Inert,
		Does: "Makes ground lighter. It barely moves pH."},
	{Kind: Compost, Name: "garden compost", Family: Organic, K2O: Range{0.5, 0.5, 0.5}, N: 0.7, P2O5: 0.4, Retest: 52,
		Does: "Feeds a little of all. It barely moves pH."},
	{Kind: Manure, Name: "fresh manure", Family: FreshManure, K2O: Range{0.6, 0.6, 0.6}, N: 0.5, P2O5: 0.3, Retest: 52,
		Does: "Feeds. Never near lime or ash; {manure gap} before planting."},
	{Kind: "rotted-manure", Name: "rotted manure", Family: RottedManure, K2O: Range{0.6, 0.6, 0.6}, N: 0.5, P2O5: 0.3, Drift: 0.5,
		Retest: 52,
		Does:   "Feeds; {rotted gap} before planting."},
	{Kind: "horse-manure", Name: "fresh horse manure", Family: FreshManure, K2O: Range{0.7, 0.7, 0.7}, N: 0.7, P2O5: 0.3, Retest: 52,
		Does: "Feeds. Never near lime or ash; {manure gap} before planting."},
	{Kind: "sheep-manure", Name: "fresh sheep manure", Family: FreshManure, K2O: Range{0.8, 0.8, 0.8}, N: 0.7, P2O5: 0.3, Retest: 52,
		Does: "Feeds. Never near lime or ash; {manure gap} before planting."},
	{Kind: "poultry-manure", Name: "fresh poultry manure", Family: FreshManure, K2O: Range{1, 1, 1}, N: 1.5, P2O5: 1.4, Chalky: true,
		Retest: 52,
		Does:   "Feeds strongly. Never near lime or ash; {manure gap} before planting."},
	{Kind: "poultry-pellets", Name: "poultry manure pellets", Family: RottedManure, K2O: Range{2.5, 2.5, 2.5}, N: 4, P2O5: 3,
		Chalky: true, Retest: 52,
		Does: "Feeds strongly; {rotted gap} before planting."},
	{Kind: "mushroom-compost", Name: "mushroom compost", Family: Organic, K2O: Range{0.8, 0.8, 0.8}, N: 0.7, P2O5: 0.6, Chalky: true,
		Retest: 52,
		Does:   "Feeds a little of all; there may be chalk in it."},
	{Kind: "leaf-mould", Name: "leaf mould", Family: Organic, K2O: Range{0.3, 0.3, 0.3}, N: 0.4, P2O5: 0.1, Retest: 52,
		Does: "Makes ground lighter. It barely moves pH."},
	{Kind: "coffee-grounds", Name: "coffee grounds", Family: Inert,
		Does: "Near neutral once brewed: for the heap."},
	{Kind: "pine-needles", Name: "pine needles", Family: Inert,
		Does: "A mulch. It barely moves pH."},
	{Kind: "bone-meal", Name: "bone meal", Family: Inert, N: 4, P2O5: 20, Calcium: 24,
		Does: "Feeds phosphorus slowly. It barely moves pH."},
	{Kind: "blood-meal", Name: "blood meal", Family: Inert, N: 12,
		Does: "A quick nitrogen feed. It barely moves pH."},
	{Kind: "hoof-and-horn", Name: "hoof and horn", Family: Inert, N: 13,
		Does: "A slow nitrogen feed. It barely moves pH."},
	{Kind: "fish-meal", Name: "fish meal", Family: Inert, N: 9, P2O5: 6,
		Does: "Feeds nitrogen and phosphorus. It barely moves pH."},
	{Kind: GreenManure, Name: "green manure, dug in", Family: Inert, K2O: Range{0.4, 0.4, 0.4}, N: 0.4,
		Does: "Gives back what it took. It barely moves pH."},
	{Kind: "straw", Name: "straw", Family: Inert, K2O: Range{1.2, 1.2, 1.2}, N: 0.5,
		Does: "A mulch that feeds potassium. It barely moves pH."},
	{Kind: "rock-phosphate", Name: "rock phosphate", Family: Inert, P2O5: 28, Calcium: 33,
		Does: "Feeds phosphorus on sour ground, over years."},
	{Kind: "rock-dust", Name: "rock dust", Family: Inert,
		Does: "Too slow to count on."},
	{Kind: "wood-chips", Name: "wood chips", Family: Inert,
		Does: "A mulch. Fresh and dug in, it borrows nitrogen."},
	{Kind: "leaves", Name: "leaves", Family: Inert,
		Does: "A mulch. They barely move pH."},
	{Kind: TapWater, Name: "water of the tap", Family: Inert,
		Does: "Brings the lime that is dissolved in it: hard water makes ground a little sweeter over the years."},
	{Kind: "plant-feed", Name: "comfrey or nettle feed", Family: Inert,
		Does: "Mostly water: a drink, no dose."},
}

// Find returns the row of a kind.
func Find(k Kind) (Material, bool) {
	for _, m := range Table {
		if m.Kind == k {
			return m, true
		}
	}
	return Material{}, false
}

// Raises reports whether the material raises pH.
func (m Material) Raises() bool { return m.CCE.Typical > 0 }

// Lowers reports whether the material lowers pH.
func (m Material) Lowers() bool { return m.Acid > 0 }

// Order returns the index of a kind in the table, a tie-breaker.
func Order(k Kind) int {
	for i := range Table {
		if Table[i].Kind == k {
			return i
		}
	}
	return len(Table)
}

// MovesPH reports whether the material raises or lowers pH.
func (m Material) MovesPH() bool { return m.Raises() || m.Lowers() }

// Manure reports whether the material is a manure: fresh, rotted or pelleted.
func (m *Material) Manure() bool { return m.Family == FreshManure || m.Family == RottedManure }

// GivesAmmonia reports whether ash or lime would drive ammonia out of the material.
func (m Material) GivesAmmonia() bool {
	return m.Family == Ammonium || m.Family == UreaFeed || m.Family == OtherFeed || m.Family == FreshManure
}

// Strength returns the g CaCO₃ equivalent of 100 g as bought, negative for a material that lowers
// pH.
func (m Material) Strength() float64 {
	if m.Lowers() {
		return -m.Acid * float64(m.Purity.Typical) / 100
	}
	return float64(m.CCE.Typical)
}

// Condition is the storage of an ash.
type Condition string

// Conditions of ash.
const (
	Dry Condition = "dry"
	Wet Condition = "wet"
)

// Conditions lists them.
var Conditions = []Condition{Dry, Wet}

// Source is the fuel of an ash.
type Source string

// The sources of ash. Only Clean may be applied to a bed.
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

// Batch is a material in stock, with what was measured of it.
type Batch struct {
	Material
	// Measured is the measured CCE (for sulfur: purity); nil: the kind's typical value.
	Measured *quantity.Percent
	// Effective is a label's effective neutralising value, used as printed.
	Effective *quantity.Percent
	// Potash is the measured K₂O; nil: the kind's typical value.
	Potash    *quantity.Percent
	Condition Condition
	Source    Source
	// OnHand is the mass in stock; nil: unlimited.
	OnHand *quantity.Mass
	// Held is the mass in stock of a material of which more can be bought; nil: none.
	Held *quantity.Mass
	// Fineness is the shares by weight coarser than 2.36 mm, to 0.85 mm, to 0.25 mm, and finer;
	// nil: all in the finest class.
	Fineness *[4]quantity.Percent
	// Crushed is set for shells crushed by hand.
	Crushed bool
	// Moisture is the water by weight, Charcoal the share not sifted out of an ash.
	Moisture, Charcoal quantity.Percent
	// Vinegar is a home test of an ash, nil when not made.
	Vinegar *VinegarTest
	// Burnt is the day of the fire, 0 when unknown.
	Burnt quantity.Day
	// Embers is set when embers were seen.
	Embers bool
	// Walnut is set when black walnut was burnt.
	Walnut bool
	// Price is per kilogram in the garden's currency; nil when unknown.
	Price *float64
}

// AshApproach is the id of a method for the assumed strength of ash.
type AshApproach string

// The ash methods.
const (
	Equivalence  AshApproach = "equivalence"
	Dusting      AshApproach = "dusting"
	MeasuredOnly AshApproach = "measured-only"
)

// AshApproaches lists them, the default first.
var AshApproaches = []AshApproach{Equivalence, Dusting, MeasuredOnly}

// Heavy metals and boron from ash accumulate, though a kilogram brings little: a soil test is asked
// for above MuchAshYears within MuchAshSpan, or above MuchAshYear in each of three consecutive
// years.
const (
	MuchAsh      quantity.Rate = 1000
	MuchAshSpan  quantity.Day  = 5 * 365
	MuchAshYear  quantity.Rate = 250
	MuchAshYears               = 3
)

// Worthwhile returns the least total of a family worth applying, g/m²; 0: any amount.
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

// DustingCap is the yearly cap of the light dusting method.
const DustingCap quantity.Rate = 75
