// Package onboarding sets an empty garden up in three steps: the place, a bed, and a first
// reading with what is at hand, ending on a first dose.
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

// Service sets an empty garden up.
type Service struct{ Store garden.Store }

// Tx is what the store is asked here.
type Tx interface{ readings.Tx }

// Have is something that a beginner may have at hand.
type Have struct {
	ID, Name string
	kind     material.Kind
	// bag is what a bag of it holds; 0 where it is kept by the bucket.
	bag quantity.Mass
}

// Haves are what most gardeners have, the usual one first.
var Haves = []Have{
	{"lime", "Garden lime", material.CalciticLime, 20_000},
	{"ash", "Wood ash", material.UnknownAsh, 0},
}

// Bagged reports whether it comes in bags.
func (h *Have) Bagged() bool { return h.bag > 0 }

// Bag returns what a bag holds where weights are read so.
func (h *Have) Bag(in text.Scale) quantity.Mass { return quantity.Mass(in.Handy(float64(h.bag))) }

// Ash reports whether it is ash, of which must be told what was burnt.
func (h *Have) Ash() bool { return h.kind == material.UnknownAsh }

// batch is it on the shelf. Ash of which nobody can tell that it was clean wood, and cold,
// goes on no bed.
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

// First takes the first reading in, with what is at hand: all of it, or nothing.
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
			if at := slices.IndexFunc(there, named); at >= 0 { // begun again: it stands there already
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

// stricter keeps a bin of ash off the beds, of which clean wood was reported before and is not
// sure any more. What is barred is let on in the shed alone.
func stricter(tx Tx, b *garden.Batch, unsure bool) error {
	if !unsure || b.Source != material.Clean {
		return nil
	}
	b.Source = material.UnknownFire
	return tx.Update(b)
}

// When is how soon a crop goes in.
type When string

// Answers to when it is sown or planted.
const (
	Grows When = "grows"
	Soon  When = "soon"
	Later When = "later"
)

// Whens lists them.
var Whens = []When{Grows, Soon, Later}

// How soon Soon is, and the least that Later is away.
const (
	soonDays  quantity.Day = 21
	laterDays quantity.Day = 28
)

// Sown returns the day that a crop is computed to go in: what grows there now counts as sown today,
// which is the strictest on ash and lime; later is the next usual last frost.
func (w When) Sown(weather soil.Weather, today quantity.Day) quantity.Day {
	switch w {
	case Soon:
		return today + soonDays
	case Later:
		frost := weather.LastFrost
		if frost.Month == 0 { // none to wait for
			return today + laterDays
		}
		for y := today.Year(); ; y++ {
			if d := quantity.Date(y, frost.Month, frost.Day); d >= today+laterDays {
				return d
			}
		}
	}
	return today
}
