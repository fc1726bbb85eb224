// Package arch tests the structure of the code: imports, sizes, templates, style sheets, the tour.
package arch

import (
	"go/parser"
	"go/token"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

const module = "zephyrfield/"

// core lists the core in import order: each may import those before it.
var core = []string{"quantity", "working", "soil", "crop", "material", "ledger", "forecast", "simulate", "calendar", "bed", "guard",
	"dose", "bedprep",
	"symptom", "allocate", "sampling", "text"}

// imports lists the imports of every package below a folder, without tests.
func imports(t *testing.T, root string) map[string][]string {
	t.Helper()
	out := map[string][]string{}
	err := filepath.WalkDir(root, func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(p, ".go") || strings.HasSuffix(p, "_test.go") {
			return err
		}
		f, err := parser.ParseFile(token.NewFileSet(), p, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		dir := filepath.ToSlash(filepath.Dir(p))
		for _, i := range f.Imports {
			name, err := strconv.Unquote(i.Path.Value)
			if err != nil {
				return err
			}
			out[dir] = append(out[dir], name)
		}
		return nil
	})
	require.NoError(t, err)
	require.NotEmpty(t, out)
	return out
}

func rank(name string) int {
	for i, n := range core {
		if n == name {
			return i
		}
	}
	return -1
}

func TestCoreImports(t *testing.T) {
	for dir, names := range imports(t, "../../agronomy") {
		at := rank(filepath.Base(dir))
		require.GreaterOrEqual(t, at, 0, "%s has no place in the order of the core", dir)
		for _, n := range names {
			if rest, ok := strings.CutPrefix(n, module); ok {
				name, ok := strings.CutPrefix(rest, "agronomy/")
				require.True(t, ok, "%s imports %s", dir, n)
				require.Less(t, rank(name), at, "%s imports %s, which comes after it", dir, n)
				continue
			}
			first, _, _ := strings.Cut(n, "/")
			if strings.Contains(first, ".") {
				require.True(t, strings.HasPrefix(n, "gonum.org/"), "%s imports %s", dir, n)
			}
			for _, not := range []string{"os", "io", "io/fs", "net", "net/http", "database/sql", "database/sql/driver", "math/rand",
				"math/rand/v2", "html/template", "log", "log/slog"} {
				require.NotEqual(t, not, n, "%s does input or output, or draws chance", dir)
			}
		}
	}
}

func TestCoreReadsNoClock(t *testing.T) {
	err := filepath.WalkDir("../../agronomy", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasSuffix(p, "_test.go") {
			return err
		}
		b, err := os.ReadFile(p)
		require.NoError(t, err)
		require.NotContains(t, string(b), "time.Now(", p)
		return nil
	})
	require.NoError(t, err)
}

// work are the use case packages, which build on garden and bedstate.
var work = []string{"internal/bedstate", "internal/dosing", "internal/schedule", "internal/applications", "internal/readings",
	"internal/rounds", "internal/layout",
	"internal/inventory", "internal/spreading", "internal/preparation", "internal/outlook", "internal/onboarding", "internal/observation"}

