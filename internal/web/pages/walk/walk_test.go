package walk_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/web/webtest"
)

// TestRoundLimits: two thousand cores of a bed, fifty thousand of all.
func TestRoundLimits(t *testing.T) {
	d := rounds.Draft{}
	for n, want := range map[int]bool{2000: false, 2001: true} {
		d.Samples = []rounds.DraftSample{{}}
		d.Samples[0].Beds, d.Samples[0].Cores = []int{0}, []int{n}
		d.Chosen = []rounds.Candidate{{State: &bedstate.State{}}}
		assert.Equal(t, want, len(d.TooMuch()) > 0, n)
	}
	d.Samples = nil
	for i := range 25 {
		x := rounds.DraftSample{}
		x.Beds, x.Cores = []int{i}, []int{2000}
		d.Samples, d.Chosen = append(d.Samples, x), append(d.Chosen, rounds.Candidate{State: &bedstate.State{}})
	}
	assert.Empty(t, d.TooMuch(), "50,000 cores are still walked")
	d.Samples[24].Cores = []int{2000, 1}
	d.Samples[24].Beds = []int{24, 24}
	assert.Contains(t, d.TooMuch()["wanted"], "50001 cores")
}

func TestPairsThatMustNotShare(t *testing.T) {
	s := webtest.New(t, true)
	var all []string
	for id := range 13 {
		all = append(all, "bed="+strconv.Itoa(id+1))
	}
	page := s.Page("/walk?asked=1&" + strings.Join(all, "&"))
	beds := webtest.Pieces(page, "round-bed")
	require.Len(t, beds, 12)
	assert.Contains(t, beds[0].Says, "never read", "what is due stands first")
	assert.Contains(t, beds[1].Says, "never read")
	assert.NotContains(t, beds[2].Says, "never read")
	apart := strings.Count(webtest.Wording(page), " more than 0.3 apart")
	assert.Contains(t, webtest.Wording(page), "Which must not share one, and why (66)")
	assert.Greater(t, apart, 20)
	for _, name := range []string{"Top lawn", "New ground"} {
		w := s.Post(webtest.BedPath(s.Bed(name).Bed.ID)+"/duplicate", url.Values{"key": {name}, "copies": {"20"}, "between": {"0.5"}})
		require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	}
	for id := range 40 {
		all = append(all, "bed="+strconv.Itoa(id+14))
	}
	many := webtest.Wording(s.Page("/walk?asked=1&" + strings.Join(all, "&")))
	assert.Regexp(t, `and \d+ more; choose fewer beds`, many, "a long list is cut, and says so")
	for _, d := range webtest.Pieces(page, "own-corer") {
		_, open := webtest.Attr(d.Node, "open")
		assert.False(t, open)
	}
	own := webtest.Pieces(s.Page("/walk?asked=1&corer-A=20&"+all[0]), "own-corer")
	require.Len(t, own, 1)
	_, open := webtest.Attr(own[0].Node, "open")
	assert.True(t, open, "what was typed is seen")
}

func TestRoundProposesDueBeds(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Get("/walk").Body.String()
	assert.Contains(t, page, "2 beds are due for a sample")
	assert.Contains(t, page, "never read")
	assert.Contains(t, page, "2 samples, 61 cores")
	// Two that were read within 0.3, treated alike, with crops of one group.
	both := "/walk?asked=1&bed=%d&bed=%d"
	a, b := s.Bed("Middle ledge").Bed.ID, s.Bed("Kale and roots").Bed.ID
	page = s.Get(fmt.Sprintf(both, a, b)).Body.String()
	assert.Contains(t, page, "2 samples")
	assert.Contains(t, page, "Different soil, loam and clay loam")
	overruled := s.Get(fmt.Sprintf(both+"&letter-%d=A&letter-%d=A", a, b, a, b)).Body.String()
	assert.Contains(t, overruled, "1 sample,")
	assert.Equal(t, 2, strings.Count(overruled, `aria-label="Sample of `), "each bed that is taken has its letter")
	each := s.Get(fmt.Sprintf(both+"&share=each", a, b)).Body.String()
	assert.NotContains(t, each, `aria-label="Sample of `, "alone in its sample, a bed needs none")
	assert.Len(t, webtest.Ticked(webtest.Parsed(each), "bed"), 2)
	assert.Contains(t, overruled, "Against the rules: Middle ledge and Kale and roots: different soil, loam and clay loam")
	bad := s.Post("/walk", url.Values{"asked": {"1"}, "corer": {"wide"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), `value="wide"`)
	assert.Contains(t, s.Post("/walk", url.Values{"asked": {"1"}}).Body.String(), "Choose a bed or more.")
}

// A letter that was proposed is no choice of the gardener's: with another bed on the list the letters move on.
func TestProposedLetterIsNoOverrule(t *testing.T) {
	s := webtest.New(t, true)
	kale, lawn := s.Bed("Kale and roots").Bed.ID, s.Bed("Top lawn").Bed.ID
	both := fmt.Sprintf("/walk?asked=1&bed=%d&bed=%d&letter-%d=A", kale, lawn, lawn)
	page := s.Get(both + fmt.Sprintf("&proposed-%d=A", lawn)).Body.String()
	assert.Contains(t, page, "2 samples")
	assert.NotContains(t, page, "Against the rules")
	page = s.Get(both + fmt.Sprintf("&proposed-%d=B", lawn)).Body.String()
	assert.Contains(t, page, "1 sample,", "it was B and is made A: that is a choice")
	assert.Contains(t, page, "Against the rules")
}
