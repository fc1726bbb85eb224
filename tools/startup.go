//go:build ignore

// Command startup measures the time from start to first page, the best and the median of ten: with
// the demo, whose file is created each time, and with the demo's records in a garden of one's own.
package main

import (
	"fmt"
	"io"
	"log"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"time"
)

const (
	program = "bin/zephyrfield"
	address = "127.0.0.1:8217"
	rounds  = 10
)

func main() {
	if out, err := exec.Command("sh", "tools/build.sh", "-o", program).CombinedOutput(); err != nil {
		log.Fatalf("%v\n%s", err, out)
	}
	dir, err := os.MkdirTemp("", "startup-")
	if err != nil {
		log.Fatal(err)
	}
	defer func() { _ = os.RemoveAll(dir) }()
	own := filepath.Join(dir, "garden.db")
	if err := keepDemo(own); err != nil {
		log.Fatal(err)
	}
	measure("a garden of one's own", "serve", "--data", own)
	measure("the demo", "demo")
}

// keepDemo writes the demo's records to a file.
func keepDemo(path string) error {
	c, _, err := start("demo")
	if err != nil {
		return err
	}
	defer stop(c)
	r, err := http.Get("http://" + address + "/export/garden.json")
	if err != nil {
		return err
	}
	defer func() { _ = r.Body.Close() }()
	in := exec.Command(program, "import", "--data", path)
	in.Stdin = r.Body
	if out, err := in.CombinedOutput(); err != nil {
		return fmt.Errorf("import: %w\n%s", err, out)
	}
	return nil
}

func measure(what string, args ...string) {
	var took []time.Duration
	for range rounds {
		c, d, err := start(args...)
		if err != nil {
			log.Fatal(err)
		}
		stop(c)
		took = append(took, d)
	}
	sort.Slice(took, func(i, j int) bool { return took[i] < took[j] })
	fmt.Printf("start to first page, %s: best %v, median %v of %d\n", what, took[0].Round(time.Millisecond),
		took[rounds/2].Round(time.Millisecond), rounds)
}

// start runs the program and waits for its first page.
func start(args ...string) (*exec.Cmd, time.Duration, error) {
	c := exec.Command(program, append(args, "--listen", address)...)
	begin := time.Now()
	if err := c.Start(); err != nil {
		return nil, 0, err
	}
	for time.Since(begin) < 20*time.Second {
		if r, err := http.Get("http://" + address + "/"); err == nil {
			_, _ = io.Copy(io.Discard, r.Body)
			_ = r.Body.Close()
			if r.StatusCode == http.StatusOK {
				return c, time.Since(begin), nil
			}
		}
		time.Sleep(2 * time.Millisecond)
	}
	stop(c)
	return nil, 0, fmt.Errorf("no page within 20 s of %v", c.Args)
}

func stop(c *exec.Cmd) {
	_ = c.Process.Signal(os.Interrupt)
	_ = c.Wait()
}
