// Package sampling plans a round of soil samples: which beds may share one
// mixed sample and why others must not, how many cores it takes for the ground
// and for the lab, and in which order to walk.
//
// The rules are those of the handbook's chapter on sampling: beds share one
// sample only with the same soil, the same treatments for 24 months, crops of
// one pH group and last readings within 0.3.
package sampling

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Site is what a round must know of a bed.
type Site struct {
	ID     int64
	Name   string
	Ground soil.Ground
	Crop   crop.Crop
	// Treated is what was applied in the last TreatedMonths, by family.
	Treated map[material.Family]quantity.Rate
	// Confirms is true of a bed whose sample is to confirm a surprising test.
	Confirms bool
	// PH is the last reading on the water basis; nil when there is none.
	PH *quantity.PH
}

// ReasonID is the id of a rule that keeps two beds apart.
type ReasonID string

// Reasons, in the order in which they are reported.
const (
	OwnSample       ReasonID = "own-sample"
	OtherUse        ReasonID = "other-use"
	OtherSoil       ReasonID = "other-soil"
	OtherFreeLime   ReasonID = "other-free-lime"
	OtherDepth      ReasonID = "other-depth"
	OtherTreatments ReasonID = "other-treatments"
	OtherCropGroup  ReasonID = "other-crop-group"
	OtherReading    ReasonID = "other-reading"
	OneUnread       ReasonID = "one-unread"
)

// Reason is why two beds must not share a sample, with the values of its
// sentence.
type Reason struct {
	ID   ReasonID
	With working.Values
}

const (
	// ReadingsApart is how far two last readings may lie from each other.
	ReadingsApart quantity.PH = 0.3
	// TreatedMonths is how far back treatments must agree, treatedDays the same.
	TreatedMonths              = 24
	treatedDays   quantity.Day = 730
	// sameShare is how far two yearly amounts may differ and still be the same,
	// as a share of the larger; sameRate is a difference that never counts, g/m².
	sameShare               = 0.25
	sameRate  quantity.Rate = 15
	// sameDepth is how far two depths may differ.
	sameDepth quantity.Depth = 0.011
)

// Group is a set of crops that like about the same pH.
type Group string

// groups are told by the crop's aim, from the sourest on.
var groups = []struct {
	id   Group
	upTo quantity.PH
}{{"acid", 5.5}, {"sour", 6.1}, {"middle", 6.85}, {"sweet", 14}}

// GroupOf is the pH group of a crop.
func GroupOf(c crop.Crop) Group {
	for _, g := range groups {
		if c.Aim < g.upTo {
			return g.id
		}
	}
	return groups[len(groups)-1].id
}

// Apart gives every reason that keeps two beds from sharing a sample; none when they may.
func Apart(a, b *Site) (out []Reason) {
	if a.Confirms || b.Confirms {
		return []Reason{{ID: OwnSample}} // whatever else they have in common
	}
	add := func(id ReasonID, with ...working.Value) { out = append(out, Reason{id, with}) }
	if a.Ground.Use != b.Ground.Use {
		add(OtherUse, working.ID("a", a.Ground.Use), working.ID("b", b.Ground.Use))
	}
	if a.Ground.Texture.ID != b.Ground.Texture.ID {
		add(OtherSoil, working.ID("a", a.Ground.Texture.ID), working.ID("b", b.Ground.Texture.ID))
	}
	if x, y := fizzes(a.Ground.FreeLime), fizzes(b.Ground.FreeLime); x != y {
		add(OtherFreeLime, working.ID("a", a.Ground.FreeLime), working.ID("b", b.Ground.FreeLime))
	}
	if math.Abs(float64(a.Ground.Depth-b.Ground.Depth)) > float64(sameDepth) || dug(a) != dug(b) {
		add(OtherDepth, working.Num("a", working.Depth, a.Ground.Depth), working.Num("b", working.Depth, b.Ground.Depth),
			working.ID("a_worked", a.Ground.Worked), working.ID("b_worked", b.Ground.Worked))
	}
	if f, x, y, differ := treatments(a.Treated, b.Treated); differ {
		add(OtherTreatments, working.ID("family", f), working.Num("a", working.Rate, x), working.Num("b", working.Rate, y))
	}
	if x, y := GroupOf(a.Crop), GroupOf(b.Crop); x != y {
		add(OtherCropGroup, working.ID("a", a.Crop.ID), working.ID("b", b.Crop.ID), working.ID("a_group", x), working.ID("b_group", y))
	}
	switch {
	case a.PH == nil && b.PH == nil:
	case a.PH == nil || b.PH == nil:
		add(OneUnread)
	case math.Abs(float64(*a.PH-*b.PH)) > float64(ReadingsApart)+1e-9:
		add(OtherReading, working.Num("a", working.PH, *a.PH), working.Num("b", working.PH, *b.PH))
	}
	return out
}

