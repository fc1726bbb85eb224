package server_test

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

	"zephyrfield/agronomy/bed"
)

func (s *harness) placeForm(change ...string) url.Values {
	g, err := s.app.Place(context.Background())
	require.NoError(s.t, err)
	f := url.Values{"name": {g.Name}, "climate": {g.Climate}, "hemisphere": {g.Hemisphere}, "table": {string(g.SoilTable)},
		"buffering": {g.Buffering},
		"ash":       {g.AshApproach}, "act": {g.Trigger}, "version": {strconv.FormatInt(g.Version, 10)}}
	for i := 0; i+1 < len(change); i += 2 {
		f.Set(change[i], change[i+1])
	}
	return f
}

func TestThePlaceChangesWhatIsReckoned(t *testing.T) {
	s := newSite(t, true)
	need := func() string {
		return regexp.MustCompile(`It needs \d+ g/m²`).FindString(s.get("/beds/2/dose").Body.String())
	}
	assert.Equal(t, "It needs 257 g/m²", need())
	first := s.placeForm("table", "warm", "act", "at-6")
	require.Equal(t, http.StatusSeeOther, s.post("/place", first).Code)
	// 0.8 × 1.0 × 224.17 × 15 / 17.78
	assert.Equal(t, "It needs 151 g/m²", need())
	assert.Equal(t, http.StatusConflict, s.post("/place", first).Code, "a stale window is told")
	for field, c := range map[string]struct{ typed, says string }{
		"name": {" ", "give the garden a name"}, "climate": {"lunar", "nearest"}, "t3": {"warm", "not a number"}, "t4": {"7",
			"all twelve months"}, "act": {"never", "choose a school"},
	} {
		w := s.post("/place", s.placeForm(field, c.typed))
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, "(?i)"+c.says, w.Body.String())
	}
	own := s.placeForm()
	for m := range 12 {
		own.Set(fmt.Sprint("t", m+1), fmt.Sprint(m+1))
	}
	require.Equal(t, http.StatusSeeOther, s.post("/place", own).Code)
	assert.Regexp(t, `<input id="t12"[^>]* value="12"`, s.get("/place").Body.String())
	assert.Contains(t, s.get("/beds/2/dose.json").Body.String(), "soil_temp_c")
	assert.Contains(t, s.get("/").Body.String(), "11 °C soil")
}

