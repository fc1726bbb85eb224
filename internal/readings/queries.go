// Package readings records readings of beds, of mixed samples and from lab files; corrects them and
// strikes them out.
package readings

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service records readings.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		bedstate.Reader
		// SamplesWaiting returns the samples taken and not yet read.
		SamplesWaiting() ([]garden.Waiting, error)
		// ReadingKeys returns the keys of the valid readings between two days.
		ReadingKeys(from, to string) ([]garden.ReadingKey, error)
		// Codes returns all samples' codes, with how the first of their beds is worked.
		Codes() ([]garden.SampleCode, error)
		// PutInPlaceOf returns the reading that replaced one of a bed, by the journal; 0 for none.
		PutInPlaceOf(bed, reading int64) (int64, error)
		// ReadingsFrom returns the newest valid readings up to a day.
		ReadingsFrom(day string, limit int) ([]garden.Reading, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
