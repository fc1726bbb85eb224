package bedstate

import (
	"context"
	"math"
	"slices"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Service reads beds and gardens as of a day. It has no clock.
type Service struct{ Store garden.Store }

// views caches the garden's views by day.
var views = cache.Kind{Name: "views", Room: 16}

// View is the whole garden on a day.
type View struct {
	Garden garden.Garden
	Today  quantity.Day
	Beds   []State
	// Tasks are those still to do, in the order of their days.
	Tasks []garden.Task
	// Held are the applications among them that are held back, Moved those that do not
	// stand on the day that they were planned for.
	Held  map[int64]quantity.Day
	Moved map[int64]Move
	// planted are the days to which steps of preparations put plantings.
	planted plantingDays
	// Last are the last days on which applications among them may be applied, where their window closes soon.
	Last map[int64]quantity.Day
	// Overtaken are the applications planned from an older reading, with the newest one.
	Overtaken map[int64]garden.Overtaken
	// Rests are all beds' rests that wait for a test.
	Rests   []Rest
	Library garden.Library
	Marks   []garden.Mark
	// Batches are the batches in stock, by number.
	Batches map[int64]garden.Batch
	// noted are the records behind the states, by bed; beds are all beds, including those off the
	// plan.
	noted map[int64]noted
	beds  []garden.Bed
	rests []garden.WaitingRest
	// windows caches the windows computed for this view.
	windows *windows
}

// ToDo returns the tasks without held applications.
func (v View) ToDo() []garden.Task {
	out := make([]garden.Task, 0, len(v.Tasks))
	for _, t := range v.Tasks {
		if _, held := v.Held[t.ID]; !held {
			out = append(out, t)
		}
	}
	return out
}

// Count returns the number of beds with a verdict.
func (v View) Count(s bed.Standing) int {
	n := 0
	for _, p := range v.Beds {
		if p.Standing == s && p.Bed.Kind != garden.KindHeap {
			n++
		}
	}
	return n
}

// Working returns how many of those have something reacting.
func (v View) Working(s bed.Standing) int {
	n := 0
	for _, p := range v.Beds {
		if p.Standing == s && p.AtWork != nil {
			n++
		}
	}
	return n
}

// Bed returns the state of a bed.
func (v View) Bed(bed int64) (State, bool) {
	for _, p := range v.Beds {
		if p.Bed.ID == bed {
			return p, true
		}
	}
	return State{}, false
}

// Names returns the beds on the plan on a day, in order.
func (svc Service) Names(ctx context.Context, day quantity.Day) (g garden.Garden, beds []garden.Bed, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if g, err = r.Garden(); err != nil {
			return err
		}
		beds, err = standingOn(r, day)
		return err
	})
	return g, beds, err
}

// standingOn returns the beds that exist on a day.
func standingOn(r Reader, day quantity.Day) (beds []garden.Bed, err error) {
	all, err := garden.All[garden.Bed](r)
	for _, b := range all {
		if b.Retired == 0 || b.Retired > day {
			beds = append(beds, b)
		}
	}
	return beds, err
}

// View returns the garden as of today.
func (svc Service) View(ctx context.Context, today quantity.Day) (v View, err error) {
	return svc.view(ctx, today, today)
}

// ViewOn returns the garden as last measured on a day, with today's tasks.
func (svc Service) ViewOn(ctx context.Context, today, day quantity.Day) (View, error) {
	return svc.view(ctx, today, day)
}

func (svc Service) view(ctx context.Context, today, day quantity.Day) (v View, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { v, err = svc.ViewIn(r, today, day); return err })
	return v, err
}

// ViewIn is ViewOn within a read transaction. The view is shared between callers and must not be
// modified.
func (svc Service) ViewIn(r Reader, today, day quantity.Day) (View, error) {
	return garden.Cached(r, views, [2]quantity.Day{today, day}, func() (View, error) { return readView(r, today, day, svc.ViewIn) })
}

