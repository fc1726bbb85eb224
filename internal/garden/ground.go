package garden

import (
	"context"
	"fmt"
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/soil"
)

// CheckPlace says what is wrong with a place, by field.
func CheckPlace(g Garden) error {
	f := Faults{}
	if why := nameFault(g.Name, "give the garden a name"); why != "" {
		f["name"] = why
	}
	if _, ok := soil.FindClimate(g.Climate, g.Hemisphere); !ok {
		f["climate"] = "choose the climate that is nearest"
	}
	if g.Hemisphere != soil.North && g.Hemisphere != soil.South {
		f["hemisphere"] = "choose north or south"
	}
	if g.SoilTable != soil.CoolTable && g.SoilTable != soil.WarmTable {
		f["table"] = "choose cool or warm"
	}
	for i := range dose.Questions {
		q, schools := &dose.Questions[i], g.Schools()
		if !slices.Contains(q.Habits, q.Of(&schools)) {
			f[q.Name] = "choose a school"
		}
	}
	if n := len(g.SoilTemps); n != 0 && n != 12 {
		f["temps"] = "fill in all twelve months, or none"
	}
	for m, t := range g.SoilTemps {
		if !LimitSoilTemp.Holds(float64(t)) {
			f["temps"] = fmt.Sprintf("month %d: %s", m+1, LimitSoilTemp.Says())
		}
	}
	checkHabits(g, f)
	return f.OrNil()
}

// Place reads the garden itself.
func (k Keeper) Place(ctx context.Context) (g Garden, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { g, err = r.Garden(); return err })
	return g, err
}
