package garden

import (
	"context"
	"fmt"

	"zephyrfield/agronomy/words"
)

// LabLine is a line of a lab's file: a reading of a bed, or of the sample whose
// code is given.
type LabLine struct {
	Line    int
	Code    string
	Reading Reading
}

// TakeLab takes a lab's file in: all of its lines or none, as one change.
// progress is told after each line; it may be nil.
func (k Keeper) TakeLab(ctx context.Context, a Act, name string, lines []LabLine, progress func(done int)) (Receipt, error) {
	return k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		rounds := map[int64]bool{}
		for i, l := range lines {
			if err := takeLine(tx, a, l, rounds); err != nil {
				return "", fmt.Errorf("line %d: %w", l.Line, err)
			}
			if progress != nil {
				progress(i + 1)
			}
		}
		for id := range rounds {
			if err := endRound(tx, id, a.Today); err != nil {
				return "", err
			}
		}
		return fmt.Sprintf("Took in %s: %s", name, words.Count(len(lines), "reading", "readings")), nil
	})
}

func takeLine(tx Tx, a Act, l LabLine, rounds map[int64]bool) error {
	if l.Code == "" {
		_, err := addReading(tx, a, l.Reading)
		return err
	}
	s, err := tx.SampleByCode(l.Code)
	if err != nil {
		return err
	}
	beds, err := tx.BedsOfSample(s.ID)
	if err != nil {
		return err
	}
	for _, b := range beds {
		r := l.Reading
		r.BedID, r.SampleID = b.BedID, &s.ID
		if _, err := addReading(tx, a, r); err != nil {
			return err
		}
	}
	if s.State == SampleRead {
		return nil
	}
	s.State, s.Read, rounds[s.RoundID] = SampleRead, a.Today, true
	if s.Taken == 0 {
		s.Taken = l.Reading.Date
	}
	return tx.Update(&s)
}
