// Package bedstate computes the state of a garden's beds on a day from their records: crops, pH and
// potassium, applications still reacting, and open tasks.
package bedstate

import (
	"zephyrfield/internal/garden"
)

// Reader is the set of queries that this package needs of a store.
type Reader interface {
	garden.Reader
	// PlantingsAround returns all beds' crops that stand on a day, were cleared after since, or are
	// sown by until, in order of sowing.
	PlantingsAround(since, until string) ([]garden.Planting, error)
	// LatestReadings returns for each bed its last reading with a pH, with a potassium, with an
	// organic matter and with a CEC, up to a day, and all within some days before its last pH.
	LatestReadings(upTo string, within int) ([]garden.Reading, error)
	// ApplicationsSince returns all beds' applications from a day on, oldest first.
	ApplicationsSince(day string) ([]garden.Application, error)
	// Held returns the open applications planned from a reading that was struck out.
	Held() ([]garden.Held, error)
	// Overtaken returns the open applications planned from a reading that is not the bed's newest.
	Overtaken() ([]garden.Overtaken, error)
	// RestsWaiting returns the rests of doses that wait for a test, of a bed or, for 0, of all;
	// PlanAims the aims of plans made from a day on.
	RestsWaiting(bed int64) ([]garden.WaitingRest, error)
	PlanAims(bed int64, since string) ([]garden.PlanAim, error)
	// OpenPreparations returns the open preparations, TurningSteps their steps, including done and
	// skipped ones.
	OpenPreparations() ([]garden.Preparation, error)
	PreparationSteps() ([]garden.Task, error)
	// SamplesOfBed returns the mixed samples that include a bed.
	SamplesOfBed(bed int64) ([]garden.Sample, error)
}
