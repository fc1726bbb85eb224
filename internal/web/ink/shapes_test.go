package ink_test

import (
	"go/ast"
	"go/constant"
	"go/parser"
	"go/token"
	"go/types"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every mark that the pages write has as many parts as places, and each place stands in the
// text or within quotes: what a rare branch writes is checked as well as what each page writes.
func TestEveryShapeThatIsWrittenIsWhole(t *testing.T) {
	shapes := 0
	err := filepath.WalkDir("..", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(p, ".go") || strings.HasSuffix(p, "_test.go") {
			return err
		}
		files := token.NewFileSet()
		f, err := parser.ParseFile(files, p, nil, 0)
		if err != nil {
			return err
		}
		ast.Inspect(f, func(n ast.Node) bool {
			call, ok := n.(*ast.CallExpr)
			if !ok || len(call.Args) == 0 || call.Ellipsis.IsValid() {
				return true
			}
			if to, ok := call.Fun.(*ast.SelectorExpr); !ok || to.Sel.Name != "Put" {
				return true
			}
			at := files.Position(call.Pos())
			tv, err := types.Eval(files, nil, token.NoPos, written(call.Args[0]))
			if err != nil || tv.Value == nil || tv.Value.Kind() != constant.String {
				return true // another Put
			}
			shapes++
			shape := constant.StringVal(tv.Value)
			assert.Equal(t, strings.Count(shape, "%"), len(call.Args)-1, "%s: %s", at, shape)
			for i, before := range strings.Split(shape, "%") {
				if open := strings.LastIndexByte(before, '<'); i < strings.Count(shape, "%") && open > strings.LastIndexByte(before, '>') {
					assert.Equal(t, 1, strings.Count(before[open:], `"`)%2, "%s: not within quotes: %s", at, shape)
				}
			}
			return true
		})
		return nil
	})
	require.NoError(t, err)
	assert.Greater(t, shapes, 100)
}

// written is a constant of strings put together, as it stands in the source.
func written(e ast.Expr) string {
	switch x := e.(type) {
	case *ast.BasicLit:
		return x.Value
	case *ast.BinaryExpr:
		return written(x.X) + "+" + written(x.Y)
	}
	return "false"
}
