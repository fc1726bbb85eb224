// Package static holds what browsers are given as it is: the built style sheet, fonts and scripts.
package static

import "embed"

// FS holds the files, by their names below this folder.
//
//go:embed *.css *.js *.svg *.png *.csv *.webmanifest fonts js
var FS embed.FS
