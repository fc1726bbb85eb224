package server_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/app"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/demo"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

// harness is a served garden.
type harness struct {
	t     testing.TB
	h     http.Handler
	store *store.Store
	app   app.Services
	today quantity.Day
	jar   []*http.Cookie
}

// made gives the file of an empty garden or of the demo, each made once: most tests
// begin with one.
func made(hollin bool) ([]byte, error) { return gardens[hollin]() }

var gardens = map[bool]func() ([]byte, error){
	false: sync.OnceValues(func() ([]byte, error) { return makeGarden(false) }),
	true:  sync.OnceValues(func() ([]byte, error) { return makeGarden(true) }),
}

func makeGarden(hollin bool) ([]byte, error) {
	dir, err := os.MkdirTemp("", "zephyrfield-test-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	ctx, path := context.Background(), filepath.Join(dir, "garden.db")
	st, err := store.Open(ctx, path)
	if err != nil {
		return nil, err
	}
	if hollin {
		err = demo.Build(ctx, st, present.EncodePlan)
	}
	if err = errors.Join(err, st.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
}

func newSite(t testing.TB, hollin bool, change ...func(*site.Config)) *harness {
	t.Helper()
	ctx := context.Background()
	path := filepath.Join(t.TempDir(), "garden.db")
	raw, err := made(hollin)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(path, raw, 0o600))
	st, err := store.Open(ctx, path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	today, err := quantity.ParseDay(demo.Today)
	require.NoError(t, err)
	clock := site.NewDemoClock(today)
	cfg := site.Config{Store: st, Gate: st, Labs: st, Jobs: runner(t, st), Clock: clock, Demo: clock, Hosts: []string{"localhost"},
		Log: slog.New(slog.NewTextHandler(io.Discard, nil))}
	for _, f := range change {
		f(&cfg)
	}
	h, err := server.New(cfg)
	require.NoError(t, err)
	return &harness{t: t, h: h, store: st, app: app.Of(st), today: today}
}

func (s *harness) do(r *http.Request) *httptest.ResponseRecorder {
	for _, c := range s.jar {
		r.AddCookie(c)
	}
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	return compacted(w)
}

func (s *harness) get(path string) *httptest.ResponseRecorder {
	return s.do(httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil))
}

func (s *harness) post(path string, form url.Values) *httptest.ResponseRecorder {
	r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return s.do(r)
}

func (s *harness) bed(name string) bedstate.State {
	s.t.Helper()
	v, err := s.app.BedState.View(context.Background(), s.today)
	require.NoError(s.t, err)
	for _, p := range v.Beds {
		if p.Bed.Name == name {
			return p
		}
	}
	require.Fail(s.t, "no such bed", name)
	return bedstate.State{}
}

func (s *harness) record(bed int64) bedstate.Record {
	s.t.Helper()
	r, err := s.app.BedState.Bed(context.Background(), bed, s.today)
	require.NoError(s.t, err)
	return r
}

func (s *harness) openTasks(bed int64) (out []garden.Task) {
	for _, t := range s.record(bed).Tasks {
		if t.State == garden.Open {
			out = append(out, t)
		}
	}
	return out
}

var pagesOf = []string{"/", "/?bed=8", "/beds/2/dose", "/beds/6/dose", "/beds/9/dose", "/beds/12/dose", "/sheet", "/bench",
	"/bench?bed=2", "/beds/new", "/beds/2", "/beds/2/edit", "/place", "/keep", "/?bed=2&look=k", "/?bed=7&on=2025-03-01"}

func TestEveryPageAnswersUnderAStrictPolicy(t *testing.T) {
	s := newSite(t, true)
	inline := regexp.MustCompile(`(?i)<script(?:[^>]*)>[^<]|<style|\sstyle=|\son[a-z]+=|javascript:|https?://(?:[^w]|w[^w])`)
	for _, p := range pagesOf {
		w := s.get(p)
		require.Equal(t, http.StatusOK, w.Code, p)
		assert.Contains(t, w.Header().Get("Content-Security-Policy"), "script-src 'self'")
		assert.NotContains(t, w.Header().Get("Content-Security-Policy"), "unsafe")
		assert.Equal(t, "nosniff", w.Header().Get("X-Content-Type-Options"))
		assert.Empty(t, inline.FindAllString(w.Body.String(), -1), p)
		assert.NotContains(t, w.Body.String(), "<no value>", p)
		assert.NotContains(t, w.Body.String(), "NaN", p)
	}
	assert.Equal(t, http.StatusNotFound, s.get("/nowhere").Code)
	assert.Equal(t, http.StatusNotFound, s.get("/beds/999").Code)
}

func TestStaticFilesCarryTheirHash(t *testing.T) {
	s := newSite(t, true)
	page := s.get("/").Body.String()
	for _, m := range regexp.MustCompile(`"(/static/[^"]+)"`).FindAllStringSubmatch(page, -1) {
		w := s.get(m[1])
		assert.Equal(t, http.StatusOK, w.Code, m[1])
		assert.Contains(t, w.Header().Get("Cache-Control"), "immutable")
		assert.NotEmpty(t, w.Header().Get("Content-Type"))
	}
	assert.Equal(t, http.StatusNotFound, s.get("/static/x/../server.go").Code)
	assert.Equal(t, http.StatusOK, s.get("/favicon.ico").Code)
}

func TestPagesArePackedForTheWireAlone(t *testing.T) {
	s := newSite(t, true)
	ask := func(from, path string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil)
		r.RemoteAddr = from
		r.Header.Set("Accept-Encoding", "gzip")
		w := httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		require.Equal(t, http.StatusOK, w.Code)
		return w
	}
	for _, here := range []string{"127.0.0.1:4000", "[::1]:4000", "[::ffff:127.0.0.1]:4000"} {
		w := ask(here, "/place")
		assert.Empty(t, w.Header().Get("Content-Encoding"), here)
		assert.Contains(t, w.Body.String(), "</html>")
	}
	for _, phone := range []string{"192.168.1.20:4000", "[fe80::1%eth0]:4000"} {
		w := ask(phone, "/place")
		assert.Equal(t, "gzip", w.Header().Get("Content-Encoding"), phone)
		assert.Contains(t, w.Header().Values("Vary"), "Accept-Encoding")
		packed := w.Body.Len()
		z, err := gzip.NewReader(w.Body)
		require.NoError(t, err)
		page, err := io.ReadAll(z)
		require.NoError(t, err)
		assert.Contains(t, string(page), "</html>")
		assert.Less(t, 2*packed, len(page))
		// What is packed already is not packed again.
		assert.Empty(t, ask(phone, "/static/x/fonts/source-sans-3.woff2").Header().Get("Content-Encoding"))
		assert.Empty(t, ask(phone, "/static/x/icon-192.png").Header().Get("Content-Encoding"))
	}
}

