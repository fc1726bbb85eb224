package dose_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

func TestStaleDosePagePlansNoOtherMaterial(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Middle ledge").Bed.ID
	w, err := s.App.Dosing.Dose(t.Context(), id, dosing.Choice{}, s.Today)
	require.NoError(t, err)
	key := w.Key(w.Answer.Options[0])
	batch := w.Shelf[w.Answer.Options[0].Parts[0].Batch]
	kind := w.Answer.Options[0].Parts[0].Kind
	require.NotNil(t, batch)
	// The stock changes after the page was rendered: another batch ranks first.
	b := garden.Batch{Name: "Another lime", Kind: material.DolomiticLime, Condition: material.Dry, Source: material.Clean}
	s.Add(&b)
	old, err := s.App.Dosing.Dose(t.Context(), id, dosing.Choice{}, s.Today)
	require.NoError(t, err)
	require.Greater(t, len(old.Request.Materials), 1)
	s.Saved(s.Post(webtest.BedPath(id)+"/plan", s.PlanForm(id, "use", key)))
	g := s.OpenTasks(id)[0]
	assert.Equal(t, kind, g.What)
	assert.Equal(t, batch.ID, *g.BatchID)
	assert.Equal(t, http.StatusConflict, s.Post(webtest.BedPath(id)+"/plan", s.PlanForm(id, "key", "other", "use", "0")).Code,
		"a place in a list names nothing")
	assert.Equal(t, http.StatusConflict, s.Post(webtest.BedPath(id)+"/plan",
		s.PlanForm(id, "key", "third", "use", "b"+strconv.FormatInt(batch.ID+99, 10))).Code)
}

func TestOptionShowsShortfallAndCautions(t *testing.T) {
	s := webtest.New(t, true)
	ways := webtest.Pieces(s.Page("/beds/2/dose"), "opt")
	var chosen []webtest.Piece
	for _, w := range ways {
		for x := range w.Descendants() {
			if _, ok := webtest.Attr(x, "checked"); ok {
				chosen = append(chosen, w)
			}
		}
	}
	require.Len(t, chosen, 1)
	assert.Equal(t, "opt on", chosen[0].Class)
	assert.Equal(t, webtest.Named(t, ways, "Ground limestone").Node, chosen[0].Node, "what stands on the shelf goes first")
	assert.Contains(t, chosen[0].Says, "the rest after a test")
	grams, _ := webtest.Attr(webtest.Pieces(chosen[0].Node, "amt")[0].Node, "title")
	assert.Equal(t, "1527 g", grams, "60 per cent of 265 g/m² on 9.6 m²")
	assert.Empty(t, webtest.Pieces(chosen[0].Node, "unmet"))

	all := webtest.Pieces(s.Page("/beds/2/dose?pace=all-at-once"), "opt")
	grams, _ = webtest.Attr(webtest.Pieces(webtest.Named(t, all, "Ground limestone").Node, "amt")[0].Node, "title")
	assert.Equal(t, "2546 g", grams, "265 g/m² on 9.6 m²")
	assert.Contains(t, webtest.Named(t, all, "Ground limestone").Says, "1 caution")
	// Ash alone is held by its cap of the year, and says so.
	short := webtest.Pieces(webtest.Named(t, all, "Pellet stove ash").Node, "unmet")
	require.Len(t, short, 1)
	assert.Regexp(t, `^falls short by \d+ g/m²$`, short[0].Says)

	no := webtest.Named(t, ways, "Fire-pit ash")
	assert.Len(t, webtest.Pieces(no.Node, "stop"), 1, "it must not be used")
	assert.Contains(t, no.Says, "The way out: take it to the waste collection.")
	other := webtest.Named(t, ways, "Gypsum")
	assert.Empty(t, webtest.Pieces(other.Node, "stop"), "it is of no use, no more")
	assert.NotContains(t, other.Says, "lift")
}

