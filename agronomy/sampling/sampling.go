// Package sampling plans a round of soil samples: which beds may share one mixed sample and why
// others must not, how many cores the ground and the lab need, and in which order to walk.
//
// The rules are those of the handbook's chapter on sampling: beds share one sample only with the
// same soil, the same treatments for 24 months, crops of one pH group, and last readings within
// 0.3.
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

// Site is a bed as a round sees it.
type Site struct {
	ID     int64
	Name   string
	Ground soil.Ground
	Crop   crop.Crop
	// Treated are the amounts by family of the last TreatedMonths.
	Treated map[material.Family]quantity.Rate
	// Confirms is set for a bed whose sample confirms a surprising test.
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
	// ReadingsApart is the largest allowed difference of last readings.
	ReadingsApart quantity.PH = 0.3
	// TreatedMonths is how far back treatments must agree; treatedDays is the same in days.
	TreatedMonths              = 24
	treatedDays   quantity.Day = 730
	// sameShare is the largest difference of yearly amounts that counts as the same, as a share of
	// the larger; smaller differences than sameRate never count, g/m².
	sameShare               = 0.25
	sameRate  quantity.Rate = 15
	// sameDepth is the largest difference of depths that counts as the same.
	sameDepth quantity.Depth = 0.011
)

// Group is a set of crops with about the same preferred pH.
type Group string

// groups are bounds of the crop's aim, sourest first.
var groups = []struct {
	id   Group
	upTo quantity.PH
}{{"acid", 5.5}, {"sour", 6.1}, {"middle", 6.85}, {"sweet", 14}}

// GroupOf returns the pH group of a crop.
func GroupOf(c crop.Crop) Group {
	for _, g := range groups {
		if c.Aim < g.upTo {
			return g.id
		}
	}
	return groups[len(groups)-1].id
}

// Apart returns every reason that keeps two beds from sharing a sample.
func Apart(a, b *Site) (out []Reason) {
	if a.Confirms || b.Confirms {
		return []Reason{{ID: OwnSample}} // whatever else they share
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

// fizzes reports whether ground surely holds free lime.
func fizzes(f soil.FreeLime) bool { return f == soil.LimeClear || f == soil.LimeStrong }

// ignored are families that do not separate beds.
var ignored = []material.Family{material.Inert, material.Organic, material.FreshManure, material.RottedManure}

// Treated sums what was applied in the TreatedMonths before a day, by family.
func Treated(put ledger.Ledger, day quantity.Day) map[material.Family]quantity.Rate {
	out := map[material.Family]quantity.Rate{}
	for i := range put {
		if p := &put[i]; p.Date <= day && p.Date > day-treatedDays && !slices.Contains(ignored, p.Material.Family) {
			out[p.Material.Family] += p.Rate
		}
	}
	return out
}

// treatments compares the treatments of two beds by family and reports the first family, by name,
// that differs.
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
	// Beds are indexes into the grouped list.
	Beds []int
	// Cores is the number of cores from each of Beds, Stops the number of places.
	Cores, Stops []int
	Area         quantity.Area
}

// Share groups beds into samples: each bed joins the first sample whose beds it may share with and
// whose area stays small enough. A bed larger than one sample's area becomes several samples.
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

// mostGround is the largest area of one sample.
const mostGround quantity.Area = 300

// coresFor is the number of cores by area.
var coresFor = []struct {
	upTo  quantity.Area
	cores int
}{{10, 6}, {100, 12}, {mostGround, 18}}

// CoresFor returns the number of cores of each piece, and the number of pieces, for an area.
func CoresFor(area quantity.Area) (cores, pieces int) {
	pieces = max(1, int(math.Ceil(float64(area/mostGround)-1e-9)))
	for _, row := range coresFor {
		if area/quantity.Area(pieces) <= row.upTo {
			return row.cores, pieces
		}
	}
	return coresFor[len(coresFor)-1].cores, pieces
}

// Defaults of a sample and its corer.
const (
	UsualWanted quantity.Mass  = 500
	UsualCorer  quantity.Depth = 0.019
)

// Corer is the tool and the mass that the lab wants.
type Corer struct {
	// Diameter is the corer's inner diameter, m; Wanted is the sample's mass.
	Diameter quantity.Depth
	Wanted   quantity.Mass
	// Lone takes each core at a place of its own; otherwise a narrow corer takes several close
	// together.
	Lone bool
}

// Grams returns the dry mass of one core: π/4 × d² × length × bulk density.
func (c Corer) Grams(length quantity.Depth, t soil.TextureClass) quantity.Mass {
	volume := math.Pi / 4 * float64(c.Diameter) * float64(c.Diameter) * float64(length)
	return quantity.Mass(volume * float64(t.BulkDensity) * 1000)
}

// Enough returns the number of cores that give the wanted mass.
func (c Corer) Enough(length quantity.Depth, t soil.TextureClass) int {
	return max(1, int(math.Ceil(float64(c.Wanted/c.Grams(length, t))-1e-9)))
}

// Across returns the diameter, to the next millimetre, with which so many cores of a length give
// the wanted mass.
func (c Corer) Across(cores int, length quantity.Depth, t soil.TextureClass) quantity.Depth {
	wide := float64(c.Diameter) * math.Sqrt(float64(c.Wanted/c.Grams(length, t))/float64(cores))
	return quantity.Depth(math.Ceil(wide*1000-1e-9) / 1000)
}

// Spread sets the number of cores from each bed of a sample: enough for the ground and the lab, in
// proportion to area, at least two from each. length is what one packet gets of a core: the bed's
// depth, or one layer.
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

// clustered returns as many cores close together as leaves the places that the ground needs, the
// same number at each.
func clustered(places, want int) (cores, stops int) {
	each := max(1, want/places)
	stops = (want + each - 1) / each
	return stops * each, stops
}

// Stretch is a range of depth.
type Stretch struct{ From, To quantity.Depth }

// Layers returns the depth ranges to keep apart in undug ground, down to the bed's depth: 0–5,
// 5–10, 10–15, 15–20 cm. Dug ground is one range.
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
	// Confirm is for a bed whose last test was surprising; it comes first, whatever its day.
	Confirm    Due = "confirm"
	NeverRead  Due = "never-read"
	RetestDue  Due = "retest-due"
	LookDue    Due = "look-due"
	WeakMethod Due = "weak-method"
)

// DueOn returns why a bed is to be sampled on a day. The last dosable reading, the last reading of
// any kind, and an open retest may each be 0.
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

// Walk orders places for a short route from a start and returns its length: nearest neighbour
// first, then 2-opt. It is deterministic.
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
