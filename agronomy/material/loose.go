package material

import "zephyrfield/agronomy/quantity"

// Loose is the mass of a loose litre and of a handful of a material, for measuring without scales.
type Loose struct{ Litre, Handful quantity.Mass }

// looseOf is by family. A litre of ash, lime, sulfur and gypsum, and a handful of ash and lime, are
// from the guide, section 3; the rest are usual values for moist, loose material, shown as "about".
var looseOf = map[Family]Loose{
	Ash: {500, 60}, Lime: {1200, 100}, HydratedLime: {500, 40}, Sulfur: {600, 50}, Aluminium: {950, 80}, Iron: {950, 80},
	Ammonium: {950, 80}, UreaFeed: {750, 60}, OtherFeed: {900, 80},
	Potash: {1200, 100}, Organic: {600, 60}, FreshManure: {700, 70}, RottedManure: {700, 70},
	Inert: {350, 35},
}

// looseKinds override the family's figures for single kinds.
var looseKinds = map[Kind]Loose{
	TapWater: {1000, 100}, "plant-feed": {1000, 100},
	"pelleted-lime": {1000, 80}, "gypsum": {900, 75}, "leaf-mould": {400, 40}, "peat": {250, 25}, "straw": {60, 15},
	"bone-meal": {800, 70}, "blood-meal": {650, 55}, "hoof-and-horn": {650, 55}, "fish-meal": {600, 50}, "rock-dust": {1400, 120},
	"rock-phosphate": {1400, 120}, "wood-chips": {300, 30}, "leaves": {80, 15}, "green-manure": {150, 30}, "pine-needles": {100, 15},
	"coffee-grounds": {450, 45}, "citric-acid": {900, 75}, "calcium-nitrate": {1000, 85},
}

// Loose returns the mass of a litre and of a handful of the material.
func (m Material) Loose() Loose {
	if l, ok := looseKinds[m.Kind]; ok {
		return l
	}
	return looseOf[m.Family]
}

// Measure is the id of a unit for an applied amount.
type Measure string

// The measures besides units of weight.
const (
	Barrows    Measure = "barrows"
	Buckets    Measure = "buckets"
	Handfuls   Measure = "handfuls"
	HandfulsM2 Measure = "handfuls-m2"
	Cups       Measure = "cups"
	Litres     Measure = "litres"
	GramsM2    Measure = "g-m2"
)

// Volumes in litres of a level garden barrow, a pail and a cup.
const (
	BarrowLitres = 80
	PailLitres   = 10
	CupLitres    = 0.24
)

// measures compute the mass of one of each on a bed.
var measures = map[Measure]func(l Loose, area quantity.Area) quantity.Mass{
	Barrows:    func(l Loose, _ quantity.Area) quantity.Mass { return BarrowLitres * l.Litre },
	Buckets:    func(l Loose, _ quantity.Area) quantity.Mass { return PailLitres * l.Litre },
	Litres:     func(l Loose, _ quantity.Area) quantity.Mass { return l.Litre },
	Cups:       func(l Loose, _ quantity.Area) quantity.Mass { return CupLitres * l.Litre },
	Handfuls:   func(l Loose, _ quantity.Area) quantity.Mass { return l.Handful },
	HandfulsM2: func(l Loose, area quantity.Area) quantity.Mass { return l.Handful * quantity.Mass(area) },
	GramsM2:    func(_ Loose, area quantity.Area) quantity.Mass { return quantity.Rate(1).Over(area) },
}

// Measures lists them in the order in which they are offered.
var Measures = []Measure{Barrows, Buckets, Handfuls, HandfulsM2, Cups, Litres, GramsM2}

// Weigh returns the approximate mass of n of a measure on a bed; ok is false for an unknown
// measure.
func (m Material) Weigh(n float64, by Measure, area quantity.Area) (g quantity.Mass, ok bool) {
	one, ok := measures[by]
	if !ok {
		return 0, false
	}
	return quantity.Mass(n) * one(m.Loose(), area), true
}
