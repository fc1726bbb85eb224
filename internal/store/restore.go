package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"

	"github.com/jmoiron/sqlx"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/store/migrations"
)

// Restore implements garden.Store. Journal lines that the garden already has are kept; the ids of those in the
// archive are shifted behind them.
func (s *Store) Restore(ctx context.Context, c garden.Change, rows func(put func(garden.Record) error) error) (garden.Receipt, error) {
	return s.change(ctx, c, nil, func(t *tx) (string, error) {
		if empty, err := t.Empty(); err != nil || !empty {
			return "", errors.Join(err, garden.ErrNotEmpty)
		}
		// Lines of the journal point at each other both ways.
		if _, err := t.tx.ExecContext(ctx, "PRAGMA defer_foreign_keys = ON"); err != nil {
			return "", err
		}
		in, err := t.bringer()
		if err != nil {
			return "", err
		}
		defer in.close()
		if err := rows(in.put); err != nil {
			return "", err
		}
		if err := migrations.LetWait(ctx, t.tx); err != nil {
			return "", err
		}
		if err := t.sound(); err != nil {
			return "", err
		}
		t.changes = append(t.changes, garden.RecordChange{Table: garden.BroughtIn, ID: in.lines, Before: null, After: null})
		return "Restored an archive of " + in.name, nil
	})
}

// bringer inserts the records of an archive with their ids and versions.
type bringer struct {
	t     *tx
	ready map[*table]*sqlx.Stmt
	// after is the last line of the journal before, lines how many came; name is
	// the garden's.
	after, lines int64
	name         string
}

func (t *tx) bringer() (*bringer, error) {
	b := &bringer{t: t, ready: map[*table]*sqlx.Stmt{}}
	err := t.tx.GetContext(t.ctx, &b.after, "SELECT coalesce(max(id), 0) FROM journal")
	return b, err
}

func (b *bringer) close() {
	for _, st := range b.ready {
		_ = st.Close()
	}
}

func (b *bringer) put(rec garden.Record) error {
	switch x := rec.(type) {
	case *garden.Garden:
		// There is always one: it is changed, so that it can be changed back.
		was, err := b.t.Garden()
		if err != nil {
			return err
		}
		if x.Rehearsal && !was.Rehearsal {
			return garden.Faults{"rehearsal": "it is of a rehearsal; a rehearsal is restored into a rehearsal"}
		}
		b.name, x.Rehearsal = x.Name, was.Rehearsal
		args := append(b.t.tables.values(b.t.tables.byName["garden"], x), int64(1), was.Version)
		if err := b.t.exec(b.t.tables.byName["garden"].update, args...); err != nil {
			return err
		}
		return b.t.note("garden", 1, &was, x)
	case *garden.Entry:
		x.ID += b.after
		for _, line := range []*int64{x.Undoes, x.UndoneBy} {
			if line != nil {
				*line += b.after
			}
		}
		b.lines++
	}
	tb, err := b.t.tables.of(rec)
	if err != nil {
		return err
	}
	st, ok := b.ready[tb]
	if !ok {
		if st, err = b.t.tx.PreparexContext(b.t.ctx, tb.insert); err != nil {
			return err
		}
		b.ready[tb] = st
	}
	if _, err := st.ExecContext(b.t.ctx, b.t.tables.values(tb, rec)...); err != nil {
		return refused(err)
	}
	if e, ok := rec.(*garden.Entry); ok {
		return b.touched(e)
	}
	return nil
}

// touched finds the beds that a line of the journal touched.
func (b *bringer) touched(e *garden.Entry) error {
	changes, err := e.Records()
	if err != nil {
		return err
	}
	beds := map[int64]bool{}
	for _, c := range changes {
		for _, side := range []garden.JSON{c.After, c.Before} {
			rec, err := c.Decode(side)
			if err != nil {
				return err
			}
			if err := b.t.touch(beds, rec); err != nil {
				return err
			}
		}
	}
	return b.t.touches(beds, e.ID)
}

// refused turns the database's refusal of an archive's record into garden.Faults.
func refused(err error) error {
	if _, ok := constraint(err); !ok {
		return err
	}
	if a, ok := alone(err); ok {
		return garden.Faults{"record": a.Says}
	}
	if isConstraint(err, ".id") {
		return garden.Faults{"record": "its number stands there already"}
	}
	return garden.Faults{"record": "what it says does not hold together"}
}

