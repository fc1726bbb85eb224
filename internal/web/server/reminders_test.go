package server_test

import (
	"fmt"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

func TestGroundSaysFirstWhatIsToBeSeenTo(t *testing.T) {
	s := newSite(t, true)
	page := s.get("/").Body.String()
	assert.Contains(t, page, "Due today: ash on Lower ledge.")
	assert.Contains(t, page, "Late since 21 Nov: lime on Kale and roots.")
	assert.NotContains(t, s.get("/?on=2026-11-01").Body.String(), "Due today", "on another day it is for reading")
	kale := s.bed("Kale and roots").Bed.ID
	// A go that no day serves says why: more lime than a year may have.
	// A newer reading of a bed goes before what was planned by an older one.
	ph := quantity.PH(6.6)
	lower := s.bed("Lower ledge").Bed.ID
	newer := &garden.Reading{BedID: lower, Date: s.today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15}
	s.add(newer)
	page = s.get("/").Body.String()
	assert.NotContains(t, page, "Due today: ash on Lower ledge")
	assert.Contains(t, page, "Ash on Lower ledge was planned before it read 6.6 on 24 Nov: see what the dose is now.")
	s.saved(s.post(fmt.Sprintf("/readings/%d/strike", newer.ID), url.Values{"version": {"1"}, "back": {"/"}}))
	s.add(&garden.Task{BedID: kale, Kind: garden.TaskApplication, Due: s.today, What: material.CalciticLime, Rate: 1500, Total: 30_000,
		State: garden.Open, Depth: 0.15})
	page = s.get("/").Body.String()
	assert.Contains(t, page,
		"Lime on Kale and roots: no day within a year serves: the year’s cap is reached; 500 g/m² of it would fit.")
	last := s.record(s.bed("Lower ledge").Bed.ID).Readings
	x := last[len(last)-1]
	s.saved(s.post(fmt.Sprintf("/readings/%d/strike", x.ID), url.Values{"version": {fmt.Sprint(x.Version)}, "back": {"/"}}))
	assert.Contains(t, s.get("/").Body.String(), "Ash on Lower ledge is held back: its reading was struck out on 24 Nov.")
}
