package migrations

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"zephyrfield/internal/garden"
)

// restStep is the number of the step that takes the days off what waits for a test.
const restStep = 19

// Execer runs statements within a transaction.
type Execer interface {
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
}

// secondHalves are open applications of plans made before rests waited that stand after their plan's test, or no longer than a test needs
// before it: those that a late tick had carried past it. A plan without a test between its applications has it later than that.
const secondHalves = ` FROM tasks t WHERE t.kind='go' AND t.state='open' AND t.turning_id IS NULL
	AND EXISTS (SELECT 1 FROM plans p WHERE p.id=t.plan_id AND p.rests_apart=0)
	AND EXISTS (SELECT 1 FROM tasks r WHERE r.plan_id=t.plan_id AND r.kind='retest' AND r.state IN ('open', 'skipped')
		AND julianday(r.due) < julianday(t.due) + 56)`

// LetWait takes the day off each second half of a plan made before that waits for its test: it becomes a rest.
func LetWait(ctx context.Context, tx Execer) error {
	for _, q := range []string{
		`INSERT INTO rests (version, bed_id, plan_id, material, batch_id, rate_g_m2, total_g, state, why)
			SELECT 1, t.bed_id, t.plan_id, t.material, t.batch_id, t.rate_g_m2, t.total_g, 'waiting', ''` + secondHalves,
		"DELETE FROM tasks WHERE id IN (SELECT t.id" + secondHalves + ")",
	} {
		if _, err := tx.ExecContext(ctx, q); err != nil {
			return fmt.Errorf("what waits for a test: %w", err)
		}
	}
	return nil
}

// letRestsWait is LetWait for a file of before, with the requests of its plans as they are read now.
func letRestsWait(ctx context.Context, tx *sql.Tx) (err error) {
	rows, err := tx.QueryContext(ctx, "SELECT id, request FROM plans")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	requests := map[int64]garden.JSON{}
	for rows.Next() {
		var id int64
		var request garden.JSON
		if err := rows.Scan(&id, &request); err != nil {
			return err
		}
		requests[id] = garden.OlderRequest(request)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for id, request := range requests {
		if _, err := tx.ExecContext(ctx, "UPDATE plans SET request=? WHERE id=?", string(request), id); err != nil {
			return err
		}
	}
	return LetWait(ctx, tx)
}

// keepWaiting leaves rests as they are: an older program does not know them, and what waits is not applied by it.
func keepWaiting(context.Context, *sql.Tx) error { return nil }
