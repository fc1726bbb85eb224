package server_test

import (
	"context"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
)

// filled reads a form's fields as a browser would post them unchanged.
func filled(page string) url.Values {
	form := url.Values{}
	for _, m := range regexp.MustCompile(`<input [^>]*>`).FindAllString(page, -1) {
		name, value := attribute(m, "name"), attribute(m, "value")
		switch attribute(m, "type") {
		case "radio", "checkbox":
			if strings.Contains(m, " checked") {
				form.Set(name, value)
			}
		default:
			form.Set(name, value)
		}
	}
	for _, m := range regexp.MustCompile(`(?s)<select [^>]*name="([^"]*)"[^>]*>(.*?)</select>`).FindAllStringSubmatch(page, -1) {
		options := regexp.MustCompile(`<option value="([^"]*)"( selected)?>`).FindAllStringSubmatch(m[2], -1)
		for i, o := range options {
			if i == 0 || o[2] != "" {
				form.Set(m[1], o[1])
			}
		}
	}
	for _, m := range regexp.MustCompile(`(?s)<textarea [^>]*name="([^"]*)"[^>]*>(.*?)</textarea>`).FindAllStringSubmatch(page, -1) {
		form.Set(m[1], m[2])
	}
	return form
}

func attribute(tag, name string) string {
	if m := regexp.MustCompile(` ` + name + `="([^"]*)"`).FindStringSubmatch(tag); m != nil {
		return m[1]
	}
	return ""
}

func (s *harness) saved(w interface{ Result() *http.Response }) {
	s.t.Helper()
	require.Equal(s.t, http.StatusSeeOther, w.Result().StatusCode)
}

func TestABedSavedUnchangedStaysAsItIsInAnyUnits(t *testing.T) {
	s := newSite(t, true)
	for _, units := range []string{"", "imperial"} {
		if units != "" {
			s.saved(s.post("/place", s.placeForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "oz-yd2")))
		}
		v, err := s.app.BedState.View(context.Background(), s.today)
		require.NoError(t, err)
		for _, p := range v.Beds {
			path := fmt.Sprintf("/beds/%d", p.Bed.ID)
			s.saved(s.post(path, filled(s.get(path+"/edit").Body.String())))
			now := s.record(p.Bed.ID).Bed
			for _, x := range [][2]float64{{p.Bed.X, now.X}, {p.Bed.Y, now.Y}, {p.Bed.W, now.W}, {p.Bed.H, now.H}} {
				assert.InDelta(t, x[0], x[1], 0.0005, "%s, %s", p.Bed.Name, units)
			}
			assert.InDelta(t, float64(p.Bed.Depth), float64(now.Depth), 0.0013, "an inch is told to its tenth")
			now.X, now.Y, now.W, now.H, now.Depth, now.Version = p.Bed.X, p.Bed.Y, p.Bed.W, p.Bed.H, p.Bed.Depth, p.Bed.Version
			assert.Equal(t, p.Bed, now)
		}
	}
}

func TestTheReadersUnitsStandOnEveryPage(t *testing.T) {
	s := newSite(t, true)
	s.saved(s.post("/place", s.placeForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2",
		"currency", "kr")))
	for path, says := range map[string][]string{
		"/?bed=2":      {"103 ft²", "5.9 in"},
		"/beds/2/dose": {"5.27 lb/100 ft²", "3.4 lb", "257 g/m² (5.27 lb/100 ft²)", "0.53 kr"},
		"/sheet":       {"<option value=\"lb\"", "5.52 lb/100 ft²"},
		"/bench":       {"Depth, in"},
		"/beds/new":    {"From the west edge, ft", "Depth, in"},
		"/crops":       {"Potash (K₂O) a good crop carries off, lb/100 ft²"},
	} {
		body := s.get(path).Body.String()
		for _, x := range says {
			assert.Contains(t, body, x, path)
		}
	}
	// What is typed is taken in the unit that it is asked in.
	due := s.openTasks(s.bed("Kale and roots").Bed.ID)[0]
	s.saved(s.post(fmt.Sprintf("/tasks/%d/put-on", due.ID), url.Values{"version": {"1"}, "amount": {"10"}}))
	rec := s.record(due.BedID)
	assert.InDelta(t, 4535.9237, float64(rec.Applications[len(rec.Applications)-1].Total), 1e-6)
}

