// Package migrations embeds the steps that bring a database up to date.
package migrations

import (
	"embed"
)

// FS holds the steps, numbered.
//
//go:embed *.sql
var FS embed.FS
