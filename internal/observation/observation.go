// Package observation records symptoms seen on a bed, optionally with a photograph.
package observation

import (
	"context"
	"io"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/symptom"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/photo"
)

// Service records and lists observations.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		garden.Reader
		// Found returns the measured values of valid readings from a day on; bed 0: of all beds
		// with observations.
		Found(bed int64, from string) ([]garden.Found, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)

// Note records an observation, with its picture; raw is nil where there is none.
func (svc Service) Note(ctx context.Context, a garden.Actor, s garden.Observation, raw io.ReadSeeker) (garden.Receipt, error) {
	s.Note, s.Pictured = strings.TrimSpace(s.Note), raw != nil
	f := garden.Faults{}
	switch {
	case s.Day > a.Today:
		f["day"] = "that day is still to come"
	case garden.DayFault(s.Day) != "":
		f["day"] = garden.DayFault(s.Day)
	}
	if err := f.OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	var small []byte
	if raw != nil {
		var err error
		if small, err = photo.Small(ctx, raw); err != nil {
			return garden.Receipt{}, err
		}
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.Bed](tx, s.BedID)
		if err != nil {
			return "", err
		}
		if err := garden.CheckObservation(&s); err != nil {
			return "", err
		}
		if err := tx.Insert(&s); err != nil {
			return "", err
		}
		if small != nil {
			p := garden.Photo{ObservationID: s.ID, JPEG: garden.Encode(small)}
			if err := garden.CheckPhoto(&p); err != nil {
				return "", err
			}
			if err := tx.Insert(&p); err != nil {
				return "", err
			}
		}
		return "Seen on " + b.Name + ": " + text.Lower(text.SymptomName(s.Sign)), nil
	})
}

// Forget deletes an observation with its picture.
func (svc Service) Forget(ctx context.Context, a garden.Actor, id, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		s, err := garden.Get[garden.Observation](tx, id)
		if err != nil {
			return "", err
		}
		photos, err := garden.Where[garden.Photo](tx, "sight_id", id)
		if err != nil {
			return "", err
		}
		for i := range photos {
			if err := tx.Delete(&photos[i]); err != nil {
				return "", err
			}
		}
		s.Version = version
		return "Deleted: " + text.Lower(text.SymptomName(s.Sign)), tx.Delete(&s)
	})
}

// Observed is an observation with what it asks for.
type Observed struct {
	garden.Observation
	// Open is set until a reading answers it.
	Open bool
}

// OfBed returns a bed's observations up to a day, newest first.
func (svc Service) OfBed(ctx context.Context, bed int64, today quantity.Day) (out []Observed, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		out, err = ofBed(r, bed, today)
		return err
	})
	return out, err
}

func ofBed(r Reader, bed int64, today quantity.Day) (out []Observed, err error) {
	all, err := garden.Where[garden.Observation](r, "bed_id", bed)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	found, err := foundSince(r, bed, today)
	if err != nil {
		return nil, err
	}
	for i := len(all) - 1; i >= 0; i-- {
		if all[i].Day <= today {
			out = append(out, Observed{all[i], open(all[i], found, today)})
		}
	}
	return out, nil
}

// foundSince returns, by bed, the readings since the oldest observation that can still be open; bed
// 0: all beds.
func foundSince(r Reader, bed int64, today quantity.Day) (map[int64][]garden.Found, error) {
	all, err := r.Found(bed, (today - symptom.Fresh).String())
	of := map[int64][]garden.Found{}
	for _, x := range all {
		of[x.BedID] = append(of[x.BedID], x)
	}
	return of, err
}

// open reports whether an observation is still a question.
func open(s garden.Observation, found map[int64][]garden.Found, today quantity.Day) bool {
	x, ok := symptom.Find(s.Sign)
	if !ok || today-s.Day > symptom.Fresh {
		return false
	}
	for _, r := range found[s.BedID] {
		if r.Date <= today && x.Answered(s.Day, r.Date, r.PH, r.Potassium) {
			return false
		}
	}
	return true
}

// Asks returns the beds with open observations, with the newest of each: the questions for the next
// round.
func (svc Service) Asks(ctx context.Context, today quantity.Day) (asks map[int64]garden.Observation, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		asks, err = asksOn(r, today)
		return err
	})
	return asks, err
}

func asksOn(r Reader, today quantity.Day) (map[int64]garden.Observation, error) {
	all, err := garden.All[garden.Observation](r)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	found, err := foundSince(r, 0, today)
	if err != nil {
		return nil, err
	}
	asks := map[int64]garden.Observation{}
	for _, s := range all {
		if s.Day <= today && open(s, found, today) {
			asks[s.BedID] = s
		}
	}
	return asks, nil
}

// Photo returns an observation's picture.
func (svc Service) Photo(ctx context.Context, id int64) (raw []byte, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		p, err := garden.One[garden.Photo](r, "sight_id", id)
		if err != nil {
			return err
		}
		raw, err = p.JPEG.Bytes()
		return err
	})
	return raw, err
}
