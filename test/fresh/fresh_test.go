// Package fresh holds a running program against a fresh one on the same file: whatever was changed, in whatever order and
// with whatever looked at meanwhile, no page shows what no longer holds.
package fresh

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// lookEvery is how many changes go by between two comparisons of all pages; after each change a few are compared.
const (
	lookEvery = 100
	fewPages  = 4
)

func TestNoPageIsStale(t *testing.T) {
	changes, err := strconv.Atoi(os.Getenv("CHANGES"))
	if err != nil {
		t.Skip("CHANGES says how many changes are made: make agree, make fresh")
	}
	seed := uint64(36)
	if n, err := strconv.ParseUint(os.Getenv("SEED"), 10, 64); err == nil {
		seed = n
	}
	s := webtest.New(t, true)
	r := &run{t: t, s: s, rng: rand.New(rand.NewPCG(seed, 1)), done: map[string]int{}}
	r.pages = addresses(r)
	stop := r.readers()
	for n := range changes {
		r.last = r.change(n)
		all := r.pages
		if n%lookEvery != lookEvery-1 && n != changes-1 {
			all = nil
			for range fewPages {
				all = append(all, r.pages[r.rng.IntN(len(r.pages))])
			}
		}
		if !r.compare(n, all) {
			break
		}
	}
	stop()
	t.Log(r.done)
	if changes > 1000 {
		for _, of := range garden.Tables {
			if of.Name != garden.JournalTable {
				assert.Positive(t, r.done[of.Name], "%s were changed too", of.Name)
			}
		}
	}
}

type run struct {
	t     *testing.T
	s     *webtest.Client
	rng   *rand.Rand
	pages []string
	// done counts the changes by table, last is the last one in words.
	done map[string]int
	last string
}

// ofBed are the pages of a bed besides its record.
const ofBed = "/dose /dose?on=2026-09-01 /dose?on=2026-11-01 ?on=2026-09-01 /try /learned /turn /side /mix /seen"

// addresses are the pages that are compared.
func addresses(r *run) []string {
	out := strings.Fields("/ /beds /walk /bench /bench/tour /dose/many /shed /shed/share /bucket /sheet /seasons /seasons/report /years " +
		"/log /warmth /days /crops /place /marks /keep /export/beds.csv /export/plan.geojson /export/log.csv /export/readings.csv " +
		"/export/season.csv /export/shelf.csv /sheet?on=2026-10-15 /?on=2026-06-01 /?on=2027-05-01 /walk?on=2026-09-01 " +
		"/walk?on=2027-03-01 /shed/share?on=2026-09-01 /bucket?on=2026-10-01 /seasons/report?season=2026")
	beds, err := r.s.App.BedState.View(context.Background(), r.s.Today)
	require.NoError(r.t, err)
	for _, b := range beds.Beds {
		at := fmt.Sprintf("/beds/%d", b.Bed.ID)
		for _, page := range append(strings.Fields(ofBed), "") {
			out = append(out, at+page)
		}
		out = append(out, fmt.Sprintf("/?bed=%d", b.Bed.ID), fmt.Sprintf("/seasons?bed=%d", b.Bed.ID))
	}
	return out
}

// readers look at pages all the while, as phones do; the function that is returned ends them.
func (r *run) readers() (stop func()) {
	done := make(chan bool)
	var wait sync.WaitGroup
	for i := range 2 {
		rng := rand.New(rand.NewPCG(7, uint64(i)))
		wait.Go(func() {
			for {
				select {
				case <-done:
					return
				default:
					get(r.s.Handler, r.pages[rng.IntN(len(r.pages))])
				}
			}
		})
	}
	return func() { close(done); wait.Wait() }
}

func get(h http.Handler, path string) *httptest.ResponseRecorder {
	w := httptest.NewRecorder()
	h.ServeHTTP(w, httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil))
	return w
}

