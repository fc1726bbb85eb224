package garden_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// A done task tells what went on; one that is still to do, or was skipped, what is planned.
func TestTaskAsPut(t *testing.T) {
	task, other := int64(3), int64(4)
	put := []garden.Application{{TaskID: &other, What: material.Urea, Total: 10}, {TaskID: nil, Total: 20},
		{TaskID: &task, What: material.DolomiticLime, Total: 1400, Rate: 140}}
	planned := garden.Task{Kind: garden.TaskApplication, What: material.CalciticLime, Total: 2000, Rate: 200}
	planned.ID = task
	for state, want := range map[string]quantity.Mass{garden.Open: 2000, garden.Skipped: 2000, garden.Done: 1400} {
		planned.State = state
		assert.Equal(t, want, planned.AsPut(put).Total, state)
	}
	went := planned
	went.State = garden.Done
	went = went.AsPut(put)
	assert.Equal(t, material.DolomiticLime, went.What)
	assert.InDelta(t, 140, float64(went.Rate), 1e-9)
	unnoted := went
	unnoted.ID = 9
	assert.Equal(t, unnoted, unnoted.AsPut(put), "nothing was noted of it")
}
