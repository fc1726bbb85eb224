package calendar_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Fresh manure wants 60 days before a planting, rotted 14; a day nearer is too near.
// Rotted manure gives off no ammonia worth keeping from lime.
func TestManureKeepsItsDistanceFromAPlanting(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	planting := quantity.Date(2027, 5, 20)
	s := calendar.Season{Weather: &climate, Starts: []calendar.Start{{Day: planting, Planted: true}}, Cleared: quantity.Date(2026, 10, 1)}
	for family, gap := range map[material.Family]quantity.Day{material.FreshManure: 60, material.RottedManure: 14} {
		assert.Equal(t, calendar.Free, s.Blocked(family, planting-gap), family)
		assert.True(t, s.Blocked(family, planting-gap+1).Harms(), family)
		assert.True(t, s.Blocked(family, planting).Harms(), family)
		assert.Equal(t, calendar.Why(""), s.Blocked(material.RottedManure, planting+1))
	}
	for kind, gives := range map[material.Kind]bool{"manure": true, "rotted-manure": false, "poultry-manure": true} {
		m, ok := material.Find(kind)
		assert.True(t, ok)
		assert.Equal(t, gives, m.GivesAmmonia(), kind)
	}
}
