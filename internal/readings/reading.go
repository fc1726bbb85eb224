package readings

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// AddReading adds a reading to a bed and settles the retest that it answers.
func (svc Service) AddReading(ctx context.Context, a garden.Actor, r garden.Reading) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) { return Take(tx, a, r) })
}

// Take adds a reading within a transaction and returns its journal entry.
func Take(tx Tx, a garden.Actor, r garden.Reading) (string, error) {
	if err := askReading(tx, a, r); err != nil {
		return "", err
	}
	b, err := addReading(tx, a, r)
	if err != nil {
		return "", err
	}
	return "Added a reading of " + b.Name + ": " + readingSays(r), nil
}

// Tour adds the readings of one tour of the beds, all or none.
func (svc Service) Tour(ctx context.Context, a garden.Actor, rs []garden.Reading) (garden.Receipt, error) {
	if len(rs) == 0 {
		return garden.Receipt{}, garden.Faults{"tour": "no figure was typed yet"}
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		for _, r := range rs {
			if _, err := Take(tx, a, r); err != nil {
				return "", atBed(r.BedID, err)
			}
		}
		return "Added " + text.Count(len(rs), "reading", "readings") + " of a tour", nil
	})
}

// atBed moves the faults of a tour's reading to its bed; a question stays a question.
func atBed(bed int64, err error) error {
	var f garden.Faults
	if !errors.As(err, &f) || f[garden.SureField] != "" {
		return err
	}
	for _, why := range f {
		return garden.Faults{fmt.Sprintf("bed-%d", bed): why}
	}
	return err
}

func readingSays(r garden.Reading) string {
	if r.PH == nil {
		return "jar fizz"
	}
	return "pH " + text.PH(*r.PH) + " by " + text.Short(r.Method)
}

func addReading(tx Tx, a garden.Actor, r garden.Reading) (b garden.Bed, err error) {
	if b, err = enterReading(tx, a, r); err != nil {
		return b, err
	}
	return b, confirm(tx, a, r)
}

// enterReading adds a reading; the caller checks whether it is surprising.
func enterReading(tx Tx, a garden.Actor, r garden.Reading) (b garden.Bed, err error) {
	if b, err = garden.Get[garden.Bed](tx, r.BedID); err != nil {
		return b, err
	}
	if err := garden.CheckReading(r, a.Today); err != nil {
		return b, err
	}
	if err := tx.Insert(&r); err != nil {
		return b, err
	}
	tasks, err := garden.Where[garden.Task](tx, "bed_id", r.BedID)
	if err != nil {
		return b, err
	}
	for i := range tasks {
		if t := &tasks[i]; t.Kind == garden.TaskRetest && t.State == garden.Open && !confirms(t) && r.PH != nil && answers(r, *t) {
			t.State, t.Settled = garden.Done, a.Today
			if err := tx.Update(t); err != nil {
				return b, err
			}
		}
	}
	return b, answerRests(tx, a, r, tasks)
}

// AddSampleReading adds a mixed sample's reading to every bed of the sample. The round ends when
// its last sample is read.
func (svc Service) AddSampleReading(ctx context.Context, a garden.Actor, code string, r garden.Reading) (garden.Receipt, error) {
	code, _ = splitCode(code)
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		rounds, read := map[int64]bool{}, map[int64]garden.Reading{}
		if err := askSample(tx, a, code, r); err != nil {
			return "", err
		}
		if err := takeLine(tx, a, LabLine{Code: code, Reading: r}, rounds, read); err != nil {
			return "", err
		}
		if err := confirmAll(tx, a, read); err != nil {
			return "", err
		}
		for id := range rounds {
			if err := endRound(tx, id, a.Today); err != nil {
				return "", err
			}
		}
		s, err := garden.One[garden.Sample](tx, "code", code)
		if err != nil {
			return "", err
		}
		in, err := garden.Where[garden.SampleBed](tx, "sample_id", s.ID)
		if err != nil {
			return "", err
		}
		var names []string
		for _, x := range in {
			b, err := garden.Get[garden.Bed](tx, x.BedID)
			if err != nil {
				return "", err
			}
			names = append(names, b.Name)
		}
		return fmt.Sprintf("Added a reading of sample %s, for %s: %s", s.Code, text.List(names), readingSays(r)), nil
	})
}

func endRound(tx Tx, id int64, today quantity.Day) error {
	all, err := garden.Where[garden.Sample](tx, "round_id", id)
	if err != nil {
		return err
	}
	for _, s := range all {
		if s.State != garden.SampleRead {
			return nil
		}
	}
	x, err := garden.Get[garden.Round](tx, id)
	if err != nil {
		return err
	}
	x.Ended = today
	return tx.Update(&x)
}

