package dosejson

import (
	"fmt"
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Bounds of a learned factor and of its standard deviation.
const (
	leastFactor, mostFactor = 0.1, 10
	leastLogSD, mostLogSD   = 0.01, 1
)

// learn determines what the bed has shown, if the request uses it: as given, else from its
// readings and applications.
func (r Request) learn(q *dose.Request) error {
	l := Learned{}
	if r.Method != nil && r.Method.Learned != nil {
		l = *r.Method.Learned
	}
	if q.Methods.Buffering != soil.ByLearned {
		if r.Method != nil && r.Method.Learned != nil {
			return bad("school.learned", "it goes with the buffering learned only")
		}
		return nil
	}
	others := slices.DeleteFunc(slices.Clone(soil.LimeMethods), func(s soil.LimeMethod) bool { return s == soil.ByLearned })
	beside, err := pick("school.learned.beside", l.Beside, soil.ByTable, others)
	if err != nil {
		return err
	}
	switch {
	case l.Factor == nil && l.LogSD == nil && l.Tests == nil && l.Level == nil && l.LevelSD == nil && l.Joint == nil:
		return r.shown(q, beside)
	case l.Factor == nil || !(*l.Factor >= leastFactor && *l.Factor <= mostFactor):
		return bad("school.learned.factor", "from %v to %v is needed", leastFactor, mostFactor)
	case l.LogSD == nil || !(*l.LogSD >= leastLogSD && *l.LogSD <= mostLogSD):
		return bad("school.learned.log_sd", "from %v to %v is needed", leastLogSD, mostLogSD)
	case l.Tests == nil || *l.Tests < 1:
		return bad("school.learned.tests", "at least one is needed")
	case (l.Level == nil) != (l.LevelSD == nil):
		return bad("school.learned.level_sd", "level and level_sd go together")
	case l.Level != nil && !(quantity.PH(*l.Level) >= dose.MinPH && quantity.PH(*l.Level) <= dose.MaxPH):
		return bad("school.learned.level", "a pH from 3 to 10 is needed")
	case l.LevelSD != nil && !(*l.LevelSD >= leastLogSD && *l.LevelSD <= mostLogSD):
		return bad("school.learned.level_sd", "from %v to %v is needed", leastLogSD, mostLogSD)
	}
	q.Ground.Learned = &soil.Learned{Beside: beside, Factor: *l.Factor, LogSD: *l.LogSD, Tests: *l.Tests}
	if len(l.Joint) > 0 && l.Level == nil {
		return bad("school.learned.level", "it goes with joint")
	}
	for i, x := range l.Joint {
		if !(x.Weight > 0 && x.Weight <= 1 && x.SD > 0 && x.SD <= mostLogSD && x.Factor >= leastFactor && x.Factor <= mostFactor &&
			quantity.PH(x.PH) >= dose.MinPH && quantity.PH(x.PH) <= dose.MaxPH) {
			return bad(fmt.Sprintf("school.learned.joint[%d]", i), "a weight to 1, a pH with its sd and a factor are needed")
		}
		q.Ground.Learned.Joint = append(q.Ground.Learned.Joint, soil.Draw{Weight: x.Weight, Start: quantity.PH(x.PH), SD: x.SD, Factor: x.Factor})
	}
	if l.Level != nil {
		q.Ground.Learned.Level, q.Ground.Learned.LevelSD, q.Ground.Learned.Day = quantity.PH(*l.Level), *l.LevelSD, q.Reading.Date
	}
	return nil
}

// shown learns from the request's record.
func (r Request) shown(q *dose.Request, beside soil.LimeMethod) error {
	rec := forecast.Record{Ground: q.Record.Worked(), Climate: q.Climate, Day: q.Date, Readings: append([]soil.Reading{q.Reading}, q.More...)}
	rec.Readings = slices.DeleteFunc(rec.Readings, func(x soil.Reading) bool { return x.Method == soil.Fizz || x.PH == 0 })
	slices.SortStableFunc(rec.Readings, func(x, y soil.Reading) int { return int(x.Date - y.Date) })
	if len(rec.Readings) == 0 {
		return bad("school.buffering", "no reading with a figure: nothing is learned")
	}
	for i := range r.History {
		x, err := r.History[i].on("history", i)
		if err != nil {
			return err
		}
		rec.Applied = append(rec.Applied, x)
	}
	for _, g := range q.Grown {
		rec.Grown = append(rec.Grown, ledger.Grown{Crop: g.Crop, From: g.From, To: g.To})
	}
	if q.Water != nil {
		rec.Water.Alkalinity = float64(*q.Water)
	}
	last := rec.Readings[len(rec.Readings)-1]
	if first := rec.Readings[0].Date; last.Date > first.AddMonths(12*mostForecastYears) {
		return bad("readings", "a record goes over %d years at most", mostForecastYears)
	}
	method, err := rec.Method(beside)
	if err != nil {
		return bad("school.learned.beside", "%v", err)
	}
	b, sifted := rec.Sift(method)
	q.Surprise = sifted.Open
	q.More = slices.DeleteFunc(q.More, func(x soil.Reading) bool { return x.PH > 0 && !sifted.Beside(q.Reading.Date, x.Date) })
	learned := forecast.Learn(&b)
	if q.Ground.Learned = learned.Beside(beside); q.Ground.Learned == nil {
		// The base method answers, and says so.
		q.Methods.Buffering, q.Unlearned = beside, &learned.Tests
	}
	return nil
}
