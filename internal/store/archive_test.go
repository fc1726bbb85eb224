package store_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"runtime"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

func bringIn(s *store.Store, archive []byte) (garden.Receipt, error) {
	return s.Restore(context.Background(), garden.Change{Who: "gardener", At: noon}, func(put func(garden.Record) error) error {
		return exchange.ReadArchive(bytes.NewReader(archive), put)
	})
}

// recordsOf returns an archive without its journal.
func recordsOf(archive []byte) string {
	before, _, _ := strings.Cut(string(archive), `"journal": [`)
	return before
}

// turned adds a bed that is turned over, and a way of the gardener's own.
func turned(t *testing.T, s *store.Store) {
	t.Helper()
	_, err := s.Change(context.Background(), change(""), func(tx garden.Tx) (string, error) {
		ps, err := garden.All[garden.Planting](tx)
		if err != nil {
			return "", err
		}
		x := garden.Preparation{BedID: ps[0].BedID, PlantingID: ps[0].ID, Template: "vegetable", Made: ps[0].Sown}
		if err := tx.Insert(&x); err != nil {
			return "", err
		}
		step := garden.StepTask(bedprep.Step{ID: bedprep.Own, Wait: 3, Before: 5, Says: "Lay boards to tread on"})
		step.BedID, step.PreparationID, step.Place, step.Due = x.BedID, &x.ID, 10, x.Made
		if err := tx.Insert(&step); err != nil {
			return "", err
		}
		if err := tx.Insert(&garden.SoilDay{Day: x.Made, Soil: 7.5, Source: "station"}); err != nil {
			return "", err
		}
		return "Turned over", tx.Insert(&garden.OwnTemplate{Name: "Ours", Steps: garden.JSON(`[{"id":"clear"},{"id":"plant"}]`)})
	})
	require.NoError(t, err)
}

func TestArchiveRoundTrip(t *testing.T) {
	s := hollin(t)
	// Undo leaves lines in the journal that point at each other.
	_, r := add(t, s, "", "Gone again")
	_, err := s.Undo(context.Background(), change(""), r.Journal)
	require.NoError(t, err)
	turned(t, s)
	first := archive(t, s)
	for _, x := range garden.Tables {
		n := 0
		require.NoError(t, s.Read(context.Background(), func(r garden.Reader) error {
			return r.Each(x.Name, func(garden.Record) error { n++; return nil })
		}))
		assert.NotZero(t, n, "no row in %s", x.Name)
	}
	other := fresh(t)
	_, err = bringIn(other, first)
	require.NoError(t, err)
	second := archive(t, other)
	// The journal comes whole, and has one more line: that it was brought in.
	head, ok := strings.CutSuffix(string(first), "\n]\n}\n")
	require.True(t, ok)
	require.True(t, strings.HasPrefix(string(second), head+",\n"))
	assert.Equal(t, 1, strings.Count(strings.TrimPrefix(string(second), head), `"what"`))
	_, err = bringIn(other, first)
	require.ErrorIs(t, err, garden.ErrNotEmpty)
}

func TestImportIsUndoneAtOnce(t *testing.T) {
	ctx := context.Background()
	from := archive(t, hollin(t))
	s := fresh(t)
	// A garden that was begun and emptied again still has its journal.
	_, r := add(t, s, "", "Begun")
	_, err := s.Undo(ctx, change(""), r.Journal)
	require.NoError(t, err)
	before := archive(t, s)
	in, err := bringIn(s, from)
	require.NoError(t, err)
	assert.Equal(t, strings.Replace(recordsOf(from), `"version":2`, `"version":2`, 1), recordsOf(archive(t, s)))

	_, later := add(t, s, "", "Added since")
	_, err = s.Undo(ctx, change(""), in.Journal)
	var f garden.Faults
	require.ErrorAs(t, err, &f, "what came after it rests on it")
	assert.Contains(t, f[garden.UndoField], "Added Added since")
	_, err = s.Undo(ctx, change(""), later.Journal)
	require.NoError(t, err)

	out, err := s.Undo(ctx, change(""), in.Journal)
	require.NoError(t, err)
	assert.Equal(t, unversioned(recordsOf(before)), unversioned(recordsOf(archive(t, s))))
	_, err = s.Undo(ctx, change(""), out.Journal)
	require.ErrorAs(t, err, &f, "the file is needed to bring it in again")
	_, err = bringIn(s, from)
	require.NoError(t, err)
}

