package dose

import (
	"math"

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

const mostLimits = 8

func (l *limits) add(x limit) { l.list[l.n] = x; l.n++ }

func (l *limits) all() []limit { return l.list[:l.n] }

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
	// half is set when the first go is half, and a test stands before the rest.
	half bool
	// moved is the rule that keeps it off on the day of the dose.
	moved calendar.Why
	// wanted is the CaCO₃ that was asked of it, or the K₂O while potassium is
	// dosed; limits what it was held to.
	wanted quantity.Rate
	// asked is the material that meets it, total what the limits leave of it.
	asked, total quantity.Rate
	from         quantity.Day
	limits       limits
}

// caco3 is what the part brings, signed.
func (p *part) caco3() quantity.Rate { return quantity.Rate(float64(p.rate) * p.worth.Strength) }

// k2o is the potash that it brings.
func (p *part) k2o() quantity.Rate { return quantity.Rate(float64(p.rate) * p.worth.K2O) }

// onTop tells whether a go is left on the surface.
func (s *sum) onTop() bool {
	return s.r.Ground.Worked != soil.Dug || s.r.Ground.Use == soil.UseLawn
}

// halves tells whether the first go is to be half: the reading is weak, or it was
// asked for.
func (s *sum) halves() bool {
	trust, _ := soil.FindMethod(s.r.Reading.Method)
	return !s.forK && (trust.Dose == soil.HalfFirst || s.r.HalfFirst)
}

// plan finds how much of a material serves a want, of CaCO₃ or while potassium is
// dosed of K₂O, and on which days from a day on; against is what refuses it.
func (s *sum) plan(i int, b *material.Batch, w material.Worth, want quantity.Rate, from quantity.Day) (p part, against *guard.Finding) {
	caps, _ := material.CapsFor(b.Family, s.r.Ground)
	if !caps.Offered() {
		n := guard.NotOffered(b.Kind, s.r.Ground.Use, s.r.Ground.Worked)
		return p, &n
	}
	per := w.Strength
	if s.forK {
		per = w.K2O
	}
	p = part{i: i, batch: b, worth: w, caps: caps, wanted: want, asked: quantity.Rate(float64(want) / per), from: from, half: s.halves()}
	least := s.leastOf(b.Family)
	if p.asked < least {
		n := guard.NotWorthwhile(b.Kind, p.asked, least)
		return p, &n
	}
	s.limit(&p)
	p.total = p.asked
	for _, l := range p.limits.all() {
		if l.rate < p.total-1e-9 {
			p.total, p.limit = l.rate, l.id
		}
	}
	p.goCap = s.goCap(&p)
	switch {
	case p.total < max(tenth, least):
		n := guard.NothingToGive(p.limit)
		return p, &n
	case p.goCap < tenth:
		n := guard.NothingToGive("top-layer")
		return p, &n
	}
	if against = s.lay(&p, p.total); against == nil && p.rate < least {
		n := guard.NothingToGive("top-layer")
		return p, &n
	}
	return p, against
}

// leastOf is the least of a family that is worth a go in all; in pots any is.
func (s *sum) leastOf(f material.Family) quantity.Rate {
	if s.r.Ground.Use == soil.UsePot {
		return 0
	}
	return material.Worthwhile(f)
}