// readView reads the view of a day. Tasks are as in today's view, which `other` returns: their days
// depend on the beds' state today.
func readView(r Reader, today, day quantity.Day, other func(Reader, quantity.Day, quantity.Day) (View, error)) (v View, err error) {
	v.Today = day
	if v.Garden, err = r.Garden(); err != nil {
		return v, err
	}
	if v.Tasks, err = garden.Where[garden.Task](r, "state", garden.Open); err != nil {
		return v, err
	}
	if v.Held, err = heldOn(r, day); err != nil {
		return v, err
	}
	overtaken, err := r.Overtaken()
	if err != nil {
		return v, err
	}
	v.Overtaken = make(map[int64]garden.Overtaken, len(overtaken))
	for _, o := range overtaken {
		v.Overtaken[o.Task] = o
	}
	if v.Library, err = garden.LibraryOf(r); err != nil {
		return v, err
	}
	if v.Marks, err = garden.All[garden.Mark](r); err != nil {
		return v, err
	}
	if v.Batches, err = BatchesByID(r); err != nil {
		return v, err
	}
	if day == today {
		if err := v.judge(r, day, today); err != nil {
			return v, err
		}
		v.Moved = v.ahead(v.Tasks)
		v.replant()
		v.Rests = restsOf(v.rests, v.Tasks, today)
		return v, nil
	}
	now, err := other(r, today, today)
	if err != nil {
		return v, err
	}
	v.Tasks, v.Moved, v.Last, v.Rests, v.planted = now.Tasks, now.Moved, now.Last, now.Rests, now.planted
	return v, v.judge(r, day, today)
}

// cropDays is how far ahead plantings matter; notedDays is how far back applications and crops
// matter: a potassium test is valid for two years.
const (
	cropDays  quantity.Day = 640
	notedDays quantity.Day = 800
)

// judge computes the state of every bed on the plan on a day.
func (v *View) judge(r Reader, day, today quantity.Day) error {
	beds, err := garden.All[garden.Bed](r)
	if err != nil {
		return err
	}
	preparations, err := openPreparations(r)
	if err != nil {
		return err
	}
	ps, err := r.PlantingsAround((day - notedDays).String(), (day + cropDays).String())
	if err != nil {
		return err
	}
	rs, err := r.LatestReadings(day.String(), int(soil.JoinWithin))
	if err != nil {
		return err
	}
	as, err := r.ApplicationsSince((day - notedDays).String())
	if err != nil {
		return err
	}
	planted := ByBed(ps, func(p garden.Planting) int64 { return p.BedID })
	readings := ByBed(rs, func(x garden.Reading) int64 { return x.BedID })
	put := ByBed(as, func(a garden.Application) int64 { return a.BedID })
	lessons, err := LessonsOf(r, day, today)
	if err != nil {
		return err
	}
	potassium, err := potassiumOf(r, preparations, day, today)
	if err != nil {
		return err
	}
	rests, err := r.RestsWaiting(0)
	if err != nil {
		return err
	}
	waiting := ByBed(rests, func(x garden.WaitingRest) int64 { return x.BedID })
	v.beds, v.rests, v.windows = beds, rests, &windows{}
	v.noted = make(map[int64]noted, len(beds))
	there := slices.DeleteFunc(slices.Clone(beds), func(b garden.Bed) bool { return b.Retired != 0 && b.Retired <= day })
	for _, b := range there {
		n := noted{planted[b.ID], readings[b.ID], put[b.ID], preparations[b.ID], lessons.ByBed[b.ID], potassium[b.ID], waiting[b.ID]}
		n.unplanted(today)
		n.replant(v.planted, today)
		v.noted[b.ID] = n
	}
	v.Beds = make([]State, len(there))
	forecast.Each(len(there), func(i int) { v.Beds[i] = newState(there[i], v.noted[there[i].ID], v.Garden, v.Library, day) })
	return nil
}

