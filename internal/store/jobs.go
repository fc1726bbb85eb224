package store

import (
	"context"
	"errors"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/job"
)

// mostJobs is how many ended jobs are stored.
const mostJobs = 50

// KeepJob implements job.Store; the oldest ended jobs are deleted.
func (s *Store) KeepJob(ctx context.Context, j job.Status) error {
	const keep = `INSERT INTO jobs (name, state, step, "of", journal_id, says, at)
		VALUES (:name, :state, :step, :of, :journal_id, :says, :at)
		ON CONFLICT (name) DO UPDATE SET state=:state, step=:step, "of"=:of, journal_id=:journal_id, says=:says, at=:at`
	if _, err := s.write.NamedExecContext(ctx, keep, j); err != nil {
		return asFault(err)
	}
	const old = "DELETE FROM jobs WHERE state<>? AND name NOT IN (SELECT name FROM jobs ORDER BY at DESC LIMIT ?)"
	_, err := s.write.ExecContext(ctx, old, job.Running, mostJobs)
	return asFault(err)
}

// Job implements job.Store.
func (s *Store) Job(ctx context.Context, name string) (j job.Status, ok bool, err error) {
	err = s.look(ctx, func(r reader) error { return r.one(&j, "SELECT * FROM jobs WHERE name=?", name) })
	if errors.Is(err, garden.ErrMissing) {
		return j, false, nil
	}
	return j, err == nil, err
}

// DropJob implements job.Store.
func (s *Store) DropJob(ctx context.Context, name string) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM jobs WHERE name=?", name)
	return asFault(err)
}

// CutOffJobs implements job.Store.
func (s *Store) CutOffJobs(ctx context.Context) error {
	_, err := s.write.ExecContext(ctx, "UPDATE jobs SET state=? WHERE state=?", job.CutOff, job.Running)
	return asFault(err)
}