// holds are the rules between lists beside those of garden.Tables, each as the
// question that finds a record that breaks it.
var holds = []struct{ table, says, find string }{
	{"samples", "stands for no bed", "SELECT s.id FROM samples s WHERE NOT EXISTS (SELECT 1 FROM sample_beds b WHERE b.sample_id=s.id)"},
	{"readings", "is of a sample that its bed is not in",
		"SELECT r.id FROM readings r WHERE r.sample_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM sample_beds b WHERE " +
			"b.sample_id=r.sample_id AND b.bed_id=r.bed_id)"},
	{"cores", "is beyond those that its bed gives", "SELECT c.id FROM cores c JOIN sample_beds b ON b.id=c.sample_bed_id WHERE " +
		"c.n>b.cores"},
	{"rounds", "has no sample", "SELECT r.id FROM rounds r WHERE NOT EXISTS (SELECT 1 FROM samples s WHERE s.round_id=r.id)"},
}

// agree returns an error for a record that contradicts the one it refers to.
func (t *tx) agree() error {
	for _, of := range garden.Tables {
		for _, a := range of.Agrees {
			find := fmt.Sprintf("SELECT x.id FROM %s x JOIN %s y ON y.id=x.%s WHERE y.%s IS NOT x.%s", of.Name, a.Table, a.Points,
				a.Column, a.Column)
			if err := t.holds(of.Name, a.Says, find); err != nil {
				return err
			}
		}
	}
	for _, h := range holds {
		if err := t.holds(h.table, h.says, h.find); err != nil {
			return err
		}
	}
	return nil
}

// holds returns an error for the first record that a query finds.
func (t *tx) holds(table, says, find string) error {
	var id int64
	switch err := t.tx.GetContext(t.ctx, &id, find+" LIMIT 1"); {
	case err == nil:
		of, _ := garden.FindTable(table)
		return garden.Faults{"archive": fmt.Sprintf("%s %d %s", of.One, id, says)}
	case !errors.Is(err, sql.ErrNoRows):
		return err
	}
	return nil
}

// sound checks references between records after an import.
func (t *tx) sound() error {
	var broken []struct {
		Table  string        `db:"table"`
		ID     sql.NullInt64 `db:"rowid"`
		Parent string        `db:"parent"`
	}
	const find = `SELECT "table", "rowid", "parent" FROM pragma_foreign_key_check LIMIT 1`
	if err := t.tx.SelectContext(t.ctx, &broken, find); err != nil {
		return err
	}
	if len(broken) > 0 {
		from, _ := garden.FindTable(broken[0].Table)
		to, _ := garden.FindTable(broken[0].Parent)
		return garden.Faults{"archive": fmt.Sprintf("%s %d names a %s that is not in the archive", from.One, broken[0].ID.Int64, to.One)}
	}
	if err := t.cropsKnown(); err != nil {
		return err
	}
	return t.agree()
}

// cropsKnown checks that every planting's crop is in the library.
func (t *tx) cropsKnown() error {
	own, err := garden.All[garden.OwnCrop](t)
	if err != nil {
		return err
	}
	lib := garden.NewLibrary(own)
	var grown []struct {
		ID   int64  `db:"id"`
		Crop string `db:"crop"`
	}
	if err := t.tx.SelectContext(t.ctx, &grown, "SELECT min(id) AS id, crop FROM plantings GROUP BY crop ORDER BY id"); err != nil {
		return err
	}
	for _, g := range grown {
		if _, ok := lib.Find(g.Crop); !ok {
			of, _ := garden.FindTable("plantings")
			return garden.Faults{"archive": fmt.Sprintf("%s %d: “%.40s” is not in the library", of.One, g.ID, g.Crop)}
		}
	}
	return nil
}

// takeOut deletes what an import brought in, if nothing has changed since.
func (t *tx) takeOut(line, came int64) error {
	var since []string
	err := t.tx.SelectContext(t.ctx, &since, "SELECT what FROM journal WHERE id>? AND undone_by IS NULL AND undoes IS NULL ORDER BY id "+
		"DESC LIMIT 1", line)
	if err != nil {
		return err
	}
	if len(since) > 0 {
		return garden.Faults{garden.UndoField: "“" + since[0] + "” came after it; take that back first"}
	}
	for _, x := range slices.Backward(garden.Tables) {
		if x.Name == "garden" || x.Name == garden.JournalTable {
			continue
		}
		if _, err := t.tx.ExecContext(t.ctx, "DELETE FROM "+x.Name); err != nil {
			return err
		}
	}
	t.changes = append(t.changes, garden.RecordChange{Table: garden.BroughtIn, ID: came, Before: null, After: null})
	// What the lines that came with it did is gone with it.
	const gone = "UPDATE journal SET undone_by=?1 WHERE undone_by IS NULL AND id BETWEEN ?1-?2 AND ?1-1"
	_, err = t.tx.ExecContext(t.ctx, gone, line, came)
	return err
}