// Strike strikes a reading out: it stays in the history and is no longer used. A shared sample's is
// struck out for all its beds.
func (svc Service) Strike(ctx context.Context, a garden.Actor, id, version int64, why string) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, names, err := together(tx, id, version)
		if err != nil {
			return "", err
		}
		if err := strike(tx, a, all, why); err != nil {
			return "", err
		}
		held, err := heldBack(tx, all)
		return fmt.Sprintf("Deleted the reading of %s of %s: %s", text.List(names), text.DayYear(all[0].Date),
			readingSays(all[0])) + held, err
	})
}

// heldBack returns the number of held applications of the readings' beds.
func heldBack(r Reader, readings []garden.Reading) (string, error) {
	held, err := r.Held()
	n := 0
	for _, h := range held {
		if slices.ContainsFunc(readings, func(x garden.Reading) bool { return x.BedID == h.BedID }) {
			n++
		}
	}
	if n == 0 || err != nil {
		return "", err
	}
	return ". " + text.Count(n, "application planned from it is", "applications planned from it are") + " held back: plan the dose anew", nil
}

// together returns a valid reading, the equal ones of its mixed sample on other beds, and the names
// of those beds; ErrStale if it is not valid or was changed in the meantime.
func together(r Reader, id, version int64) (all []garden.Reading, names []string, err error) {
	one, err := garden.Get[garden.Reading](r, id)
	if err != nil {
		return nil, nil, err
	}
	if one.Version != version || !one.Stands() {
		return nil, nil, garden.ErrStale
	}
	all = []garden.Reading{one}
	if one.SampleID != nil {
		same, err := garden.Where[garden.Reading](r, "sample_id", *one.SampleID)
		if err != nil {
			return nil, nil, err
		}
		for _, x := range same {
			if x.Stands() && x.Twin(one) && !slices.ContainsFunc(all, func(y garden.Reading) bool { return y.BedID == x.BedID }) {
				all = append(all, x)
			}
		}
	}
	for _, x := range all {
		b, err := garden.Get[garden.Bed](r, x.BedID)
		if err != nil {
			return nil, nil, err
		}
		names = append(names, b.Name)
	}
	return all, names, nil
}

// SharedWith returns the names of the other beds of a mixed sample's reading.
func (svc Service) SharedWith(ctx context.Context, r garden.Reading) (names []string, err error) {
	err = garden.Ask(ctx, svc.Store, func(tx Reader) error {
		_, names, err = together(tx, r.ID, r.Version)
		return err
	})
	if err != nil {
		return nil, err
	}
	return names[1:], nil
}

func strike(tx Tx, a garden.Actor, all []garden.Reading, why string) error {
	for i := range all {
		all[i].Struck, all[i].StruckWhy = a.Today, strings.TrimSpace(why)
		if err := tx.Update(&all[i]); err != nil {
			return err
		}
		if err := reopenRests(tx, all[i]); err != nil {
			return err
		}
		if err := confirm(tx, a, all[i]); err != nil {
			return err
		}
	}
	return nil
}

// ReplaceReading replaces a reading, which stays in the history as struck out; a shared sample's on
// all its beds.
func (svc Service) ReplaceReading(ctx context.Context, a garden.Actor, id, version int64, r garden.Reading) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, names, err := together(tx, id, version)
		if err != nil {
			return "", err
		}
		if err := strike(tx, a, all, "Corrected on "+text.DayYear(a.Today)+"."); err != nil {
			return "", err
		}
		for _, was := range all {
			x := r
			x.BedID, x.SampleID = was.BedID, was.SampleID
			if _, err := addReading(tx, a, x); err != nil {
				return "", err
			}
		}
		held, err := heldBack(tx, all)
		return "Corrected a reading of " + text.List(names) + ": " + readingSays(r) + " instead of " + readingSays(all[0]) + held, err
	})
}

// early is how long before its day a retest can be answered.
const early quantity.Day = 28

func answers(r garden.Reading, t garden.Task) bool { return r.Date >= t.Due-early }

// Standing returns the reading that replaced another, or itself if it is still valid; ok is false
// if it was struck out without replacement.
func (svc Service) Standing(ctx context.Context, id int64) (x garden.Reading, ok bool, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		for {
			if x, err = garden.Get[garden.Reading](r, id); err != nil || x.Stands() {
				ok = err == nil
				return err
			}
			next, err := r.PutInPlaceOf(x.BedID, id)
			if err != nil || next <= id { // replacements have rising numbers
				return err
			}
			id = next
		}
	})
	return x, ok, err
}

// Reading returns a reading by its number.
func (svc Service) Reading(ctx context.Context, id int64) (x garden.Reading, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { x, err = garden.Get[garden.Reading](r, id); return err })
	return x, err
}

// Newest returns the last valid readings up to a day, and the samples that wait to be read.
func (svc Service) Newest(ctx context.Context, upTo quantity.Day, n int) (last []garden.Reading, waiting []garden.Waiting, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if last, err = r.ReadingsFrom(upTo.String(), n); err != nil {
			return err
		}
		waiting, err = r.SamplesWaiting()
		return err
	})
	return last, waiting, err
}
