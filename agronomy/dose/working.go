package dose

import (
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Working returns the steps behind an option from the values of the answer; nothing is recomputed.
func (a *Answer) Working(o *Option) []working.Step {
	steps := make([]working.Step, 0, len(o.Parts)*8+3)
	for n := range o.Parts {
		steps = a.partSteps(steps, &o.Parts[n], o.ForPotassium)
	}
	return a.lastSteps(steps, o)
}

// partSteps add the steps of a part's amount and limits.
func (a *Answer) partSteps(steps []working.Step, p *Part, forK bool) []working.Step {
	if forK {
		steps = append(steps, working.Step{ID: "as-potash", Source: "materials", Result: working.Num("rate", working.Rate, p.Asked),
			From: working.Values{working.ID("kind", p.Of.Kind), working.Num("need", working.Rate, p.Wanted),
				working.Num("k2o", working.Percent, 100*p.Worth.K2O)}})
	} else {
		steps = append(steps, working.Step{ID: "as-material", Source: "materials", Result: working.Num("rate", working.Rate, p.Asked),
			From: working.Values{working.ID("kind", p.Of.Kind), working.Num("need", working.Rate, p.Wanted),
				working.Num("strength", working.Percent, 100*p.Worth.EffectiveCCE), working.Num("sd", working.Percent, 100*p.Worth.LogSD),
				working.Num("fine", working.Percent, 100*p.Worth.Fine), working.Num("stone", working.Percent, 100*a.Buffering.Stone)}})
	}
	for i := range p.Limits {
		l := &p.Limits[i]
		if row, ok := limitSteps[l.ID]; ok {
			steps = append(steps, working.Step{ID: row.step, Source: row.source, Result: working.Num(row.result, working.Rate, l.Rate),
				From: row.from(a, p, l)})
		}
	}
	if p.Rest > 0 {
		steps = append(steps, working.Step{ID: "first-part", Source: "pace", Result: working.Num("rate", working.Rate, p.Rate),
			From: working.Values{working.ID("kind", p.Of.Kind), working.Num("first", working.Rate, p.First),
				working.Num("share", working.Percent, 100*p.Share), working.Num("rest", working.Rate, p.Rest),
				working.Num("chance", working.Percent, 100*guard.CarefulOver)}})
	}
	return steps
}

// limitStep describes the step of a limit.
type limitStep struct {
	step, source, result string
	// potash is set for a limit on K₂O from any source.
	potash bool
	from   func(*Answer, *Part, *Limit) working.Values
}

// limitSteps are the limits with a step of their own.
var limitSteps = map[string]limitStep{
	"year-cap": {"year-cap", "caps", "cap", false, func(_ *Answer, p *Part, _ *Limit) working.Values {
		return working.Values{working.ID("kind", p.Of.Kind)}
	}},
	"supply": {"supply", "shelf", "rate", false, func(a *Answer, p *Part, _ *Limit) working.Values {
		return working.Values{working.Num("kg", working.Mass, *p.Of.OnHand), working.Num("area", working.Area, a.Ground.Area)}
	}},
	adviceLimit: {adviceLimit, "ash", "rate", false, func(*Answer, *Part, *Limit) working.Values {
		return working.Values{working.Num("advice", working.Rate, material.AshCommonAdvice)}
	}},
	"dusting": {"dusting", "ash-schools", "rate", false, func(*Answer, *Part, *Limit) working.Values {
		return working.Values{working.Num("cap", working.Rate, material.DustingCap)}
	}},
	"ph-room": {"ph-room", "crops", "rate", false, func(a *Answer, p *Part, _ *Limit) working.Values {
		return working.Values{working.Num("from", working.PH, a.Course.Settle(a.OnWay)),
			working.Num("to", working.PH, a.Crop.Range.High-guard.PastRange),
			working.Num("strength", working.Percent, 100*p.Worth.EffectiveCCE)}
	}},
	"potassium-untested": {"potassium-untested", "potassium", "rate", true, againstRemoval},
	"potassium-year":     {"potassium-year", "potassium", "rate", true, againstRemoval},
	"potassium-ceiling": {"potassium-room", "potassium", "rate", true, func(a *Answer, p *Part, l *Limit) working.Values {
		return working.Values{working.Num("k", working.PPM, l.K), working.Num("ceiling", working.PPM, a.K.Scale.Ceiling),
			working.Num("critical", working.PPM, a.K.Scale.Critical), working.Num("soil", working.SoilMass, a.Ground.SoilMass()),
			working.Num("held", working.Ratio, soil.Held(a.Ground)), working.Num("k2o", working.Percent, 100*p.Worth.K2O)}
	}},
}

func againstRemoval(a *Answer, p *Part, l *Limit) working.Values {
	return working.Values{working.Num("removal", working.Rate, a.Crop.Removal), working.Num("given", working.Rate, l.Given),
		working.Num("k2o", working.Percent, 100*p.Worth.K2O)}
}

// lastSteps add the totals, the applications, the final pH and potassium.
func (a *Answer) lastSteps(steps []working.Step, o *Option) []working.Step {
	g, parts := &a.Ground, o.Parts
	for n := range parts {
		p := &parts[n]
		steps = append(steps,
			working.Step{ID: "on-bed", Source: "bed", Result: working.Num("total", working.Mass, p.Total),
				From: working.Values{working.Num("rate", working.Rate, p.Rate), working.Num("area", working.Area, g.Area),
					working.ID("limit", p.Limit), working.ID("kind", p.Of.Kind)}},
			working.Step{ID: "goes", Source: "caps", Result: working.Int("goes", working.Count, p.Applications),
				From: working.Values{working.Num("rate", working.Rate, p.Rate), working.Num("cap", working.Rate, p.OnceCap),
					working.Int("weeks", working.Weeks, p.Caps.Weeks), working.ID("worked", g.Worked), working.ID("kind", p.Of.Kind)}})
	}
	if a.Buffering.Method != "" {
		id, from, put, each := "settles", a.Course.From, a.OnWay+o.CaCO3, working.Values(nil)
		if a.asked.Foretold != nil {
			way := a.Expect(o)
			id, from, put = "settles-by-record", way.From, way.Put()
			if moved := o.PH.Median - from; moved != 0 {
				each = working.Values{working.Num("each", working.Rate, put/quantity.Rate(moved))}
			}
		}
		steps = append(steps, working.Step{ID: id, Source: "doubt", Result: working.Num("ph", working.PH, o.PH.Median),
			From: append(working.Values{working.Num("from", working.PH, from), working.Num("caco3", working.Rate, put),
				working.Num("reading_sd", working.PH, a.StartSD), working.Num("school_sd", working.Percent, 100*a.Buffering.LogSD),
				working.Num("p05", working.PH, o.PH.P05), working.Num("p95", working.PH, o.PH.P95)}, each...)},
			working.Step{ID: "at-retest", Source: "retest", Result: working.Num("ph", working.PH, o.AtRetest.Median),
				From: working.Values{working.On("retest", o.Retest), working.Num("reacted", working.Percent, 100*o.Reacted),
					working.Num("p05", working.PH, o.AtRetest.P05), working.Num("p95", working.PH, o.AtRetest.P95)}})
	}
	if o.K2O <= 0 {
		return steps
	}
	var bringing quantity.Rate
	for n := range parts {
		if parts[n].Worth.K2O > 0 {
			bringing += parts[n].Rate
		}
	}
	steps = append(steps, working.Step{ID: "potash", Source: "materials", Result: working.Num("k2o", working.Mass, o.K2O.Over(g.Area)),
		From: working.Values{working.Num("total", working.Mass, bringing.Over(g.Area)),
			working.Num("share", working.Percent, 100*float64(o.K2O/bringing)), working.Num("rate", working.Rate, o.K2O)}})
	from := working.Values{working.Num("k2o", working.Rate, o.K2O), working.Num("soil", working.SoilMass, g.SoilMass()),
		working.Num("held", working.Ratio, soil.Held(*g)), working.Num("rise", working.PPM, soil.PotassiumRise(*g, o.K2O)),
		working.Num("ceiling", working.PPM, a.K.Scale.Ceiling)}
	result := working.Num("rise", working.PPM, soil.PotassiumRise(*g, o.K2O))
	if o.KAfter != nil {
		from = append(from, working.Num("before", working.PPM, *a.K.Now))
		result = working.Num("after", working.PPM, *o.KAfter)
	}
	return append(steps, working.Step{ID: "potassium", Source: "potassium", Result: result, From: from})
}
