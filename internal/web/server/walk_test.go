package server_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/web/site"
)

func (s *harness) setOut(beds ...string) (path string) {
	s.t.Helper()
	form := url.Values{"asked": {"1"}, "corer": {"19"}, "wanted": {"500"}}
	for _, name := range beds {
		form.Add("bed", fmt.Sprint(s.bed(name).Bed.ID))
	}
	w := s.post("/walk", form)
	require.Equal(s.t, http.StatusSeeOther, w.Code)
	path, _, _ = strings.Cut(w.Header().Get("Location"), "?")
	return path
}

func TestARoundIsPlannedFromWhatIsDue(t *testing.T) {
	s := newSite(t, true)
	page := s.get("/walk").Body.String()
	assert.Contains(t, page, "2 beds are due for a sample")
	assert.Contains(t, page, "never read</i>")
	assert.Contains(t, page, "2 samples, 61 cores")
	// Two that were read within 0.3, treated alike, with crops of one group.
	both := "/walk?asked=1&bed=%d&bed=%d"
	a, b := s.bed("Middle ledge").Bed.ID, s.bed("Kale and roots").Bed.ID
	page = s.get(fmt.Sprintf(both, a, b)).Body.String()
	assert.Contains(t, page, "2 samples")
	assert.Contains(t, page, "Other soil, loam and clay loam")
	overruled := s.get(fmt.Sprintf(both+"&letter-%d=A&letter-%d=A", a, b, a, b)).Body.String()
	assert.Contains(t, overruled, "1 sample,")
	assert.Equal(t, 2, strings.Count(overruled, `aria-label="Sample of `), "each bed that is taken has its letter")
	each := s.get(fmt.Sprintf(both+"&share=each", a, b)).Body.String()
	assert.NotContains(t, each, `aria-label="Sample of `, "alone in its sample, a bed needs none")
	assert.Equal(t, 2, strings.Count(each, ` checked><span><b>`))
	assert.Contains(t, overruled, "Against the rules: Middle ledge and Kale and roots: other soil, loam and clay loam")
	bad := s.post("/walk", url.Values{"asked": {"1"}, "corer": {"wide"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), `value="wide"`)
	assert.Contains(t, s.post("/walk", url.Values{"asked": {"1"}}).Body.String(), "Choose a bed or more.")
}

func TestACoreIsTickedOnceHoweverOftenItIsSent(t *testing.T) {
	s := newSite(t, true)
	path := s.setOut("New ground")
	page := s.get(path).Body.String()
	assert.Contains(t, page, "12 cores to take")
	stop := regexp.MustCompile(`id="stop-(\d+)"`).FindStringSubmatch(page)[1]
	send := func(key, core string, header bool) int {
		r := url.Values{"key": {key}, "stop": {stop}, "core": {core}, "at": {"1795511000000"}}
		if !header {
			return s.post(path+"/tick", r).Code
		}
		req := newPost(path+"/tick", r)
		req.Header.Set("X-Queued", "1")
		return s.do(req).Code
	}
	assert.Equal(t, http.StatusNoContent, send("k1", "1", true))
	assert.Equal(t, http.StatusNoContent, send("k1", "1", true), "the same post again")
	assert.Equal(t, http.StatusNoContent, send("k2", "1", true), "the same core under another key")
	assert.Equal(t, http.StatusSeeOther, send("k3", "2", false), "as a plain request")
	assert.Equal(t, http.StatusUnprocessableEntity, send("k4", "77", true))
	round := s.get(path).Body.String()
	assert.Contains(t, round, "10 cores to take")
	assert.Equal(t, 2, strings.Count(round, `class="core-button taken" aria-pressed="true" disabled`), "what is taken is taken once")
	assert.Equal(t, 10, strings.Count(round, `class="core-button" aria-pressed="false"`))
	assert.Regexp(t, `aria-label="Core 1 of New ground, taken \d\d:\d\d"`, round)
	require.Equal(t, http.StatusSeeOther, s.post(path+"/note", url.Values{"stop": {stop}, "note": {"Old roots."}}).Code)

	rows, err := csv.NewReader(s.get(path + "/round.csv").Body).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "2A", "New ground", "12", "2", "15.0", "planned", "", "Old roots.", "12", "19.0"}, rows[1])
	assert.Contains(t, s.get(path+"/labels").Body.String(), ">2A</b>")
}