// unversioned takes the versions of records out.
func unversioned(archive string) string {
	lines := strings.Split(archive, "\n")
	for i, l := range lines {
		if at := strings.Index(l, `"version":`); at >= 0 {
			rest := l[at+len(`"version":`):]
			lines[i] = l[:at] + strings.TrimLeft(rest, "0123456789")
		}
	}
	return strings.Join(lines, "\n")
}

// A table that is neither in the archive nor named here as left out fails.
func TestEveryTableIsArchivedOrExcluded(t *testing.T) {
	leftOut := map[string]string{
		"posted": "keys of posts that have landed: of no use elsewhere", "lab_files": "files that wait to be taken in",
		"lab_layouts":  "how labs’ columns were matched",
		"journal_beds": "found anew from the journal", "jobs": "how long work stands", "settings": "the passphrase",
		"sessions": "who is signed in", "goose_db_version": "the file’s own version", "sqlite_sequence": "SQLite’s own",
	}
	s := fresh(t)
	rows, err := raw(t, s.Path()).Query("SELECT name FROM sqlite_master WHERE type='table'")
	require.NoError(t, err)
	defer func() { _ = rows.Close() }()
	n := 0
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		n++
		_, in := garden.FindTable(name)
		assert.True(t, in || leftOut[name] != "", name)
	}
	require.NoError(t, rows.Err())
	assert.Greater(t, n, 10)
}

func TestInvalidArchive(t *testing.T) {
	for text, says := range map[string]string{
		`{"format":"something-else","edition":1}`:                  "not an archive",
		`{"format":"zephyrfield-archive","edition":11}`:            "newer version",
		`{"format":"zephyrfield-archive","edition":1}`:             "holds none",
		`{"format":"zephyrfield-archive","edition":1,"garden":[]}`: "holds 0",
		`{"format":"zephyrfield-archive","colour":"mauve"}`:        "not an archive",
		`{"beds":[]}`: "not an archive",
		`nonsense`:    "not an archive",
		`[]`:          "not an archive",
		`{"format":"zephyrfield-archive","edition":1,"beds":[{"id":1`:                                "cut off",
		`{"format":"zephyrfield-archive","edition":1,"beds":{}}`:                                     "a list is needed",
		`{"format":"zephyrfield-archive","edition":1,"beds":[{"id":"1"}]}`:                           "“id” cannot be a string",
		`{"format":"zephyrfield-archive","format":"zephyrfield-archive"}`:                            "twice",
		`{"` + strings.Repeat("a", 3<<20):                                                            "too long",
		`{"format":"zephyrfield-archive","edition":1,"beds":[{"name":"` + strings.Repeat("a", 3<<20): "longer than a record",
	} {
		err := exchange.ReadArchive(strings.NewReader(text), func(garden.Record) error { return nil })
		var f garden.Faults
		require.ErrorAs(t, err, &f, "%.80s", text)
		assert.Contains(t, f["archive"], says)
	}
}

