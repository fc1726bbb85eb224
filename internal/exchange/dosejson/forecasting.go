package dosejson

import (
	"fmt"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// applications parses past and planned applications and the nitrogen.
func (r *ForecastRequest) applications(a *asked) error {
	for i := range r.History {
		x, err := r.History[i].on("history", i)
		if err != nil {
			return err
		}
		if x.Date > a.Day {
			return bad(fmt.Sprintf("history[%d].date", i), "it is later than today; what is to come stands in plan")
		}
		a.Applied = append(a.Applied, x)
	}
	for i := range r.Plan {
		x, err := r.Plan[i].on("plan", i)
		if err != nil {
			return err
		}
		if x.Date < a.Day {
			return bad(fmt.Sprintf("plan[%d].date", i), "it is before today; what was put on belongs in history")
		}
		a.Plan = append(a.Plan, x)
	}
	for i, n := range r.Nitrogen {
		at := fmt.Sprintf("nitrogen[%d]", i)
		d, err := day(at+".date", n.Date, true)
		if err != nil {
			return err
		}
		m, ok := material.Find(material.Kind(n.Kind))
		switch {
		case !ok || m.N <= 0:
			return bad(at+".kind", "%q is no feed with nitrogen", n.Kind)
		case n.NGM2 == nil || !(*n.NGM2 >= 0 && *n.NGM2 <= 1000):
			return bad(at+".n_g_m2", "nitrogen from 0 to 1000 g/m² is needed")
		}
		fed := ledger.Application{Date: d, Material: m, Rate: quantity.Rate(*n.NGM2 / (float64(m.N) / 100))}
		a.Applied = append(a.Applied, forecast.Application{Application: fed, Batch: "feed " + n.Kind})
	}
	return nil
}

// crops parses past crops and watering.
func (r *ForecastRequest) crops(a *asked, plain Request) error {
	find := plain.crops()
	for i, x := range r.Crops {
		at := func(f string) string { return fmt.Sprintf("crops[%d].%s", i, f) }
		c, ok := find(x.Crop)
		if !ok {
			return bad(at("crop"), "%q is not in the library", x.Crop)
		}
		from, err := day(at("from"), x.From, true)
		if err != nil {
			return err
		}
		to, err := day(at("to"), x.To, false)
		if err != nil {
			return err
		}
		if to != 0 && to <= from {
			return bad(at("to"), "it is off the ground after it was sown")
		}
		a.Grown = append(a.Grown, ledger.Grown{Crop: c, From: from, To: to})
	}
	if r.Water != nil {
		if !(r.Water.LitresYear >= 0 && r.Water.LitresYear <= 5000) {
			return bad("water.litres_m2_year", "from 0 to 5000 litres are possible")
		}
		if !(r.Water.Alkalinity >= 0 && r.Water.Alkalinity <= 1000) {
			return bad("water.alkalinity_mg_l", "from 0 to 1000 mg/L are possible")
		}
		a.Water = forecast.Water{Litres: r.Water.LitresYear, Alkalinity: r.Water.Alkalinity}
	}
	return nil
}

// method applies the lime method at the newest reading.
func (r *ForecastRequest) method(a *asked) (err error) {
	s := soil.ByTable
	if r.Method != nil {
		if s, err = pick("school.buffering", r.Method.Buffering, soil.ByTable, soil.LimeMethods); err != nil {
			return err
		}
	}
	if a.buffer, err = a.Method(s); err != nil {
		return bad("school.buffering", "%v", err)
	}
	return nil
}

// bed returns the model of the request, with or without the plan.
func (r *ForecastRequest) bed(a *asked, plan bool) (forecast.Model, error) {
	b := a.Model(a.buffer, plan)
	for _, x := range []struct {
		field string
		given *float64
		into  *float64
		least float64
	}{{"drift_g_m2_year", r.Drift, &b.Drift, -500}, {"drift_sd", r.DriftSD, &b.DriftSD, 0}} {
		if x.given == nil {
			continue
		}
		if !(*x.given >= x.least && *x.given <= 500) {
			return b, bad(x.field, "a figure from %v to 500 is needed", x.least)
		}
		*x.into = *x.given
	}
	b.DriftSD = max(b.DriftSD, 1e-6)
	return b, nil
}

// answer computes the forecast with and without the plan.
func (r *ForecastRequest) answer(a asked) (out ForecastAnswer, err error) {
	with, err := r.bed(&a, true)
	if err != nil {
		return out, err
	}
	idle, err := r.bed(&a, false)
	if err != nil {
		return out, err
	}
	run, rest := forecast.Run(&with, a.until), forecast.Run(&idle, a.until)
	k, kIdle := a.Potassium(true, a.until), a.Potassium(false, a.until)
	kRun := forecast.RunPotassium(&k, a.until)
	kRest := forecast.RunPotassium(&kIdle, a.until)
	out.PH, out.K = points(run.PH, 3), points(kRun, 1)
	out.Idle = ForecastIdle{points(rest.PH, 3), points(kRest, 1)}
	l := &out.Learned
	s := run.Learned.Buffering
	l.Buffering.Median, l.Buffering.P05, l.Buffering.P95 = r3(s.Median), r3(s.P05), r3(s.P95)
	l.Buffering.Counts, l.Tests = run.Learned.Counts, run.Learned.Tests
	d := run.Learned.Drift
	l.Drift.Median, l.Drift.P05, l.Drift.P95 = r1(d.Median), r1(d.P05), r1(d.P95)
	out.Pulls = []ForecastPull{}
	for _, p := range a.Pulls() {
		out.Pulls = append(out.Pulls, ForecastPull{p.ID, r1(p.Rate)})
	}
	out.Checks = []ForecastCheck{}
	for _, c := range forecast.Checks(&idle, &rest.Learned) {
		out.Checks = append(out.Checks, ForecastCheck{c.First.String(), c.Date.String(), r2(c.Promised), r2(c.Measured),
			text.Check(c, a.buffer.Method)})
	}
	b := run.Balance
	out.Balance = ForecastBalance{b.Brought, b.Drift, b.Change, b.Unreacted, b.LeftOver}
	out.LeavesRange = a.leaves(run.PH)
	return out, a.layers(&out)
}

// layers forecasts each layer, with the plan.
func (a *asked) layers(out *ForecastAnswer) error {
	layers, beds, err := a.Layers(a.buffer.Method, true)
	if err != nil {
		return bad("school.buffering", "%v", err)
	}
	for i, run := range forecast.RunLayers(beds, a.until) {
		out.Layers = append(out.Layers, ForecastLayer{cm(layers[i].From), cm(layers[i].To), points(run.PH, 3)})
	}
	return nil
}

func r3[T ~float64](x T) float64 { return quantity.Round(float64(x), 3) }

func points(all []forecast.Spread, places int) []ForecastPoint {
	out := []ForecastPoint{}
	for _, p := range all {
		at := func(x float64) float64 { return quantity.Round(x, places) }
		out = append(out, ForecastPoint{p.Date.String(), at(p.Median), at(p.P05), at(p.P25), at(p.P75), at(p.P95)})
	}
	return out
}

// leaves returns the first month from today on whose median is outside the range of the last crop,
// if it is inside today; nil if it stays, or no crop is named.
func (a *asked) leaves(ph []forecast.Spread) *string {
	if len(a.Grown) == 0 {
		return nil
	}
	span := a.Grown[len(a.Grown)-1].Crop.Range
	now := forecast.On(ph, a.Day).Median
	day, ok := forecast.Leaves(ph, a.Day, span.Low, span.High)
	if in := quantity.PH(now) >= span.Low && quantity.PH(now) <= span.High; !ok || !in {
		return nil
	}
	written := day.String()
	return &written
}
