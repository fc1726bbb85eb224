package dose

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// limit is a ceiling on the amount of a material, with the id of its reason and
// what it was reckoned from.
type limit struct {
	id   string
	rate quantity.Rate
	// given is the K₂O that the year has had.
	given quantity.Rate
	// k is the potassium that the bed holds by now.
	k quantity.Concentration
}

// limits are the ceilings on one material; mostLimits is how many there can be.
type limits struct {
	list [mostLimits]limit
	n    int
}

const mostLimits = 5

func (l *limits) add(x limit) { l.list[l.n] = x; l.n++ }

func (l *limits) all() []limit { return l.list[:l.n] }

// topLayer is where a material works that is left on top.
const topLayer quantity.Depth = 0.05

// part is one material's share of an option, planned.
type part struct {
	i     int
	batch *material.Batch
	worth material.Worth
	caps  material.Caps
	goCap quantity.Rate
	// rate is what goes on in all, of the material.
	rate quantity.Rate
	goes []Go
	// limit is what kept it from meeting what was wanted of it; "" if nothing.
	limit string
	// leftOut is set when goes found no day.
	leftOut bool
	// moved is the rule that keeps it off on the day of the dose.
	moved calendar.Why
	// wanted is the CaCO₃ that was asked of it, limits what it was held to. A
	// part that only feeds potassium has none; potash is what it was to bring.
	wanted, potash quantity.Rate
	// asked is the material that meets it.
	asked  quantity.Rate
	limits limits
}

// caco3 is what the part brings, signed.
func (p *part) caco3() quantity.Rate { return quantity.Rate(float64(p.rate) * p.worth.Strength) }

// onTop tells whether a go is left on the surface.
func (s *sum) onTop() bool {
	return s.r.Ground.Worked != soil.Dug || s.r.Ground.Use == soil.UseLawn
}

// plan finds how much of a material serves a want of CaCO₃, and on which days
// from a day on; against is what refuses it.
func (s *sum) plan(i int, b *material.Batch, w material.Worth, want quantity.Rate, from quantity.Day) (p part, against *guard.Finding) {
	caps, _ := material.CapsFor(b.Family, s.r.Ground)
	if !caps.Offered() {
		n := guard.NotOffered(b.Kind, s.r.Ground.Use, s.r.Ground.Worked)
		return p, &n
	}
	p = part{i: i, batch: b, worth: w, caps: caps, wanted: want, asked: quantity.Rate(float64(want) / w.Strength)}
	s.limit(&p)
	total := p.asked
	for _, l := range p.limits.all() {
		if l.rate < total-1e-9 {
			total, p.limit = l.rate, l.id
		}
	}
	if total < tenth {
		n := guard.NothingToGive(p.limit)
		return p, &n
	}
	p.goCap = s.goCap(w, caps)
	return p, s.lay(&p, total, from)
}

// lay puts a total on days; against is set when no day serves.
func (s *sum) lay(p *part, total quantity.Rate, from quantity.Day) (against *guard.Finding) {
	goes, why, leftOut := s.dates(p.batch, total, p.goCap, p.caps, from)
	if n := quantity.Rate(len(goes)); leftOut && n > 0 && total > n*p.goCap/2 {
		// Fewer goes find a day than were wanted: those that do may be larger.
		if again, w, _ := s.dates(p.batch, min(total, n*p.goCap), p.goCap, p.caps, from); len(again) == len(goes) {
			goes, leftOut = again, total > n*p.goCap || w != calendar.Free
		}
	}
	if len(goes) == 0 {
		n := guard.NoDay(string(why))
		return &n
	}
	if first := goes[0].Date; first > s.r.Date {
		p.moved = s.season.Blocked(p.batch.Family, s.r.Date)
		if p.moved == calendar.Free {
			_, p.moved = s.season.Next(p.batch.Family, goes[0].Rate, p.caps, nil, s.r.Date, s.r.Date)
		}
	}
	if leftOut && p.limit == "" {
		p.limit = string(why)
	}
	for n := range goes {
		goes[n].Total = goes[n].Rate.Over(s.r.Ground.Area)
		goes[n].strength = p.worth.Strength
		p.rate += goes[n].Rate
	}
	p.goes, p.leftOut = goes, leftOut
	return nil
}

