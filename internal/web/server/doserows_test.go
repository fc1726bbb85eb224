package server_test

import (
	"net/http"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
)

// piece is an element of a page, with its classes and what it says.
type piece struct {
	*html.Node
	class, says string
}

func attr(n *html.Node, name string) (string, bool) {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val, true
		}
	}
	return "", false
}

// pieces are the elements under a node that bear a class, in their order.
func pieces(n *html.Node, class string) (out []piece) {
	for x := range n.Descendants() {
		has, _ := attr(x, "class")
		if x.Type != html.ElementNode || !strings.Contains(" "+has+" ", " "+class+" ") {
			continue
		}
		var says strings.Builder
		for d := range x.Descendants() {
			if d.Type == html.TextNode {
				says.WriteString(d.Data)
			}
		}
		out = append(out, piece{x, has, strings.Join(strings.Fields(says.String()), " ")})
	}
	return out
}

func (s *harness) page(path string) *html.Node {
	s.t.Helper()
	w := s.get(path)
	require.Equal(s.t, http.StatusOK, w.Code)
	n, err := html.Parse(w.Body)
	require.NoError(s.t, err)
	return n
}

// named finds the piece that is called so.
func named(t *testing.T, list []piece, name string) piece {
	t.Helper()
	for _, p := range list {
		for _, n := range pieces(p.Node, "name") {
			if n.says == name {
				return p
			}
		}
	}
	require.Fail(t, "no such row", name)
	return piece{}
}

func TestAWayOfADoseSaysWhatItLeavesAndWhatIsToMind(t *testing.T) {
	s := newSite(t, true)
	ways := pieces(s.page("/beds/2/dose"), "opt")
	var chosen []piece
	for _, w := range ways {
		for x := range w.Descendants() {
			if _, ok := attr(x, "checked"); ok {
				chosen = append(chosen, w)
			}
		}
	}
	require.Len(t, chosen, 1)
	assert.Equal(t, "opt on", chosen[0].class)
	assert.Equal(t, named(t, ways, "Ground limestone").Node, chosen[0].Node, "what stands on the shelf goes first")
	assert.Contains(t, chosen[0].says, "the rest after a test")
	grams, _ := attr(pieces(chosen[0].Node, "amt")[0].Node, "title")
	assert.Equal(t, "1527 g", grams, "60 per cent of 265 g/m² on 9.6 m²")
	assert.Empty(t, pieces(chosen[0].Node, "unmet"))

	all := pieces(s.page("/beds/2/dose?pace=all-at-once"), "opt")
	grams, _ = attr(pieces(named(t, all, "Ground limestone").Node, "amt")[0].Node, "title")
	assert.Equal(t, "2546 g", grams, "265 g/m² on 9.6 m²")
	assert.Contains(t, named(t, all, "Ground limestone").says, "1 caution")
	// Ash alone is held by its cap of the year, and says so.
	short := pieces(named(t, all, "Pellet stove ash").Node, "unmet")
	require.Len(t, short, 1)
	assert.Regexp(t, `^leaves \d+ g/m² unmet$`, short[0].says)

	no := named(t, ways, "Fire-pit ash")
	assert.Len(t, pieces(no.Node, "stop"), 1, "it must not be used")
	assert.Contains(t, no.says, "What would lift it: Nothing; it goes to the waste collection.")
	other := named(t, ways, "Gypsum")
	assert.Empty(t, pieces(other.Node, "stop"), "it is of no use, no more")
	assert.NotContains(t, other.says, "lift")
}

func TestWhatWaitsForATestHasNoDay(t *testing.T) {
	s := newSite(t, true)
	test, waits := -1, []int{}
	for i, g := range pieces(s.page("/beds/10/dose?target=7"), "go") {
		if strings.Contains(g.says, "Test again") {
			test = i
		}
		if strings.HasPrefix(g.says, "Then") {
			waits = append(waits, i)
			assert.NotRegexp(t, `20\d\d`, g.says)
		}
	}
	require.GreaterOrEqual(t, test, 1)
	assert.Equal(t, []int{test + 1}, waits, "it stands after the test")
}

func TestEachLineOfTheWorkingTellsItsSource(t *testing.T) {
	steps := pieces(newSite(t, true).page("/beds/2/dose"), "step")
	require.Greater(t, len(steps), 5)
	for _, s := range steps {
		assert.False(t, unicode.IsLower([]rune(s.says)[0]), s.says)
		_, source, ok := strings.Cut(s.says, "Source: ")
		assert.True(t, ok && len(source) > len("."), s.says)
	}
}
