package gardentest

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Ctx is the background context.
var Ctx = context.Background()

// Plant adds a planting through the use case, in addition to or replacing what stands.
func (g *Garden) Plant(id, sown string, together bool) error {
	_, err := g.App.Layout.AddPlanting(Ctx, g.Actor, garden.Planting{BedID: g.Bed.ID, Crop: id, Sown: Day(sown)}, together)
	return err
}

// Plantings returns the bed's plantings as crop, sown and cleared.
func (g *Garden) Plantings() (out []string) {
	rec, err := g.App.BedState.Bed(Ctx, g.Bed.ID, Today)
	require.NoError(g.T, err)
	for _, p := range rec.Plantings {
		out = append(out, p.Crop+" "+p.Sown.String()+" "+p.Cleared.String())
	}
	return out
}

// NewBuffered returns a bed that lime moved by much less than promised, three times.
func NewBuffered(t *testing.T) *Garden {
	g := New(t)
	lime := func(day string) garden.Record {
		return &garden.Application{BedID: g.Bed.ID, Date: Day(day), What: material.CalciticLime, Rate: 300, Total: 2880}
	}
	g.Add(g.Planting("dahlia", "2022-05-15", ""), g.Reading("2022-10-01", soil.Lab, 5.2), lime("2022-11-01"), g.Reading("2023-10-01",
		soil.Lab, 5.5),
		lime("2023-11-01"), g.Reading("2024-10-01", soil.Lab, 5.8), lime("2024-11-01"), g.Reading("2025-10-01", soil.Lab, 6.0))
	return g
}

// Potassium returns the bed's potassium in the view of a day.
func (g *Garden) Potassium(day quantity.Day) soil.PotassiumNow {
	g.T.Helper()
	v, err := g.App.BedState.On(Ctx, Today, day, bedstate.ForecastOutlook{})
	require.NoError(g.T, err)
	p, ok := v.Bed(g.Bed.ID)
	require.True(g.T, ok)
	require.NotNil(g.T, p.K.Now)
	return p.K
}

// Warmed imports soil temperatures off the usual for a number of days up to today.
func (g *Garden) Warmed(off quantity.Temperature, days int) {
	g.T.Helper()
	climate, _ := soil.FindClimate("maritime", soil.North)
	var all []garden.SoilDay
	for n := range days {
		d := g.Actor.Today - quantity.Day(n)
		all = append(all, garden.SoilDay{Day: d, Soil: climate.At(d) + off, Source: "station"})
	}
	n, _, err := g.App.Layout.ImportSoil(Ctx, g.Actor, all)
	require.NoError(g.T, err)
	require.Equal(g.T, days, n)
}
