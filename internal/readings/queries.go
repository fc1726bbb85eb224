// Package readings records readings: single ones, those of mixed samples, and those of a
// lab's file; corrects them and strikes them out.
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
		// SamplesWaiting are those that were taken and not read yet.
		SamplesWaiting() ([]garden.Waiting, error)
		// ReadingKeys are those of the readings that stand, from a day to a day.
		ReadingKeys(from, to string) ([]garden.ReadingKey, error)
		// Codes are those of all samples, with how the first of their beds is worked.
		Codes() ([]garden.SampleCode, error)
		// PutInPlaceOf is the reading that a line of the journal put in place of one of a bed; 0 where none did.
		PutInPlaceOf(bed, reading int64) (int64, error)
		// ReadingsFrom are the newest that stand, up to a day.
		ReadingsFrom(day string, limit int) ([]garden.Reading, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
