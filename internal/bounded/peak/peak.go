// Package peak measures how much memory a piece of work takes, for tests of bounds.
package peak

import (
	"runtime"
	"runtime/debug"
	"runtime/metrics"
	"sync/atomic"
	"testing"
	"time"
)

// MB is a megabyte.
const MB = 1 << 20

// every is how often the heap is looked at.
const every = time.Millisecond

// Of returns by how many bytes the heap was above its start at the most while f ran. Garbage is collected often
// meanwhile, so that what is measured is what f holds.
func Of(t testing.TB, f func()) int64 {
	t.Helper()
	defer debug.SetGCPercent(debug.SetGCPercent(10))
	runtime.GC()
	before := objects()
	var most atomic.Int64
	done, ended := make(chan bool), make(chan bool)
	go func() {
		defer close(ended)
		tick := time.NewTicker(every)
		defer tick.Stop()
		for {
			most.Store(max(most.Load(), objects()-before))
			select {
			case <-done:
				return
			case <-tick.C:
			}
		}
	}()
	began := time.Now()
	f()
	took := time.Since(began)
	close(done)
	<-ended
	t.Logf("%d MB at the most, %v", most.Load()/MB, took.Round(time.Millisecond))
	return most.Load()
}

func objects() int64 {
	s := []metrics.Sample{{Name: "/memory/classes/heap/objects:bytes"}}
	metrics.Read(s)
	return int64(s[0].Value.Uint64())
}
