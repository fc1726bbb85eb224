package wire

import (
	"fmt"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// puts reads what went on, what is planned, and the nitrogen.
func (r *ForecastRequest) puts(a *asked) error {
	for i := range r.History {
		x, err := r.History[i].put("history", i)
		if err != nil {
			return err
		}
		if x.Date > a.today {
			return bad(fmt.Sprintf("history[%d].date", i), "it is later than today; what is to come stands in plan")
		}
		a.history = append(a.history, x)
	}
	for i := range r.Plan {
		x, err := r.Plan[i].put("plan", i)
		if err != nil {
			return err
		}
		if x.Date < a.today {
			return bad(fmt.Sprintf("plan[%d].date", i), "it is before today; what went on stands in history")
		}
		a.plan = append(a.plan, x)
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
		if m.MovesPH() {
			a.fed = append(a.fed, forecast.GoOf(&fed, "feed", 1))
		}
		a.history = append(a.history, ledger.Application{Date: d, Material: withoutPH(m), Rate: fed.Rate})
	}
	return nil
}

// withoutPH is a material for its potash alone.
func withoutPH(m material.Material) material.Material {
	m.CCE, m.Acid = material.Range{}, 0
	return m
}

// crops reads what grew, and what pulls the bed.
func (r *ForecastRequest) crops(a *asked, plain Request) error {
	find := plain.crops()
	var removed quantity.Rate
	first := a.readings[0].Date
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
		a.grown = append(a.grown, grownCrop{c, from, to})
		if to == 0 || to > first {
			removed += c.Removal
		}
	}
	years := max(1, float64(a.today-first)/ledgerYear)
	removal := quantity.Rate(float64(removed) / years)
	if len(r.Crops) == 0 {
		removal = forecast.UsualRemoval()
	}
	w := forecast.Water{}
	if r.Water != nil {
		if !(r.Water.LitresYear >= 0 && r.Water.LitresYear <= 5000) {
			return bad("water.litres_m2_year", "from 0 to 5000 litres are reckoned with")
		}
		if !(r.Water.Alkalinity >= 0 && r.Water.Alkalinity <= 1000) {
			return bad("water.alkalinity_mg_l", "from 0 to 1000 mg/L are reckoned with")
		}
		w = forecast.Water{Litres: r.Water.LitresYear, Alkalinity: r.Water.Alkalinity}
	}
	a.pulls = forecast.Pulls(a.q.Climate.ID, removal, w)
	return nil
}

const ledgerYear = float64(ledger.YearDays)

// school finds the curve that the bed goes by: the school's, of its newest reading.
func (r *ForecastRequest) school(a *asked) (err error) {
	s := soil.ByTable
	if r.School != nil {
		if s, err = pick("school.buffering", r.School.Buffering, soil.ByTable, soil.Schools); err != nil {
			return err
		}
	}
	last := a.readings[len(a.readings)-1]
	a.buffer, err = soil.Buffer(s, a.q.Ground, last, last.Water()+0.5)
	if err != nil {
		return bad("school.buffering", "%v", err)
	}
	return nil
}