// Record is one bed with all its records, and its state on a day.
type Record struct {
	Bed       garden.Bed
	State     State
	Plantings []garden.Planting
	// Readings are the valid readings, Struck those struck out; Codes are the sample labels of
	// readings.
	Readings, Struck []garden.Reading
	Codes            map[int64]string
	Applications     []garden.Application
	Tasks            []garden.Task
	// Held are the held applications with the day of the striking out; Moved the open tasks not on
	// their planned day.
	Held  map[int64]quantity.Day
	Moved map[int64]Move
	// Rests are the parts of doses that wait for a test.
	Rests   []Rest
	Library garden.Library
	// Lesson is what it has shown; nil if it was never read.
	Lesson *Lesson
	k      *potassium
	aims   []garden.PlanAim
	rests  []garden.WaitingRest
}

// noted returns the record's lists.
func (rec Record) noted() noted {
	return noted{rec.Plantings, rec.Readings, rec.Applications, rec.State.Preparations, rec.Lesson, rec.k, rec.rests}
}

// AllBeds returns all beds, including those off the plan.
func (v View) AllBeds() []garden.Bed { return v.beds }

// Asked returns the dose request of the bed on a day, based on a reading and those combined with
// it.
func (rec *Record) Asked(g garden.Garden, used garden.Reading, beside []garden.Reading, day quantity.Day) dose.Request {
	q := rec.State.asked(g, rec.noted(), rec.Library, used, beside, day)
	if q.Ground.Learned = rec.Lesson.Beside(); q.Ground.Learned != nil {
		q.Methods.Buffering = soil.ByLearned
	}
	q.Surprise = rec.Lesson.Surprise()
	if c := rec.correction(day); c != nil {
		q.Begun = true
		if math.Abs(float64(c.Target-rec.State.Crop.Aim)) > sameAim {
			q.Target = &c.Target // an own crop
		}
	}
	return q
}

// sameAim is the largest difference of equal aims.
const sameAim = 0.005

// Beside returns the readings up to a day that are combined with one.
func (rec *Record) Beside(used garden.Reading, day quantity.Day) []garden.Reading {
	return rec.noted().beside(&used, day)
}

// Ledger returns all of what was applied.
func (rec *Record) Ledger() ledger.Ledger { return rec.noted().ledger() }

// Judge recomputes the bed's state after records were added.
func (rec *Record) Judge(g garden.Garden, day quantity.Day) {
	rec.k = nil
	if record := ownRecord(rec.Bed, rec.noted(), g, rec.Library, day); record != nil {
		fresh := &Lesson{own: *record, all: &Lessons{alone: true}}
		if was := rec.Lesson; was != nil {
			fresh.all, fresh.at = was.all, was.at
		}
		rec.Lesson = fresh
	}
	rec.State = newState(rec.Bed, rec.noted(), g, rec.Library, day)
}

// Coming returns the bed with what is reacting and what is planned.
func (rec *Record) Coming(g garden.Garden, batches map[int64]garden.Batch, today quantity.Day) Coming {
	c := Coming{State: rec.State, Garden: g, Library: rec.Library, noted: rec.noted(), Today: today, Batches: batches, Moved: rec.Moved}
	for _, t := range rec.Tasks {
		if _, held := rec.Held[t.ID]; t.State == garden.Open && !held {
			c.Open = append(c.Open, t)
		}
	}
	return c
}

// Named returns one bed without readings and applications.
func (svc Service) Named(ctx context.Context, id int64) (b garden.Bed, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		b, err = garden.Get[garden.Bed](r, id)
		return err
	})
	return b, err
}

// Bed returns one bed's record.
func (svc Service) Bed(ctx context.Context, id int64, today quantity.Day) (rec Record, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { rec, err = ReadBed(r, id, today, today); return err })
	return rec, err
}

