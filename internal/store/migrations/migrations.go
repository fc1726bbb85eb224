// Package migrations embeds the migrations of the database schema.
package migrations

import (
	"embed"
)

// FS holds the steps, numbered.
//
//go:embed *.sql
var FS embed.FS