func dug(b *Site) bool { return b.Ground.Worked == soil.Dug }

// fizzes reports ground that surely holds free lime from the rest.
func fizzes(f soil.FreeLime) bool { return f == soil.LimeClear || f == soil.LimeStrong }

// untold are the families that tell no two beds apart.
var untold = []material.Family{material.Inert, material.Organic, material.FreshManure, material.RottedManure}

// Treated sums what was applied in the TreatedMonths before a day, by family.
func Treated(put ledger.Ledger, day quantity.Day) map[material.Family]quantity.Rate {
	out := map[material.Family]quantity.Rate{}
	for i := range put {
		if p := &put[i]; p.Date <= day && p.Date > day-treatedDays && !slices.Contains(untold, p.Material.Family) {
			out[p.Material.Family] += p.Rate
		}
	}
	return out
}

// treatments compares what two beds got, family by family; the first by name that differs is reported.
func treatments(xs, ys map[material.Family]quantity.Rate) (f material.Family, x, y quantity.Rate, differ bool) {
	look := func(of map[material.Family]quantity.Rate) {
		for id := range of {
			most := max(xs[id], ys[id])
			apart := quantity.Rate(math.Abs(float64(xs[id] - ys[id])))
			if apart > sameRate && float64(apart) > sameShare*float64(most) && (!differ || id < f) {
				f, x, y, differ = id, xs[id], ys[id], true
			}
		}
	}
	look(xs)
	look(ys)
	return f, x, y, differ
}

// Sample is one mixed sample of a round.
type Sample struct {
	// Beds are places in the list that was grouped.
	Beds []int
	// Cores are how many each bed gives, in the order of Beds, Stops at how many places.
	Cores, Stops []int
	Area         quantity.Area
}

// Share groups beds into samples: each bed joins the first sample with whose
// beds it may share and whose ground stays small enough. A bed of more ground
// than one sample may stand for makes several.
func Share(beds []Site) []Sample {
	var out []Sample
	for i := range beds {
		at := -1
		for n := range out {
			if out[n].Area+beds[i].Ground.Area > mostGround {
				continue
			}
			if !slices.ContainsFunc(out[n].Beds, func(j int) bool { return len(Apart(&beds[i], &beds[j])) > 0 }) {
				at = n
				break
			}
		}
		if at < 0 {
			out = append(out, Sample{})
			at = len(out) - 1
		}
		out[at].Beds = append(out[at].Beds, i)
		out[at].Area += beds[i].Ground.Area
	}
	return out
}

// mostGround is the most that one sample may stand for.
const mostGround quantity.Area = 300

// coresFor is how many cores a mixed sample wants, by its ground.
var coresFor = []struct {
	upTo  quantity.Area
	cores int
}{{10, 6}, {100, 12}, {mostGround, 18}}

// CoresFor is how many cores ground of an area wants, and into how many pieces
// it must be split, each of which gives so many.
func CoresFor(area quantity.Area) (cores, pieces int) {
	pieces = max(1, int(math.Ceil(float64(area/mostGround)-1e-9)))
	for _, row := range coresFor {
		if area/quantity.Area(pieces) <= row.upTo {
			return row.cores, pieces
		}
	}
	return coresFor[len(coresFor)-1].cores, pieces
}

// Usual is what is wanted of a sample and taken with when nothing else is said.
const (
	UsualWanted quantity.Mass  = 500
	UsualCorer  quantity.Depth = 0.019
)

// Corer is the tool and what the lab wants.
type Corer struct {
	// Diameter is the corer's inside, m; Wanted is the sample's mass.
	Diameter quantity.Depth
	Wanted   quantity.Mass
	// Lone takes each core at a place of its own; else several are taken close together where the corer is too narrow for the
	// places that the ground wants.
	Lone bool
}

// Grams is the dry mass of one core: π/4 × d² × length × bulk density.
func (c Corer) Grams(length quantity.Depth, t soil.TextureClass) quantity.Mass {
	volume := math.Pi / 4 * float64(c.Diameter) * float64(c.Diameter) * float64(length)
	return quantity.Mass(volume * float64(t.BulkDensity) * 1000)
}

// Enough is how many cores give the wanted mass.
func (c Corer) Enough(length quantity.Depth, t soil.TextureClass) int {
	return max(1, int(math.Ceil(float64(c.Wanted/c.Grams(length, t))-1e-9)))
}

