package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Read implements garden.Store in one transaction.
func (s *Store) Read(ctx context.Context, f func(garden.Reader) error) error {
	if st := s.view; st != nil {
		db, err := st.open(ctx, s.read)
		if err != nil {
			return asFault(err)
		}
		return asFault(f(reader{ctx, db, s.tables, s.asked, st, &s.cache}))
	}
	db, err := s.read.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return asFault(err)
	}
	err = f(reader{ctx, db, s.tables, s.asked, nil, &s.cache})
	return errors.Join(asFault(err), rollback(db))
}

// look reads what is not a record. It uses the request's snapshot where there is one: a request that held a
// snapshot and waited for a second connection could deadlock with others doing the same.
func (s *Store) look(ctx context.Context, f func(reader) error) error {
	return s.Read(ctx, func(r garden.Reader) error { return f(r.(reader)) })
}

// reader runs queries inside a transaction.
type reader struct {
	ctx    context.Context
	db     *sqlx.Tx
	tables registry
	// asked are the queries that are ready; nil in a change, whose connection is
	// another. view is what it is part of, nil for none.
	asked *statements
	view  *view
	cache *cache.Cache
}

// Cache implements garden.Reader.
func (r reader) Cache() *cache.Cache { return r.cache }

// Cache is none once something was changed.
func (t *tx) Cache() *cache.Cache {
	if len(t.changes) > 0 {
		return nil
	}
	return t.reader.cache
}

func (r reader) get(into any, query string, args []any) error {
	if r.asked == nil {
		return r.db.GetContext(r.ctx, into, query, args...)
	}
	st, err := r.asked.in(r.ctx, r.db, query)
	if err != nil {
		return err
	}
	return st.GetContext(r.ctx, into, args...)
}

func (r reader) all(into any, query string, args ...any) error {
	if r.asked == nil {
		return r.db.SelectContext(r.ctx, into, query, args...)
	}
	st, err := r.asked.in(r.ctx, r.db, query)
	if err != nil {
		return err
	}
	return st.SelectContext(r.ctx, into, args...)
}

func (r reader) one(into any, query string, args ...any) error {
	err := r.get(into, query, args)
	if errors.Is(err, sql.ErrNoRows) {
		return garden.ErrMissing
	}
	return err
}

func many[T any](r reader, query string, args ...any) ([]T, error) {
	out := []T{}
	err := r.all(&out, query, args...)
	return out, err
}

// Record implements garden.Reader.
func (r reader) Record(into garden.Record, id int64) error {
	tb, err := r.tables.of(into)
	if err != nil {
		return err
	}
	return r.one(into, tb.byID, id)
}

// List implements garden.Reader.
func (r reader) List(kind garden.Record, column string, key, into any) error {
	tb, err := r.tables.of(kind)
	if err != nil {
		return err
	}
	if column == "" {
		return r.all(into, tb.list[""])
	}
	query, ok := tb.list[column]
	if !ok {
		return fmt.Errorf("no column %q in %s", column, tb.name)
	}
	return r.all(into, query, bind(key))
}

// places is the place: each page asks for it, some more than once.
var places = cache.Kind{Name: "place", Room: 1}

// Garden implements garden.Reader.
func (r reader) Garden() (garden.Garden, error) {
	version, err := r.BedVersion(noBed)
	if err != nil {
		return garden.Garden{}, err
	}
	return cache.Get(r.cache, places, "", version, r.readGarden)
}

// Garden is read again once something was changed.
func (t *tx) Garden() (garden.Garden, error) {
	if t.Cache() == nil {
		return t.readGarden()
	}
	return t.reader.Garden()
}

func (r reader) readGarden() (g garden.Garden, err error) {
	if err := r.one(&g, "SELECT * FROM garden WHERE id=1"); err != nil {
		return g, err
	}
	g.Measured, err = r.measured()
	return g, err
}

