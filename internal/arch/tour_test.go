package arch_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	tourName = regexp.MustCompile("`((?:agronomy|internal|cmd)/[a-z/]+[.]go): ([A-Za-z]+)`")
	tourPath = regexp.MustCompile("`((?:agronomy|internal|cmd)/[a-z/]+(?:[.]go)?)`")
)

// declared returns the names that a file declares: functions, methods, types, variables, constants.
func declared(t *testing.T, file string) map[string]bool {
	t.Helper()
	f, err := parser.ParseFile(token.NewFileSet(), filepath.Join("../..", file), nil, parser.SkipObjectResolution)
	require.NoError(t, err)
	out := map[string]bool{}
	for _, d := range f.Decls {
		switch d := d.(type) {
		case *ast.FuncDecl:
			out[d.Name.Name] = true
		case *ast.GenDecl:
			for _, s := range d.Specs {
				switch s := s.(type) {
				case *ast.TypeSpec:
					out[s.Name.Name] = true
				case *ast.ValueSpec:
					for _, n := range s.Names {
						out[n.Name] = true
					}
				}
			}
		}
	}
	return out
}

func TestTourNamesExist(t *testing.T) {
	text, err := os.ReadFile("../../docs/tour.md")
	require.NoError(t, err)
	names := tourName.FindAllStringSubmatch(string(text), -1)
	assert.Greater(t, len(names), 30)
	for _, m := range names {
		assert.True(t, declared(t, m[1])[m[2]], "%s declares no %s", m[1], m[2])
	}
	for _, m := range tourPath.FindAllStringSubmatch(string(text), -1) {
		_, err := os.Stat(filepath.Join("../..", m[1]))
		assert.NoError(t, err)
	}
}
