package gardentest

import (
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/sampling"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/rounds"
)

// Twin adds a second bed like the first.
func (g *Garden) Twin(name string) garden.Bed {
	b := g.Bed
	b.Meta, b.Name, b.X = garden.Meta{}, name, b.X+10
	g.Add(&b)
	return b
}

func (g *Garden) Choice(beds ...int64) rounds.RoundChoice {
	c := rounds.RoundChoice{Beds: map[int64]bool{}, Letters: map[int64]string{}, Corer: sampling.Corer{Diameter: 0.019, Wanted: 500}}
	for _, b := range beds {
		c.Beds[b] = true
	}
	return c
}

func (g *Garden) SetOut(c rounds.RoundChoice) rounds.Walk {
	g.T.Helper()
	id, _, err := g.App.Rounds.StartRound(Ctx, g.Actor, c)
	require.NoError(g.T, err)
	w, err := g.App.Rounds.Walk(Ctx, id)
	require.NoError(g.T, err)
	return w
}

func (g *Garden) LastDose() dosing.Dose {
	g.T.Helper()
	w, err := g.App.Dosing.Dose(Ctx, g.Bed.ID, dosing.Choice{}, Today)
	require.NoError(g.T, err)
	return w
}

// Ask posts a reading and returns the questions.
func (g *Garden) Ask(a garden.Actor, r garden.Reading) garden.Faults {
	g.T.Helper()
	_, err := g.App.Readings.AddReading(Ctx, a, r)
	if err == nil {
		return nil
	}
	var f garden.Faults
	require.ErrorAs(g.T, err, &f)
	return f
}

func (g *Garden) Forecast() outlook.Forecast {
	g.T.Helper()
	s, err := g.App.Outlook.Bed(Ctx, g.Bed.ID, Today)
	require.NoError(g.T, err)
	return s
}