// altered are changes to the demo's archive, each of which must be refused in the
// words beside it; none may leave a row behind.
var altered = []struct{ from, to, says string }{
	{`"kind":"bed"`, `"kind":"swamp"`, "kind"},
	{`"w_m":`, `"w_m":-`, "above 0 m"},
	{`"w_m":`, `"w_m":9999`, "5000 m"},
	{`"depth_m":0.`, `"depth_m":9.`, "2 to 60 cm"},
	{`"texture":"`, `"texture":"x`, "texture"},
	{`"crop":"`, `"crop":"x`, "is not in the library"},
	{`"sown":"20`, `"sown":"90`, "sown"},
	{`"sown":"2`, `"sown":"x`, "day of the calendar"},
	{`"bed_id":1,`, `"bed_id":4711,`, "names a bed that is not in the archive"},
	{`"bed_id":1,`, `"bed_id":0,`, "2 to the 53rd"},
	{`"bed_id":1,`, `"bed_id":9007199254740993,`, "2 to the 53rd"},
	{`"id":1,"version":1,"name"`, `"id":9007199254740993,"version":1,"name"`, "2 to the 53rd"},
	{`"id":2,"version":1,"name"`, `"id":1,"version":1,"name"`, "its number stands there already"},
	{`"ph":`, `"ph":1`, "ph"},
	{`"method":"lab"`, `"method":"nose"`, "method"},
	{`"state":"open"`, `"state":"asleep"`, "not known here"},
	{`"state":"done"`, `"state":"open"`, "not done on a day"},
	{`"batch_id":null,"date":"2024-11-23","material":"wood-ash`, `"batch_id":null,"date":"2024-11-23","material":"wool-ash`,
		"not a material"},
	{`"rate_g_m2":`, `"rate_g_m2":9999999`, "rate_g_m2"},
	{`"at":"20`, `"at":"yesterday `, "a moment is needed"},
	{`"changes":[{`, `"changes":[{"table":4},{`, "changes"},
	{`"changes":[{"table":"`, `"changes":[{"table":"sqlite_master`, "cannot be read"},
	{`"request":{`, `"request":{"colour":"mauve",`, "cannot be read"},
	{`"climate":"maritime"`, `"climate":"lunar"`, "climate"},
	{`"name":"Top lawn"`, `"name":"Top\u0000lawn"`, "cannot be shown"},
	{`"name":"Top lawn"`, `"name":"Kale and roots"`, "of that name already"},
	{`"points_m":[`, `"points_m":[[1e308,2],`, "off the plan"},
	{`"cores":`, `"cores":99`, "cores"},
	{`"code":"1`, `"code":"=1`, "code"},
	{`"version":1,`, `"version":-1,`, "2 to the 53rd"},
	{`"note":"`, `"colour":"`, "not known"},
}

func TestAlteredArchivesAreRefused(t *testing.T) {
	whole := string(archive(t, hollin(t)))
	s := fresh(t)
	before := string(archive(t, s))
	for _, x := range altered {
		name := x.from + " → " + x.to
		require.Contains(t, whole, x.from, name)
		_, err := bringIn(s, []byte(strings.Replace(whole, x.from, x.to, 1)))
		var f garden.Faults
		if !assert.ErrorAs(t, err, &f, name) {
			return
		}
		assert.Contains(t, f.Error(), x.says, name)
		for _, sql := range []string{"constraint", "SQL", "FOREIGN KEY", "INSERT", "json:", "Go struct"} {
			assert.NotContains(t, f.Error(), sql, name)
		}
		assert.Equal(t, before, string(archive(t, s)), name)
	}
}

// twist alters one value somewhere in an archive.
func twist(r *rand.Rand, whole map[string]any) string {
	var lists []string
	for _, t := range garden.Tables {
		if rows, ok := whole[t.Name].([]any); ok && len(rows) > 0 {
			lists = append(lists, t.Name)
		}
	}
	name := lists[r.IntN(len(lists))]
	rows := whole[name].([]any)
	n := r.IntN(len(rows))
	row := rows[n].(map[string]any)
	fields := slices.Sorted(maps.Keys(row))
	field := fields[r.IntN(len(fields))]
	values := []any{nil, 0, -1, 1, 2, 1e18, 1e308, 0.001, true, []any{}, map[string]any{},
		"", "x", "\x00", "=1+1", "2026-02-30", "0001-01-01", "9999-12-31", strings.Repeat("a", 5000),
		[]any{[]any{1, 2}, []any{1, 2}}, []any{[]any{1, 2, 3}}, []any{1, 2, 3},
		"done", "open", "rings", "outline", "circle", "fizz", "kit", "go", "retest", "heap"}
	v := values[r.IntN(len(values))]
	was := row[field]
	row[field] = v
	if r.IntN(8) == 0 {
		row[field] = was
		whole[name] = append(rows[:n:n], rows[n+1:]...)
		return fmt.Sprintf("%s without row %d", name, n)
	}
	return fmt.Sprintf("%s[%d].%s = %.60v", name, n, field, v)
}

