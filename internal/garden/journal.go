package garden

import (
	"context"
	"strings"

	"zephyrfield/agronomy/text"
)

// Line is a journal entry in a list, without its records. Head is the beginning of their JSON.
type Line struct {
	ID       int64  `db:"id"`
	At       string `db:"at"`
	Who      string `db:"who"`
	What     string `db:"what"`
	Head     string `db:"head"`
	Undoes   *int64 `db:"undoes"`
	UndoneBy *int64 `db:"undone_by"`
	// More are the entries folded into this one, newest first.
	More []int64 `db:"-"`
}

// headTable is the beginning of a list of changes, up to the table's name.
const headTable = `[{"table":"`

// changes returns the table of the first changed record, or "".
func (l Line) changes() string {
	rest, ok := strings.CutPrefix(strings.ReplaceAll(l.Head, " ", ""), headTable)
	if !ok {
		return ""
	}
	table, _, _ := strings.Cut(rest, `"`)
	return table
}

// CanUndo reports whether the entry is of a kind that can be undone.
func (l Line) CanUndo() bool {
	switch l.changes() {
	case "", WholeCopy:
		return false
	case BroughtIn:
		return l.UndoneBy == nil && l.Undoes == nil
	}
	return l.UndoneBy == nil
}

// Folded merges consecutive ticks of cores into one line: a round has hundreds.
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

// ticks reports whether a line is a ticked core.
func (l Line) ticks() bool { return l.changes() == "cores" && l.Undoes == nil }

// Journal returns lines, newest first, older than `before`; 0 for the newest.
func (svc Service) Journal(ctx context.Context, before int64, limit int) (ls []Line, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { ls, err = r.Journal(before, limit); return err })
	return ls, err
}

// JournalOf returns the last lines that touch a bed, newest first.
func (svc Service) JournalOf(ctx context.Context, bed int64, limit int) (ls []Line, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error {
		ls, err = r.JournalOf(bed, limit)
		return err
	})
	return ls, err
}

// Undo undoes a change together with the older ones in more.
func (svc Service) Undo(ctx context.Context, a Actor, journal int64, more ...int64) (Receipt, error) {
	return svc.Store.Undo(ctx, a.Change(), journal, more...)
}

// IsEmpty reports whether the garden holds no records yet.
func (svc Service) IsEmpty(ctx context.Context) (empty bool, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { empty, err = r.Empty(); return err })
	return empty, err
}

// Whole calls f with a snapshot of the whole garden, for export.
func (svc Service) Whole(ctx context.Context, f func(Reader) error) error {
	return svc.Store.Read(ctx, f)
}

// BringIn imports an archive into an empty garden, as one change that can be undone.
func (svc Service) BringIn(ctx context.Context, a Actor, rows func(put func(Record) error) error) (Receipt, error) {
	return svc.Store.Restore(ctx, a.Change(), rows)
}

// Entry returns a journal entry.
func (svc Service) Entry(ctx context.Context, id int64) (e Entry, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { e, err = Get[Entry](r, id); return err })
	return e, err
}
