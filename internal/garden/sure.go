package garden

import (
	"zephyrfield/agronomy/quantity"
)

// SureField is the field of the token that Actor.Sure must have for the questions at other fields
// to be passed.
const SureField = "sure"

// Ask passes questions that the same post answered; others are returned as faults.
func (a Actor) Ask(questions Faults) error {
	if len(questions) == 0 {
		return nil
	}
	asked := questions.Error()
	if a.Sure == asked {
		return nil
	}
	questions[SureField] = asked
	return questions
}

// What is queried once: a day this long ago, an amount this many times the usual.
const (
	FarBack = quantity.Day(730)
	FarOver = 10
)
