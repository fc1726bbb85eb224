package server_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/webtest"
)

// noChange are the posts that change no record of the garden.
var noChange = map[string]string{
	"POST /sign-in": "a session", "POST /sign-out": "a session", "POST /sessions/:id/end": "a session",
	"POST /passphrase": "the passphrase", "POST /diary/address": "a secret",
	"POST /undo/:id": "it is what takes back", "POST /demo/day": "the demo’s clock",
	"POST /keep/put-back": "its way back is the copy that it keeps",
	"POST /bench/lab":     "a file that waits", "POST /walk/:id/report": "a file that waits",
}

// change is one post of a route, made from the demo garden as it stands.
type changing func(*webtest.Client) (path string, form url.Values)

var changes = map[string]changing{
	"POST /beds": func(s *webtest.Client) (string, url.Values) {
		return "/beds", url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1"}, "x": {"1"}, "y": {"40"},
			"texture": {"loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"bean"}, "sown": {"2027-05-20"}}
	},
	"POST /begin": func(s *webtest.Client) (string, url.Values) {
		form := webtest.Filled(s.Get("/begin").Body.String())
		form.Set("hemisphere", "south")
		form.Set("climate", "prairie")
		return "/begin", form
	},
	"POST /begin/bed": func(s *webtest.Client) (string, url.Values) {
		return "/begin/bed", url.Values{"name": {"Bean row"}, "w": {"5"}, "h": {"1"}, "feel": {"worm"}, "depth": {"15"}, "worked": {"dug"},
			"crop": {"bean"}, "when": {"spring"}}
	},
	"POST /begin/reading": func(s *webtest.Client) (string, url.Values) {
		id := s.Bed("New ground").Bed.ID
		return "/begin/reading", url.Values{"bed": {webtest.ID(id)}, "date": {s.Today.String()}, "method": {"kit"}, "basis": {"water"},
			"cores": {"6"}, "depth": {"15"}, "chips": {"5.5"}, "have": {"lime", "ash"}, "clean": {"yes"}}
	},
	"POST /beds/:id/seen": func(s *webtest.Client) (string, url.Values) {
		return seenPath(s.Bed("Kale and roots").Bed.ID), url.Values{"sign": {"clubbed-roots"}, "note": {"by the wall"}}
	},
	"POST /sights/:id/forget": func(s *webtest.Client) (string, url.Values) {
		id := s.Bed("Kale and roots").Bed.ID
		s.Saved(s.Post(seenPath(id), url.Values{"sign": {"clubbed-roots"}, "key": {"seen"}}))
		all, err := s.App.Observation.OfBed(context.Background(), id, s.Today)
		require.NoError(s.T, err)
		return fmt.Sprintf("/sights/%d/forget", all[0].ID), url.Values{"version": {webtest.ID(all[0].Version)}}
	},
	"POST /bench/tour": func(s *webtest.Client) (string, url.Values) {
		a, b := s.Bed("New ground").Bed.ID, s.Bed("Seedling bench").Bed.ID
		return "/bench/tour", url.Values{"method": {"probe"}, "date": {s.Today.String()}, fmt.Sprint("bed-", a): {"5.6 5.8"},
			fmt.Sprint("bed-", b): {"6.2"}}
	},
	"POST /beds/change": func(s *webtest.Client) (string, url.Values) {
		return "/beds/change", url.Values{"bed": {webtest.ID(s.Bed("Upper ledge").Bed.ID), webtest.ID(s.Bed("Lower ledge").Bed.ID)},
			"do":       {"change"},
			"set_part": {"Ledges"}, "set_depth": {"12"}}
	},
	"POST /beds/table": func(s *webtest.Client) (string, url.Values) {
		return "/beds/table", url.Values{"table": {"name,length_m,width_m\nEast 1,15,0.75\nEast 2,15,0.75"}}
	},
	"POST /beds/:id": func(s *webtest.Client) (string, url.Values) {
		path := fmt.Sprintf("/beds/%d", s.Bed("Top lawn").Bed.ID)
		page := s.Get(path + "/edit").Body.String()
		form := webtest.Filled(page[strings.Index(page, `id="bed-form"`):])
		form.Set("name", "Upper lawn")
		form.Set("depth", "12")
		return path, form
	},
	"POST /beds/:id/turn": func(s *webtest.Client) (string, url.Values) {
		return webtest.PreparationPath(s.Bed("Kale and roots").Bed.ID), url.Values{}
	},
	"POST /tasks/:id/done": func(s *webtest.Client) (string, url.Values) {
		step := s.Preparation().Steps[0]
		return fmt.Sprintf("/tasks/%d/done", step.ID), url.Values{"version": {webtest.ID(step.Version)}}
	},
	"POST /turnings/:id/drop": func(s *webtest.Client) (string, url.Values) {
		x := s.Preparation()
		return fmt.Sprintf("/turnings/%d/drop", x.ID), url.Values{"version": {webtest.ID(x.Version)}}
	},
	"POST /turnings/:id/keep": func(s *webtest.Client) (string, url.Values) {
		return fmt.Sprintf("/turnings/%d/keep", s.Preparation().ID), url.Values{"name": {"Ours"}}
	},
	"POST /turnings/:id/steps": func(s *webtest.Client) (string, url.Values) {
		x := s.Preparation()
		return fmt.Sprintf("/turnings/%d/steps", x.ID), url.Values{"after": {webtest.ID(x.Steps[0].ID)}, "says": {"Lay boards"}, "wait": {"2"}}
	},
	"POST /beds/:id/side": func(s *webtest.Client) (string, url.Values) {
		id := s.Bed("Middle ledge").Bed.ID
		s.Saved(s.Post(fmt.Sprintf("/beds/%d/plantings", id), url.Values{"crop": {"cucumber"}, "sown": {"2026-05-20"},
			"key": {fmt.Sprint("stands", s.LastLine().ID)}}))
		return fmt.Sprintf("/beds/%d/side", id), url.Values{"plants": {"5"}, "across": {"80"}}
	},
	"POST /years": func(s *webtest.Client) (string, url.Values) {
		return "/years", url.Values{"bed": {webtest.ID(s.Bed("Kale and roots").Bed.ID)}, "crop": {"potato"}, "sown": {"2028-04-10"}}
	},
	"POST /warmth": func(s *webtest.Client) (string, url.Values) { return "/warmth", url.Values{"soil_c": {"6,5"}} },
	"POST /warmth/take": func(s *webtest.Client) (string, url.Values) {
		return "/warmth/take", url.Values{"csv": {"date,soil_f,rain_mm\n2026-11-20,44.6,3\n2026-11-21,,0\n2026-12-20,40,0\n"}}
	},
	"POST /warmth/:id/out": func(s *webtest.Client) (string, url.Values) {
		x := s.Warm("7")
		return fmt.Sprintf("/warmth/%d/out", x.ID), url.Values{"version": {webtest.ID(x.Version)}}
	},
	"POST /beds/:id/retire": func(s *webtest.Client) (string, url.Values) {
		b := s.Bed("Kale and roots").Bed
		return fmt.Sprintf("/beds/%d/retire", b.ID), url.Values{"version": {webtest.ID(b.Version)}}
	},
	"POST /beds/:id/learned": func(s *webtest.Client) (string, url.Values) {
		b := s.Bed("Kale and roots").Bed
		return fmt.Sprintf("/beds/%d/learned", b.ID), url.Values{"version": {webtest.ID(b.Version)}, "from": {"today"}}
	},
	"POST /beds/:id/duplicate": func(s *webtest.Client) (string, url.Values) {
		return fmt.Sprintf("/beds/%d/duplicate", s.Bed("Kale and roots").Bed.ID), url.Values{}
	},
	"POST /beds/:id/plantings": func(s *webtest.Client) (string, url.Values) {
		return fmt.Sprintf("/beds/%d/plantings", s.Bed("Kale and roots").Bed.ID), url.Values{"crop": {"carrot"}, "sown": {"2027-04-20"}}
	},
	"POST /plantings/:id/clear": func(s *webtest.Client) (string, url.Values) {
		p := s.Record(s.Bed("Kale and roots").Bed.ID).Plantings[0]
		return fmt.Sprintf("/plantings/%d/clear", p.ID), url.Values{"version": {webtest.ID(p.Version)}, "cleared": {"2026-11-20"}}
	},
	"POST /beds/:id/applications": func(s *webtest.Client) (string, url.Values) {
		return fmt.Sprintf("/beds/%d/applications", s.Bed("Top lawn").Bed.ID), url.Values{"what": {"gypsum"},
			"put_date": {"2026-11-01"}, "put_amount": {"1"}}
	},
	"POST /bucket/:id": func(*webtest.Client) (string, url.Values) { return "/bucket/2", url.Values{"what": {"b4"}} },
	"POST /shed/csv": func(*webtest.Client) (string, url.Values) {
		return "/shed/csv", url.Values{"csv": {"name,kind,left_kg,source\nStove ash,wood-ash-hardwood,4,clean\nGypsum,gypsum,3,"}}
	},
	"POST /dose/many": func(s *webtest.Client) (string, url.Values) {
		return "/dose/many", url.Values{"bed": {"2", webtest.ID(s.Bed("Lower ledge").Bed.ID)}, "with": {"b4"}}
	},
	"POST /beds/:id/mix": func(*webtest.Client) (string, url.Values) {
		return "/beds/2/mix", url.Values{"target": {"6.4"}, "ash_of": {"b1"}, "ash_on": {"2.2"}, "lime_of": {"b4"}, "lime_on": {"1.1"}}
	},
	"POST /shed": func(*webtest.Client) (string, url.Values) { return "/shed", webtest.AshForm("Stove ash", "clean") },
	"POST /shed/:id": func(s *webtest.Client) (string, url.Values) {
		form := webtest.Filled(s.Get("/shed/2").Body.String())
		form.Set("name", "Pellet ash")
		form.Set("vinegar", "100 104 96")
		return "/shed/2", form
	},
	"POST /shed/:id/move": func(*webtest.Client) (string, url.Values) {
		return "/shed/1/move", url.Values{"moved": {"38,5"}, "moved_kind": {"weighed"}, "moved_on": {"2026-11-24"}}
	},
	"POST /shed/:id/drop": func(s *webtest.Client) (string, url.Values) {
		return "/shed/6/drop", url.Values{"version": {"1"}}
	},
	"POST /days": func(s *webtest.Client) (string, url.Values) {
		return "/days", url.Values{"version": {webtest.Filled(s.Get("/days").Body.String()).Get("version")}, "day": {"6", "0"},
			"from": {"2026-12-20"}, "to": {"2027-01-03"}}
	},
	"POST /sheet/wait": func(s *webtest.Client) (string, url.Values) {
		return "/sheet/wait", url.Values{"to": {"2026-11-28"}}
	},
	"POST /log": func(s *webtest.Client) (string, url.Values) {
		return "/log", url.Values{"bed": {webtest.ID(s.Bed("Top lawn").Bed.ID)}, "what": {"leaves"}, "put_date": {"2026-11-02"},
			"put_amount": {"1,5"}, "measure": {"barrows"}}
	},
	"POST /log/:id": func(s *webtest.Client) (string, url.Values) {
		a := s.Record(s.Bed("Lower ledge").Bed.ID).Applications[1]
		return fmt.Sprintf("/log/%d", a.ID), url.Values{"version": {webtest.ID(a.Version)}, "put_date": {"2024-11-24"}, "put_amount": {"1.2"},
			"put_note": {"Weighed again."}}
	},
	"POST /log/:id/remove": func(s *webtest.Client) (string, url.Values) {
		a := s.Record(s.Bed("Lower ledge").Bed.ID).Applications[1]
		return fmt.Sprintf("/log/%d/remove", a.ID), url.Values{"version": {webtest.ID(a.Version)}}
	},
	"POST /log/csv": func(*webtest.Client) (string, url.Values) {
		return "/log/csv", url.Values{"csv": {"date,bed,material,amount_kg\n2019-10-05,Upper ledge,calcitic-lime,3\n"}}
	},
	"POST /tasks/:id/move": func(s *webtest.Client) (string, url.Values) {
		t := s.OpenTask(garden.TaskApplication)
		return fmt.Sprintf("/tasks/%d/move", t.ID), url.Values{"version": {webtest.ID(t.Version)}, "to": {"2026-12-08"}}
	},
	"POST /shed/share": func(*webtest.Client) (string, url.Values) { return "/shed/share", url.Values{} },
	"POST /shed/mix": func(*webtest.Client) (string, url.Values) {
		return "/shed/mix", url.Values{"bin": {"1", "2"}, "name": {"All of it"}}
	},
	"POST /marks": func(*webtest.Client) (string, url.Values) {
		return "/marks", url.Values{"name": {"New path"}, "kind": {"path"}, "width": {"0.8"}, "corners": {"1 1\n4 1"}}
	},
	"POST /marks/:id": func(s *webtest.Client) (string, url.Values) {
		v, err := s.App.BedState.View(context.Background(), s.Today)
		require.NoError(s.T, err)
		return fmt.Sprintf("/marks/%d", v.Marks[0].ID), url.Values{"name": {"Other path"}, "kind": {"wall"}, "width": {"0.3"},
			"corners": {"1 1\n4 1"}, "version": {webtest.ID(v.Marks[0].Version)}}
	},
	"POST /marks/:id/drop": func(s *webtest.Client) (string, url.Values) {
		v, err := s.App.BedState.View(context.Background(), s.Today)
		require.NoError(s.T, err)
		return fmt.Sprintf("/marks/%d/drop", v.Marks[0].ID), url.Values{"version": {webtest.ID(v.Marks[0].Version)}}
	},
	"POST /crops": func(*webtest.Client) (string, url.Values) {
		return "/crops", url.Values{"name": {"Moon cabbage"}, "low": {"6.5"}, "high": {"7.2"}, "aim": {"6.8"}, "removal": {"12"}}
	},
	"POST /crops/drop": func(s *webtest.Client) (string, url.Values) {
		s.Saved(s.Post("/crops", url.Values{"name": {"Sun cabbage"}, "low": {"6.5"}, "high": {"7.2"}, "aim": {"6.8"}, "removal": {"12"},
			"key": {fmt.Sprint("sun", s.LastLine().ID)}}))
		return "/crops/drop", url.Values{"code": {"sun-cabbage"}, "version": {"1"}}
	},
	"POST /place": func(s *webtest.Client) (string, url.Values) {
		return "/place", s.PlaceForm("name", "Lower Hollin", "climate", "continental", "act", "middle")
	},
	"POST /beds/:id/plan": func(s *webtest.Client) (string, url.Values) {
		id := s.Bed("Middle ledge").Bed.ID
		return fmt.Sprintf("/beds/%d/plan", id), s.PlanForm(id)
	},
	"POST /walk": func(s *webtest.Client) (string, url.Values) {
		return "/walk", url.Values{"asked": {"1"}, "bed": {webtest.ID(s.Bed("Top lawn").Bed.ID), webtest.ID(s.Bed("Middle ledge").Bed.ID)},
			"layered": {"yes"}}
	},
	"POST /walk/:id/tick": func(s *webtest.Client) (string, url.Values) {
		round, stop := s.Walked()
		return fmt.Sprintf("/walk/%d/tick", round), url.Values{"stop": {stop}, "core": {"1"}}
	},
	"POST /walk/:id/note": func(s *webtest.Client) (string, url.Values) {
		round, stop := s.Walked()
		return fmt.Sprintf("/walk/%d/note", round), url.Values{"stop": {stop}, "note": {"A wet corner."}}
	},
	"POST /samples/:id": func(s *webtest.Client) (string, url.Values) {
		round, _ := s.Walked()
		w, err := s.App.Rounds.Walk(context.Background(), round)
		require.NoError(s.T, err)
		return fmt.Sprintf("/samples/%d", w.Samples[0].ID), url.Values{"version": {webtest.ID(w.Samples[0].Version)}, "state": {"at-lab"},
			"back": {"/walk"}}
	},
	"POST /bench/lab/:id": func(s *webtest.Client) (string, url.Values) {
		report, err := os.ReadFile("../static/lab-report.csv")
		require.NoError(s.T, err)
		path := s.Upload("/bench/lab", "file", "report.csv", report).Header().Get("Location")
		page := s.Get(path).Body.String()
		return path, webtest.Filled(page[strings.Index(page, `id="lab-form"`):])
	},
	"POST /readings": func(s *webtest.Client) (string, url.Values) {
		return "/readings", url.Values{"bed": {webtest.ID(s.Bed("Middle ledge").Bed.ID)}, "date": {"2026-11-20"}, "method": {"lab"},
			"basis": {"water"}, "ph": {"5.9"}, "cores": {"12"}, "depth": {"15"}, "k": {"120"}}
	},
	"POST /readings/:id": func(s *webtest.Client) (string, url.Values) {
		id := s.Bed("Middle ledge").Bed.ID
		rs := s.Record(id).Readings
		r := rs[len(rs)-1]
		return fmt.Sprintf("/readings/%d", r.ID), url.Values{"bed": {webtest.ID(id)}, "version": {webtest.ID(r.Version)},
			"date":   {r.Date.String()},
			"method": {"lab"}, "basis": {"water"}, "ph": {"5.8"}, "cores": {"12"}, "depth": {"15"}}
	},
	"POST /readings/:id/strike": func(s *webtest.Client) (string, url.Values) {
		rs := s.Record(s.Bed("Middle ledge").Bed.ID).Readings
		r := rs[len(rs)-1]
		return fmt.Sprintf("/readings/%d/strike", r.ID), url.Values{"version": {webtest.ID(r.Version)}, "why": {"The wrong bed."}, "back": {"/"}}
	},
	"POST /tasks/:id/put-on": func(s *webtest.Client) (string, url.Values) {
		t := s.OpenTask(garden.TaskApplication)
		return fmt.Sprintf("/tasks/%d/put-on", t.ID), url.Values{"version": {webtest.ID(t.Version)}, "planned": {"yes"}, "note": {"Calm."}}
	},
	"POST /tasks/:id/skip": func(s *webtest.Client) (string, url.Values) {
		t := s.OpenTask(garden.TaskRetest)
		return fmt.Sprintf("/tasks/%d/skip", t.ID), url.Values{"version": {webtest.ID(t.Version)}, "why": {"Frost."}}
	},
}

func seenPath(bed int64) string { return fmt.Sprintf("/beds/%d/seen", bed) }

// TestUndoRestoresEveryByte posts to every route that changes something, undoes it, and compares
// the archives. A route in none of the lists fails.
func TestUndoRestoresEveryByte(t *testing.T) {
	elsewhere := map[string]bool{"POST /import": true, "POST /import/plan": true}
	for _, route := range server.Routes() {
		if !strings.HasPrefix(route, "POST ") || noChange[route] != "" || elsewhere[route] {
			continue
		}
		t.Run(route, func(t *testing.T) {
			t.Parallel()
			make := changes[route]
			require.NotNil(t, make, "no change of this route is tried")
			s := webtest.New(t, true, webtest.Under(webtest.Gale))
			path, form := make(s)
			form.Set("key", "the change")
			before, line := s.Records(), s.LastLine().ID
			w := s.Post(path, form)
			if form2 := webtest.Hidden(w.Body.String(), "sure"); w.Code == http.StatusUnprocessableEntity && form2 != "" {
				form.Set("sure", form2)
				w = s.Post(path, form)
			}
			require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
			if strings.HasPrefix(path, "/bench/lab/") {
				s.Settled(path)
			}
			require.NotEqual(t, before, s.Records(), "it changes something")
			require.Greater(t, s.LastLine().ID, line)
			s.Saved(s.Post("/undo/"+webtest.ID(s.LastLine().ID), url.Values{"key": {"back"}}))
			assert.Equal(t, before, s.Records())
			// And done again, and taken back again.
			s.Saved(s.Post("/undo/"+webtest.ID(s.LastLine().ID), url.Values{"key": {"again"}}))
			require.NotEqual(t, before, s.Records())
			s.Saved(s.Post("/undo/"+webtest.ID(s.LastLine().ID), url.Values{"key": {"back again"}}))
			assert.Equal(t, before, s.Records())
		})
	}
}

func TestUndoOfImportsRestoresEveryByte(t *testing.T) {
	demo := webtest.New(t, true, webtest.Under(webtest.Gale))
	plan, whole := demo.Get("/export/plan.geojson").Body.Bytes(), demo.Get("/export/garden.json").Body.Bytes()
	s := webtest.New(t, false)
	for path, file := range map[string]struct {
		field string
		data  []byte
	}{"/import/plan": {"plan", plan}, "/import": {"archive", whole}} {
		before := s.Records()
		var w *httptest.ResponseRecorder = s.Upload(path, file.field, "file.json", file.data)
		s.Saved(w)
		require.NotEqual(t, before, s.Records(), path)
		s.Saved(s.Post("/undo/"+webtest.ID(s.LastLine().ID), url.Values{"key": {"back" + path}}))
		assert.Equal(t, before, s.Records(), path)
	}
}