// outside lists the project imports allowed to each package around the core.
var outside = map[string][]string{
	"internal/cache":             {},
	"internal/bounded":           {},
	"internal/bounded/peak":      {},
	"internal/garden":            {"internal/cache"},
	"internal/bedstate":          {"internal/cache", "internal/garden"},
	"internal/dosing":            {"internal/cache", "internal/garden", "internal/bedstate"},
	"internal/schedule":          {"internal/garden", "internal/bedstate"},
	"internal/applications":      {"internal/garden", "internal/bedstate", "internal/schedule"},
	"internal/spreading":         {"internal/garden", "internal/dosing", "internal/applications", "internal/schedule"},
	"internal/preparation":       {"internal/garden", "internal/bedstate"},
	"internal/outlook":           {"internal/cache", "internal/garden", "internal/bedstate", "internal/applications"},
	"internal/readings":          {"internal/garden", "internal/bedstate"},
	"internal/photo":             {"internal/garden"},
	"internal/observation":       {"internal/garden", "internal/photo"},
	"internal/onboarding":        {"internal/garden", "internal/readings"},
	"internal/inventory":         {"internal/garden"},
	"internal/rounds":            {"internal/cache", "internal/garden", "internal/bedstate"},
	"internal/layout":            {"internal/garden", "internal/bedstate"},
	"internal/app":               slices.Concat(work, []string{"internal/garden"}),
	"internal/job":               {},
	"internal/store":             {"internal/cache", "internal/garden", "internal/job", "internal/store/migrations"},
	"internal/store/migrations":  {"internal/garden"},
	"internal/exchange/dosejson": {},
	"internal/exchange": {"internal/bounded", "internal/garden", "internal/exchange/dosejson", "internal/layout",
		"internal/bedstate", "internal/readings", "internal/rounds",
		"internal/applications", "internal/schedule", "internal/outlook"},
	"internal/gardentest":     slices.Concat(work, []string{"internal/garden", "internal/app", "internal/store", "internal/web/present"}),
	"internal/demo":           {"internal/garden", "internal/exchange"},
	"internal/web/fact":       {"internal/garden"},
	"internal/web/svg":        {"internal/garden", "internal/bedstate", "internal/schedule", "internal/outlook", "internal/web/fact"},
	"internal/web/view":       {"internal/web/svg"},
	"internal/web/form":       {"internal/garden", "internal/web/view"},
	"internal/web/components": {"internal/web/view"},
	"internal/instrument":     {"internal/bounded"},
	"internal/web/static":     {},
	"internal/web/site": slices.Concat(work, []string{"internal/cache", "internal/garden", "internal/instrument", "internal/job",
		"internal/app", "internal/web/components", "internal/web/form", "internal/web/svg", "internal/web/view"}),
	"internal/web/present": slices.Concat(work, []string{"internal/exchange", "internal/exchange/dosejson", "internal/garden", "internal/job",
		"internal/web/fact", "internal/web/form", "internal/web/site", "internal/web/svg", "internal/web/view"}),
	"internal/web/webtest": slices.Concat(work, []string{"internal/garden", "internal/app", "internal/demo", "internal/instrument",
		"internal/job", "internal/store", "internal/web/present", "internal/web/server", "internal/web/site"}),
	"internal/web/server": {"internal/exchange", "internal/garden", "internal/web/components", "internal/web/form", "internal/web/site",
		"internal/web/static", "internal/web/view"},
	"test/torture": slices.Concat(work, []string{"internal/garden", "internal/demo", "internal/job", "internal/store",
		"internal/store/migrations", "internal/web/present", "internal/web/server", "internal/web/site"}),
	"cmd/zephyrfield": slices.Concat(work, []string{"internal/garden", "internal/exchange", "internal/exchange/dosejson", "internal/demo",
		"internal/instrument", "internal/job",
		"internal/store", "internal/web/pages/soiltemps", "internal/web/present", "internal/web/server", "internal/web/site"}),
}

// ofPages are a page's allowed imports, besides pages whose parts it shows.
var (
	pages   = "internal/web/pages/"
	ofPages = slices.Concat(work, []string{"internal/exchange", "internal/exchange/dosejson", "internal/garden", "internal/instrument",
		"internal/job", "internal/photo", "internal/web/fact", "internal/web/form", "internal/web/present", "internal/web/site",
		"internal/web/static",
		"internal/web/svg", "internal/web/view"})
	besides = map[string][]string{"beds": {"ground"}, "onboarding": {"bedform", "bench"}, "many": {"beds"}, "mix": {"dose"},
		"round": {"bench"}, "tour": {"bench"}, "compare": {"mix"}, "preparation": {"daysheet"}}
)

// may returns what a package may import; false where it has no rule.
func may(pkg string) ([]string, bool) {
	if page, ok := strings.CutPrefix(pkg, pages); ok {
		all := slices.Clone(ofPages)
		for _, b := range besides[page] {
			all = append(all, pages+b)
		}
		return all, true
	}
	list, known := outside[pkg]
	return list, known
}

func TestImports(t *testing.T) {
	all := imports(t, "../../internal")
	for _, top := range []string{"../../cmd", "../../test"} {
		maps.Copy(all, imports(t, top))
	}
	for dir, names := range all {
		pkg := strings.TrimPrefix(dir, "../../")
		list, known := may(pkg)
		require.True(t, known, "%s has no rule yet", pkg)
		for _, n := range names {
			rest, ours := strings.CutPrefix(n, module)
			if !ours || strings.HasPrefix(rest, "agronomy/") {
				continue
			}
			if pkg == "internal/web/server" && strings.HasPrefix(rest, pages) {
				continue // the one list of routes
			}
			require.Contains(t, list, rest, "%s may not import %s", pkg, n)
		}
	}
}

func TestSQLOnlyInStore(t *testing.T) {
	for dir, names := range imports(t, "../../internal") {
		if strings.Contains(dir, "internal/store") {
			continue
		}
		for _, n := range names {
			require.NotContains(t, n, "sqlx", dir)
			require.NotEqual(t, "database/sql", n, dir)
		}
	}
}
