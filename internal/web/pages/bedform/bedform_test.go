package bedform_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

func TestBedIsChangedCopiedAndRetired(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Kale and roots").Bed
	edit := s.Get(fmt.Sprintf("/beds/%d/edit", b.ID)).Body.String()
	assert.Contains(t, edit, `value="Kale and roots"`)
	form := url.Values{"name": {"Kale"}, "kind": {"bed"}, "w": {"5"}, "h": {"4"}, "x": {"1.2"}, "y": {"10.2"}, "texture": {"clay"},
		"depth": {"20"}, "worked": {"dug"},
		"free_lime": {"faint"}, "note": {"Heavy."}, "cec": {"22"}, "version": {strconv.FormatInt(b.Version, 10)}}
	path := fmt.Sprintf("/beds/%d", b.ID)
	require.Equal(t, http.StatusSeeOther, s.Post(path, form).Code)
	now := s.Bed("Kale").Bed
	assert.InDelta(t, 20, float64(now.Area()), 1e-9)
	assert.Equal(t, "Heavy.", now.Note)
	assert.InDelta(t, 22, float64(*now.CEC), 1e-9)
	assert.Equal(t, http.StatusConflict, s.Post(path, form).Code, "a stale window is told")
	form.Set("version", strconv.FormatInt(now.Version, 10))
	form.Set("w", "-2")
	w := s.Post(path, form)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "A length above 0 m is needed")
	assert.Contains(t, w.Body.String(), `value="-2"`)

	require.Equal(t, http.StatusSeeOther, s.Post(path+"/duplicate", url.Values{"key": {"d"}}).Code)
	s.Post(path+"/duplicate", url.Values{"key": {"d"}})
	twin := s.Bed("Kale 2")
	assert.Equal(t, bed.Untested, twin.Standing, "a new bed has no readings")
	require.NotEmpty(t, twin.Next)
	assert.Equal(t, "kale", twin.Next[0].Crop)

	require.NotEmpty(t, s.OpenTasks(b.ID))
	w = s.Post(path+"/retire", url.Values{"version": {strconv.FormatInt(now.Version, 10)}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.NotContains(t, s.Get("/").Body.String(), fmt.Sprintf(`id="bed-%d"`, b.ID))
	assert.Empty(t, s.OpenTasks(b.ID))
	assert.Contains(t, s.Get(path).Body.String(), "Off the plan since")
	assert.Contains(t, s.Get("/?on=2026-10-01").Body.String(), fmt.Sprintf(`id="bed-%d"`, b.ID), "it stands in its own past")
	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(w.Header().Get("Location"))
	require.Equal(t, http.StatusSeeOther, s.Post("/undo/"+said[1], url.Values{"back": {"/"}}).Code)
	assert.NotEmpty(t, s.OpenTasks(b.ID))
}

// rowsOf returns the table rows of an answer.
func rowsOf(w *httptest.ResponseRecorder) []string {
	return webtest.Rows(webtest.Parsed(w.Body.String()))
}

// What another window saved in the meantime is shown beside what was typed; saved again, the typed goes in its place.
func TestConflictShowsBothVersions(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Top lawn").Bed.ID
	path := webtest.BedPath(id)
	open := webtest.Filled(func() string {
		page := s.Get(path + "/edit").Body.String()
		return page[strings.Index(page, `id="bed-form"`):]
	}())
	other := url.Values{}
	for k, v := range open {
		other[k] = v
	}
	other.Set("depth", "12")
	other.Set("key", "other")
	s.Saved(s.Post(path, other))
	open.Set("name", "Upper lawn")
	open.Set("depth", "8")
	w := s.Post(path, open)
	require.Equal(t, http.StatusConflict, w.Code)
	page := w.Body.String()
	assert.Contains(t, page, "it was changed in another window")
	assert.Contains(t, webtest.Rows(webtest.Parsed(page)), "depth | 8 | 12")
	assert.Contains(t, webtest.Rows(webtest.Parsed(page)), "name | Upper lawn | Top lawn")
	assert.NotContains(t, strings.Join(webtest.Rows(webtest.Parsed(page)), "\n"), "texture |", "equal fields are not listed")
	again := webtest.Filled(page[strings.Index(page, `id="bed-form"`):])
	assert.Equal(t, "Upper lawn", again.Get("name"), "nothing typed is lost")
	again.Set("key", "again")
	s.Saved(s.Post(path, again))
	assert.Equal(t, "Upper lawn", s.Record(id).Bed.Name)
	// The place and a batch of the shelf likewise.
	first, second := s.PlaceForm("name", "One"), s.PlaceForm("name", "Two")
	s.Saved(s.Post("/place", first))
	second.Set("key", "second")
	w = s.Post("/place", second)
	require.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, rowsOf(w), "name | Two | One")
	b := s.Stock("Gypsum")
	edit := fmt.Sprintf("/shed/%d", b.ID)
	form := webtest.Filled(s.Get(edit).Body.String())
	form.Set("note", "First.")
	s.Saved(s.Post(edit, form))
	form.Set("note", "Second.")
	form.Set("key", "late")
	w = s.Post(edit, form)
	require.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, rowsOf(w), "note | Second. | First.")
	// And a crop of the library.
	crops := s.Get("/crops?crop=dahlia").Body.String()
	mine, theirs := webtest.Filled(crops[strings.Index(crops, `action="/crops"`):]), webtest.Filled(crops[strings.Index(crops,
		`action="/crops"`):])
	theirs.Set("low", "6")
	theirs.Set("key", "theirs")
	s.Saved(s.Post("/crops", theirs))
	mine.Set("low", "6.1")
	mine.Set("key", "mine")
	w = s.Post("/crops", mine)
	require.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, rowsOf(w), "low | 6.1 | 6.00")
}

