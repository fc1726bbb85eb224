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

// heapGrowth is GOGC: half the default, since a small machine has more time than memory to spare.
const heapGrowth = 50

// keepSmall runs first: it limits the heap's growth, unless the environment sets GOGC, and turns
// off memory profiling, whose table takes more than a megabyte.
func keepSmall() {
	runtime.MemProfileRate = 0
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(heapGrowth)
	}
}

// restAfter is how long the server is idle before it returns unneeded memory: it may run for months
// on a small machine.
const restAfter = 20 * time.Second

// resting passes requests on, and returns memory after an idle time.
func resting(ctx context.Context, next http.Handler, after time.Duration, give func()) http.Handler {
	var asked, under atomic.Int64
	asked.Store(1) // the start itself leaves garbage
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

// rester can drop its caches.
type rester interface{ Rest() }

// giveBack drops everything that can be computed again, and returns memory to the system.
func giveBack(all ...rester) func() {
	return func() {
		for _, r := range all {
			r.Rest()
		}
		runtime.GC() // pools are released at the second collection
		debug.FreeOSMemory()
	}
}
