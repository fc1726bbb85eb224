// Package agree holds the pages of a garden against each other: a fact that stands on several of them is the same on each.
//
// An element that shows a fact names it by data-fact, "bed:3:ph"; its visible text is compared, by its kind's own reading.
package agree

import (
	"maps"
	"math"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/webtest"
)

// kinds are the facts that pages name, each with whether two texts tell the same.
var kinds = map[string]func(a, b string) bool{
	"ph":       sameFigure,
	"level":    sameFigure,
	"surprise": strings.EqualFold,
	// What is at work, the level now and in the end.
	"work": within,
	"day":  sameDay,
	"read": func(a, b string) bool { return a == b || sameDay(a, b) }, // an unread bed has none
	"due":  sameDay,
	"done": sameDay,
	// Why a task is not on its planned day.
	"why":  sameReason,
	"crop": within,
	// The standard deviation of a reading.
	"doubt": sameFigure,
	// What the bed holds now, ppm, and what that is judged to be.
	"potassium": sameFigure,
	"supply":    strings.EqualFold,
	"amount":    sameAmount,
	"standing":  within,
	"next":      strings.EqualFold,
}

// stands says which facts stand on which pages. A fact that a page lacks through the whole run fails, and so does one that is
// not listed.
var stands = map[string][]string{
	"/": ribbon("work", "ph", "read", "crop", "standing", "next", "amount", "level",
		"surprise", "day", "potassium", "supply"),
	"/beds":      ribbon("work", "ph", "read", "crop", "standing", "next"),
	"/dose/many": ribbon("ph"),
	"/years":     ribbon("amount", "ph", "day"),
	"/?bed=0": ribbon("work", "ph", "read", "crop", "standing", "next", "amount", "level",
		"surprise", "day", "potassium", "supply"),
	"/beds/0":              ribbon("amount", "level", "surprise", "day", "potassium", "doubt"),
	"/beds/0/turn":         ribbon("day"),
	"/beds/0/try":          {"surprise"},
	"/seasons?bed=0":       {"level", "surprise", "potassium"},
	"/seasons/report":      {"level", "surprise", "due", "done", "amount", "doubt"},
	"/sheet":               ribbon("amount"),
	"/beds/0/dose":         ribbon("work", "level", "ph", "day"),
	"/shed/share":          ribbon("ph"),
	"/walk":                ribbon("ph", "read"),
	"/bench/tour":          ribbon("ph", "read"),
	"/log":                 ribbon("amount"),
	"/bucket?what=b0":      ribbon("ph", "amount"),
	"/export/beds.csv":     {"ph", "read", "crop", "standing", "potassium", "supply"},
	"/export/plan.geojson": {"ph", "read", "crop"},
	"/export/tasks.ics":    {"due", "done", "amount", "why"},
	"/export/log.csv":      {"done", "amount"},
	"/export/season.csv":   {"done", "due", "amount", "doubt"},
	"/export/season.xlsx":  {"done", "due", "amount", "doubt"},
	"/export/garden.json":  {"done", "amount"},
}

// ribbon returns facts with those of the year, which stands on nearly every page.
func ribbon(facts ...string) []string { return append(facts, "due", "done", "why") }

var aFigure = regexp.MustCompile(`\d+(?:\.(\d+))?`)

// sameFigure compares the first figures of two texts to within their rounding; a text without one says nothing.
func sameFigure(a, b string) bool {
	x, y := aFigure.FindStringSubmatch(a), aFigure.FindStringSubmatch(b)
	if x == nil || y == nil || len(x[1]) == len(y[1]) {
		return x == nil || y == nil || x[0] == y[0]
	}
	halves := 0.0
	for _, z := range [][]string{x, y} {
		halves += 0.5 * math.Pow10(-len(z[1]))
	}
	m, errM := strconv.ParseFloat(x[0], 64)
	n, errN := strconv.ParseFloat(y[0], 64)
	return errM == nil && errN == nil && math.Abs(m-n) <= halves+1e-9
}

var aDay = regexp.MustCompile(`\d{1,2} [A-Z][a-z]{2}( \d{4})?`)

var aWeight = regexp.MustCompile(`(\d+(?:\.(\d+))?) (k?g)(?:[^/]|$)`)

// sameAmount compares the first weights of two texts to within their rounding, however many scoops or handfuls they are told to be;
// texts without weights by their first figures that are no day.
func sameAmount(a, b string) bool {
	a, b = aDay.ReplaceAllString(a, ""), aDay.ReplaceAllString(b, "")
	x, y := aWeight.FindStringSubmatch(a), aWeight.FindStringSubmatch(b)
	if x == nil || y == nil {
		bare := func(s string) bool {
			at := aWeight.FindStringIndex(s)
			return at != nil && at[0] == aFigure.FindStringIndex(s)[0]
		}
		return bare(a) || bare(b) || sameFigure(a, b) // scoops alone say nothing against a weight alone
	}
	grams := func(z []string) (is, half float64) {
		n, err := strconv.ParseFloat(z[1], 64)
		if err != nil {
			return math.NaN(), 0
		}
		unit := map[string]float64{"kg": 1000, "g": 1}[z[3]]
		zeros := len(z[1]) - len(strings.TrimRight(z[1], "0")) // 580 g are any of 575 to 585
		if z[2] != "" {
			zeros = -len(z[2])
		}
		return n * unit, 0.5 * unit * math.Pow10(zeros)
	}
	m, halfM := grams(x)
	n, halfN := grams(y)
	return math.Abs(m-n) <= halfM+halfN+1e-9
}

