package readings_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

// A reading answers a planned retest from 28 days before its day on.
func TestEarlyReadingAnswersRetest(t *testing.T) {
	for early, want := range map[quantity.Day]string{0: garden.Done, 28: garden.Done, 29: garden.Open, 60: garden.Open} {
		g := gardentest.New(t)
		g.Add(g.Planting("dahlia", "2027-05-15", ""), g.Reading("2026-11-12", soil.Lab, 5.7))
		require.NoError(t, g.PlanChoice("plan", g.FirstKey(), dosing.Choice{Pace: dose.AllAtOnce}))
		tasks := g.OpenTasks()
		retest := tasks[len(tasks)-1]
		require.Equal(t, garden.TaskRetest, retest.Kind)
		actor := g.On(retest.Due - early)
		actor.Sure = "yes"
		_, err := g.App.Readings.AddReading(gardentest.Ctx, actor, *g.Reading(actor.Today.String(), soil.Lab, 5.7))
		require.NoError(t, err, "%d days early", early)
		state := ""
		for _, x := range g.RecordOn(actor.Today).Tasks {
			if x.ID == retest.ID {
				state = x.State
			}
		}
		assert.Equal(t, want, state, "%d days early", early)
	}
}
