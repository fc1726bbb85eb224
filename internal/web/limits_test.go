package web_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
)

// TestTooMuchIsAnsweredAtItsField asks for pages that no garden needs: each is
// refused where it was asked for, and nothing is drawn or drafted of it.
func TestTooMuchIsAnsweredAtItsField(t *testing.T) {
	s := newSite(t, true)
	many := func(n int) string {
		lines := make([]string, n)
		for i := range lines {
			lines[i] = fmt.Sprintf("%d %d", i, i%2)
		}
		return url.QueryEscape(strings.Join(lines, "\n"))
	}
	lawn := s.bed("Top lawn").Bed.ID
	for path, field := range map[string]string{
		"/marks?corners=1e308+1%0A2+2":                                            "corners",
		"/marks?corners=5001+1%0A2+2":                                             "corners",
		"/marks?corners=-1+1%0A2+2":                                               "corners",
		"/marks?corners=" + many(201):                                             "corners",
		"/marks?corners=1+1%0A2+2&width=21":                                       "width",
		"/beds/new?shape=outline&corners=1e308+1%0A2+2%0A3+1":                     "corners",
		"/beds/new?shape=outline&corners=NaN+1%0A2+2%0A3+1":                       "corners",
		"/beds/new?shape=outline&corners=" + many(201):                            "corners",
		"/beds/new?shape=rings&rings=2e9&w=4&h=1":                                 "rings",
		"/beds/new?shape=rings&rings=501&w=4&h=1":                                 "rings",
		"/beds/new?w=5001&h=1":                                                    "w",
		"/beds/new?w=1e300&h=1":                                                   "w",
		"/beds/new?x=5001&w=1&h=1":                                                "x",
		"/beds/new?w=300&h=300":                                                   "w",
		"/walk?asked=1&bed=1&corer=0.01&wanted=5000":                              "corer",
		"/walk?asked=1&bed=1&corer=19&wanted=5001":                                "wanted",
		"/walk?asked=1&bed=1&corer=1e300":                                         "corer",
		fmt.Sprintf("/walk?asked=1&bed=%d&layered=yes&corer=5&wanted=5000", lawn): "wanted",
	} {
		w := s.get(path)
		require.Equal(t, http.StatusUnprocessableEntity, w.Code, path)
		assert.Regexp(t, `id="`+field+`-fault"[^>]*>[^<]+<`, w.Body.String(), path)
		assert.Less(t, w.Body.Len(), 400_000, path)
	}
	// Their neighbours are drawn.
	for _, path := range []string{"/marks?corners=5000+1%0A2+2", "/marks?corners=" + many(200),
		"/beds/new?shape=rings&rings=500&w=400&h=1", "/beds/new?w=300&h=100",
		"/beds/new?shape=outline", "/beds/new?shape=outline&corners=1+1%0A2+2", "/walk?asked=1&bed=1&corer=19&wanted=5000"} {
		assert.Equal(t, http.StatusOK, s.get(path).Code, path)
	}
}

// TestNoFigureHangsAPage types what cannot be meant into every field that a page
// draws or reckons from while it is typed.
func TestNoFigureHangsAPage(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Kale and roots").Bed.ID
	for _, x := range []string{"1e308", "-1e308", "NaN", "Inf", "1e9", "999999999", "0x1p1023", "-0"} {
		for _, path := range []string{
			"/bench/means?method=jars&date=2026-11-20&depth=15&cores=1&bed=%d&jar_lime_1=0&jar_ph_1=%s&jar_lime_2=1&jar_ph_2=6&jar_lime_3=2&jar_ph_3=6.5&jar_lime_4=3&jar_ph_4=7",
			"/bench/means?method=meter&date=2026-11-20&depth=15&cores=1&bed=%d&tries=%s",
			"/bench/means?method=lab&date=2026-11-20&depth=15&cores=1&bed=%d&ph=%s",
			"/beds/%d/dose?target=%s", "/beds/%d/dose?depth=%s", "/?bed=%d&on=%s", "/beds/%d/edit?turn=%s", "/beds/%d/edit?jar_clay=%s&texture_by=jar",
		} {
			at := fmt.Sprintf(path, bed, url.QueryEscape(x))
			assert.Less(t, s.get(at).Code, 500, at)
		}
	}
}

// TestARoundHasItsLimits: two thousand cores of a bed, fifty thousand of all.
func TestARoundHasItsLimits(t *testing.T) {
	d := garden.Draft{}
	for n, want := range map[int]bool{2000: false, 2001: true} {
		d.Samples = []garden.DraftSample{{}}
		d.Samples[0].Beds, d.Samples[0].Cores = []int{0}, []int{n}
		d.Chosen = []garden.Candidate{{}}
		assert.Equal(t, want, len(d.TooMuch()) > 0, n)
	}
	d.Samples = nil
	for i := range 25 {
		x := garden.DraftSample{}
		x.Beds, x.Cores = []int{i}, []int{2000}
		d.Samples, d.Chosen = append(d.Samples, x), append(d.Chosen, garden.Candidate{})
	}
	assert.Empty(t, d.TooMuch(), "50,000 cores are still walked")
	d.Samples[24].Cores = []int{2000, 1}
	d.Samples[24].Beds = []int{24, 24}
	assert.Contains(t, d.TooMuch()["wanted"], "50001 cores")
}
