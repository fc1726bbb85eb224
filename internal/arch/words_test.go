package arch

import (
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// gone are words that the interface no longer says, each with what it says instead.
var gone = map[string]*regexp.Regexp{
	"method, or approach":             regexp.MustCompile(`(?i)\bschools?\b`),
	"backup and files":                regexp.MustCompile(`(?i)\bsafe keeping\b`),
	"delete":                          regexp.MustCompile(`(?i)\b(strike|struck) out\b`),
	"please fix the marked fields":    regexp.MustCompile(`(?i)marked below`),
	"northern or southern hemisphere": regexp.MustCompile(`(?i)half of the earth`),
	"planned":                         regexp.MustCompile(`(?i)\b(put|is|stands?|now) in the year\b|^in the year$`),
	"prepare a bed":                   regexp.MustCompile(`(?i)\bturn(s|ed|ing)?( it)? over\b`),
	"hard to shift, more lime":        regexp.MustCompile(`(?i)\bstubborn`),
	"application":                     regexp.MustCompile(`(?i)\b(two|one|a|the|each|every|next|first) goe?s?\b([^ ]|$)|\bgoes planned\b`),
	"range":                           regexp.MustCompile(`(?i)\b(in|the|its|below|above|under|crop’s) bands?\b`),
	"suitable":                        regexp.MustCompile(`(?i)\bdays? (that )?serves?\b`),
	"usually between, 1 in 10":        regexp.MustCompile(`(?i)times in three|nine in ten|every second|one in twenty`),
	"assumptions, assumed":            regexp.MustCompile(`(?i)taken for granted|what it rests on`),
	"recommended":                     regexp.MustCompile(`(?i)stands? first`),
	"the way out, to remove":          regexp.MustCompile(`(?i)would lift`),
	"falls short by":                  regexp.MustCompile(`(?i)\bunmet\b`),
	"lime value, as pure lime":        regexp.MustCompile(`(?i)lime.s worth|lime or its like`),
	"offset":                          regexp.MustCompile(`(?i)acid to cancel|cancels`),
	"the lab's extraction method":     regexp.MustCompile(`(?i)drawn (out )?with`),
	"as expected, unexplained":        regexp.MustCompile(`(?i)\bas told\b|not named`),
	"compare options":                 regexp.MustCompile(`(?i)try something else|where they lead`),
	"not to be used":                  regexp.MustCompile(`(?i)for no bed`),
	"if you had more, without ash":    regexp.MustCompile(`(?i)next kilo|came to nothing`),
	"adjust by hand, why no more":     regexp.MustCompile(`(?i)own hand|holds ash back`),
	"log, what was put on":            regexp.MustCompile(`(?i)what went on`),
	"correct":                         regexp.MustCompile(`(?i)\bput(s|ting)? (it |one thing )?right\b`),
	"restore, download":               regexp.MustCompile(`(?i)\bput(ting)? (a copy )?back\b|take out the archive`),
	"override, comes first":           regexp.MustCompile(`(?i)\bgoes before\b|\bforenoon\b`),
	"separate depths":                 regexp.MustCompile(`(?i)layers read apart`),
	"edit selected":                   regexp.MustCompile(`(?i)the chosen beds|change the chosen`),
	"shown, learned":                  regexp.MustCompile(`(?i)\b(has|have|had) taught\b`),
	"expected, counted, worked out":   regexp.MustCompile(`(?i)\breckon`),
}

// spoken are the places whose sentences a gardener reads.
var spoken = []string{"agronomy/text", "agronomy/soil", "internal/garden", "internal/layout", "internal/dosing", "internal/readings",
	"internal/schedule", "internal/applications", "internal/exchange", "internal/web", "cmd/zephyrfield"}

var (
	// action is an action or a comment of a template, tag a tag; read aloud are the attributes of words.
	action    = regexp.MustCompile(`(?s)\{\{.*?\}\}`)
	tag       = regexp.MustCompile(`(?s)<[^>]*>`)
	readAloud = regexp.MustCompile(`(?:aria-label|title|alt|placeholder)="([^"]*)"`)
)

func TestGoneWordsAreNotSaid(t *testing.T) {
	said := 0
	look := func(place, text string) {
		said++
		for instead, word := range gone {
			assert.NotRegexp(t, word, text, "%s: say %s", place, instead)
		}
	}
	for _, root := range spoken {
		require.NoError(t, filepath.WalkDir(filepath.Join("../..", root), func(path string, d os.DirEntry, err error) error {
			switch {
			case err != nil || d.IsDir():
			case strings.HasSuffix(path, ".html"):
				raw, err := os.ReadFile(path)
				require.NoError(t, err)
				page := action.ReplaceAllString(string(raw), " ")
				look(path, tag.ReplaceAllString(page, " "))
				for _, words := range readAloud.FindAllStringSubmatch(page, -1) {
					look(path, words[1])
				}
			case strings.HasSuffix(path, ".go") && !strings.HasSuffix(path, "_test.go"):
				sentences(t, path, look)
			}
			return err
		}))
	}
	for _, page := range []string{"README.md", "docs/guide.md"} {
		raw, err := os.ReadFile(filepath.Join("../..", page))
		require.NoError(t, err)
		look(page, string(raw))
	}
	assert.Greater(t, said, 1000)
}

// sentences calls look with the strings of a Go file that hold a space: others are ids.
func sentences(t *testing.T, path string, look func(place, text string)) {
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, path, nil, 0)
	require.NoError(t, err)
	ast.Inspect(file, func(n ast.Node) bool {
		if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
			text, err := strconv.Unquote(lit.Value)
			require.NoError(t, err)
			if strings.Contains(text, " ") && !strings.Contains(text, "SELECT ") {
				look(set.Position(lit.Pos()).String(), text)
			}
		}
		return true
	})
}