// within compares two texts of which one may say more around the other; an id's words are parted by hyphens.
func within(a, b string) bool {
	plain := func(s string) string {
		return strings.TrimSuffix(strings.ToLower(strings.ReplaceAll(s, "-", " ")), ".")
	}
	a, b = plain(a), plain(b)
	return strings.Contains(a, b) || strings.Contains(b, a)
}

var aReason = regexp.MustCompile(`(?i)(?:moved from|no day within|none of your own)[^.)]*(?:\.\d[^.)]*)*`)

// sameReason compares why a task was moved, whatever stands around it.
func sameReason(a, b string) bool {
	x, y := aReason.FindString(a), aReason.FindString(b)
	return x != "" && strings.EqualFold(x, y)
}

// sameDay compares the first days of two texts; a day without its year is of any.
func sameDay(a, b string) bool {
	x, y := aDay.FindString(a), aDay.FindString(b)
	return x != "" && y != "" && (strings.HasPrefix(x, y) || strings.HasPrefix(y, x))
}

// saying is a fact as a page words it.
type saying struct{ page, says string }

// told are the sayings of pages, by fact.
type told map[string][]saying

func (x told) add(page, fact, says string) { x[fact] = append(x[fact], saying{page, says}) }

// visible returns the text of an element without what is hidden from everybody.
func visible(n *html.Node) string { return webtest.Wording(n) }

// ofPage collects the facts of a page.
func (x told) ofPage(s *webtest.Client, path string) {
	for n := range s.Page(path).Descendants() {
		names, _ := webtest.Attr(n, "data-fact")
		for _, fact := range strings.Fields(names) {
			x.add(path, fact, visible(n))
		}
	}
}

// check fails where two pages differ, and notes what stood where.
func (x told) check(t testing.TB, day quantity.Day, seen map[string]map[string]bool) {
	for _, fact := range slices.Sorted(maps.Keys(x)) {
		kind := fact[strings.LastIndex(fact, ":")+1:]
		same, known := kinds[kind]
		if !assert.True(t, known, "%v: no kind of fact %q", day, fact) {
			continue
		}
		for i, here := range x[fact] {
			place := generic(here.page)
			if seen[place] == nil {
				seen[place] = map[string]bool{}
			}
			seen[place][kind] = true
			assert.Contains(t, stands[place], kind, "%v: %s is not known to stand on %s", day, fact, here.page)
			for _, there := range x[fact][:i] {
				assert.True(t, same(here.says, there.says), "%v: %s: %q on %s, %q on %s", day, fact,
					here.says, here.page, there.says, there.page)
			}
		}
	}
}

var aNumber = regexp.MustCompile(`\d+`)

// generic returns a page's address with its bed's number as 0.
func generic(page string) string { return aNumber.ReplaceAllString(page, "0") }

// full is the length of the whole run in months, which MONTHS asks for; few is for a quick look.
const full, few = 18, 1

// In the demo and in a rehearsal of one's own garden every page tells the same of each bed, through eighteen months of work done late,
// in part or not at all, of surprising tests, plans taken back and a planting put off.
func TestPagesAgree(t *testing.T) {
	months := few
	if n, err := strconv.Atoi(os.Getenv("MONTHS")); err == nil {
		months = n
	}
	seen := map[string]map[string]bool{}
	gardens := map[string]func(t *testing.T) *webtest.Client{"demo": demo, "rehearsal": rehearsal}
	for name, grown := range gardens {
		t.Run(name, func(t *testing.T) {
			settled := through(grown(t), months, seen)
			assert.True(t, settled > 5 || months < full, "tasks were put on or skipped")
		})
	}
	if months < full {
		return
	}
	for page, facts := range stands {
		for _, kind := range facts {
			assert.True(t, seen[page][kind], "%s never stood on %s", kind, page)
		}
	}
}

// through lives some months and compares all pages in each; it returns how many tasks were settled.
func through(s *webtest.Client, months int, seen map[string]map[string]bool) (settled int) {
	for month := range months {
		settled += live(s, month)
		x := collected(s)
		x.check(s.T, s.Today, seen)
		for range 4 {
			s.Post("/demo/day", url.Values{"by": {"week"}, "back": {"/"}})
			s.Today += 7
		}
	}
	return settled
}

// collected reads every page and file of today.
func collected(s *webtest.Client) told {
	v, err := s.App.BedState.View(s.T.Context(), s.Today)
	require.NoError(s.T, err)
	x := told{}
	for _, page := range slices.Sorted(maps.Keys(stands)) {
		switch {
		case strings.HasPrefix(page, "/export"):
		case strings.HasPrefix(page, "/bucket"):
			for _, id := range slices.Sorted(maps.Keys(v.Batches)) {
				x.ofPage(s, strings.Replace(page, "b0", dosing.BatchKey(id), 1))
			}
		case !strings.Contains(page, "0"):
			x.ofPage(s, page)
		default:
			for i := range v.Beds {
				if p := &v.Beds[i]; p.Reading != nil {
					x.ofPage(s, strings.Replace(page, "0", webtest.ID(p.Bed.ID), 1))
				}
			}
		}
	}
	x.ofFiles(s, &v)
	return x
}
