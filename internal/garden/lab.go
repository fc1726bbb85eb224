package garden

import (
	"context"
	"fmt"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// LabLine is a line of a lab's file: a reading of a bed, or of the sample whose
// code is given.
type LabLine struct {
	Line    int
	Code    string
	Reading Reading
	// Layer is the layer of the sample that it is of; nil for the whole.
	Layer *sampling.Stretch
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

// ReadingKey is what tells one reading from another.
type ReadingKey struct {
	BedID  int64        `db:"bed_id"`
	Code   string       `db:"code"`
	Date   quantity.Day `db:"date"`
	Method soil.Method  `db:"method"`
	Basis  soil.Basis   `db:"basis"`
	PH     *quantity.PH `db:"ph"`
}

func (k ReadingKey) text(byCode bool) string {
	whose := fmt.Sprint(k.BedID)
	if byCode {
		whose = k.Code
	}
	ph := ""
	if k.PH != nil {
		ph = fmt.Sprintf("%.2f", float64(*k.PH))
	}
	return strings.Join([]string{whose, k.Date.String(), string(k.Method), string(k.Basis), ph}, " ")
}

// There counts the lines whose reading stands in the garden already.
func (k Keeper) There(ctx context.Context, lines []LabLine) (n int, err error) {
	if len(lines) == 0 {
		return 0, nil
	}
	from, to := lines[0].Reading.Date, lines[0].Reading.Date
	for _, l := range lines {
		from, to = min(from, l.Reading.Date), max(to, l.Reading.Date)
	}
	var keys []ReadingKey
	err = k.Store.Read(ctx, func(r Reader) error { keys, err = r.ReadingKeys(from.String(), to.String()); return err })
	if err != nil {
		return 0, err
	}
	there := make(map[string]bool, 2*len(keys))
	for _, x := range keys {
		there[x.text(false)] = true
		if x.Code != "" {
			there[x.text(true)] = true
		}
	}
	for _, l := range lines {
		r := l.Reading
		if there[ReadingKey{r.BedID, l.Code, r.Date, r.Method, r.Basis, r.PH}.text(l.Code != "")] {
			n++
		}
	}
	return n, nil
}
