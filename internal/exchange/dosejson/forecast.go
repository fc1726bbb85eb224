package dosejson

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"slices"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// ForecastRequest is a forecast request; docs/forecast.md describes each field.
type ForecastRequest struct {
	Today    string         `json:"today"`
	Until    string         `json:"until"`
	Place    *Place         `json:"place,omitempty"`
	Bed      *Bed           `json:"bed"`
	Method   *Methods       `json:"school,omitempty"`
	Readings []Reading      `json:"readings"`
	History  []HistoryEntry `json:"history,omitempty"`
	Crops    []Grown        `json:"crops,omitempty"`
	OwnCrops []OwnCrop      `json:"own_crops,omitempty"`
	Nitrogen []Nitrogen     `json:"nitrogen,omitempty"`
	Water    *Water         `json:"water,omitempty"`
	Drift    *float64       `json:"drift_g_m2_year,omitempty"`
	DriftSD  *float64       `json:"drift_sd,omitempty"`
	Plan     []HistoryEntry `json:"plan,omitempty"`
	// Seed is accepted and ignored: the method is deterministic.
	Seed *int64 `json:"seed,omitempty"`
}

// Nitrogen is a feed by its nitrogen.
type Nitrogen struct {
	Date string   `json:"date"`
	Kind string   `json:"kind"`
	NGM2 *float64 `json:"n_g_m2"`
}

// Water is a bed's watering.
type Water struct {
	LitresYear float64 `json:"litres_m2_year"`
	Alkalinity float64 `json:"alkalinity_mg_l"`
}

// ForecastAnswer is the answer to a ForecastRequest.
type ForecastAnswer struct {
	PH          []ForecastPoint `json:"ph"`
	K           []ForecastPoint `json:"k_ppm"`
	Idle        ForecastIdle    `json:"idle"`
	Learned     ForecastLearned `json:"learned"`
	Pulls       []ForecastPull  `json:"pulls"`
	Checks      []ForecastCheck `json:"checks"`
	Balance     ForecastBalance `json:"balance"`
	LeavesRange *string         `json:"leaves_band"`
	// Layers is pH by layer, if all layered readings have the same layers.
	Layers []ForecastLayer `json:"layers,omitempty"`
}

// ForecastLayer is a layer's pH.
type ForecastLayer struct {
	FromCM float64         `json:"from_cm"`
	ToCM   float64         `json:"to_cm"`
	PH     []ForecastPoint `json:"ph"`
}

// ForecastPoint is a figure on a day with its interval.
type ForecastPoint struct {
	Date   string  `json:"date"`
	Median float64 `json:"median"`
	P05    float64 `json:"p05"`
	P25    float64 `json:"p25"`
	P75    float64 `json:"p75"`
	P95    float64 `json:"p95"`
}

// ForecastIdle is the forecast without the plan.
type ForecastIdle struct {
	PH []ForecastPoint `json:"ph"`
	K  []ForecastPoint `json:"k_ppm"`
}

// ForecastLearned is what the bed has shown.
type ForecastLearned struct {
	Buffering struct {
		Median float64 `json:"median"`
		P05    float64 `json:"p05"`
		P95    float64 `json:"p95"`
		Counts bool    `json:"counts"`
	} `json:"stubbornness"`
	Drift struct {
		Median float64 `json:"median"`
		P05    float64 `json:"p05"`
		P95    float64 `json:"p95"`
	} `json:"drift_g_m2_year"`
	Tests int `json:"tests"`
}

// ForecastPull is one cause of drift.
type ForecastPull struct {
	ID   string  `json:"id"`
	Rate float64 `json:"g_m2_year"`
}

// ForecastCheck is a promise compared with a reading.
type ForecastCheck struct {
	Date     string  `json:"date"`
	Read     string  `json:"read"`
	Promised float64 `json:"promised"`
	Measured float64 `json:"measured"`
	Says     string  `json:"says"`
}

// ForecastBalance is in g CaCO₃/m².
type ForecastBalance struct {
	Brought   float64 `json:"brought"`
	Drift     float64 `json:"drift"`
	Change    float64 `json:"change"`
	Unreacted float64 `json:"unreacted"`
	LeftOver  float64 `json:"left_over"`
}

// mostForecastYears is the longest forecast, from the first reading to its end.
const mostForecastYears = 60

// asked is a forecast request for the core.
type asked struct {
	forecast.Record
	until  quantity.Day
	buffer soil.Buffering
}

// ForecastTo answers one request. Errors name the field.
func ForecastTo(request []byte) (ForecastAnswer, error) {
	var r ForecastRequest
	d := json.NewDecoder(bytes.NewReader(request))
	d.DisallowUnknownFields()
	if err := d.Decode(&r); err != nil {
		return ForecastAnswer{}, named(err)
	}
	if _, err := d.Token(); err != io.EOF {
		return ForecastAnswer{}, bad("request", "there is more after the end of the request")
	}
	a, err := r.asked()
	if err != nil {
		return ForecastAnswer{}, err
	}
	return r.answer(a)
}

// asked converts a request.
func (r *ForecastRequest) asked() (a asked, err error) {
	if a.Day, err = day("today", r.Today, true); err != nil {
		return a, err
	}
	if a.until, err = day("until", r.Until, true); err != nil {
		return a, err
	}
	if len(r.Readings) == 0 {
		return a, bad("readings", "a reading is needed")
	}
	plain := Request{Date: r.Today, Place: r.Place, Bed: r.Bed, Method: r.Method, OwnCrops: r.OwnCrops}
	q := dose.Request{Record: bed.Record{Date: a.Day}}
	if err = plain.place(&q); err != nil {
		return a, err
	}
	if err = plain.bed(&q); err != nil {
		return a, err
	}
	a.Climate, a.Ground = q.Climate, q.Ground
	if err = r.read(&a); err != nil {
		return a, err
	}
	if err = r.applications(&a); err != nil {
		return a, err
	}
	if err = r.crops(&a, plain); err != nil {
		return a, err
	}
	return a, r.method(&a)
}

// read parses the readings, in order of day.
func (r *ForecastRequest) read(a *asked) error {
	for i := range r.Readings {
		at := fmt.Sprintf("readings[%d]", i)
		x, err := r.Readings[i].soil(at, "")
		switch {
		case err != nil:
			return err
		case x.Method == soil.Fizz:
			return bad(at+".method", "jar fizz gives no figure to go on from")
		case x.Potassium != nil && !(*x.Potassium > 0):
			return bad(at+".k_ppm", "a figure above 0 is needed")
		case x.Date > a.Day:
			return bad(at+".date", "it is later than today")
		}
		if err := dose.CheckReading(at, x); err != nil {
			return err
		}
		a.Readings = append(a.Readings, x)
	}
	slices.SortStableFunc(a.Readings, func(x, y soil.Reading) int { return int(x.Date - y.Date) })
	first := a.Readings[0].Date
	switch last := a.Readings[len(a.Readings)-1].Date; {
	case a.until < last:
		return bad("until", "it is before the last reading")
	case a.until > first.AddMonths(12*mostForecastYears):
		return bad("until", "a forecast goes %d years from the first reading at most", mostForecastYears)
	}
	return nil
}

// on parses a past or planned application.
func (p *HistoryEntry) on(list string, i int) (x forecast.Application, err error) {
	if x.Application, err = p.put(list, i); err != nil {
		return x, err
	}
	if p.Batch != "" {
		x.Batch = "batch " + p.Batch
	}
	return x, dose.CheckApplication(fmt.Sprintf("%s[%d]", list, i), &x.Application)
}
