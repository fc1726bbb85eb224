package readings

import (
	"context"
	"fmt"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// LabLine is a line of a lab's file: a reading of a bed, or of the sample with a code.
type LabLine struct {
	Line    int
	Code    string
	Reading garden.Reading
	// Layer is the sample's layer; nil for the whole.
	Layer *sampling.Stretch
	// closes is the sample that it is the reading of; 0 for none.
	closes int64
}

// ImportLab imports a lab's file, all lines or none, as one change. progress is called after each
// line; it may be nil.
func (svc Service) ImportLab(ctx context.Context, a garden.Actor, name string, lines []LabLine, progress func(done int)) (garden.Receipt,
	error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		rounds, read := map[int64]bool{}, map[int64]garden.Reading{}
		lines, err := byTheirSamples(tx, lines)
		if err != nil {
			return "", err
		}
		for i, l := range lines {
			if err := takeLine(tx, a, l, rounds, read); err != nil {
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
		if err := confirmAll(tx, a, read); err != nil {
			return "", err
		}
		return fmt.Sprintf("Imported %s: %s", name, text.Count(len(lines), "reading", "readings")), nil
	})
}

// sampledBefore is how long before its sample was taken a reading may be dated.
const sampledBefore quantity.Day = 7

// byTheirSamples assigns the waiting samples to lines that name only beds, so that a file closes
// its round: a sample of several beds if each of them has a line.
func byTheirSamples(tx Tx, lines []LabLine) ([]LabLine, error) {
	at := map[int64]int{}
	for i, l := range lines {
		if l.Code == "" {
			at[l.Reading.BedID] = i
		}
	}
	if len(at) == 0 {
		return lines, nil
	}
	waiting, err := tx.SamplesWaiting()
	if err != nil {
		return nil, err
	}
	out := slices.Clone(lines)
	for _, w := range waiting {
		s, err := garden.One[garden.Sample](tx, "code", w.Code)
		if err != nil {
			return nil, err
		}
		round, err := garden.Get[garden.Round](tx, s.RoundID)
		if err != nil {
			return nil, err
		}
		beds, err := garden.Where[garden.SampleBed](tx, "sample_id", s.ID)
		if err != nil {
			return nil, err
		}
		all := !round.Layered && len(beds) > 0
		for _, b := range beds {
			i, ok := at[b.BedID]
			all = all && ok && lines[i].Reading.Date >= s.Taken-sampledBefore
		}
		if !all {
			continue
		}
		first := &out[at[beds[0].BedID]]
		first.closes = s.ID
		if len(beds) == 1 { // with several beds, each line is a reading of its own
			first.Reading.SampleID = &s.ID
		}
	}
	return out, nil
}

// takeLine imports a line; rounds and read collect the rounds and beds concerned.
func takeLine(tx Tx, a garden.Actor, l LabLine, rounds map[int64]bool, read map[int64]garden.Reading) error {
	if l.Code == "" {
		read[l.Reading.BedID] = l.Reading
		if _, err := enterReading(tx, a, l.Reading); err != nil || l.closes == 0 {
			return err
		}
		s, err := garden.Get[garden.Sample](tx, l.closes)
		if err != nil {
			return err
		}
		return readNow(tx, a, s, l.Reading.Date, rounds)
	}
	s, err := garden.One[garden.Sample](tx, "code", l.Code)
	if err != nil {
		return err
	}
	beds, err := garden.Where[garden.SampleBed](tx, "sample_id", s.ID)
	if err != nil {
		return err
	}
	for _, b := range beds {
		r := l.Reading
		r.BedID, r.SampleID = b.BedID, &s.ID
		read[r.BedID] = r
		if _, err := enterReading(tx, a, r); err != nil {
			return err
		}
	}
	return readNow(tx, a, s, l.Reading.Date, rounds)
}

// readNow marks a sample as read, and its round as finished if it was the last.
func readNow(tx Tx, a garden.Actor, s garden.Sample, taken quantity.Day, rounds map[int64]bool) error {
	if s.State == garden.SampleRead {
		return nil
	}
	s.State, s.Read, rounds[s.RoundID] = garden.SampleRead, a.Today, true
	if s.Taken == 0 {
		s.Taken = taken
	}
	return tx.Update(&s)
}

// There returns how many lines' readings are already in the garden.
func (svc Service) There(ctx context.Context, lines []LabLine) (n int, err error) {
	if len(lines) == 0 {
		return 0, nil
	}
	from, to := lines[0].Reading.Date, lines[0].Reading.Date
	for _, l := range lines {
		from, to = min(from, l.Reading.Date), max(to, l.Reading.Date)
	}
	var keys []garden.ReadingKey
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { keys, err = r.ReadingKeys(from.String(), to.String()); return err })
	if err != nil {
		return 0, err
	}
	there := make(map[string]bool, 2*len(keys))
	for _, x := range keys {
		there[x.Text(false)] = true
		if x.Code != "" {
			there[x.Text(true)] = true
		}
	}
	for _, l := range lines {
		r := l.Reading
		if there[garden.ReadingKey{BedID: r.BedID, Code: l.Code, Date: r.Date, Method: r.Method, Basis: r.Basis,
			PH: r.PH}.Text(l.Code != "")] {
			n++
		}
	}
	return n, nil
}
