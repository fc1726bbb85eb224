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

// assemble builds an option from its parts.
func (s *sum) assemble(parts ...part) Option {
	n := 0
	for i := range parts {
		n += len(parts[i].applications)
	}
	o := Option{Parts: make([]Part, 0, len(parts)), Applications: make([]Application, 0, n), ForPotassium: s.forK}
	cost, priced := 0.0, true
	for n := range parts {
		p := &parts[n]
		o.Parts = append(o.Parts, p.Part)
		o.CaCO3 += p.caco3()
		o.K2O += p.k2o()
		o.Calcium += p.Of.Calcium.Of(p.Rate)
		o.Magnesium += p.Of.Magnesium.Of(p.Rate)
		o.N += p.Of.N.Of(p.Rate)
		o.Acts = max(o.Acts, p.Of.Speed().HalfLife*math.Log2(10))
		if p.Of.Price == nil {
			priced = false
		} else {
			cost += *p.Of.Price * float64(p.Total/quantity.Kilogram)
		}
		for _, x := range p.applications {
			x.Part = n
			o.Applications = append(o.Applications, x)
		}
		o.Half = o.Half || p.Half
		o.Limit = cmp.Or(o.Limit, p.Limit)
	}
	if priced {
		all := cost
		o.Cost = &all
	}
	s.order(&o)
	s.shortfall(&o, parts)
	if s.K.Now != nil {
		after := *s.K.Now + soil.PotassiumRise(s.Ground, o.K2O)
		o.KAfter = &after
	}
	s.close(&o, parts)
	s.expect(&o)
	s.guards(&o, parts)
	return o
}

// has reports whether a part of an option is of a family.
func (o *Option) has(f material.Family) bool {
	return slices.ContainsFunc(o.Parts, func(p Part) bool { return p.Of.Family == f })
}

// shortfall computes what an option leaves of its need.
func (s *sum) shortfall(o *Option, parts []part) {
	var rest, restK, first quantity.Rate
	for i := range parts {
		p := &parts[i]
		rest += p.restCaCO3()
		restK += quantity.Rate(float64(p.Rest) * p.Worth.K2O)
		first += p.caco3Of(s.now(p) - p.Rate)
	}
	o.short = quantity.Rate(math.Abs(float64(first)))
	if s.forK {
		if o.ShortfallK2O = max(0, s.wantK-o.K2O-restK); o.ShortfallK2O < nothing {
			o.ShortfallK2O, o.Limit = 0, ""
		}
		return
	}
	o.Shortfall = s.want - o.CaCO3 - rest
	if math.Abs(float64(o.Shortfall)) < float64(nothing) {
		o.Shortfall, o.Limit = 0, ""
	}
}

// order sorts the applications by day and computes the pH after each.
func (s *sum) order(o *Option) {
	slices.SortStableFunc(o.Applications, func(a, b Application) int { return int(a.Date - b.Date) })
	share := quantity.Rate(soil.TopLayer / s.Ground.Depth)
	var caco3 quantity.Rate
	for n := range o.Applications {
		x := &o.Applications[n]
		x.N = n + 1
		caco3 += x.CaCO3
		if !s.hasCurve() {
			continue
		}
		x.PHAfter = s.after(o, n+1, caco3)
		if s.OnTop() && x.CaCO3 != 0 {
			x.TopAfter = s.curveOf(x.CaCO3).Settle(s.Profile.Top, x.CaCO3/share)
		}
	}
}

// after returns where the bed settles with an option's first applications, which bring caco3: by its
// own forecast if there is one.
func (s *sum) after(o *Option, first int, caco3 quantity.Rate) quantity.PH {
	if s.r.Foretold == nil {
		return s.settle(s.onWay + caco3)
	}
	way := s.r.with(*s.r.Foretold, &Option{Parts: o.Parts, Applications: o.Applications[:first]})
	return way.End()
}

// curveOf returns the curve for the direction of an amount.
func (s *sum) curveOf(caco3 quantity.Rate) soil.Curve {
	if caco3 < 0 {
		return s.buffer.Lower
	}
	return s.buffer.Raise
}

// settle returns the pH after an amount.
func (s *sum) settle(caco3 quantity.Rate) quantity.PH { return s.course.Settle(caco3) }

