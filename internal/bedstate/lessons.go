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

// Lesson is what a bed's own record has taught, its neighbours' beside it.
type Lesson struct {
	own
	// model is the whole record without readings that surprised and are left out, sifted what was made of those.
	model   forecast.Model
	sifted  forecast.Sifted
	sifting sync.Once
	// key is what is found of it is kept by, at the version since; withOthers is the same with what
	// other beds say.
	withOthers string
	key        lessonOn
	cache      *cache.Cache
	all        *Lessons
	at         int
	once       sync.Once
	taught     forecast.Model
	learned    forecast.Learned
	tested     sync.Once
	checks     []forecast.Check
}

// own is a bed's own record, from which its lesson is drawn.
type own struct {
	Record forecast.Record
	// Method is the one that it is reported beside, Buffer that method applied to its ground.
	Method soil.LimeMethod
	Buffer soil.Buffering
	// whole is the record as the forecast has it, without what is planned and without what others say.
	whole forecast.Model
	// since is the bed's version at which it came to be as it is: what is found of it is kept by that.
	since string
}

// asBefore returns what was kept of the bed in the place of what was found again, where a change
// (of its note, its name or its place) left all that a lesson rests on as it was.
func (o *own) asBefore(kept *own) *own {
	if o == nil || kept == nil || o.Method != kept.Method || !reflect.DeepEqual(o.Record, kept.Record) {
		return o
	}
	return kept
}

// sift finds the readings that surprised, once.
func (l *Lesson) sift() {
	l.sifting.Do(func() {
		l.sifted, _ = cache.Get(l.cache, siftings, l.key, l.since, func() (forecast.Sifted, error) { return l.whole.Sift(), nil })
		l.model = l.whole.Without(&l.sifted)
	})
}

// Surprise returns the bed's last test where it lies far from what was expected and waits to be
// confirmed; nil where none does.
func (l *Lesson) Surprise() *forecast.Surprise {
	if l == nil {
		return nil
	}
	l.sift()
	return l.sifted.Open
}

// Verdict returns what the reading of a day said of a surprising test before it; false where it
// confirmed none.
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

// Out reports whether a reading is left out: it surprised, and was not confirmed.
func (l *Lesson) Out(r *garden.Reading) bool {
	if l == nil || r.PH == nil {
		return false
	}
	l.sift()
	x := r.Soil()
	return l.sifted.Out(&forecast.Read{Date: x.Date, PH: x.Water(), SD: x.SD(), Method: x.Method})
}

// Joins reports whether a reading of another day may be joined with that of a day.
func (l *Lesson) Joins(day, other quantity.Day) bool {
	if l == nil {
		return true
	}
	l.sift()
	return l.sifted.Beside(day, other)
}

// learn asks the others once, and then the bed.
func (l *Lesson) learn() {
	l.sift()
	l.once.Do(func() {
		l.taught = l.model
		if !l.all.alone {
			l.taught.Others = l.all.gathered().Others(l.at)
		}
		l.withOthers = fmt.Sprint(l.since, l.taught.Others)
		find := func() (forecast.Learned, error) { return forecast.Learn(&l.taught), nil }
		l.learned, _ = cache.Get(l.cache, learnings, l.key, l.withOthers, find)
	})
}

// Version changes with all that the lesson rests on; Cache keeps what is found of it.
func (l *Lesson) Version() string {
	l.learn()
	return l.withOthers
}

// Cache keeps what is found of the lesson; nil where nothing is kept.
func (l *Lesson) Cache() *cache.Cache { return l.cache }

// Model returns the record as the forecast has it, without what is planned.
func (l *Lesson) Model() *forecast.Model {
	l.learn()
	return &l.taught
}

// Learned returns what the bed has taught.
func (l *Lesson) Learned() *forecast.Learned {
	l.learn()
	return &l.learned
}

// Planned returns a record of the bed with what is planned, without the readings that are left out.
func (l *Lesson) Planned(r *forecast.Record) forecast.Model {
	l.sift()
	b := r.Model(l.Buffer, true)
	return b.Without(&l.sifted)
}

// Course returns the middle line of the bed's forecast from its last reading on, without what is
// planned.
func (l *Lesson) Course() forecast.Course {
	l.learn()
	c, _ := cache.Get(l.cache, courses, l.key, l.withOthers, func() (forecast.Course, error) {
		c := forecast.CourseOf(&l.taught, &l.learned)
		c.Pools = slices.Clip(c.Pools) // what is planned is added to a copy
		return c, nil
	})
	return c
}

// With returns that line with what is planned on it, each batch as strong as it has proved.
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

// Together returns what the beds of the garden say together.
func (l *Lesson) Together() forecast.Shared { return l.all.Shared() }

// Got returns what beds together say of a batch, in the logarithm of how strong it is beside what
// it was computed as, and how many got it.
func Got(s forecast.Shared, batch int64) (x forecast.Normal, beds int, ok bool) {
	x, ok = s.Strength[batchName(&batch)]
	return x, s.Beds[batchName(&batch)], ok
}

