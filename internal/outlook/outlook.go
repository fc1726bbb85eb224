// Package outlook makes the forecast of a bed from its records: past readings with what was
// expected of them, what was learned, and the years ahead with and without the plan.
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

// Service makes forecasts and reports.
type Service struct {
	Store garden.Store
	// Work computes a large garden beside its pages; nil: within them.
	Work *Work
}

// Reader is what the store is asked here.
type Reader interface{ bedstate.Reader }

// ErrNoReading is returned for a bed that has no reading with a pH.
var ErrNoReading = errors.New("this bed has no reading with a pH yet")

// Ahead is how far ahead a bed is forecast, months.
const Ahead = 60

// Forecast is a bed with where it has come from and where it goes.
type Forecast struct {
	Record bedstate.Record
	Garden garden.Garden
	Today  quantity.Day
	// Batches are all that are known of, by number.
	Batches map[int64]garden.Batch
	// Model is the bed as it is forecast, Run with what is planned, Idle with nothing more put on.
	Model     forecast.Model
	Run, Idle forecast.Result
	// K and KIdle are the same of its potassium, none where it was never read; Scale is what that is judged by.
	K, KIdle []forecast.Spread
	Scale    soil.PotassiumScale
	KMoved   KMoved
	Pulls    []forecast.Pull
	Checks   []forecast.Check
	// Moves are what moved it in the last year.
	Moves []forecast.Move
	// Layers are those that it was read in, where they are a series.
	Layers []LayerLine
	// Planned is how many applications that move pH are to come.
	Planned int
	record  forecast.Record
}

// LayerLine is a layer with its pH through the years.
type LayerLine struct {
	soil.Layer
	PH []forecast.Spread
}

// KMoved is what came and went of potash between the first and the last reading of it, g K₂O/m² a year.
type KMoved struct {
	First, Last      forecast.PotassiumReading
	Brought, Carried float64
	// Named is what of the change between the two readings that comes to, ppm.
	Named float64
}

// Method returns the one that the bed is reported beside.
func (s *Forecast) Method() soil.LimeMethod { return s.Record.Lesson.Method }

// Bed reports the seasons of a bed; ErrNoReading where it has no reading with a pH.
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

// bedSeasons are the seasons of beds, as pages tell them.
var bedSeasons = cache.Kind{Name: "seasons", Room: 32}

// seasonOn is what a season is kept by.
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

// run runs the bed, with what is planned and without.
func (s *Forecast) run() {
	s.record = s.Record.Lesson.Record
	s.record.Plan = s.plan()
	until := s.Today.AddMonths(Ahead)
	model := s.Record.Lesson.Model()
	s.Model, s.Run = s.With(s.record.Plan)
	s.Idle = forecast.Run(model, until)
	s.Pulls, s.Checks = s.record.Pulls(), s.Record.Lesson.Checks()
	s.Moves = forecast.Moves(model, s.Pulls, s.Record.Lesson.Learned(), s.Today-quantity.Day(365), s.Today)
	for i := range s.record.Plan {
		if s.record.Plan[i].MovesPH() {
			s.Planned++
		}
	}
	s.potassium(until)
	layers, beds, err := s.record.Layers(s.Record.Lesson.Method, true)
	if err != nil || len(beds) == 0 { // a method that the layers do not carry: the whole is reported alone
		return
	}
	for i, run := range forecast.RunLayers(beds, until) {
		s.Layers = append(s.Layers, LayerLine{layers[i], run.PH})
	}
}

// With forecasts the bed with other applications to come.
func (s *Forecast) With(plan []forecast.Application) (forecast.Model, forecast.Result) {
	rec := s.record
	rec.Plan = plan
	b := s.Record.Lesson.Planned(&rec)
	b.Others = s.Record.Lesson.Model().Others
	return b, forecast.Run(&b, s.Today.AddMonths(Ahead))
}

// Planning returns the applications that are in the year, as a forecast takes them.
func (s *Forecast) Planning() []forecast.Application { return s.record.Plan }

// plan returns the applications that are in the year.
func (s *Forecast) plan() []forecast.Application {
	return s.Record.Coming(s.Garden, s.Batches, s.Today).Plan()
}

// Potassium is a bed's potassium through the years; no Line where it was never read.
type Potassium struct {
	Reads []forecast.PotassiumReading
	Line  []forecast.Spread
	Scale soil.PotassiumScale
	moves []forecast.PotassiumMove
	rise  float64
}

// PotassiumOf reports it from a bed's record up to a day, with what is planned; day is one that its line is reported on too.
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
	p.Scale, _ = soil.PotassiumBands(rec.Ground, last.Extractant, last.KRange)
	k := rec.Potassium(true, until)
	k.Also = []quantity.Day{day}
	p.Reads, p.moves, p.rise = k.Reads, k.Moves, k.Rise
	p.Line = forecast.RunPotassium(&k, until)
	return p
}

// potassium forecasts it, and sums up what moved it.
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
