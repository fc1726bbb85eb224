package dose

import (
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Working lays out the steps that led to the option, from the values that it
// was reckoned with; nothing is reckoned again.
func (o *Option) Working() []working.Step {
	if o.from == nil {
		return nil
	}
	steps := make([]working.Step, 0, len(o.parts)*8+3)
	for n := range o.parts {
		steps = o.from.partSteps(steps, &o.parts[n], o.potassium)
	}
	return o.from.lastSteps(steps, o)
}

// partSteps show how much of a material was wanted and what held it back.
func (s *sum) partSteps(steps []working.Step, p *part, forK bool) []working.Step {
	if forK {
		steps = append(steps, working.Step{ID: "as-potash", Source: "materials", Result: working.Num("rate", working.Rate, p.asked),
			From: working.Values{working.ID("kind", p.batch.Kind), working.Num("need", working.Rate, p.wanted), working.Num("k2o", working.Percent, 100*p.worth.K2O)}})
	} else {
		steps = append(steps, working.Step{ID: "as-material", Source: "materials", Result: working.Num("rate", working.Rate, p.asked),
			From: working.Values{working.ID("kind", p.batch.Kind), working.Num("need", working.Rate, p.wanted),
				working.Num("strength", working.Percent, 100*p.worth.Strength), working.Num("sd", working.Percent, 100*p.worth.LogSD),
				working.Num("fine", working.Percent, 100*p.worth.Fine), working.Num("stone", working.Percent, 100*s.buffer.Stone)}})
	}
	for _, l := range p.limits.all() {
		if row, ok := limitSteps[l.id]; ok {
			steps = append(steps, working.Step{ID: row.step, Source: row.source, Result: working.Num(row.result, working.Rate, l.rate), From: row.from(s, p, &l)})
		}
	}
	return steps
}

// limitStep is how a limit is told.
type limitStep struct {
	step, source, result string
	from                 func(*sum, *part, *limit) working.Values
}

// limitSteps are the limits that have a step of their own.
var limitSteps = map[string]limitStep{
	"year-cap": {"year-cap", "caps", "cap", func(_ *sum, p *part, _ *limit) working.Values {
		return working.Values{working.ID("kind", p.batch.Kind)}
	}},
	"supply": {"supply", "shelf", "rate", func(s *sum, p *part, _ *limit) working.Values {
		return working.Values{working.Num("kg", working.Mass, *p.batch.OnHand), working.Num("area", working.Area, s.r.Ground.Area)}
	}},
	"dusting": {"dusting", "ash-schools", "rate", func(*sum, *part, *limit) working.Values {
		return working.Values{working.Num("cap", working.Rate, material.DustingCap)}
	}},
	"ph-room": {"ph-room", "crops", "rate", func(s *sum, p *part, _ *limit) working.Values {
		return working.Values{working.Num("from", working.PH, s.settle(s.onWay)), working.Num("to", working.PH, s.crop.Band.High-guard.PastBand),
			working.Num("strength", working.Percent, 100*p.worth.Strength)}
	}},
	"potassium-untested": {"potassium-untested", "potassium", "rate", againstRemoval},
	"potassium-year":     {"potassium-year", "potassium", "rate", againstRemoval},
	"potassium-ceiling": {"potassium-room", "potassium", "rate", func(s *sum, p *part, l *limit) working.Values {
		return working.Values{working.Num("k", working.PPM, l.k), working.Num("ceiling", working.PPM, s.k.Scale.Ceiling),
			working.Num("critical", working.PPM, s.k.Scale.Critical), working.Num("soil", working.SoilMass, s.r.Ground.SoilMass()),
			working.Num("held", working.Ratio, soil.Held(s.r.Ground)), working.Num("k2o", working.Percent, 100*p.worth.K2O)}
	}},
}

func againstRemoval(s *sum, p *part, l *limit) working.Values {
	return working.Values{working.Num("removal", working.Rate, s.crop.Removal), working.Num("given", working.Rate, l.given),
		working.Num("k2o", working.Percent, 100*p.worth.K2O)}
}

// lastSteps show the totals, the goes, where it settles, and the potassium.
func (s *sum) lastSteps(steps []working.Step, o *Option) []working.Step {
	g, parts := &s.r.Ground, o.parts
	for n := range parts {
		p := &parts[n]
		steps = append(steps,
			working.Step{ID: "on-bed", Source: "bed", Result: working.Num("total", working.Mass, o.Parts[n].Total),
				From: working.Values{working.Num("rate", working.Rate, p.rate), working.Num("area", working.Area, g.Area), working.ID("limit", p.limit), working.ID("kind", p.batch.Kind)}},
			working.Step{ID: "goes", Source: "caps", Result: working.Int("goes", working.Count, len(p.goes)),
				From: working.Values{working.Num("rate", working.Rate, p.rate), working.Num("cap", working.Rate, p.goCap),
					working.Int("weeks", working.Weeks, p.caps.Weeks), working.ID("worked", g.Worked), working.ID("kind", p.batch.Kind)}})
	}
	if s.hasCurve {
		steps = append(steps, working.Step{ID: "settles", Source: "doubt", Result: working.Num("ph", working.PH, o.PH.Median),
			From: working.Values{working.Num("from", working.PH, s.course.From), working.Num("caco3", working.Rate, s.onWay+o.CaCO3),
				working.Num("reading_sd", working.PH, s.sd), working.Num("school_sd", working.Percent, 100*s.buffer.LogSD),
				working.Num("p05", working.PH, o.PH.P05), working.Num("p95", working.PH, o.PH.P95)}},
			working.Step{ID: "at-retest", Source: "retest", Result: working.Num("ph", working.PH, o.AtRetest.Median),
				From: working.Values{working.On("retest", o.Retest), working.Num("reacted", working.Percent, 100*o.Reacted),
					working.Num("p05", working.PH, o.AtRetest.P05), working.Num("p95", working.PH, o.AtRetest.P95)}})
	}
	if o.K2O <= 0 {
		return steps
	}
	var bringing quantity.Rate
	for n := range parts {
		if parts[n].worth.K2O > 0 {
			bringing += parts[n].rate
		}
	}
	steps = append(steps, working.Step{ID: "potash", Source: "materials", Result: working.Num("k2o", working.Mass, o.K2O.Over(g.Area)),
		From: working.Values{working.Num("total", working.Mass, bringing.Over(g.Area)), working.Num("share", working.Percent, 100*float64(o.K2O/bringing)), working.Num("rate", working.Rate, o.K2O)}})
	from := working.Values{working.Num("k2o", working.Rate, o.K2O), working.Num("soil", working.SoilMass, g.SoilMass()),
		working.Num("held", working.Ratio, soil.Held(*g)), working.Num("rise", working.PPM, soil.PotassiumRise(*g, o.K2O)),
		working.Num("ceiling", working.PPM, s.k.Scale.Ceiling)}
	result := working.Num("rise", working.PPM, soil.PotassiumRise(*g, o.K2O))
	if o.KAfter != nil {
		from = append(from, working.Num("before", working.PPM, *s.k.Now))
		result = working.Num("after", working.PPM, *o.KAfter)
	}
	return append(steps, working.Step{ID: "potassium", Source: "potassium", Result: result, From: from})
}