func TestRestHasNoDay(t *testing.T) {
	s := webtest.New(t, true)
	test, waits := -1, []int{}
	for i, g := range webtest.Pieces(s.Page("/beds/10/dose?target=7"), "task-row") {
		if strings.Contains(g.Says, "Test again") {
			test = i
		}
		if strings.HasPrefix(g.Says, "Then") {
			waits = append(waits, i)
			assert.NotRegexp(t, `20\d\d`, g.Says)
		}
	}
	require.GreaterOrEqual(t, test, 1)
	assert.Equal(t, []int{test + 1}, waits, "it stands after the test")
}

func TestWorkingLinesHaveSources(t *testing.T) {
	steps := webtest.Pieces(webtest.New(t, true).Page("/beds/2/dose"), "step")
	require.Greater(t, len(steps), 5)
	for _, s := range steps {
		assert.False(t, unicode.IsLower([]rune(s.Says)[0]), s.Says)
		_, source, ok := strings.Cut(s.Says, "Source: ")
		assert.True(t, ok && len(source) > len("."), s.Says)
	}
}

func TestOwnCropDoseMatchesCommandLine(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Middle ledge").Bed
	path := fmt.Sprintf("/beds/%d", b.ID)
	s.Saved(s.Post(path+"/plantings", url.Values{"crop": {"ranunculus"}, "sown": {"2027-03-01"}}))
	s.Saved(s.Post(path+"/plantings", url.Values{"crop": {"dahlia"}, "sown": {"2027-03-01"}, "together": {"yes"}}))
	raw := s.Get(path + "/dose.json").Body.Bytes()
	a, err := dosejson.AnswerTo(raw)
	require.NoError(t, err)
	w, err := s.App.Dosing.Dose(context.Background(), b.ID, dosing.Choice{}, s.Today)
	require.NoError(t, err)
	require.NotZero(t, w.Answer.Need.CaCO3)
	assert.InDelta(t, float64(w.Answer.Need.CaCO3), a.Need.CaCO3, 0.05, "the same dose")
	assert.Contains(t, string(raw), `"own_crops"`)
}

// Nothing is dug into a lawn, nor in among what stands for years, whatever the bed's own setting says.
func TestUndugBedHasNoDigging(t *testing.T) {
	for name, digs := range map[string]bool{"Top lawn": false, "Blueberry pocket": false, "Middle ledge": true} {
		s := webtest.New(t, true)
		b := s.Bed(name).Bed
		b.Worked = soil.Dug
		s.Change(func(tx garden.Tx) error {
			if err := tx.Update(&b); err != nil {
				return err
			}
			return tx.Insert(&garden.Task{BedID: b.ID, Kind: garden.TaskApplication, State: garden.Open, Due: s.Today,
				What: material.PotassiumSulfate,
				Rate: 10, Total: 100, Depth: 0.1})
		})
		found := false
		for _, job := range webtest.Pieces(s.Page("/sheet"), "job") {
			if strings.Contains(job.Says, "potassium sulfate") {
				found = true
				assert.Equal(t, digs, strings.Contains(job.Says, "dig in to"), name)
			}
		}
		assert.True(t, found, name)
	}
}

// A heap asks for no reading and gives no dose, with a reading or without.
func TestHeapHasNoDose(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Compost heap").Bed
	at := "/beds/" + webtest.ID(b.ID) + "/dose"
	page := s.Get(at).Body.String()
	assert.Contains(t, page, "A heap gets no dose")
	assert.NotContains(t, page, "Add a reading")
	ph := quantity.PH(7.6)
	s.Change(func(tx garden.Tx) error {
		return tx.Insert(&garden.Reading{BedID: b.ID, Date: s.Today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: b.Depth})
	})
	page = s.Get(at).Body.String()
	assert.Contains(t, page, "A heap gets no dose")
	assert.NotContains(t, page, `id="put"`)
}