// lay puts a total on days; against is set when no day serves.
func (s *sum) lay(p *part, total quantity.Rate) (against *guard.Finding) {
	goes, why, leftOut := s.dates(p, total, 0)
	for more := 1; leftOut && more <= mostMore; more++ {
		// Smaller goes may find the days that larger ones do not: under the year's
		// cap with what went on before.
		if again, w, left := s.dates(p, total, more); sumOf(again) > sumOf(goes)+tenth {
			goes, why, leftOut = again, w, left
		}
	}
	if n := quantity.Rate(len(goes)); leftOut && n > 0 && total > n*p.goCap/2 {
		// Fewer goes find a day than were wanted: those that do may be larger.
		if again, w, _ := s.dates(p, min(total, n*p.goCap), 0); len(again) == len(goes) && sumOf(again) > sumOf(goes) {
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
	p.rate = 0
	for n := range goes {
		goes[n].Total = goes[n].Rate.Over(s.r.Ground.Area)
		goes[n].strength = p.worth.Strength
		p.rate += goes[n].Rate
	}
	p.goes, p.leftOut = goes, leftOut
	return nil
}

// mostMore is how many goes more than the fewest are tried.
const mostMore = 2

func sumOf(goes []Go) (sum quantity.Rate) {
	for i := range goes {
		sum += goes[i].Rate
	}
	return sum
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
	if b.Family == material.Ash && r.Schools.Ash == material.Dusting {
		p.limits.add(limit{id: "dusting", rate: s.dusting()})
	}
	if s.forK && b.Raises() {
		p.limits.add(limit{id: "ph-room", rate: s.phRoom(p)})
	}
	if p.worth.K2O > 0 && b.Family == material.Ash {
		s.potashLimits(p)
	}
}

// dusting is what a light dusting leaves of this year's: all, or nothing.
func (s *sum) dusting() quantity.Rate {
	if s.history(material.Ash) > 0 {
		return 0
	}
	return material.DustingCap
}

// phRoom is how much of a material may go on for its potassium: none past 0.2
// under the band's top.
func (s *sum) phRoom(p *part) quantity.Rate {
	top := s.crop.Band.High - guard.PastBand
	room := s.buffer.Raise.Need(s.course.From, top) - s.onWay
	return quantity.Rate(max(0, float64(room)) / p.worth.Strength)
}

// history is what was put on of a family in the 365 days before the dose.
func (s *sum) history(f material.Family) quantity.Rate {
	return calendar.InYear(s.r.History, f, s.r.Date)
}

// potashLimits keep ash from overfeeding potassium: never past twice critical,
// and in a year no more than twice what the crop carries off unless short;
// where it is not known, at most what the crop carries off.
func (s *sum) potashLimits(p *part) {
	given := potashSince(s.r.History, s.r.Date-yearDays)
	share := func(room quantity.Rate) quantity.Rate { return quantity.Rate(max(0, float64(room)) / p.worth.K2O) }
	if s.k.State == soil.Unknown || s.k.Vague {
		p.limits.add(limit{id: "potassium-untested", rate: share(s.crop.Removal - given), given: given})
	}
	if s.k.Now == nil {
		return
	}
	p.limits.add(limit{id: "potassium-ceiling", rate: share(soil.PotashFor(s.r.Ground, s.k.Scale.Ceiling-*s.k.Now)), k: *s.k.Now})
	if s.k.State != soil.Short && s.k.State != soil.Unknown {
		p.limits.add(limit{id: "potassium-year", rate: share(2*s.crop.Removal - given), given: given})
	}
}

// yearDays is any 365 days.
const yearDays quantity.Day = 365

// goCap is the most at one time. What is left on top must not carry the top
// 5 cm nearer than 0.2 to the band's edge.
func (s *sum) goCap(p *part) quantity.Rate {
	most := p.caps.Go
	if !s.onTop() || p.worth.Strength == 0 || !s.hasCurve {
		return most
	}
	curve, edge, sign := s.buffer.Raise, s.crop.Band.High-guard.PastBand, 1.0
	if p.worth.Strength < 0 {
		curve, edge, sign = s.buffer.Lower, s.crop.Band.Low+guard.PastBand, -1
	}
	room := sign * float64(curve.Need(s.profile.Top, edge)) * float64(soil.TopLayer/s.r.Ground.Depth)
	return min(most, quantity.Rate(max(0, room)/math.Abs(p.worth.Strength)))
}

// fewest is how many equal goes the cap on one allows.
func fewest(total, most quantity.Rate) int {
	return max(1, int(math.Ceil(float64(total/most)-1e-9)))
}

// dates lays the goes of a part on days, as few as the caps allow and some more.
// By halves, the first go is half, and a retest stands before the rest.
func (s *sum) dates(p *part, total quantity.Rate, more int) (goes []Go, why calendar.Why, leftOut bool) {
	if total < tenth {
		return nil, calendar.Free, false
	}
	b, from := p.batch, p.from
	first, rest, n := total, total, fewest(total, p.goCap)
	if p.half {
		first = min(total/2, p.goCap)
		rest = max(total-first, 0)
		n = fewest(rest, p.goCap)
	}
	n += more
	each := rest / quantity.Rate(n)
	if p.half {
		n++
	} else {
		first = each
	}
	// More goes than weeks of the year find no day.
	n = min(n, 53)
	goes = make([]Go, 0, min(n, 4))
	laid := make([]calendar.Laid, 0, 4)
	last := s.r.Date + calendar.Horizon
	for i := range n {
		rate := each
		if i == 0 {
			rate = first
		}
		day, w := s.season.Next(b.Family, rate, p.caps, laid, from, last)
		if w != calendar.Free {
			return goes, w, true
		}
		goes = append(goes, Go{Date: day, Kind: b.Kind, Rate: rate, RetestFirst: i > 0 && (p.half || s.onTop() && b.MovesPH())})
		laid = append(laid, calendar.Laid{Date: day, Rate: rate})
		from = day + 1
		if p.half && i == 0 {
			from = calendar.Retest(&b.Material, &s.r.Climate, day, 0, calendar.Yearly)
		}
	}
	return goes, calendar.Free, false
}
