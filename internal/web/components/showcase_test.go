package components_test

import (
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	definition = regexp.MustCompile(`(?s)\{\{define "([a-z-]+)"\}\}`)
	invocation = regexp.MustCompile(`\{\{-? ?template "([a-z-]+)"`)
)

// notShown need more than an example: the page before there is a garden, fields that are hidden, the
// halves of a season's picture, which its own page joins.
var notShown = []string{"bare", "carried", "panel-back", "panel-front", "panel-points"}

func TestShowcaseShowsEveryComponent(t *testing.T) {
	calls := map[string][]string{}
	var all []string
	for _, pattern := range []string{"*.html", "../pages/showcase/*.html"} {
		files, err := filepath.Glob(pattern)
		require.NoError(t, err)
		require.NotEmpty(t, files)
		for _, file := range files {
			text, err := os.ReadFile(file)
			require.NoError(t, err)
			at := definition.FindAllSubmatchIndex(text, -1)
			for i, m := range at {
				name, end := string(text[m[2]:m[3]]), len(text)
				if i+1 < len(at) {
					end = at[i+1][0]
				}
				for _, c := range invocation.FindAllSubmatch(text[m[1]:end], -1) {
					calls[name] = append(calls[name], string(c[1]))
				}
				all = append(all, name)
			}
		}
	}
	shown := map[string]bool{}
	var show func(name string)
	show = func(name string) {
		if !shown[name] {
			shown[name] = true
			for _, c := range calls[name] {
				show(c)
			}
		}
	}
	show("layout")
	for _, name := range all {
		assert.Equal(t, slices.Contains(notShown, name), !shown[name], name)
	}
}
