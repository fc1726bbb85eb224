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

// Ring is a number of plants with the diameter of each one's root ground.
type Ring struct {
	Plants int
	Across quantity.Depth
}

// Bounds of rings.
const (
	MostPlants = 2000
	MinAcross  = 10 * quantity.Centimetre
	MaxAcross  = 600 * quantity.Centimetre
)

// SideDressing is ash applied in a ring around each of some standing plants.
type SideDressing struct {
	// Ground is the root ground of one plant, OnRoots the rate on it.
	Ground  quantity.Area
	OnRoots quantity.Rate
	// Each is per plant, Total for all; Rate is Total over the whole bed, which is what the bed's
	// year counts.
	Each, Total quantity.Mass
	Rate        quantity.Rate
	// Limit is the id of the limit that holds it.
	Limit string
	// Against are the findings that refuse it; Why is the day rule among them, Next the first
	// allowed day.
	Against []guard.Finding
	Why     calendar.Why
	Next    quantity.Day
}

// May reports whether it is allowed on the day of the request.
func (x *SideDressing) May() bool {
	return len(x.Against) == 0 && x.Why == calendar.Free && x.Total > 0
}

// SideDress computes how much ash may be applied around the plants of a bed on the request's day:
// at most a surface application's limit on their root ground, and over the whole bed no more than
// its reading allows. The ash is the request's only material. Errors are those of For.
func SideDress(r Request, ring Ring) (x SideDressing, err error) {
	r.Ground.Worked = onTop(r.Ground)
	switch {
	case len(r.Materials) != 1 || r.Materials[0].Family != material.Ash:
		return x, bad("material", "side dressings are of ash")
	case ring.Plants < 1 || ring.Plants > MostPlants:
		return x, bad("plants", "from 1 to %d plants are possible", MostPlants)
	case ring.Across < MinAcross || ring.Across > MaxAcross:
		return x, bad("across", "roots of 10 cm to 6 m across are possible")
	}
	room, err := RoomOf(r)
	if err != nil {
		return x, err
	}
	caps, _ := r.Materials[0].CapsOn(r.Ground)
	own := math.Pi / 4 * float64(ring.Across) * float64(ring.Across)
	share := float64(r.Ground.Area) / float64(ring.Plants) // overlapping roots share the ground
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

// onRoots returns the most ash for the root ground of one plant at one time: at most its top
// layer's limit, and the part of its need before a test.
func onRoots(room *Room, caps material.Caps) (most quantity.Rate, limit string) {
	m := &room.Most[0]
	most, limit = caps.Once, "side-roots"
	if m.AtOnce < most {
		most, limit = m.AtOnce, "top-layer"
	}
	if first := quantity.Rate(float64(room.Need+room.Past) / m.Worth.EffectiveCCE); first < most {
		most, limit = first, "top-test"
	}
	return max(0, most), limit
}

// refusedBy returns the stops against the request's only material.
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

// onTop returns Worked for ground where nothing is dug in.
func onTop(g soil.Ground) soil.Worked {
	if g.Worked == soil.Dug {
		return soil.Surface
	}
	return g.Worked
}
