// Package instrument defines the interfaces of devices and services outside: a pH probe, a
// lab, the weather. Each has a simulated, seeded stand-in that ships and is marked as such.
package instrument

import (
	"context"
	"errors"

	"zephyrfield/agronomy/quantity"
)

// Shown is what a probe shows at a moment.
type Shown struct {
	PH quantity.PH
	// Temperature is the slurry's; ok is false in HasTemperature when the probe
	// does not tell.
	Temperature    quantity.Temperature
	HasTemperature bool
}

// Probe is a pH probe that stands in something.
type Probe interface {
	// Name says what it is; Simulated is set for a stand-in.
	Name() string
	Simulated() bool
	// Read gives what it shows now of what it stands in.
	Read(ctx context.Context, in In) (Shown, error)
}

// In is what a probe stands in. A real probe stands where it was put, and needs
// none of it; a stand-in makes its figures from it.
type In struct {
	// Bottle is a bottle of known pH; 0 for a slurry of the bed.
	Bottle quantity.PH
	Bed    int64
	// Truth is about where the bed's soil stands, as far as the garden knows.
	Truth quantity.PH
	// N counts the readings of one sitting.
	N int
}

// ErrNoReading is returned when a probe has shown nothing lately.
var ErrNoReading = errors.New("the probe has shown nothing in the last ten seconds")

// Sent is a sample that went to a lab, with what it may hold.
type Sent struct {
	Code string
	On   quantity.Day
	// PH and Potassium are about where its beds stand, for a stand-in to start
	// from.
	PH        quantity.PH
	Potassium quantity.Concentration
}

// Report is a lab's answer: a file as labs send them.
type Report struct {
	Name string
	Data []byte
	// Codes are the samples in it.
	Codes []string
}

// Lab takes samples by post and answers with a file.
type Lab interface {
	Name() string
	Simulated() bool
	// Report gives the file for those samples that are ready by a day; ok is
	// false when none is.
	Report(ctx context.Context, sent []Sent, today quantity.Day) (r Report, ok bool, err error)
}