// Stronger returns how strong a batch has proved beside what it is computed as, in all beds that
// got it.
func (l *Lesson) Stronger(batch int64) float64 { return l.Learned().Stronger(batchName(&batch)) }

// Checks returns the promises that were tested, oldest first.
func (l *Lesson) Checks() []forecast.Check {
	if l == nil {
		return nil
	}
	l.learn()
	l.tested.Do(func() { l.checks = forecast.Checks(&l.taught, &l.learned) })
	return l.checks
}

// Last returns the promise that the reading of a day tested; false where it tested none.
func (l *Lesson) Last(day quantity.Day) (k forecast.Check, ok bool) {
	all := l.Checks()
	if len(all) == 0 || all[len(all)-1].Date != day {
		return k, false
	}
	return all[len(all)-1], true
}

// Beside returns what a dose follows of it; nil where that does not count yet, or where there is no
// lesson.
func (l *Lesson) Beside() *soil.Learned {
	if l == nil {
		return nil
	}
	return l.Learned().Beside(l.Method)
}

// Lessons are those of all beds that were read, by bed. What they say together is asked for once it is wanted.
type Lessons struct {
	ByBed map[int64]*Lesson
	list  []*Lesson
	// alone is set for a day that is past: what beds say of each other by then is not asked for.
	alone bool
	once  sync.Once
	said  *forecast.Together
}

// gathered returns what all beds say.
func (s *Lessons) gathered() *forecast.Together {
	s.once.Do(func() {
		models, said := make([]forecast.Model, len(s.list)), make([]forecast.Evidence, len(s.list))
		forecast.Each(len(s.list), func(i int) {
			l := s.list[i]
			l.sift()
			models[i], said[i] = l.model, l.says()
		})
		s.said = forecast.Gather(models, said)
	})
	return s.said
}

// says returns what the bed itself says.
func (l *Lesson) says() forecast.Evidence {
	said, _ := cache.Get(l.cache, sayings, l.key, l.since, func() (forecast.Evidence, error) { return l.model.Evidence(), nil })
	return said
}

// Learn computes all of them, as many at once as there are processors.
func (s *Lessons) Learn() {
	s.gathered()
	forecast.Each(len(s.list), func(i int) { s.list[i].learn() })
}

// Shared returns what the beds say together.
func (s *Lessons) Shared() forecast.Shared { return s.gathered().Shared() }

// What is kept of lessons: those of a day, and of each bed the readings that surprised, what it says,
// and what it has taught beside what the others say. There is room for two passes over a large garden.
var (
	lessonLists = cache.Kind{Name: "lessons", Room: 8}
	ownRecords  = cache.Kind{Name: "own records", Room: 1000}
	siftings    = cache.Kind{Name: "sifted", Room: 1000}
	sayings     = cache.Kind{Name: "said", Room: 1000}
	learnings   = cache.Kind{Name: "learned", Room: 1000}
	courses     = cache.Kind{Name: "courses", Room: 1000}
)

// lessonsOn is what lessons are kept by, lessonOn what is found of one bed's.
type (
	lessonsOn [2]quantity.Day
	lessonOn  struct {
		bed        int64
		day, today quantity.Day
	}
)

// LessonsOf returns what the beds of a garden have taught up to a day, or up to today where that is
// to come.
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

// like reports whether others rest on the same records: then all that was found of those holds of these.
func (s *Lessons) like(others *Lessons) bool {
	return slices.EqualFunc(s.list, others.list, func(a, b *Lesson) bool { return a.key == b.key && a.since == b.since })
}

// learn makes the lessons of all beds; what is found of each is kept at its version.
func learn(r Reader, day, today quantity.Day) (*Lessons, error) {
	rows, err := teachersOf(r)
	if err != nil {
		return nil, err
	}
	turnings, err := turningsIn(r)
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
			found := ownRecord(b, rows.of(b.ID, turnings, today), rows.garden, rows.library, day)
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

// ownRecord returns what a bed's lesson is drawn from; nil where it has no reading with a pH.
func ownRecord(b garden.Bed, n noted, g garden.Garden, l garden.Library, day quantity.Day) *own {
	readings := teaches(n.readings, b.TaughtFrom, day)
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
		// A method that lacks a fact of this bed: it is reported beside the table, that needs none.
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

// teaches returns the readings with a pH up to a day: the last of those from before learning was
// begun again is where it begins.
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

// AppendPut adds something that was applied, or is planned, with its batch.
func AppendPut(all []forecast.Application, a *garden.Application) []forecast.Application {
	put, ok := a.Put()
	if !ok {
		return all
	}
	x := forecast.Application{Application: put}
	x.Batch = batchName(a.BatchID)
	return append(all, x)
}

// batchName returns what a batch is called in a forecast; "" where it is of none.
func batchName(id *int64) string {
	if id == nil {
		return ""
	}
	return fmt.Sprintf("batch %d", *id)
}

// SurpriseOf returns a bed's last test where it surprises, found from its own records alone; nil
// where it does not.
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
