// Package app joins the use cases of a garden over one store.
package app

import (
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/observation"
	"zephyrfield/internal/onboarding"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/spreading"
)

// Services are a garden's use cases.
type Services struct {
	garden.Service
	BedState     bedstate.Service
	Dosing       dosing.Service
	Schedule     schedule.Service
	Applications applications.Service
	Readings     readings.Service
	Rounds       rounds.Service
	Layout       layout.Service
	Inventory    inventory.Service
	Spreading    spreading.Service
	Preparation  preparation.Service
	Outlook      outlook.Service
	Onboarding   onboarding.Service
	Observation  observation.Service
}

// Of returns the services of a garden.
func Of(s garden.Store) Services {
	p := bedstate.Service{Store: s}
	return Services{garden.Service{Store: s}, p, dosing.Service{Store: s},
		schedule.Service{Store: s, BedState: p}, applications.Service{Store: s}, readings.Service{Store: s}, rounds.Service{Store: s,
			BedState: p}, layout.Service{Store: s},
		inventory.Service{Store: s}, spreading.Service{Store: s}, preparation.Service{Store: s},
		outlook.Service{Store: s, Work: &outlook.Work{Store: s}},
		onboarding.Service{Store: s}, observation.Service{Store: s}}
}
