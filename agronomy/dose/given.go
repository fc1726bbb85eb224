package dose

import (
	"math"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// OptionOf returns an option of given amounts, g/m² of each of a request's materials: its applications
// dated as any option's are, what it brings, and its cautions. ok is false when something stands
// against one of them, which against names, or when the amounts are too small. Errors are those of For.
func OptionOf(r Request, rates []quantity.Rate) (o Option, against []Refusal, ok bool, err error) {
	if err := r.check(); err != nil {
		return o, nil, false, err
	}
	s := begin(&r)
	var a Answer
	if err := s.work(&a); err != nil {
		return o, nil, false, err
	}
	if a.Direction != Raise && a.Direction != Lower && a.Potassium.Need > 0 {
		s.forK, s.wantK, s.facts.ForPotassium = true, a.Potassium.Need, true
	}
	parts, against := s.settledParts(rates, nil)
	if len(parts) == 0 || len(against) > 0 {
		return o, against, false, nil
	}
	return s.assemble(parts...), nil, true, nil
}

// settledParts dates given amounts, one material after another, as long as none is refused; look,
// if set, may refuse what the rules of materials allow.
func (s *sum) settledParts(rates []quantity.Rate, look func(i int, b *material.Batch, rate quantity.Rate) []guard.Finding) (parts []part,
	against []Refusal) {
	from := map[material.Family]quantity.Day{}
	share := s.settledShare(rates)
	for _, i := range inOrder(s.r.Materials) {
		if i >= len(rates) || rates[i] < tenth {
			continue
		}
		p, found := s.settled(i, rates[i], share, from)
		if len(found) == 0 && look != nil {
			found = look(i, p.Of, rates[i])
		}
		if len(found) > 0 {
			against = append(against, Refusal{i, s.r.Materials[i].Kind, found})
			continue
		}
		parts = append(parts, p)
	}
	return parts, against
}

// settled dates one material of given amounts: after earlier ones of its family, and if it stays on
// top, after all that works there.
func (s *sum) settled(i int, rate quantity.Rate, share float64, from map[material.Family]quantity.Day) (p part, against []guard.Finding) {
	b := &s.r.Materials[i]
	s.facts.Material, s.facts.Worth, s.facts.Raising = b, s.worth(b), b.Raises()
	if found := guard.Check(guard.OfMaterial, &s.facts); guard.Refuses(found) {
		return p, found
	}
	caps, _ := b.CapsOn(s.Ground)
	w := s.facts.Worth
	per := w.EffectiveCCE
	if s.forK {
		per = w.K2O
	}
	const allOnTop material.Family = "on top"
	p = part{Part: Part{Batch: i, Kind: b.Kind, Of: b, Worth: w, Caps: caps, Wanted: quantity.Rate(float64(rate) * per), Asked: rate,
		Allowed: rate, From: max(s.r.Date, from[b.Family], from[allOnTop]), Half: s.halves(b)}}
	left := p.caco3Of(rate) * quantity.Rate(share)
	s.leaves = &left
	gone := s.pace(&p, p.caco3Of(rate), w.LogSD)
	if s.leaves = nil; gone != nil {
		return p, []guard.Finding{*gone}
	}
	s.limit(&p)
	if p.OnceCap = s.mostAtOnce(&p); p.OnceCap < tenth {
		return p, []guard.Finding{guard.NothingToGive("top-layer")}
	}
	if s.paced(b) && from[allOnTop] != 0 {
		// A test of the top layer precedes this application.
		p.Rest, p.RestTotal = rate, rate.Over(s.Ground.Area)
		return p, nil
	}
	if no := s.lay(&p, s.now(&p)); no != nil {
		return p, []guard.Finding{*no}
	}
	last := p.applications[len(p.applications)-1].Date.AddWeeks(caps.Weeks)
	if from[b.Family] = last; s.OnTop() && b.MovesPH() {
		from[allOnTop] = last
	}
	return p, nil
}

// settledShare returns how much of given amounts that move pH may be applied before a test: a share
// of the need, or of the amounts if they are less.
func (s *sum) settledShare(rates []quantity.Rate) float64 {
	var sum quantity.Rate
	variance := 0.0
	for i := range rates {
		if i >= len(s.r.Materials) || rates[i] < tenth || !s.paced(&s.r.Materials[i]) {
			continue
		}
		w := s.worth(&s.r.Materials[i])
		x := quantity.Rate(float64(rates[i]) * w.EffectiveCCE)
		sum, variance = sum+x, variance+sq(float64(x)*w.LogSD)
	}
	if sum == 0 {
		return 1
	}
	gone, _ := s.appliedSince(sum)
	need := sum
	if float64(s.want)*float64(sum) > 0 && math.Abs(float64(s.want)) > math.Abs(float64(sum)) {
		need = s.want
	}
	strength := math.Sqrt(variance) / math.Abs(float64(sum))
	first := quantity.Rate(s.share(need, gone, func(quantity.Rate) float64 { return strength }))*(need+gone) - gone
	return max(0, min(1, float64(first/sum)))
}
