// Package outlook forecasts a bed from its records: past readings and their forecasts, what was
// learned, and the years ahead with and without the plan.
package outlook

import (
	"context"
	"errors"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Service computes forecasts and reports.
type Service struct {
	Store garden.Store
	// Work computes large gardens in the background; nil: within the request.
	Work *Work
}

// Reader is the set of queries that this package needs of a store.
type Reader interface{ bedstate.Reader }

// ErrNoReading is returned for a bed without a reading with a pH.
var ErrNoReading = errors.New("this bed has no reading with a pH yet")

// Ahead is the length of the forecast in months.
const Ahead = 60

// Forecast is a bed's past and future.
type Forecast struct {
	Record bedstate.Record
	Garden garden.Garden
	Today  quantity.Day
	// Batches are all known batches, by number.
	Batches map[int64]garden.Batch
	// Model is the forecast's input, Run the result with planned work, Idle without.
	Model     forecast.Model
	Run, Idle forecast.Result
	// K and KIdle are the same for potassium, nil without readings; Scale has its ranges.
	K, KIdle []forecast.Spread
	Scale    soil.PotassiumScale
	KMoved   KMoved
	Pulls    []forecast.Pull
	Checks   []forecast.Check
	// Moves are the causes of last year's change.
	Moves []forecast.Move
	// Layers are the layers read, if they form a series.
	Layers []LayerLine
	// Planned is the number of coming applications that move pH.
	Planned int
	record  forecast.Record
}

// LayerLine is a layer's pH over time.
type LayerLine struct {
	soil.Layer
	PH []forecast.Spread
}

// KMoved is the potash that came and went between the first and the last reading, g K₂O/m² a year.
type KMoved struct {
	First, Last      forecast.PotassiumReading
	Brought, Carried float64
	// Named is the change that it explains, ppm.
	Named float64
}

// Method returns the lime method that the bed is compared with.
func (s *Forecast) Method() soil.LimeMethod { return s.Record.Lesson.Method }

// Bed returns a bed's forecast; ErrNoReading without a reading with a pH.
func (svc Service) Bed(ctx context.Context, bed int64, today quantity.Day) (s Forecast, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		s, err = garden.Cached(r, bedSeasons, seasonOn{bed, today}, func() (Forecast, error) { return read(r, bed, today) })
		return err
	})
	if err == nil && s.Record.Lesson == nil {
		err = ErrNoReading
	}
	return s, err
}

// bedSeasons caches forecasts.
var bedSeasons = cache.Kind{Name: "seasons", Room: 32}

// seasonOn is their cache key.
type seasonOn struct {
	bed   int64
	today quantity.Day
}

func read(r Reader, bed int64, today quantity.Day) (s Forecast, err error) {
	if s.Garden, err = r.Garden(); err != nil {
		return s, err
	}
	if s.Record, err = bedstate.ReadBed(r, bed, today, today); err != nil || s.Record.Lesson == nil {
		return s, err
	}
	if s.Batches, err = bedstate.BatchesByID(r); err != nil {
		return s, err
	}
	s.Today = today
	s.run()
	return s, nil
}

// run computes the forecasts with and without planned work.
func (s *Forecast) run() {
	s.record = s.Record.Lesson.Record
	s.record.Plan = s.plan()
	until := s.Today.AddMonths(Ahead)
	model := s.Record.Lesson.Model()
	s.Model, s.Run = s.With(s.record.Plan)
	s.Idle = forecast.Run(model, until, s.Today)
	s.Pulls, s.Checks = s.record.Pulls(), s.Record.Lesson.Checks()
	s.Moves = forecast.Moves(model, s.Pulls, s.Record.Lesson.Learned(), s.Today-quantity.Day(365), s.Today)
	for i := range s.record.Plan {
		if s.record.Plan[i].MovesPH() {
			s.Planned++
		}
	}
	s.potassium(until)
	layers, beds, err := s.record.Layers(s.Record.Lesson.Method, true)
	if err != nil || len(beds) == 0 { // the method does not apply to layers: only the whole is reported
		return
	}
	for i, run := range forecast.RunLayers(beds, until) {
		s.Layers = append(s.Layers, LayerLine{layers[i], run.PH})
	}
}

