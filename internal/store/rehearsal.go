package store

import (
	"context"
	"errors"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// rehearsalSetting is the setting of a rehearsal's current day.
const rehearsalSetting = "rehearsal day"

// ErrNoRehearsal is returned when a garden that is not a rehearsal is to run as one.
var ErrNoRehearsal = errors.New("this garden was not made as a rehearsal and is never run as one; name a new file")

// Rehearsal returns a rehearsal's current day; no day where the garden is not a rehearsal.
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

// BeginRehearsal turns an empty garden into a rehearsal with a calendar that starts on a day. It cannot be undone.
// A garden with records is refused with ErrNoRehearsal.
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
		return asFault(err)
	}
	return s.SetRehearsal(ctx, day)
}

// SetRehearsal stores a rehearsal's current day.
func (s *Store) SetRehearsal(ctx context.Context, day quantity.Day) error {
	const set = "INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value=excluded.value"
	_, err := s.write.ExecContext(ctx, set, rehearsalSetting, day.String())
	return asFault(err)
}
