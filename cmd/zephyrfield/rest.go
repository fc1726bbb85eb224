package main

import (
	"context"
	"net/http"
	"os"
	"runtime"
	"runtime/debug"
	"sync/atomic"
	"time"
)

// heapGrowth is by how many hundredths of what it holds the heap may grow before it is tidied:
// half of what is usual, since a small machine has more time than memory to spare.
const heapGrowth = 50

// keepSmall is called before anything else: it keeps the heap close to what is in use, unless the
// environment says how close, and nothing takes samples of who asked for memory, whose table
// would take more than a megabyte.
func keepSmall() {
	runtime.MemProfileRate = 0
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(heapGrowth)
	}
}

// restAfter is how long nobody asks for anything before the program returns the
// memory that it no longer needs: it may run for months on a small machine.
const restAfter = 20 * time.Second

// resting hands requests on, and gives memory back once none has come for a while.
func resting(ctx context.Context, next http.Handler, after time.Duration, give func()) http.Handler {
	var asked, under atomic.Int64
	asked.Store(1) // the start itself leaves much behind
	go func() {
		tick := time.NewTicker(after)
		defer tick.Stop()
		last := int64(0)
		for {
			select {
			case <-ctx.Done():
				return
			case <-tick.C:
			}
			switch n := asked.Load(); {
			case n != last:
				last = n
			case n != 0 && under.Load() == 0:
				give()
				asked.Store(0)
				last = 0
			}
		}
	}()
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		under.Add(1)
		defer under.Add(-1)
		asked.Add(1)
		next.ServeHTTP(w, r)
	})
}

// rester is what lets go of what it keeps.
type rester interface{ Rest() }

// giveBack lets all go that is found again when it is asked for, and gives the memory back.
func giveBack(all ...rester) func() {
	return func() {
		for _, r := range all {
			r.Rest()
		}
		runtime.GC() // what is kept to serve again is let go at the second
		debug.FreeOSMemory()
	}
}