// With forecasts the bed with other planned applications.
func (s *Forecast) With(plan []forecast.Application) (forecast.Model, forecast.Result) {
	rec := s.record
	rec.Plan = plan
	b := s.Record.Lesson.Planned(&rec)
	b.Others = s.Record.Lesson.Model().Others
	return b, forecast.Run(&b, s.Today.AddMonths(Ahead), s.Today)
}

// Past returns a bed's level up to a day by all that is known then, by months and on the day itself;
// nil without a reading. All charts draw a bed's past from it or from a Forecast, whose past is the
// same. The line is shared between callers and must not be modified.
func Past(b *bedstate.Record, day quantity.Day) []forecast.Spread {
	if b.Lesson == nil {
		return nil
	}
	return bedstate.OfLesson(b.Lesson, wholePasts, day, func() []forecast.Spread { return forecast.Run(b.Lesson.Model(), day, day).PH })
}

// wholePasts caches the lines of Past: a run of the filter is most of the time of Ground and of a bed's pages.
var wholePasts = cache.Kind{Name: "whole pasts", Room: 200}

// Level returns the last of Past without the months before, for lists of many beds; ok is false
// without a reading.
func Level(b *bedstate.Record, day quantity.Day) (at forecast.Spread, ok bool) {
	if b.Lesson == nil {
		return at, false
	}
	levels := forecast.Levels(b.Lesson.Model(), []quantity.Day{day})
	if len(levels) == 0 {
		return at, false
	}
	course := b.Lesson.Course()
	return course.About(levels[0]), true
}

// Planning returns the planned applications as input of a forecast.
func (s *Forecast) Planning() []forecast.Application { return s.record.Plan }

// plan returns the planned applications.
func (s *Forecast) plan() []forecast.Application {
	return s.Record.Coming(s.Garden, s.Batches, s.Today).Plan()
}

// Potassium is a bed's potassium over time; no Line without readings.
type Potassium struct {
	Reads []forecast.PotassiumReading
	Line  []forecast.Spread
	Scale soil.PotassiumScale
	moves []forecast.PotassiumMove
	rise  float64
}

// PotassiumOf computes it from a bed's record up to a day, with planned work; `day` is an
// additional reported day.
func PotassiumOf(b *bedstate.Record, g garden.Garden, plan []forecast.Application, today, day, until quantity.Day) (p Potassium) {
	k := b.PotassiumRecord(g, today)
	if k == nil {
		return p
	}
	rec := *k
	rec.Plan = plan
	return potassiumOf(&rec, day, until)
}

func potassiumOf(rec *forecast.Record, day, until quantity.Day) (p Potassium) {
	last := rec.Readings[len(rec.Readings)-1]
	p.Scale, _ = soil.PotassiumRanges(rec.Ground, last.Extractant, last.KRange)
	k := rec.Potassium(true, until)
	k.Also = []quantity.Day{day}
	p.Reads, p.moves, p.rise = k.Reads, k.Moves, k.Rise
	p.Line = forecast.RunPotassium(&k, until)
	return p
}

// potassium forecasts it and sums what changed it.
func (s *Forecast) potassium(until quantity.Day) {
	with := PotassiumOf(&s.Record, s.Garden, s.record.Plan, s.Today, s.Today, until)
	idle := PotassiumOf(&s.Record, s.Garden, nil, s.Today, s.Today, until)
	s.K, s.KIdle, s.Scale = with.Line, idle.Line, with.Scale
	if len(idle.Reads) == 0 {
		return
	}
	s.KMoved.First, s.KMoved.Last = idle.Reads[0], idle.Reads[len(idle.Reads)-1]
	years := float64(s.KMoved.Last.Date-s.KMoved.First.Date) / 365
	if years <= 0 {
		return
	}
	for _, m := range idle.moves {
		if k2o := m.Within(s.KMoved.First.Date, s.KMoved.Last.Date) / years; k2o > 0 {
			s.KMoved.Brought += k2o
		} else {
			s.KMoved.Carried -= k2o
		}
	}
	s.KMoved.Named = (s.KMoved.Brought - s.KMoved.Carried) * years * idle.rise
}
