package store_test

import (
	"context"
	"path/filepath"
	"strings"
	"testing"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

// halves are plans of a file of before: the first dated after its test, the second carried past it by a late tick, the third without a
// test between its applications, the fourth with its test skipped.
const halves = `
INSERT INTO readings (version, bed_id, date, method, basis, ph, cores, depth_m, vinegar, soda, note)
	VALUES (1, 1, '2026-10-10', 'kit', 'water', 5.3, 12, 0.15, '', '', '');
INSERT INTO plans (id, version, bed_id, made, reading_id, target_ph, request) VALUES
	(1, 1, 1, '2026-10-17', 1, 6.5, '{"date":"2026-10-17","half_first":true}'), (2, 1, 1, '2026-10-17', 1, 6.5, '{"date":"2026-10-17"}'),
	(3, 1, 1, '2026-10-17', 1, 6.5, '{"date":"2026-10-17"}'), (4, 1, 1, '2026-10-17', 1, 6.5, '{"date":"2026-10-17"}');
INSERT INTO tasks (id, version, bed_id, plan_id, kind, due, material, rate_g_m2, total_g, state, settled, why, method, depth_m) VALUES
	(1, 1, 1, 1, 'go', '2026-10-17', 'calcitic-lime', 100, 400, 'open', NULL, '', '', 0.15),
	(2, 1, 1, 1, 'retest', '2027-04-17', '', 0, 0, 'open', NULL, '', 'kit', 0.15),
	(3, 1, 1, 1, 'go', '2027-04-24', 'calcitic-lime', 110, 440, 'open', NULL, '', '', 0.15),
	(4, 1, 1, 2, 'go', '2026-10-17', 'calcitic-lime', 100, 400, 'done', '2026-10-19', '', '', 0.15),
	(5, 1, 1, 2, 'retest', '2027-04-19', '', 0, 0, 'open', NULL, '', 'kit', 0.15),
	(6, 1, 1, 2, 'go', '2027-04-17', 'calcitic-lime', 120, 480, 'open', NULL, '', '', 0.15),
	(7, 1, 1, 3, 'go', '2026-10-17', 'calcitic-lime', 100, 400, 'open', NULL, '', '', 0.15),
	(8, 1, 1, 3, 'go', '2027-01-17', 'calcitic-lime', 100, 400, 'open', NULL, '', '', 0.15),
	(9, 1, 1, 3, 'retest', '2027-10-17', '', 0, 0, 'open', NULL, '', 'kit', 0.15),
	(10, 1, 1, 4, 'retest', '2027-04-17', '', 0, 0, 'skipped', '2027-04-17', '', 'kit', 0.15),
	(11, 1, 1, 4, 'go', '2027-04-24', 'calcitic-lime', 130, 520, 'open', NULL, '', '', 0.15);`

// waiting returns the rates of the rests that wait, and those of the open applications.
func waiting(t *testing.T, s *store.Store) (rests, goes []float64) {
	t.Helper()
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) error {
		all, err := garden.All[garden.Rest](r)
		for _, x := range all {
			assert.Equal(t, garden.RestWaiting, x.State)
			rests = append(rests, float64(x.Rate))
		}
		if err != nil {
			return err
		}
		tasks, err := garden.Where[garden.Task](r, "state", garden.Open)
		for _, x := range tasks {
			if x.Kind == garden.TaskApplication {
				goes = append(goes, float64(x.Rate))
			}
		}
		return err
	}))
	return rests, goes
}