func TestABedIsChangedCopiedAndRetired(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Kale and roots").Bed
	edit := s.get(fmt.Sprintf("/beds/%d/edit", b.ID)).Body.String()
	assert.Contains(t, edit, `value="Kale and roots"`)
	form := url.Values{"name": {"Kale"}, "kind": {"bed"}, "w": {"5"}, "h": {"4"}, "x": {"1.2"}, "y": {"10.2"}, "texture": {"clay"},
		"depth": {"20"}, "worked": {"dug"},
		"free_lime": {"faint"}, "note": {"Heavy."}, "cec": {"22"}, "version": {strconv.FormatInt(b.Version, 10)}}
	path := fmt.Sprintf("/beds/%d", b.ID)
	require.Equal(t, http.StatusSeeOther, s.post(path, form).Code)
	now := s.bed("Kale").Bed
	assert.InDelta(t, 20, float64(now.Area()), 1e-9)
	assert.Equal(t, "Heavy.", now.Note)
	assert.InDelta(t, 22, float64(*now.CEC), 1e-9)
	assert.Equal(t, http.StatusConflict, s.post(path, form).Code, "a stale window is told")
	form.Set("version", strconv.FormatInt(now.Version, 10))
	form.Set("w", "-2")
	w := s.post(path, form)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "A length above 0 m is needed")
	assert.Contains(t, w.Body.String(), `value="-2"`)

	require.Equal(t, http.StatusSeeOther, s.post(path+"/duplicate", url.Values{"key": {"d"}}).Code)
	s.post(path+"/duplicate", url.Values{"key": {"d"}})
	twin := s.bed("Kale 2")
	assert.Equal(t, bed.Untested, twin.Standing, "a new bed has no readings")
	require.NotEmpty(t, twin.Next)
	assert.Equal(t, "kale", twin.Next[0].Crop)

	require.NotEmpty(t, s.openTasks(b.ID))
	w = s.post(path+"/retire", url.Values{"version": {strconv.FormatInt(now.Version, 10)}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.NotContains(t, s.get("/").Body.String(), fmt.Sprintf(`id="bed-%d"`, b.ID))
	assert.Empty(t, s.openTasks(b.ID))
	assert.Contains(t, s.get(path).Body.String(), "Off the plan since")
	assert.Contains(t, s.get("/?on=2026-10-01").Body.String(), fmt.Sprintf(`id="bed-%d"`, b.ID), "it stands in its own past")
	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(w.Header().Get("Location"))
	require.Equal(t, http.StatusSeeOther, s.post("/undo/"+said[1], url.Values{"back": {"/"}}).Code)
	assert.NotEmpty(t, s.openTasks(b.ID))
}

func TestCropsComeAndGo(t *testing.T) {
	s := newSite(t, true)
	p := s.bed("Upper ledge")
	path := fmt.Sprintf("/beds/%d", p.Bed.ID)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(path+"/plantings", url.Values{"crop": {"triffid"}, "sown": {"2027-05-01"}}).Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(path+"/plantings", url.Values{"crop": {"tomato"}, "sown": {"May"}}).Code)
	require.Equal(t, http.StatusSeeOther, s.post(path+"/plantings", url.Values{"crop": {"tomato"}, "sown": {"2027-03-01"}}).Code)
	assert.Equal(t, "tomato", s.bed("Upper ledge").Crop.ID, "the next one counts")
	next := s.bed("Upper ledge").Next[0]
	clearing := func(day string) int {
		return s.post(fmt.Sprintf("/plantings/%d/clear", next.ID),
			url.Values{"cleared": {day}, "version": {strconv.FormatInt(next.Version, 10)}}).Code
	}
	assert.Equal(t, http.StatusUnprocessableEntity, clearing("2027-02-01"), "not before it was sown")
	assert.Equal(t, http.StatusSeeOther, clearing("2027-09-01"))
	assert.Equal(t, http.StatusConflict, clearing("2027-10-01"), "a stale window is told")
}

func TestTheGardenOnAnotherDay(t *testing.T) {
	s := newSite(t, true)
	past := s.get("/?bed=7&on=2024-11-10").Body.String()
	assert.Contains(t, past, "Shown as of <b>10 Nov 2024</b>")
	assert.Contains(t, past, "too sweet by 0.2")
	assert.NotContains(t, past, "12 Nov 2026", "nothing from after that day")
	ahead := s.get("/?bed=3&on=2027-03-01").Body.String()
	assert.Contains(t, ahead, "Should read ")
	assert.Contains(t, ahead, "in band")
	for _, d := range []string{"2026-11-24", "soon", "", "2026-02-30"} {
		assert.NotContains(t, s.get("/?on="+d).Body.String(), "Shown as of", d)
	}
	assert.Contains(t, s.get("/?on=1999-01-01").Body.String(), "Shown as of <b>24 Nov 2022</b>", "four years back at most")
}

func TestBedsAsCSVAndByName(t *testing.T) {
	s := newSite(t, true)
	csv := s.get("/export/beds.csv").Body.String()
	assert.Equal(t, 14, strings.Count(csv, "\n"))
	assert.Contains(t, csv, "Middle ledge,bed,9.60,loam,15.0,dug,dahlia,2026-11-24,5.70,false,2026-11-12,lab,sour,0.50,81.9,short\n")
	assert.Equal(t, "/?bed=8", s.get("/find?q=KALE").Header().Get("Location"))
	assert.Equal(t, "/?bed=9", s.get("/find?q=ground").Header().Get("Location"))
	assert.Equal(t, http.StatusNotFound, s.get("/find?q=orchard").Code)
	assert.Equal(t, http.StatusNotFound, s.get("/find?q=").Code)
}

