package server_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

// TestLimitsAreReportedAtFields asks for pages that no garden needs: each is
// refused where it was asked for, and nothing is drawn or drafted of it.
func TestLimitsAreReportedAtFields(t *testing.T) {
	s := webtest.New(t, true)
	many := func(n int) string {
		lines := make([]string, n)
		for i := range lines {
			lines[i] = fmt.Sprintf("%d %d", i, i%2)
		}
		return url.QueryEscape(strings.Join(lines, "\n"))
	}
	lawn := s.Bed("Top lawn").Bed.ID
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
		w := s.Get(path)
		require.Equal(t, http.StatusUnprocessableEntity, w.Code, path)
		assert.Regexp(t, `id="`+field+`-fault"[^>]*>[^<]+<`, w.Body.String(), path)
		assert.Less(t, w.Body.Len(), 400_000, path)
	}
	// Their neighbours are drawn.
	for _, path := range []string{"/marks?corners=5000+1%0A2+2", "/marks?corners=" + many(200),
		"/beds/new?shape=rings&rings=500&w=400&h=1", "/beds/new?w=300&h=100",
		"/beds/new?shape=outline", "/beds/new?shape=outline&corners=1+1%0A2+2", "/walk?asked=1&bed=1&corer=19&wanted=5000"} {
		assert.Equal(t, http.StatusOK, s.Get(path).Code, path)
	}
}

// TestExtremeFiguresAreAnswered types what cannot be meant into every field that a page
// draws or computes from while it is typed.
func TestExtremeFiguresAreAnswered(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Kale and roots").Bed.ID
	for _, x := range []string{"1e308", "-1e308", "NaN", "Inf", "1e9", "999999999", "0x1p1023", "-0"} {
		for _, path := range []string{
			"/bench/means?method=jars&date=2026-11-20&depth=15&cores=1&bed=%d&jar1_lime=0&jar1_ph=%s" +
				"&jar2_lime=1&jar2_ph=6&jar3_lime=2&jar3_ph=6.5&jar4_lime=3&jar4_ph=7",
			"/bench/means?method=meter&date=2026-11-20&depth=15&cores=1&bed=%d&tries=%s",
			"/bench/means?method=lab&date=2026-11-20&depth=15&cores=1&bed=%d&ph=%s",
			"/beds/%d/dose?target=%s", "/beds/%d/dose?depth=%s", "/?bed=%d&on=%s", "/beds/%d/edit?turn=%s",
			"/beds/%d/edit?jar_clay=%s&texture_by=jar",
		} {
			at := fmt.Sprintf(path, bed, url.QueryEscape(x))
			assert.Less(t, s.Get(at).Code, 500, at)
		}
	}
}

// TestFaultsAreAtTheirFields: a buffer pH is no pH, and layers that overlap are
// told.
func TestFaultsAreAtTheirFields(t *testing.T) {
	s := webtest.New(t, true)
	form := func(more ...string) url.Values {
		f := url.Values{"bed": {fmt.Sprint(s.Bed("Middle ledge").Bed.ID)}, "date": {"2026-11-20"}, "method": {"lab"},
			"basis": {"water"}, "ph": {"5.8"}, "cores": {"12"}, "depth": {"15"}}
		for i := 0; i+1 < len(more); i += 2 {
			f.Set(more[i], more[i+1])
		}
		return f
	}
	for _, x := range []struct{ field, says, change, to, and, is string }{
		{"buffer_ph", "buffer pH from 3 to 8.2", "buffer_kind", "smp", "buffer_ph", "9"},
		{"buffer_ph", "belong together", "buffer_kind", "", "buffer_ph", "6.4"},
		{"layers", "deeper than the one above", "layer1_to", "10", "layer2_to", "5"},
		{"lab_target", "pH from 3 to 10", "lab_target", "14", "lab_rate", "300"},
		{"k", "from 0 to 20000", "k", "-4", "mg", "80"},
		{"ph", "pH from 3 to 10", "ph", "12", "mg", "80"},
		{"k_to", "optimum", "k", "90", "k_from", "200"},
	} {
		f := form(x.change, x.to, x.and, x.is)
		if x.field == "lab_target" {
			f.Set("lab_depth", "15")
			f.Set("lab_cce", "90")
		}
		if x.field == "k_to" {
			f.Set("k_to", "100")
		}
		w := s.Post("/readings", f)
		require.Equal(t, http.StatusUnprocessableEntity, w.Code, x.field)
		assert.Regexp(t, `id="`+x.field+`-fault"[^>]*>[^<]*`+x.says, w.Body.String(), x.field)
		if x.field != "ph" {
			assert.NotRegexp(t, `id="ph-fault"[^>]*>[^<]+<`, w.Body.String(), x.field)
		}
	}
}