func newPost(path string, form url.Values) *http.Request {
	r, err := http.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form.Encode()))
	if err != nil {
		panic(err)
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return r
}

func TestTheBenchFindsASampleByItsLabel(t *testing.T) {
	s := newSite(t, true)
	path := s.setOut("New ground")
	page := s.get("/bench?sample=2a").Body.String()
	assert.Contains(t, page, "Enter a reading of sample 2A: New ground")
	assert.Contains(t, page, `name="cores" autocomplete="off" inputmode="numeric" value="12"`)
	form := url.Values{"sample": {"2A"}, "date": {"2026-11-24"}, "method": {"lab"}, "basis": {"water"}, "ph": {"5.8"}, "cores": {"12"},
		"depth": {"15"}, "buffer_kind": {"smp"}, "buffer_ph": {"6.6"}, "k": {"90"}}
	s.saved(s.post("/readings", form))
	id := s.bed("New ground").Bed.ID
	assert.Contains(t, s.get(fmt.Sprintf("/beds/%d", id)).Body.String(), "sample 2A")
	assert.Contains(t, s.get(fmt.Sprintf("/beds/%d/dose?buffering=smp", id)).Body.String(), "SMP buffer 6.60")
	assert.Contains(t, s.get(path).Body.String(), "read 24 Nov")
	assert.Contains(t, s.get("/walk").Body.String(), "all read")
	none := s.get("/bench?sample=77Q")
	assert.Equal(t, http.StatusNotFound, none.Code)
	assert.Contains(t, none.Body.String(), "No sample has the code “77Q”.")
	assert.Equal(t, "/bench?sample=2A", s.get("/find?q=2a").Header().Get("Location"), "the find box finds it too")
	year := s.get("/").Body.String()
	assert.Contains(t, year, "24 Nov 2026: sample 2A read")
	assert.Contains(t, year, "20 Nov 2026: samples 1A, 1B and 1C read", "the round of the demo")
}

func TestTheChipThatWasPickedStaysPicked(t *testing.T) {
	s := newSite(t, true)
	w := s.post("/readings", url.Values{"bed": {"2"}, "method": {"kit"}, "basis": {"water"}, "date": {"not a day"}, "chip": {"5.5-6"}})
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Regexp(t, `id="chip-5.5-6"[^>]* value="5.5-6" checked`, w.Body.String())
	assert.Equal(t, 1, strings.Count(w.Body.String(), `" checked><label for="chip-`), "and no other is")
}

func TestWhatAReadingMeansIsSaidAtOnce(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Middle ledge").Bed.ID
	means := func(more string) string {
		return s.get(fmt.Sprintf("/bench/means?bed=%d&date=2026-11-24&basis=water&cores=10&depth=15&%s", b, more)).Body.String()
	}
	assert.Contains(t, means("method=lab"), "Type a pH")
	lab := means("method=lab&ph=5.6")
	assert.Contains(t, lab, "sour by 0.6")
	assert.Contains(t, lab, "Same season and depth on 8 Nov 2025: 5.9, down by 0.3.")
	assert.Contains(t, lab, "It may carry a dose: it needs")
	kit := means("method=kit&ph=6.4")
	assert.Contains(t, kit, "Lab said 5.7 on 12 Nov 2026, 0.7 apart.")
	assert.Contains(t, kit, "the lab or calibrated meter goes first")
	quarry := s.get(fmt.Sprintf("/bench/means?bed=%d&date=2026-11-24&basis=water&cores=10&depth=15&method=lab&ph=8.4",
		s.bed("Quarry end").Bed.ID)).Body.String()
	assert.Contains(t, quarry, "Above 7.3 iron, manganese, zinc and phosphorus are locked up.")
	assert.Contains(t, quarry, "It may not carry a dose as it stands.")
	assert.Contains(t, quarry, "8.4 read, 7.8 expected. Test it once more, on 15 Dec 2026 or later, before anything goes on.")
	assert.NotContains(t, quarry, "no ash", "ash would be the wrong way")
	lower := s.get(fmt.Sprintf("/beds/%d/dose?target=7", s.bed("Quarry end").Bed.ID)).Body.String()
	assert.Contains(t, lower, "What would lift it: Use an acid-mix raised bed or pot", "what to do instead")
	fizz := means("method=fizz&vinegar=none&soda=clear")
	assert.Contains(t, fizz, "Only the soda fizzed: sour. How sour, a jar cannot say.")
	assert.Contains(t, fizz, "The vinegar tells of no free lime.")
	assert.Contains(t, means("method=fizz&vinegar=clear&soda=none"), "1 to 5 % free lime, reckoned as 3 %")
	assert.Len(t, s.record(b).Readings, 9, "nothing is kept by asking")
}