func TestForeignNamesAndForeignPostsGetNothing(t *testing.T) {
	s := newSite(t, true)
	r := httptest.NewRequest(http.MethodGet, "http://garden.example/", nil)
	assert.Equal(t, http.StatusMisdirectedRequest, s.do(r).Code)
	r = httptest.NewRequest(http.MethodPost, "http://localhost/undo/1", nil)
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	assert.Equal(t, http.StatusForbidden, s.do(r).Code)
	r = httptest.NewRequest(http.MethodPost, "http://localhost/readings", strings.NewReader(strings.Repeat("a", 2<<20)))
	assert.Equal(t, http.StatusRequestEntityTooLarge, s.do(r).Code)
	w := s.post("/demo/day", url.Values{"by": {"day"}, "back": {"//evil.example/"}})
	assert.Equal(t, "/", w.Header().Get("Location"))
}

var grams = regexp.MustCompile(`value="([-_a-z\d]+)"\s+form="dose-form"[\s\S]*?data-grams="(\d+) g"`)

func TestTheDosePageAndTheCommandLineAgreeToTheGram(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Middle ledge").Bed.ID
	seen := map[string]bool{}
	for _, q := range []string{"", "target=6.3", "target=6.4&depth=20", "target=6.6&buffering=organic-matter", "target=6.4&ash=dusting",
		"target=6.8&depth=10"} {
		path := fmt.Sprintf("/beds/%d/dose", id)
		page := s.get(path + "?" + q)
		require.Equal(t, http.StatusOK, page.Code)
		request := s.get(path + ".json?" + q)
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

func TestABadTargetIsAnsweredAtItsField(t *testing.T) {
	s := newSite(t, true)
	for typed, says := range map[string]string{"12": "pH from 4.0 to 7.8", "sour": "is not a number", "2,5": "pH from 4.0 to 7.8"} {
		w := s.get("/beds/2/dose?target=" + url.QueryEscape(typed) + "&depth=20")
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		body := w.Body.String()
		assert.Regexp(t, `(?s)id="target-fault"[^>]*>[^<]*`+says, body)
		assert.Regexp(t, `name="target"[^>]* value="`+typed+`"`, body)
		assert.Contains(t, body, `name="depth" value="20" checked`)
	}
	assert.Equal(t, http.StatusOK, s.get("/beds/2/dose?target=6%2C4").Code, "a comma serves as the point")
}

func (s *harness) planForm(bed int64, change ...string) url.Values {
	w, err := s.app.Dosing.Dose(context.Background(), bed, dosing.Choice{}, s.today)
	require.NoError(s.t, err)
	f := url.Values{"key": {"key-" + strconv.FormatInt(bed, 10)}, "target": {"6.4"}, "use": {w.Key(w.Answer.Options[0])}}
	for i := 0; i+1 < len(change); i += 2 {
		f.Set(change[i], change[i+1])
	}
	return f
}

func TestFromDoseToDiaryToRecord(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Middle ledge").Bed.ID
	before := len(s.record(id).Applications)
	form := s.planForm(id)
	first := s.post(fmt.Sprintf("/beds/%d/plan", id), form)
	require.Equal(t, http.StatusSeeOther, first.Code, first.Body.String())
	again := s.post(fmt.Sprintf("/beds/%d/plan", id), form)
	assert.Equal(t, first.Header().Get("Location"), again.Header().Get("Location"), "a double post lands once")
	tasks := s.openTasks(id)
	require.Len(t, tasks, 2, "one go and its retest")
	assert.Contains(t, s.get(first.Header().Get("Location")).Body.String(),
		"Put 1 go and a retest in the year for Middle ledge; the rest waits for the test of 25 May 2027.")

	g := tasks[0]
	tick := url.Values{"key": {"tick"}, "version": {strconv.FormatInt(g.Version, 10)}, "amount": {"2,1"}}
	w := s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), tick)
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), tick)
	rec := s.record(id)
	require.Len(t, rec.Applications, before+1)
	put := rec.Applications[before]
	assert.InDelta(t, 2100, float64(put.Total), 1e-9)
	assert.InDelta(t, 2100/9.6, float64(put.Rate), 1e-9)
	assert.Equal(t, g.ID, *put.TaskID)
	assert.Contains(t, s.get(fmt.Sprintf("/beds/%d", id)).Body.String(), "24 Nov 2026: 2.1 kg of ground limestone", "a mark on the chart")

	tick.Set("key", "another window")
	assert.Equal(t, http.StatusConflict, s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), tick).Code)

	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(w.Header().Get("Location"))
	require.Len(t, said, 2)
	w = s.post("/undo/"+said[1], url.Values{"key": {"undo"}, "back": {"/sheet"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Len(t, s.record(id).Applications, before)
	assert.Len(t, s.openTasks(id), 2)
}

func TestTheShelfGoesDownByWhatWentOn(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Lower ledge").Bed.ID
	g := s.openTasks(id)[0]
	stock := func() (m quantity.Mass) {
		require.NoError(t, s.store.Read(context.Background(), func(r garden.Reader) error {
			shelf, err := garden.Shelf(r)
			for _, b := range shelf {
				if b.ID == *g.BatchID {
					m = *b.Left
				}
			}
			return err
		}))
		return m
	}
	full := stock()
	w := s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"planned": {"yes"}, "version": {strconv.FormatInt(g.Version, 10)}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.InDelta(t, float64(full-g.Total), float64(stock()), 1e-6)
}

func TestBadAmountsAndSkips(t *testing.T) {
	s := newSite(t, true)
	g := s.openTasks(s.bed("Kale and roots").Bed.ID)[0]
	version := strconv.FormatInt(g.Version, 10)
	for amount, says := range map[string]string{"": "How much went on, in kg", "much": "is not a number", "-1": "above 0 kg"} {
		w := s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"amount": {amount}, "version": {version}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), says)
		assert.Contains(t, w.Body.String(), `value="`+amount+`"`)
	}
	w := s.post(fmt.Sprintf("/tasks/%d/skip", g.ID), url.Values{"why": {"Too wet."}, "version": {version}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Contains(t, s.get("/sheet").Body.String(), "skipped: Too wet.")
}

func TestForgedPostsGiveNoDose(t *testing.T) {
	s := newSite(t, true)
	// A refused material, an option that does not exist, a bed known by fizz only.
	w, err := s.app.Dosing.Dose(context.Background(), s.bed("Middle ledge").Bed.ID, dosing.Choice{}, s.today)
	require.NoError(t, err)
	for _, r := range w.Answer.Refused {
		got := s.post("/beds/2/plan", s.planForm(2, "use", string(r.Kind)))
		assert.Equal(t, http.StatusConflict, got.Code, r.Kind)
	}
	assert.Equal(t, http.StatusConflict, s.post("/beds/2/plan", s.planForm(2, "use", "x")).Code)
	bench := s.bed("Seedling bench").Bed.ID
	uses := []string{}
	for i, m := range material.Table {
		uses = append(uses, string(m.Kind), "b"+strconv.Itoa(i))
	}
	for _, use := range uses {
		for _, school := range []string{"", "table", "organic-matter", "measured"} {
			got := s.post(fmt.Sprintf("/beds/%d/plan", bench), url.Values{"use": {use}, "target": {"6.5"}, "buffering": {school}})
			require.Contains(t, []int{http.StatusConflict, http.StatusUnprocessableEntity}, got.Code)
		}
	}
	assert.Empty(t, s.openTasks(bench))
	// The page is also what is printed, and its request goes to the command line.
	page := s.get(fmt.Sprintf("/beds/%d/dose", bench)).Body.String()
	assert.Contains(t, page, "Jar fizz tells only")
	assert.NotContains(t, page, "data-grams")
	assert.NotContains(t, page, `class="opt"`)
	assert.NotContains(t, page, `id="put"`)
	assert.NotContains(t, s.get("/sheet").Body.String(), "Seedling bench")
}

func TestReadings(t *testing.T) {
	s := newSite(t, true)
	p := s.bed("New ground")
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
		w := s.post("/readings", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `id="`+field+`-fault"[^>]*>[^<]*`+c.says, w.Body.String())
		if field != "note" {
			assert.Contains(t, w.Body.String(), `value="turf side"`, "what was typed is still there")
		}
	}
	assert.Empty(t, s.record(p.Bed.ID).Readings)
	require.Equal(t, http.StatusSeeOther, s.post("/readings", good).Code)
	s.post("/readings", good)
	rec := s.record(p.Bed.ID)
	require.Len(t, rec.Readings, 1)
	assert.Equal(t, bed.Sour, rec.State.Standing)
	fizz := url.Values{"bed": {id}, "date": {"2026-11-24"}, "method": {"fizz"}, "basis": {"water"}, "cores": {"3"}, "depth": {"15"},
		"vinegar": {"none"}, "soda": {"clear"}}
	require.Equal(t, http.StatusSeeOther, s.post("/readings", fizz).Code)
	assert.Equal(t, bed.Sour, s.record(p.Bed.ID).State.Standing, "a fizz does not push a reading aside")
}

func TestAReadingAnswersItsRetest(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Lower ledge").Bed.ID
	tasks := s.openTasks(id)
	last := tasks[len(tasks)-1]
	require.Equal(t, garden.TaskRetest, last.Kind)
	s.today = last.Due - 5
	_, err := s.app.Readings.AddReading(context.Background(), garden.Actor{Today: s.today},
		garden.Reading{BedID: id, Date: s.today, Method: "lab", Basis: "water", PH: ptr(quantity.PH(6.1)), Cores: 12, Depth: 0.15})
	require.NoError(t, err)
	assert.Len(t, s.openTasks(id), len(tasks)-1)
}

func ptr[T any](v T) *T { return &v }

func TestArchiveOutAndIn(t *testing.T) {
	out := newSite(t, true).get("/export/garden.json")
	require.Equal(t, http.StatusOK, out.Code)
	s := newSite(t, false)
	upload := func(content []byte) *httptest.ResponseRecorder {
		var b bytes.Buffer
		m := multipart.NewWriter(&b)
		part, err := m.CreateFormFile("archive", "garden.json")
		require.NoError(t, err)
		_, err = part.Write(content)
		require.NoError(t, err)
		require.NoError(t, m.Close())
		r := httptest.NewRequest(http.MethodPost, "http://localhost/import", &b)
		r.Header.Set("Content-Type", m.FormDataContentType())
		return s.do(r)
	}
	assert.Contains(t, upload([]byte("{}")).Body.String(), "not an archive of Zephyr Field")
	require.Equal(t, http.StatusSeeOther, upload(out.Body.Bytes()).Code)
	records := func(archive string) string { before, _, _ := strings.Cut(archive, `"journal": [`); return before }
	assert.Equal(t, records(out.Body.String()), records(s.get("/export/garden.json").Body.String()))
	assert.Equal(t, http.StatusUnprocessableEntity, upload(out.Body.Bytes()).Code, "not over a garden with beds")
	assert.Contains(t, s.get("/export/tasks.ics").Body.String(), "BEGIN:VEVENT")
}

func TestTheDemosDayMovesOn(t *testing.T) {
	s := newSite(t, true)
	assert.Contains(t, s.get("/").Body.String(), "Tue 24 Nov 2026")
	w := s.post("/demo/day", url.Values{"by": {"week"}, "back": {"/sheet"}})
	assert.Equal(t, "/sheet", w.Header().Get("Location"))
	assert.Contains(t, s.get("/sheet").Body.String(), "Tue 1 Dec 2026")
}

func BenchmarkPages(b *testing.B) {
	s := newSite(b, true)
	for _, p := range []string{"/favicon.ico", "/", "/beds/2/dose", "/sheet", "/walk", "/walk/1", "/bench?bed=2"} {
		b.Run(strings.ReplaceAll(strings.Trim(p, "/"), "/", "-"), func(b *testing.B) {
			for b.Loop() {
				if w := s.get(p); w.Code != http.StatusOK {
					b.Fatal(w.Code)
				}
			}
		})
	}
	// None of these is kept: each asks for another target, as when one is typed.
	b.Run("dose-typed", func(b *testing.B) {
		for n := 0; b.Loop(); n++ {
			if w := s.get(fmt.Sprintf("/beds/2/dose?target=6.%06d", n%500_000)); w.Code != http.StatusOK {
				b.Fatal(w.Code)
			}
		}
	})
}
