package garden

import (
	"zephyrfield/agronomy/quantity"
)

// SureField holds, beside the questions at their fields, what Act.Sure must say for
// them to be passed over.
const SureField = "sure"

// Ask passes questions that were asked before and answered by the same post
// again; others are asked.
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

// What is far off is asked about once: a day this long ago, an amount this many
// times the usual.
const (
	FarBack = quantity.Day(730)
	FarOver = 10
)
