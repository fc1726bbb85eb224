package rounds

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Walk is a round with its records.
type Walk struct {
	Garden  garden.Garden
	Round   garden.Round
	Samples []garden.Sample
	// Beds are the stops in order; Ground are their beds.
	Beds   []garden.SampleBed
	Ground map[int64]garden.Bed
	Taken  map[int64]map[int]garden.Core
}

// Sample returns one of the round's samples.
func (w Walk) Sample(id int64) garden.Sample {
	for _, s := range w.Samples {
		if s.ID == id {
			return s
		}
	}
	return garden.Sample{}
}

// Corer returns a sample's tool.
func (w Walk) Corer(s garden.Sample) quantity.Depth { return cmp.Or(s.Corer, w.Round.Corer) }

// Left returns how many cores of a sample are still to be taken; 0 for all samples.
func (w Walk) Left(sample int64) int {
	n := 0
	for _, b := range w.Beds {
		if sample == 0 || b.SampleID == sample {
			n += b.Cores - len(w.Taken[b.ID])
		}
	}
	return n
}

// Walk returns a round.
func (svc Service) Walk(ctx context.Context, round int64) (w Walk, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		w, err = walk(r, round)
		return err
	})
	return w, err
}

func walk(r Reader, round int64) (w Walk, err error) {
	if w.Garden, err = r.Garden(); err != nil {
		return w, err
	}
	if w.Round, err = garden.Get[garden.Round](r, round); err != nil {
		return w, err
	}
	if w.Samples, err = garden.Where[garden.Sample](r, "round_id", round); err != nil {
		return w, err
	}
	if w.Beds, err = r.SampleBedsOf(round); err != nil {
		return w, err
	}
	cores, err := r.CoresOf(round)
	if err != nil {
		return w, err
	}
	w.Taken = map[int64]map[int]garden.Core{}
	for _, c := range cores {
		if w.Taken[c.SampleBedID] == nil {
			w.Taken[c.SampleBedID] = map[int]garden.Core{}
		}
		w.Taken[c.SampleBedID][c.N] = c
	}
	w.Ground, err = groundIn(r)
	return w, err
}

// groundIn returns all beds ever, by number.
func groundIn(r Reader) (map[int64]garden.Bed, error) {
	beds, err := garden.All[garden.Bed](r)
	out := make(map[int64]garden.Bed, len(beds))
	for _, b := range beds {
		out[b.ID] = b
	}
	return out, err
}

// Rounds returns the rounds, newest first.
func (svc Service) Rounds(ctx context.Context) (rs []garden.Round, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		rs, err = garden.All[garden.Round](r)
		return err
	})
	return rs, err
}

// Tick records that the cores of a stop were taken, at the time reported by the phone, which may
// have been offline since. Repeated reports count once.
func (svc Service) Tick(ctx context.Context, a garden.Actor, sampleBed int64, stop int, at time.Time) (garden.Receipt, error) {
	if at.After(a.At.Add(time.Hour)) || at.IsZero() {
		at = a.At // a clock ahead of ours
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.SampleBed](tx, sampleBed)
		if err != nil {
			return "", err
		}
		if stop < 1 || stop > b.StopCount() {
			return "", garden.Faults{"core": fmt.Sprintf("this bed has %s", text.Count(b.StopCount(), "stop", "stops"))}
		}
		s, err := garden.Get[garden.Sample](tx, b.SampleID)
		if err != nil {
			return "", err
		}
		w, err := walk(tx, s.RoundID)
		if err != nil {
			return "", err
		}
		from, to := b.CoresAt(stop)
		what := fmt.Sprintf("Core %d of %s, sample %s", from, w.Ground[b.BedID].Name, s.Code)
		if to > from {
			what = fmt.Sprintf("Cores %d to %d of %s, sample %s", from, to, w.Ground[b.BedID].Name, s.Code)
		}
		taken := 0
		for core := from; core <= to; core++ {
			if _, ok := w.Taken[b.ID][core]; ok {
				continue
			}
			if err := tx.Insert(&garden.Core{SampleBedID: b.ID, N: core, At: at.UTC().Format(time.RFC3339)}); err != nil {
				return "", err
			}
			taken++
		}
		switch {
		case taken == 0:
			return what + ", told again", nil
		case w.Left(s.ID) == taken && s.State == garden.SamplePlanned:
			s.State, s.Taken = garden.SampleTaken, a.Today
			what += "; the sample is complete"
			return what, tx.Update(&s)
		}
		return what, nil
	})
}

// NoteOddity saves an oddity of a bed in a round.
func (svc Service) NoteOddity(ctx context.Context, a garden.Actor, sampleBed int64, note string) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.SampleBed](tx, sampleBed)
		if err != nil {
			return "", err
		}
		bed, err := garden.Get[garden.Bed](tx, b.BedID)
		if err != nil {
			return "", err
		}
		b.Note = strings.TrimSpace(note)
		if why := garden.TextFault(b.Note, garden.LongestNote, true); why != "" {
			return "", garden.Faults{"note": why}
		}
		return "Noted of " + bed.Name + ": " + b.Note, tx.Update(&b)
	})
}

// sampleSteps are the states of a sample, each with its wording.
var sampleSteps = []struct{ state, says string }{{garden.SamplePlanned, "planned"}, {garden.SampleTaken, "taken"},
	{garden.SampleAtLab, "at the lab"}, {garden.SampleRead, "read"}}

// MoveSample records that a sample was taken or sent to the lab.
func (svc Service) MoveSample(ctx context.Context, a garden.Actor, id, version int64, state string) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		s, err := garden.Get[garden.Sample](tx, id)
		if err != nil {
			return "", err
		}
		s.Version = version
		switch state {
		case garden.SampleTaken:
			s.Taken = a.Today
		case garden.SampleAtLab:
			s.Sent = a.Today
			if s.Taken == 0 {
				s.Taken = a.Today
			}
		default:
			return "", garden.Faults{"state": "taken or at the lab is meant"}
		}
		s.State = state
		i := slices.IndexFunc(sampleSteps, func(x struct{ state, says string }) bool { return x.state == state })
		return "Sample " + s.Code + " is " + sampleSteps[i].says, tx.Update(&s)
	})
}
