// Package job runs long work in the background: one job at a time per name, with progress,
// cancelled on shutdown, its outcome remembered across restarts.
package job

import (
	"context"
	"errors"
	"sync"
	"time"
)

// The states of a job.
const (
	Running = "running"
	Done    = "done"
	Failed  = "failed"
	// CutOff is a job that a shutdown interrupted. A job changes everything in one step or nothing,
	// so nothing of it is left.
	CutOff = "cut-off"
)

// Status is the state of a job.
type Status struct {
	Name  string `db:"name"`
	State string `db:"state"`
	// Step of Of steps are done.
	Step int `db:"step"`
	Of   int `db:"of"`
	// Journal is its journal entry; 0 for none.
	Journal int64 `db:"journal_id"`
	// Says is the reason of a failure.
	Says string `db:"says"`
	// At is when it started or ended, RFC 3339.
	At string `db:"at"`
}

// Ended reports whether the job has ended.
func (s Status) Ended() bool { return s.State != Running }

// Store persists the state of jobs.
type Store interface {
	KeepJob(context.Context, Status) error
	// Job returns the last job of a name; ok is false if there is none.
	Job(ctx context.Context, name string) (s Status, ok bool, err error)
	DropJob(ctx context.Context, name string) error
	// CutOffJobs marks jobs that a shutdown interrupted.
	CutOffJobs(context.Context) error
}

// Work is a job's function; tell reports its progress after each step. It returns early when its
// context ends.
type Work func(ctx context.Context, tell func(step int)) (journal int64, err error)

// Runner runs jobs.
type Runner struct {
	store Store
	now   func() time.Time
	ctx   context.Context
	stop  context.CancelFunc
	wait  sync.WaitGroup

	mu      sync.Mutex
	running map[string]*running
}

// running is a job in memory; stop ends it. With patience it ends when nobody has asked for it since asked for so long.
type running struct {
	Status
	stop     context.CancelFunc
	patience time.Duration
	asked    time.Time
	// gaveUp is set when nobody waited for it.
	gaveUp bool
}

// NewRunner returns a Runner and marks interrupted jobs as cut off.
func NewRunner(ctx context.Context, store Store, now func() time.Time) (*Runner, error) {
	r := &Runner{store: store, now: now, running: map[string]*running{}}
	r.ctx, r.stop = context.WithCancel(context.WithoutCancel(ctx))
	return r, store.CutOffJobs(ctx)
}

// ErrStopping is returned during shutdown.
var ErrStopping = errors.New("the program is about to stop; nothing was begun")

// Start runs a job of so many steps under a name, unless one is running.
func (r *Runner) Start(ctx context.Context, name string, of int, work Work) error {
	return r.start(ctx, &running{Status: Status{Name: name, Of: of}}, work)
}

// StartWaited is Start for work that is of use only to who waits for it: it is stopped, and nothing of it is kept,
// when nobody has asked for it for so long.
func (r *Runner) StartWaited(ctx context.Context, name string, of int, patience time.Duration, work Work) error {
	return r.start(ctx, &running{Status: Status{Name: name, Of: of}, patience: patience, asked: time.Now()}, work)
}

func (r *Runner) start(ctx context.Context, s *running, work Work) error {
	name := s.Name
	s.State, s.At = Running, r.stamp()
	r.mu.Lock()
	if r.ctx.Err() != nil {
		r.mu.Unlock()
		return ErrStopping
	}
	if was, ok := r.running[name]; ok && !was.Ended() {
		r.mu.Unlock()
		return nil
	}
	r.running[name] = s
	var own context.Context
	own, s.stop = context.WithCancel(r.ctx)
	r.wait.Add(1)
	r.mu.Unlock()
	// The lock is not held: another job may hold the file.
	if err := r.store.KeepJob(ctx, s.Status); err != nil {
		s.stop()
		r.mu.Lock()
		delete(r.running, name)
		r.mu.Unlock()
		r.wait.Done()
		return err
	}
	go r.run(own, s, work)
	if s.patience > 0 {
		go r.giveUp(own, s)
	}
	return nil
}

// giveUp stops a job when nobody waits for it.
func (r *Runner) giveUp(ctx context.Context, s *running) {
	tick := time.NewTicker(max(s.patience/4, time.Millisecond))
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		r.mu.Lock()
		s.gaveUp = time.Since(s.asked) > s.patience
		over := s.gaveUp
		r.mu.Unlock()
		if over {
			s.stop()
			return
		}
	}
}

func (r *Runner) stamp() string { return r.now().UTC().Format(time.RFC3339) }

func (r *Runner) run(ctx context.Context, s *running, work Work) {
	defer r.wait.Done()
	defer s.stop()
	progress := func(step int) { r.mu.Lock(); s.Step = step; r.mu.Unlock() }
	journal, err := work(ctx, progress)
	r.mu.Lock()
	end, gaveUp := s.Status, s.gaveUp
	r.mu.Unlock()
	if err != nil && gaveUp {
		// Where it cannot be dropped, the next one of its name is kept in its place.
		_ = r.Forget(context.WithoutCancel(r.ctx), s.Name)
		return
	}
	end.State, end.Journal, end.At = Done, journal, r.stamp()
	switch {
	case err != nil && r.ctx.Err() != nil:
		end.State = CutOff
	case err != nil:
		end.State, end.Says = Failed, err.Error()
	}
	// Pages read the outcome from the file; if it cannot be written, the runner still reports it
	// while the program runs.
	err = r.store.KeepJob(context.WithoutCancel(r.ctx), end)
	r.mu.Lock()
	defer r.mu.Unlock()
	if err == nil {
		delete(r.running, s.Name)
	} else {
		s.Status = end
	}
}

// Finder finds ended jobs: the store, or a snapshot of it.
type Finder interface {
	Job(ctx context.Context, name string) (s Status, ok bool, err error)
}

// Find returns the state of a name's job, of an ended one from in; ok is false if there is none.
func (r *Runner) Find(ctx context.Context, in Finder, name string) (s Status, ok bool, err error) {
	r.mu.Lock()
	if at, ok := r.running[name]; ok {
		defer r.mu.Unlock()
		at.asked = time.Now()
		return at.Status, true, nil
	}
	r.mu.Unlock()
	return in.Job(ctx, name)
}

// Forget deletes the state of an ended job.
func (r *Runner) Forget(ctx context.Context, name string) error {
	r.mu.Lock()
	delete(r.running, name)
	r.mu.Unlock()
	return r.store.DropJob(ctx, name)
}

// Stop cancels running jobs and waits for them.
func (r *Runner) Stop() {
	r.mu.Lock()
	r.stop()
	r.mu.Unlock()
	r.wait.Wait()
}