func (r reader) PlantingsAround(since, until string) ([]garden.Planting, error) {
	return many[garden.Planting](r, "SELECT * FROM plantings WHERE (cleared IS NULL OR cleared > ?) AND sown <= ? ORDER BY sown, id",
		since, until)
}

func (r reader) CropUsed(code string) (n int, err error) {
	err = r.one(&n, "SELECT count(*) FROM plantings WHERE crop=?", code)
	return n, err
}

func (r reader) Used(batch int64) (used bool, err error) {
	err = r.one(&used, "SELECT EXISTS (SELECT 1 FROM applications WHERE batch_id=?1) OR EXISTS (SELECT 1 FROM tasks WHERE batch_id=?1) "+
		"OR EXISTS (SELECT 1 FROM movements WHERE batch_id=?1)", batch)
	return used, err
}

// Moved implements garden.Reader. What lies before the last weighing no longer
// counts.
func (r reader) Moved() ([]garden.Moved, error) {
	const since = `WITH weighed AS (SELECT batch_id, max(date || printf('%016d', id)) AS at FROM movements
			WHERE kind='weighed' GROUP BY batch_id)
		SELECT m.batch_id, sum(CASE m.kind WHEN 'out' THEN -m.amount_g ELSE m.amount_g END) AS amount_g,
			w.at IS NOT NULL AS weighed, max(m.kind='in') AS came
		FROM movements m LEFT JOIN weighed w ON w.batch_id=m.batch_id
		WHERE w.at IS NULL OR m.date || printf('%016d', m.id) >= w.at GROUP BY m.batch_id ORDER BY m.batch_id`
	return many[garden.Moved](r, since)
}

func (r reader) LatestReadings(upTo string, within int) ([]garden.Reading, error) {
	const last = "SELECT id FROM readings r WHERE r.bed_id=b.id AND r.date<=?1 AND r.struck IS NULL AND "
	const order = " ORDER BY r.date DESC, r.id DESC LIMIT 1"
	return many[garden.Reading](r, "SELECT * FROM readings WHERE id IN (SELECT ("+
		last+"r.ph IS NOT NULL"+order+") FROM beds b UNION SELECT ("+
		last+"r.k_ppm IS NOT NULL"+order+") FROM beds b UNION SELECT ("+
		last+"r.organic_matter_pct IS NOT NULL"+order+") FROM beds b UNION SELECT ("+
		last+"r.cec IS NOT NULL"+order+") FROM beds b UNION SELECT ("+
		last+"r.method='fizz'"+order+") FROM beds b UNION SELECT n.id FROM beds b JOIN readings l ON l.id=("+
		last+"r.ph IS NOT NULL"+order+") JOIN readings n ON n.bed_id=b.id AND n.struck IS NULL AND "+
		"n.date BETWEEN date(l.date, '-'||?2||' days') AND ?1) ORDER BY date, id", upTo, within)
}

func (r reader) Held() ([]garden.Held, error) {
	return many[garden.Held](r, "SELECT t.id, t.bed_id, r.struck FROM tasks t JOIN plans p ON p.id=t.plan_id JOIN readings r ON "+
		"r.id=p.reading_id WHERE t.state=? AND t.kind=? AND r.struck IS NOT NULL ORDER BY t.id", garden.Open, garden.TaskApplication)
}

func (r reader) Overtaken() ([]garden.Overtaken, error) {
	return many[garden.Overtaken](r, "SELECT t.id, x.date, x.ph FROM tasks t JOIN plans p ON p.id=t.plan_id JOIN readings r ON "+
		"r.id=p.reading_id JOIN readings x ON x.id=(SELECT y.id FROM readings y WHERE y.bed_id=t.bed_id AND y.ph IS NOT NULL AND "+
		"y.struck IS NULL ORDER BY y.date DESC, y.id DESC LIMIT 1) WHERE t.state=? AND t.kind=? AND x.date>r.date ORDER BY t.id",
		garden.Open, garden.TaskApplication)
}

