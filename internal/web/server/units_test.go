package server_test

import (
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

// metric are figures in metric units, as a page writes them.
var metric = regexp.MustCompile(`\d[\d.,]*\s?(mm|cm|m²|kg|g/m²|g|m|L/m²|litres?)\b`)

// jarTest is a ratio that everyone weighs in grams.
var jarTest = regexp.MustCompile(`for 100 g of soil.*?g a kg|\d g/kg`)

// Where feet and pounds are read, no page leaks a metric figure; the working has the reader's figure beside its own.
func TestNoMetricFiguresInImperial(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/place", s.PlaceForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2")))
	hidden := regexp.MustCompile(`(?s)<div id="steps">.*?</aside>|<svg.*?</svg>|<script.*?</script>|<[^>]*>`)
	for _, p := range []string{"/", "/?bed=7", "/walk", "/bench", "/beds/2/dose", "/beds/4/dose", "/shed", "/sheet", "/seasons?bed=2",
		"/beds/2",
		"/beds", "/years", "/log", "/dose/many", "/shed/share", "/beds/7/side", "/beds/1/turn", "/beds/2/mix", "/bucket?what=b1",
		"/seasons/report", "/beds/2/try", "/walk/1", "/beds/new"} {
		w := s.Get(p)
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

func TestUnitsOnEveryPage(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/place", s.PlaceForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2",
		"currency", "kr")))
	for path, says := range map[string][]string{
		"/?bed=2":      {"103 ft²", "5.9 in"},
		"/beds/2/dose": {"5.27 lb/100 ft²", "3.4 lb", "257 g/m² (5.27 lb/100 ft²)", "0.53 kr"},
		"/sheet":       {`value="lb"`, "5.52 lb/100 ft²"},
		"/bench":       {"Depth, in"},
		"/beds/new":    {"From the west edge, ft", "Depth, in"},
		"/crops":       {"Potash (K₂O) a good crop carries off, lb/100 ft²"},
	} {
		body := s.Get(path).Body.String()
		for _, x := range says {
			assert.Contains(t, body, x, path)
		}
	}
	// What is typed is taken in the unit that it is asked in.
	due := s.OpenTasks(s.Bed("Kale and roots").Bed.ID)[0]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", due.ID), url.Values{"version": {"1"}, "amount": {"10"}}))
	rec := s.Record(due.BedID)
	assert.InDelta(t, 4535.9237, float64(rec.Applications[len(rec.Applications)-1].Total), 1e-6)
}