// assemble makes an option of its parts.
func (s *sum) assemble(parts []part) Option {
	g := &s.r.Ground
	n := 0
	for i := range parts {
		n += len(parts[i].goes)
	}
	o := Option{Parts: make([]Part, 0, len(parts)), Goes: make([]Go, 0, n), from: s, parts: parts}
	cost, priced := 0.0, true
	strengthVar := 0.0
	for n := range parts {
		p := &parts[n]
		o.Parts = append(o.Parts, Part{Batch: p.i, Kind: p.batch.Kind, Rate: p.rate, Total: p.rate.Over(g.Area)})
		o.CaCO3 += p.caco3()
		strengthVar += sq(float64(p.caco3()) * p.worth.RelativeSD)
		o.K2O += quantity.Rate(float64(p.rate) * p.worth.K2O)
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
		o.Limit = cmp.Or(o.Limit, p.limit)
	}
	if priced {
		all := cost
		o.Cost = &all
	}
	s.order(&o)
	o.Unmet = s.want - o.CaCO3
	if math.Abs(float64(o.Unmet)) < float64(nothing) {
		o.Unmet, o.Limit = 0, ""
	}
	if k := s.r.Reading.Potassium; k != nil {
		after := *k + soil.PotassiumRise(*g, o.K2O)
		o.KAfter = &after
	}
	s.close(&o, parts)
	relative := 0.0
	if o.CaCO3 != 0 {
		relative = math.Sqrt(strengthVar) / math.Abs(float64(o.CaCO3))
	}
	o.PH = s.spread(o.CaCO3, relative)
	var before quantity.Rate
	for _, x := range o.Goes {
		if x.Date < o.Retest {
			before += quantity.Rate(float64(x.Rate) * x.strength)
		}
	}
	o.AtRetest = s.spread(before, relative)
	s.guards(&o, parts)
	return o
}

// order sets the goes by their days and tells where each brings the soil.
func (s *sum) order(o *Option) {
	slices.SortStableFunc(o.Goes, func(a, b Go) int { return int(a.Date - b.Date) })
	share := float64(topLayer / s.r.Ground.Depth)
	var caco3 quantity.Rate
	for n := range o.Goes {
		x := &o.Goes[n]
		x.N = n + 1
		own := quantity.Rate(float64(x.Rate) * x.strength)
		caco3 += own
		x.PHAfter = s.curve.Move(s.from, s.onWay+caco3)
		if s.onTop() {
			x.TopAfter = s.curve.Move(s.top(), own/quantity.Rate(share))
		}
	}
}

// top is the pH of the top 5 cm.
func (s *sum) top() quantity.PH {
	if len(s.r.Reading.Layers) == 0 {
		return s.from
	}
	in, _ := s.r.Reading.Slices(topLayer)
	var sum quantity.PH
	for _, l := range in {
		sum += l.PH * quantity.PH(l.Thick/topLayer)
	}
	return sum
}

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
			o.Retest = max(o.Retest, calendar.Retest(&p.batch.Material, &s.r.Climate, last, s.r.Reading.Date))
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
			if d := calendar.Retest(&p.batch.Material, &s.r.Climate, p.goes[0].Date, season); day == 0 || d < day {
				day = d
			}
		}
		if day != 0 && day <= latest {
			return day
		}
	}
	return latest
}