func TestMigrationMakesRests(t *testing.T) {
	path := filepath.Join(t.TempDir(), "garden.db")
	db := raw(t, path)
	p, err := goose.NewProvider(goose.DialectSQLite3, db, store.Migrations, store.Steps)
	require.NoError(t, err)
	_, err = p.UpTo(context.Background(), 17)
	require.NoError(t, err)
	_, err = db.Exec(`INSERT INTO beds (version, name, name_key, kind, shape, x_m, y_m, w_m, h_m, rings, turn_deg, corners_m, texture,
		depth_m, worked, free_lime, note) VALUES (1, 'A', 'a', 'bed', 'rect', 0, 0, 4, 1, 0, 0, '', 'sandy-loam', 0.15, 'dug', 'unknown', '')`)
	require.NoError(t, err)
	_, err = db.Exec(halves)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	s := open(t, path)
	rests, goes := waiting(t, s)
	assert.ElementsMatch(t, []float64{110, 120, 130}, rests)
	assert.ElementsMatch(t, []float64{100, 100, 100}, goes, "what comes before the test, and two goes without one between, keep their days")
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) error {
		p, err := garden.Get[garden.Plan](r, 1)
		assert.JSONEq(t, `{"date":"2026-10-17","school":{"pace":"all-at-once"}}`, string(p.Request))
		assert.False(t, p.RestsApart)
		return err
	}))
}

// An archive of the edition before brings its second halves in as what waits, and undoing an older line puts none back on its day.
func TestOldArchiveMakesRests(t *testing.T) {
	old := `{"format":"zephyrfield-archive","edition":9,
"garden":[{"id":1,"version":1,"name":"Old","climate":"maritime","hemisphere":"north",
"soil_table":"cool","buffering":"table","ash_school":"equivalence","act_school":"below-band","soil_temp_c":null,"started":""}],
"beds":[{"id":1,"version":1,"name":"A","kind":"bed","shape":"rect","x_m":0,"y_m":0,"w_m":4,"h_m":1,"rings":0,"turn_deg":0,
"corners_m":null,"texture":"loam","depth_m":0.15,"worked":"dug","organic_matter_pct":null,"clay_pct":null,"cec":null,
"free_lime":"unknown","note":"","retired":""}],
"readings":[{"id":1,"version":1,"bed_id":1,"date":"2026-10-10","method":"kit","basis":"water","ph":5.3,"cores":12,"depth_m":0.15}],
"plans":[{"id":1,"version":1,"bed_id":1,"made":"2026-10-17","reading_id":1,"target_ph":6.5,
"request":{"date":"2026-10-17","half_first":true,
"bed":{"area_m2":4,"texture":"loam"},"reading":{"ph":5.3,"method":"kit"},"target_ph":6.5}}],
"tasks":[{"id":1,"version":1,"bed_id":1,"plan_id":1,"kind":"go","due":"2026-10-17","material":"calcitic-lime","rate_g_m2":100,
"total_g":400,"state":"done","settled":"2026-10-19","depth_m":0.15},
{"id":2,"version":1,"bed_id":1,"plan_id":1,"kind":"retest","due":"2027-04-19","state":"open","method":"kit","depth_m":0.15},
{"id":3,"version":1,"bed_id":1,"plan_id":1,"kind":"go","due":"2027-04-17","material":"calcitic-lime","rate_g_m2":110,"total_g":440,
"state":"open","depth_m":0.15}],
"journal":[{"id":1,"version":1,"at":"2026-10-18T08:00:00Z","who":"gardener","what":"Skipped an application","undoes":null,"undone_by":null,
"changes":[{"table":"tasks","id":4,"before":{"id":4,"version":1,"bed_id":1,"plan_id":1,"kind":"go","due":"2027-04-20",
"material":"calcitic-lime","rate_g_m2":120,"total_g":480,"state":"open","depth_m":0.15},"after":null}]}]}`
	s := fresh(t)
	_, err := s.Restore(context.Background(), garden.Change{}, func(put func(garden.Record) error) error {
		return exchange.ReadArchive(strings.NewReader(old), put)
	})
	require.NoError(t, err)
	rests, goes := waiting(t, s)
	assert.Equal(t, []float64{110}, rests)
	assert.Empty(t, goes)
	_, err = s.Undo(context.Background(), change(""), 1)
	require.NoError(t, err)
	rests, goes = waiting(t, s)
	assert.Equal(t, []float64{110, 120}, rests, "what an older line puts back waits too")
	assert.Empty(t, goes)
}
