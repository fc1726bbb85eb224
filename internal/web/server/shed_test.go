package server_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
)

func ashForm(name, source string, more ...string) url.Values {
	f := url.Values{"name": {name}, "kind": {string(material.UnknownAsh)}, "fire": {"stove"}, "source": {source}, "on_hand": {"8"},
		"scoop": {"90"}, "scoop_name": {"cup"}, "key": {"ash " + name}}
	for i := 0; i < len(more); i += 2 {
		f.Set(more[i], more[i+1])
	}
	return f
}

// stock is a batch as it stands, by its name.
func (s *harness) stock(name string) inventory.Stock {
	s.t.Helper()
	shed, err := s.app.Inventory.View(context.Background(), s.today)
	require.NoError(s.t, err)
	for _, x := range shed.Stock {
		if x.Name == name {
			return x
		}
	}
	require.Fail(s.t, "not on the shelf", name)
	return inventory.Stock{}
}

// From an empty garden, ash is asked about before any of it goes into the year, and then
// every amount is in the gardener's own cups.
func TestAshIsAskedAboutBeforeItsFirstGo(t *testing.T) {
	s := newSite(t, false)
	s.saved(s.post("/beds", url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1,5"}, "x": {"1"}, "y": {"1"},
		"texture": {"loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"tomato"}, "sown": {"2027-05-20"}, "key": {"b"}}))
	s.saved(s.post("/readings", url.Values{"bed": {"1"}, "date": {"2026-11-20"}, "method": {"lab"}, "basis": {"water"}, "ph": {"5.6"},
		"cores": {"12"}, "depth": {"15"}, "key": {"r"}}))
	page := s.get("/beds/1/dose?use=wood-ash-hardwood").Body.String()
	assert.Contains(t, page, `id="ask-ash" href="/shed/ash?for=1"`)
	assert.NotContains(t, page, `id="put"`)
	forged := s.post("/beds/1/plan", url.Values{"use": {"wood-ash-hardwood"}, "key": {"p"}})
	assert.Equal(t, http.StatusUnprocessableEntity, forged.Code)
	assert.Empty(t, s.openTasks(1))

	// Nobody's word for the fire: nothing is kept, and what was typed stands there still.
	untold := s.post("/shed", ashForm("Stove ash", "", "for", "1"))
	assert.Equal(t, http.StatusUnprocessableEntity, untold.Code)
	assert.Contains(t, untold.Body.String(), "Say what went into the fire")
	assert.Contains(t, untold.Body.String(), `value="Stove ash"`)
	told := s.post("/shed", ashForm("Stove ash", "clean", "for", "1"))
	s.saved(told)
	assert.Contains(t, told.Header().Get("Location"), "/beds/1/dose", "back to the dose that asked")
	page = s.get("/beds/1/dose?use=b1").Body.String()
	assert.Contains(t, page, `id="put"`)
	assert.Regexp(t, `\d+ level cups`, page)
	s.saved(s.post("/beds/1/plan", url.Values{"use": {"b1"}, "key": {"p2"}}))
	s.today += 7
	assert.Contains(t, s.get("/sheet").Body.String()+s.get("/?bed=1").Body.String(), "level cup")
}

// More of a bag can be bought: what is left of it bounds no dose, and what is short is
// told.
func TestABagThatIsShortIsToBeBought(t *testing.T) {
	s := newSite(t, true)
	s.saved(s.post("/shed/4/move", url.Values{"moved": {"1"}, "moved_kind": {"weighed"}, "key": {"w"}}))
	page := s.get("/beds/2/dose?target=6.4").Body.String()
	assert.Regexp(t, `1 kg on the shelf, 5\d\d g to buy`, page)
	assert.Regexp(t, `id="use-b4"[\s\S]{0,600}1\.6 kg`, page)
}

// A barred bin goes nowhere: it is no option, and what was planned from it before
// cannot be ticked, whoever posts it.
func TestABarredBinGoesNowhere(t *testing.T) {
	s := newSite(t, true)
	ledge := s.bed("Lower ledge").Bed.ID
	due := s.openTasks(ledge)[0]
	require.NotNil(t, due.BatchID)
	path := fmt.Sprintf("/shed/%d", *due.BatchID)
	form := filled(s.get(path).Body.String())
	form.Set("source", "painted")
	form.Set("kind", string(material.HardwoodAsh))
	form.Set("key", "painted")
	s.saved(s.post(path, form))
	for _, queued := range []string{"once", "once more"} {
		w := s.post(fmt.Sprintf("/tasks/%d/put-on", due.ID), url.Values{"version": {vers(due.Version)}, "planned": {"yes"},
			"key": {"t" + queued}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), "Painted wood went into this batch")
	}
	assert.NotContains(t, s.get(fmt.Sprintf("/beds/%d/dose", ledge)).Body.String(), fmt.Sprintf(`value="b%d"`, *due.BatchID))
	assert.Contains(t, s.get("/shed").Body.String(), "Off the beds: painted wood went into this batch.")
	assert.Contains(t, s.get(path+"/label").Body.String(), "For no bed")
}

func TestABatchSavedUnchangedStaysAsItIs(t *testing.T) {
	s := newSite(t, true)
	s.saved(s.post("/shed", ashForm("Stove ash", "clean", "burnt", "2026-11-01", "vinegar", "118 122 60", "vinegar_pct", "9",
		"charcoal", "7.5", "walnut", "yes", "wet", "yes", "woods", "ash and oak", "keeping", "in the lean-to", "note", "x")))
	s.saved(s.post("/shed", url.Values{"name": {"Lime in sacks"}, "kind": {"calcitic-lime"}, "on_hand": {"20"}, "cce": {"95"},
		"grade": {"sieves"}, "passes_1": {"100"}, "passes_2": {"80"}, "passes_3": {"35"}, "moisture": {"2"}, "bag": {"25"}, "price": {"7,50"},
		"scoop": {"180"}, "scoop_name": {"bucket"}, "key": {"lime"}}))
	lime := s.stock("Lime in sacks")
	assert.InDelta(t, 0.30, *lime.Price, 1e-9, "of a kilogram")
	assert.Equal(t, garden.Figures{0, 20, 45, 35}, lime.Fineness)
	assert.InDelta(t, 0.95*(0.2*0.2+0.45*0.6+0.35)*0.98, lime.Worth.EffectiveCCE, 1e-9)
	assert.InDelta(t, 120*0.417*1.8/100*0.925, s.stock("Stove ash").Worth.EffectiveCCE, 1e-9,
		"the wild run is left out, and what was measured wet stands")
	for _, units := range []string{"kg", "lb"} {
		s.saved(s.post("/place", s.placeForm("weight_unit", map[string]string{"kg": "", "lb": "lb"}[units])))
		shed, err := s.app.Inventory.View(context.Background(), s.today)
		require.NoError(t, err)
		for _, x := range shed.Stock {
			path := fmt.Sprintf("/shed/%d", x.ID)
			form := filled(s.get(path).Body.String())
			form.Set("key", units+path)
			s.saved(s.post(path, form))
			is, was := s.stockID(x.ID), x.Batch
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

func (s *harness) stockID(id int64) garden.Batch {
	s.t.Helper()
	b, err := s.app.Inventory.Batch(context.Background(), id)
	require.NoError(s.t, err)
	return b
}

func TestWhatIsWrongWithABatchStandsAtItsField(t *testing.T) {
	s := newSite(t, true)
	for field, c := range map[string]struct{ typed, says string }{
		"on_hand": {"-1", "from 0"}, "scoop": {"0", "above 0"}, "vinegar": {"100 600", "to 500 mL"}, "vinegar_pct": {"7", "5 or 9"},
		"charcoal": {"96", "from 0 to 95"}, "cce": {"300", "to 180"}, "burnt": {"2026-11-25", "still to come"},
	} {
		form := ashForm("Bin "+field, "clean", field, c.typed)
		if field == "vinegar_pct" {
			form.Set("vinegar", "100")
		}
		w := s.post("/shed", form)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `(?i)id="`+field+`-fault"[^>]*>[^<]*`+c.says, w.Body.String(), field)
	}
	both := s.post("/shed", ashForm("Both", "clean", "vinegar", "100", "cce", "40"))
	assert.Contains(t, both.Body.String(), "not both")
	bad := s.post("/shed", url.Values{"kind": {"calcitic-lime"}, "grade": {"sieves"}, "passes_1": {"50"}, "passes_2": {"80"},
		"passes_3": {"x"}, "key": {"g"}})
	assert.Regexp(t, `id="passes_2-fault"[^>]*>No more passes`, bad.Body.String())
	assert.Regexp(t, `id="passes_3-fault"[^>]*>“x” is not a number`, bad.Body.String())
	for move, says := range map[string]string{"out": "there are only 9 kg", "in": "above 0"} {
		amount := map[string]string{"out": "9.5", "in": "0"}[move]
		w := s.post("/shed/2/move", url.Values{"moved": {amount}, "moved_kind": {move}, "key": {move}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Regexp(t, `(?i)id="moved-fault"[^>]*>[^<]*`+says, w.Body.String())
	}
	assert.Equal(t, http.StatusNotFound, s.get("/shed/99").Code)
	assert.Contains(t, s.get("/shed?logs=3").Body.String(), "3 m³ of logs leave about 7.5 kg of ash")
	assert.Equal(t, http.StatusUnprocessableEntity, s.get("/shed?logs=0").Code)
}

// What is on hand is shared out over all beds: no more of it than there is, none of what
// is barred, and the same in the picture and the table.
func TestWhatIsOnHandIsSharedOut(t *testing.T) {
	s := newSite(t, true)
	sh, err := s.app.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.today, nil)
	require.NoError(t, err)
	assert.Zero(t, sh.Gap)
	assert.Contains(t, sh.Untested, "New ground")
	for i := range sh.Beds {
		b := &sh.Beds[i]
		w, err := s.app.Dosing.Dose(context.Background(), b.Dose.Record.Bed.ID, dosing.Choice{}, s.today)
		require.NoError(t, err)
		assert.Equal(t, w.Answer, b.Answer, "%s is shared out by its own dose", b.Dose.Record.Bed.Name)
		assert.Equal(t, w.Request, b.Request)
	}
	for m, of := range sh.Of {
		sum := 0.0
		for i, b := range sh.Beds {
			sum += float64(sh.Given[i][m].Over(b.Area))
			if b.Dose.Record.Bed.Name == "Blueberry pocket" && of.Family == material.Ash {
				assert.Zero(t, sh.Given[i][m], "never on an acid lover")
			}
		}
		if of.OnHand != nil {
			assert.LessOrEqual(t, sum, float64(*of.OnHand)+0.01, sh.Stocks[m].Name)
		}
		if of.Barred() {
			assert.Zero(t, sum, sh.Stocks[m].Name)
		}
	}
	page := s.get("/shed/share").Body.String()
	assert.Contains(t, page, "of 50 kg of ash go on", "what is barred is no ash that may")
	assert.Contains(t, s.get("/shed").Body.String(), "50 kg of ash in 2 bins, 12 kg for no bed")
	assert.Contains(t, page, "Fire-pit ash goes on no bed: driftwood from the sea went into this batch.")
	assert.Contains(t, page, "Without a reading")
	assert.Equal(t, len(sh.Beds), strings.Count(page, `class="bed-name"`))
	assert.Contains(t, page, "Top lawn, oven ash, autumn batch: what stays on top waits for a test before more goes on.")
	for _, held := range sh.Held {
		for _, h := range held {
			assert.True(t, h.Limit != "" || len(h.Against) > 0, "what holds a bed back is named")
		}
	}
	// A bin of 1 kg: its next kilo is worth something, and says where.
	s.saved(s.post("/shed/1/move", url.Values{"moved": {"1"}, "moved_kind": {"weighed"}, "key": {"w"}}))
	s.saved(s.post("/shed/2/move", url.Values{"moved": {"0"}, "moved_kind": {"weighed"}, "key": {"w2"}}))
	page = s.get("/shed/share").Body.String()
	assert.Regexp(t, `One more kg of oven ash, autumn batch would go on [A-Z][a-z ]+ and save €\d`, page)
	assert.Contains(t, newSite(t, false).get("/shed/share").Body.String(), "Nothing has been read yet")
}

// All of it is put in the year with one press, to the gram, and taken back with one.
func TestTheShareIsPutInTheYearToTheGram(t *testing.T) {
	s := newSite(t, true)
	sh, err := s.app.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.today, nil)
	require.NoError(t, err)
	page := s.get("/shed/share").Body.String()
	assert.Contains(t, page, `id="put-all">Put all 5 beds in the year`)
	assert.Contains(t, page, "It takes the place of what is in the year for")
	w := s.post("/shed/share", url.Values{"key": {"all"}})
	s.saved(w)
	assert.Contains(t, s.get(w.Header().Get("Location")).Body.String(), "in the year for 5 beds.")
	for i := range sh.Beds {
		b := &sh.Beds[i]
		planned := map[int64]float64{}
		last := map[int64]garden.Task{}
		retests := 0
		for _, x := range s.openTasks(b.Dose.Record.Bed.ID) {
			if x.Kind == garden.TaskRetest {
				retests++
				continue
			}
			require.NotNil(t, x.BatchID)
			planned[*x.BatchID] += float64(x.Total)
			if was, ok := last[*x.BatchID]; ok {
				assert.GreaterOrEqual(t, int(x.Due-was.Due), 8*7, "goes of ash stand eight weeks apart")
			}
			last[*x.BatchID] = x
			assert.LessOrEqual(t, float64(x.Rate), 500.0)
		}
		gets := false
		for m := range sh.Stocks {
			want := float64(sh.Given[i][m].Over(b.Area))
			gets = gets || want > 0
			assert.InDelta(t, want, planned[sh.Stocks[m].ID], 1, "%s, %s", b.Dose.Record.Bed.Name, sh.Stocks[m].Name)
		}
		if gets {
			assert.Equal(t, 1, retests, b.Dose.Record.Bed.Name)
		}
	}
}

// A large garden is shared out beside the page, which tells how far it is and leads on.
func TestALargeGardenIsSharedOutWithProgress(t *testing.T) {
	s := newSite(t, true)
	var beds, read []garden.Record
	for i := range 130 {
		beds = append(beds, &garden.Bed{Name: fmt.Sprintf("Long bed %d", i+1), Kind: garden.KindBed, Shape: garden.ShapeRect, X: 40,
			Y: float64(i) * 3, W: 5, H: 2, Texture: soil.Loam, Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeNone})
	}
	s.add(beds...)
	for i, b := range beds {
		ph := quantity.PH(5.5 + 0.01*float64(i))
		read = append(read, &garden.Reading{BedID: b.(*garden.Bed).ID, Date: s.today - 20, Method: soil.Lab, Basis: soil.Water, PH: &ph,
			Cores: 12, Depth: 0.15})
	}
	s.add(read...)
	page := s.get("/shed/share?goal=foot")
	require.Equal(t, http.StatusOK, page.Code)
	assert.Contains(t, page.Body.String(), "Being shared out over 143 beds")
	require.Eventually(t, func() bool {
		return s.get("/shed/share/progress?goal=foot").Header().Get("Location") == "/shed/share?goal=foot" &&
			strings.Contains(s.get("/shed/share?goal=foot").Body.String(), "of ash go on")
	}, time.Minute, 20*time.Millisecond)
	assert.Contains(t, s.get("/shed/share?goal=foot").Body.String(), "Long bed 130")
}

// Ash that is barred comes in by a file as barred as it is, and goes nowhere whatever asks.
func TestBarredAshOfAFileGoesNowhere(t *testing.T) {
	s := newSite(t, true)
	w := s.post("/shed/csv", url.Values{"key": {"in"}, "csv": {"name,kind,left_kg,source\nSkip ash,wood-ash-hardwood,9,painted\n"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	key := dosing.BatchKey(s.stock("Skip ash").ID)
	assert.Contains(t, s.get("/bucket?what="+key).Body.String(), "On no bed")
	assert.NotContains(t, s.get("/beds/2/dose").Body.String(), `value="`+key+`"`)
	assert.Contains(t, s.get("/shed/share").Body.String(), "Skip ash goes on no bed")
	for path, form := range map[string]url.Values{
		"/bucket/2":    {"what": {key}},
		"/beds/2/plan": {"use": {key}},
		"/dose/many":   {"bed": {"2"}, "with": {key}},
		"/beds/2/mix":  {"ash_of": {key}, "ash_on": {"1"}},
	} {
		form.Set("key", "forged "+path)
		w := s.post(path, form)
		assert.GreaterOrEqual(t, w.Code, 400, path)
	}
	fixed := s.get("/shed/share?fix.2." + key + "=1")
	assert.Equal(t, http.StatusUnprocessableEntity, fixed.Code)
	// Without a word on the fire it does not come in at all.
	w = s.post("/shed/csv", url.Values{"key": {"in 2"}, "csv": {"name,kind,left_kg\nNew ash,leaf-ash,9\n"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "Line 2")
}
