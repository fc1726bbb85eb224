package outlook

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Try is a hypothetical treatment: planned applications, litres of tap water per square metre and
// year, a yearly crop; nil fields stay as they are.
type Try struct {
	Plan   []forecast.Application
	Litres *float64
	Crop   *crop.Crop
}

// Tried is its outcome.
type Tried struct {
	PH, K []forecast.Spread
}

// atOnce reacts on the day of application.
var atOnce = material.Reaction{}

// surely is the standard deviation of a deliberate change, in the logarithm.
const surely = 0.01

// cropFrom and cropFor are the growing time of a hypothetical crop, from the first of the year.
const (
	cropFrom quantity.Day = 120
	cropFor  quantity.Day = 160
)

// Try forecasts the bed under a hypothetical treatment.
func (s *Forecast) Try(t Try) (out Tried) {
	rec := s.record
	rec.Plan = t.Plan
	until := s.Today.AddMonths(Ahead)
	b := s.Record.Lesson.Planned(&rec)
	b.Others = s.Record.Lesson.Model().Others
	for i := range t.Plan { // the slow effect of a feed is neither an application nor a past pull
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
	out.PH = forecast.Run(&b, until, s.Today).PH
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

// otherwise returns the change of drift, g CaCO₃/m² a year.
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