func TestWhatRestsOnAStruckReadingIsHeldBackEverywhere(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Lower ledge").Bed.ID
	require.NotEmpty(t, s.openTasks(b))
	assert.Contains(t, s.get("/export/tasks.ics").Body.String(), "Lower ledge: ")
	all := s.record(b).Readings
	last := all[len(all)-1]
	s.saved(s.post(fmt.Sprintf("/readings/%d/strike", last.ID), url.Values{"version": {fmt.Sprint(last.Version)}, "back": {"/"}}))
	sheet := s.get("/sheet").Body.String()
	assert.Contains(t, sheet, "Held back: the reading that it rests on was struck out on 24 Nov 2026.")
	assert.Contains(t, sheet, fmt.Sprintf(`href="/beds/%d/dose"`, b))
	for _, task := range s.openTasks(b) {
		assert.NotContains(t, sheet, fmt.Sprintf("/tasks/%d/put-on", task.ID))
		if task.Kind == garden.TaskApplication {
			assert.Equal(t, http.StatusUnprocessableEntity, s.post(fmt.Sprintf("/tasks/%d/put-on", task.ID),
				url.Values{"planned": {"yes"}, "version": {fmt.Sprint(task.Version)}}).Code)
		}
	}
	diary := s.get("/export/tasks.ics").Body.String()
	assert.NotContains(t, diary, "SUMMARY:Lower ledge: ")
	assert.Contains(t, diary, "SUMMARY:Held back: Lower ledge: ")
	assert.Contains(t, s.get(fmt.Sprintf("/?bed=%d", b)).Body.String(), "is held back. Open the dose and plan it anew.")
	assert.Contains(t, s.get(fmt.Sprintf("/beds/%d", b)).Body.String(), "held back: its reading was struck out")
}

func TestAReadingIsPutRightAndStruckOut(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Middle ledge").Bed.ID
	last := s.record(b).Readings[8]
	path := fmt.Sprintf("/readings/%d", last.ID)
	page := s.get(fmt.Sprintf("/bench?reading=%d", last.ID)).Body.String()
	assert.Contains(t, page, "Put a reading right")
	form := filled(page[strings.Index(page, `id="reading-form"`):])
	assert.Equal(t, "5.7", form.Get("ph"))
	form.Set("ph", "5.3")
	s.saved(s.post(path, form))
	rec := s.record(b)
	assert.InDelta(t, 5.3, float64(*rec.Readings[8].PH), 1e-9)
	require.Len(t, rec.Struck, 1)
	assert.Contains(t, s.get(fmt.Sprintf("/beds/%d", b)).Body.String(), "Struck out 24 Nov 2026. Put right on 24 Nov 2026.")
	form.Set("key", "stale")
	assert.Equal(t, http.StatusConflict, s.post(path, form).Code)
	now := rec.Readings[8]
	s.saved(s.post(fmt.Sprintf("/readings/%d/strike", now.ID), url.Values{"version": {fmt.Sprint(now.Version)}, "why": {"Wrong bed."},
		"back": {"/"}}))
	assert.Len(t, s.record(b).Readings, 8)
	wrong := func(layer2 string) *httptest.ResponseRecorder {
		return s.post("/readings", url.Values{"bed": {fmt.Sprint(b)}, "method": {"lab"}, "basis": {"water"}, "date": {"2026-11-24"},
			"ph": {"6"}, "cores": {"10"}, "depth": {"15"}, "layer1_to": {"5"}, "layer1_ph": {"6.8"}, "layer2_to": {layer2},
			"layer2_ph": {"5.6"}, "buffer_ph": {"6.5"}})
	}
	assert.Contains(t, wrong("5").Body.String(), "Layer 2: it must go deeper than the one above.")
	bad := wrong("4")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "Layer 2: it must go deeper than the one above.")
	assert.Contains(t, bad.Body.String(), `name="layer2_to" autocomplete="off" inputmode="decimal" `+
		`aria-label="Layer 2 goes down to, cm" value="4"`)
}

