package arch_test

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// componentLines is the limit of the component layer: smaller things use utilities in templates.
const componentLines = 400

var (
	remark    = regexp.MustCompile(`(?s)/\*.*?\*/`)
	action    = regexp.MustCompile(`(?s)\{\{.*?\}\}`)
	classOf   = regexp.MustCompile(`class="((?s:\{\{.*?\}\}|[^"])*)"`)
	styled    = regexp.MustCompile(`\.([A-Za-z](?:[\w-]|\\.)*)`)
	selected  = regexp.MustCompile(`\.((?:[\w@-]|\\.)+)`)
	oneWord   = regexp.MustCompile(`[A-Za-z][\w-]*`)
	pieced    = regexp.MustCompile(`([A-Za-z][\w-]*-)(?:\{\{|")`)
	looksLike = regexp.MustCompile(`url\([^)]*\)|[^{};]*\.(?:css|html)"|@apply[^;]*;`)
)

// commentLine is a line of Go or JavaScript that holds only a comment, whose words name no class.
var commentLine = regexp.MustCompile(`(?m)^\s*//.*$`)

// read joins the files that match, below the root of the repository, without comment lines.
func read(t *testing.T, patterns ...string) string {
	t.Helper()
	var b strings.Builder
	for _, p := range patterns {
		files, err := filepath.Glob(filepath.Join("..", "..", filepath.FromSlash(p)))
		require.NoError(t, err)
		require.NotEmpty(t, files, p)
		for _, f := range files {
			text, err := os.ReadFile(f)
			require.NoError(t, err)
			b.Write(commentLine.ReplaceAll(text, nil))
		}
	}
	return b.String()
}

func set(words []string) map[string]bool {
	out := map[string]bool{}
	for _, w := range words {
		out[w] = true
	}
	return out
}

func templates(t *testing.T) string {
	t.Helper()
	return read(t, "internal/web/components/*.html", "internal/web/site/*.html", "internal/web/server/*.html", "internal/web/pages/*/*.html")
}

func scripts(t *testing.T) string {
	t.Helper()
	return read(t, "internal/web/static/app.js", "internal/web/static/queue.js", "internal/web/static/js/*.js")
}

func TestComponentsFitInOneLayer(t *testing.T) {
	lines := strings.Count(read(t, "internal/web/assets/components.css"), "\n")
	assert.LessOrEqual(t, lines, componentLines)
	assert.Greater(t, lines, 100, "they were found")
}

// A style rule must be used by some element.
func TestEveryStyledClassIsUsed(t *testing.T) {
	sources := templates(t) + scripts(t) +
		read(t, "internal/web/*/*.go", "internal/web/pages/*/*.go", "agronomy/*/*.go")
	words := set(oneWord.FindAllString(sources, -1))
	// Some names are put together: "k-{{.ID}}" in a template, "stake-" + kind in Go.
	starts := map[string]bool{}
	for _, m := range pieced.FindAllStringSubmatch(sources, -1) {
		starts[m[1]] = true
	}
	borne := func(class string) bool {
		for i, r := range class {
			if r == '-' && starts[class[:i+1]] {
				return true
			}
		}
		return words[class]
	}
	n := 0
	sheets := looksLike.ReplaceAllString(remark.ReplaceAllString(read(t, "internal/web/assets/*.css"), ""), "")
	for _, m := range styled.FindAllStringSubmatch(sheets, -1) {
		n++
		assert.True(t, borne(m[1]), "nothing bears the class %s", m[1])
	}
	assert.Greater(t, n, 300, "the classes were found")
}

// A class without style, script or test is a typo.
func TestEveryUsedClassIsStyledOrQueried(t *testing.T) {
	known := map[string]bool{}
	for _, m := range selected.FindAllStringSubmatch(read(t, "internal/web/static/app.css"), -1) {
		known[strings.ReplaceAll(m[1], `\`, "")] = true
	}
	asked := set(oneWord.FindAllString(scripts(t)+read(t, "e2e/*.js", "internal/web/*/*_test.go", "internal/web/pages/*/*_test.go"), -1))
	n := 0
	for _, m := range classOf.FindAllStringSubmatch(templates(t), -1) {
		// Class names composed in templates are listed in Go.
		said := regexp.MustCompile(`[\w-]*\{\{-?\s*\.[^}]*\}\}[\w-]*`).ReplaceAllString(m[1], " ")
		for _, class := range strings.Fields(action.ReplaceAllString(said, " ")) {
			n++
			if strings.Contains(class, "content-") {
				continue // letters beyond ASCII are written otherwise in the sheet
			}
			assert.True(t, known[class] || asked[class], "nothing draws the class %s", class)
		}
	}
	assert.Greater(t, n, 1500, "the classes were found")
}
