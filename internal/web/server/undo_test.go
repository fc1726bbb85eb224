package server_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/server"
)

// noChange are the posts that change no record of the garden.
var noChange = map[string]string{
	"POST /sign-in": "a session", "POST /sign-out": "a session", "POST /sessions/:id/end": "a session",
	"POST /passphrase": "the passphrase", "POST /diary/address": "a secret",
	"POST /undo/:id": "it is what takes back", "POST /demo/day": "the demo’s clock",
	"POST /keep/put-back": "its way back is the copy that it keeps",
	"POST /bench/lab":     "a file that waits", "POST /walk/:id/report": "a file that waits",
}

// last is the newest line of the journal.
func (s *harness) last() garden.Line {
	s.t.Helper()
	lines, err := s.app.Journal(context.Background(), 0, 1)
	require.NoError(s.t, err)
	require.NotEmpty(s.t, lines)
	return lines[0]
}

var (
	versions = regexp.MustCompile(`"version":\d+`)
	journal  = regexp.MustCompile(`(?s)"journal": \[.*`)
)

// records are all that the garden keeps, but for the journal and versions.
func (s *harness) records() string {
	return versions.ReplaceAllString(journal.ReplaceAllString(s.get("/export/garden.json").Body.String(), ""), "")
}

// change is one post of a route, made from the demo garden as it stands.
type changing func(*harness) (path string, form url.Values)

func vers(v int64) string { return strconv.FormatInt(v, 10) }

func (s *harness) open(kind string) garden.Task {
	s.t.Helper()
	v, err := s.app.BedState.View(context.Background(), s.today)
	require.NoError(s.t, err)
	for _, t := range v.Tasks {
		if t.Kind == kind && t.Due <= s.today {
			return t
		}
	}
	for _, t := range v.Tasks {
		if t.Kind == kind {
			return t
		}
	}
	require.Fail(s.t, "no task", kind)
	return garden.Task{}
}

// walked sets out on a round of one bed, and gives it with its first stop.
func (s *harness) walked() (round int64, stop string) {
	s.t.Helper()
	w := s.post("/walk", url.Values{"asked": {"1"}, "bed": {vers(s.bed("Top lawn").Bed.ID)}, "key": {fmt.Sprint("set-out", s.last().ID)}})
	require.Equal(s.t, http.StatusSeeOther, w.Code)
	round, err := strconv.ParseInt(grep(w.Header().Get("Location"), `/walk/(\d+)`), 10, 64)
	require.NoError(s.t, err)
	return round, grep(s.get(fmt.Sprintf("/walk/%d", round)).Body.String(), `name="stop" value="(\d+)"`)
}

func turnHref(bed int64) string { return fmt.Sprintf("/beds/%d/turn", bed) }

// turned is a bed that is turned over, once.
func (s *harness) turned() bedstate.Preparation {
	s.t.Helper()
	bed := s.bed("Kale and roots").Bed.ID
	if open := s.record(bed).State.Preparations; len(open) > 0 {
		return open[0]
	}
	w := s.post(turnHref(bed), url.Values{"key": {fmt.Sprint("turn", s.last().ID)}})
	require.Equal(s.t, http.StatusSeeOther, w.Code, w.Body.String())
	return s.record(bed).State.Preparations[0]
}