// bed is the request as the filter has it, with the plan or without.
func (r *ForecastRequest) bed(a *asked, plan bool) (forecast.Bed, error) {
	b := forecast.BedOf(a.q.Ground, &a.q.Climate, a.buffer, a.readings, r.goes(a, plan), a.pulls)
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

// goes are what moves pH, with the plan or without.
func (r *ForecastRequest) goes(a *asked, plan bool) (out []forecast.Gone) {
	add := func(list []ledger.Application, puts []ForecastPut, name string) {
		for i := range list {
			if !list[i].MovesPH() {
				continue
			}
			batch := fmt.Sprintf("%s %d", name, i)
			if i < len(puts) && puts[i].Batch != "" {
				batch = "batch " + puts[i].Batch
			}
			out = append(out, forecast.GoOf(&list[i], batch, a.buffer.Stone))
		}
	}
	add(a.history, r.History, "go")
	out = append(out, a.fed...)
	if plan {
		add(a.plan, r.Plan, "plan")
	}
	return out
}

// potassium is the bed's potassium as its own filter has it.
func (a *asked) potassium(plan bool) forecast.KBed {
	k := forecast.KBed{Rise: float64(soil.PotassiumRise(a.q.Ground, 1)), Leached: forecast.Leached(a.q.Ground.Texture.ID)}
	for _, x := range a.readings {
		if x.Potassium != nil {
			k.Reads = append(k.Reads, forecast.KRead{Date: x.KDate(), PPM: float64(*x.Potassium)})
			scale, _ := soil.PotassiumBands(a.q.Ground, x.Extractant, x.KRange)
			k.Half = float64(scale.Critical) / 2
		}
	}
	puts := a.history
	if plan {
		puts = append(append([]ledger.Application{}, puts...), a.plan...)
	}
	for i := range puts {
		if k2o := float64(puts[i].K2O()); k2o > 0 {
			k.Moves = append(k.Moves, forecast.KMove{Date: puts[i].Date, K2O: k2o})
		}
	}
	for _, g := range a.grown {
		k.Moves = append(k.Moves, carried(g, a.until)...)
	}
	return k
}

// carried spreads what a crop carries off over its months.
func carried(g grownCrop, until quantity.Day) (out []forecast.KMove) {
	to := g.to
	if to == 0 {
		to = min(until, g.from+ledger.YearDays/2)
		if g.crop.Is(crop.Perennial) {
			to = until
		}
	}
	span := float64(min(max(to-g.from, 1), ledger.YearDays))
	for d := g.from; d < to; {
		next := min(d.AddMonths(1), to)
		out = append(out, forecast.KMove{Date: next, K2O: -float64(g.crop.Removal) * float64(next-d) / span})
		d = next
	}
	return out
}

// answer runs the bed, with its plan and without.
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
	k, kIdle := a.potassium(true), a.potassium(false)
	kRun, _ := forecast.RunPotassium(&k, a.until)
	kRest, _ := forecast.RunPotassium(&kIdle, a.until)
	out.PH, out.K = points(run.PH, 3), points(kRun, 1)
	out.Idle = ForecastIdle{points(rest.PH, 3), points(kRest, 1)}
	l := &out.Learned
	s := run.Learned.Stubborn
	l.Stubbornness.Median, l.Stubbornness.P05, l.Stubbornness.P95 = r3(s.Median), r3(s.P05), r3(s.P95)
	l.Stubbornness.Counts, l.Tests = run.Learned.Counts, run.Learned.Tests
	d := run.Learned.Drift
	l.Drift.Median, l.Drift.P05, l.Drift.P95 = r1(d.Median), r1(d.P05), r1(d.P95)
	out.Pulls = []ForecastPull{}
	for _, p := range a.pulls {
		out.Pulls = append(out.Pulls, ForecastPull{p.ID, r1(p.Rate)})
	}
	out.Checks = []ForecastCheck{}
	for _, c := range forecast.Checks(&idle) {
		out.Checks = append(out.Checks, ForecastCheck{c.Go.String(), c.Date.String(), r2(c.Promised), r2(c.Measured), words.Kept(c)})
	}
	b := run.Balance
	out.Balance = ForecastBalance{b.Brought, b.Drift, b.Change, b.Unreacted, b.LeftOver}
	out.LeavesBand = a.leaves(run.PH)
	return out, nil
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

// leaves is the first month from today on whose median lies out of the band of the crop that stands
// last, where it lies within today; nil where it stays, or no crop is named.
func (a *asked) leaves(ph []forecast.Spread) *string {
	if len(a.grown) == 0 {
		return nil
	}
	band := a.grown[len(a.grown)-1].crop.Band
	within := false
	for _, p := range ph {
		if p.Date < a.today {
			continue
		}
		in := quantity.PH(p.Median) >= band.Low && quantity.PH(p.Median) <= band.High
		if !in && within {
			s := p.Date.String()
			return &s
		}
		if within = in; !in {
			return nil
		}
	}
	return nil
}
