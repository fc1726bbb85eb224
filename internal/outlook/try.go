package outlook

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Try is what a bed would be given otherwise: goes to come, litres a square metre of the tap's water in a year, a crop each
// year; what is nil stays as it is.
type Try struct {
	Plan   []forecast.Application
	Litres *float64
	Crop   *crop.Crop
}

// Tried is where that would bring it.
type Tried struct {
	PH, K []forecast.Spread
}

// atOnce acts on the day that it is put on.
var atOnce = material.Reaction{}

// surely is the uncertainty of a change that is made on purpose, in the logarithm.
const surely = 0.01

// cropFrom and cropFor are when a crop of a try stands, from the first of the year on.
const (
	cropFrom quantity.Day = 120
	cropFor  quantity.Day = 160
)

// Try forecasts the bed as it would be given otherwise.
func (s *Forecast) Try(t Try) (out Tried) {
	rec := s.record
	rec.Plan = t.Plan
	until := s.Today.AddMonths(Ahead)
	b := s.Record.Lesson.Planned(&rec)
	b.Others = s.Record.Lesson.Model().Others
	for i := range t.Plan { // what comes slowly of a feed is no application, and no pull of the years that were
		if p := &t.Plan[i]; p.Drift() != 0 {
			b.Additions = append(b.Additions, forecast.Addition{Date: p.Date, CaCO3: float64(p.Drift()), Reacts: atOnce, Batch: "feeds",
				StrengthSD: surely})
		}
	}
	if more := s.otherwise(&t); more != 0 {
		for m := 1; m <= Ahead; m++ {
			b.Additions = append(b.Additions, forecast.Addition{Date: s.Today.AddMonths(m), CaCO3: more / 12, Reacts: atOnce, Batch: "otherwise",
				StrengthSD: surely})
		}
	}
	out.PH = forecast.Run(&b, until).PH
	if len(s.K) > 0 {
		kRec := *s.Record.PotassiumRecord(s.Garden, s.Today)
		kRec.Plan = t.Plan
		if t.Crop != nil {
			kRec.Coming = nil
			for y := s.Today.Year() + 1; y <= until.Year(); y++ {
				from := quantity.Date(y, 1, 1) + cropFrom
				kRec.Coming = append(kRec.Coming, ledger.Grown{Crop: *t.Crop, From: from, To: from + cropFor})
			}
		}
		out.K = potassiumOf(&kRec, s.Today, until).Line
	}
	return out
}

// otherwise returns how much more than now would pull the bed, g CaCO₃/m² a year.
func (s *Forecast) otherwise(t *Try) (more float64) {
	rec := s.record
	for _, p := range s.Pulls {
		switch {
		case p.ID == forecast.PullWater && t.Litres != nil, p.ID == forecast.PullCrop && t.Crop != nil:
			more -= p.Rate
		}
	}
	if t.Litres != nil {
		more += float64(ledger.WaterLime(quantity.Rate(*t.Litres*1000), rec.Water.Alkalinity))
	}
	if t.Crop != nil {
		more += forecast.RemovalPull(t.Crop.Removal)
	}
	return more
}
