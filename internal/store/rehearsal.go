package store

import (
	"context"
	"errors"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// rehearsalSetting keeps the day to which a rehearsal's calendar has come.
const rehearsalSetting = "rehearsal day"

// ErrNoRehearsal is returned where a garden that is none is to be run as a rehearsal.
var ErrNoRehearsal = errors.New("this garden was not made as a rehearsal and is never run as one; name a new file")

// Rehearsal is the day to which a rehearsal's calendar has come; no day where the garden is no rehearsal.
func (s *Store) Rehearsal(ctx context.Context) (day quantity.Day, err error) {
	var text string
	err = s.look(ctx, func(r reader) error { return r.one(&text, "SELECT value FROM settings WHERE name=?", rehearsalSetting) })
	if errors.Is(err, garden.ErrMissing) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	return quantity.ParseDay(text)
}

// BeginRehearsal makes a new garden a rehearsal for good, with a calendar that starts on a day. It is no change that could be taken
// back. A garden that has anything in it is refused with ErrNoRehearsal.
func (s *Store) BeginRehearsal(ctx context.Context, day quantity.Day) error {
	fresh := false
	err := s.Read(ctx, func(r garden.Reader) error {
		empty, err := r.Empty()
		if err != nil {
			return err
		}
		lines, err := r.Journal(0, 1)
		fresh = empty && len(lines) == 0
		return err
	})
	if err != nil {
		return err
	}
	if !fresh {
		return ErrNoRehearsal
	}
	if _, err := s.write.ExecContext(ctx, "UPDATE garden SET rehearsal=1"); err != nil {
		return told(err)
	}
	return s.SetRehearsal(ctx, day)
}

// SetRehearsal keeps the day to which a rehearsal's calendar has come.
func (s *Store) SetRehearsal(ctx context.Context, day quantity.Day) error {
	const set = "INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value=excluded.value"
	_, err := s.write.ExecContext(ctx, set, rehearsalSetting, day.String())
	return told(err)
}
