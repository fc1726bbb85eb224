package garden

import (
	"context"
)

// BringIn brings an archive into a garden that holds no records: one change, and
// one undo.
func (k Keeper) BringIn(ctx context.Context, a Act, rows func(put func(Record) error) error) (Receipt, error) {
	return k.Store.Restore(ctx, a.Change(), rows)
}

// Entry reads a line of the journal.
func (k Keeper) Entry(ctx context.Context, id int64) (e Entry, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { e, err = Get[Entry](r, id); return err })
	return e, err
}
