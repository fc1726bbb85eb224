// Package instrument defines the interfaces of outside devices and services: a pH probe, a lab, the
// weather. Each has a simulated, seeded stand-in that ships and is marked as such.
package instrument

import (
	"context"
	"errors"

	"zephyrfield/agronomy/quantity"
)

// Shown is what a probe shows at one time.
type Shown struct {
	PH quantity.PH
	// Temperature is the slurry's; HasTemperature is false if the probe does not report it.
	Temperature    quantity.Temperature
	HasTemperature bool
}

// Probe is a pH probe.
type Probe interface {
	// Name returns its name; Simulated reports whether it is a stand-in.
	Name() string
	Simulated() bool
	// Read returns what it shows now.
	Read(ctx context.Context, in In) (Shown, error)
}

// In is the sample that a probe is in. A real probe ignores it; a stand-in computes its figures
// from it.
type In struct {
	// Bottle is a buffer's pH; 0 for a slurry of the bed.
	Bottle quantity.PH
	Bed    int64
	// Truth is the bed's estimated pH.
	Truth quantity.PH
	// N counts the readings of one session.
	N int
}

// ErrNoReading is returned when a probe has shown nothing recently.
var ErrNoReading = errors.New("the probe has shown nothing in the last ten seconds")

// Sent is a sample sent to a lab.
type Sent struct {
	Code string
	On   quantity.Day
	// PH and Potassium are the estimates that a stand-in starts from.
	PH        quantity.PH
	Potassium quantity.Concentration
}

// Report is a lab's result file.
type Report struct {
	Name string
	Data []byte
	// Codes are the samples in it.
	Codes []string
}

// Lab receives samples by post and answers with a file.
type Lab interface {
	Name() string
	Simulated() bool
	// Report returns the file for the samples ready by a day; ok is false if none is.
	Report(ctx context.Context, sent []Sent, today quantity.Day) (r Report, ok bool, err error)
}
