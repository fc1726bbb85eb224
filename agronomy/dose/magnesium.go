package dose

import (
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Magnesium is the answer on magnesium when it is low and pH calls for no lime to supply it:
// sulfate of magnesium.
type Magnesium struct {
	// Need is g Mg/m², 0 when none is wanted.
	Need    quantity.Rate
	Ways    []MagnesiumWay
	Working []working.Step
}

// MagnesiumWay is one sulfate of magnesium. First is applied before a test when only one figure
// supports it; else it is all.
type MagnesiumWay struct {
	Kind              material.Kind
	Rate, First       quantity.Rate
	Total, FirstTotal quantity.Mass
}

// sulfates supply magnesium without moving pH.
var sulfates = []material.Kind{material.Kieserite, material.EpsomSalt}

// answerMagnesium computes what brings low magnesium to its aim (guide, section 5).
func (s *sum) answerMagnesium(a *Answer) {
	mg := s.Reading.Magnesium
	use := s.Ground.Use
	if mg == nil || *mg >= soil.MagnesiumLow || a.Direction == Raise || use == soil.UsePot || use == soil.UseHeap {
		return
	}
	wants := soil.MagnesiumFor(s.Ground, *mg)
	given := s.magnesiumGiven()
	m := &a.Magnesium
	m.Need = max(0, min(wants, soil.MostMagnesium)-given)
	m.Working = []working.Step{{ID: "magnesium-need", Source: "magnesium", Result: working.Num("need", working.Rate, m.Need),
		From: working.Values{working.Num("mg", working.PPM, *mg), working.Num("soil", working.SoilMass, s.Ground.SoilMass()),
			working.Num("wants", working.Rate, wants), working.Num("given", working.Rate, given)}}}
	if m.Need < tenth {
		return
	}
	share := quantity.Rate(1)
	if s.Joined.N <= 1 {
		share = 0.5
	}
	for _, k := range sulfates {
		row, _ := material.Find(k)
		rate := m.Need / quantity.Rate(row.Magnesium/100)
		first := rate * share
		m.Ways = append(m.Ways, MagnesiumWay{k, rate, first, rate.Over(s.Ground.Area), first.Over(s.Ground.Area)})
	}
}

// magnesiumGiven returns the magnesium of sulfates applied within a year.
func (s *sum) magnesiumGiven() (sum quantity.Rate) {
	for i := range s.r.History {
		a := &s.r.History[i]
		for _, k := range sulfates {
			if a.Material.Kind == k && a.Date <= s.r.Date && a.Date > s.r.Date-ledger.YearDays {
				sum += a.Material.Magnesium.Of(a.Rate)
			}
		}
	}
	return sum
}
