//go:build unix

package store

import (
	"os"
	"syscall"
)

// hold takes the lock on a file until it is closed, or tells that another has it.
func hold(f *os.File) error { return syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) }