func TestAJarSeriesIsReadByItsJars(t *testing.T) {
	s := newSite(t, true)
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
		w := s.post("/readings", form(change...))
		require.Equal(t, http.StatusUnprocessableEntity, w.Code, says)
		assert.Regexp(t, `(?i)id="jars-fault">[^<]*`+says, w.Body.String())
		assert.Contains(t, w.Body.String(), `value="0,5"`, "what was typed stays")
		assert.Contains(t, w.Body.String(), `name="back" value="/bench"`, "moving the day leads to the bench, not to what was posted to")
	}
	means := s.get("/bench/means?" + form().Encode()).Body.String()
	assert.Contains(t, means, "takes about 1.25 g of lime a kg for one pH")
	s.saved(s.post("/readings", form()))
	r := s.record(9).Readings[0]
	assert.InDelta(t, 5.5, float64(*r.PH), 1e-9, "the jar without lime is the reading")
	assert.Equal(t, "meter", string(r.Method))
	assert.Len(t, r.Jars, 4)
	// Opened to be put right, it stands in its own form; what was typed for
	// another way does not come in.
	page := s.get(fmt.Sprintf("/bench?reading=%d", r.ID)).Body.String()
	assert.Regexp(t, `id="way-jars"[^>]* checked`, page)
	s.saved(s.post("/readings", form("bed", "12", "method", "lab", "ph", "6.1")))
	assert.Empty(t, s.record(12).Readings[0].Jars)
}

func TestAProbeIsTheMiddleOfItsPlaces(t *testing.T) {
	s := newSite(t, true)
	s.saved(s.post("/readings", url.Values{"bed": {"9"}, "method": {"probe"}, "date": {"2026-11-24"}, "cores": {"5"}, "depth": {"15"},
		"places": {"5.1 5,3 6.0 5.2 5.2"}}))
	r := s.record(9).Readings[0]
	assert.InDelta(t, 5.2, float64(*r.PH), 1e-9)
	assert.Equal(t, "Showed 5.1 5.3 6 5.2 5.2.", r.Note)
	s.saved(s.post("/readings", url.Values{"bed": {"12"}, "method": {"meter"}, "fresh": {"no"}, "basis": {"water"},
		"date": {"2026-11-24"}, "cores": {"5"}, "depth": {"10"}, "ph": {"6.2"}}))
	got := s.record(12).Readings
	assert.Equal(t, "meter-stale", string(got[len(got)-1].Method), "said to be old")
}

