// Package demo is Hollin Terrace: a made-up two-person cut-flower and salad
// holding on an old tree-nursery slope in a cool wet maritime place, with four
// seasons of records.
package demo

import (
	"bytes"
	"context"
	_ "embed"
	"time"

	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
)

// Today is the day on which the demo's calendar starts.
const Today = "2026-11-24"

// hollin is the demo garden as an archive without its journal. To change it, edit it or put another
// archive in its place, then run go test ./internal/demo -update.
//
//go:embed hollin.json
var hollin []byte

// Build fills an empty garden with Hollin Terrace, in one change.
func Build(ctx context.Context, s garden.Store) error {
	at := time.Date(2026, 11, 24, 7, 30, 0, 0, time.UTC)
	_, err := s.Change(ctx, garden.Change{Who: "demo", At: at}, func(tx garden.Tx) (string, error) {
		return "Hollin Terrace, with four seasons of records (made up)", exchange.ReadArchive(bytes.NewReader(hollin),
			func(rec garden.Record) error { return put(tx, rec) })
	})
	return err
}

// put stores a record as in the archive, with its version.
func put(tx garden.Tx, rec garden.Record) error {
	switch x := rec.(type) {
	case *garden.Entry:
		return nil // the garden starts its own journal
	case *garden.Garden:
		was, err := tx.Garden() // every file has one
		if err != nil {
			return err
		}
		x.Version = was.Version
		return tx.Update(x)
	}
	rec.Head().Version-- // inserting increments it
	return tx.Insert(rec)
}
