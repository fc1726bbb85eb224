package dosing

import (
	"context"
	"fmt"
	"slices"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// SideDressingChoice is a requested side dressing: its ash, "" for the first, and its plants.
type SideDressingChoice struct {
	Key string
	dose.Ring
}

// SideDressing is a computed side dressing.
type SideDressing struct {
	Dose
	// Ashes are the ashes to choose from, by their indexes in the request; Key is the chosen one,
	// At its index, -1 for none.
	Ashes    []int
	Key      string
	At       int
	Dressing dose.SideDressing
}

// Stock returns the batch of the ash; nil if none was chosen.
func (s *SideDressing) Stock() *garden.Stock {
	if s.At < 0 {
		return nil
	}
	return s.Shelf[s.At]
}

// SideDress computes how much ash may be applied around the plants of a bed today.
func (svc Service) SideDress(ctx context.Context, bed int64, c SideDressingChoice, today quantity.Day) (s SideDressing, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { s, err = siding(r, bed, c, today); return err })
	return s, err
}

func siding(r Reader, bed int64, c SideDressingChoice, today quantity.Day) (s SideDressing, err error) {
	s.At = -1
	if s.Dose, err = worked(r, bed, Choice{}, today); err != nil {
		return s, err
	}
	for i := range s.Request.Materials {
		if s.Request.Materials[i].Family != material.Ash || s.Shelf[i] == nil {
			continue // ash of unknown source
		}
		s.Ashes = append(s.Ashes, i)
		if key := s.MaterialKey(i); key == c.Key || c.Key == "" && s.At < 0 {
			s.Key, s.At = key, i
		}
	}
	if s.At < 0 {
		return s, garden.Faults{"ash": askAshFirst}
	}
	// A dose for potassium alone counts too: ash brings potassium.
	if slices.ContainsFunc(s.Record.Tasks, func(t garden.Task) bool {
		return t.State == garden.Open && t.Kind == garden.TaskApplication && t.PlanID != nil
	}) {
		return s, garden.Faults{"bed": "a dose is planned for this bed: its applications come first, and what they leave may go round " +
			"the plants"}
	}
	q := s.Request
	if q.Crop, q.With = s.stands(); q.Crop == nil {
		return s, garden.Faults{"bed": "nothing stands there: bare ground is for the dose"}
	}
	q.Materials = slices.Clone(q.Materials[s.At : s.At+1])
	s.Dressing, err = dose.SideDress(q, c.Ring)
	return s, garden.FaultOf(err)
}

// stands returns the standing crops, which ash around plants is judged by, whatever comes next.
func (s *SideDressing) stands() (first *crop.Crop, with []crop.Crop) {
	for _, p := range s.Dose.Record.State.Now {
		c, ok := s.Dose.Record.Library.Find(p.Crop)
		switch {
		case !ok:
		case first == nil:
			first = &c
		default:
			with = append(with, c)
		}
	}
	return first, with
}

// ApplySideDressing records it as applied: in the log, in the bed's history, and out of the bin.
func (svc Service) ApplySideDressing(ctx context.Context, a garden.Actor, bed int64, c SideDressingChoice) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		s, err := siding(tx, bed, c, a.Today)
		if err != nil {
			return "", err
		}
		if !s.Dressing.May() {
			return "", garden.Faults{"ash": "no ash round them today"}
		}
		b := &s.Request.Materials[s.At]
		x := garden.Application{BedID: bed, Date: a.Today, What: b.Kind, Rate: s.Dressing.Rate, Total: s.Dressing.Total,
			Told: fmt.Sprintf("%s round each of %s", text.Mass(s.Dressing.Each), text.Count(c.Plants, "plant", "plants"))}
		stock := s.Stock()
		x.BatchID = &stock.ID
		x.From(stock.Batch)
		if err := tx.Insert(&x); err != nil {
			return "", err
		}
		out := garden.Movement{BatchID: stock.ID, Date: x.Date, Kind: garden.MovedOut, Amount: x.Total, ApplicationID: &x.ID}
		if err := tx.Insert(&out); err != nil {
			return "", err
		}
		return fmt.Sprintf("Put %s of ash round %s on %s", s.Garden.Units().Mass(x.Total), text.Count(c.Plants, "plant", "plants"),
			s.Dose.Record.Bed.Name), nil
	})
}
