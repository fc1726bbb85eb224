//go:build ignore

// Command startup measures how long the built program takes from its start to
// its first page, with the demo: the best and the median of ten.
package main

import (
	"fmt"
	"log"
	"net/http"
	"os"
	"os/exec"
	"sort"
	"time"
)

const (
	address = "127.0.0.1:8217"
	rounds  = 10
)

func main() {
	if out, err := exec.Command("sh", "tools/build.sh", "-o", "bin/zephyrfield").CombinedOutput(); err != nil {
		log.Fatalf("%v\n%s", err, out)
	}
	var took []time.Duration
	for range rounds {
		took = append(took, once())
	}
	sort.Slice(took, func(i, j int) bool { return took[i] < took[j] })
	fmt.Printf("start to first page with the demo: best %v, median %v of %d\n", took[0].Round(time.Millisecond),
		took[rounds/2].Round(time.Millisecond), rounds)
}

func once() time.Duration {
	c := exec.Command("bin/zephyrfield", "demo", "--listen", address)
	begin := time.Now()
	if err := c.Start(); err != nil {
		log.Fatal(err)
	}
	defer func() {
		_ = c.Process.Signal(os.Interrupt)
		_ = c.Wait()
	}()
	for time.Since(begin) < 20*time.Second {
		if r, err := http.Get("http://" + address + "/"); err == nil {
			_ = r.Body.Close()
			if r.StatusCode == http.StatusOK {
				return time.Since(begin)
			}
		}
		time.Sleep(2 * time.Millisecond)
	}
	log.Fatal("it did not start")
	return 0
}
