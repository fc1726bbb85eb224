package dose

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// ByHand evaluates amounts that a gardener chose, g/m² of each of a request's materials. It returns
// the option and the findings against it: rules of the material, limits of this bed, less than is
// worth applying, or more than carries the bed to the edge of its crop's range. ok is false when
// there are any, or nothing was chosen. Errors are those of For.
func ByHand(r Request, rates []quantity.Rate) (o Option, against []Refusal, ok bool, err error) {
	if err := r.check(); err != nil {
		return o, nil, false, err
	}
	s := begin(&r)
	var a Answer
	if err := s.work(&a); err != nil {
		return o, nil, false, err
	}
	stopped := guard.Stopped(a.Guards) || !s.hasCurve()
	parts, against := s.settledParts(rates, func(i int, b *material.Batch, rate quantity.Rate) []guard.Finding {
		if stopped && b.MovesPH() {
			return a.Guards
		}
		return s.overLimit(i, b, rate)
	})
	if len(parts) == 0 || len(against) > 0 {
		return o, against, false, nil
	}
	if against = s.handful(parts); len(against) > 0 {
		return o, against, false, nil
	}
	if against = s.together(parts); len(against) > 0 {
		return o, against, false, nil
	}
	return s.assemble(parts...), nil, true, nil
}

// handful refuses amounts that together move pH too little to be worth applying.
func (s *sum) handful(parts []part) []Refusal {
	var sum quantity.Rate
	for i := range parts {
		sum += parts[i].caco3() + parts[i].restCaCO3()
	}
	p := &parts[len(parts)-1]
	if n := s.tooLittle(p.Of, p.Rate, sum); n != nil {
		return []Refusal{{p.Batch, p.Kind, []guard.Finding{*n}}}
	}
	return nil
}

// overLimit returns the limit that an amount exceeds.
func (s *sum) overLimit(i int, b *material.Batch, rate quantity.Rate) []guard.Finding {
	p := part{Part: Part{Batch: i, Kind: b.Kind, Of: b, Worth: s.worth(b)}}
	p.Caps, _ = b.CapsOn(s.Ground)
	s.limit(&p)
	for _, l := range p.Limits {
		if rate > l.Rate+tenth {
			return []guard.Finding{guard.MoreThan(l.ID, l.Rate)}
		}
	}
	return nil
}

// together checks several materials on one bed: lime and sulfur in one season, and more in all than
// carries the bed to the edge of its range. The last material gets the finding with the remaining
// room.
func (s *sum) together(parts []part) []Refusal {
	var sum quantity.Rate
	raises, lowers := false, false
	for i := range parts {
		x := parts[i].caco3()
		sum += x
		raises, lowers = raises || x > 0, lowers || x < 0
	}
	last := &parts[len(parts)-1]
	if raises && lowers {
		return []Refusal{{last.Batch, last.Kind, []guard.Finding{guard.NoDay(string(calendar.LimeSulfur))}}}
	}
	if full := s.familyOver(parts); full != nil {
		return full
	}
	if sum == 0 || !s.hasCurve() {
		return nil
	}
	edge := s.Crop.Range.High
	if sum < 0 {
		edge = s.Crop.Range.Low
	}
	room := s.curveOf(sum).Need(s.course.From, edge) - s.onWay
	over := sum - room
	if sum > 0 && over < tenth || sum < 0 && over > -tenth || last.Worth.EffectiveCCE == 0 {
		return nil
	}
	left := quantity.Rate(float64(last.caco3()-over) / last.Worth.EffectiveCCE)
	return []Refusal{{last.Batch, last.Kind, []guard.Finding{guard.MoreThan(guard.RangeTop, left)}}}
}

// familyOver returns a second material of a family that exceeds what the first leaves of the
// family's limits.
func (s *sum) familyOver(parts []part) []Refusal {
	for n := range parts {
		p := &parts[n]
		var rate, k2o quantity.Rate
		for i := range parts[:n] {
			if parts[i].Of.Family == p.Of.Family {
				rate, k2o = rate+parts[i].Rate, k2o+parts[i].k2o()
			}
		}
		if rate == 0 {
			continue
		}
		for _, l := range p.Limits {
			left := l.Rate - rate
			if l.ID == "supply" {
				continue // each batch has its own
			}
			if p.Worth.K2O > 0 && limitSteps[l.ID].potash {
				left = l.Rate - quantity.Rate(float64(k2o)/p.Worth.K2O)
			}
			if p.Rate > left+tenth {
				return []Refusal{{p.Batch, p.Kind, []guard.Finding{guard.MoreThan(l.ID, left)}}}
			}
		}
	}
	return nil
}
