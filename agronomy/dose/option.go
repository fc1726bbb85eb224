package dose

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// assemble makes an option of its parts.
func (s *sum) assemble(parts []part) Option {
	g := &s.r.Ground
	n := 0
	for i := range parts {
		n += len(parts[i].goes)
	}
	o := Option{Parts: make([]Part, 0, len(parts)), Goes: make([]Go, 0, n), from: s, parts: parts, potassium: s.forK}
	cost, priced := 0.0, true
	for n := range parts {
		p := &parts[n]
		o.Parts = append(o.Parts, Part{Batch: p.i, Kind: p.batch.Kind, Rate: p.rate, Total: p.rate.Over(g.Area)})
		o.CaCO3 += p.caco3()
		o.K2O += p.k2o()
		o.Calcium += p.batch.Calcium.Of(p.rate)
		o.Magnesium += p.batch.Magnesium.Of(p.rate)
		o.N += p.batch.N.Of(p.rate)
		o.Acts = max(o.Acts, p.batch.Speed().HalfLife*math.Log2(10))
		if p.batch.Price == nil {
			priced = false
		} else {
			cost += *p.batch.Price * float64(p.rate.Over(g.Area)/quantity.Kilogram)
		}
		for _, x := range p.goes {
			x.Part = n
			o.Goes = append(o.Goes, x)
		}
		o.Half = o.Half || p.half
		o.Limit = cmp.Or(o.Limit, p.limit)
	}
	if priced {
		all := cost
		o.Cost = &all
	}
	s.order(&o)
	s.unmet(&o)
	if s.k.Now != nil {
		after := *s.k.Now + soil.PotassiumRise(*g, o.K2O)
		o.KAfter = &after
	}
	s.close(&o, parts)
	s.expect(&o, parts)
	s.guards(&o, parts)
	return o
}

// has tells whether a part of an option is of a family.
func (o *Option) has(f material.Family) bool {
	return slices.ContainsFunc(o.parts, func(p part) bool { return p.batch.Family == f })
}

// unmet is what an option leaves of what it is for.
func (s *sum) unmet(o *Option) {
	if s.forK {
		if o.UnmetK2O = max(0, s.wantK-o.K2O); o.UnmetK2O < nothing {
			o.UnmetK2O, o.Limit = 0, ""
		}
		return
	}
	o.Unmet = s.want - o.CaCO3
	if math.Abs(float64(o.Unmet)) < float64(nothing) {
		o.Unmet, o.Limit = 0, ""
	}
}

// order sets the goes by their days and tells where each brings the soil.
func (s *sum) order(o *Option) {
	slices.SortStableFunc(o.Goes, func(a, b Go) int { return int(a.Date - b.Date) })
	share := quantity.Rate(soil.TopLayer / s.r.Ground.Depth)
	var caco3 quantity.Rate
	for n := range o.Goes {
		x := &o.Goes[n]
		x.N = n + 1
		own := quantity.Rate(float64(x.Rate) * x.strength)
		caco3 += own
		if !s.hasCurve {
			continue
		}
		x.PHAfter = s.settle(s.onWay + caco3)
		if s.onTop() && x.strength != 0 {
			x.TopAfter = s.curveOf(own).Settle(s.profile.Top, own/share)
		}
	}
}

// curveOf is the curve of the way that an amount moves the bed.
func (s *sum) curveOf(caco3 quantity.Rate) soil.Curve {
	if caco3 < 0 {
		return s.buffer.Lower
	}
	return s.buffer.Raise
}

// settle is where an amount brings the bed.
func (s *sum) settle(caco3 quantity.Rate) quantity.PH { return s.course.Settle(caco3) }

