package dose

import (
	"math"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// part is one material of an option, planned with its applications.
type part struct {
	Part
	applications []Application
}

// weak reports whether the reading supports at most half a dose.
func (s *sum) weak() bool {
	trust, _ := soil.FindMethod(s.Reading.Method)
	return trust.Dose == soil.HalfFirst
}

// halves reports whether the first application of a whole dose is half: of a material that moves
// pH, on a weak reading.
func (s *sum) halves(b *material.Batch) bool {
	return s.r.Methods.Pace == AllAtOnce && s.weak() && b.MovesPH()
}

// plan computes how much of a material serves a want of CaCO₃, or of K₂O while potassium is dosed,
// and on which days; against is what refuses it.
func (s *sum) plan(i int, b *material.Batch, w material.Worth, want quantity.Rate, from quantity.Day) (p part, against *guard.Finding) {
	caps, _ := b.CapsOn(s.Ground)
	if !caps.Offered() {
		n := guard.NotOffered(b.Kind, s.Ground.Use, s.Ground.Worked)
		return p, &n
	}
	per := w.EffectiveCCE
	if s.forK {
		per = w.K2O
	}
	p = part{Part: Part{Batch: i, Kind: b.Kind, Of: b, Worth: w, Caps: caps, Wanted: want, Asked: quantity.Rate(float64(want) / per),
		From: from, Half: s.halves(b)}}
	if n := s.tooLittle(b, p.Asked, p.caco3Of(p.Asked)); n != nil {
		return p, n
	}
	if gone := s.pace(&p, p.caco3Of(p.Asked), w.LogSD); gone != nil {
		return p, gone
	}
	s.limit(&p)
	p.Allowed = p.Asked
	for _, l := range p.Limits {
		if l.Rate < p.Allowed-1e-9 {
			p.Allowed, p.Limit = l.Rate, l.ID
		}
	}
	p.OnceCap = s.mostAtOnce(&p)
	switch {
	case p.Allowed < tenth:
		n := guard.NothingToGive(p.Limit)
		return p, &n
	case p.OnceCap < tenth, p.OnceCap < caps.Once && s.tooLittle(b, p.OnceCap, p.caco3Of(p.OnceCap)) != nil:
		n := guard.NothingToGive("top-layer")
		return p, &n
	}
	return p, s.lay(&p, s.now(&p))
}

// tooLittle refuses an amount that moves pH by less than is worth applying, or, for potassium, less
// than is worth spreading.
func (s *sum) tooLittle(b *material.Batch, rate, caco3 quantity.Rate) *guard.Finding {
	if s.forK || !s.hasCurve() || !b.MovesPH() {
		least := material.Worthwhile(b.Family)
		if s.forK && rate < least {
			n := guard.NotWorthwhile(b.Kind, rate, least)
			return &n
		}
		return nil
	}
	if s.moves(caco3) < guard.LeastMove-moveEdge {
		n := guard.MovesTooLittle(b.Kind, rate)
		return &n
	}
	return nil
}

// moveEdge is the rounding margin of that bound.
const moveEdge quantity.PH = 1e-6

// moves returns how far an amount of CaCO₃ moves the bed's pH, or that of its top layer if it stays
// on top.
func (s *sum) moves(caco3 quantity.Rate) quantity.PH {
	by := s.settle(s.onWay+caco3) - s.settle(s.onWay)
	if s.OnTop() {
		share := quantity.Rate(soil.TopLayer / s.Ground.Depth)
		if top := s.curveOf(caco3).Settle(s.Profile.Top, caco3/share) - s.Profile.Top; max(top, -top) > max(by, -by) {
			by = top
		}
	}
	return max(by, -by)
}

// lay dates a total; against is set when no day serves.
func (s *sum) lay(p *part, total quantity.Rate) (against *guard.Finding) {
	dated, why, leftOut := s.dates(p, total, 0)
	for more := 1; leftOut && more <= mostMore; more++ {
		// Smaller applications may find days under the yearly cap that larger ones do not.
		if again, w, left := s.dates(p, total, more); sumOf(again) > sumOf(dated)+tenth {
			dated, why, leftOut = again, w, left
		}
	}
	if n := quantity.Rate(len(dated)); leftOut && n > 0 && total > n*p.OnceCap/2 {
		// Some applications found no day, so the others may be larger.
		if again, w, _ := s.dates(p, min(total, n*p.OnceCap), 0); len(again) == len(dated) && sumOf(again) > sumOf(dated) {
			dated, leftOut = again, total > n*p.OnceCap || w != calendar.Free
		}
	}
	if len(dated) == 0 {
		n := guard.NoDay(string(why))
		return &n
	}
	if first := dated[0].Date; first > s.r.Date {
		p.Moved = s.Season.Blocked(p.Of.Family, s.r.Date)
		if p.Moved == calendar.Free {
			_, p.Moved = s.Season.Next(p.Of.Family, dated[0].Rate, p.Caps, nil, s.r.Date, s.r.Date)
		}
	}
	if leftOut && p.Limit == "" {
		p.Limit = string(why)
	}
	p.Rate = 0
	for n := range dated {
		dated[n].Total = dated[n].Rate.Over(s.Ground.Area)
		dated[n].CaCO3 = quantity.Rate(float64(dated[n].Rate) * p.Worth.EffectiveCCE)
		p.Rate += dated[n].Rate
	}
	p.applications, p.Applications, p.LeftOut, p.Total = dated, len(dated), leftOut, p.Rate.Over(s.Ground.Area)
	s.leaveRest(p)
	return nil
}

// mostMore is how many more than the fewest applications are tried.
const mostMore = 2

func sumOf(applications []Application) (sum quantity.Rate) {
	for i := range applications {
		sum += applications[i].Rate
	}
	return sum
}

// limit computes a part's limits over a year, in the order of the working.
func (s *sum) limit(p *part) {
	r, b := s.r, p.Of
	p.Limits = append(p.Limits, Limit{ID: "year-cap", Rate: p.Caps.Year})
	if b.OnHand != nil {
		p.Limits = append(p.Limits, Limit{ID: "supply", Rate: b.OnHand.Per(s.Ground.Area)})
	}
	if s.Crop.Is(crop.AcidLover) && b.Family == material.Lime {
		p.Limits = append(p.Limits, Limit{ID: "acid-lover-year", Rate: material.AcidLoverLimeYear - s.history(material.Lime)})
	}
	if b.Family == material.Ash && b.Owned() && !s.wellRead() && r.Methods.Pace != AllAtOnce {
		p.Limits = append(p.Limits, Limit{ID: adviceLimit, Rate: material.AshCommonAdvice - s.history(material.Ash)})
	}
	if b.Family == material.Ash && r.Methods.Ash == material.Dusting {
		p.Limits = append(p.Limits, Limit{ID: "dusting", Rate: s.dusting()})
	}
	if s.forK && b.Raises() {
		p.Limits = append(p.Limits, Limit{ID: "ph-room", Rate: s.phRoom(p)})
	}
	if p.Worth.K2O > 0 && b.Family == material.Ash {
		s.potashLimits(p)
	}
}

// adviceLimit is the id of the limit of owned ash to common advice, unless a good reading shows a
// need of more; under the careful pace only.
const adviceLimit = "ash-advice"

// wellRead reports whether a lab or calibrated meter shows the need.
func (s *sum) wellRead() bool { return s.Reading.Method == soil.Lab || s.Reading.Method == soil.Meter }

// dusting returns what is left of this year's light dusting: all or nothing.
func (s *sum) dusting() quantity.Rate {
	if s.history(material.Ash) > 0 {
		return 0
	}
	return material.DustingCap
}

// phRoom returns how much of a material may be applied for its potassium: up to 0.2 below the
// range's top.
func (s *sum) phRoom(p *part) quantity.Rate {
	top := s.Crop.Range.High - guard.PastRange
	room := s.buffer.Raise.Need(s.course.From, top) - s.onWay
	return quantity.Rate(max(0, float64(room)) / p.Worth.EffectiveCCE)
}

// history returns what was applied of a family in the 365 days before the dose.
func (s *sum) history(f material.Family) quantity.Rate {
	return s.r.History.InYear(f, s.r.Date)
}

// potashLimits limit the potassium from ash: never past twice critical, and in a year at most
// MostRemovals times the crop's removal unless potassium is short; if unknown, at most the removal.
func (s *sum) potashLimits(p *part) {
	given := s.r.History.K2OAfter(s.r.Date - ledger.YearDays)
	share := func(room quantity.Rate) quantity.Rate { return quantity.Rate(max(0, float64(room)) / p.Worth.K2O) }
	if s.K.State == soil.Unknown || s.K.Vague {
		p.Limits = append(p.Limits, Limit{ID: "potassium-untested", Rate: share(s.Crop.Removal - given), Given: given})
	}
	if s.K.Now == nil {
		return
	}
	p.Limits = append(p.Limits, Limit{ID: "potassium-ceiling", Rate: share(soil.PotashFor(s.Ground, s.K.Scale.Ceiling-*s.K.Now)),
		K: *s.K.Now})
	if s.K.State != soil.Short && s.K.State != soil.Unknown {
		p.Limits = append(p.Limits, Limit{ID: "potassium-year", Rate: share(material.MostRemovals*s.Crop.Removal - given), Given: given})
	}
}

// mostAtOnce returns the most at one time. A surface material must not bring the top 5 cm nearer
// than 0.2 to the range's edge.
func (s *sum) mostAtOnce(p *part) quantity.Rate {
	most := p.Caps.Once
	if !s.OnTop() || p.Worth.EffectiveCCE == 0 || !s.hasCurve() {
		return most
	}
	curve, edge, sign := s.buffer.Raise, s.Crop.Range.High-guard.PastRange, 1.0
	if p.Worth.EffectiveCCE < 0 {
		curve, edge, sign = s.buffer.Lower, s.Crop.Range.Low+guard.PastRange, -1
	}
	room := sign * float64(curve.Need(s.Profile.Top, edge)) * float64(soil.TopLayer/s.Ground.Depth)
	return min(most, quantity.Rate(max(0, room)/math.Abs(p.Worth.EffectiveCCE)))
}

// fewest returns the least number of equal applications under the cap.
func fewest(total, most quantity.Rate) int {
	return max(1, int(math.Ceil(float64(total/most)-1e-9)))
}

// dates schedules a part in as few applications as the caps allow, or a few more. By halves, the
// first is half and a retest precedes the rest.
func (s *sum) dates(p *part, total quantity.Rate, more int) (dated []Application, why calendar.Why, leftOut bool) {
	if total < tenth {
		return nil, calendar.Free, false
	}
	b, from := p.Of, p.From
	first, rest, n := total, total, fewest(total, p.OnceCap)
	if p.Half {
		first = min(total/2, p.OnceCap)
		if p.First > 0 {
			first = min(first, p.First)
		}
		rest = max(total-first, 0)
		n = fewest(rest, p.OnceCap)
	}
	n += more
	each := rest / quantity.Rate(n)
	if p.Half {
		n++
	} else {
		first = each
	}
	// There are no more applications than weeks in a year.
	n = min(n, 53)
	dated = make([]Application, 0, min(n, 4))
	laid := make([]calendar.Scheduled, 0, 4)
	last := s.r.Date + calendar.Horizon
	for i := range n {
		rate := each
		if i == 0 {
			rate = first
		}
		day, w := s.Season.Next(b.Family, rate, p.Caps, laid, from, last)
		if w != calendar.Free {
			return dated, w, true
		}
		dated = append(dated, Application{Date: day, Kind: b.Kind, Rate: rate, RetestFirst: i > 0 && (p.Half || s.topTest(b))})
		if s.paced(b) && s.topTest(b) {
			return dated, calendar.Free, n > 1 // a test of the top layer comes first
		}
		laid = append(laid, calendar.Scheduled{Date: day, Rate: rate})
		from = day + 1
		if p.Half && i == 0 {
			from = calendar.Retest(&b.Material, s.Season.Weather, day, 0, calendar.Yearly)
		}
	}
	return dated, calendar.Free, false
}
