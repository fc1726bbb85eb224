package store

import (
	"context"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"zephyrfield/agronomy/quantity"
)

// keepCopies is how many daily copies stay.
const keepCopies = 14

// CopiesDir is the folder beside the garden where its daily copies lie.
func (s *Store) CopiesDir() string {
	return strings.TrimSuffix(s.path, filepath.Ext(s.path)) + ".copies"
}

// DailyCopy writes the day's copy, if there is none yet, and takes away the
// oldest beyond fourteen. It gives the copy's path.
func (s *Store) DailyCopy(ctx context.Context, today quantity.Day) (string, error) {
	dir := s.CopiesDir()
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", err
	}
	to := filepath.Join(dir, today.String()+".db")
	if _, err := os.Stat(to); err != nil {
		// A copy that was cut off must not pass for a whole one.
		part := to + ".part"
		if err := os.Remove(part); err != nil && !os.IsNotExist(err) {
			return "", err
		}
		if err := copyTo(ctx, s.write, part); err != nil {
			return "", err
		}
		if err := os.Chmod(part, 0o600); err != nil {
			return "", err
		}
		if err := os.Rename(part, to); err != nil {
			return "", err
		}
	}
	all, err := s.Copies()
	if err != nil {
		return to, err
	}
	for _, old := range all[min(keepCopies, len(all)):] {
		if err := os.Remove(filepath.Join(dir, old)); err != nil {
			return to, err
		}
	}
	return to, nil
}

// Copies lists the names of the daily copies, newest first.
func (s *Store) Copies() ([]string, error) {
	found, err := filepath.Glob(filepath.Join(s.CopiesDir(), "????-??-??.db"))
	if err != nil {
		return nil, err
	}
	for i := range found {
		found[i] = filepath.Base(found[i])
	}
	sort.Sort(sort.Reverse(sort.StringSlice(found)))
	return found, nil
}