func (r reader) RestsWaiting(bed int64) ([]garden.WaitingRest, error) {
	return many[garden.WaitingRest](r, "SELECT x.*, p.made, (SELECT max(t.settled) FROM tasks t WHERE t.plan_id=x.plan_id AND t.kind=? "+
		"AND t.state=?) AS put FROM rests x JOIN plans p ON p.id=x.plan_id WHERE x.state=? AND (?=0 OR x.bed_id=?) ORDER BY x.id",
		garden.TaskApplication, garden.Done, garden.RestWaiting, bed, bed)
}

func (r reader) PlanAims(bed int64, since string) ([]garden.PlanAim, error) {
	return many[garden.PlanAim](r, "SELECT id, bed_id, target_ph, COALESCE(json_extract(request, '$.crop'), '') AS crop FROM plans "+
		"WHERE made>=? AND (?=0 OR bed_id=?) ORDER BY id", since, bed, bed)
}

func (r reader) ReadingKeys(from, to string) ([]garden.ReadingKey, error) {
	return many[garden.ReadingKey](r, "SELECT r.bed_id, COALESCE(s.code,'') AS code, r.date, r.method, r.basis, r.ph FROM readings r "+
		"LEFT JOIN samples s ON s.id=r.sample_id WHERE r.date BETWEEN ? AND ? AND r.struck IS NULL", from, to)
}

func (r reader) Found(bed int64, from string) ([]garden.Found, error) {
	const query = "SELECT bed_id, date, ph IS NOT NULL AS ph, k_ppm IS NOT NULL AS potassium FROM readings WHERE struck IS NULL AND date>=?"
	if bed == 0 {
		return many[garden.Found](r, query+" AND bed_id IN (SELECT bed_id FROM sights)", from)
	}
	return many[garden.Found](r, query+" AND bed_id=?", from, bed)
}

func (r reader) ReadingsFrom(day string, limit int) ([]garden.Reading, error) {
	return many[garden.Reading](r, "SELECT * FROM readings WHERE date<=? AND struck IS NULL ORDER BY date DESC, id DESC LIMIT ?", day,
		limit)
}

func (r reader) Codes() ([]garden.SampleCode, error) {
	return many[garden.SampleCode](r, "SELECT s.code, b.id AS bed_id, r.layered, b.kind, b.worked, b.depth_m FROM samples s JOIN rounds "+
		"r ON r.id=s.round_id JOIN sample_beds x ON x.id=(SELECT min(id) FROM sample_beds WHERE sample_id=s.id) JOIN beds b ON "+
		"b.id=x.bed_id ORDER BY s.id")
}

func (r reader) SamplesBetween(from, to string) ([]garden.Sample, error) {
	return many[garden.Sample](r, "SELECT * FROM samples WHERE taken BETWEEN ? AND ? ORDER BY taken, id", from, to)
}

func (r reader) SamplesWaiting() ([]garden.Waiting, error) {
	return many[garden.Waiting](r, "SELECT s.code, s.state, GROUP_CONCAT(b.name, ', ') AS beds FROM samples s JOIN sample_beds x ON "+
		"x.sample_id=s.id JOIN beds b ON b.id=x.bed_id WHERE s.state IN (?,?) GROUP BY s.id ORDER BY s.id", garden.SampleTaken,
		garden.SampleAtLab)
}

func (r reader) SamplesOfBed(bed int64) ([]garden.Sample, error) {
	return many[garden.Sample](r, "SELECT * FROM samples WHERE id IN (SELECT sample_id FROM sample_beds WHERE bed_id=?) ORDER BY id", bed)
}

func (r reader) SampleBedsOf(round int64) ([]garden.SampleBed, error) {
	return many[garden.SampleBed](r, "SELECT b.* FROM sample_beds b JOIN samples s ON s.id=b.sample_id WHERE s.round_id=? ORDER BY "+
		"b.place, b.id", round)
}