// expect tells where an option settles and what its retest should read, each
// with its doubt, and the chance of going past the band before a test can tell.
func (s *sum) expect(o *Option, parts []part) {
	if !s.hasCurve {
		return
	}
	variance := 0.0
	for n := range parts {
		variance += sq(float64(parts[n].caco3()) * parts[n].worth.LogSD)
	}
	s.doubt.Strength = 0
	if o.CaCO3 != 0 {
		s.doubt.Strength = math.Sqrt(variance) / math.Abs(float64(o.CaCO3))
	}
	end := s.doubt.Of(s.onWay + o.CaCO3)
	o.PH = spread(&end)

	// The retest reads what has acted by its day, of earlier goes too.
	known := len(s.course.Pools)
	var before quantity.Rate
	for _, x := range o.Goes {
		if x.Date < o.Retest && x.strength != 0 {
			p := forecast.Pool{Date: x.Date, CaCO3: quantity.Rate(float64(x.Rate) * x.strength), Reacts: parts[x.Part].batch.Speed()}
			s.course.Pools = append(s.course.Pools, p)
			before += p.CaCO3
		}
	}
	at := s.course.On(o.Retest)
	s.course.Pools = s.course.Pools[:known]
	o.Reacted = at.Share()
	read := s.doubt.Of(at.Reacted)
	o.AtRetest = spread(&read)
	if before != o.CaCO3 {
		end = s.doubt.Of(s.onWay + before)
	}
	if s.want < 0 {
		o.Over = end.Below(s.crop.Band.Low - guard.PastBand)
	} else {
		o.Over = 1 - end.Below(s.crop.Band.High+guard.PastBand)
	}
}

func spread(o *forecast.Outcome) Spread {
	return Spread{o.Central(), o.Quantile(p05, -z95), o.Quantile(p95, z95)}
}

func sq(x float64) float64 { return x * x }

// close dates the retest and the first sowing.
func (s *sum) close(o *Option, parts []part) {
	gate := quantity.Day(0) // the first go that a reading must stand before
	for _, x := range o.Goes {
		if x.RetestFirst && (gate == 0 || x.Date < gate) {
			gate = x.Date
		}
	}
	for n := range parts {
		p := &parts[n]
		last := p.goes[len(p.goes)-1].Date
		if p.batch.Family == material.Ash && !s.season.Perennial {
			o.SowFrom = max(o.SowFrom, last+s.season.SowingGap)
		}
		if p.batch.Retest > 0 && gate == 0 {
			o.Retest = max(o.Retest, calendar.Retest(&p.batch.Material, &s.r.Climate, last, s.r.Reading.Date, s.r.Schools.Retest))
		}
	}
	if gate != 0 {
		o.Retest = s.between(parts, gate)
	}
}

// sampleAhead is how long before a go the reading that it waits for is taken.
const sampleAhead quantity.Day = 7

// between dates a retest that must stand before a go: in the season of the
// first reading where that is in time, else after the interval of what acts
// soonest, else just before the go.
func (s *sum) between(parts []part, gate quantity.Day) quantity.Day {
	latest := gate - sampleAhead
	for _, season := range []quantity.Day{s.r.Reading.Date, 0} {
		day := quantity.Day(0)
		for n := range parts {
			p := &parts[n]
			if p.batch.Retest == 0 {
				continue
			}
			if d := calendar.Retest(&p.batch.Material, &s.r.Climate, p.goes[0].Date, season, calendar.Yearly); day == 0 || d < day {
				day = d
			}
		}
		if day != 0 && day <= latest {
			return day
		}
	}
	return latest
}

// limeTime is how long lime takes to serve the crop that is sown after it.
const limeTime quantity.Day = 84

// late finds the sowing that a lime comes too late for, and how much of it will
// have acted by then.
func (s *sum) late(p *part) (sowing quantity.Day, share float64) {
	if f := p.batch.Family; f != material.Lime && f != material.HydratedLime {
		return 0, 0
	}
	first := p.goes[0].Date
	if sowing = s.season.NextStart(first); sowing == 0 || sowing-first >= limeTime {
		return 0, 0
	}
	return sowing, 1 - forecast.Unreacted(p.batch.Speed(), &s.r.Climate, s.course.Dug, first, sowing)
}

