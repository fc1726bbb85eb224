package migrations

import (
	"context"
	"database/sql"
	"fmt"

	"github.com/pressly/goose/v3"

	"zephyrfield/internal/garden"
)

// nameStep is the number of the step that fills the beds' folded names in.
const nameStep = 6

// foldNames fills in the names as they are compared. Beds whose names are one now
// but were not before get a number after theirs.
func foldNames(ctx context.Context, tx *sql.Tx) error {
	rows, err := tx.QueryContext(ctx, "SELECT id, name FROM beds ORDER BY id")
	if err != nil {
		return err
	}
	type bed struct {
		id   int64
		name string
	}
	var beds []bed
	for rows.Next() {
		var b bed
		if err := rows.Scan(&b.id, &b.name); err != nil {
			return err
		}
		beds = append(beds, b)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	if err := rows.Close(); err != nil {
		return err
	}
	taken := make(map[string]bool, len(beds))
	for _, b := range beds {
		name := b.name
		for n := 2; taken[garden.Fold(name)]; n++ {
			name = fmt.Sprintf("%s (%d)", b.name, n)
		}
		taken[garden.Fold(name)] = true
		if _, err := tx.ExecContext(ctx, "UPDATE beds SET name=?, name_key=? WHERE id=?", name, garden.Fold(name), b.id); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, "CREATE UNIQUE INDEX beds_name_key ON beds (name_key)")
	return err
}

func unfoldNames(ctx context.Context, tx *sql.Tx) error {
	_, err := tx.ExecContext(ctx, "DROP INDEX beds_name_key")
	return err
}

// Steps returns those that SQL alone cannot take, beside the files.
func Steps() goose.ProviderOption {
	return goose.WithGoMigrations(
		goose.NewGoMigration(nameStep, &goose.GoFunc{RunTx: foldNames}, &goose.GoFunc{RunTx: unfoldNames}),
		goose.NewGoMigration(kindStep, &goose.GoFunc{RunTx: freeKinds}, &goose.GoFunc{RunTx: keepFree}),
		goose.NewGoMigration(restStep, &goose.GoFunc{RunTx: letRestsWait}, &goose.GoFunc{RunTx: keepWaiting}))
}