// anew serves the same file by a process that knows nothing yet.
func (r *run) anew() (h http.Handler, end func()) {
	st, err := store.Open(context.Background(), r.s.Store.Path())
	require.NoError(r.t, err)
	clock := site.NewDemoClock(r.s.Today)
	jobs := webtest.Runner(r.t, st)
	h, err = server.New(site.Config{Store: st, Gate: st, Labs: st, Jobs: jobs, Clock: clock, Demo: clock, Hosts: []string{"localhost"},
		Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	require.NoError(r.t, err)
	return h, func() { jobs.Stop(); require.NoError(r.t, st.Close()) }
}

// key matches what is made anew for each page.
var key = regexp.MustCompile(`name="key" value="[^"]*"|said=\d+`)

// compare holds pages of the running program against those of a fresh one.
func (r *run) compare(n int, pages []string) bool {
	h, end := r.anew()
	defer end()
	for _, p := range pages {
		is, want := get(r.s.Handler, p), get(h, p)
		require.Less(r.t, is.Code, 500, "%s after %d: %s", p, n, r.last)
		a, b := key.ReplaceAllString(is.Body.String(), ""), key.ReplaceAllString(want.Body.String(), "")
		if is.Code != want.Code || a != b {
			assert.Failf(r.t, "a stale page", "%s, %d to %d, after change %d: %s\n%s", p, is.Code, want.Code, n, r.last, firstDifference(a, b))
			return false
		}
	}
	return true
}

func firstDifference(a, b string) string {
	x, y := strings.Split(a, "\n"), strings.Split(b, "\n")
	for i := range min(len(x), len(y)) {
		if x[i] != y[i] {
			return fmt.Sprintf("line %d\n  has  %.300s\n  not  %.300s", i, strings.TrimSpace(x[i]), strings.TrimSpace(y[i]))
		}
	}
	return "one is longer"
}

// change changes one record at random, or takes a change back, or moves many soil temperatures at once.
func (r *run) change(n int) string {
	ctx := context.Background()
	for {
		c := garden.Change{Who: "test", At: time.Date(2026, 11, 23, 9, 0, n%60, 0, time.UTC)}
		switch r.rng.IntN(12) {
		case 0:
			if what := r.undo(ctx, c); what != "" {
				return what
			}
			continue
		case 1:
			return r.warmer(ctx, c)
		}
		tables := slices.DeleteFunc(slices.Clone(garden.Tables), func(t garden.Table) bool { return t.Name == garden.JournalTable })
		of := tables[r.rng.IntN(len(tables))]
		what := ""
		_, err := r.s.Store.Change(ctx, c, func(tx garden.Tx) (_ string, err error) {
			what, err = r.alter(tx, of)
			return what, err
		})
		if err == nil {
			r.done[of.Name]++
			return what
		}
	}
}

// errNone is returned where there is nothing to change.
var errNone = fmt.Errorf("nothing to change")

// alter updates, deletes or doubles one record of a table.
func (r *run) alter(tx garden.Tx, of garden.Table) (string, error) {
	rec, err := r.pick(tx, of)
	if err != nil {
		return "", err
	}
	what := ""
	switch k := r.rng.IntN(10); {
	case k == 0 && of.Name != "garden":
		return fmt.Sprintf("deleted %s %d", of.One, rec.Head().ID), tx.Delete(rec)
	case k == 1 && of.Name != "garden":
		rec.Head().ID = 0
		what = r.nudge(rec)
		if err := garden.CheckRecord(rec); err != nil {
			return "", err
		}
		return fmt.Sprintf("another %s, %s", of.One, what), tx.Insert(rec)
	}
	what = r.nudge(rec)
	if err := garden.CheckRecord(rec); err != nil {
		return "", err
	}
	return fmt.Sprintf("%s %d, %s", of.One, rec.Head().ID, what), tx.Update(rec)
}

// pick reads a record at random.
func (r *run) pick(tx garden.Reader, of garden.Table) (garden.Record, error) {
	kind := of.New()
	list := reflect.New(reflect.SliceOf(reflect.TypeOf(kind).Elem()))
	if of.Name == "garden" {
		g, err := tx.Garden()
		return &g, err
	}
	if err := tx.List(kind, "", nil, list.Interface()); err != nil {
		return nil, err
	}
	n := list.Elem().Len()
	if n == 0 {
		return nil, errNone
	}
	return list.Elem().Index(r.rng.IntN(n)).Addr().Interface().(garden.Record), nil
}

// nudge changes one field of a record a little.
func (r *run) nudge(rec garden.Record) string {
	v := reflect.ValueOf(rec).Elem()
	for {
		f := v.Type().Field(r.rng.IntN(v.NumField()))
		x := v.FieldByIndex(f.Index)
		if x.Kind() == reflect.Pointer && !x.IsNil() {
			x = x.Elem()
		}
		switch {
		case !x.CanSet() || f.Anonymous || strings.HasSuffix(f.Name, "ID"):
			continue
		case x.Type() == reflect.TypeFor[quantity.Day]():
			if x.Int() != 0 {
				x.SetInt(x.Int() + int64(r.rng.IntN(41)-20))
			}
		case x.CanFloat():
			x.SetFloat(x.Float() * (0.8 + 0.4*r.rng.Float64()))
		case x.CanInt():
			x.SetInt(x.Int() + int64(r.rng.IntN(3)-1))
		case x.Kind() == reflect.Bool:
			x.SetBool(!x.Bool())
		case x.Kind() == reflect.String:
			if f.Name == "Note" || f.Name == "Name" {
				x.SetString(x.String() + "′")
			}
		default:
			continue
		}
		return f.Name
	}
}

// undo takes back one of the last changes.
func (r *run) undo(ctx context.Context, c garden.Change) string {
	var lines []garden.Entry
	require.NoError(r.t, r.s.Store.Read(ctx, func(x garden.Reader) (err error) {
		lines, err = garden.All[garden.Entry](x)
		return err
	}))
	slices.SortFunc(lines, func(a, b garden.Entry) int { return int(b.ID - a.ID) })
	for _, e := range lines[:min(len(lines), 12)] {
		if r.rng.IntN(3) > 0 || !e.CanUndo() {
			continue
		}
		if _, err := r.s.Store.Undo(ctx, c, e.ID); err == nil {
			r.done["undone"]++
			return "taken back: " + e.What
		}
	}
	return ""
}

// warmer moves all measured soil temperatures of two years by up to three degrees.
func (r *run) warmer(ctx context.Context, c garden.Change) string {
	by := quantity.Temperature(6*r.rng.Float64() - 3)
	_, err := r.s.Store.Change(ctx, c, func(tx garden.Tx) (string, error) {
		days, err := garden.All[garden.SoilDay](tx)
		if err != nil {
			return "", err
		}
		known := map[quantity.Day]garden.SoilDay{}
		for _, d := range days {
			known[d.Day] = d
		}
		for day := r.s.Today - 730; day < r.s.Today; day++ {
			d, has := known[day]
			if !has {
				d = garden.SoilDay{Day: day, Soil: 10}
			}
			d.Soil = max(-10, min(35, d.Soil+by))
			if has {
				err = tx.Update(&d)
			} else {
				err = tx.Insert(&d)
			}
			if err != nil {
				return "", err
			}
		}
		return "warmer", nil
	})
	require.NoError(r.t, err)
	r.done["soil days"]++
	return fmt.Sprintf("all soil temperatures by %.1f", float64(by))
}
