package server_test

import (
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheDoseIsTheSameInAnyUnits(t *testing.T) {
	s := newSite(t, true)
	ask := func(query string) (request, page string) {
		return s.get("/beds/2/dose.json" + query).Body.String(), s.get("/beds/2/dose" + query).Body.String()
	}
	metric, before := ask("?target=6.4&depth=20")
	require.Contains(t, before, "g/m²")
	s.saved(s.post("/place", s.placeForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2")))
	imperial, after := ask("?target=6.4&depth=7.874015748")
	require.Contains(t, after, "lb/100 ft²")
	assert.Equal(t, metric, imperial)
}

// metric are figures in metric units, as a page writes them.
var metric = regexp.MustCompile(`\d[\d.,]*\s?(mm|cm|m²|kg|g/m²|g|m|L/m²|litres?)\b`)

// jarTest is a ratio that everyone weighs in grams.
var jarTest = regexp.MustCompile(`for 100 g of soil.*?g a kg|\d g/kg`)

// Where feet and pounds are read, no page leaks a metric figure; the working has the reader's figure beside its own.
func TestNoMetricFigureLeaksWhereFeetAreRead(t *testing.T) {
	s := newSite(t, true)
	s.saved(s.post("/place", s.placeForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2")))
	hidden := regexp.MustCompile(`(?s)<div id="steps">.*?</aside>|<svg.*?</svg>|<script.*?</script>|<[^>]*>`)
	for _, p := range []string{"/", "/?bed=7", "/walk", "/bench", "/beds/2/dose", "/beds/4/dose", "/shed", "/sheet", "/seasons?bed=2",
		"/beds/2",
		"/beds", "/years", "/log", "/dose/many", "/shed/share", "/beds/7/side", "/beds/1/turn", "/beds/2/mix", "/bucket?what=b1",
		"/seasons/report", "/beds/2/try", "/walk/1", "/beds/new"} {
		w := s.get(p)
		require.Equal(t, http.StatusOK, w.Code, p)
		page := w.Body.String()
		page = page[strings.Index(page, `<main id="main"`):]
		text := strings.Join(strings.Fields(html.UnescapeString(hidden.ReplaceAllString(page, " "))), " ")
		text = jarTest.ReplaceAllString(text, "")
		for _, at := range metric.FindAllStringIndex(text, -1) {
			t.Errorf("%s: …%s…", p, text[max(0, at[0]-40):min(len(text), at[1]+25)])
		}
	}
}