func TestAMeterIsReckonedFromItsBottles(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Plum row").Bed.ID
	form := func(change ...string) url.Values {
		f := url.Values{"bed": {fmt.Sprint(b)}, "method": {"meter"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
			"depth": {"20"},
			"cal_4": {"4.25"}, "cal_7": {"7.1"}, "cal_date": {"2026-11-20"}, "tries": {"5.9 5,7 5.7 5.65"}}
		for i := 0; i+1 < len(change); i += 2 {
			f.Set(change[i], change[i+1])
		}
		return f
	}
	last := func() garden.Reading { r := s.record(b).Readings; return r[len(r)-1] }
	s.saved(s.post("/readings", form()))
	// (5.7 + 5.7 + 5.65) / 3 = 5.683; 4 + (5.683 − 4.25) / 0.95
	assert.InDelta(t, 5.51, float64(*last().PH), 1e-9)
	assert.Equal(t, "meter", string(last().Method))
	assert.Equal(t, "Meter of 20 Nov 2026, slope 95 %. Read 5.9 5.7 5.7 5.65.", last().Note)
	s.saved(s.post("/readings", form("cal_date", "2026-10-01")))
	assert.Equal(t, "meter-stale", string(last().Method), "whatever was chosen")
	for field, change := range map[string][]string{"tries": {"tries", "5.9 5.5 5.2"}, "cal_7": {"cal_7", ""},
		"cal_date": {"cal_date", ""}, "temp": {"temp", "90"}} {
		w := s.post("/readings", form(change...))
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `id="`+field+`-fault">[^<]+<`, w.Body.String())
	}
}