var changes = map[string]changing{
	"POST /beds": func(s *harness) (string, url.Values) {
		return "/beds", url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1"}, "x": {"1"}, "y": {"40"},
			"texture": {"loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"bean"}, "sown": {"2027-05-20"}}
	},
	"POST /begin": func(s *harness) (string, url.Values) {
		form := filled(s.get("/begin").Body.String())
		form.Set("hemisphere", "south")
		form.Set("climate", "prairie")
		return "/begin", form
	},
	"POST /begin/bed": func(s *harness) (string, url.Values) {
		return "/begin/bed", url.Values{"name": {"Bean row"}, "w": {"5"}, "h": {"1"}, "feel": {"worm"}, "depth": {"15"}, "worked": {"dug"},
			"crop": {"bean"}, "when": {"later"}}
	},
	"POST /begin/reading": func(s *harness) (string, url.Values) {
		id := s.bed("New ground").Bed.ID
		return "/begin/reading", url.Values{"bed": {vers(id)}, "date": {s.today.String()}, "method": {"kit"}, "basis": {"water"},
			"cores": {"6"}, "depth": {"15"}, "chips": {"5.5"}, "have": {"lime", "ash"}, "clean": {"yes"}}
	},
	"POST /beds/:id/seen": func(s *harness) (string, url.Values) {
		return seenPath(s.bed("Kale and roots").Bed.ID), url.Values{"sign": {"clubbed-roots"}, "note": {"by the wall"}}
	},
	"POST /sights/:id/forget": func(s *harness) (string, url.Values) {
		id := s.bed("Kale and roots").Bed.ID
		s.saved(s.post(seenPath(id), url.Values{"sign": {"clubbed-roots"}, "key": {"seen"}}))
		all, err := s.app.Observation.OfBed(context.Background(), id, s.today)
		require.NoError(s.t, err)
		return fmt.Sprintf("/sights/%d/forget", all[0].ID), url.Values{"version": {vers(all[0].Version)}}
	},
	"POST /bench/tour": func(s *harness) (string, url.Values) {
		a, b := s.bed("New ground").Bed.ID, s.bed("Seedling bench").Bed.ID
		return "/bench/tour", url.Values{"method": {"probe"}, "date": {s.today.String()}, fmt.Sprint("bed-", a): {"5.6 5.8"},
			fmt.Sprint("bed-", b): {"6.2"}}
	},
	"POST /beds/change": func(s *harness) (string, url.Values) {
		return "/beds/change", url.Values{"bed": {vers(s.bed("Upper ledge").Bed.ID), vers(s.bed("Lower ledge").Bed.ID)}, "do": {"change"},
			"set_part": {"Ledges"}, "set_depth": {"12"}}
	},
	"POST /beds/table": func(s *harness) (string, url.Values) {
		return "/beds/table", url.Values{"table": {"name,length_m,width_m\nEast 1,15,0.75\nEast 2,15,0.75"}}
	},
	"POST /beds/:id": func(s *harness) (string, url.Values) {
		path := fmt.Sprintf("/beds/%d", s.bed("Top lawn").Bed.ID)
		page := s.get(path + "/edit").Body.String()
		form := filled(page[strings.Index(page, `id="bed-form"`):])
		form.Set("name", "Upper lawn")
		form.Set("depth", "12")
		return path, form
	},
	"POST /beds/:id/turn": func(s *harness) (string, url.Values) {
		return turnHref(s.bed("Kale and roots").Bed.ID), url.Values{}
	},
	"POST /tasks/:id/done": func(s *harness) (string, url.Values) {
		step := s.turned().Steps[0]
		return fmt.Sprintf("/tasks/%d/done", step.ID), url.Values{"version": {vers(step.Version)}}
	},
	"POST /turnings/:id/drop": func(s *harness) (string, url.Values) {
		x := s.turned()
		return fmt.Sprintf("/turnings/%d/drop", x.ID), url.Values{"version": {vers(x.Version)}}
	},
	"POST /turnings/:id/keep": func(s *harness) (string, url.Values) {
		return fmt.Sprintf("/turnings/%d/keep", s.turned().ID), url.Values{"name": {"Ours"}}
	},
	"POST /turnings/:id/steps": func(s *harness) (string, url.Values) {
		x := s.turned()
		return fmt.Sprintf("/turnings/%d/steps", x.ID), url.Values{"after": {vers(x.Steps[0].ID)}, "says": {"Lay boards"}, "wait": {"2"}}
	},
	"POST /beds/:id/side": func(s *harness) (string, url.Values) {
		id := s.bed("Middle ledge").Bed.ID
		s.saved(s.post(fmt.Sprintf("/beds/%d/plantings", id), url.Values{"crop": {"cucumber"}, "sown": {"2026-05-20"},
			"key": {fmt.Sprint("stands", s.last().ID)}}))
		return fmt.Sprintf("/beds/%d/side", id), url.Values{"plants": {"5"}, "across": {"80"}}
	},
	"POST /years": func(s *harness) (string, url.Values) {
		return "/years", url.Values{"bed": {vers(s.bed("Kale and roots").Bed.ID)}, "crop": {"potato"}, "sown": {"2028-04-10"}}
	},
	"POST /warmth": func(s *harness) (string, url.Values) { return "/warmth", url.Values{"soil_c": {"6,5"}} },
	"POST /warmth/take": func(s *harness) (string, url.Values) {
		return "/warmth/take", url.Values{"csv": {"date,soil_f,rain_mm\n2026-11-20,44.6,3\n2026-11-21,,0\n2026-12-20,40,0\n"}}
	},
	"POST /warmth/:id/out": func(s *harness) (string, url.Values) {
		x := s.warm("7")
		return fmt.Sprintf("/warmth/%d/out", x.ID), url.Values{"version": {vers(x.Version)}}
	},
	"POST /beds/:id/retire": func(s *harness) (string, url.Values) {
		b := s.bed("Kale and roots").Bed
		return fmt.Sprintf("/beds/%d/retire", b.ID), url.Values{"version": {vers(b.Version)}}
	},
	"POST /beds/:id/taught": func(s *harness) (string, url.Values) {
		b := s.bed("Kale and roots").Bed
		return fmt.Sprintf("/beds/%d/taught", b.ID), url.Values{"version": {vers(b.Version)}, "from": {"today"}}
	},
	"POST /beds/:id/duplicate": func(s *harness) (string, url.Values) {
		return fmt.Sprintf("/beds/%d/duplicate", s.bed("Kale and roots").Bed.ID), url.Values{}
	},
	"POST /beds/:id/plantings": func(s *harness) (string, url.Values) {
		return fmt.Sprintf("/beds/%d/plantings", s.bed("Kale and roots").Bed.ID), url.Values{"crop": {"carrot"}, "sown": {"2027-04-20"}}
	},
	"POST /plantings/:id/clear": func(s *harness) (string, url.Values) {
		p := s.record(s.bed("Kale and roots").Bed.ID).Plantings[0]
		return fmt.Sprintf("/plantings/%d/clear", p.ID), url.Values{"version": {vers(p.Version)}, "cleared": {"2026-11-20"}}
	},
	"POST /beds/:id/applications": func(s *harness) (string, url.Values) {
		return fmt.Sprintf("/beds/%d/applications", s.bed("Top lawn").Bed.ID), url.Values{"what": {"gypsum"},
			"put_date": {"2026-11-01"}, "put_amount": {"1"}}
	},
	"POST /bucket/:id": func(*harness) (string, url.Values) { return "/bucket/2", url.Values{"what": {"b4"}} },
	"POST /shed/csv": func(*harness) (string, url.Values) {
		return "/shed/csv", url.Values{"csv": {"name,kind,left_kg,source\nStove ash,wood-ash-hardwood,4,clean\nGypsum,gypsum,3,"}}
	},
	"POST /dose/many": func(s *harness) (string, url.Values) {
		return "/dose/many", url.Values{"bed": {"2", vers(s.bed("Lower ledge").Bed.ID)}, "with": {"b4"}}
	},
	"POST /beds/:id/mix": func(*harness) (string, url.Values) {
		return "/beds/2/mix", url.Values{"target": {"6.4"}, "ash_of": {"b1"}, "ash_on": {"2.2"}, "lime_of": {"b4"}, "lime_on": {"1.1"}}
	},
	"POST /shed": func(*harness) (string, url.Values) { return "/shed", ashForm("Stove ash", "clean") },
	"POST /shed/:id": func(s *harness) (string, url.Values) {
		form := filled(s.get("/shed/2").Body.String())
		form.Set("name", "Pellet ash")
		form.Set("vinegar", "100 104 96")
		return "/shed/2", form
	},
	"POST /shed/:id/move": func(*harness) (string, url.Values) {
		return "/shed/1/move", url.Values{"moved": {"38,5"}, "moved_kind": {"weighed"}, "moved_on": {"2026-11-24"}}
	},
	"POST /shed/:id/drop": func(s *harness) (string, url.Values) {
		return "/shed/6/drop", url.Values{"version": {"1"}}
	},
	"POST /days": func(s *harness) (string, url.Values) {
		return "/days", url.Values{"version": {filled(s.get("/days").Body.String()).Get("version")}, "day": {"6", "0"},
			"from": {"2026-12-20"}, "to": {"2027-01-03"}}
	},
	"POST /sheet/wait": func(s *harness) (string, url.Values) {
		return "/sheet/wait", url.Values{"to": {"2026-11-28"}}
	},
	"POST /log": func(s *harness) (string, url.Values) {
		return "/log", url.Values{"bed": {vers(s.bed("Top lawn").Bed.ID)}, "what": {"leaves"}, "put_date": {"2026-11-02"},
			"put_amount": {"1,5"}, "measure": {"barrows"}}
	},
	"POST /log/:id": func(s *harness) (string, url.Values) {
		a := s.record(s.bed("Lower ledge").Bed.ID).Applications[1]
		return fmt.Sprintf("/log/%d", a.ID), url.Values{"version": {vers(a.Version)}, "put_date": {"2024-11-24"}, "put_amount": {"1.2"},
			"put_note": {"Weighed again."}}
	},
	"POST /log/:id/remove": func(s *harness) (string, url.Values) {
		a := s.record(s.bed("Lower ledge").Bed.ID).Applications[1]
		return fmt.Sprintf("/log/%d/remove", a.ID), url.Values{"version": {vers(a.Version)}}
	},
	"POST /log/csv": func(*harness) (string, url.Values) {
		return "/log/csv", url.Values{"csv": {"date,bed,material,amount_kg\n2019-10-05,Upper ledge,calcitic-lime,3\n"}}
	},
	"POST /tasks/:id/move": func(s *harness) (string, url.Values) {
		t := s.open(garden.TaskApplication)
		return fmt.Sprintf("/tasks/%d/move", t.ID), url.Values{"version": {vers(t.Version)}, "to": {"2026-12-08"}}
	},
	"POST /shed/share": func(*harness) (string, url.Values) { return "/shed/share", url.Values{} },
	"POST /shed/mix": func(*harness) (string, url.Values) {
		return "/shed/mix", url.Values{"bin": {"1", "2"}, "name": {"All of it"}}
	},
	"POST /marks": func(*harness) (string, url.Values) {
		return "/marks", url.Values{"name": {"New path"}, "kind": {"path"}, "width": {"0.8"}, "corners": {"1 1\n4 1"}}
	},
	"POST /marks/:id": func(s *harness) (string, url.Values) {
		v, err := s.app.BedState.View(context.Background(), s.today)
		require.NoError(s.t, err)
		return fmt.Sprintf("/marks/%d", v.Marks[0].ID), url.Values{"name": {"Other path"}, "kind": {"wall"}, "width": {"0.3"},
			"corners": {"1 1\n4 1"}, "version": {vers(v.Marks[0].Version)}}
	},
	"POST /marks/:id/drop": func(s *harness) (string, url.Values) {
		v, err := s.app.BedState.View(context.Background(), s.today)
		require.NoError(s.t, err)
		return fmt.Sprintf("/marks/%d/drop", v.Marks[0].ID), url.Values{"version": {vers(v.Marks[0].Version)}}
	},
	"POST /crops": func(*harness) (string, url.Values) {
		return "/crops", url.Values{"name": {"Moon cabbage"}, "low": {"6.5"}, "high": {"7.2"}, "aim": {"6.8"}, "removal": {"12"}}
	},
	"POST /crops/drop": func(s *harness) (string, url.Values) {
		s.saved(s.post("/crops", url.Values{"name": {"Sun cabbage"}, "low": {"6.5"}, "high": {"7.2"}, "aim": {"6.8"}, "removal": {"12"},
			"key": {fmt.Sprint("sun", s.last().ID)}}))
		return "/crops/drop", url.Values{"code": {"sun-cabbage"}, "version": {"1"}}
	},
	"POST /place": func(s *harness) (string, url.Values) {
		return "/place", s.placeForm("name", "Lower Hollin", "climate", "continental", "act", "middle")
	},
	"POST /beds/:id/plan": func(s *harness) (string, url.Values) {
		id := s.bed("Middle ledge").Bed.ID
		return fmt.Sprintf("/beds/%d/plan", id), s.planForm(id)
	},
	"POST /walk": func(s *harness) (string, url.Values) {
		return "/walk", url.Values{"asked": {"1"}, "bed": {vers(s.bed("Top lawn").Bed.ID), vers(s.bed("Middle ledge").Bed.ID)},
			"layered": {"yes"}}
	},
	"POST /walk/:id/tick": func(s *harness) (string, url.Values) {
		round, stop := s.walked()
		return fmt.Sprintf("/walk/%d/tick", round), url.Values{"stop": {stop}, "core": {"1"}}
	},
	"POST /walk/:id/note": func(s *harness) (string, url.Values) {
		round, stop := s.walked()
		return fmt.Sprintf("/walk/%d/note", round), url.Values{"stop": {stop}, "note": {"A wet corner."}}
	},
	"POST /samples/:id": func(s *harness) (string, url.Values) {
		round, _ := s.walked()
		w, err := s.app.Rounds.Walk(context.Background(), round)
		require.NoError(s.t, err)
		return fmt.Sprintf("/samples/%d", w.Samples[0].ID), url.Values{"version": {vers(w.Samples[0].Version)}, "state": {"at-lab"},
			"back": {"/walk"}}
	},
	"POST /bench/lab/:id": func(s *harness) (string, url.Values) {
		report, err := os.ReadFile("../static/lab-report.csv")
		require.NoError(s.t, err)
		path := s.upload("/bench/lab", "file", "report.csv", report).Header().Get("Location")
		page := s.get(path).Body.String()
		return path, filled(page[strings.Index(page, `id="lab-form"`):])
	},
	"POST /readings": func(s *harness) (string, url.Values) {
		return "/readings", url.Values{"bed": {vers(s.bed("Middle ledge").Bed.ID)}, "date": {"2026-11-20"}, "method": {"lab"},
			"basis": {"water"}, "ph": {"5.9"}, "cores": {"12"}, "depth": {"15"}, "k": {"120"}}
	},
	"POST /readings/:id": func(s *harness) (string, url.Values) {
		id := s.bed("Middle ledge").Bed.ID
		rs := s.record(id).Readings
		r := rs[len(rs)-1]
		return fmt.Sprintf("/readings/%d", r.ID), url.Values{"bed": {vers(id)}, "version": {vers(r.Version)}, "date": {r.Date.String()},
			"method": {"lab"}, "basis": {"water"}, "ph": {"5.8"}, "cores": {"12"}, "depth": {"15"}}
	},
	"POST /readings/:id/strike": func(s *harness) (string, url.Values) {
		rs := s.record(s.bed("Middle ledge").Bed.ID).Readings
		r := rs[len(rs)-1]
		return fmt.Sprintf("/readings/%d/strike", r.ID), url.Values{"version": {vers(r.Version)}, "why": {"The wrong bed."}, "back": {"/"}}
	},
	"POST /tasks/:id/put-on": func(s *harness) (string, url.Values) {
		t := s.open(garden.TaskApplication)
		return fmt.Sprintf("/tasks/%d/put-on", t.ID), url.Values{"version": {vers(t.Version)}, "planned": {"yes"}, "note": {"Calm."}}
	},
	"POST /tasks/:id/skip": func(s *harness) (string, url.Values) {
		t := s.open(garden.TaskRetest)
		return fmt.Sprintf("/tasks/%d/skip", t.ID), url.Values{"version": {vers(t.Version)}, "why": {"Frost."}}
	},
}

func seenPath(bed int64) string { return fmt.Sprintf("/beds/%d/seen", bed) }

// TestEveryChangeIsTakenBackToTheByte posts to every route that changes something,
// takes it back, and holds the archive against what it was. A route that is in none
// of the lists fails.
func TestEveryChangeIsTakenBackToTheByte(t *testing.T) {
	elsewhere := map[string]bool{"POST /import": true, "POST /import/plan": true}
	for _, route := range server.Routes() {
		if !strings.HasPrefix(route, "POST ") || noChange[route] != "" || elsewhere[route] {
			continue
		}
		t.Run(route, func(t *testing.T) {
			make := changes[route]
			require.NotNil(t, make, "no change of this route is tried")
			s := newSite(t, true, under(gale))
			path, form := make(s)
			form.Set("key", "the change")
			before, line := s.records(), s.last().ID
			w := s.post(path, form)
			if form2 := hidden(w.Body.String(), "sure"); w.Code == http.StatusUnprocessableEntity && form2 != "" {
				form.Set("sure", form2)
				w = s.post(path, form)
			}
			require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
			if strings.HasPrefix(path, "/bench/lab/") {
				s.settled(path)
			}
			require.NotEqual(t, before, s.records(), "it changes something")
			require.Greater(t, s.last().ID, line)
			s.saved(s.post("/undo/"+vers(s.last().ID), url.Values{"key": {"back"}}))
			assert.Equal(t, before, s.records())
			// And done again, and taken back again.
			s.saved(s.post("/undo/"+vers(s.last().ID), url.Values{"key": {"again"}}))
			require.NotEqual(t, before, s.records())
			s.saved(s.post("/undo/"+vers(s.last().ID), url.Values{"key": {"back again"}}))
			assert.Equal(t, before, s.records())
		})
	}
}

func TestFilesThatComeInAreTakenBackToTheByte(t *testing.T) {
	demo := newSite(t, true, under(gale))
	plan, whole := demo.get("/export/plan.geojson").Body.Bytes(), demo.get("/export/garden.json").Body.Bytes()
	s := newSite(t, false)
	for path, file := range map[string]struct {
		field string
		data  []byte
	}{"/import/plan": {"plan", plan}, "/import": {"archive", whole}} {
		before := s.records()
		var w *httptest.ResponseRecorder = s.upload(path, file.field, "file.json", file.data)
		s.saved(w)
		require.NotEqual(t, before, s.records(), path)
		s.saved(s.post("/undo/"+vers(s.last().ID), url.Values{"key": {"back" + path}}))
		assert.Equal(t, before, s.records(), path)
	}
}

// warm notes a soil temperature, and gives it.
func (s *harness) warm(c string) garden.SoilDay {
	s.t.Helper()
	w := s.post("/warmth", url.Values{"soil_c": {c}, "key": {fmt.Sprint("warm", s.last().ID)}})
	require.Equal(s.t, http.StatusSeeOther, w.Code, w.Body.String())
	x, err := s.app.Layout.Soil(context.Background())
	require.NoError(s.t, err)
	return x.Days[0]
}
