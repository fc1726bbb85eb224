//go:build !unix

package store

import (
	"os"
)

// hold takes no lock where the system has none of this kind: two processes on one
// file are then kept apart by SQLite alone.
func hold(*os.File) error { return nil }