// guards gathers what holds for an option: by part, each id once.
func (s *sum) guards(o *Option, parts []part) {
	found := s.found[:0]
	for n := range parts {
		p := &parts[n]
		f := &s.facts
		f.Material, f.Worth, f.Total = p.batch, p.worth, p.rate
		f.KAfter, f.P95, f.Unmet, f.LeftOut, f.N = o.KAfter, o.PH.P95, o.Unmet, p.leftOut, o.N
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

// mixes joins ash that falls short with lime for the rest, and lime with
// potassium sulfate where potassium is short and ash is not to be had.
func (s *sum) mixes(plans []part, list []material.Batch) []Option {
	if s.want <= 0 {
		return nil
	}
	lime := s.mixLime(plans)
	if lime == nil {
		return nil
	}
	var out []Option
	ash := false
	for _, p := range plans {
		if p.batch.Family != material.Ash {
			continue
		}
		ash = true
		rest := s.want - p.caco3()
		if rest < nothing {
			continue
		}
		from := s.r.Date
		if s.onTop() {
			// Both work in the same top 5 cm: the lime waits for the ash.
			from = p.goes[len(p.goes)-1].Date.AddWeeks(lime.caps.Weeks)
		}
		if l, against := s.plan(lime.i, lime.batch, lime.worth, rest, from); against == nil {
			out = append(out, s.assemble([]part{p, l}))
		}
	}
	if p, ok := s.potash(list, ash); ok {
		out = append(out, s.assemble([]part{*lime, p}))
	}
	return out
}

// mixLime picks the lime of a mix: dolomitic when magnesium is low, else the
// first that is not.
func (s *sum) mixLime(plans []part) *part {
	low := s.r.Reading.Magnesium != nil && *s.r.Reading.Magnesium < soil.MagnesiumLow
	var best *part
	for i := range plans {
		p := &plans[i]
		if p.batch.Family != material.Lime {
			continue
		}
		if best == nil || (p.batch.Kind == material.DolomiticLime) == low && (best.batch.Kind == material.DolomiticLime) != low {
			best = p
		}
	}
	return best
}

// potash plans potassium sulfate up to critical, when potassium is short and
// it is on the list, or nothing was named and no ash serves.
func (s *sum) potash(list []material.Batch, ash bool) (p part, ok bool) {
	k := s.r.Reading.Potassium
	if s.scale.Judge(k) != soil.Short {
		return p, false
	}
	at := slices.IndexFunc(list, func(b material.Batch) bool { return b.Kind == material.PotassiumSulfate })
	var b *material.Batch
	switch {
	case at >= 0:
		b = &list[at]
	case len(s.r.Materials) == 0 && !ash:
		m, _ := material.Find(material.PotassiumSulfate)
		at, b = len(list), &material.Batch{Material: m}
	default:
		return p, false
	}
	caps, _ := material.CapsFor(b.Family, s.r.Ground)
	w := b.Worth()
	want := quantity.Rate(float64(soil.PotashFor(s.r.Ground, s.scale.Critical-*k)) / w.K2O)
	total := min(want, caps.Year)
	if b.OnHand != nil {
		total = min(total, b.OnHand.Per(s.r.Ground.Area))
	}
	if total < tenth {
		return p, false
	}
	p = part{i: at, batch: b, worth: w, caps: caps, goCap: caps.Go, potash: want, asked: total}
	against := s.lay(&p, total, s.r.Date)
	return p, against == nil
}

// limit finds the ceilings on a part over a year, in the order in which the
// working tells them.
func (s *sum) limit(p *part) {
	r, b := s.r, p.batch
	p.limits.add(limit{id: "year-cap", rate: p.caps.Year})
	if b.OnHand != nil {
		p.limits.add(limit{id: "supply", rate: b.OnHand.Per(r.Ground.Area)})
	}
	if s.crop.Is(crop.AcidLover) && b.Family == material.Lime {
		p.limits.add(limit{id: "acid-lover-year", rate: material.AcidLoverLimeYear - s.history(material.Lime)})
	}
	if b.Family != material.Ash {
		return
	}
	if r.Schools.Ash == material.Dusting {
		rate := material.DustingCap
		if s.history(material.Ash) > 0 {
			rate = 0
		}
		p.limits.add(limit{id: "dusting", rate: rate})
	}
	if p.worth.K2O > 0 {
		s.potashLimits(p)
	}
}

// history is what was put on of a family in the 365 days before the dose.
func (s *sum) history(f material.Family) quantity.Rate {
	return calendar.InYear(s.r.History, f, s.r.Date)
}

// potashLimits keep ash from overfeeding potassium: never past twice critical,
// and in a year no more than twice what the crop carries off unless short;
// with no test, at most what the crop carries off.
func (s *sum) potashLimits(p *part) {
	r, k2o := s.r, p.worth.K2O
	given := s.potashSince(r.Date - 365)
	share := func(room quantity.Rate) quantity.Rate { return quantity.Rate(max(0, float64(room)) / k2o) }
	if r.Reading.Potassium == nil {
		p.limits.add(limit{id: "potassium-untested", rate: share(s.crop.Removal - given), given: given})
		return
	}
	// What was put on after the reading has raised it since.
	now := *r.Reading.Potassium + soil.PotassiumRise(r.Ground, s.potashSince(r.Reading.Date))
	p.limits.add(limit{id: "potassium-ceiling", rate: share(soil.PotashFor(r.Ground, s.scale.Ceiling-now)), k: now})
	if s.scale.Judge(&now) != soil.Short {
		p.limits.add(limit{id: "potassium-year", rate: share(2*s.crop.Removal - given), given: given})
	}
}

// potashSince is the K₂O that was put on after a day.
func (s *sum) potashSince(day quantity.Day) quantity.Rate {
	var sum quantity.Rate
	for i := range s.r.History {
		if p := &s.r.History[i]; p.Date > day {
			sum += quantity.Rate(float64(p.Rate) * float64(p.Material.K2O.Typical) / 100)
		}
	}
	return sum
}

// goCap is the most at one time. What is left on top must not carry the top
// 5 cm past the band's edge.
func (s *sum) goCap(w material.Worth, caps material.Caps) quantity.Rate {
	most := caps.Go
	if !s.onTop() {
		return most
	}
	edge := s.crop.Band.High
	if s.want < 0 {
		edge = s.crop.Band.Low
	}
	top := math.Abs(float64(s.curve.Need(s.top(), edge))) * float64(topLayer/s.r.Ground.Depth) / math.Abs(w.Strength)
	return min(most, max(tenth, quantity.Rate(top)))
}

// fewest is how many equal goes the cap on one allows.
func fewest(total, most quantity.Rate) int {
	return max(1, int(math.Ceil(float64(total/most)-1e-9)))
}

// dates lays the goes on days. On a reading of weak trust the first go is
// half, and a retest stands before the rest.
func (s *sum) dates(b *material.Batch, total, goCap quantity.Rate, caps material.Caps, from quantity.Day) (goes []Go, why calendar.Why, leftOut bool) {
	if total < tenth {
		return nil, calendar.Free, false
	}
	trust, _ := soil.FindMethod(s.r.Reading.Method)
	half := trust.Dose == soil.HalfFirst
	first, rest, n := total, total, fewest(total, goCap)
	if half {
		first = min(total/2, goCap)
		rest = max(total-first, 0)
		n = fewest(rest, goCap)
	}
	each := rest / quantity.Rate(n)
	if half {
		n++
	} else {
		first = each
	}
	goes = make([]Go, 0, n)
	laid := make([]calendar.Laid, 0, n)
	last := s.r.Date + calendar.Horizon
	for i := range n {
		rate := each
		if i == 0 {
			rate = first
		}
		day, w := s.season.Next(b.Family, rate, caps, laid, from, last)
		if w != calendar.Free {
			return goes, w, true
		}
		goes = append(goes, Go{Date: day, Kind: b.Kind, Rate: rate, RetestFirst: i > 0 && (half || s.onTop() && (b.Raises() || b.Lowers()))})
		laid = append(laid, calendar.Laid{Date: day, Rate: rate})
		from = day + 1
		if half && i == 0 {
			from = calendar.Retest(&b.Material, &s.r.Climate, day, 0)
		}
	}
	return goes, calendar.Free, false
}

// spread joins the doubts of reading, school and strength.
func (s *sum) spread(caco3 quantity.Rate, strengthSD float64) Spread {
	median := s.curve.Move(s.from, s.onWay+caco3)
	moved := float64(median - s.from)
	sd := math.Sqrt(sq(s.sd) + sq(s.buffer.RelativeSD*moved) + sq(strengthSD*moved))
	return Spread{median, median - quantity.PH(z95*sd), median + quantity.PH(z95*sd)}
}

func sq(x float64) float64 { return x * x }