func TestAKitIsReadByItsChips(t *testing.T) {
	s := newSite(t, true)
	s.saved(s.post("/place", s.placeForm("kit_chips", "4 5 6 7 8")))
	page := s.get("/bench?bed=9").Body.String()
	assert.Contains(t, page, `value="5-6"><label for="chip-5-6">5 to 6</label>`)
	assert.Contains(t, page, "± 0.50 at best")
	s.saved(s.post("/readings", url.Values{"bed": {"9"}, "method": {"kit"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
		"depth": {"15"}, "chip": {"5-6"}}))
	r := s.record(9).Readings[0]
	assert.InDelta(t, 5.5, float64(*r.PH), 1e-9)
	// half a step of 1.0, and the sampling's 0.1
	assert.InDelta(t, 0.5099, r.Soil().SD(), 0.001)
	s.saved(s.post("/readings", url.Values{"bed": {"9"}, "method": {"kit"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
		"depth": {"15"}, "chip": {"6-6"}}))
	assert.InDelta(t, 0.5099, s.record(9).Readings[1].Soil().SD(), 0.001, "a chip that matches lies within half a step too")
	bad := s.post("/place", s.placeForm("kit_chips", "4 6 5"))
	assert.Contains(t, bad.Body.String(), "each above the one before")
}

func TestTheStandInsAreMarkedAndReplaceable(t *testing.T) {
	none := newSite(t, true)
	assert.NotContains(t, none.get("/bench").Body.String(), "data-probe-box")
	assert.Equal(t, http.StatusNotFound, none.get("/bench/probe").Code)

	var clock *site.DemoClock
	s := newSite(t, true, func(c *site.Config) {
		c.Probe, c.Lab, clock = instrument.NewFakeProbe(5), instrument.FakeLab{Seed: 5}, c.Demo
	})
	assert.Contains(t, s.get("/bench").Body.String(), "Simulated: a stand-in makes these figures.")
	assert.Contains(t, s.get("/bench/probe?bottle=7&n=6").Body.String(), `"simulated":true`)
	assert.Contains(t, s.get("/bench/probe?bottle=7&n=1&shown=7.6").Body.String(), `"settled":false`)
	assert.Contains(t, s.get("/bench/probe?bottle=7&n=9&shown=7.2+7.1+7.1").Body.String(), `"settled":true`)
	path := s.setOut("New ground", "Upper ledge")
	v, err := s.app.Rounds.Walk(context.Background(), 2)
	require.NoError(t, err)
	for _, x := range v.Samples {
		s.saved(s.post(fmt.Sprintf("/samples/%d", x.ID), url.Values{"version": {fmt.Sprint(x.Version)}, "state": {"at-lab"},
			"back": {path}}))
	}
	assert.Contains(t, s.get("/bench").Body.String(), `href="/bench?sample=2A"`, "what waits to be read is one tap away")
	assert.NotContains(t, s.get(path).Body.String(), "has answered", "not on the same day")
	assert.Equal(t, http.StatusNotFound, s.post(path+"/report", nil).Code)
	clock.MoveOn(10)
	assert.Contains(t, s.get(path).Body.String(), "Simulated lab has answered for 2A and 2B. Simulated: a stand-in made its figures.")
	in := s.post(path+"/report", nil)
	require.Equal(t, http.StatusSeeOther, in.Code)
	file := in.Header().Get("Location")
	page := s.get(file).Body.String()
	assert.Contains(t, page, "Take all 2 in")
	require.Equal(t, http.StatusSeeOther, s.post(file, filled(page[strings.Index(page, `id="lab-form"`):])).Code)
	s.settled(file)
	r := s.record(s.bed("New ground").Bed.ID).Readings
	require.Len(t, r, 1)
	assert.Equal(t, "simulated", r[0].Note, "it stays marked")
	assert.Contains(t, s.get("/walk").Body.String(), "all read")
}

// A letter that was proposed is no choice of the gardener's: with another bed on the list the letters move on.
func TestALetterThatWasProposedOverrulesNothing(t *testing.T) {
	s := newSite(t, true)
	kale, lawn := s.bed("Kale and roots").Bed.ID, s.bed("Top lawn").Bed.ID
	both := fmt.Sprintf("/walk?asked=1&bed=%d&bed=%d&letter-%d=A", kale, lawn, lawn)
	page := s.get(both + fmt.Sprintf("&proposed-%d=A", lawn)).Body.String()
	assert.Contains(t, page, "2 samples")
	assert.NotContains(t, page, "Against the rules")
	page = s.get(both + fmt.Sprintf("&proposed-%d=B", lawn)).Body.String()
	assert.Contains(t, page, "1 sample,", "it was B and is made A: that is a choice")
	assert.Contains(t, page, "Against the rules")
}

// Rows are names that are counted on; a row or a stretch goes in place of the proposal, and beside what was chosen by hand.
func TestManyBedsAreChosenAtOnce(t *testing.T) {
	s := newSite(t, true)
	table := "name,length_m,width_m\n"
	for n := range 12 {
		table += fmt.Sprintf("Tunnel %d,10,1\n", n+1)
	}
	require.Equal(t, http.StatusSeeOther, s.post("/beds/table", url.Values{"table": {table}, "key": {"t"}}).Code)
	chosen := func(query string) int { return strings.Count(s.get("/walk?"+query).Body.String(), " checked><span>") }
	due := chosen("")
	require.Equal(t, 14, due, "the two that were due and the twelve new ones")
	page := s.get("/walk").Body.String()
	assert.Contains(t, page, `value="row:Tunnel"`)
	var all string
	for _, m := range regexp.MustCompile(`name="bed" value="(\d+)"\s+checked`).FindAllStringSubmatch(page, -1) {
		all += "&bed=" + m[1]
	}
	require.Equal(t, 14, strings.Count(all, "&bed="))
	id := func(n int) string { return fmt.Sprint(s.bed(fmt.Sprintf("Tunnel %d", n)).Bed.ID) }
	assert.Equal(t, 12, chosen("asked=1&pick=row:Tunnel"+all), "in place of the proposal")
	assert.Equal(t, 13, chosen("asked=1&pick=row:Tunnel&bed="+fmt.Sprint(s.bed("Top lawn").Bed.ID)), "beside what was chosen")
	assert.Equal(t, 5, chosen("asked=1&pick=reach&from="+id(8)+"&to="+id(4)+all), "whichever comes first")
	assert.Equal(t, 6, chosen("asked=1&pick=reach&from="+id(4)+"&to="+id(8)+"&bed="+id(1)))
	assert.Zero(t, chosen("asked=1&pick=none"+all))
	row := ""
	for n := range 12 {
		row += "&bed=" + id(n+1)
	}
	assert.Zero(t, chosen("asked=1&pick=row:Tunnel"+row), "asked for again it is taken off")
}
