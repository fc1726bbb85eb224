// Package agree holds the pages of a garden against each other: a fact that stands on several of them is the same on each.
//
// An element that shows a fact names it by data-fact, "bed:3:ph"; its visible text is compared, by its kind's own reading.
package agree

import (
	"encoding/csv"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// kinds are the facts that pages name, each with how its text is read for comparison.
var kinds = map[string]func(says string) string{
	"ph":       figure,
	"standing": strings.ToLower,
	"next":     strings.ToLower,
}

// stands says which facts stand on which pages. A fact that a page lacks through the whole run fails, and so does one that is
// not listed.
var stands = map[string][]string{
	"/":                {"ph", "standing", "next"},
	"/beds":            {"ph", "standing", "next"},
	"/dose/many":       {"ph"},
	"/years":           {"ph"},
	"/shed/share":      {"ph"},
	"/export/beds.csv": {"ph"},
}

var aFigure = regexp.MustCompile(`\d+(\.\d+)?`)

// figure returns the first figure of a text to a tenth; "" where none is shown.
func figure(says string) string {
	x, err := strconv.ParseFloat(aFigure.FindString(says), 64)
	if err != nil {
		return ""
	}
	return strconv.FormatFloat(quantity.Round(x, 1), 'f', 1, 64)
}

// told is a fact as pages tell it: its reading by page, with the words.
type told map[string]map[string]string

func (x told) add(page, fact, says string) {
	if x[fact] == nil {
		x[fact] = map[string]string{}
	}
	x[fact][page] = says
}

// visible returns the text of an element without what is hidden from everybody.
func visible(n *html.Node) string { return webtest.Wording(n) }

// ofPage collects the facts of a page.
func (x told) ofPage(s *webtest.Client, path string) {
	for n := range s.Page(path).Descendants() {
		if fact, ok := webtest.Attr(n, "data-fact"); n.Type == html.ElementNode && ok {
			x.add(path, fact, visible(n))
		}
	}
}

// ofCSV collects the facts of the list of beds as a file.
func (x told) ofCSV(s *webtest.Client, beds map[string]int64) {
	rows, err := csv.NewReader(s.Get("/export/beds.csv").Body).ReadAll()
	require.NoError(s.T, err)
	at := slices.Index(rows[0], "ph_water")
	for _, row := range rows[1:] {
		x.add("/export/beds.csv", fmt.Sprintf("bed:%d:ph", beds[row[0]]), row[at])
	}
}

// check fails where two pages differ, and notes what stood where.
func (x told) check(t *testing.T, day quantity.Day, seen map[string]map[string]bool) {
	for _, fact := range slices.Sorted(maps.Keys(x)) {
		kind := fact[strings.LastIndex(fact, ":")+1:]
		read, known := kinds[kind]
		if !assert.True(t, known, "%v: no kind of fact %q", day, fact) {
			continue
		}
		by := map[string][]string{}
		for page, says := range x[fact] {
			if seen[page] == nil {
				seen[page] = map[string]bool{}
			}
			seen[page][kind] = true
			assert.Contains(t, stands[page], kind, "%v: %s is not known to stand on %s", day, fact, page)
			if got := read(says); got != "" {
				by[got] = append(by[got], page+" “"+says+"”")
			}
		}
		assert.LessOrEqual(t, len(by), 1, "%v: %s is told otherwise: %v", day, fact, by)
	}
}

// live does a month's work: some of what is due is put on, late, with another amount or skipped, and beds are read.
func live(s *webtest.Client, month int) {
	v, err := s.App.BedState.View(s.T.Context(), s.Today)
	require.NoError(s.T, err)
	for i, t := range v.Tasks {
		if t.Kind != garden.TaskApplication || t.Due > s.Today || (i+month)%3 == 0 {
			continue
		}
		f := url.Values{"version": {webtest.ID(t.Version)}, "key": {fmt.Sprint("m", month, "-", t.ID)}}
		if (i+month)%4 == 1 {
			s.Post("/tasks/"+webtest.ID(t.ID)+"/skip", url.Values{"version": f["version"], "key": f["key"], "why": {"frost"}})
			continue
		}
		s.Post("/tasks/"+webtest.ID(t.ID)+"/put-on", f)
	}
	for i := range v.Beds {
		p := &v.Beds[i]
		if p.PH == 0 || (i+month)%7 != 0 {
			continue
		}
		// Every other reading surprises, and a second method reads a little else, so that what a bed is judged by is not its last reading.
		ph := float64(p.PH) + 0.1*float64(month%3) + float64(month%2)
		read(s, p.Bed.ID, fmt.Sprint("lab", month, "-", i), "lab", min(ph, 8))
		read(s, p.Bed.ID, fmt.Sprint("meter", month, "-", i), "meter", min(ph, 8)+0.3)
	}
	if month%5 == 0 {
		s.Post("/shed/share", url.Values{"key": {fmt.Sprint("share", month)}})
	}
}

// read enters a reading of today; what is asked about is sent again.
func read(s *webtest.Client, bed int64, key, method string, ph float64) {
	f := url.Values{"bed": {webtest.ID(bed)}, "method": {method}, "basis": {"water"}, "fresh": {"yes"}, "date": {s.Today.String()},
		"cores": {"12"}, "depth": {"15"}, "ph": {fmt.Sprintf("%.1f", ph)}, "key": {key}}
	w := s.Post("/readings", f)
	if w.Code == http.StatusUnprocessableEntity {
		f.Set("sure", webtest.Filled(w.Body.String()).Get("sure"))
		w = s.Post("/readings", f)
	}
	s.Saved(w)
}

// Through eighteen months of the demo every page tells the same of each bed.
func TestPagesAgree(t *testing.T) {
	s := webtest.New(t, true)
	seen := map[string]map[string]bool{}
	for month := range 18 {
		live(s, month)
		v, err := s.App.BedState.View(t.Context(), s.Today)
		require.NoError(t, err)
		beds := map[string]int64{}
		for i := range v.Beds {
			beds[v.Beds[i].Bed.Name] = v.Beds[i].Bed.ID
		}
		x := told{}
		for _, page := range slices.Sorted(maps.Keys(stands)) {
			if page != "/export/beds.csv" {
				x.ofPage(s, page)
			}
		}
		x.ofCSV(s, beds)
		x.check(t, s.Today, seen)
		for range 4 {
			s.Post("/demo/day", url.Values{"by": {"week"}, "back": {"/"}})
			s.Today += 7
		}
	}
	for page, facts := range stands {
		for _, kind := range facts {
			assert.True(t, seen[page][kind], "%s never stood on %s", kind, page)
		}
	}
}