// TestAcceptedArchivesRenderAllPages alters one value of the demo's archive at a
// time. Most are refused; what is taken must show on every page.
func TestAcceptedArchivesRenderAllPages(t *testing.T) {
	whole := archive(t, hollin(t))
	r := rand.New(rand.NewPCG(11, 26))
	tries, taken := 12, 0
	if more, err := strconv.Atoi(os.Getenv("ZEPHYRFIELD_TWISTS")); err == nil {
		tries = more
	}
	for i := range tries {
		var a map[string]any
		d := json.NewDecoder(bytes.NewReader(whole))
		d.UseNumber()
		require.NoError(t, d.Decode(&a))
		what := twist(r, a)
		raw := reordered(t, a)
		s := fresh(t)
		if _, err := bringIn(s, raw); err != nil {
			var f garden.Faults
			require.ErrorAs(t, err, &f, "%d: %s", i, what)
			continue
		}
		taken++
		h, err := server.New(site.Config{Store: s, Gate: s, Labs: s, Clock: site.NewDemoClock(quantity.Date(2026, 11, 24)),
			Hosts: []string{"localhost"}})
		require.NoError(t, err)
		for _, p := range pages {
			rec := httptest.NewRecorder()
			h.ServeHTTP(rec, httptest.NewRequest(http.MethodGet, "http://localhost"+p, nil))
			require.Less(t, rec.Code, 500, "%d: %s breaks %s", i, what, p)
		}
		require.NoError(t, s.Close())
	}
	assert.Positive(t, taken, "some changes are harmless")
	assert.Less(t, taken, tries)
}

var pages = []string{"/", "/?bed=3", "/?layer=k", "/?layer=tested", "/?on=2027-03-01", "/?on=2024-03-01", "/walk", "/walk/1",
	"/walk/1/labels", "/walk/1/round.csv", "/bench", "/bench?bed=2",
	"/dose", "/beds/1/dose", "/beds/4/dose", "/beds/1", "/beds/2", "/beds/5", "/beds/8", "/beds/3/edit", "/sheet", "/place", "/crops",
	"/marks", "/keep", "/export/beds.csv", "/export/readings.csv",
	"/export/readings.xlsx", "/export/tasks.ics", "/export/plan.geojson", "/export/garden.json"}

// reordered writes an archive in the order in which its lists are read.
func reordered(t *testing.T, a map[string]any) []byte {
	t.Helper()
	var b bytes.Buffer
	fmt.Fprintf(&b, `{"format":%q,"edition":2`, a["format"])
	for _, x := range garden.Tables {
		raw, err := json.Marshal(a[x.Name])
		require.NoError(t, err)
		fmt.Fprintf(&b, ",%q:%s", x.Name, raw)
	}
	b.WriteString("}")
	return b.Bytes()
}

// TestArchiveIsStreamed brings in a file of eight megabytes, and looks at what
// it took: a small part of it, whatever its length.
func TestArchiveIsStreamed(t *testing.T) {
	if testing.Short() {
		t.Skip("writes eight megabytes")
	}
	path := t.TempDir() + "/large.json"
	f, err := os.Create(path)
	require.NoError(t, err)
	garden1, _, ok := strings.Cut(recordsOf(archive(t, hollin(t))), `"plantings": [`)
	require.True(t, ok)
	_, _ = f.WriteString(garden1 + `"journal": [`)
	note := strings.Repeat("x", 900)
	for i := 1; i <= 8000; i++ {
		sep := ","
		if i == 1 {
			sep = ""
		}
		fmt.Fprintf(f, "%s\n{\"id\":%d,\"version\":1,\"at\":\"2026-11-24T07:30:00Z\",\"who\":\"gardener\","+
			"\"what\":%q,\"changes\":[],\"undoes\":null,\"undone_by\":null}", sep, i, note)
	}
	_, _ = f.WriteString("]}")
	require.NoError(t, f.Close())
	info, err := os.Stat(path)
	require.NoError(t, err)
	require.Greater(t, info.Size(), int64(8_000_000))

	s := fresh(t)
	in, err := os.Open(path)
	require.NoError(t, err)
	defer func() { _ = in.Close() }()
	debug.FreeOSMemory()
	var was, now runtime.MemStats
	runtime.ReadMemStats(&was)
	most, n := uint64(0), 0
	_, err = s.Restore(context.Background(), garden.Change{At: noon}, func(put func(garden.Record) error) error {
		return exchange.ReadArchive(in, func(rec garden.Record) error {
			if n++; n%500 == 0 {
				runtime.ReadMemStats(&now)
				most = max(most, now.HeapSys-now.HeapReleased)
			}
			return put(rec)
		})
	})
	require.NoError(t, err)
	assert.Greater(t, n, 8000)
	assert.Less(t, most, was.HeapSys-was.HeapReleased+uint64(32<<20), "memory held on the way")
	t.Logf("%d MB more", (int64(most)-int64(was.HeapSys-was.HeapReleased))>>20)
}