func TestUnchangedBedIsStableInAnyUnits(t *testing.T) {
	s := webtest.New(t, true)
	for _, units := range []string{"", "imperial"} {
		if units != "" {
			s.Saved(s.Post("/place", s.PlaceForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "oz-yd2")))
		}
		v, err := s.App.BedState.View(context.Background(), s.Today)
		require.NoError(t, err)
		for _, p := range v.Beds {
			path := fmt.Sprintf("/beds/%d", p.Bed.ID)
			s.Saved(s.Post(path, webtest.Filled(s.Get(path+"/edit").Body.String())))
			now := s.Record(p.Bed.ID).Bed
			for _, x := range [][2]float64{{p.Bed.X, now.X}, {p.Bed.Y, now.Y}, {p.Bed.W, now.W}, {p.Bed.H, now.H}} {
				assert.InDelta(t, x[0], x[1], 0.0005, "%s, %s", p.Bed.Name, units)
			}
			assert.InDelta(t, float64(p.Bed.Depth), float64(now.Depth), 0.0013, "an inch is told to its tenth")
			now.X, now.Y, now.W, now.H, now.Depth, now.Version = p.Bed.X, p.Bed.Y, p.Bed.W, p.Bed.H, p.Bed.Depth, p.Bed.Version
			assert.Equal(t, p.Bed, now)
		}
	}
}

func TestTextureByJarAndFeel(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("New ground").Bed
	path := fmt.Sprintf("/beds/%d", b.ID)
	form := webtest.Filled(s.Get(path + "/edit").Body.String())
	form.Set("texture_by", "jar")
	form.Set("jar_sand", "20")
	form.Set("jar_silt", "30")
	form.Set("jar_clay", "50")
	asked := s.Get(path + "/edit?" + form.Encode()).Body.String()
	assert.Contains(t, asked, "Clay, 50 % clay.", "told before it is saved")
	s.Saved(s.Post(path, form))
	now := s.Record(b.ID).Bed
	assert.Equal(t, "clay", string(now.Texture))
	assert.InDelta(t, 50, float64(*now.Clay), 1e-9)
	assert.Equal(t, garden.Figures{20, 30, 50}, now.Jar)

	form = webtest.Filled(s.Get(path + "/edit").Body.String())
	assert.Equal(t, "30", form.Get("jar_silt"), "the layers are kept")
	form.Set("jar_silt", "-1")
	bad := s.Post(path, form)
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "The layers are 0 mm or more")
	assert.Contains(t, bad.Body.String(), `value="-1"`)

	form.Set("texture_by", "feel")
	form.Set("feel", "crumbles")
	form.Set("feel_rub", "gritty")
	s.Saved(s.Post(path, form))
	assert.Equal(t, "sandy-loam", string(s.Record(b.ID).Bed.Texture))
	// Saved again without answers, it stays as it was found.
	s.Saved(s.Post(path, webtest.Filled(s.Get(path+"/edit").Body.String())))
	assert.Equal(t, "sandy-loam", string(s.Record(b.ID).Bed.Texture))
}

