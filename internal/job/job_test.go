package job_test

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/job"
)

// memory keeps jobs as a file does.
type memory struct {
	mu   sync.Mutex
	by   map[string]job.Status
	full bool
}

func (m *memory) KeepJob(_ context.Context, s job.Status) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.full {
		return errors.New("the disk is full")
	}
	m.by[s.Name] = s
	return nil
}

func (m *memory) Job(_ context.Context, name string) (job.Status, bool, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	s, ok := m.by[name]
	return s, ok, nil
}

func (m *memory) DropJob(_ context.Context, name string) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	delete(m.by, name)
	return nil
}

func (m *memory) CutOffJobs(context.Context) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	for n, s := range m.by {
		if s.State == job.Running {
			s.State = job.CutOff
			m.by[n] = s
		}
	}
	return nil
}

var ctx = context.Background()

func runner(t *testing.T, m *memory) *job.Runner {
	r, err := job.NewRunner(ctx, m, func() time.Time { return time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC) })
	require.NoError(t, err)
	t.Cleanup(r.Stop)
	return r
}

func find(t *testing.T, r *job.Runner, m *memory, name string) job.Status {
	t.Helper()
	s, ok, err := r.Find(ctx, m, name)
	require.NoError(t, err)
	require.True(t, ok)
	return s
}

func TestJobStatus(t *testing.T) {
	m := &memory{by: map[string]job.Status{}}
	r := runner(t, m)
	told, goOn, twice := make(chan bool), make(chan bool), false
	require.NoError(t, r.Start(ctx, "lab 7", 3, func(_ context.Context, tell func(int)) (int64, error) {
		tell(2)
		told <- true
		<-goOn
		return 41, nil
	}))
	<-told
	require.NoError(t, r.Start(ctx, "lab 7", 3, func(context.Context, func(int)) (int64, error) { twice = true; return 0, nil }))
	s := find(t, r, m, "lab 7")
	assert.Equal(t, []any{job.Running, 2, 3, false}, []any{s.State, s.Step, s.Of, s.Ended()})
	close(goOn)
	require.Eventually(t, func() bool { return find(t, r, m, "lab 7").Ended() }, 5*time.Second, time.Millisecond)
	s = find(t, r, m, "lab 7")
	assert.Equal(t, job.Done, s.State)
	assert.Equal(t, int64(41), s.Journal)
	assert.False(t, twice, "one at a time under a name")
	require.NoError(t, r.Forget(ctx, "lab 7"))
	_, ok, err := r.Find(ctx, m, "lab 7")
	require.NoError(t, err)
	assert.False(t, ok)
}

func TestStopCutsOffJobs(t *testing.T) {
	m := &memory{by: map[string]job.Status{}}
	r := runner(t, m)
	begun := make(chan bool)
	require.NoError(t, r.Start(ctx, "long", 9, func(ctx context.Context, _ func(int)) (int64, error) {
		close(begun)
		<-ctx.Done()
		return 0, ctx.Err()
	}))
	<-begun
	r.Stop()
	assert.Equal(t, job.CutOff, find(t, r, m, "long").State)
	require.ErrorIs(t, r.Start(ctx, "other", 1, nil), job.ErrStopping)
	// Killed: nothing could be written at its end.
	m.by["killed"] = job.Status{Name: "killed", State: job.Running}
	assert.Equal(t, job.CutOff, find(t, runner(t, m), m, "killed").State)
}

func TestJobNobodyWaitsForIsStopped(t *testing.T) {
	m := &memory{by: map[string]job.Status{}}
	r := runner(t, m)
	const patience = 200 * time.Millisecond
	ended := make(chan bool)
	work := func(ctx context.Context, _ func(int)) (int64, error) {
		<-ctx.Done()
		close(ended)
		return 0, ctx.Err()
	}
	require.NoError(t, r.StartWaited(ctx, "share", 1, patience, work))
	for range 10 { // somebody waits, longer than it would
		time.Sleep(patience / 4)
		assert.Equal(t, job.Running, find(t, r, m, "share").State)
	}
	<-ended
	require.Eventually(t, func() bool {
		_, ok, err := r.Find(ctx, m, "share")
		return err == nil && !ok
	}, 5*time.Second, 2*patience, "nothing of it is kept")
	require.NoError(t, r.StartWaited(ctx, "share", 1, time.Hour, func(context.Context, func(int)) (int64, error) { return 7, nil }))
	require.Eventually(t, func() bool { return find(t, r, m, "share").State == job.Done }, 5*time.Second, time.Millisecond)
}

func TestJobFailure(t *testing.T) {
	m := &memory{by: map[string]job.Status{}}
	r := runner(t, m)
	require.NoError(t, r.Start(ctx, "bad", 1, func(context.Context, func(int)) (int64, error) {
		m.mu.Lock()
		m.full = true
		m.mu.Unlock()
		return 0, errors.New("line 3: no such bed")
	}))
	require.Eventually(t, func() bool { return find(t, r, m, "bad").Ended() }, 5*time.Second, time.Millisecond)
	s := find(t, r, m, "bad")
	assert.Equal(t, job.Failed, s.State, "told though the file cannot be written to")
	assert.Equal(t, "line 3: no such bed", s.Says)
}
