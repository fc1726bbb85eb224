package outlook

import (
	"context"
	"sync"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Work is a background computation for a large garden.
type Work struct {
	// Store is read by the work; the page's own snapshot ends with the page.
	Store garden.Store

	mu      sync.Mutex
	running bool
	// done and total are the progress in beds.
	done, total int
	wait        sync.WaitGroup
}

// manyBeds is the number of beds from which outlines are computed in the background: a hundred take
// a third of a second.
const manyBeds = 100

// Progress is how many beds' outlines are computed.
type Progress struct{ Done, Total int }

// Ready returns the outlines of all beds if cached or quick to compute; otherwise it starts the
// background work and returns its progress.
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

// begin starts the work unless it is running.
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

// one counts a computed bed.
func (w *Work) one() {
	if w != nil {
		w.mu.Lock()
		defer w.mu.Unlock()
		w.done = min(w.done+1, w.total)
	}
}

// Wait waits for running work.
func (w *Work) Wait() { w.wait.Wait() }
