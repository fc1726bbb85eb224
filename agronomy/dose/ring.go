package dose

import (
	"math"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Ring is plants of a bed with the ground that their own roots take: so wide across.
type Ring struct {
	Plants int
	Across quantity.Depth
}

// Limits of rings.
const (
	MostPlants = 2000
	MinAcross  = 10 * quantity.Centimetre
	MaxAcross  = 600 * quantity.Centimetre
)

// SideDressing is ash in a ring round each of some plants that stand.
type SideDressing struct {
	// Ground is the root ground of one plant, OnRoots how much is applied it.
	Ground  quantity.Area
	OnRoots quantity.Rate
	// Each is for one plant, Total for all; Rate is what that is over the whole bed, which is
	// what the bed’s year counts.
	Each, Total quantity.Mass
	Rate        quantity.Rate
	// Limit is the id of what holds it there.
	Limit string
	// Against refuses it; Why is the rule of the day that does, Next the first day on which it may.
	Against []guard.Finding
	Why     calendar.Why
	Next    quantity.Day
}

// May reports whether it may be applied on the day of the request.
func (x *SideDressing) May() bool {
	return len(x.Against) == 0 && x.Why == calendar.Free && x.Total > 0
}

// SideDress says how much ash may go round the plants of a bed on the request's day: at most what a
// go on the surface may have on the ground of their own roots, and over the whole bed no more than its
// reading lets it take. The request has the one ash as its material. Errors are those of For.
func SideDress(r Request, ring Ring) (x SideDressing, err error) {
	r.Ground.Worked = onTop(r.Ground)
	switch {
	case len(r.Materials) != 1 || r.Materials[0].Family != material.Ash:
		return x, bad("material", "side dressings are of ash")
	case ring.Plants < 1 || ring.Plants > MostPlants:
		return x, bad("plants", "from 1 to %d plants are reckoned with", MostPlants)
	case ring.Across < MinAcross || ring.Across > MaxAcross:
		return x, bad("across", "roots of 10 cm to 6 m across are reckoned with")
	}
	room, err := RoomOf(r)
	if err != nil {
		return x, err
	}
	caps, _ := r.Materials[0].CapsOn(r.Ground)
	own := math.Pi / 4 * float64(ring.Across) * float64(ring.Across)
	share := float64(r.Ground.Area) / float64(ring.Plants) // roots that meet share the ground
	x.Ground = quantity.Area(min(own, share))
	if x.Against = room.Most[0].Against; len(x.Against) == 0 && room.Most[0].Rate == 0 {
		if x.Against, err = refusedBy(r); err != nil {
			return x, err
		}
	}
	most, limit := onRoots(&room, caps)
	x.Each, x.Limit = most.Over(x.Ground), limit
	if all := room.Most[0].Rate.Over(r.Ground.Area) / quantity.Mass(ring.Plants); all < x.Each {
		x.Each, x.Limit = all, room.Most[0].Limit
	}
	if there := r.Materials[0].OnHand; there != nil && *there/quantity.Mass(ring.Plants) < x.Each {
		x.Each, x.Limit = *there/quantity.Mass(ring.Plants), "supply"
	}
	x.OnRoots, x.Total = x.Each.Per(x.Ground), x.Each*quantity.Mass(ring.Plants)
	x.Rate = x.Total.Per(r.Ground.Area)
	if x.Total == 0 {
		return x, nil
	}
	state := bed.Judge(&r.Record)
	x.Why = state.Season.Rules(material.Ash, x.Rate, caps, r.Date)
	if x.Why != calendar.Free {
		x.Next, _ = state.Season.Next(material.Ash, x.Rate, caps, nil, r.Date, r.Date+calendar.Horizon)
	}
	return x, nil
}

// onRoots is the most ash that the ground of one plant's roots takes at one time: as any ground that it stays on, no more than its top
// layer may have, nor than what is applied of its need before a test.
func onRoots(room *Room, caps material.Caps) (most quantity.Rate, limit string) {
	m := &room.Most[0]
	most, limit = caps.Go, "side-roots"
	if m.AtOnce < most {
		most, limit = m.AtOnce, "top-layer"
	}
	if first := quantity.Rate(float64(room.Need+room.Past) / m.Worth.EffectiveCCE); first < most {
		most, limit = first, "top-test"
	}
	return max(0, most), limit
}

// refusedBy are the stops that a dose has against its one material, also where it has no other to
// raise with.
func refusedBy(r Request) (out []guard.Finding, err error) {
	a, err := For(r)
	if err != nil {
		return nil, err
	}
	for _, x := range a.Refused {
		for _, g := range x.Guards {
			if g.Level == guard.Stop {
				out = append(out, g)
			}
		}
	}
	return out, nil
}

// onTop is how ground is worked where nothing is dug in.
func onTop(g soil.Ground) soil.Worked {
	if g.Worked == soil.Dug {
		return soil.Surface
	}
	return g.Worked
}