// ReadBed reads a bed as of a day, with today's tasks.
func ReadBed(r Reader, id int64, day, today quantity.Day) (rec Record, err error) {
	if rec.Bed, err = garden.Get[garden.Bed](r, id); err != nil {
		return rec, err
	}
	if rec.Plantings, err = garden.Where[garden.Planting](r, "bed_id", id); err != nil {
		return rec, err
	}
	all, err := garden.Where[garden.Reading](r, "bed_id", id)
	if err != nil {
		return rec, err
	}
	rec.sort(all)
	samples, err := r.SamplesOfBed(id)
	if err != nil {
		return rec, err
	}
	rec.Codes = make(map[int64]string, len(samples))
	for _, s := range samples {
		rec.Codes[s.ID] = s.Code
	}
	if rec.Applications, err = garden.Where[garden.Application](r, "bed_id", id); err != nil {
		return rec, err
	}
	if rec.Tasks, err = garden.Where[garden.Task](r, "bed_id", id); err != nil {
		return rec, err
	}
	if rec.Held, err = heldOn(r, day); err != nil {
		return rec, err
	}
	open, err := rec.preparationsOf(r, id)
	if err != nil {
		return rec, err
	}
	rec.prepare(open, today)
	if rec.Library, err = garden.LibraryOf(r); err != nil {
		return rec, err
	}
	g, err := r.Garden()
	if err != nil {
		return rec, err
	}
	lessons, err := LessonsOf(r, day, today)
	if err != nil {
		return rec, err
	}
	rec.Lesson = lessons.ByBed[id]
	if rec.aims, err = r.PlanAims(id, today.AddMonths(-planMonths).String()); err != nil {
		return rec, err
	}
	if rec.rests, err = r.RestsWaiting(id); err != nil {
		return rec, err
	}
	rec.stand(g, day, today)
	return rec, nil
}

// sort splits readings into valid and struck out.
func (rec *Record) sort(all []garden.Reading) {
	for _, x := range all {
		if x.Stands() {
			rec.Readings = append(rec.Readings, x)
		} else {
			rec.Struck = append(rec.Struck, x)
		}
	}
}

// stand computes the bed's state on a day, and today's days of its tasks.
func (rec *Record) stand(g garden.Garden, day, today quantity.Day) {
	rec.State = newState(rec.Bed, rec.noted(), g, rec.Library, day)
	now := rec.State
	if day != today {
		now = newState(rec.Bed, rec.noted(), g, rec.Library, today)
	}
	rec.Moved = now.ahead(rec.Tasks, rec.Held)
	byDay(rec.Tasks)
	if n := rec.noted(); n.replant(now.plantingDays(rec.Tasks), today) {
		rec.Plantings, rec.State.Preparations = n.plantings, n.preparations
		rec.State = newState(rec.Bed, rec.noted(), g, rec.Library, day)
	}
	rec.Rests = restsOf(rec.rests, rec.Tasks, today)
}

// starts returns the sowings and plantings that matter on a day, past and coming.
func starts(ps []garden.Planting, l garden.Library, today quantity.Day) (out []calendar.Start) {
	for _, p := range ps {
		if p.Cleared == 0 || p.Cleared > today {
			c, _ := l.Find(p.Crop)
			out = append(out, calendar.StartOf(c, p.Sown, p.PlantedOut))
		}
	}
	return out
}

// sowing returns the next sowing, and when the ground was last cleared.
func sowing(p State, ps []garden.Planting, today quantity.Day) (next, cleared quantity.Day) {
	if len(p.Next) > 0 && !p.Crop.Is(crop.Perennial) {
		for _, x := range p.Next {
			if x.Sown > today {
				next = x.Sown
				break
			}
		}
	}
	if len(p.Now) == 0 {
		for _, x := range ps {
			if x.Cleared != 0 && x.Cleared <= today {
				cleared = max(cleared, x.Cleared)
			}
		}
		return next, cleared
	}
	// The ground is clear when the last standing crop is off.
	for _, x := range p.Now {
		if x.Cleared == 0 {
			return next, 0
		}
		cleared = max(cleared, x.Cleared)
	}
	return next, cleared
}
