package bedstate

import (
	"fmt"
	"reflect"
	"slices"
	"sync"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Lesson is what a bed's own record has shown, using its neighbours' evidence.
type Lesson struct {
	own
	// model is the whole record without readings left out as surprising, sifted the outcome of that
	// check.
	model   forecast.Model
	sifted  forecast.Sifted
	sifting sync.Once
	// key identifies the record among cached values of version since; withOthers includes the other
	// beds' evidence.
	withOthers string
	key        lessonOn
	cache      *cache.Cache
	all        *Lessons
	at         int
	once       sync.Once
	shown      forecast.Model
	learned    forecast.Learned
	tested     sync.Once
	checks     []forecast.Check
}

// own is a bed's own record, as input of its lesson.
type own struct {
	Record forecast.Record
	// Method is the lime method that it is compared with, Buffer that method applied to the ground.
	Method soil.LimeMethod
	Buffer soil.Buffering
	// whole is the model without planned work and without other beds' evidence.
	whole forecast.Model
	// since is the bed's version at which the record became what it is; cached values depend on it.
	since string
}

// asBefore returns the cached record instead of the new one if a change (of a note, name or place)
// left everything that a lesson depends on unchanged.
func (o *own) asBefore(kept *own) *own {
	if o == nil || kept == nil || o.Method != kept.Method || !reflect.DeepEqual(o.Record, kept.Record) {
		return o
	}
	return kept
}

// sift finds the surprising readings, once.
func (l *Lesson) sift() {
	l.sifting.Do(func() {
		l.sifted, _ = cache.Get(l.cache, siftings, l.key, l.since, func() (forecast.Sifted, error) { return l.whole.Sift(), nil })
		l.model = l.whole.Without(&l.sifted)
	})
}

// Surprise returns the bed's last test if it is surprising and awaits confirmation, or nil.
func (l *Lesson) Surprise() *forecast.Surprise {
	if l == nil {
		return nil
	}
	l.sift()
	return l.sifted.Open
}

// Verdict returns the outcome if a day's reading confirmed or refuted an earlier test; ok is false
// if it did neither.
func (l *Lesson) Verdict(day quantity.Day) (v forecast.Verdict, ok bool) {
	if l == nil {
		return v, false
	}
	l.sift()
	n := len(l.sifted.Verdicts)
	if n == 0 || l.sifted.Verdicts[n-1].Second.Date != day {
		return v, false
	}
	return l.sifted.Verdicts[n-1], true
}

// Out reports whether a reading is left out as surprising and unconfirmed.
func (l *Lesson) Out(r *garden.Reading) bool {
	if l == nil || r.PH == nil {
		return false
	}
	l.sift()
	x := r.Soil()
	return l.sifted.Out(&forecast.Read{Date: x.Date, PH: x.Water(), SD: x.SD(), Method: x.Method})
}

// Joins reports whether readings of two days may be combined.
func (l *Lesson) Joins(day, other quantity.Day) bool {
	if l == nil {
		return true
	}
	l.sift()
	return l.sifted.Beside(day, other)
}

// learn computes the lesson, after the other beds' evidence.
func (l *Lesson) learn() {
	l.sift()
	l.once.Do(func() {
		l.shown = l.model
		if !l.all.alone {
			l.shown.Others = l.all.gathered().Others(l.at)
		}
		l.withOthers = fmt.Sprint(l.since, l.shown.Others)
		find := func() (forecast.Learned, error) { return forecast.Learn(&l.shown), nil }
		l.learned, _ = cache.Get(l.cache, learnings, l.key, l.withOthers, find)
	})
}

// Version changes with everything that the lesson depends on. Lessons of two days may have the same.
func (l *Lesson) Version() string {
	l.learn()
	return l.withOthers
}

// OfLesson returns a value that depends on a lesson and on a day, cached until the lesson changes. The same day asked of
// two days' lessons is two values. It is shared by all callers.
func OfLesson[T any](l *Lesson, k cache.Kind, day quantity.Day, find func() T) T {
	key := struct {
		of  lessonOn
		day quantity.Day
	}{l.key, day}
	v, _ := cache.Get(l.cache, k, key, l.Version(), func() (T, error) { return find(), nil })
	return v
}

// Model returns the model without planned work.
func (l *Lesson) Model() *forecast.Model {
	l.learn()
	return &l.shown
}

// Learned returns what the bed has shown.
func (l *Lesson) Learned() *forecast.Learned {
	l.learn()
	return &l.learned
}

// Planned returns the model of a record with planned work, without the readings left out.
func (l *Lesson) Planned(r *forecast.Record) forecast.Model {
	l.sift()
	b := r.Model(l.Buffer, true)
	return b.Without(&l.sifted)
}

// Course returns the median of the bed's forecast from its last reading on, without planned work.
func (l *Lesson) Course() forecast.Course {
	l.learn()
	c, _ := cache.Get(l.cache, courses, l.key, l.withOthers, func() (forecast.Course, error) {
		c := forecast.CourseOf(&l.shown, &l.learned)
		c.Pools = slices.Clip(c.Pools) // planned work is appended to a copy
		return c, nil
	})
	return c
}

// With returns the course with planned applications, each at its batch's proven strength.
func (l *Lesson) With(plan []forecast.Application) forecast.Course {
	c := l.Course()
	for i := range plan {
		if p := &plan[i]; p.MovesPH() {
			g := forecast.AdditionOf(&p.Application, p.Batch, l.Buffer.Stone)
			c.Pools = append(c.Pools, forecast.Pool{Date: g.Date, CaCO3: quantity.Rate(g.CaCO3 * l.learned.Stronger(g.Batch)), Reacts: g.Reacts})
		}
	}
	return c
}

// Together returns what the garden's beds have shown together.
func (l *Lesson) Together() forecast.Shared { return l.all.Shared() }

// Got returns the estimated strength of a batch relative to its computed one, in the logarithm, and
// the number of beds that received it.
func Got(s forecast.Shared, batch int64) (x forecast.Normal, beds int, ok bool) {
	x, ok = s.Strength[batchName(&batch)]
	return x, s.Beds[batchName(&batch)], ok
}

// Stronger returns a batch's proven strength relative to its computed one, over all beds that
// received it.
func (l *Lesson) Stronger(batch int64) float64 { return l.Learned().Stronger(batchName(&batch)) }

// Checks returns the tested promises, oldest first.
func (l *Lesson) Checks() []forecast.Check {
	if l == nil {
		return nil
	}
	l.learn()
	l.tested.Do(func() { l.checks = forecast.Checks(&l.shown, &l.learned) })
	return l.checks
}

// Last returns the promise that a day's reading tested; ok is false if it tested none.
func (l *Lesson) Last(day quantity.Day) (k forecast.Check, ok bool) {
	all := l.Checks()
	if len(all) == 0 || all[len(all)-1].Date != day {
		return k, false
	}
	return all[len(all)-1], true
}

// Beside returns what a dose uses of it; nil if it does not count yet, or there is no lesson.
func (l *Lesson) Beside() *soil.Learned {
	if l == nil {
		return nil
	}
	return l.Learned().Beside(l.Method)
}

// Lessons are the lessons by bed. The joint evidence is computed when first needed.
type Lessons struct {
	ByBed map[int64]*Lesson
	list  []*Lesson
	// alone is set for a past day, for which other beds' evidence is not used.
	alone bool
	once  sync.Once
	said  *forecast.Together
}

// gathered returns the joint evidence of all beds.
func (s *Lessons) gathered() *forecast.Together {
	s.once.Do(func() {
		models, said := make([]forecast.Model, len(s.list)), make([]forecast.Evidence, len(s.list))
		forecast.Each(len(s.list), func(i int) {
			l := s.list[i]
			l.sift()
			models[i], said[i] = l.model, l.evidence()
		})
		s.said = forecast.Gather(models, said)
	})
	return s.said
}

// evidence returns the bed's own evidence.
func (l *Lesson) evidence() forecast.Evidence {
	said, _ := cache.Get(l.cache, sayings, l.key, l.since, func() (forecast.Evidence, error) { return l.model.Evidence(), nil })
	return said
}

// Learn computes all lessons, in parallel on all processors.
func (s *Lessons) Learn() {
	s.gathered()
	forecast.Each(len(s.list), func(i int) { s.list[i].learn() })
}

// Shared returns what the beds have shown together.
func (s *Lessons) Shared() forecast.Shared { return s.gathered().Shared() }

// Cache kinds of lessons: the list of a day, and per bed its record, its surprising readings, its
// evidence and its lesson. There is room for two passes over a large garden.
var (
	lessonLists = cache.Kind{Name: "lessons", Room: 8}
	ownRecords  = cache.Kind{Name: "own records", Room: 1000}
	siftings    = cache.Kind{Name: "sifted", Room: 1000}
	sayings     = cache.Kind{Name: "said", Room: 1000}
	learnings   = cache.Kind{Name: "learned", Room: 1000}
	courses     = cache.Kind{Name: "courses", Room: 1000}
)

// lessonsOn is the cache key of a day's lessons, lessonOn that of one bed's.
type (
	lessonsOn [2]quantity.Day
	lessonOn  struct {
		bed        int64
		day, today quantity.Day
	}
)

// LessonsOf returns the beds' lessons as of a day; for a day to come, as of today.
func LessonsOf(r Reader, day, today quantity.Day) (*Lessons, error) {
	day = min(day, today)
	return garden.CachedOfBeds(r, lessonLists, lessonsOn{day, today}, func() (*Lessons, error) {
		l, err := learn(r, day, today)
		if err != nil {
			return nil, err
		}
		l.alone = day < today
		if kept, _, ok := cache.Last[*Lessons](r.Cache(), lessonLists, lessonsOn{day, today}); ok && l.like(kept) {
			return kept, nil
		}
		return l, nil
	})
}

// like reports whether others depend on the same records, so that cached values hold for both.
func (s *Lessons) like(others *Lessons) bool {
	return slices.EqualFunc(s.list, others.list, func(a, b *Lesson) bool { return a.key == b.key && a.since == b.since })
}

// learn creates the lessons of all beds; each is cached at its version.
func learn(r Reader, day, today quantity.Day) (*Lessons, error) {
	rows, err := teachersOf(r)
	if err != nil {
		return nil, err
	}
	preparations, err := openPreparations(r)
	if err != nil {
		return nil, err
	}
	out := &Lessons{ByBed: make(map[int64]*Lesson, len(rows.beds))}
	for _, b := range rows.beds {
		l := &Lesson{key: lessonOn{b.ID, day, today}, cache: r.Cache(), all: out, at: len(out.list)}
		version, err := r.BedVersion(b.ID)
		if err != nil {
			return nil, err
		}
		record, _ := cache.Get(l.cache, ownRecords, l.key, version, func() (*own, error) {
			found := ownRecord(b, rows.of(b.ID, preparations, today), rows.garden, rows.library, day)
			if found != nil {
				found.since = version
			}
			kept, _, _ := cache.Last[*own](l.cache, ownRecords, l.key)
			return found.asBefore(kept), nil
		})
		if record == nil {
			continue
		}
		l.own = *record
		out.ByBed[b.ID], out.list = l, append(out.list, l)
	}
	return out, nil
}

// ownRecord returns the record that a bed's lesson is drawn from; nil without a reading with a pH.
func ownRecord(b garden.Bed, n noted, g garden.Garden, l garden.Library, day quantity.Day) *own {
	readings := teaches(n.readings, b.LearnsFrom, day)
	if len(readings) == 0 {
		return nil
	}
	out := &own{Record: forecast.Record{Ground: n.ground(b, g.SoilTable, day), Climate: g.Warmth(), Day: day, Readings: readings,
		Grown: n.grown(l, 0, day)}, Method: g.Methods().Buffering}
	out.Record.Ground, _ = out.Record.Ground.AsFound()
	out.Record.Ground = out.Record.Ground.Resolved(standsSince(n.plantings, l, day))
	for i := range n.applications {
		if a := &n.applications[i]; a.Date <= day {
			out.Record.Applied = AppendPut(out.Record.Applied, a)
		}
	}
	if mg := g.Alkalinity(); mg != nil {
		out.Record.Water.Alkalinity = *mg
	}
	var err error
	if out.Buffer, err = out.Record.Method(out.Method); err != nil {
		// A method that lacks a fact of this bed is replaced by the table, which needs none.
		if out.Method = soil.ByTable; out.Method == g.Methods().Buffering {
			return nil
		}
		if out.Buffer, err = out.Record.Method(out.Method); err != nil {
			return nil
		}
	}
	out.whole = out.Record.Model(out.Buffer, false)
	return out
}

// teaches returns the readings with a pH up to a day; after a reset of learning, from the last
// reading before the reset on.
func teaches(all []garden.Reading, from, day quantity.Day) (out []soil.Reading) {
	for i := range all {
		x := &all[i]
		if x.PH == nil || x.Date > day || !x.Stands() {
			continue
		}
		if x.Date <= from {
			out = out[:0]
		}
		out = append(out, x.Soil())
	}
	return out
}

// AppendPut appends an application or planned task with its batch.
func AppendPut(all []forecast.Application, a *garden.Application) []forecast.Application {
	put, ok := a.Put()
	if !ok {
		return all
	}
	x := forecast.Application{Application: put}
	x.Batch = batchName(a.BatchID)
	return append(all, x)
}

// batchName returns a batch's id in a forecast; "" without a batch.
func batchName(id *int64) string {
	if id == nil {
		return ""
	}
	return fmt.Sprintf("batch %d", *id)
}

// SurpriseOf returns a bed's last test if it is surprising by the bed's own record alone, or nil.
func SurpriseOf(r Reader, bed int64, day quantity.Day) (*forecast.Surprise, error) {
	b, err := garden.Get[garden.Bed](r, bed)
	if err != nil {
		return nil, err
	}
	rows := teachers{noted: map[int64]noted{}}
	if rows.garden, err = r.Garden(); err != nil {
		return nil, err
	}
	if rows.library, err = garden.LibraryOf(r); err != nil {
		return nil, err
	}
	if err := rows.read(r, []int64{bed}); err != nil {
		return nil, err
	}
	if record := ownRecord(b, rows.noted[bed], rows.garden, rows.library, day); record != nil {
		return (&Lesson{own: *record}).Surprise(), nil
	}
	return nil, nil
}
