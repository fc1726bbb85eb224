package bench_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// A reading that was put right twice in the meantime: the last of them stands beside what was typed.
func TestConflictShowsBothReadings(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Top lawn").Bed.ID
	read := s.Record(id).Readings[0]
	right := func() (string, url.Values) {
		page := s.Get(fmt.Sprintf("/bench?reading=%d", s.Record(id).Readings[0].ID)).Body.String()
		action := webtest.Grep(page, `id="reading-form" method="post" action="(/readings/\d+)"`)
		return action, webtest.Filled(page[strings.Index(page, `id="reading-form"`):strings.Index(page, `id="means"`)])
	}
	action, typed := right()
	for n, ph := range []string{"6.1", "6.3"} {
		to, form := right()
		form.Set("ph", ph)
		form.Set("key", fmt.Sprint("right", n))
		s.Saved(s.Post(to, form))
	}
	typed.Set("ph", "6.2")
	typed.Set("note", "The second page.")
	w := s.Post(action, typed)
	require.Equal(t, http.StatusConflict, w.Code)
	page := w.Body.String()
	rows := webtest.Rows(webtest.Parsed(page))
	assert.Contains(t, rows, "pH | 6.2 | 6.3")
	assert.Contains(t, strings.Join(rows, "\n"), "The second page.")
	now := s.Record(id).Readings[0]
	assert.Contains(t, page, fmt.Sprintf(`action="/readings/%d"`, now.ID))
	assert.Contains(t, page, fmt.Sprintf(`href="/bench?reading=%d"`, now.ID))
	typed = webtest.Filled(page[strings.Index(page, `id="reading-form"`):strings.Index(page, `id="means"`)])
	typed.Set("key", "mine")
	s.Saved(s.Post(fmt.Sprintf("/readings/%d", now.ID), typed))
	assert.InDelta(t, 6.2, float64(*s.Record(id).Readings[0].PH), 1e-9)
	assert.Equal(t, read.Date, s.Record(id).Readings[0].Date)
}