// ashYears sums the ash of five years with an option's own, and tells whether
// three years running, the coming one among them, had much.
func (s *sum) ashYears(own quantity.Rate) (all quantity.Rate, running bool) {
	years := [material.MuchAshYears]quantity.Rate{own}
	all = own
	for i := range s.r.History {
		p := &s.r.History[i]
		if p.Material.Family != material.Ash {
			continue
		}
		ago := s.r.Date - p.Date
		if ago < material.MuchAshSpan {
			all += p.Rate
		}
		if y := int(ago / yearDays); y < len(years) {
			years[y] += p.Rate
		}
	}
	running = true
	for _, y := range years {
		running = running && y > material.MuchAshYear
	}
	return all, running
}

// guards gathers what holds for an option: by part, each id once.
func (s *sum) guards(o *Option, parts []part) {
	found := s.found[:0]
	f := &s.facts
	f.KAfter, f.P95, f.Over, f.Unmet, f.N, f.Mix = o.KAfter, o.PH.P95, o.Over, o.Unmet, o.N, len(parts) > 1
	if s.want < 0 {
		f.P95 = o.PH.P05
	}
	for n := range parts {
		p := &parts[n]
		f.Material, f.Worth, f.Total, f.LeftOut = p.batch, p.worth, p.rate, p.leftOut
		f.LateSowing, f.LateShare = s.late(p)
		if p.batch.Family == material.Ash {
			f.AshFiveYears, f.AshRunning = s.ashYears(p.rate)
		}
		found = guard.Append(found, guard.OfOption, f)
		if p.moved != calendar.Free {
			found = append(found, guard.Moved(string(p.moved), p.goes[0].Date))
		}
	}
	s.found = found
	o.Guards = make([]guard.Finding, 0, len(found))
	for _, f := range found {
		if !slices.ContainsFunc(o.Guards, func(g guard.Finding) bool { return g.ID == f.ID }) {
			o.Guards = append(o.Guards, f)
		}
	}
}

// mixes joins ash that falls short with the best lime for the rest. options are
// those of one part.
func (s *sum) mixes(options []Option) []Option {
	if s.want <= 0 {
		return nil
	}
	var lime *Option
	for i := range options {
		if o := &options[i]; o.has(material.Lime) && (lime == nil || s.better(o, lime)) {
			lime = o
		}
	}
	if lime == nil {
		return nil
	}
	l := &lime.parts[0]
	var out []Option
	for i := range options {
		p := &options[i].parts[0]
		if p.batch.Family != material.Ash {
			continue
		}
		rest := s.want - p.caco3()
		if rest < nothing {
			continue
		}
		from := s.r.Date
		if s.onTop() {
			// Both work in the same top 5 cm: the lime waits for the ash.
			from = p.goes[len(p.goes)-1].Date.AddWeeks(l.caps.Weeks)
		}
		if x, against := s.plan(l.i, l.batch, l.worth, rest, from); against == nil {
			out = append(out, s.assemble([]part{*p, x}))
		}
	}
	return out
}

// WantsHalf tells whether half first is to be offered beside the full dose: it may
// well end past the band.
func (o *Option) WantsHalf() bool {
	return slices.ContainsFunc(o.Guards, func(f guard.Finding) bool { return f.ID == "overshoot" || f.ID == "undershoot" })
}

// HalfFirst is an option with half of it first, and a test before the rest; ok is
// false where that is its plan already, or cannot be laid.
func (o *Option) HalfFirst() (half Option, ok bool) {
	if o.from == nil || o.Half || o.potassium {
		return half, false
	}
	parts := slices.Clone(o.parts)
	for i := range parts {
		p := &parts[i]
		p.half = true
		if against := o.from.lay(p, p.total); against != nil {
			return half, false
		}
	}
	return o.from.assemble(parts), true
}
