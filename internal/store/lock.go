package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"syscall"
)

// A small file beside the garden's is held by the process that serves it. It says
// who that is, and the number of the garden's file that was served last.
type lockNote struct {
	Number uint32 `json:"file"`
	PID    int    `json:"process"`
	At     string `json:"at"`
}

// lockFile takes the lock, or returns ErrServed with the process that has it.
func lockFile(path, at string) (*os.File, error) {
	f, err := os.OpenFile(path+lockEnd, os.O_CREATE|os.O_RDWR, ownFile)
	if err != nil {
		return nil, asFault(err)
	}
	was := readNote(f)
	if err := hold(f); err != nil {
		who := fmt.Errorf("%s: %w (process %d, at %s); stop that one first", filepath.Base(path), ErrServed, was.PID, was.At)
		return nil, errors.Join(who, f.Close())
	}
	// The number that was noted stays until the file has been looked at.
	if err := writeNote(f, lockNote{was.Number, os.Getpid(), at}); err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return f, nil
}

func readNote(f *os.File) (n lockNote) {
	raw, err := io.ReadAll(io.NewSectionReader(f, 0, 4096))
	if err == nil {
		_ = json.Unmarshal(raw, &n) // an empty one says nothing
	}
	return n
}

func writeNote(f *os.File, n lockNote) error {
	raw, err := json.Marshal(n)
	if err != nil {
		return err
	}
	raw = append(raw, '\n')
	// Over what was there, then cut: on a full disk it keeps its room.
	if _, err = f.WriteAt(raw, 0); err == nil {
		err = f.Truncate(int64(len(raw)))
	}
	if errors.Is(err, syscall.ENOSPC) {
		return nil // a full disk keeps nobody from the garden
	}
	return errors.Join(err, f.Sync())
}

func noteServed(f *os.File, number uint32) error {
	n := readNote(f)
	if n.Number == number {
		return nil
	}
	n.Number = number
	return writeNote(f, n)
}

// servedNumber returns the number of the file that was last served under this name, 0 when none was
// noted.
func servedNumber(path string) uint32 {
	f, err := os.Open(path + lockEnd)
	if err != nil {
		return 0
	}
	defer func() { _ = f.Close() }()
	return readNote(f).Number
}

// served reports whether a process serves the file.
func served(path string) bool {
	f, err := os.OpenFile(path+lockEnd, os.O_RDWR, ownFile)
	if err != nil {
		return false
	}
	defer func() { _ = f.Close() }()
	return hold(f) != nil
}
