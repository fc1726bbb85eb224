package outlook

import (
	"context"
	"sync"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Work is what is computed of a large garden while its pages go on.
type Work struct {
	// Store is what it reads: the page's own view of it ends with the page.
	Store garden.Store

	mu      sync.Mutex
	running bool
	// Done and Total are how far it has come, in beds.
	done, total int
	wait        sync.WaitGroup
}

// manyBeds is from how many beds on their lines are computed in the background: a hundred take a third of a second.
const manyBeds = 100

// Progress is how far the lines of all beds have come.
type Progress struct{ Done, Total int }

// Ready returns the outlines of all beds where they are at hand or soon computed; else it begins to
// compute them beside, and tells how far that has come.
func (svc Service) Ready(ctx context.Context, today quantity.Day) (out []Outline, p *Progress, err error) {
	if svc.Work == nil {
		out, err = svc.Outlines(ctx, today)
		return out, nil, err
	}
	few := false
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		beds, err := garden.All[garden.Bed](r)
		if err != nil {
			return err
		}
		if few = len(beds) < manyBeds; few {
			return nil
		}
		var ok bool
		if out, ok, err = garden.Peeked[[]Outline](r, outlineLists, today); err != nil || ok {
			return err
		}
		p = svc.Work.begin(len(beds), func() {
			_, _ = Service{Store: svc.Work.Store, Work: svc.Work}.Outlines(context.Background(), today)
		})
		return nil
	})
	if err == nil && few {
		out, err = svc.Outlines(ctx, today)
	}
	return out, p, err
}

// begin starts the work unless it is under way.
func (w *Work) begin(total int, do func()) *Progress {
	w.mu.Lock()
	defer w.mu.Unlock()
	if !w.running {
		w.running, w.done, w.total = true, 0, total
		w.wait.Go(func() {
			do()
			w.mu.Lock()
			defer w.mu.Unlock()
			w.running = false
		})
	}
	return &Progress{w.done, w.total}
}

// one more bed is computed.
func (w *Work) one() {
	if w != nil {
		w.mu.Lock()
		defer w.mu.Unlock()
		w.done = min(w.done+1, w.total)
	}
}

// Wait waits for what is under way.
func (w *Work) Wait() { w.wait.Wait() }