// expect computes an option's final pH and its retest's reading, each with its spread, and the
// probability of going past the range before a test.
func (s *sum) expect(o *Option) {
	if !s.hasCurve() || s.forK && o.CaCO3 == 0 {
		return // an option that does not move pH makes no promise
	}
	variance := 0.0
	for n := range o.Parts {
		variance += sq(float64(o.Parts[n].caco3()) * o.Parts[n].Worth.LogSD)
	}
	s.doubt.Strength = 0
	if o.CaCO3 != 0 {
		s.doubt.Strength = math.Sqrt(variance) / math.Abs(float64(o.CaCO3))
	}
	// What is promised is the bed's own forecast, its spread that of the dose.
	end := s.doubt.Of(s.onWay + o.CaCO3)
	o.PH = spread(&end)
	off := quantity.PH(0)
	if s.r.Foretold != nil {
		ph := s.after(o, len(o.Applications), o.CaCO3)
		off, o.PH = ph-o.PH.Median, o.PH.around(ph)
	}

	// The retest reads what has reacted by its day, of earlier applications too.
	var before quantity.Rate
	for _, x := range o.Applications {
		if x.Date < o.Retest && x.CaCO3 != 0 {
			before += x.CaCO3
		}
	}
	way := s.r.onWay(&s.course, o)
	at := way.On(o.Retest)
	o.Reacted = at.Share()
	read := s.doubt.Of(at.Reacted)
	o.AtRetest = spread(&read).around(at.PH)
	if before != o.CaCO3 {
		end = s.doubt.Of(s.onWay + before)
	}
	o.Over = s.pastRange(&end, off, s.want < 0)
}

// pastRange returns the probability of settling PastRange or more past the range: over its top, or
// under its bottom when lowering. off is how far the bed's own forecast lies from the dose's; it
// counts where it lies nearer to that end.
func (s *sum) pastRange(end *forecast.Outcome, off quantity.PH, down bool) float64 {
	if down {
		return end.Below(s.Crop.Range.Low - guard.PastRange - min(off, 0))
	}
	return 1 - end.Below(s.Crop.Range.High+guard.PastRange-max(off, 0))
}

// pool returns an application's amount at its batch's proven strength, and its speed.
func (r *Request) pool(o *Option, x *Application) forecast.Pool {
	part := &o.Parts[x.Part]
	p := forecast.Pool{Date: x.Date, CaCO3: x.CaCO3, Reacts: part.Of.Speed()}
	if part.Batch < len(r.Proved) {
		p.CaCO3 *= quantity.Rate(r.Proved[part.Batch])
	}
	return p
}

// around returns a spread shifted to another median.
func (x Spread) around(mid quantity.PH) Spread {
	keep := func(p quantity.PH) quantity.PH { return max(soil.LeastPH, min(soil.MostPH, p+mid-x.Median)) }
	return Spread{mid, keep(x.P05), keep(x.P95)}
}

func spread(o *forecast.Outcome) Spread {
	return Spread{o.Central(), o.Quantile(p05, -z95), o.Quantile(p95, z95)}
}

func sq(x float64) float64 { return x * x }

// close sets the days of the retest and of the first sowing.
func (s *sum) close(o *Option, parts []part) {
	waits := o.Waits()
	gate := quantity.Day(0) // the first application that a reading must precede
	for _, x := range o.Applications {
		if x.RetestFirst && (gate == 0 || x.Date < gate) {
			gate = x.Date
		}
	}
	for n := range parts {
		p := &parts[n]
		if len(p.applications) == 0 {
			continue // it waits
		}
		last := p.applications[len(p.applications)-1].Date
		if p.Of.Family == material.Ash && !s.Season.Perennial {
			o.SowFrom = max(o.SowFrom, last+s.Season.SowingGap)
		}
		switch {
		case p.Of.Retest == 0 || gate != 0:
		case waits:
			o.Retest = max(o.Retest, calendar.PaceTest(&p.Of.Material, s.Season.Weather, last))
		default:
			o.Retest = max(o.Retest, calendar.Retest(&p.Of.Material, s.Season.Weather, last, s.Reading.Date, s.r.Methods.Retest))
		}
	}
	if gate != 0 {
		o.Retest = s.between(parts, gate)
	}
}

// sampleAhead is how many days before an application its reading is taken.
const sampleAhead quantity.Day = 7

