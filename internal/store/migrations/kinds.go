package migrations

import (
	"context"
	"database/sql"
	"fmt"
	"strings"
)

// kindStep is the number of the step that frees the kinds of records.
const kindStep = 8

// kinds are the rules of the file on which kinds there are. They are data of the
// program, which checks them before anything is kept: a new kind wants no new table.
var kinds = []struct{ table, rule string }{
	{"tasks", " CHECK (kind IN ('go', 'retest'))"},
	{"beds", " CHECK (kind IN ('bed', 'lawn', 'tree', 'pot', 'heap'))"},
	{"beds", " CHECK (shape IN ('rect', 'circle', 'rings', 'outline'))"},
	{"beds", " CHECK (texture_by IN ('', 'jar', 'feel'))"},
	{"beds", " CHECK (watered IN ('', 'tap'))"},
	{"marks", " CHECK (kind IN ('path', 'wall'))"},
	{"samples", " CHECK (state IN ('planned', 'taken', 'at-lab', 'read'))"},
}

// freeKinds takes those rules out of the tables' definitions. Leaving a CHECK out
// changes nothing of what is stored, so that no table is built again.
func freeKinds(ctx context.Context, tx *sql.Tx) error {
	var number int
	if err := tx.QueryRowContext(ctx, "PRAGMA schema_version").Scan(&number); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "PRAGMA writable_schema=ON"); err != nil {
		return err
	}
	for _, k := range kinds {
		var was string
		if err := tx.QueryRowContext(ctx, "SELECT sql FROM sqlite_schema WHERE type='table' AND name=?", k.table).Scan(&was); err != nil {
			return err
		}
		now := strings.Replace(was, k.rule, "", 1)
		if now == was {
			return fmt.Errorf("table %s has no constraint%s", k.table, k.rule)
		}
		if _, err := tx.ExecContext(ctx, "UPDATE sqlite_schema SET sql=? WHERE type='table' AND name=?", now, k.table); err != nil {
			return err
		}
	}
	// Every connection reads the definitions again.
	for _, q := range []string{fmt.Sprintf("PRAGMA schema_version=%d", number+1), "PRAGMA writable_schema=OFF"} {
		if _, err := tx.ExecContext(ctx, q); err != nil {
			return err
		}
	}
	return nil
}

// keepFree leaves the rules out: an older program checks the kinds as well.
func keepFree(context.Context, *sql.Tx) error { return nil }
