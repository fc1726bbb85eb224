package main

import (
	"context"
	"fmt"
	"net/http"
	"path/filepath"
	"sync"
	"sync/atomic"
	"time"
)

const writers = 4

// killed serves a garden to four writers, beside photographs, exports and share-outs, and kills it in the middle, again
// and again. What was acknowledged must be there, once; what was sent again under its
// key must not be there twice.
func killed(ctx context.Context, g *rig) (string, error) {
	data := filepath.Join(g.dir, "load", "garden.db")
	if err := mkdir(data); err != nil {
		return "", err
	}
	if err := g.planted(ctx, data); err != nil {
		return "", err
	}
	acked := map[string]bool{}
	var pending []string
	again, lost, photos := 0, 0, 0
	for round := range g.rounds {
		s, err := g.serve(ctx, data)
		if err != nil {
			return "", fmt.Errorf("round %d: %w", round, err)
		}
		// What was under way when it was killed is sent once more, as a phone does.
		for _, note := range pending {
			code, _, err := s.post("/readings", reading(1, note))
			if err != nil || code != http.StatusSeeOther {
				s.kill()
				return "", fmt.Errorf("round %d: sent again: %d %w", round, code, err)
			}
			acked[note], again = true, again+1
		}
		pending = nil
		landed, open := g.load(s, round)
		for _, note := range landed {
			acked[note] = true
		}
		pending = open
		if round%10 == 9 || round == g.rounds-1 {
			there, err := g.notes(ctx, data)
			if err != nil {
				return "", fmt.Errorf("round %d: %w", round, err)
			}
			for note := range acked {
				if there[note] != 1 {
					lost++
				}
			}
			if there[photographs] != there[pictured] {
				return "", fmt.Errorf("round %d: %w: %d photographs of %d", round, errLost, there[photographs], there[pictured])
			}
			photos = there[photographs]
		}
		if ctx.Err() != nil {
			return "", ctx.Err()
		}
	}
	says := fmt.Sprintf("%d kills; %d acknowledged changes, %d of them sent again under their key, %d with a photograph; %d lost or doubled",
		g.rounds, len(acked), again, photos, lost)
	if lost > 0 {
		return says, errLost
	}
	return says, nil
}

// load has the writers post until the program is killed; it gives what was
// acknowledged, and what was under way.
func (g *rig) load(s *served, round int) (landed, open []string) {
	var mu sync.Mutex
	var wg sync.WaitGroup
	var over atomic.Bool
	for w := range writers {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for n := 0; !over.Load(); n++ {
				note := fmt.Sprintf("r%d-w%d-%d", round, w, n)
				code, _, err := s.post("/readings", reading(w+1, note))
				mu.Lock()
				if err == nil && code == http.StatusSeeOther {
					landed = append(landed, note)
				} else if err != nil && w == 0 {
					open = append(open, note)
				}
				mu.Unlock()
				if err != nil {
					return
				}
			}
		}()
	}
	wait := s.beside(round, &over, func(note string) {
		mu.Lock()
		landed = append(landed, note)
		mu.Unlock()
	})
	time.Sleep(time.Duration(150+g.r.IntN(350)) * time.Millisecond)
	s.kill()
	over.Store(true)
	wg.Wait()
	wait()
	return landed, open
}
