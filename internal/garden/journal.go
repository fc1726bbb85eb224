package garden

import (
	"context"
	"strings"

	"zephyrfield/agronomy/text"
)

// Line is a line of the journal as it is listed: without the records that it
// holds, which may be many. Head is how they begin.
type Line struct {
	ID       int64  `db:"id"`
	At       string `db:"at"`
	Who      string `db:"who"`
	What     string `db:"what"`
	Head     string `db:"head"`
	Undoes   *int64 `db:"undoes"`
	UndoneBy *int64 `db:"undone_by"`
	// More are lines that are folded into this one, newest first.
	More []int64 `db:"-"`
}

// headTable is how a list of changes begins, up to the name of its table.
const headTable = `[{"table":"`

// changes returns the table of the first record that it changed, "" for none.
func (l Line) changes() string {
	rest, ok := strings.CutPrefix(strings.ReplaceAll(l.Head, " ", ""), headTable)
	if !ok {
		return ""
	}
	table, _, _ := strings.Cut(rest, `"`)
	return table
}

// CanUndo reports whether a line can be taken back at all.
func (l Line) CanUndo() bool {
	switch l.changes() {
	case "", WholeCopy:
		return false
	case BroughtIn:
		return l.UndoneBy == nil && l.Undoes == nil
	}
	return l.UndoneBy == nil
}

// Folded puts cores that were ticked one after the other into one line: a round
// has hundreds.
func Folded(lines []Line) (out []Line) {
	for _, l := range lines {
		if n := len(out); n > 0 && l.ticks() && out[n-1].ticks() && (l.UndoneBy == nil) == (out[n-1].UndoneBy == nil) {
			out[n-1].More = append(out[n-1].More, l.ID)
			continue
		}
		out = append(out, l)
	}
	for i := range out {
		if n := len(out[i].More); n > 0 {
			out[i].What = text.Count(n+1, "stop", "stops") + " cored, the last of them: " + out[i].What
		}
	}
	return out
}

// ticks reports whether a line is a core that was taken.
func (l Line) ticks() bool { return l.changes() == "cores" && l.Undoes == nil }

// Journal reads lines, newest first, from before one on; 0 from the newest.
func (svc Service) Journal(ctx context.Context, before int64, limit int) (ls []Line, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { ls, err = r.Journal(before, limit); return err })
	return ls, err
}

// JournalOf reads the last lines that touch a bed, newest first.
func (svc Service) JournalOf(ctx context.Context, bed int64, limit int) (ls []Line, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error {
		ls, err = r.JournalOf(bed, limit)
		return err
	})
	return ls, err
}

// Undo takes a change back; those of more, which are older, go with it.
func (svc Service) Undo(ctx context.Context, a Actor, journal int64, more ...int64) (Receipt, error) {
	return svc.Store.Undo(ctx, a.Change(), journal, more...)
}

// IsEmpty reports whether the garden holds no records yet.
func (svc Service) IsEmpty(ctx context.Context) (empty bool, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { empty, err = r.Empty(); return err })
	return empty, err
}

// Whole hands out the whole garden in one steady view, to be written out.
func (svc Service) Whole(ctx context.Context, f func(Reader) error) error {
	return svc.Store.Read(ctx, f)
}

// BringIn brings an archive into a garden that holds no records: one change, and
// one undo.
func (svc Service) BringIn(ctx context.Context, a Actor, rows func(put func(Record) error) error) (Receipt, error) {
	return svc.Store.Restore(ctx, a.Change(), rows)
}

// Entry reads a line of the journal.
func (svc Service) Entry(ctx context.Context, id int64) (e Entry, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { e, err = Get[Entry](r, id); return err })
	return e, err
}