func (r reader) CoresOf(round int64) ([]garden.Core, error) {
	return many[garden.Core](r, "SELECT c.* FROM cores c JOIN sample_beds b ON b.id=c.sample_bed_id JOIN samples s ON s.id=b.sample_id "+
		"WHERE s.round_id=? ORDER BY c.id", round)
}

func (r reader) ApplicationsSince(day string) ([]garden.Application, error) {
	return many[garden.Application](r, "SELECT * FROM applications WHERE date>=? ORDER BY date, id", day)
}

func (r reader) OpenPreparations() ([]garden.Preparation, error) {
	return many[garden.Preparation](r, "SELECT * FROM turnings WHERE closed IS NULL ORDER BY id")
}

func (r reader) PreparationSteps() ([]garden.Task, error) {
	return many[garden.Task](r, "SELECT t.* FROM tasks t JOIN turnings u ON u.id=t.turning_id WHERE u.closed IS NULL ORDER BY t.place, t.id")
}

func (r reader) SettledSince(day string) ([]garden.Task, error) {
	return many[garden.Task](r, "SELECT * FROM tasks WHERE settled>=? ORDER BY settled, id", day)
}

func (r reader) TasksBetween(from, to string) ([]garden.Task, error) {
	return many[garden.Task](r, "SELECT * FROM tasks WHERE due BETWEEN ? AND ? ORDER BY due, id", from, to)
}

func (r reader) DoneBetween(from, to string) ([]garden.Task, error) {
	return many[garden.Task](r, "SELECT * FROM tasks WHERE settled BETWEEN ? AND ? AND state = 'done' ORDER BY settled, id", from, to)
}

// Version rests on the journal, which every change writes to; an archive is only
// taken into a garden without beds.
func (r reader) Version() (s string, err error) {
	if r.view != nil {
		r.view.mu.Lock()
		defer r.view.mu.Unlock()
		if r.view.version != "" {
			return r.view.version, nil
		}
		defer func() { r.view.version = s }()
	}
	err = r.one(&s, "SELECT (SELECT coalesce(max(id), 0) FROM journal) || ' ' || (SELECT count(*) FROM beds) || ' ' || (SELECT "+
		"coalesce(max(version), 0) FROM garden)")
	return s, err
}

func (r reader) Journal(before int64, limit int) ([]garden.Line, error) {
	return many[garden.Line](r, "SELECT "+lineColumns+" FROM journal WHERE ?1=0 OR id<?1 ORDER BY id DESC LIMIT ?2", before, limit)
}

const lineColumns = "id, at, who, what, substr(changes, 1, 60) AS head, undoes, undone_by"

func (r reader) JournalOf(bed int64, limit int) ([]garden.Line, error) {
	return many[garden.Line](r, "SELECT "+lineColumns+" FROM journal JOIN journal_beds ON journal_id=id WHERE bed_id=? ORDER BY id DESC "+
		"LIMIT ?", bed, limit)
}

// Empty implements garden.Reader.
func (r reader) Empty() (bool, error) {
	for _, x := range garden.Tables {
		if x.Name == "garden" || x.Name == garden.JournalTable {
			continue
		}
		var has bool
		if err := r.one(&has, "SELECT EXISTS (SELECT 1 FROM "+x.Name+")"); err != nil || has {
			return false, err
		}
	}
	return true, nil
}

// Each implements garden.Reader.
func (r reader) Each(table string, f func(garden.Record) error) (err error) {
	t, ok := garden.FindTable(table)
	if !ok {
		return fmt.Errorf("no table %q", table)
	}
	rows, err := r.db.QueryxContext(r.ctx, "SELECT * FROM "+t.Name+" ORDER BY id")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		rec := t.New()
		if err := rows.StructScan(rec); err != nil {
			return err
		}
		if err := f(rec); err != nil {
			return err
		}
	}
	return rows.Err()
}
