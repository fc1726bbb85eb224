// Package onboarding sets up an empty garden in three steps: the place, a bed, and a first reading
// with the materials at hand, ending on a first dose.
package onboarding

import (
	"context"
	"fmt"
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/readings"
)

// Service sets up an empty garden.
type Service struct{ Store garden.Store }

// Tx is the set of queries and changes that this package needs of a store.
type Tx interface{ readings.Tx }

// Have is a material that a beginner may have at hand.
type Have struct {
	ID, Name string
	kind     material.Kind
	// bag is the content of a bag; 0 if it comes by the bucket.
	bag quantity.Mass
}

// Haves are the materials most gardeners have, the usual one first.
var Haves = []Have{
	{"lime", "Garden lime", material.CalciticLime, 20_000},
	{"ash", "Wood ash", material.UnknownAsh, 0},
}

// Bagged reports whether it comes in bags.
func (h *Have) Bagged() bool { return h.bag > 0 }

// Bag returns a bag's content in a unit.
func (h *Have) Bag(in text.Scale) quantity.Mass { return quantity.Mass(in.Handy(float64(h.bag))) }

// Ash reports whether it is ash, whose source must be asked for.
func (h *Have) Ash() bool { return h.kind == material.UnknownAsh }

// batch returns it as a batch. Ash that is not surely clean wood, and cold, is barred.
func (h *Have) batch(clean bool, in text.Scale) garden.Batch {
	b := garden.Batch{Name: h.Name, Kind: h.kind}
	amount := h.Bag(in)
	if h.Bagged() {
		b.Bag = &amount
	} else {
		m, _ := material.Find(h.kind)
		amount = material.PailLitres * m.Loose().Litre
	}
	b.OnHand = &amount
	if h.Ash() {
		b.Condition, b.Source = material.Dry, material.UnknownFire
		if clean {
			b.Source = material.Clean
		}
	}
	return b
}

// First adds the first reading and the materials at hand, all or nothing.
func (svc Service) First(ctx context.Context, a garden.Actor, r garden.Reading, have []Have, clean bool) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		says, err := readings.Take(tx, a, r)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		there, err := garden.All[garden.Batch](tx)
		if err != nil {
			return "", err
		}
		for i := range have {
			named := func(b garden.Batch) bool { return b.Name == have[i].Name && b.Gone == 0 }
			if at := slices.IndexFunc(there, named); at >= 0 { // a repeated start: it is already in stock
				if err := stricter(tx, &there[at], have[i].Ash() && !clean); err != nil {
					return "", err
				}
				continue
			}
			b := have[i].batch(clean, g.Units().Weights())
			if err := garden.CheckBatch(b); err != nil {
				return "", err
			}
			if err := tx.Insert(&b); err != nil {
				return "", err
			}
			says += fmt.Sprintf("; %s stands in the shed", text.Lower(b.Name))
		}
		return says, nil
	})
}

// stricter bars a bin of ash that was entered as clean wood and is not sure any more. Only the shed
// can unbar it.
func stricter(tx Tx, b *garden.Batch, unsure bool) error {
	if !unsure || b.Source != material.Clean {
		return nil
	}
	b.Source = material.UnknownFire
	return tx.Update(b)
}

// When is how soon a crop is sown or planted.
type When string

// The answers.
const (
	Grows  When = "grows"
	Soon   When = "soon"
	Spring When = "spring"
	Autumn When = "autumn"
)

// Whens lists them.
var Whens = []When{Grows, Soon, Autumn, Spring}

// How soon Soon is, and the distance of Spring and Autumn where there is no frost.
const (
	soonDays  quantity.Day = 21
	laterDays quantity.Day = 28
	// sameSeason is how long after its day a season of sowing is still meant.
	sameSeason quantity.Day = 60
	// autumnBefore is how long before the first frost an autumn crop is sown.
	autumnBefore quantity.Day = 42
)

// Sown returns the assumed day of sowing: a standing crop counts as sown today, which is strictest
// on ash and lime; spring is the next usual last frost, autumn autumnBefore the next usual first one.
func (w When) Sown(weather soil.Weather, today quantity.Day) quantity.Day {
	switch w {
	case Soon:
		return today + soonDays
	case Spring:
		return next(weather.LastFrost, 0, today)
	case Autumn:
		return next(weather.FirstFrost, autumnBefore, today)
	}
	return today
}

// next returns the next day that lies so long before a usual frost; soonDays ahead for a while after
// it, since the same season is meant then, and a nearer sowing is the stricter one; laterDays ahead
// where there is no frost.
func next(frost soil.MonthDay, before, today quantity.Day) quantity.Day {
	if frost.Month == 0 {
		return today + laterDays
	}
	for y := today.Year(); ; y++ {
		switch d := quantity.Date(y, frost.Month, frost.Day) - before; {
		case d >= today:
			return d
		case today-d <= sameSeason:
			return today + soonDays
		}
	}
}
