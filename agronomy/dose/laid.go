package dose

import (
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Laid is an option of amounts that are settled already, g/m² of each of a request's
// materials: its goes dated as any option's are, what it brings, and what there is to
// mind. ok is false where something stands against one of them, or a day is found for
// none of it. Errors are those of For.
func Laid(r Request, rates []quantity.Rate) (o Option, ok bool, err error) {
	if err := r.check(); err != nil {
		return o, false, err
	}
	s := begin(&r)
	var a Answer
	if err := s.work(&a); err != nil {
		return o, false, err
	}
	if a.Direction != Raise && a.Direction != Lower && a.Potassium.Need > 0 {
		s.forK, s.wantK, s.facts.ForPotassium = true, a.Potassium.Need, true
	}
	var parts []part
	from := map[material.Family]quantity.Day{}
	for _, i := range inOrder(r.Materials) {
		if i >= len(rates) || rates[i] < tenth {
			continue
		}
		p, ok := s.settled(i, rates[i], from)
		if !ok {
			return o, false, nil
		}
		parts = append(parts, p)
	}
	if len(parts) == 0 {
		return o, false, nil
	}
	return s.assemble(parts...), true, nil
}

// settled lays one material of an option whose amounts are settled: after what was laid
// of its family, and where it is left on top, after all that works there.
func (s *sum) settled(i int, rate quantity.Rate, from map[material.Family]quantity.Day) (p part, ok bool) {
	b := &s.r.Materials[i]
	s.facts.Material, s.facts.Worth, s.facts.Raising = b, s.worth(b), b.Raises()
	if guard.Refuses(guard.Check(guard.OfMaterial, &s.facts)) {
		return p, false
	}
	caps, _ := material.CapsFor(b.Family, s.Ground)
	w := s.facts.Worth
	per := w.EffectiveCCE
	if s.forK {
		per = w.K2O
	}
	const allOnTop material.Family = "on top"
	p = part{Part: Part{Batch: i, Kind: b.Kind, Of: b, Worth: w, Caps: caps, Wanted: quantity.Rate(float64(rate) * per), Asked: rate,
		Allowed: rate, From: max(s.r.Date, from[b.Family], from[allOnTop]), Half: s.halves()}}
	s.limit(&p)
	if p.GoCap = s.mostAtOnce(&p); p.GoCap < tenth || s.lay(&p, rate) != nil {
		return p, false
	}
	last := p.goes[len(p.goes)-1].Date.AddWeeks(caps.Weeks)
	if from[b.Family] = last; s.OnTop() && b.MovesPH() {
		from[allOnTop] = last
	}
	return p, true
}
