package server_test

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
)

// forms are the forms of a page by the address that they are posted to.
func forms(n *html.Node) map[string][]*html.Node {
	out := map[string][]*html.Node{}
	for x := range n.Descendants() {
		if x.Type == html.ElementNode && x.Data == "form" {
			to, _ := attr(x, "action")
			out[to] = append(out[to], x)
		}
	}
	return out
}

// byID finds an element.
func byID(t *testing.T, n *html.Node, id string) *html.Node {
	t.Helper()
	for x := range n.Descendants() {
		if is, ok := attr(x, "id"); ok && is == id {
			return x
		}
	}
	require.Fail(t, "no such element", id)
	return nil
}

// wording is what an element says.
func wording(n *html.Node) string {
	var b strings.Builder
	for d := range n.Descendants() {
		if d.Type == html.TextNode {
			b.WriteString(d.Data + " ")
		}
	}
	return strings.Join(strings.Fields(b.String()), " ")
}

func TestABedsRecordOffersWhatMayBeDone(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Middle ledge").Bed
	path := bedPath(b.ID)
	s.post(path+"/plan", s.planForm(b.ID))
	now := s.page(path)
	assert.Len(t, forms(now)[path+"/retire"], 1)
	moves := func(n *html.Node) (out int) {
		for x := range n.Descendants() {
			if to, _ := attr(x, "href"); strings.HasPrefix(to, "/tasks/") {
				out++
			}
		}
		return out
	}
	assert.NotZero(t, moves(now), "a go can be put on another day")
	assert.Zero(t, moves(s.page(path+"?on=2026-11-30")), "but not from another day")

	// What was taken back says so and is not taken back twice; what was done since can be.
	line := s.last()
	s.post("/undo/"+strconv.FormatInt(line.ID, 10), url.Values{})
	journal := byID(t, s.page("/keep"), "journal").Parent
	assert.Contains(t, wording(journal), "taken back")
	assert.Empty(t, forms(journal)["/undo/"+strconv.FormatInt(line.ID, 10)])

	w := s.post(path+"/retire", url.Values{"version": {strconv.FormatInt(s.bed("Middle ledge").Bed.Version, 10)}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Empty(t, forms(s.page(path))[path+"/retire"], "it is off the plan already")
}

// Stops that were ticked one after the other are one line, and go back together.
func TestTicksOfARoundAreTakenBackTogether(t *testing.T) {
	s := newSite(t, true)
	round, stop := s.walked()
	for n := 1; n <= 2; n++ {
		w := s.post("/walk/"+strconv.FormatInt(round, 10)+"/tick", url.Values{"stop": {stop}, "core": {strconv.Itoa(n)}})
		require.Less(t, w.Code, 400)
	}
	found := false
	for _, list := range forms(byID(t, s.page("/keep"), "journal").Parent) {
		for x := range list[0].Descendants() {
			if name, _ := attr(x, "name"); name == "more" {
				more, _ := attr(x, "value")
				found = found || more != ""
			}
		}
	}
	assert.True(t, found)
}

func TestARoundTellsWhatMustNotShareASample(t *testing.T) {
	s := newSite(t, true)
	var all []string
	for id := range 13 {
		all = append(all, "bed="+strconv.Itoa(id+1))
	}
	page := s.page("/walk?asked=1&" + strings.Join(all, "&"))
	beds := pieces(page, "round-bed")
	require.Len(t, beds, 12)
	assert.Contains(t, beds[0].says, "never read", "what is due stands first")
	assert.Contains(t, beds[1].says, "never read")
	assert.NotContains(t, beds[2].says, "never read")
	apart := strings.Count(wording(page), " more than 0.3 apart")
	assert.Contains(t, wording(page), "Which must not share one, and why (66)")
	assert.Greater(t, apart, 20)
	for _, name := range []string{"Top lawn", "New ground"} {
		w := s.post(bedPath(s.bed(name).Bed.ID)+"/duplicate", url.Values{"key": {name}, "copies": {"20"}, "between": {"0.5"}})
		require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	}
	for id := range 40 {
		all = append(all, "bed="+strconv.Itoa(id+14))
	}
	many := wording(s.page("/walk?asked=1&" + strings.Join(all, "&")))
	assert.Regexp(t, `and \d+ more; choose fewer beds`, many, "a long list is cut, and says so")
	for _, d := range pieces(page, "own-corer") {
		_, open := attr(d.Node, "open")
		assert.False(t, open)
	}
	own := pieces(s.page("/walk?asked=1&corer-A=20&"+all[0]), "own-corer")
	require.Len(t, own, 1)
	_, open := attr(own[0].Node, "open")
	assert.True(t, open, "what was typed is seen")
}

func TestPotassiumIsPutInTheYearFromTodayAlone(t *testing.T) {
	s := newSite(t, true)
	path := bedPath(s.bed("Middle ledge").Bed.ID)
	now := s.page(path + "/dose")
	ways := forms(byID(t, now, "potassium"))[path+"/plan"]
	require.NotEmpty(t, ways)
	assert.NotEmpty(t, pieces(byID(t, now, "potassium"), "k-more"), "what is to be minded")
	keys := map[string]bool{}
	for _, f := range ways {
		for x := range f.Descendants() {
			if name, _ := attr(x, "name"); name == "key" {
				key, _ := attr(x, "value")
				assert.False(t, keys[key], "each lands once")
				keys[key] = true
			}
		}
	}
	assert.Empty(t, forms(byID(t, s.page(path+"/dose?on=2026-11-30"), "potassium")), "another day is to read")
}

// Ash that nobody has told of is asked about first for potassium too.
func TestAshForPotassiumIsAskedAboutFirst(t *testing.T) {
	s := newSite(t, false)
	s.saved(s.post("/beds", url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1,5"}, "x": {"1"}, "y": {"1"},
		"texture": {"loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"tomato"}, "sown": {"2027-05-20"}, "key": {"b"}}))
	s.saved(s.post("/readings", url.Values{"bed": {"1"}, "date": {"2026-11-20"}, "method": {"lab"}, "basis": {"water"}, "ph": {"5.6"},
		"k": {"40"}, "cores": {"12"}, "depth": {"15"}, "key": {"r"}}))
	ways := pieces(byID(t, s.page("/beds/1/dose"), "potassium"), "go")
	asked := 0
	for _, w := range ways {
		ash := strings.Contains(strings.ToLower(w.says), "ash")
		assert.Equal(t, ash, strings.Contains(w.says, "Say what ash it is"), w.says)
		assert.Equal(t, ash, len(forms(w.Node)) == 0, w.says)
		if ash {
			asked++
		}
	}
	assert.NotZero(t, asked)
	assert.Greater(t, len(ways), asked)
}

func TestTheSchoolsAndTheSafetyOfADose(t *testing.T) {
	page := newSite(t, true).page("/beds/2/dose")
	rows := pieces(page, "sides")
	require.Len(t, rows, 1)
	assert.GreaterOrEqual(t, len(pieces(rows[0].Node, "heads")), 2, "what growers differ on heads its schools")
	assert.NotEmpty(t, pieces(rows[0].Node, "on"), "the one that holds is marked")
	for _, id := range []string{"depth-fault", "buffering-fault"} {
		byID(t, page, id)
	}
	safety := pieces(page, "safety")
	require.Len(t, safety, 1)
	assert.Contains(t, safety[0].says, "When you put it on")
	assert.Greater(t, len(safety[0].says), 100)
}

func TestEachFieldOfAReadingIsItsOwn(t *testing.T) {
	s := newSite(t, true)
	page := s.page("/bench?bed=2")
	seen := map[string]bool{}
	for x := range page.Descendants() {
		if id, ok := attr(x, "id"); ok {
			assert.False(t, seen[id], id)
			seen[id] = true
		}
	}
	for _, n := range []string{"layer1_to", "layer6_ph", "jar1_lime", "jar8_ph", "vinegar-fault", "soda-fault", "buffer_kind-fault",
		"k_extractant-fault"} {
		assert.True(t, seen[n], n)
	}
	w := s.post("/readings", url.Values{"bed": {"2"}, "method": {"fizz"}, "date": {"2026-11-20"}, "cores": {"10"}, "depth": {"15"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	n, err := html.Parse(w.Body)
	require.NoError(t, err)
	assert.NotEmpty(t, wording(byID(t, n, "vinegar-fault")), "where no jar was watched")

	w = s.post("/readings", url.Values{"bed": {"2"}, "method": {"lab"}, "date": {"2026-11-20"}, "ph": {"6"}, "cores": {"10"}, "depth": {"15"},
		"basis": {"tea"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	n, err = html.Parse(w.Body)
	require.NoError(t, err)
	invalid, _ := attr(byID(t, n, "basis"), "aria-invalid")
	assert.Equal(t, "true", invalid, "a list to choose from tells that it is wrong too")
	assert.NotEmpty(t, wording(byID(t, n, "basis-fault")))
}

// What was seen on one bed is not told of another, in whatever order their records are opened.
func TestSightsAreThoseOfTheBed(t *testing.T) {
	s := newSite(t, true)
	seen := func(name string) string {
		return wording(byID(t, s.page(bedPath(s.bed(name).Bed.ID)), "seen").Parent)
	}
	assert.Contains(t, seen("Plum row"), "Pale all over")
	assert.NotContains(t, seen("Middle ledge"), "Pale all over")
	assert.Contains(t, seen("Plum row"), "Pale all over")
}

// A bed that is moved keeps its reading on the plan, and the others stand where they were.
func TestABedThatIsPlacedKeepsItsReading(t *testing.T) {
	page := newSite(t, true).page("/beds/2/edit")
	placed := byID(t, page, "bed--1")
	says, _ := attr(placed, "aria-label")
	assert.Equal(t, "Middle ledge, pH 5.7, sour by 0.5", says)
	assert.Len(t, pieces(page, "plot"), 13)
}
