package text

import (
	"go/ast"
	"go/parser"
	"go/token"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// plain are figures in sentences that no table of the core holds: parts of names,
// of sums and of first aid.
var plain = regexp.MustCompile(`Aitken, Moody & McKinley 1990|OM/1\.72|1950s|15 minutes|for [78] in\b|1 short ton|1 g( |$)|in 100 would|` +
	`1 \+ |\(1 − |× 1000|pH unit / 1000|100/\(|\(100 − |Mehlich-3|365 days|52 weeks|[0-9]%|%[-+.0-9]*[a-z]|^1 $|2 to the`)

// id is how ids are written.
var id = regexp.MustCompile(`^[a-z0-9.-]+$`)

var digit = regexp.MustCompile(`[0-9]`)

// literals returns the texts in the package's own files.
func literals(t *testing.T, skip ...string) (out []string) {
	files, err := filepath.Glob("*.go")
	require.NoError(t, err)
	for _, name := range files {
		if strings.HasSuffix(name, "_test.go") || slices.Contains(skip, name) {
			continue
		}
		f, err := parser.ParseFile(token.NewFileSet(), name, nil, 0)
		require.NoError(t, err)
		ast.Inspect(f, func(n ast.Node) bool {
			if l, ok := n.(*ast.BasicLit); ok && l.Kind == token.STRING {
				s, err := strconv.Unquote(l.Value)
				require.NoError(t, err)
				out = append(out, s)
			}
			return true
		})
	}
	return out
}

func TestNoSentenceRestatesAFigure(t *testing.T) {
	all := literals(t, "units.go", "format.go", "facts.go")
	require.Greater(t, len(all), 500)
	for _, s := range all {
		if !id.MatchString(s) {
			left := plain.ReplaceAllString(named.ReplaceAllString(s, ""), "")
			assert.False(t, digit.MatchString(left), "%q restates a figure; put the core’s own into facts", s)
		}
	}
}

// named finds the facts that a text names.
var named = regexp.MustCompile(`\{([A-Za-z0-9 -]+)\}`)

func TestEveryFactIsUsedAndDefined(t *testing.T) {
	used := map[string]bool{}
	for _, s := range literals(t) {
		for _, m := range named.FindAllStringSubmatch(s, -1) {
			used[m[1]] = true
			assert.Contains(t, facts, m[1])
		}
	}
	for name, f := range facts {
		assert.True(t, used[name], "no sentence speaks of %q", name)
		assert.NotEmpty(t, f(Units{}), name)
	}
}

func TestFactsInReadersUnits(t *testing.T) {
	assert.Equal(t, "the top 5 cm, never more than 75 g/m², {nothing} and {",
		Units{}.say("the top {top layer}, never more than {dusting}, {nothing} and {"))
	imperial := Units{DepthIn: "in", RateIn: "lb/1000 ft²"}
	assert.NotEqual(t, Units{}.say("{top layer} {dusting}"), imperial.say("{top layer} {dusting}"))
}