// between dates a retest that must precede an application: in the season of the first reading if
// that is in time, else after the interval of the fastest material, else just before the
// application.
func (s *sum) between(parts []part, gate quantity.Day) quantity.Day {
	latest := gate - sampleAhead
	for _, season := range []quantity.Day{s.Reading.Date, 0} {
		day := quantity.Day(0)
		for n := range parts {
			p := &parts[n]
			if p.Of.Retest == 0 || len(p.applications) == 0 {
				continue
			}
			if d := calendar.Retest(&p.Of.Material, s.Season.Weather, p.applications[0].Date, season, calendar.Yearly); day == 0 || d < day {
				day = d
			}
		}
		if day != 0 && day <= latest {
			return day
		}
	}
	return latest
}

// LimeTime is how long lime takes to serve a crop sown after it.
const LimeTime quantity.Day = 84

// late returns the sowing that lime comes too late for, and the share that will have reacted by
// then.
func (s *sum) late(p *part) (sowing quantity.Day, share float64) {
	if p.Of.Family != material.Lime { // hydrated lime is not slow
		return 0, 0
	}
	first := p.applications[0].Date
	if sowing = s.Season.NextStart(first); sowing == 0 || sowing-first >= LimeTime {
		return 0, 0
	}
	return sowing, 1 - forecast.Unreacted(p.Of.Speed(), s.Season.Weather, s.course.Dug, first, sowing)
}

// guards collects the findings of an option by part, each id once.
func (s *sum) guards(o *Option, parts []part) {
	found := s.found[:0]
	f := &s.facts
	f.KAfter, f.P95, f.Over, f.Shortfall, f.N, f.Mix = o.KAfter, o.PH.P95, o.Over, o.Shortfall, o.N, len(parts) > 1
	if s.want < 0 {
		f.P95 = o.PH.P05
	}
	f.Careful = s.r.Methods.Pace != AllAtOnce
	for n := range parts {
		p := &parts[n]
		if len(p.applications) == 0 {
			continue
		}
		f.Material, f.Worth, f.Total, f.LeftOut = p.Of, p.Worth, p.Rate, p.LeftOut
		f.LateSowing, f.LateShare = s.late(p)
		if p.Of.Family == material.Ash {
			f.AshFiveYears, f.AshRunning = s.r.History.AshYears(p.Rate, s.r.Date)
		}
		found = guard.Append(found, guard.OfOption, f)
		if p.Moved != calendar.Free {
			found = append(found, guard.Moved(string(p.Moved), p.applications[0].Date))
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

// mixes adds to ash that falls short the best lime for the rest. options are those of one part,
// plans their plans.
func (s *sum) mixes(options []Option, plans []part) []Option {
	if s.want <= 0 {
		return nil
	}
	best := -1
	for i := range options {
		if o := &options[i]; o.has(material.Lime) && (best < 0 || s.better(o, &options[best])) {
			best = i
		}
	}
	if best < 0 {
		return nil
	}
	l := &plans[best]
	var out []Option
	for i := range plans {
		p := &plans[i]
		if p.Of.Family != material.Ash {
			continue
		}
		if s.paced(p.Of) {
			if o, ok := s.carefulMix(*p, l); ok {
				out = append(out, o)
			}
			continue
		}
		rest := s.want - p.caco3()
		if rest < nothing {
			continue
		}
		from := s.r.Date
		if s.OnTop() {
			// Both act in the same top 5 cm, so the lime waits for the ash.
			from = p.applications[len(p.applications)-1].Date.AddWeeks(l.Caps.Weeks)
		}
		if x, against := s.plan(l.Batch, l.Of, l.Worth, rest, from); against == nil {
			out = append(out, s.assemble(*p, x))
		}
	}
	return out
}

// carefulMix adds to all the ash that a bed may have the lime lacking of the part before a test.
// There is no mix when ash suffices, nor when both act in the same top 5 cm: there the test comes
// first.
func (s *sum) carefulMix(ash part, lime *part) (o Option, ok bool) {
	first := s.mixedFirst(&ash, lime)
	if s.OnTop() || first-ash.caco3Of(ash.Allowed) < nothing {
		return o, false
	}
	ash.First, ash.Rest, ash.RestTotal = ash.Allowed, 0, 0
	if ash.Rate < ash.Allowed-tenth && s.lay(&ash, s.now(&ash)) != nil {
		return o, false
	}
	left := first - ash.caco3()
	s.leaves = &left
	x, against := s.plan(lime.Batch, lime.Of, lime.Worth, s.want-ash.caco3(), s.r.Date)
	if s.leaves = nil; against != nil {
		return o, false
	}
	return s.assemble(ash, x), true
}
