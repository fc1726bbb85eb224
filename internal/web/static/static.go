// Package static holds the files served unchanged: the built style sheet, fonts and scripts.
package static

import "embed"

// FS holds the files, by their names below this folder.
//
//go:embed *.css *.js *.svg *.png *.csv *.webmanifest fonts js
var FS embed.FS