func TestTheSoilIsFoundByJarAndByFeel(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("New ground").Bed
	path := fmt.Sprintf("/beds/%d", b.ID)
	form := filled(s.get(path + "/edit").Body.String())
	form.Set("texture_by", "jar")
	form.Set("jar_sand", "20")
	form.Set("jar_silt", "30")
	form.Set("jar_clay", "50")
	asked := s.get(path + "/edit?" + form.Encode()).Body.String()
	assert.Contains(t, asked, "Clay, 50 % clay.", "told before it is saved")
	s.saved(s.post(path, form))
	now := s.record(b.ID).Bed
	assert.Equal(t, "clay", string(now.Texture))
	assert.InDelta(t, 50, float64(*now.Clay), 1e-9)
	assert.Equal(t, garden.Figures{20, 30, 50}, now.Jar)

	form = filled(s.get(path + "/edit").Body.String())
	assert.Equal(t, "30", form.Get("jar_silt"), "the layers are kept")
	form.Set("jar_silt", "-1")
	bad := s.post(path, form)
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "The layers are 0 mm or more")
	assert.Contains(t, bad.Body.String(), `value="-1"`)

	form.Set("texture_by", "feel")
	for name, answer := range map[string]string{"feel_ball": "yes", "feel_ribbon": "short", "feel_gritty": "yes", "feel_smooth": "no"} {
		form.Set(name, answer)
	}
	s.saved(s.post(path, form))
	assert.Equal(t, "sandy-loam", string(s.record(b.ID).Bed.Texture))
	// Saved again without answers, it stays as it was found.
	s.saved(s.post(path, filled(s.get(path+"/edit").Body.String())))
	assert.Equal(t, "sandy-loam", string(s.record(b.ID).Bed.Texture))
}

