package arch_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Limits: lines per file, lines per function, characters per line.
const (
	fileLines     = 500
	functionLines = 60
	lineSigns     = 140
)

// written are the kinds of files that people write; built ends the name of one that is
// built, or copied from elsewhere.
var (
	written = []string{".go", ".html", ".css", ".js", ".mjs"}
	built   = []string{filepath.Join("static", "app.css"), ".min.js"}
)

// sources calls do with every hand-written file.
func sources(t *testing.T, do func(path, text string)) (n int) {
	t.Helper()
	for _, top := range []string{"agronomy", "cmd", "internal", "test", "e2e", "tools"} {
		require.NoError(t, filepath.WalkDir(filepath.Join("..", "..", top), func(path string, d fs.DirEntry, err error) error {
			ends := func(end string) bool { return strings.HasSuffix(path, end) }
			if err != nil || d.IsDir() || !slices.Contains(written, filepath.Ext(path)) || slices.ContainsFunc(built, ends) {
				return err
			}
			text, err := os.ReadFile(path)
			n++
			do(path, string(text))
			return err
		}))
	}
	return n
}

func TestFileAndLineLength(t *testing.T) {
	n := sources(t, func(path, text string) {
		lines := strings.Split(strings.TrimSuffix(text, "\n"), "\n")
		assert.LessOrEqual(t, len(lines), fileLines, path)
		for i, l := range lines {
			assert.LessOrEqual(t, utf8.RuneCountInString(l), lineSigns, "%s:%d", path, i+1)
		}
	})
	assert.Greater(t, n, 200, "the files were found")
}

func TestFunctionLength(t *testing.T) {
	n := 0
	sources(t, func(path, text string) {
		if filepath.Ext(path) != ".go" {
			return
		}
		set := token.NewFileSet()
		file, err := parser.ParseFile(set, path, text, parser.SkipObjectResolution)
		require.NoError(t, err)
		for _, d := range file.Decls {
			if f, ok := d.(*ast.FuncDecl); ok && f.Body != nil {
				n++
				lines := set.Position(f.Body.Rbrace).Line - set.Position(f.Pos()).Line + 1
				assert.LessOrEqual(t, lines, functionLines, "%s: %s", path, f.Name.Name)
			}
		}
	})
	assert.Greater(t, n, 1500, "the functions were found")
}
