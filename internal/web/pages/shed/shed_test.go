package shed_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/material"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

func TestDefaultMovementIsWeighing(t *testing.T) {
	s := webtest.New(t, true)
	bin := s.Stock("Oven ash, autumn batch").ID
	page := s.Page("/shed/" + webtest.ID(bin))
	for id, want := range map[string]bool{"moved-weighed": true, "moved-in": false, "moved-out": false} {
		_, on := webtest.Attr(webtest.ByID(t, page, id), "checked")
		assert.Equal(t, want, on, id)
	}
}

// A bin's form folds what is known, says by what, and opens where something is wrong.
func TestFoldedPartOpensAtItsFault(t *testing.T) {
	s := webtest.New(t, true)
	folds := func(page *html.Node) (out []string) {
		for _, p := range webtest.Pieces(page, "rest") {
			_, open := webtest.Attr(p.Node, "open")
			out = append(out, fmt.Sprint(webtest.Wording(webtest.Summary(p.Node)), " ", open))
		}
		return out
	}
	path := "/shed/" + webtest.ID(s.Stock("Oven ash, autumn batch").ID)
	assert.Equal(t, []string{"How strong it is by vinegar false", "The fire and the bin noted false"}, folds(s.Page(path)))
	form := webtest.Filled(s.Get(path).Body.String())
	form.Set("vinegar", "100 600")
	w := s.Post(path, form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Equal(t, []string{"How strong it is by vinegar true", "The fire and the bin noted false"}, folds(webtest.Parsed(w.Body.String())))
}

// From an empty garden, ash is asked about before any of it goes into the year, and then
// every amount is in the gardener's own cups.
func TestUnknownAshIsQueried(t *testing.T) {
	s := webtest.New(t, false)
	s.Saved(s.Post("/beds", url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1,5"}, "x": {"1"}, "y": {"1"},
		"texture": {"loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"tomato"}, "sown": {"2027-05-20"}, "key": {"b"}}))
	s.Saved(s.Post("/readings", url.Values{"bed": {"1"}, "date": {"2026-11-20"}, "method": {"lab"}, "basis": {"water"}, "ph": {"5.6"},
		"cores": {"12"}, "depth": {"15"}, "key": {"r"}}))
	page := s.Get("/beds/1/dose?use=wood-ash-hardwood").Body.String()
	assert.Contains(t, page, `id="ask-ash" href="/shed/ash?for=1"`)
	assert.NotContains(t, page, `id="put"`)
	forged := s.Post("/beds/1/plan", url.Values{"use": {"wood-ash-hardwood"}, "key": {"p"}})
	assert.Equal(t, http.StatusUnprocessableEntity, forged.Code)
	assert.Empty(t, s.OpenTasks(1))

	// Without a source nothing is saved, and the input is kept.
	untold := s.Post("/shed", webtest.AshForm("Stove ash", "", "for", "1"))
	assert.Equal(t, http.StatusUnprocessableEntity, untold.Code)
	assert.Contains(t, untold.Body.String(), "Say what went into the fire")
	assert.Contains(t, untold.Body.String(), `value="Stove ash"`)
	told := s.Post("/shed", webtest.AshForm("Stove ash", "clean", "for", "1"))
	s.Saved(told)
	assert.Contains(t, told.Header().Get("Location"), "/beds/1/dose", "back to the dose that asked")
	page = s.Get("/beds/1/dose?use=b1").Body.String()
	assert.Contains(t, page, `id="put"`)
	assert.Regexp(t, `\d+ level cups`, page)
	s.Saved(s.Post("/beds/1/plan", url.Values{"use": {"b1"}, "key": {"p2"}}))
	s.Today += 7
	assert.Contains(t, s.Get("/sheet").Body.String()+s.Get("/?bed=1").Body.String(), "level cup")
}

// More of a bag can be bought: what is left of it bounds no dose, and what is short is
// told.
func TestShortBagIsBought(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/shed/4/move", url.Values{"moved": {"1"}, "moved_kind": {"weighed"}, "key": {"w"}}))
	page := s.Get("/beds/2/dose?target=6.4").Body.String()
	assert.Regexp(t, `1 kg on the shelf, 5\d\d g to buy`, page)
	assert.Regexp(t, `id="use-b4"[\s\S]{0,600}1\.6 kg`, page)
}

// A barred bin goes nowhere: it is no option, and what was planned from it before
// cannot be ticked, whoever posts it.
func TestBarredBin(t *testing.T) {
	s := webtest.New(t, true)
	ledge := s.Bed("Lower ledge").Bed.ID
	due := s.OpenTasks(ledge)[0]
	require.NotNil(t, due.BatchID)
	path := fmt.Sprintf("/shed/%d", *due.BatchID)
	form := webtest.Filled(s.Get(path).Body.String())
	form.Set("source", "painted")
	form.Set("kind", string(material.HardwoodAsh))
	form.Set("key", "painted")
	s.Saved(s.Post(path, form))
	for _, queued := range []string{"once", "once more"} {
		w := s.Post(fmt.Sprintf("/tasks/%d/put-on", due.ID), url.Values{"version": {webtest.ID(due.Version)}, "planned": {"yes"},
			"key": {"t" + queued}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), "Painted wood went into this batch")
	}
	assert.NotContains(t, s.Get(fmt.Sprintf("/beds/%d/dose", ledge)).Body.String(), fmt.Sprintf(`value="b%d"`, *due.BatchID))
	assert.Contains(t, s.Get("/shed").Body.String(), "Off the beds: painted wood went into this batch.")
	assert.Contains(t, s.Get(path+"/label").Body.String(), "Not to be used")
}

func TestUnchangedBatchIsStable(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/shed", webtest.AshForm("Stove ash", "clean", "burnt", "2026-11-01", "vinegar", "118 122 60", "vinegar_pct", "9",
		"charcoal", "7.5", "walnut", "yes", "wet", "yes", "woods", "ash and oak", "keeping", "in the lean-to", "note", "x")))
	s.Saved(s.Post("/shed", url.Values{"name": {"Lime in sacks"}, "kind": {"calcitic-lime"}, "on_hand": {"20"}, "cce": {"95"},
		"grade": {"sieves"}, "passes_1": {"100"}, "passes_2": {"80"}, "passes_3": {"35"}, "moisture": {"2"}, "bag": {"25"}, "price": {"7,50"},
		"scoop": {"180"}, "scoop_name": {"bucket"}, "key": {"lime"}}))
	lime := s.Stock("Lime in sacks")
	assert.InDelta(t, 0.30, *lime.Price, 1e-9, "of a kilogram")
	assert.Equal(t, garden.Figures{0, 20, 45, 35}, lime.Fineness)
	assert.InDelta(t, 0.95*(0.2*0.2+0.45*0.6+0.35)*0.98, lime.Worth.EffectiveCCE, 1e-9)
	assert.InDelta(t, 120*0.417*1.8/100*0.925, s.Stock("Stove ash").Worth.EffectiveCCE, 1e-9,
		"the wild run is left out, and what was measured wet stands")
	for _, units := range []string{"kg", "lb"} {
		s.Saved(s.Post("/place", s.PlaceForm("weight_unit", map[string]string{"kg": "", "lb": "lb"}[units])))
		shed, err := s.App.Inventory.View(context.Background(), s.Today)
		require.NoError(t, err)
		for _, x := range shed.Stock {
			path := fmt.Sprintf("/shed/%d", x.ID)
			form := webtest.Filled(s.Get(path).Body.String())
			form.Set("key", units+path)
			s.Saved(s.Post(path, form))
			is, was := s.Batch(x.ID), x.Batch
			for _, p := range []struct{ was, is *float64 }{{(*float64)(was.Scoop), (*float64)(is.Scoop)},
				{(*float64)(was.Bag), (*float64)(is.Bag)}, {was.Price, is.Price}} {
				if p.was != nil {
					require.NotNil(t, p.is, x.Name)
					assert.InEpsilon(t, *p.was, *p.is, 0.01, x.Name)
				}
			}
			was.Version, was.Scoop, was.Bag, was.Price = is.Version, is.Scoop, is.Bag, is.Price
			if was.ScoopName == "" {
				was.ScoopName = is.ScoopName
			}
			assert.Equal(t, was, is, "%s in %s", x.Name, units)
		}
	}
}

func TestBatchFaults(t *testing.T) {
	s := webtest.New(t, true)
	for field, c := range map[string]struct{ typed, says string }{
		"on_hand": {"-1", "from 0"}, "scoop": {"0", "above 0"}, "vinegar": {"100 600", "to 500 mL"}, "vinegar_pct": {"7", "5 or 9"},
		"charcoal": {"96", "from 0 to 95"}, "cce": {"300", "to 180"}, "burnt": {"2026-11-25", "still to come"},
	} {
		form := webtest.AshForm("Bin "+field, "clean", field, c.typed)
		if field == "vinegar_pct" {
			form.Set("vinegar", "100")
		}
		w := s.Post("/shed", form)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `(?i)id="`+field+`-fault"[^>]*>[^<]*`+c.says, w.Body.String(), field)
	}
	both := s.Post("/shed", webtest.AshForm("Both", "clean", "vinegar", "100", "cce", "40"))
	assert.Contains(t, both.Body.String(), "not both")
	bad := s.Post("/shed", url.Values{"kind": {"calcitic-lime"}, "grade": {"sieves"}, "passes_1": {"50"}, "passes_2": {"80"},
		"passes_3": {"x"}, "key": {"g"}})
	assert.Regexp(t, `id="passes_2-fault"[^>]*>No more passes`, bad.Body.String())
	assert.Regexp(t, `id="passes_3-fault"[^>]*>“x” is not a number`, bad.Body.String())
	for move, says := range map[string]string{"out": "there are only 9 kg", "in": "above 0"} {
		amount := map[string]string{"out": "9.5", "in": "0"}[move]
		w := s.Post("/shed/2/move", url.Values{"moved": {amount}, "moved_kind": {move}, "key": {move}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Regexp(t, `(?i)id="moved-fault"[^>]*>[^<]*`+says, w.Body.String())
	}
	assert.Equal(t, http.StatusNotFound, s.Get("/shed/99").Code)
	assert.Contains(t, s.Get("/shed?logs=3").Body.String(), "3 m³ of logs leave about 7.5 kg of ash")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Get("/shed?logs=0").Code)
}

// Ash that is barred comes in by a file as barred as it is, and goes nowhere whatever asks.
func TestImportedBarredAsh(t *testing.T) {
	s := webtest.New(t, true)
	w := s.Post("/shed/csv", url.Values{"key": {"in"}, "csv": {"name,kind,left_kg,source\nSkip ash,wood-ash-hardwood,9,painted\n"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	key := dosing.BatchKey(s.Stock("Skip ash").ID)
	assert.Contains(t, s.Get("/bucket?what="+key).Body.String(), "Not for any bed")
	assert.NotContains(t, s.Get("/beds/2/dose").Body.String(), `value="`+key+`"`)
	assert.Contains(t, s.Get("/shed/share").Body.String(), "Skip ash is not to be used")
	for path, form := range map[string]url.Values{
		"/bucket/2":    {"what": {key}},
		"/beds/2/plan": {"use": {key}},
		"/dose/many":   {"bed": {"2"}, "with": {key}},
		"/beds/2/mix":  {"ash_of": {key}, "ash_on": {"1"}},
	} {
		form.Set("key", "forged "+path)
		w := s.Post(path, form)
		assert.GreaterOrEqual(t, w.Code, 400, path)
	}
	fixed := s.Get("/shed/share?fix.2." + key + "=1")
	assert.Equal(t, http.StatusUnprocessableEntity, fixed.Code)
	// Without a source it is not imported at all.
	w = s.Post("/shed/csv", url.Values{"key": {"in 2"}, "csv": {"name,kind,left_kg\nNew ash,leaf-ash,9\n"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "Line 2")
}
