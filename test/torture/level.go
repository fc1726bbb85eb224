package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"sync"
	"syscall"
	"time"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/demo"
	"zephyrfield/internal/job"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

// stuck holds a request open and ends the program: it must end within ten seconds,
// with exit code 0.
func stuck(ctx context.Context, g *rig) (string, error) {
	data := filepath.Join(g.dir, "stuck", "garden.db")
	if err := mkdir(data); err != nil {
		return "", err
	}
	s, err := g.serve(ctx, data)
	if err != nil {
		return "", err
	}
	defer s.kill()
	c, err := net.Dial("tcp", s.at)
	if err != nil {
		return "", err
	}
	defer func() { _ = c.Close() }()
	_, _ = fmt.Fprintf(c, "POST /readings HTTP/1.1\r\nHost: %s\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: "+
		"1000\r\n\r\nbed=", s.at)
	time.Sleep(200 * time.Millisecond)
	start := time.Now()
	if err := s.cmd.Process.Signal(syscall.SIGTERM); err != nil {
		return "", err
	}
	<-s.over
	err, took := s.err, time.Since(start)
	switch {
	case err != nil:
		return "", fmt.Errorf("it ended with %w: %s", err, s.says)
	case took > 10*time.Second:
		return "", fmt.Errorf("it took %v", took)
	}
	return fmt.Sprintf("ended after %.1f s with exit code 0", took.Seconds()), nil
}

// gauge is what must stay level.
type gauge struct {
	heap, held float64
	handles    int
	goroutines int
}

func (g gauge) String() string {
	return fmt.Sprintf("heap %.1f MB, held %.0f MB, %d handles, %d goroutines", g.heap, g.held, g.handles, g.goroutines)
}

func read() gauge {
	http.DefaultClient.CloseIdleConnections()
	client.CloseIdleConnections()
	time.Sleep(300 * time.Millisecond)
	runtime.GC()
	debug.FreeOSMemory()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	open, _ := os.ReadDir("/proc/self/fd")
	return gauge{float64(m.HeapAlloc) / (1 << 20), float64(m.Sys-m.HeapReleased) / (1 << 20), len(open), runtime.NumGoroutine()}
}

// level asks the demo garden for its pages, and changes it, many times, and holds
// what it takes against what it took after the first tenth.
func level(ctx context.Context, g *rig) (string, error) {
	data := filepath.Join(g.dir, "level", "garden.db")
	if err := mkdir(data); err != nil {
		return "", err
	}
	st, err := store.Open(ctx, data)
	if err != nil {
		return "", err
	}
	defer func() { _ = st.Close() }()
	if err := demo.Build(ctx, st); err != nil {
		return "", err
	}
	jobs, err := job.NewRunner(ctx, st, time.Now)
	if err != nil {
		return "", err
	}
	defer jobs.Stop()
	h, err := server.New(site.Config{Store: st, Gate: st, Labs: st, Jobs: jobs, Clock: site.NewDemoClock(quantity.Date(2026, 11, 24)),
		Hosts: []string{"127.0.0.1"}, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	if err != nil {
		return "", err
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	serving, end := context.WithCancel(ctx)
	ended := make(chan error, 1)
	go func() { ended <- server.Serve(serving, l, h, "", "") }()
	s := &served{at: l.Addr().String()} // in this very process
	if err := g.ask(s, g.requests/10); err != nil {
		end()
		return "", err
	}
	before := read()
	err = g.ask(s, g.requests-g.requests/10)
	after := read()
	end()
	if err = errors.Join(err, <-ended); err != nil {
		return "", err
	}
	says := fmt.Sprintf("%d requests; after a tenth: %s; at the end: %s", g.requests, before, after)
	if after.goroutines > before.goroutines+8 || after.handles > before.handles+8 || after.heap > before.heap+16 ||
		after.held > before.held+64 {
		return says, errors.New("it grows")
	}
	return says, nil
}

var asked = []string{"/", "/?bed=3", "/sheet", "/beds/2/dose", "/beds/4", "/bench", "/walk", "/keep", "/place", "/crops",
	"/export/plan.geojson", "/export/readings.csv", "/nowhere", "/?on=2027-03-01"}

// ask sends so many requests, by four at a time; one in a hundred is a change.
func (g *rig) ask(s *served, n int) error {
	var wg sync.WaitGroup
	errs := make(chan error, writers)
	for w := range writers {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for i := w; i < n; i += writers {
				code, _, err := 0, "", error(nil)
				if i%100 == 0 {
					code, _, err = s.post("/undo/999999", nil)
				} else {
					code, _, err = s.get(asked[i%len(asked)])
				}
				if err != nil || code >= 500 {
					errs <- fmt.Errorf("request %d: %d %w", i, code, err)
					return
				}
			}
		}()
	}
	wg.Wait()
	close(errs)
	return <-errs
}
