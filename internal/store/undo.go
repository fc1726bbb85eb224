package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store/migrations"
)

// Undo implements garden.Store. What stands against it is reported as a fault at
// garden.UndoField.
func (s *Store) Undo(ctx context.Context, c garden.Change, journal int64, more ...int64) (garden.Receipt, error) {
	return s.change(ctx, c, append([]int64{journal}, more...), func(t *tx) (string, error) {
		e, err := t.takeBack(journal)
		if err != nil {
			return "", err
		}
		for _, id := range more {
			if _, err := t.takeBack(id); err != nil {
				return "", err
			}
		}
		// A line of before may put a second half back on the day that it had.
		if err := migrations.LetWait(ctx, t.tx); err != nil {
			return "", err
		}
		what := e.What
		if len(more) > 0 {
			what += fmt.Sprintf(", and %d before it", len(more))
		}
		if e.Undoes != nil {
			return "Done again: " + strings.TrimPrefix(what, takenBack), nil
		}
		return takenBack + what, nil
	})
}

// takeBack takes back what one line of the journal changed.
func (t *tx) takeBack(journal int64) (e garden.Entry, err error) {
	if e, err = garden.Get[garden.Entry](t, journal); err != nil {
		return e, err
	}
	if e.UndoneBy != nil {
		return e, garden.ErrUndone
	}
	changes, err := e.Records()
	if err != nil {
		return e, err
	}
	if len(changes) == 0 {
		return e, garden.Faults{garden.UndoField: "it changed nothing"}
	}
	for i := len(changes) - 1; i >= 0; i-- {
		if err := t.reverse(e, changes[i]); err != nil {
			return e, err
		}
	}
	return e, nil
}

// takenBack heads the line of a change that was taken back.
const takenBack = "Taken back: "

// reverse takes back one record's change, if nothing has changed it since.
func (t *tx) reverse(e garden.Entry, c garden.RecordChange) error {
	if c.Table == garden.WholeCopy {
		return garden.Faults{garden.UndoField: "how the garden stood before is a copy of its own, to be put back the same way"}
	}
	if c.Table == garden.BroughtIn {
		if e.Undoes != nil {
			return garden.Faults{garden.UndoField: "an archive is restored again from its file"}
		}
		return t.takeOut(e.ID, c.ID)
	}
	tb, ok := t.tables.byName[c.Table]
	if !ok {
		return fmt.Errorf("no table %q", c.Table)
	}
	before, err := c.Decode(c.Before)
	if err != nil {
		return err
	}
	if before != nil {
		if err := garden.CheckRecord(before); err != nil {
			return garden.Faults{garden.UndoField: "what stood there before cannot be: " + err.Error()}
		}
	}
	after, err := c.Decode(c.After)
	if err != nil {
		return err
	}
	if after == nil {
		return t.Insert(before)
	}
	now, err := t.current(tb, c.ID)
	if errors.Is(err, garden.ErrMissing) {
		return t.changedSince(e, c)
	}
	if err != nil {
		return err
	}
	if alike, err := sameBut(now, after); err != nil || !alike {
		return errors.Join(err, t.changedSince(e, c))
	}
	if before == nil {
		if err := t.rests(tb, now); err != nil {
			return err
		}
		return t.Delete(now)
	}
	before.Head().Version = now.Head().Version
	return t.Update(before)
}

// sameBut reports whether a record says what another did, whatever its version: what
// was changed since and taken back again stands in the way of nothing.
func sameBut(now, then garden.Record) (bool, error) {
	version := then.Head().Version
	defer func() { then.Head().Version = version }()
	then.Head().Version = now.Head().Version
	a, err := asJSON(now)
	if err != nil {
		return false, err
	}
	b, err := asJSON(then)
	return bytes.Equal(a, b), err
}

// changedSince names the change that came after one and touched the same record.
func (t *tx) changedSince(e garden.Entry, c garden.RecordChange) error {
	const find = `SELECT j.what FROM journal j WHERE j.id>? AND EXISTS (SELECT 1 FROM json_each(j.changes) x
		WHERE json_extract(x.value,'$.table')=? AND json_extract(x.value,'$.id')=?) ORDER BY j.id DESC LIMIT 1`
	var what string
	err := t.tx.GetContext(t.ctx, &what, find, e.ID, c.Table, c.ID)
	if errors.Is(err, sql.ErrNoRows) {
		return garden.ErrStale
	}
	if err != nil {
		return err
	}
	return garden.Faults{garden.UndoField: "“" + what + "” came after it and changed the same; take that back first"}
}

// rests reports what in other lists refers to a record that is to go.
func (t *tx) rests(tb *table, rec garden.Record) error {
	var found []string
	count := func(of garden.Table, query string, key any) error {
		var n int
		if err := t.tx.GetContext(t.ctx, &n, query, key); err != nil || n == 0 {
			return err
		}
		found = append(found, text.Count(n, of.One, plural(of.One)))
		return nil
	}
	for _, x := range garden.Tables {
		columns := []string{}
		err := t.tx.SelectContext(t.ctx, &columns, `SELECT "from" FROM pragma_foreign_key_list(?) WHERE "table"=?`, x.Name, tb.name)
		if err != nil {
			return err
		}
		for _, column := range columns {
			if err := count(x, "SELECT count(*) FROM "+x.Name+" WHERE "+column+"=?", rec.Head().ID); err != nil {
				return err
			}
		}
	}
	if own, ok := rec.(*garden.OwnCrop); ok {
		if _, inBook := crop.Find(own.Code); !inBook {
			of, _ := garden.FindTable("plantings")
			if err := count(of, "SELECT count(*) FROM plantings WHERE crop=?", own.Code); err != nil {
				return err
			}
		}
	}
	if len(found) == 0 {
		return nil
	}
	return garden.Faults{garden.UndoField: text.List(found) + " in the records rest on it; take those back first"}
}

// plural returns the plural of what a record is called: its first word carries it.
func plural(one string) string {
	head, rest, found := strings.Cut(one, " ")
	if head == "batch" {
		head += "e"
	}
	if !found {
		return head + "s"
	}
	return head + "s " + rest
}
