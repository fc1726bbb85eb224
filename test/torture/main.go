// Command torture stresses the built program and counts what it loses: kills under load,
// kills in the middle of an update, a copy, an import and a restore, a disk that fills up, and
// many requests. It uses loopback only, works in a folder of its own, and stops by itself.
// docs/reliability.md holds its results.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"log"
	"math/rand/v2"
	"os"
	"os/signal"
	"time"
)

// part is one kind of mistreatment; it tells what it did and found.
type part struct {
	name string
	run  func(context.Context, *rig) (string, error)
}

// rig is what the parts share.
type rig struct {
	bin, dir string
	r        *rand.Rand
	// rounds, cuts and requests are how much of each is done.
	rounds, cuts, requests int
}

// errLost is returned when something that was acknowledged is gone.
var errLost = errors.New("LOST")

func main() {
	log.SetFlags(0)
	quick := flag.Bool("quick", false, "the two-minute version")
	bin := flag.String("bin", "bin/zephyrfield", "the program")
	seed := flag.Uint64("seed", uint64(time.Now().UnixNano()), "of the moments at which it is killed")
	flag.Parse()
	dir, err := os.MkdirTemp("", "zephyrfield-torture-")
	if err != nil {
		log.Fatal(err)
	}
	// Both a part that ends badly and one that is stopped leave nothing behind.
	defer func() { _ = os.RemoveAll(dir) }()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	defer stop()
	g := &rig{bin: *bin, dir: dir, r: rand.New(rand.NewPCG(*seed, 1)), rounds: 200, cuts: 60, requests: 50_000}
	if *quick {
		g.rounds, g.cuts, g.requests = 25, 8, 4000
	}
	fmt.Printf("seed %d, %s\n", *seed, time.Now().UTC().Format("2006-01-02"))
	bad := false
	for _, p := range []part{
		{"kill −9 under writers, photographs, exports and share-outs", killed},
		{"kills in an update", updates},
		{"kills in a daily copy", copies},
		{"kills in an import", imports},
		{"kills in a restore", restores},
		{"a disk that fills up", fullDisk},
		{"a request that is stuck at the end", stuck},
		{"many requests", level},
	} {
		start := time.Now()
		says, err := p.run(ctx, g)
		if err != nil {
			bad, says = true, says+" FAILED: "+err.Error()
		}
		fmt.Printf("| %s | %s | %s |\n", p.name, says, time.Since(start).Round(100*time.Millisecond))
		if ctx.Err() != nil {
			break
		}
	}
	if bad {
		_ = os.RemoveAll(dir)
		os.Exit(1)
	}
}
