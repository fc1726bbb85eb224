package server_test

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/internal/garden"
)

// layered reads the top lawn, which is not dug, by meter in four layers.
func layered(bed int64) url.Values {
	return url.Values{"bed": {fmt.Sprint(bed)}, "method": {"meter"}, "fresh": {"yes"}, "basis": {"water"}, "date": {"2026-11-24"},
		"cores": {"12"}, "depth": {"10"},
		"layer1_to": {"5"}, "layer1_ph": {"6.8"}, "layer2_to": {"10"}, "layer2_ph": {"5.6"}, "layer3_to": {"15"}, "layer3_ph": {"5.4"},
		"layer4_to": {"20"}, "layer4_ph": {"6.8"}}
}

func TestABedReadInLayersIsSourEverywhere(t *testing.T) {
	s := newSite(t, true)
	lawn := s.bed("Top lawn").Bed.ID
	s.saved(s.post("/readings", layered(lawn)))
	rec := s.record(lawn)
	assert.Equal(t, bed.Sour, rec.State.Standing)
	assert.InDelta(t, 5.4, float64(rec.State.PH), 1e-9)
	for name, page := range map[string]string{"ground": fmt.Sprintf("/?bed=%d", lawn), "dose": fmt.Sprintf("/beds/%d/dose", lawn),
		"record": fmt.Sprintf("/beds/%d", lawn)} {
		body := s.get(page).Body.String()
		assert.Contains(t, body, "pH by depth: top 5 cm 6.8, in band; 5 cm to 10 cm 5.6, sour;", name)
		assert.Equal(t, 4, strings.Count(body, `class="layer-ph"`), name)
	}
	assert.Contains(t, s.get(fmt.Sprintf("/?bed=%d", lawn)).Body.String(), "Its sourest layer reads ")
	assert.Contains(t, s.get(fmt.Sprintf("/?bed=%d", lawn)).Body.String(), "Top lawn, pH 5.4, sour by 0.6")
	assert.Contains(t, s.get(fmt.Sprintf("/beds/%d", lawn)).Body.String(), "layers 6.8 / 5.6 / 5.4 / 6.8")
	// It is put right with its layers in the form.
	again := s.get(fmt.Sprintf("/bench?reading=%d", rec.State.Reading.ID)).Body.String()
	assert.Regexp(t, `id="layer3_ph"[^>]*value="5.4"`, again)
	assert.Regexp(t, `<details[^>]*id="layers" open`, again)
}

func TestALayersLabelIsFound(t *testing.T) {
	s := newSite(t, true)
	lawn := s.bed("Top lawn").Bed.ID
	w := s.post("/walk", url.Values{"asked": {"1"}, "bed": {fmt.Sprint(lawn)}, "layered": {"yes"}, "corer": {"19"}, "wanted": {"500"}})
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	round := w.Header().Get("Location")
	code := regexp.MustCompile(`\b(\d+A)-2\b`).FindStringSubmatch(s.get(strings.SplitN(round, "?", 2)[0] + "/labels").Body.String())
	require.NotEmpty(t, code)
	page := s.get("/bench?sample=" + strings.ToLower(code[0])).Body.String()
	assert.Contains(t, page, `<b class="code">`+code[0]+`</b>`)
	assert.Regexp(t, `id="layer1_to"[^>]*value="5"`, page)
	assert.Regexp(t, `id="layer2_to"[^>]*value="10"`, page)
	assert.Contains(t, s.get("/bench?sample="+code[1]+"-7").Body.String(), "No sample has the code")
	form := layered(lawn)
	form.Del("bed")
	form.Set("sample", code[1])
	s.saved(s.post("/readings", form))
	require.NotNil(t, s.record(lawn).State.Reading.SampleID)
	// The next layer of it goes beside what was read.
	assert.Contains(t, s.get("/bench?sample="+code[0]).Header().Get("Location"),
		fmt.Sprintf("/bench?reading=%d", s.record(lawn).State.Reading.ID))
}

// formAt is what a form of a page holds, from a place in it to its end.
func formAt(page string, at int) url.Values {
	rest := page[at:]
	return filled(rest[:strings.Index(rest, "</form>")])
}

// A dose tells its first part with its day, and in one line what waits for which test; planned, that has no day anywhere.
func TestTheRestOfADoseWaitsForItsTest(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Middle ledge").Bed.ID
	page := s.get(fmt.Sprintf("/beds/%d/dose?target=6.7", bed)).Body.String()
	assert.Regexp(t, `The rest, about 1\.\d kg, after the test of 25 May 2027\. It should read 6\.\d then\.`, page)
	s.saved(s.post(fmt.Sprintf("/beds/%d/plan", bed), formAt(page, strings.Index(page, `action="/beds/2/plan"`))))
	rec := s.record(bed)
	require.Len(t, rec.Rests, 1)
	for _, task := range rec.Tasks {
		if task.State == garden.Open && task.Kind == garden.TaskApplication {
			assert.Less(t, task.Due, rec.Rests[0].Test)
		}
	}
	assert.Regexp(t, `Test, then about 1\.\d kg`, s.get(fmt.Sprintf("/?bed=%d", bed)).Body.String())
	for _, path := range []string{fmt.Sprintf("/beds/%d", bed), "/sheet"} {
		assert.Regexp(t, `[Tt]he rest, about 1\.\d kg( of ground limestone)?, after the test of 25 May 2027`, s.get(path).Body.String(), path)
	}
}

func TestPotassiumIsPutInTheYearBesideThePH(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Middle ledge").Bed.ID
	page := s.get(fmt.Sprintf("/beds/%d/dose", bed)).Body.String()
	assert.Contains(t, page, "Potassium is short: 82 ppm, enough is 105 ppm")
	s.saved(s.post(fmt.Sprintf("/beds/%d/plan", bed), formAt(page, strings.Index(page, `/plan"`))))
	at := strings.Index(page, `aria-label="Put Potassium sulfate for potassium in the year"`)
	require.Positive(t, at)
	s.saved(s.post(fmt.Sprintf("/beds/%d/plan", bed), formAt(page, strings.LastIndex(page[:at], "<form"))))
	kinds := map[string]int{}
	for _, task := range s.record(bed).Tasks {
		if task.State == garden.Open && task.Kind == garden.TaskApplication {
			kinds[string(task.What)]++
			assert.Equal(t, task.What == "potassium-sulfate", task.PHAfter == nil)
		}
	}
	assert.Equal(t, map[string]int{"calcitic-lime": 1, "potassium-sulfate": 2}, kinds, "the one does not take the other’s place")
	// And the plan says the same of the potassium as the dose.
	assert.Contains(t, s.get(fmt.Sprintf("/?bed=%d&look=k", bed)).Body.String(), "Middle ledge, potassium 82 ppm, short")
}

// What a test should read and where the bed settles are told in one breath only where the one leads to the other.
func TestAPromisePastTheSettledFigureStandsAlone(t *testing.T) {
	s := newSite(t, true)
	then := regexp.MustCompile(`<p class="then[^"]*">([^<]*)</p>`)
	alone := then.FindStringSubmatch(s.get("/beds/2/dose?target=6.4&use=b1&pace=all-at-once").Body.String())
	require.NotNil(t, alone)
	assert.Contains(t, alone[1], "it should read 6.5")
	assert.NotContains(t, alone[1], "settle")
	both := then.FindStringSubmatch(s.get("/beds/3/dose?pace=all-at-once").Body.String())
	require.NotNil(t, both)
	assert.Contains(t, both[1], "it should read 6.4. It should settle at 6.5")
}
