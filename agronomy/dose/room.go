package dose

import (
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Room is a bed's need and its limits for each material over the following year, the input of
// sharing out. All are g/m².
type Room struct {
	// Need is pure CaCO₃, negative when lowering; Past is what ash may bring beyond it to supply
	// potassium, to 0.2 below the range's top.
	Need, Past quantity.Rate
	// Rest is the part of the need that waits for a test under the careful pace.
	Rest quantity.Rate
	// K2ONeed is the K₂O that the bed is short of; K2O the most that it may take, negative for no
	// limit.
	K2ONeed, K2O quantity.Rate
	// Most is the limit of each material of the request.
	Most []Most
	// Guards are stops for the whole bed.
	Guards []guard.Finding
}

// Most is a bed's limit for one material.
type Most struct {
	Rate quantity.Rate
	// AtOnce is the most at one time, held by the top layer for surface materials.
	AtOnce quantity.Rate
	Worth  material.Worth
	// Limit is the id of the limit that holds it; Against are the findings that refuse it.
	Limit   string
	Against []guard.Finding
}

// RoomOf computes a bed's room. Errors are those of For.
func RoomOf(r Request) (Room, error) {
	if err := r.check(); err != nil {
		return Room{}, err
	}
	s := begin(&r)
	out := Room{K2O: -1, Most: make([]Most, len(r.Materials))}
	a := Answer{Target: s.target, Stand: s.facts.Stand}
	if err := s.work(&a); err != nil {
		return out, err
	}
	for i := range r.Materials {
		out.Most[i] = Most{Worth: s.worth(&r.Materials[i])}
	}
	if a.Direction == Raise || a.Direction == Lower {
		out.Need = s.firstOf(a.Need.CaCO3, r.Materials)
		out.Rest = a.Need.CaCO3 - out.Need
	}
	if guard.Stopped(a.Guards) {
		out.Guards = a.Guards
	}
	out.K2ONeed = a.Potassium.Need
	s.roomForPotash(&out)
	for i := range r.Materials {
		s.roomFor(i, &out)
	}
	return out, nil
}

// roomForPotash sets the K₂O limit and what ash may bring beyond the need.
func (s *sum) roomForPotash(out *Room) {
	one := part{Part: Part{Worth: material.Worth{K2O: 1}}}
	s.potashLimits(&one)
	for _, l := range one.Limits {
		if out.K2O < 0 || l.Rate < out.K2O {
			out.K2O = l.Rate
		}
	}
	if out.K2ONeed > 0 && out.Need >= 0 && s.hasCurve() {
		one.Worth.EffectiveCCE = 1
		room := s.phRoom(&one)
		out.Past = max(0, min(room, max(out.Need, s.firstOf(room, s.r.Materials)))-out.Need)
	}
}

// roomFor returns a bed's limit for one material: for pH or for potassium, whichever is more.
func (s *sum) roomFor(i int, out *Room) {
	b, m := &s.r.Materials[i], &out.Most[i]
	if len(out.Guards) > 0 && b.MovesPH() {
		m.Against = out.Guards
		return
	}
	w := m.Worth
	if feeds := float64(out.Need)*w.EffectiveCCE > 0; feeds {
		s.facts.Raising = b.Raises()
		s.mostOf(i, m, w.EffectiveCCE)
	}
	if out.K2ONeed > 0 && w.K2O > 0 && (s.hasCurve() || !b.MovesPH()) {
		facts := s.facts
		s.forK, s.facts.ForPotassium, s.facts.Raising = true, true, b.Raises()
		s.mostOf(i, m, w.K2O)
		s.forK, s.facts = false, facts
	}
}

// mostOf plans as much of a material as a year allows.
func (s *sum) mostOf(i int, m *Most, per float64) {
	b := s.r.Materials[i].Unbound() // the stock is shared out over all beds
	caps, _ := b.CapsOn(s.Ground)
	s.whole = s.r.Methods.Pace != AllAtOnce
	p, against := s.weigh(i, &b, quantity.Rate(float64(caps.Year)*per))
	careful := s.whole
	if s.whole = false; careful && s.topTest(&b) && p.OnceCap < p.Rate {
		p.Rate, p.Limit = p.OnceCap, topTestLimit
	}
	switch {
	case against != nil && m.Rate == 0:
		m.Against = against
	case against == nil && p.Rate > m.Rate:
		m.Rate, m.AtOnce, m.Limit, m.Against = p.Rate, p.OnceCap, p.Limit, nil
		// Applications may be dated past the anniversary of earlier ones; the amount shared out now
		// may not count on that.
		if year := max(0, caps.Year-s.r.History.CountedInYear(&caps, b.Family, s.r.Date)); m.Rate >= year {
			m.Rate, m.Limit = year, "year-cap"
		}
	}
}
