//go:build unix

package store

import (
	"os"
	"syscall"
)

// hold takes an exclusive lock on a file until it is closed; ok is false when another process has it.
func hold(f *os.File) error { return syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) }