// A new bed's soil, crop and day of sowing are asked for, never assumed; the rest has its usual values.
func TestNewBedAsksForWhatItCannotKnow(t *testing.T) {
	s := webtest.New(t, true)
	form := webtest.Filled(s.Get("/beds/new").Body.String())
	form.Set("name", "Bean end")
	w := s.Post("/beds", form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	page := webtest.Parsed(w.Body.String())
	for _, field := range []string{"feel", "crop", "when"} {
		assert.NotEmpty(t, webtest.Wording(webtest.ByID(t, page, field+"-fault")), field)
	}
	for name, value := range map[string]string{"feel": "worm", "crop": "broad-bean", "when": "spring"} {
		form.Set(name, value)
	}
	s.Saved(s.Post("/beds", form))
	got := s.Bed("Bean end")
	assert.Equal(t, "clay-loam", string(got.Bed.Texture))
	assert.Equal(t, garden.ByFeel, got.Bed.TextureBy)
	require.NotEmpty(t, got.Next)
	assert.Equal(t, 2027, got.Next[0].Sown.Year(), "spring is the next one")
	assert.InDelta(t, 0.15, float64(got.Bed.Depth), 1e-9)
}

// A crop of the gardener's own is added with the bed, both or neither, and undone with it.
func TestOwnCropIsAddedWithTheBed(t *testing.T) {
	s := webtest.New(t, true)
	form := webtest.Filled(s.Get("/beds/new").Body.String())
	for name, value := range map[string]string{"name": "Sea end", "feel": "crumbs", "when": "soon", "own_name": "Sea kale", "own_low": "6.5"} {
		form.Set(name, value)
	}
	w := s.Post("/beds", form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	page := webtest.Parsed(w.Body.String())
	assert.Equal(t, "A pH from 3 to 10 is needed.", webtest.Wording(webtest.ByID(t, page, "own_high-fault")))
	assert.Empty(t, webtest.Wording(webtest.ByID(t, page, "crop-fault")), "its own name stands for the list")
	form.Set("own_high", "7.5")
	form.Set("name", "Top lawn") // there is one
	require.Equal(t, http.StatusUnprocessableEntity, s.Post("/beds", form).Code)
	assert.NotContains(t, s.Get("/crops").Body.String(), "Sea kale", "neither without the other")
	form.Set("name", "Sea end")
	form.Set("own_name", "Kale")
	w = s.Post("/beds", form)
	page = webtest.Parsed(w.Body.String())
	assert.Contains(t, webtest.Wording(webtest.ByID(t, page, "own_name-fault")), "There is a crop of that name already")
	form.Set("own_name", "…")
	page = webtest.Parsed(s.Post("/beds", form).Body.String())
	assert.NotEmpty(t, webtest.Wording(webtest.ByID(t, page, "own_name-fault")))
	assert.Empty(t, webtest.Wording(webtest.ByID(t, page, "crop-fault")), "asked for once")
	form.Set("own_name", "Sea kale")
	w = s.Post("/beds", form)
	s.Saved(w)
	assert.Equal(t, "sea-kale", s.Bed("Sea end").Next[0].Crop)
	assert.Contains(t, s.Get("/crops?crop=sea-kale").Body.String(), `value="7.00"`, "its aim is the middle")
	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(w.Header().Get("Location"))
	require.Equal(t, http.StatusSeeOther, s.Post("/undo/"+said[1], url.Values{"back": {"/"}}).Code)
	assert.NotContains(t, s.Get("/crops").Body.String(), "Sea kale")
}

// A bed that is moved keeps its reading on the plan, and the others stand where they were.
func TestPlacedBedKeepsItsReading(t *testing.T) {
	page := webtest.New(t, true).Page("/beds/2/edit")
	placed := webtest.ByID(t, page, "bed--1")
	says, _ := webtest.Attr(placed, "aria-label")
	assert.Equal(t, "Middle ledge, pH 5.7, sour by 0.5", says)
	assert.Len(t, webtest.Pieces(page, "plot"), 13)
}
