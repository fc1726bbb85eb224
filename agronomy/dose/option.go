package dose

import (
	"math"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// limit is a ceiling on the amount of a material, with the id of its reason.
type limit struct {
	id   string
	rate quantity.Rate
	step *working.Step
}

// topLayer is where a material works that is left on top.
const topLayer quantity.Depth = 0.05

// single reckons an option of one material; against is what refuses it.
func (s *sum) single(i int, b material.Batch, f guard.Facts) (o Option, against *guard.Finding) {
	caps, _ := material.CapsFor(b.Family, s.r.Ground)
	if !caps.Offered() {
		n := guard.NotOffered(b.Kind, s.r.Ground.Use, s.r.Ground.Worked)
		return o, &n
	}
	w := f.Worth
	full := quantity.Rate(float64(s.want) / w.Strength)
	o.Working = append(o.Working, working.Step{ID: "as-material", Source: "materials", Result: working.Num("rate", working.Rate, full),
		From: working.Values{working.ID("kind", b.Kind), working.Num("need", working.Rate, s.want),
			working.Num("strength", working.Percent, 100*w.Strength), working.Num("sd", working.Percent, 100*w.RelativeSD)}})
	total := full
	for _, l := range s.limits(b, w, caps) {
		if l.rate < total-1e-9 {
			total, o.Limit = l.rate, l.id
		}
		if l.step != nil {
			o.Working = append(o.Working, *l.step)
		}
	}
	if total < tenth {
		n := guard.NothingToGive(o.Limit)
		return o, &n
	}
	goCap := s.goCap(w, caps)
	goes, why, leftOut := s.dates(b, total, goCap, caps)
	if n := quantity.Rate(len(goes)); leftOut && n > 0 && total > n*goCap/2 {
		// Fewer goes find a day than were wanted: those that do may be larger.
		if again, w, _ := s.dates(b, min(total, n*goCap), goCap, caps); len(again) == len(goes) {
			goes, leftOut = again, total > n*goCap || w != calendar.Free
		}
	}
	if len(goes) == 0 {
		n := guard.NoDay(string(why))
		return o, &n
	}
	var put quantity.Rate
	for n := range goes {
		put += goes[n].Rate
		goes[n].PHAfter = s.curve.Move(s.ph, s.onWay+quantity.Rate(float64(put)*w.Strength))
		goes[n].Total = goes[n].Rate.Over(s.r.Ground.Area)
		if s.r.Ground.Worked != soil.Dug || s.r.Ground.Use == soil.UseLawn {
			share := float64(topLayer / s.r.Ground.Depth)
			goes[n].TopAfter = s.curve.Move(s.ph, quantity.Rate(float64(goes[n].Rate)*w.Strength/share))
		}
	}
	if leftOut && o.Limit == "" {
		o.Limit = string(why)
	}
	o.Goes = goes
	o.Parts = []Part{{Batch: i, Kind: b.Kind, Rate: put, Total: put.Over(s.r.Ground.Area)}}
	o.CaCO3 = quantity.Rate(float64(put) * w.Strength)
	o.Unmet = s.want - o.CaCO3
	if math.Abs(float64(o.Unmet)) < float64(nothing) {
		o.Unmet = 0
	}
	o.K2O = quantity.Rate(float64(put) * w.K2O)
	if k := s.r.Reading.Potassium; k != nil {
		after := *k + soil.PotassiumRise(s.r.Ground, o.K2O)
		o.KAfter = &after
	}
	last := goes[len(goes)-1].Date
	if len(goes) > 1 && goes[1].RetestFirst {
		last = goes[0].Date
	}
	o.Retest = calendar.Retest(b.Material, &s.r.Climate, last, s.r.Reading.Date)
	if b.Family == material.Ash && !s.season.Perennial {
		o.SowFrom = goes[len(goes)-1].Date + s.season.SowingGap
	}
	o.PH = s.spread(o.CaCO3, w)
	o.Working = append(o.Working, s.partSteps(o, b, goCap, caps)...)
	f.Total, f.KAfter, f.P95, f.Unmet, f.LeftOut = put, o.KAfter, o.PH.P95, o.Unmet, leftOut
	o.Guards = guard.Check(guard.OfOption, &f)
	return o, nil
}

// limits are the ceilings on one material over a year, tightest not sorted.
func (s *sum) limits(b material.Batch, w material.Worth, caps material.Caps) []limit {
	r := s.r
	out := []limit{{id: "year-cap", rate: caps.Year, step: &working.Step{ID: "year-cap", Source: "caps",
		Result: working.Num("cap", working.Rate, caps.Year), From: working.Values{working.ID("kind", b.Kind)}}}}
	if b.OnHand != nil {
		rate := b.OnHand.Per(r.Ground.Area)
		out = append(out, limit{"supply", rate, &working.Step{ID: "supply", Source: "shelf", Result: working.Num("rate", working.Rate, rate),
			From: working.Values{working.Num("kg", working.Mass, *b.OnHand), working.Num("area", working.Area, r.Ground.Area)}}})
	}
	if s.crop.Is(crop.AcidLover) && b.Family == material.Lime {
		out = append(out, limit{id: "acid-lover-year", rate: material.AcidLoverLimeYear - s.history(material.Lime)})
	}
	if b.Family != material.Ash {
		return out
	}
	if r.Schools.Ash == material.Dusting {
		rate := material.DustingCap
		if s.history(material.Ash) > 0 {
			rate = 0
		}
		out = append(out, limit{"dusting", rate, &working.Step{ID: "dusting", Source: "ash-schools", Result: working.Num("rate", working.Rate, rate)}})
	}
	if w.K2O > 0 {
		out = append(out, s.potashLimits(w)...)
	}
	return out
}

// history is what was put on of a family in the 365 days before the dose.
func (s *sum) history(f material.Family) quantity.Rate {
	return calendar.InYear(s.r.History, f, s.r.Date)
}

// potashLimits keep ash from overfeeding potassium: never past twice critical,
// and in a year no more than twice what the crop carries off unless short;
// with no test, at most what the crop carries off.
func (s *sum) potashLimits(w material.Worth) []limit {
	r := s.r
	var given quantity.Rate
	for _, p := range r.History {
		if p.Date > r.Date-365 {
			given += quantity.Rate(float64(p.Rate) * float64(p.Material.K2O.Typical) / 100)
		}
	}
	removal := working.Num("removal", working.Rate, s.crop.Removal)
	if r.Reading.Potassium == nil {
		rate := quantity.Rate(max(0, float64(s.crop.Removal-given)) / w.K2O)
		return []limit{{"potassium-untested", rate, &working.Step{ID: "potassium-untested", Source: "potassium",
			Result: working.Num("rate", working.Rate, rate),
			From:   working.Values{removal, working.Num("given", working.Rate, given), working.Num("k2o", working.Percent, 100*w.K2O)}}}}
	}
	k := *r.Reading.Potassium
	// What was put on after the reading has raised it since.
	var later quantity.Rate
	for _, p := range r.History {
		if p.Date > r.Reading.Date {
			later += quantity.Rate(float64(p.Rate) * float64(p.Material.K2O.Typical) / 100)
		}
	}
	now := k + soil.PotassiumRise(r.Ground, later)
	room := quantity.Rate(max(0, float64(soil.PotashFor(r.Ground, s.scale.Ceiling-now))) / w.K2O)
	out := []limit{{"potassium-ceiling", room, &working.Step{ID: "potassium-room", Source: "potassium",
		Result: working.Num("rate", working.Rate, room),
		From: working.Values{working.Num("k", working.PPM, now), working.Num("ceiling", working.PPM, s.scale.Ceiling),
			working.Num("critical", working.PPM, s.scale.Critical), working.Num("cec", working.CEC, r.Ground.Capacity()),
			working.Num("k2o", working.Percent, 100*w.K2O)}}}}
	if s.scale.Judge(&now) != soil.Short {
		rate := quantity.Rate(max(0, float64(2*s.crop.Removal-given)) / w.K2O)
		out = append(out, limit{"potassium-year", rate, &working.Step{ID: "potassium-year", Source: "potassium",
			Result: working.Num("rate", working.Rate, rate),
			From:   working.Values{removal, working.Num("given", working.Rate, given), working.Num("k2o", working.Percent, 100*w.K2O)}}})
	}
	return out
}

// goCap is the most at one time. What is left on top must not carry the top
// 5 cm past the band's edge.
func (s *sum) goCap(w material.Worth, caps material.Caps) quantity.Rate {
	most := caps.Go
	if s.r.Ground.Worked == soil.Dug && s.r.Ground.Use != soil.UseLawn {
		return most
	}
	edge := s.crop.Band.High
	if s.want < 0 {
		edge = s.crop.Band.Low
	}
	top := math.Abs(float64(s.curve.Need(s.ph, edge))) * float64(topLayer/s.r.Ground.Depth) / math.Abs(w.Strength)
	return min(most, max(tenth, quantity.Rate(top)))
}

// fewest is how many equal goes the cap on one allows.
func fewest(total, most quantity.Rate) int {
	return max(1, int(math.Ceil(float64(total/most)-1e-9)))
}

// dates lays the goes on days. On a reading of weak trust the first go is
// half, and a retest stands before the rest.
func (s *sum) dates(b material.Batch, total, goCap quantity.Rate, caps material.Caps) (goes []Go, why calendar.Why, leftOut bool) {
	trust, _ := soil.FindMethod(s.r.Reading.Method)
	rates := equal(total, goCap)
	retest := false
	if trust.Dose == soil.HalfFirst {
		first := min(total/2, goCap)
		rates = append([]quantity.Rate{first}, equal(total-first, goCap)...)
		retest = true
	}
	before := append([]calendar.Put(nil), s.r.History...)
	from, last := s.r.Date, s.r.Date+calendar.Horizon
	for n, rate := range rates {
		day, w := s.season.Next(b.Material, rate, caps, before, from, last)
		if w != calendar.Free {
			return goes, w, true
		}
		g := Go{N: n + 1, Date: day, Kind: b.Kind, Rate: rate, RetestFirst: retest && n > 0}
		goes = append(goes, g)
		before = append(before, calendar.Put{Date: day, Material: b.Material, Rate: rate})
		from = day + 1
		if retest && n == 0 {
			from = calendar.Retest(b.Material, &s.r.Climate, day, 0)
		}
	}
	return goes, calendar.Free, false
}

func equal(total, most quantity.Rate) []quantity.Rate {
	if total < tenth {
		return nil
	}
	n := fewest(total, most)
	out := make([]quantity.Rate, n)
	for i := range out {
		out[i] = total / quantity.Rate(n)
	}
	return out
}

// spread joins the doubts of reading, school and strength.
func (s *sum) spread(caco3 quantity.Rate, w material.Worth) Spread {
	median := s.curve.Move(s.ph, s.onWay+caco3)
	moved := float64(median - s.ph)
	sd := math.Sqrt(sq(s.sd) + sq(s.buffer.RelativeSD*moved) + sq(w.RelativeSD*moved))
	return Spread{median, median - quantity.PH(z95*sd), median + quantity.PH(z95*sd)}
}

func sq(x float64) float64 { return x * x }

// partSteps shows the total, the goes and the potassium.
func (s *sum) partSteps(o Option, b material.Batch, goCap quantity.Rate, caps material.Caps) []working.Step {
	g := s.r.Ground
	p := o.Parts[0]
	steps := []working.Step{
		{ID: "on-bed", Source: "bed", Result: working.Num("total", working.Mass, p.Total),
			From: working.Values{working.Num("rate", working.Rate, p.Rate), working.Num("area", working.Area, g.Area), working.ID("limit", o.Limit)}},
		{ID: "goes", Source: "caps", Result: working.Int("goes", working.Count, len(o.Goes)),
			From: working.Values{working.Num("rate", working.Rate, p.Rate), working.Num("cap", working.Rate, goCap),
				working.Int("weeks", working.Weeks, caps.Weeks), working.ID("worked", g.Worked), working.ID("kind", b.Kind)}},
		{ID: "settles", Source: "doubt", Result: working.Num("ph", working.PH, o.PH.Median),
			From: working.Values{working.Num("from", working.PH, s.ph), working.Num("caco3", working.Rate, o.CaCO3),
				working.Num("reading_sd", working.PH, s.sd), working.Num("school_sd", working.Percent, 100*s.buffer.RelativeSD),
				working.Num("p05", working.PH, o.PH.P05), working.Num("p95", working.PH, o.PH.P95)}},
	}
	if o.K2O <= 0 {
		return steps
	}
	steps = append(steps, working.Step{ID: "potash", Source: "materials", Result: working.Num("k2o", working.Mass, o.K2O.Over(g.Area)),
		From: working.Values{working.Num("total", working.Mass, p.Total), working.Num("share", working.Percent, 100*float64(o.K2O/p.Rate)), working.Num("rate", working.Rate, o.K2O)}})
	from := working.Values{working.Num("k2o", working.Rate, o.K2O), working.Num("soil", working.SoilMass, g.SoilMass()),
		working.Num("held", working.Ratio, soil.Held(g)), working.Num("rise", working.PPM, soil.PotassiumRise(g, o.K2O)),
		working.Num("ceiling", working.PPM, s.scale.Ceiling)}
	result := working.Num("rise", working.PPM, soil.PotassiumRise(g, o.K2O))
	if o.KAfter != nil {
		from = append(from, working.Num("before", working.PPM, *s.r.Reading.Potassium))
		result = working.Num("after", working.PPM, *o.KAfter)
	}
	return append(steps, working.Step{ID: "potassium", Source: "potassium", Result: result, From: from})
}