// A slurry lies between 0 and 50 °C, both ends in.
func TestSlurryTemperatureLimits(t *testing.T) {
	for temp, want := range map[string]int{"-0.1": http.StatusUnprocessableEntity, "0": http.StatusSeeOther, "50": http.StatusSeeOther,
		"50.1": http.StatusUnprocessableEntity} {
		s := webtest.New(t, true)
		w := s.Post("/readings", url.Values{"bed": {"9"}, "method": {"meter"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
			"depth": {"15"}, "tries": {"6.4 6.4 6.4"}, "temp": {temp}, "fresh": {"no"}})
		assert.Equal(t, want, w.Code, "%s °C", temp)
	}
}

func TestJarTestShowsNoFigure(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("New ground").Bed.ID
	s.Add(&garden.Reading{BedID: bed, Date: s.Today - 3, Method: soil.Fizz, Basis: soil.Water, Vinegar: soil.LimeNone,
		Soda: soil.LimeClear, Cores: 1, Depth: 0.15})
	page := s.Get("/?bed=" + strconv.FormatInt(bed, 10)).Body.String()
	assert.Contains(t, page, "New ground, sour by two jars, no figure")
	assert.Contains(t, page, "Two jars say")
	assert.Contains(t, page, "No dose is worked out from it.")
}

func TestReadingFieldsAreDistinct(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Page("/bench?bed=2")
	seen := map[string]bool{}
	for x := range page.Descendants() {
		if id, ok := webtest.Attr(x, "id"); ok {
			assert.False(t, seen[id], id)
			seen[id] = true
		}
	}
	for _, n := range []string{"layer1_to", "layer6_ph", "jar1_lime", "jar8_ph", "vinegar-fault", "soda-fault", "buffer_kind-fault",
		"k_extractant-fault"} {
		assert.True(t, seen[n], n)
	}
	w := s.Post("/readings", url.Values{"bed": {"2"}, "method": {"fizz"}, "date": {"2026-11-20"}, "cores": {"10"}, "depth": {"15"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	n, err := html.Parse(w.Body)
	require.NoError(t, err)
	assert.NotEmpty(t, webtest.Wording(webtest.ByID(t, n, "vinegar-fault")), "where no jar was watched")

	w = s.Post("/readings", url.Values{"bed": {"2"}, "method": {"lab"}, "date": {"2026-11-20"}, "ph": {"6"}, "cores": {"10"}, "depth": {"15"},
		"basis": {"tea"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	n, err = html.Parse(w.Body)
	require.NoError(t, err)
	invalid, _ := webtest.Attr(webtest.ByID(t, n, "basis"), "aria-invalid")
	assert.Equal(t, "true", invalid, "a list to choose from tells that it is wrong too")
	assert.NotEmpty(t, webtest.Wording(webtest.ByID(t, n, "basis-fault")))
}

// layered reads the top lawn, which is not dug, by meter in four layers.
func layered(bed int64) url.Values {
	return url.Values{"bed": {fmt.Sprint(bed)}, "method": {"meter"}, "fresh": {"yes"}, "basis": {"water"}, "date": {"2026-11-24"},
		"cores": {"12"}, "depth": {"10"},
		"layer1_to": {"5"}, "layer1_ph": {"6.8"}, "layer2_to": {"10"}, "layer2_ph": {"5.6"}, "layer3_to": {"15"}, "layer3_ph": {"5.4"},
		"layer4_to": {"20"}, "layer4_ph": {"6.8"}}
}

func TestLayeredReadingIsConsistent(t *testing.T) {
	s := webtest.New(t, true)
	lawn := s.Bed("Top lawn").Bed.ID
	s.Saved(s.Post("/readings", layered(lawn)))
	rec := s.Record(lawn)
	assert.Equal(t, bed.Sour, rec.State.Standing)
	assert.InDelta(t, 5.4, float64(rec.State.PH), 1e-9)
	for name, page := range map[string]string{"ground": fmt.Sprintf("/?bed=%d", lawn), "dose": fmt.Sprintf("/beds/%d/dose", lawn),
		"record": fmt.Sprintf("/beds/%d", lawn)} {
		body := s.Get(page).Body.String()
		assert.Contains(t, body, "pH by depth: top 5 cm 6.8, in range; 5 cm to 10 cm 5.6, sour;", name)
		assert.Equal(t, 4, strings.Count(body, `class="layer-ph"`), name)
	}
	assert.Contains(t, s.Get(fmt.Sprintf("/?bed=%d", lawn)).Body.String(), "Its sourest layer reads ")
	assert.Contains(t, s.Get(fmt.Sprintf("/?bed=%d", lawn)).Body.String(), "Top lawn, pH 5.4, sour by 0.6")
	assert.Contains(t, s.Get(fmt.Sprintf("/beds/%d", lawn)).Body.String(), "layers 6.8 / 5.6 / 5.4 / 6.8")
	// It is put right with its layers in the form.
	again := s.Get(fmt.Sprintf("/bench?reading=%d", rec.State.Reading.ID)).Body.String()
	assert.Regexp(t, `id="layer3_ph"[^>]*value="5.4"`, again)
	_, open := webtest.Attr(webtest.ByID(t, webtest.Parsed(again), "layers"), "open")
	assert.True(t, open)
}

func TestLayerCodeIsFound(t *testing.T) {
	s := webtest.New(t, true)
	lawn := s.Bed("Top lawn").Bed.ID
	w := s.Post("/walk", url.Values{"asked": {"1"}, "bed": {fmt.Sprint(lawn)}, "layered": {"yes"}, "corer": {"19"}, "wanted": {"500"}})
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	round := w.Header().Get("Location")
	code := regexp.MustCompile(`\b(\d+A)-2\b`).FindStringSubmatch(s.Get(strings.SplitN(round, "?", 2)[0] + "/labels").Body.String())
	require.NotEmpty(t, code)
	page := s.Get("/bench?sample=" + strings.ToLower(code[0])).Body.String()
	assert.Equal(t, code[0], webtest.Pieces(webtest.Parsed(page), "code")[0].Says)
	assert.Regexp(t, `id="layer1_to"[^>]*value="5"`, page)
	assert.Regexp(t, `id="layer2_to"[^>]*value="10"`, page)
	assert.Contains(t, s.Get("/bench?sample="+code[1]+"-7").Body.String(), "No sample has the code")
	form := layered(lawn)
	form.Del("bed")
	form.Set("sample", code[1])
	s.Saved(s.Post("/readings", form))
	require.NotNil(t, s.Record(lawn).State.Reading.SampleID)
	// The next layer of it goes beside what was read.
	assert.Contains(t, s.Get("/bench?sample="+code[0]).Header().Get("Location"),
		fmt.Sprintf("/bench?reading=%d", s.Record(lawn).State.Reading.ID))
}

func TestSampleCodeIsFound(t *testing.T) {
	s := webtest.New(t, true)
	path := s.SetOut("New ground")
	page := s.Get("/bench?sample=2a").Body.String()
	assert.Contains(t, page, "Enter a reading of sample 2A: New ground")
	assert.Contains(t, page, `name="cores" autocomplete="off" inputmode="numeric" value="12"`)
	form := url.Values{"sample": {"2A"}, "date": {"2026-11-24"}, "method": {"lab"}, "basis": {"water"}, "ph": {"5.8"}, "cores": {"12"},
		"depth": {"15"}, "buffer_kind": {"smp"}, "buffer_ph": {"6.6"}, "k": {"90"}}
	s.Saved(s.Post("/readings", form))
	id := s.Bed("New ground").Bed.ID
	assert.Contains(t, s.Get(fmt.Sprintf("/beds/%d", id)).Body.String(), "sample 2A")
	assert.Contains(t, s.Get(fmt.Sprintf("/beds/%d/dose?buffering=smp", id)).Body.String(), "SMP buffer 6.60")
	assert.Contains(t, s.Get(path).Body.String(), "read 24 Nov")
	assert.Contains(t, s.Get("/walk").Body.String(), "all read")
	none := s.Get("/bench?sample=77Q")
	assert.Equal(t, http.StatusNotFound, none.Code)
	assert.Contains(t, none.Body.String(), "No sample has the code “77Q”.")
	assert.Equal(t, "/bench?sample=2A", s.Get("/find?q=2a").Header().Get("Location"), "the find box finds it too")
	year := s.Get("/").Body.String()
	assert.Contains(t, year, "24 Nov 2026: sample 2A read")
	assert.Contains(t, year, "20 Nov 2026: samples 1A, 1B and 1C read", "the round of the demo")
}

func TestPickedChipStaysPicked(t *testing.T) {
	s := webtest.New(t, true)
	w := s.Post("/readings", url.Values{"bed": {"2"}, "method": {"kit"}, "basis": {"water"}, "date": {"not a day"}, "chip": {"5.5-6"}})
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Equal(t, []string{"5.5-6"}, webtest.Ticked(webtest.Parsed(w.Body.String()), "chip"))
}

func TestPreview(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Middle ledge").Bed.ID
	means := func(more string) string {
		return s.Get(fmt.Sprintf("/bench/means?bed=%d&date=2026-11-24&basis=water&cores=10&depth=15&%s", b, more)).Body.String()
	}
	assert.Contains(t, means("method=lab"), "Type a pH")
	lab := means("method=lab&ph=5.6")
	assert.Contains(t, lab, "sour by 0.6")
	assert.Contains(t, lab, "Same season and depth on 8 Nov 2025: 5.9, down by 0.3.")
	assert.Contains(t, lab, "A dose can be worked out from this: it needs")
	kit := means("method=kit&ph=6.4")
	assert.Contains(t, kit, "Lab said 5.7 on 12 Nov 2026, 0.7 apart.")
	assert.Contains(t, kit, "the lab or calibrated meter is used")
	quarry := s.Get(fmt.Sprintf("/bench/means?bed=%d&date=2026-11-24&basis=water&cores=10&depth=15&method=lab&ph=8.4",
		s.Bed("Quarry end").Bed.ID)).Body.String()
	assert.Contains(t, quarry, "Above 7.3 iron, manganese, zinc and phosphorus are locked up.")
	assert.Contains(t, quarry, "No dose can be worked out from this as it is.")
	assert.Contains(t, quarry, "8.4 read, 7.8 expected. Test it once more, on 15 Dec 2026 or later, before anything is put on.")
	assert.NotContains(t, quarry, "no ash", "ash would be the wrong way")
	lower := s.Get(fmt.Sprintf("/beds/%d/dose?target=7", s.Bed("Quarry end").Bed.ID)).Body.String()
	assert.Contains(t, lower, "The way out: use an acid-mix raised bed or pot", "what to do instead")
	fizz := means("method=fizz&vinegar=none&soda=clear")
	assert.Contains(t, fizz, "Only the soda fizzed: sour. How sour, a jar cannot say.")
	assert.Contains(t, fizz, "The vinegar tells of no free lime.")
	assert.Contains(t, means("method=fizz&vinegar=clear&soda=none"), "1 to 5 % free lime, counted as 3 %")
	assert.Len(t, s.Record(b).Readings, 9, "nothing is kept by asking")
}

func TestJarSeries(t *testing.T) {
	s := webtest.New(t, true)
	form := func(change ...string) url.Values {
		f := url.Values{"bed": {"9"}, "method": {"jars"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"}, "depth": {"15"},
			"fresh": {"yes"}}
		for i, j := range [][2]string{{"0", "5.5"}, {"0,5", "5.92"}, {"1", "6.21"}, {"1.5", "6.7"}} {
			f.Set(fmt.Sprintf("jar%d_lime", i+1), j[0])
			f.Set(fmt.Sprintf("jar%d_ph", i+1), j[1])
		}
		for i := 0; i+1 < len(change); i += 2 {
			f.Set(change[i], change[i+1])
		}
		return f
	}
	for says, change := range map[string][]string{
		"a series has four jars or more": {"jar4_lime", "", "jar4_ph", ""},
		"its lime and its pH are both":   {"jar3_ph", ""},
		"The first jar has no lime":      {"jar1_lime", "0.2"},
		"has no more lime than":          {"jar3_lime", "0.5"},
		"jar 2: figures are needed":      {"jar2_ph", "six"},
	} {
		w := s.Post("/readings", form(change...))
		require.Equal(t, http.StatusUnprocessableEntity, w.Code, says)
		assert.Regexp(t, `(?i)id="jars-fault">[^<]*`+says, w.Body.String())
		assert.Contains(t, w.Body.String(), `value="0,5"`, "what was typed stays")
		assert.Contains(t, w.Body.String(), `name="back" value="/bench"`, "moving the day leads to the bench, not to what was posted to")
	}
	means := s.Get("/bench/means?" + form().Encode()).Body.String()
	assert.Contains(t, means, "takes about 1.25 g of lime a kg for one pH")
	s.Saved(s.Post("/readings", form()))
	r := s.Record(9).Readings[0]
	assert.InDelta(t, 5.5, float64(*r.PH), 1e-9, "the jar without lime is the reading")
	assert.Equal(t, "meter", string(r.Method))
	assert.Len(t, r.Jars, 4)
	// Opened to be put right, it stands in its own form; what was typed for
	// another way does not come in.
	page := s.Get(fmt.Sprintf("/bench?reading=%d", r.ID)).Body.String()
	assert.Regexp(t, `id="way-jars"[^>]* checked`, page)
	s.Saved(s.Post("/readings", form("bed", "12", "method", "lab", "ph", "6.1")))
	assert.Empty(t, s.Record(12).Readings[0].Jars)
}

func TestProbePlaces(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/readings", url.Values{"bed": {"9"}, "method": {"probe"}, "date": {"2026-11-24"}, "cores": {"5"}, "depth": {"15"},
		"places": {"5.1 5,3 6.0 5.2 5.2"}}))
	r := s.Record(9).Readings[0]
	assert.InDelta(t, 5.2, float64(*r.PH), 1e-9)
	assert.Equal(t, "Showed 5.1 5.3 6 5.2 5.2.", r.Note)
	s.Saved(s.Post("/readings", url.Values{"bed": {"12"}, "method": {"meter"}, "fresh": {"no"}, "basis": {"water"},
		"date": {"2026-11-24"}, "cores": {"5"}, "depth": {"10"}, "ph": {"6.2"}}))
	got := s.Record(12).Readings
	assert.Equal(t, "meter-stale", string(got[len(got)-1].Method), "said to be old")
}

func TestMeterCalibration(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Plum row").Bed.ID
	form := func(change ...string) url.Values {
		f := url.Values{"bed": {fmt.Sprint(b)}, "method": {"meter"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
			"depth": {"20"},
			"cal_4": {"4.25"}, "cal_7": {"7.1"}, "cal_date": {"2026-11-20"}, "tries": {"5.9 5,7 5.7 5.65"}}
		for i := 0; i+1 < len(change); i += 2 {
			f.Set(change[i], change[i+1])
		}
		return f
	}
	last := func() garden.Reading { r := s.Record(b).Readings; return r[len(r)-1] }
	s.Saved(s.Post("/readings", form()))
	// (5.7 + 5.7 + 5.65) / 3 = 5.683; 4 + (5.683 − 4.25) / 0.95
	assert.InDelta(t, 5.51, float64(*last().PH), 1e-9)
	assert.Equal(t, "meter", string(last().Method))
	assert.Equal(t, "Meter of 20 Nov 2026, slope 95 %. Read 5.9 5.7 5.7 5.65.", last().Note)
	s.Saved(s.Post("/readings", form("cal_date", "2026-10-01")))
	assert.Equal(t, "meter-stale", string(last().Method), "whatever was chosen")
	for field, change := range map[string][]string{"tries": {"tries", "5.9 5.5 5.2"}, "cal_7": {"cal_7", ""},
		"cal_date": {"cal_date", ""}, "temp": {"temp", "90"}} {
		w := s.Post("/readings", form(change...))
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `id="`+field+`-fault">[^<]+<`, w.Body.String())
	}
}

func TestKitChips(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/place", s.PlaceForm("kit_chips", "4 5 6 7 8")))
	page := s.Get("/bench?bed=9").Body.String()
	value, _ := webtest.Attr(webtest.ByID(t, webtest.Parsed(page), "chip-5-6"), "value")
	assert.Equal(t, "5-6", value)
	assert.Contains(t, page, "5 to 6")
	assert.Contains(t, page, "± 0.51 at best")
	s.Saved(s.Post("/readings", url.Values{"bed": {"9"}, "method": {"kit"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
		"depth": {"15"}, "chip": {"5-6"}}))
	r := s.Record(9).Readings[0]
	assert.InDelta(t, 5.5, float64(*r.PH), 1e-9)
	// half a step of 1.0, and the sampling's 0.1
	assert.InDelta(t, 0.5099, r.Soil().SD(), 0.001)
	s.Saved(s.Post("/readings", url.Values{"bed": {"9"}, "method": {"kit"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
		"depth": {"15"}, "chip": {"6-6"}}))
	assert.InDelta(t, 0.5099, s.Record(9).Readings[1].Soil().SD(), 0.001, "a chip that matches lies within half a step too")
	bad := s.Post("/place", s.PlaceForm("kit_chips", "4 6 5"))
	assert.Contains(t, bad.Body.String(), "each above the one before")
}

func TestStandInsAreMarkedAndReplaceable(t *testing.T) {
	none := webtest.New(t, true)
	assert.NotContains(t, none.Get("/bench").Body.String(), "data-probe-box")
	assert.Equal(t, http.StatusNotFound, none.Get("/bench/probe").Code)

	var clock *site.DemoClock
	s := webtest.New(t, true, func(c *site.Config) {
		c.Probe, c.Lab, clock = instrument.NewFakeProbe(5), instrument.FakeLab{Seed: 5}, c.Demo
	})
	assert.Contains(t, s.Get("/bench").Body.String(), "Simulated: a stand-in makes these figures.")
	assert.Contains(t, s.Get("/bench/probe?bottle=7&n=6").Body.String(), `"simulated":true`)
	assert.Contains(t, s.Get("/bench/probe?bottle=7&n=1&shown=7.6").Body.String(), `"settled":false`)
	assert.Contains(t, s.Get("/bench/probe?bottle=7&n=9&shown=7.2+7.1+7.1").Body.String(), `"settled":true`)
	path := s.SetOut("New ground", "Upper ledge")
	v, err := s.App.Rounds.Walk(context.Background(), 2)
	require.NoError(t, err)
	for _, x := range v.Samples {
		s.Saved(s.Post(fmt.Sprintf("/samples/%d", x.ID), url.Values{"version": {fmt.Sprint(x.Version)}, "state": {"at-lab"},
			"back": {path}}))
	}
	assert.Contains(t, s.Get("/bench").Body.String(), `href="/bench?sample=2A"`, "what waits to be read is one tap away")
	assert.NotContains(t, s.Get(path).Body.String(), "has answered", "not on the same day")
	assert.Equal(t, http.StatusNotFound, s.Post(path+"/report", nil).Code)
	clock.MoveOn(10)
	assert.Contains(t, s.Get(path).Body.String(), "Simulated lab has answered for 2A and 2B. Simulated: a stand-in made its figures.")
	in := s.Post(path+"/report", nil)
	require.Equal(t, http.StatusSeeOther, in.Code)
	file := in.Header().Get("Location")
	page := s.Get(file).Body.String()
	assert.Contains(t, page, "Import all 2")
	require.Equal(t, http.StatusSeeOther, s.Post(file, webtest.Filled(page[strings.Index(page, `id="lab-form"`):])).Code)
	s.Settled(file)
	r := s.Record(s.Bed("New ground").Bed.ID).Readings
	require.Len(t, r, 1)
	assert.Equal(t, "simulated", r[0].Note, "it stays marked")
	assert.Contains(t, s.Get("/walk").Body.String(), "all read")
}

func TestReadings(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Bed("New ground")
	id := strconv.FormatInt(p.Bed.ID, 10)
	good := url.Values{"bed": {id}, "date": {"2026-11-24"}, "method": {"meter"}, "basis": {"water"}, "ph": {"5,6"}, "cores": {"12"},
		"depth": {"15"}, "k": {"88"}, "note": {"turf side"}, "key": {"r1"}}
	for field, c := range map[string]struct{ typed, says string }{
		"ph": {"56", "pH from 3 to 10"}, "date": {"2026-11-25", "still to come"}, "cores": {"0", "number of cores"}, "depth": {"",
			"depth from 2 to 60"},
		"k": {"lots", "is not a number"}, "bed": {"", "Choose the bed"}, "method": {"guess", "not a way of reading"}, "mg": {"-4",
			"from 0 to"},
	} {
		bad := url.Values{}
		for k, v := range good {
			bad[k] = v
		}
		bad.Set(field, c.typed)
		w := s.Post("/readings", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `id="`+field+`-fault"[^>]*>[^<]*`+c.says, w.Body.String())
		if field != "note" {
			assert.Contains(t, w.Body.String(), `value="turf side"`, "what was typed is still there")
		}
	}
	assert.Empty(t, s.Record(p.Bed.ID).Readings)
	require.Equal(t, http.StatusSeeOther, s.Post("/readings", good).Code)
	s.Post("/readings", good)
	rec := s.Record(p.Bed.ID)
	require.Len(t, rec.Readings, 1)
	assert.Equal(t, bed.Sour, rec.State.Standing)
	fizz := url.Values{"bed": {id}, "date": {"2026-11-24"}, "method": {"fizz"}, "basis": {"water"}, "cores": {"3"}, "depth": {"15"},
		"vinegar": {"none"}, "soda": {"clear"}}
	require.Equal(t, http.StatusSeeOther, s.Post("/readings", fizz).Code)
	assert.Equal(t, bed.Sour, s.Record(p.Bed.ID).State.Standing, "a fizz does not push a reading aside")
}

func TestReadingAnswersRetest(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Lower ledge").Bed.ID
	tasks := s.OpenTasks(id)
	last := tasks[len(tasks)-1]
	require.Equal(t, garden.TaskRetest, last.Kind)
	s.Today = last.Due - 5
	_, err := s.App.Readings.AddReading(context.Background(), garden.Actor{Today: s.Today},
		garden.Reading{BedID: id, Date: s.Today, Method: "lab", Basis: "water", PH: gardentest.Ptr(quantity.PH(6.1)), Cores: 12, Depth: 0.15})
	require.NoError(t, err)
	assert.Len(t, s.OpenTasks(id), len(tasks)-1)
}