// Low magnesium has its answer where pH wants nothing; the lab's calcium is reported where it is short.
func TestMagnesiumAndCalcium(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Upper ledge").Bed
	ph, mg, ca := quantity.PH(6.8), quantity.Concentration(50), quantity.Concentration(300)
	s.Change(func(tx garden.Tx) error {
		return tx.Insert(&garden.Reading{BedID: b.ID, Date: s.Today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: b.Depth,
			Magnesium: &mg, Calcium: &ca})
	})
	page := s.Get("/beds/1/dose").Body.String()
	assert.Regexp(t, `Magnesium is low, 50 ppm: [0-9.]+ (g|kg) of kieserite, or [0-9.]+ (g|kg) of Epsom salt`, page)
	assert.Contains(t, page, "Calcium is short: 300 ppm.")
}

func TestPotassiumIsPlannedFromTodayOnly(t *testing.T) {
	s := webtest.New(t, true)
	path := webtest.BedPath(s.Bed("Middle ledge").Bed.ID)
	now := s.Page(path + "/dose")
	ways := webtest.Forms(webtest.ByID(t, now, "potassium"))[path+"/plan"]
	require.NotEmpty(t, ways)
	assert.NotEmpty(t, webtest.Pieces(webtest.ByID(t, now, "potassium"), "k-more"), "what is to be minded")
	keys := map[string]bool{}
	for _, f := range ways {
		for x := range f.Descendants() {
			if name, _ := webtest.Attr(x, "name"); name == "key" {
				key, _ := webtest.Attr(x, "value")
				assert.False(t, keys[key], "each lands once")
				keys[key] = true
			}
		}
	}
	assert.Empty(t, webtest.Forms(webtest.ByID(t, s.Page(path+"/dose?on=2026-11-30"), "potassium")), "another day is to read")
}

