package allocate

import "context"

// UsualSteps is the budget of a search that somebody waits for: about two seconds on a small computer. A step is the
// look at one corner of one bed at a price; the count, not a clock, ends a search, so that the same garden gives the
// same answer everywhere.
const UsualSteps = 60_000_000

// Costs in steps.
const (
	takeSteps  = 60 // solving for a corner
	relaxLeast = 20 // rounds of pricing that are always done
)

// Shares of the steps: of what is left for listing the corners, and of the rest for the plan itself, before what
// explains it.
const (
	listShare = 0.3
	planShare = 0.6
	// withoutShare is for the plan without ash, where amounts are fixed.
	withoutShare = 0.2
)

// Work counts the steps of a search and ends it early, where its steps are used up or its context ends. A nil Work
// has no end.
type Work struct {
	ctx context.Context
	// left are the steps that are left, floor those that are kept for what comes later.
	left, floor int
	since       int
	err         error
}

// NewWork returns a Work of so many steps.
func NewWork(ctx context.Context, steps int) *Work {
	return &Work{ctx: ctx, left: steps, err: ctx.Err()}
}

// lookEvery is how often the context is looked at, steps.
const lookEvery = 1 << 20

// spend takes off steps and reports whether to go on.
func (w *Work) spend(steps int) bool {
	if w == nil {
		return true
	}
	w.left -= steps
	if w.since += steps; w.since >= lookEvery && w.err == nil {
		w.since, w.err = 0, w.ctx.Err()
	}
	return w.left > w.floor && w.err == nil
}

// stopped returns the error of the context.
func (w *Work) stopped() error {
	if w == nil {
		return nil
	}
	return w.err
}

// share lets f use a share of what is left at the most.
func (w *Work) share(of float64, f func()) {
	if w == nil {
		f()
		return
	}
	was := w.floor
	w.floor = w.left - int(of*float64(max(0, w.left-was)))
	f()
	w.floor = was
}
