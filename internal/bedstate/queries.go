// Package bedstate computes the state of a garden's beds on a day from their records: what
// grows there, what they read, what is at work in them, and their open tasks.
package bedstate

import (
	"zephyrfield/internal/garden"
)

// Reader is what the store is asked here.
type Reader interface {
	garden.Reader
	// PlantingsAround are all beds' crops that stand on a day, were cleared
	// after since, or are sown by until; in the order of sowing.
	PlantingsAround(since, until string) ([]garden.Planting, error)
	// LatestReadings gives for each bed its last reading with a pH, its last with a
	// potassium, with an organic matter and with a CEC, up to a day.
	LatestReadings(upTo string) ([]garden.Reading, error)
	// ApplicationsSince are those of all beds from a day on, oldest first.
	ApplicationsSince(day string) ([]garden.Application, error)
	// Held are the open applications whose plan rests on a reading that was struck out.
	Held() ([]garden.Held, error)
	// Overtaken are the open applications whose plan rests on a reading that a newer one of the bed has overtaken.
	Overtaken() ([]garden.Overtaken, error)
	// RestsWaiting are the rests of doses that wait for a test, of a bed or, for 0, of all; PlanAims what plans made from a day on were
	// to bring their beds to.
	RestsWaiting(bed int64) ([]garden.WaitingRest, error)
	PlanAims(bed int64, since string) ([]garden.PlanAim, error)
	// OpenPreparations are the beds that are being turned over, TurningSteps the steps of
	// those, done and skipped ones too.
	OpenPreparations() ([]garden.Preparation, error)
	PreparationSteps() ([]garden.Task, error)
	// SamplesOfBed are the mixed samples that a bed is in.
	SamplesOfBed(bed int64) ([]garden.Sample, error)
}