// Ash that nobody has told of is asked about first for potassium too.
func TestUnknownAshForPotassiumIsQueried(t *testing.T) {
	s := webtest.New(t, false)
	s.Saved(s.Post("/beds", url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1,5"}, "x": {"1"}, "y": {"1"},
		"texture": {"loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"tomato"}, "sown": {"2027-05-20"}, "key": {"b"}}))
	s.Saved(s.Post("/readings", url.Values{"bed": {"1"}, "date": {"2026-11-20"}, "method": {"lab"}, "basis": {"water"}, "ph": {"5.6"},
		"k": {"40"}, "cores": {"12"}, "depth": {"15"}, "key": {"r"}}))
	ways := webtest.Pieces(webtest.ByID(t, s.Page("/beds/1/dose"), "potassium"), "task-row")
	asked := 0
	for _, w := range ways {
		ash := strings.Contains(strings.ToLower(w.Says), "ash")
		assert.Equal(t, ash, strings.Contains(w.Says, "Say what ash it is"), w.Says)
		assert.Equal(t, ash, len(webtest.Forms(w.Node)) == 0, w.Says)
		if ash {
			asked++
		}
	}
	assert.NotZero(t, asked)
	assert.Greater(t, len(ways), asked)
}

func TestMethodsAndSafety(t *testing.T) {
	page := webtest.New(t, true).Page("/beds/2/dose")
	rows := webtest.Pieces(page, "sides")
	require.Len(t, rows, 1)
	assert.GreaterOrEqual(t, len(webtest.Pieces(rows[0].Node, "heads")), 2, "what growers differ on heads its schools")
	assert.NotEmpty(t, webtest.Pieces(rows[0].Node, "on"), "the one that holds is marked")
	for _, id := range []string{"depth-fault", "buffering-fault"} {
		webtest.ByID(t, page, id)
	}
	safety := webtest.Pieces(page, "safety")
	require.Len(t, safety, 1)
	assert.Contains(t, safety[0].Says, "When you put it on")
	assert.Greater(t, len(safety[0].Says), 100)
}

// inKilos is an amount of ash from a bin whose scoop was weighed, by weight alone.
var inKilos = regexp.MustCompile(`\d k?g of (oven|pellet stove) ash`)

func TestAmountsAreInScoops(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Lower ledge").Bed.ID
	on := webtest.BedPath(bed)
	pages := []string{"/?bed=" + strconv.FormatInt(bed, 10), on,
		on + "/dose?use=b1", on + "/mix", "/dose/many?with=b1", "/sheet", "/shed", "/shed/share",
		"/bucket?with=b1", "/batches/1"}
	read := func(when string) {
		for _, page := range pages {
			if found := inKilos.FindString(s.Get(page).Body.String()); !assert.Empty(t, found, "%s, %s", page, when) {
				return
			}
		}
	}
	read("as the demo is")
	assert.Contains(t, s.Get(pages[0]).Body.String(),
		"24 Nov 2026, planned: 12 level scoops (1.2 kg) of oven ash, autumn batch", "the chart too")
	assert.Contains(t, s.Get("/shed/share").Body.String(), "151 of 410 scoops")
	assert.Contains(t, s.Get("/shed/share").Body.String(), "of 410 scoops")
	assert.Regexp(t, `\d+ level scoops \([\d.]+ kg\)`, webtest.Wording(s.Page("/dose/many?with=b1")))
	assert.Regexp(t, `class="amt [^>]*data-grams="[\d.]+ g"[^>]*>\s*\d+ scoops`, s.Get(on+"/dose?use=b1").Body.String())
	g := s.OpenTasks(bed)[0]
	s.Saved(s.Post("/tasks/"+strconv.FormatInt(g.ID, 10)+"/put-on", url.Values{"version": {strconv.FormatInt(g.Version, 10)},
		"amount": {"1.8"}, "measure": {"kg"}}))
	read("once it has gone on")
	assert.Contains(t, s.Get(on).Body.String(), "Put 18 level scoops (1.8 kg) of oven ash, autumn batch on Lower ledge")
	// What was weighed is the batch’s own: without it, kilos.
	_, err := s.Store.Change(t.Context(), garden.Change{}, func(tx garden.Tx) (string, error) {
		b, err := garden.Get[garden.Batch](tx, 1)
		require.NoError(t, err)
		b.Scoop = nil
		return "no scoop", tx.Update(&b)
	})
	require.NoError(t, err)
	assert.Contains(t, s.Get("/sheet").Body.String(), "1.8 kg put on")
	assert.Contains(t, s.Get(on).Body.String(), "1.8 kg of oven ash, autumn batch put on")
}

func TestOvertakenDoseIsInScoops(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Lower ledge").Bed.ID
	ph := quantity.PH(5.8)
	s.Add(&garden.Reading{BedID: bed, Date: s.Today - 2, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15})
	page := s.Get(webtest.BedPath(bed) + "/dose").Body.String()
	assert.Contains(t, page, "24 level scoops (2.4 kg) of oven ash, autumn batch still to go on.")
	assert.Regexp(t, `From the reading of 22 Nov it is \d+ level scoops \([\d.]+ kg\)\.`, page)
}

// What a dose rests on of what the bed has shown is reported beside it, with the way to put it aside.
func TestDoseShowsLearning(t *testing.T) {
	s := webtest.New(t, true)
	ledge := s.Bed("Upper ledge").Bed
	page := s.Get(fmt.Sprintf("/beds/%d/dose", ledge.ID)).Body.String()
	assert.Contains(t, page, "Learned from 7 tests")
	left := s.Get(fmt.Sprintf("/beds/%d/dose?buffering=table", ledge.ID)).Body.String()
	assert.Contains(t, left, "which is left out here")
	shown := s.Get(fmt.Sprintf("/beds/%d/learned", ledge.ID)).Body.String()
	assert.Contains(t, shown, "Ignore its tests up to today")
}

// A dose shows its first part with its day, and in one line what waits for which test; once
// planned, that has no day anywhere.
func TestRestWaitsForTest(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Middle ledge").Bed.ID
	path, plan := fmt.Sprintf("/beds/%d/dose?target=6.7", bed), fmt.Sprintf("/beds/%d/plan", bed)
	page := s.Get(path).Body.String()
	assert.Regexp(t, `The rest, about 1\.\d kg, after the test of 25 May 2027\. It should read 6\.\d then\.`, page)
	s.Saved(s.Post(plan, webtest.Fields(webtest.Forms(s.Page(path))[plan][0])))
	rec := s.Record(bed)
	require.Len(t, rec.Rests, 1)
	for _, task := range rec.Tasks {
		if task.State == garden.Open && task.Kind == garden.TaskApplication {
			assert.Less(t, task.Due, rec.Rests[0].Test)
		}
	}
	assert.Regexp(t, `Test, then about 1\.\d kg`, s.Get(fmt.Sprintf("/?bed=%d", bed)).Body.String())
	for _, path := range []string{fmt.Sprintf("/beds/%d", bed), "/sheet"} {
		assert.Regexp(t, `[Tt]he rest, about 1\.\d kg( of ground limestone)?, after the test of 25 May 2027`, s.Get(path).Body.String(), path)
	}
}

func TestPotassiumIsPlannedBesidePH(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Middle ledge").Bed.ID
	page, plan := s.Page(fmt.Sprintf("/beds/%d/dose", bed)), fmt.Sprintf("/beds/%d/plan", bed)
	assert.Contains(t, webtest.Wording(page), "Potassium is short: 82 ppm, enough is 105 ppm")
	forms := webtest.Forms(page)[plan]
	at := slices.IndexFunc(forms, func(n *html.Node) bool {
		for x := range n.Descendants() {
			if label, _ := webtest.Attr(x, "aria-label"); strings.HasSuffix(label, ": Potassium sulfate for potassium") {
				return true
			}
		}
		return false
	})
	require.Positive(t, at, "it has a form of its own, after that of the first way")
	s.Saved(s.Post(plan, webtest.Fields(forms[0])))
	s.Saved(s.Post(plan, webtest.Fields(forms[at])))
	kinds := map[string]int{}
	for _, task := range s.Record(bed).Tasks {
		if task.State == garden.Open && task.Kind == garden.TaskApplication {
			kinds[string(task.What)]++
			assert.Equal(t, task.What == "potassium-sulfate", task.PHAfter == nil)
		}
	}
	assert.Equal(t, map[string]int{"calcitic-lime": 1, "potassium-sulfate": 2}, kinds, "the one does not take the other’s place")
	// And the plan says the same of the potassium as the dose.
	assert.Contains(t, s.Get(fmt.Sprintf("/?bed=%d&look=k", bed)).Body.String(), "Middle ledge, potassium 82 ppm, short")
}

// The expected reading and the final pH share a sentence only where one leads to the other.
func TestPromisePastFinalPH(t *testing.T) {
	s := webtest.New(t, true)
	then := func(path string) string { return webtest.Pieces(s.Page(path), "then")[0].Says }
	alone := then("/beds/2/dose?target=6.4&use=b1&pace=all-at-once")
	assert.Contains(t, alone, "it should read 6.4")
	assert.NotContains(t, alone, "settle")
	// A tenth more in the end than at the test is not worth a second figure.
	lower := then("/beds/3/dose?pace=all-at-once")
	assert.Contains(t, lower, "it should read 6.4")
	assert.NotContains(t, lower, "settle")
}

func TestDoseDoesNotDependOnUnits(t *testing.T) {
	s := webtest.New(t, true)
	ask := func(query string) (request, page string) {
		return s.Get("/beds/2/dose.json" + query).Body.String(), s.Get("/beds/2/dose" + query).Body.String()
	}
	metric, before := ask("?target=6.4&depth=20")
	require.Contains(t, before, "g/m²")
	s.Saved(s.Post("/place", s.PlaceForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2")))
	imperial, after := ask("?target=6.4&depth=7.874015748")
	require.Contains(t, after, "lb/100 ft²")
	assert.Equal(t, metric, imperial)
}

var grams = regexp.MustCompile(`value="([-_a-z\d]+)"\s+form="dose-form"[\s\S]*?data-grams="(\d+) g"`)

func TestPageMatchesCommandLine(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Middle ledge").Bed.ID
	seen := map[string]bool{}
	for _, q := range []string{"", "target=6.3", "target=6.4&depth=20", "target=6.6&buffering=organic-matter", "target=6.4&ash=dusting",
		"target=6.8&depth=10"} {
		path := fmt.Sprintf("/beds/%d/dose", id)
		page := s.Get(path + "?" + q)
		require.Equal(t, http.StatusOK, page.Code)
		request := s.Get(path + ".json?" + q)
		require.Equal(t, http.StatusOK, request.Code)
		a, err := dosejson.AnswerTo(request.Body.Bytes())
		require.NoError(t, err)
		found := grams.FindAllStringSubmatch(page.Body.String(), -1)
		require.Len(t, found, len(a.Options), q)
		for i, o := range a.Options {
			sum := 0.0
			for _, m := range o.Materials {
				sum += m.Total
			}
			shown, err := strconv.ParseFloat(found[i][2], 64)
			require.NoError(t, err)
			// The parts of a mix are rounded each by itself.
			assert.InDelta(t, sum, shown, 0.5*float64(len(o.Materials)), "%s, option %d", q, i)
			seen[found[i][2]] = true
		}
	}
	assert.Greater(t, len(seen), 10, "the inputs do change the amounts")
}

func TestInvalidTarget(t *testing.T) {
	s := webtest.New(t, true)
	for typed, says := range map[string]string{"12": "pH from 4.0 to 7.8", "sour": "is not a number", "2,5": "pH from 4.0 to 7.8"} {
		w := s.Get("/beds/2/dose?target=" + url.QueryEscape(typed) + "&depth=20")
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		body := w.Body.String()
		assert.Regexp(t, `(?s)id="target-fault"[^>]*>[^<]*`+says, body)
		assert.Regexp(t, `name="target"[^>]* value="`+typed+`"`, body)
		assert.Contains(t, body, `name="depth" value="20" checked`)
	}
	assert.Equal(t, http.StatusOK, s.Get("/beds/2/dose?target=6%2C4").Code, "a comma serves as the point")
}

func TestForgedPostsAreRefused(t *testing.T) {
	s := webtest.New(t, true)
	// A refused material, an option that does not exist, a bed known by fizz only.
	w, err := s.App.Dosing.Dose(context.Background(), s.Bed("Middle ledge").Bed.ID, dosing.Choice{}, s.Today)
	require.NoError(t, err)
	for _, r := range w.Answer.Refused {
		got := s.Post("/beds/2/plan", s.PlanForm(2, "use", string(r.Kind)))
		assert.Equal(t, http.StatusConflict, got.Code, r.Kind)
	}
	assert.Equal(t, http.StatusConflict, s.Post("/beds/2/plan", s.PlanForm(2, "use", "x")).Code)
	bench := s.Bed("Seedling bench").Bed.ID
	uses := []string{}
	for i, m := range material.Table {
		uses = append(uses, string(m.Kind), "b"+strconv.Itoa(i))
	}
	for _, use := range uses {
		for _, method := range []string{"", "table", "organic-matter", "measured"} {
			got := s.Post(fmt.Sprintf("/beds/%d/plan", bench), url.Values{"use": {use}, "target": {"6.5"}, "buffering": {method}})
			require.Contains(t, []int{http.StatusConflict, http.StatusUnprocessableEntity}, got.Code)
		}
	}
	assert.Empty(t, s.OpenTasks(bench))
	// The page is also what is printed, and its request goes to the command line.
	page := s.Get(fmt.Sprintf("/beds/%d/dose", bench)).Body.String()
	assert.Contains(t, page, "Jar fizz tells only")
	assert.NotContains(t, page, "data-grams")
	assert.NotContains(t, page, `class="opt"`)
	assert.NotContains(t, page, `id="put"`)
	assert.NotContains(t, s.Get("/sheet").Body.String(), "Seedling bench")
}
