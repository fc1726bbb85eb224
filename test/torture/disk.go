package main

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
)

// smallDisk is how large the disk is that fills up.
const smallDisk = "6m"

// fullDisk serves a garden on a small disk until it is full, makes room and goes on.
func fullDisk(ctx context.Context, g *rig) (string, error) {
	at := filepath.Join(g.dir, "disk")
	if err := os.MkdirAll(at, 0o700); err != nil {
		return "", err
	}
	if out, err := exec.CommandContext(ctx, "mount", "-t", "tmpfs", "-o", "size="+smallDisk, "none", at).CombinedOutput(); err != nil {
		return "left out: no small disk can be made here (" + strings.TrimSpace(string(out)) + ")", nil
	}
	defer func() { _ = exec.Command("umount", "-l", at).Run() }()
	data, filler := filepath.Join(at, "garden.db"), filepath.Join(at, "filler")
	if err := g.planted(ctx, data); err != nil {
		return "", err
	}
	if err := os.WriteFile(filler, make([]byte, 1<<20), 0o600); err != nil {
		return "", err
	}
	s, err := g.serve(ctx, data)
	if err != nil {
		return "", err
	}
	defer func() { s.kill() }()
	acked := map[string]bool{}
	if err := fills(s, acked); err != nil {
		return "", err
	}
	full := len(acked)
	s.kill()
	if s, err = noRoom(ctx, g, at, data); err != nil {
		return "", err
	}
	if err := errors.Join(os.Remove(filler), os.Remove(filepath.Join(at, "more"))); err != nil {
		return "", err
	}
	if code, body, err := sent(s, acked, "after", 50); err != nil || code != http.StatusSeeOther {
		return "", errors.Join(err, fmt.Errorf("with room again: %d %.200s", code, body))
	}
	if err := s.stop(); err != nil {
		return "", fmt.Errorf("stopping: %w: %s", err, s.says)
	}
	if err := g.allThere(ctx, data, acked); err != nil {
		return "", err
	}
	if err := g.readOnly(ctx, at, data); err != nil {
		return "", err
	}
	return fmt.Sprintf("full after %d changes, told with 507; pages went on, it started again without room and said so, and took %d "+
		"more once there was room; none lost; one that cannot be written to is told", full, len(acked)-full), nil
}

// sent sends readings until one is refused, at most so many; the notes of those that were taken are kept in acked.
func sent(s *served, acked map[string]bool, prefix string, most int) (code int, body string, err error) {
	for n := range most {
		note := fmt.Sprintf("%s-%d", prefix, n)
		form := reading(1, note)
		form.Set("struck", strings.Repeat("x", 100))
		if code, body, err = s.post("/readings", form); err != nil || code != http.StatusSeeOther {
			return code, body, err
		}
		acked[note] = true
	}
	return code, body, nil
}

// fills sends readings until the disk is full: that must be reported, and pages must go on.
func fills(s *served, acked map[string]bool) error {
	code, body, err := sent(s, acked, "before", 20_000)
	if err != nil || code != http.StatusInsufficientStorage || !strings.Contains(body, "The disk is full") {
		return errors.Join(err, fmt.Errorf("a full disk answered %d: %.200s", code, body))
	}
	if code, _, err := s.get("/sheet"); err != nil || code != http.StatusOK {
		return errors.Join(err, fmt.Errorf("a page on a full disk answered %d", code))
	}
	return nil
}

// noRoom starts the program where there is no room for the daily copy: it must serve and say so.
func noRoom(ctx context.Context, g *rig, at, data string) (*served, error) {
	for _, c := range mustGlob(filepath.Join(at, "garden.db.copies", "*")) {
		_ = os.Remove(c)
	}
	_ = os.WriteFile(filepath.Join(at, "more"), make([]byte, 8<<20), 0o600) // until it is full again
	s, err := g.serve(ctx, data)
	if err != nil {
		return nil, fmt.Errorf("starting without room: %w", err)
	}
	code, body, err := s.get("/keep")
	if err != nil || code != http.StatusOK || !strings.Contains(body, "copy could not be written") {
		s.kill()
		return nil, errors.Join(err, fmt.Errorf("starting without room says nothing: %d", code))
	}
	return s, nil
}

// allThere returns the sentence that every reading that was taken stands in the file, once.
func (g *rig) allThere(ctx context.Context, data string, acked map[string]bool) error {
	there, err := g.notes(ctx, data)
	if err != nil {
		return err
	}
	for note := range acked {
		if there[note] != 1 {
			return fmt.Errorf("%w: %s", errLost, note)
		}
	}
	return nil
}

// readOnly starts the program on a disk that cannot be written to: it must say so.
func (g *rig) readOnly(ctx context.Context, at, data string) error {
	if out, err := exec.CommandContext(ctx, "mount", "-o", "remount,ro", at).CombinedOutput(); err != nil {
		return fmt.Errorf("making it one that cannot be written to: %s", out)
	}
	s, err := g.serve(ctx, data)
	if err == nil {
		s.kill()
		return errors.New("it starts where nothing can be written")
	}
	if !strings.Contains(err.Error(), "cannot be written to") {
		return fmt.Errorf("where nothing can be written: %w", err)
	}
	return nil
}

func mustGlob(pattern string) []string {
	found, _ := filepath.Glob(pattern) // the pattern is a good one
	return found
}