func TestPathsAndWallsAreDrawn(t *testing.T) {
	s := newSite(t, true)
	plan := s.get("/").Body.String()
	assert.Contains(t, plan, `class="mark path"`)
	assert.Contains(t, plan, `class="mark wall"`)
	bad := s.post("/marks", url.Values{"kind": {"path"}, "width": {"wide"}, "corners": {"1 1"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "“wide” is not a number.")
	assert.Contains(t, bad.Body.String(), ">1 1</textarea>")
	bad = s.post("/marks", url.Values{"kind": {"path"}, "width": {"1"}, "corners": {"1 1"}})
	assert.Contains(t, bad.Body.String(), "A line needs two points or more.")
	s.saved(s.post("/marks", url.Values{"kind": {"wall"}, "name": {"Hedge"}, "width": {"0.4"}, "corners": {"1 16\n9 16"}}))
	v, err := s.app.BedState.View(context.Background(), s.today)
	require.NoError(t, err)
	m := v.Marks[len(v.Marks)-1]
	path := fmt.Sprintf("/marks/%d", m.ID)
	form := filled(s.get(path + "/edit").Body.String())
	assert.Equal(t, "1 16\n9 16", form.Get("corners"))
	form.Set("corners", "1 16\n9 17")
	s.saved(s.post(path, form))
	form.Set("key", "another window")
	assert.Equal(t, http.StatusConflict, s.post(path, form).Code, "a stale window is told")
	s.saved(s.post(path+"/drop", url.Values{"version": {"2"}}))
	assert.Equal(t, http.StatusNotFound, s.get(path+"/edit").Code)
}

func TestTheLibraryIsTheGardeners(t *testing.T) {
	s := newSite(t, true)
	page := s.get("/crops").Body.String()
	assert.Contains(t, page, "Ranunculus")
	bad := s.post("/crops", url.Values{"name": {"Stock"}, "low": {"7"}, "high": {"6"}, "removal": {"8"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "The band’s top lies above its bottom")
	assert.Contains(t, bad.Body.String(), `value="Stock"`)
	s.saved(s.post("/crops", url.Values{"name": {"Stock"}, "low": {"6.4"}, "high": {"7,4"}, "removal": {"8"}, "flag-not-food": {"yes"}}))
	assert.Contains(t, s.get("/beds/new").Body.String(), `<option value="stock">Stock, 6.4 to 7.4`)
	form := filled(s.get("/crops?crop=dahlia").Body.String())
	form.Set("low", "5.4")
	form.Set("aim", "")
	s.saved(s.post("/crops", form))
	b := s.bed("Middle ledge")
	assert.Equal(t, bed.InBand, b.Standing, "5.7 is in the band of its own")
	body := s.get("/crops?crop=dahlia").Body.String()
	assert.Contains(t, body, "Back to the book’s figures")
	form = filled(body)
	s.saved(s.post("/crops/drop", url.Values{"code": {"dahlia"}, "version": {form.Get("version")}}))
	assert.Equal(t, bed.Sour, s.bed("Middle ledge").Standing)
	assert.Equal(t, http.StatusNotFound, s.get("/crops?crop=triffid").Code)
}

func TestADoseForACropOfOnesOwnGoesToTheCommandLine(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Middle ledge").Bed
	path := fmt.Sprintf("/beds/%d", b.ID)
	s.saved(s.post(path+"/plantings", url.Values{"crop": {"ranunculus"}, "sown": {"2027-03-01"}}))
	s.saved(s.post(path+"/plantings", url.Values{"crop": {"dahlia"}, "sown": {"2027-03-01"}, "together": {"yes"}}))
	raw := s.get(path + "/dose.json").Body.Bytes()
	a, err := dosejson.AnswerTo(raw)
	require.NoError(t, err)
	w, err := s.app.Dosing.Dose(context.Background(), b.ID, dosing.Choice{}, s.today)
	require.NoError(t, err)
	require.NotZero(t, w.Answer.Need.CaCO3)
	assert.InDelta(t, float64(w.Answer.Need.CaCO3), a.Need.CaCO3, 0.05, "the same dose")
	assert.Contains(t, string(raw), `"own_crops"`)
}

func TestClashesAreNamedOnThePlan(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("New ground").Bed
	s.saved(s.post(fmt.Sprintf("/beds/%d/plantings", b.ID), url.Values{"crop": {"blueberry"}, "sown": {"2027-05-10"}, "together": {"yes"}}))
	body := s.get(fmt.Sprintf("/?bed=%d", b.ID)).Body.String()
	assert.Contains(t, body, "1 clash of crops")
	assert.Contains(t, body, "New ground, untested; general vegetables and blueberry want different ground")
	assert.Contains(t, body, "General vegetables and blueberry want different ground: 6.0 to 7.0 and 4.5 to 5.2.")
	assert.Contains(t, body, "untested, general vegetables and blueberry clash", "in the table too")
}

func TestEveryPageShowsTheDayThatIsAskedFor(t *testing.T) {
	s := newSite(t, true)
	handle := regexp.MustCompile(`data-day="([^"]+)"`)
	for _, path := range []string{"/", "/beds/2/dose", "/sheet", "/bench", "/beds/2", "/place", "/keep", "/crops"} {
		body := s.get(path + "?on=2026-06-01").Body.String()
		m := handle.FindStringSubmatch(body)
		require.NotNil(t, m, path)
		assert.Equal(t, "2026-06-01", m[1], path)
		assert.Contains(t, body, `href="/sheet?on=2026-06-01"`, "%s leads on to the same day", path)
		assert.Contains(t, body, fmt.Sprintf(`action=%q`, path), "the typed day comes back here")
	}
	then := s.get("/beds/2?on=2024-06-01").Body.String()
	assert.Contains(t, s.get("/beds/2").Body.String(), "<td>12 Nov 2026</td>")
	assert.NotContains(t, then, "<td>12 Nov 2026</td>", "that reading was still to come")
	assert.NotContains(t, then, "Change the bed", "another day is for reading")
	assert.NotContains(t, s.get("/beds/2/dose?on=2026-10-01").Body.String(), `id="put"`)
	assert.Contains(t, s.get("/beds/2/dose?on=2026-10-01").Body.String(), "old meter, 4 Jul 2026")
	assert.NotContains(t, s.get("/sheet?on=2026-11-25").Body.String(), "/put-on")
	// A form that was refused leads back to its page.
	bad := s.post("/readings", url.Values{"bed": {"2"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Regexp(t, `class="day-form [^>]*action="/bench"`, bad.Body.String())
}

func TestTheListIsSortedByItsHeads(t *testing.T) {
	s := newSite(t, true)
	names := func(sort string) (out []string) {
		table := s.get("/?sort=" + sort).Body.String()
		table = table[strings.Index(table, `id="beds"`):]
		for _, m := range regexp.MustCompile(`<tr><td><a [^>]*>([^<]+)</a>`).FindAllStringSubmatch(table, -1) {
			out = append(out, m[1])
		}
		require.Len(t, out, 13)
		return out
	}
	assert.Equal(t, []string{"Blueberry pocket", "Compost heap"}, names("bed")[:2])
	assert.Equal(t, "Upper ledge", names("-bed")[0])
	assert.Equal(t, "Middle ledge", names("ph")[0], "5.7 is the lowest")
	assert.Equal(t, "Quarry end", names("-ph")[0])
	last := []string{"Compost heap", "New ground", "Seedling bench"}
	assert.ElementsMatch(t, last, names("ph")[10:], "untested last")
	assert.ElementsMatch(t, last, names("-ph")[10:], "either way")
	assert.Equal(t, []string{"Kale and roots", "Lower ledge", "Blueberry pocket"}, names("due")[:3])
	assert.Contains(t, s.get("/?sort=ph").Body.String(), `aria-sort="ascending"`)
	assert.Contains(t, s.get("/?sort=-ph").Body.String(), `aria-sort="descending"`)
}

// hidden is the last filled field of a name in a page.
func hidden(page, name string) (value string) {
	for _, m := range regexp.MustCompile(`<input type="hidden" name="`+name+`" value="([^"]+)"`).FindAllStringSubmatch(page, -1) {
		value = html.UnescapeString(m[1])
	}
	return value
}

func TestWhatWentOnBeforeIsNoted(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("New ground").Bed
	path := fmt.Sprintf("/beds/%d", b.ID)
	bad := s.post(path+"/applications", url.Values{"what": {"calcitic-lime"}, "put_date": {"2031-01-01"}, "put_amount": {"2"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "That day is still to come.")
	assert.Contains(t, bad.Body.String(), `value="2031-01-01"`)
	long := url.Values{"what": {"calcitic-lime"}, "put_date": {"2019-03-01"}, "put_amount": {"2"}, "put_note": {"By the last tenant."}}
	asked := s.post(path+"/applications", long)
	require.Equal(t, http.StatusUnprocessableEntity, asked.Code)
	assert.Contains(t, asked.Body.String(), "That is 7 years ago. Sure?")
	long.Set("sure", hidden(asked.Body.String(), "sure"))
	s.saved(s.post(path+"/applications", long))
	long.Set("put_date", "2018-03-01")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(path+"/applications", long).Code, "another day is another question")
	a := s.record(b.ID).Applications[0]
	assert.InDelta(t, 2000, float64(a.Total), 1e-9)
	assert.Contains(t, s.get(path).Body.String(), "By the last tenant.")
}

func TestAnArchiveOfTheFirstEditionIsStillRead(t *testing.T) {
	old := `{"format":"zephyrfield-archive","edition":1,
"garden":[{"id":1,"version":1,"name":"Old","climate":"maritime","hemisphere":"north",
"soil_table":"cool","buffering":"table","ash_school":"equivalence","act_school":"below-band","soil_temp_c":null,"started":""}],
"beds":[{"id":1,"version":1,"name":"A","kind":"bed","shape":"rect",
"x_m":0,"y_m":0,"w_m":4,"h_m":1,"rings":0,"turn_deg":0,"corners_m":null,"texture":"loam","depth_m":0.15,"worked":"dug",
"organic_matter_pct":null,"clay_pct":null,"cec":null,"free_lime":"unknown","note":"","retired":""}],
"plantings":[],"batches":[],"readings":[],"plans":[],"tasks":[],"applications":[],"journal":[]}`
	s := newSite(t, false)
	_, err := s.store.Restore(context.Background(), garden.Change{}, func(put func(garden.Record) error) error {
		return exchange.ReadArchive(strings.NewReader(old), put)
	})
	require.NoError(t, err)
	assert.Contains(t, s.get("/").Body.String(), "4 m²")
}
