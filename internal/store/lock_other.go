//go:build !unix

package store

import (
	"os"
)

// hold takes no lock on systems without flock: SQLite's own locks then keep two processes apart.
func hold(*os.File) error { return nil }