// A reading that was put right twice in the meantime: the last of them stands beside what was typed.
func TestAReadingPutRightInTwoWindowsShowsBoth(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Top lawn").Bed.ID
	read := s.record(id).Readings[0]
	right := func() (string, url.Values) {
		page := s.get(fmt.Sprintf("/bench?reading=%d", s.record(id).Readings[0].ID)).Body.String()
		action := grep(page, `id="reading-form" method="post" action="(/readings/\d+)"`)
		return action, filled(page[strings.Index(page, `id="reading-form"`):strings.Index(page, `id="means"`)])
	}
	action, typed := right()
	for n, ph := range []string{"6.1", "6.3"} {
		to, form := right()
		form.Set("ph", ph)
		form.Set("key", fmt.Sprint("right", n))
		s.saved(s.post(to, form))
	}
	typed.Set("ph", "6.2")
	typed.Set("note", "The second page.")
	w := s.post(action, typed)
	require.Equal(t, http.StatusConflict, w.Code)
	page := w.Body.String()
	assert.Regexp(t, `<td>pH</td><td>6.2</td><td>6.3</td>`, page)
	assert.Contains(t, page, `<td>The second page.</td>`)
	now := s.record(id).Readings[0]
	assert.Contains(t, page, fmt.Sprintf(`action="/readings/%d"`, now.ID))
	assert.Contains(t, page, fmt.Sprintf(`href="/bench?reading=%d"`, now.ID))
	typed = filled(page[strings.Index(page, `id="reading-form"`):strings.Index(page, `id="means"`)])
	typed.Set("key", "mine")
	s.saved(s.post(fmt.Sprintf("/readings/%d", now.ID), typed))
	assert.InDelta(t, 6.2, float64(*s.record(id).Readings[0].PH), 1e-9)
	assert.Equal(t, read.Date, s.record(id).Readings[0].Date)
}

// What another window saved in the meantime is shown beside what was typed; saved again, the typed goes in its place.
func TestAConflictShowsBothVersions(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Top lawn").Bed.ID
	path := bedPath(id)
	open := filled(func() string {
		page := s.get(path + "/edit").Body.String()
		return page[strings.Index(page, `id="bed-form"`):]
	}())
	other := url.Values{}
	for k, v := range open {
		other[k] = v
	}
	other.Set("depth", "12")
	other.Set("key", "other")
	s.saved(s.post(path, other))
	open.Set("name", "Upper lawn")
	open.Set("depth", "8")
	w := s.post(path, open)
	require.Equal(t, http.StatusConflict, w.Code)
	page := w.Body.String()
	assert.Contains(t, page, "it was changed in another window")
	assert.Regexp(t, `<td>depth</td><td>8</td><td>12</td>`, page)
	assert.Regexp(t, `<td>name</td><td>Upper lawn</td><td>Top lawn</td>`, page)
	assert.NotRegexp(t, `<td>texture</td>`, page, "what is the same is not listed")
	again := filled(page[strings.Index(page, `id="bed-form"`):])
	assert.Equal(t, "Upper lawn", again.Get("name"), "nothing typed is lost")
	again.Set("key", "again")
	s.saved(s.post(path, again))
	assert.Equal(t, "Upper lawn", s.record(id).Bed.Name)
	// The place and a batch of the shelf likewise.
	first, second := s.placeForm("name", "One"), s.placeForm("name", "Two")
	s.saved(s.post("/place", first))
	second.Set("key", "second")
	w = s.post("/place", second)
	require.Equal(t, http.StatusConflict, w.Code)
	assert.Regexp(t, `<td>name</td><td>Two</td><td>One</td>`, w.Body.String())
	b := s.stock("Gypsum")
	edit := fmt.Sprintf("/shed/%d", b.ID)
	form := filled(s.get(edit).Body.String())
	form.Set("note", "First.")
	s.saved(s.post(edit, form))
	form.Set("note", "Second.")
	form.Set("key", "late")
	w = s.post(edit, form)
	require.Equal(t, http.StatusConflict, w.Code)
	assert.Regexp(t, `<td>note</td><td>Second\.</td><td>First\.</td>`, w.Body.String())
	// And a crop of the library.
	crops := s.get("/crops?crop=dahlia").Body.String()
	mine, theirs := filled(crops[strings.Index(crops, `action="/crops"`):]), filled(crops[strings.Index(crops, `action="/crops"`):])
	theirs.Set("low", "6")
	theirs.Set("key", "theirs")
	s.saved(s.post("/crops", theirs))
	mine.Set("low", "6.1")
	mine.Set("key", "mine")
	w = s.post("/crops", mine)
	require.Equal(t, http.StatusConflict, w.Code)
	assert.Regexp(t, `<td>low</td><td>6\.1</td><td>6\.00</td>`, w.Body.String())
}