// Across is how wide a corer must be, to the next millimetre, to give the wanted
// mass with so many cores of a length.
func (c Corer) Across(cores int, length quantity.Depth, t soil.TextureClass) quantity.Depth {
	wide := float64(c.Diameter) * math.Sqrt(float64(c.Wanted/c.Grams(length, t))/float64(cores))
	return quantity.Depth(math.Ceil(wide*1000-1e-9) / 1000)
}

// Spread sets how many cores each bed of a sample gives: enough for the ground
// and for the lab, shared out by area, two from each bed at the least. Length is
// what one packet gets of a core: the bed's depth, or one layer of it.
func Spread(beds []Site, s Sample, c Corer, length quantity.Depth) Sample {
	ground, pieces := CoresFor(s.Area)
	ground *= pieces
	want := max(ground, c.Enough(length, beds[s.Beds[0]].Ground.Texture))
	s.Cores, s.Stops = make([]int, len(s.Beds)), make([]int, len(s.Beds))
	for n, i := range s.Beds {
		of := func(all int) int {
			if len(s.Beds) == 1 {
				return all
			}
			return max(2, int(math.Ceil(float64(all)*float64(beds[i].Ground.Area/s.Area)-1e-9)))
		}
		s.Cores[n], s.Stops[n] = of(want), of(want)
		if !c.Lone {
			s.Cores[n], s.Stops[n] = clustered(of(ground), of(want))
		}
	}
	return s
}

// clustered takes as many cores close together as leaves the places that the ground wants, the same number at each.
func clustered(places, want int) (cores, stops int) {
	each := max(1, want/places)
	stops = (want + each - 1) / each
	return stops * each, stops
}

// Stretch is a stretch of depth.
type Stretch struct{ From, To quantity.Depth }

// Layers are the depths to be kept apart where ground is not dug, down to the
// bed's depth: 0–5, 5–10, 10–15, 15–20 cm. Ground that is dug is one layer.
func Layers(g soil.Ground) []Stretch {
	if g.Worked == soil.Dug {
		return []Stretch{{0, g.Depth}}
	}
	const step quantity.Depth = 0.05
	var out []Stretch
	for from := quantity.Depth(0); from < g.Depth-1e-9 && from < 4*step-1e-9; from += step {
		out = append(out, Stretch{from, min(from+step, g.Depth)})
	}
	return out
}

// Due is why a bed belongs on a round; "" when it does not yet.
type Due string

// Reasons to sample a bed.
const (
	// Confirm is reported of a bed whose last test surprised, whatever its day: it is asked about first.
	Confirm    Due = "confirm"
	NeverRead  Due = "never-read"
	RetestDue  Due = "retest-due"
	LookDue    Due = "look-due"
	WeakMethod Due = "weak-method"
)

// DueOn reports why a bed is to be sampled on a day: its last reading that may
// carry a dose freely, the last of any kind, and an open retest may be no day.
func DueOn(t soil.Texture, rhythm calendar.Rhythm, trusted, any, retest, day quantity.Day) Due {
	switch {
	case any == 0:
		return NeverRead
	case retest != 0 && retest <= day:
		return RetestDue
	case calendar.Look(t, any, rhythm) <= day:
		return LookDue
	case trusted == 0 || calendar.Look(t, trusted, rhythm) <= day:
		return WeakMethod
	}
	return ""
}

// Point is a place on the plan, metres.
type Point struct{ X, Y float64 }

func (p Point) to(q Point) float64 { return math.Hypot(p.X-q.X, p.Y-q.Y) }

// Walk orders places for a short way from a start through all of them and gives
// its length: nearest first, then stretches turned round while that shortens
// it. The same places give the same way.
func Walk(start Point, ps []Point) (order []int, metres float64) {
	left := make([]int, len(ps))
	for i := range left {
		left[i] = i
	}
	at := start
	for len(left) > 0 {
		n := 0
		for m := range left {
			if cmp.Compare(at.to(ps[left[m]]), at.to(ps[left[n]])) < 0 {
				n = m
			}
		}
		at = ps[left[n]]
		order = append(order, left[n])
		left = slices.Delete(left, n, n+1)
	}
	place := func(i int) Point {
		if i < 0 {
			return start
		}
		return ps[order[i]]
	}
	for better := true; better; {
		better = false
		for i := range order {
			for j := i + 1; j < len(order); j++ {
				was := place(i - 1).to(place(i))
				is := place(i - 1).to(place(j))
				if j+1 < len(order) {
					was += place(j).to(place(j + 1))
					is += place(i).to(place(j + 1))
				}
				if is < was-1e-9 {
					slices.Reverse(order[i : j+1])
					better = true
				}
			}
		}
	}
	for i := range order {
		metres += place(i - 1).to(place(i))
	}
	return order, metres
}
