package text

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// household is the assumed measure until the gardener has weighed one: handfuls, or cups.
type household struct {
	family    material.Family
	gram      func(material.Loose) quantity.Mass
	one, many string
}

// mostHandfuls is how many are still worth counting.
const mostHandfuls = 12

func handful(l material.Loose) quantity.Mass { return l.Handful }

var households = []household{
	{material.Ash, handful, "handful", "handfuls"},
	{material.Lime, handful, "handful", "handfuls"},
	{material.Sulfur, func(l material.Loose) quantity.Mass { return material.CupLitres * l.Litre }, "cup", "cups"},
}

// Scoop is the gardener's own measure of a material: its name and the mass of a level one.
type Scoop struct {
	Name string
	Of   quantity.Mass
}

// Level returns the sentence on how many level ones an amount is: 22 level scoops.
func (s Scoop) Level(total quantity.Mass) string {
	return Scoops(total, s.Of).Of("level "+s.Name, "level "+s.Name+"s")
}

// Bare words the same in the fewest words: 22 scoops.
func (s Scoop) Bare(total quantity.Mass) string { return Scoops(total, s.Of).Of(s.Name, s.Name+"s") }

// Scooped is a number of scoops, handfuls or cups, in halves.
type Scooped int

// halvesBelow is the count from which on a half is at most a tenth and is dropped.
const halvesBelow = 5

// Scoops returns how many level scoops an amount is: whole ones, or to the half where there are
// few.
func Scoops(total, scoop quantity.Mass) Scooped {
	x := float64(total / scoop)
	if x < halvesBelow {
		return Scooped(math.Round(2 * x))
	}
	return 2 * Scooped(math.Round(x))
}

// Number returns the number as a float.
func (n Scooped) Number() float64 { return float64(n) / 2 }

// Whole returns the number if it is whole; false otherwise.
func (n Scooped) Whole() (int, bool) { return int(n / 2), n%2 == 0 }

// String returns the figure: 2½.
func (n Scooped) String() string {
	whole, even := n.Whole()
	switch {
	case even:
		return strconv.Itoa(whole)
	case whole == 0:
		return "½"
	}
	return strconv.Itoa(whole) + "½"
}

// Of words it of what is counted: 2½ cups.
func (n Scooped) Of(one, many string) string {
	switch {
	case n <= 0:
		return "less than ½ " + one
	case n <= 2:
		return n.String() + " " + one
	}
	return n.String() + " " + many
}

// quart is a US quart in litres.
const quart = 0.946353

// Measure words an amount in metric measures.
func Measure(k material.Kind, total quantity.Mass, scoop *Scoop) string {
	return Units{}.Measure(k, total, scoop)
}

// Measure words an amount in the gardener's own scoop, or about how many handfuls or cups; "" when
// there is no measure for it.
func (u Units) Measure(k material.Kind, total quantity.Mass, scoop *Scoop) string {
	if scoop != nil {
		return scoop.Level(total)
	}
	m, _ := material.Find(k)
	for _, h := range households {
		if h.family == m.Family {
			n := Scoops(total, h.gram(m.Loose()))
			switch {
			case n.Number() > mostHandfuls:
				return "about " + u.loose(float64(total/m.Loose().Litre)) + ", loose"
			case n == 0:
				return n.Of(h.one, h.many)
			}
			return "about " + n.Of(h.one, h.many)
		}
	}
	return ""
}

// loose words litres as they are measured with what stands about: to the half litre, and from a
// bucket on in buckets and litres; quarts where pounds are read.
func (u Units) loose(litres float64) string {
	one, many := "litre", "litres"
	if u.WeightIn != "" {
		litres, one, many = litres/quart, "quart", "quarts"
	}
	whole := int(math.Round(litres))
	if n := Scooped(math.Round(2 * litres)); n.Number() < material.PailLitres {
		return n.Of(one, many)
	}
	says := Count(whole/material.PailLitres, "bucket", "buckets") + " of " + strconv.Itoa(material.PailLitres) + " " + many
	if rest := whole % material.PailLitres; rest > 0 {
		says += " and " + Count(rest, one, many)
	}
	return says
}

// Amount words an amount in a line: in the gardener's own scoop with what it weighs, where one was
// weighed.
func (u Units) Amount(total quantity.Mass, scoop *Scoop) string {
	if scoop == nil {
		return u.Mass(total)
	}
	return scoop.Level(total) + " (" + u.Mass(total) + ")"
}

// OutOf returns the sentence on how much of all there is: 47 of 90 scoops.
func (u Units) OutOf(part, all quantity.Mass, scoop *Scoop) string {
	if scoop == nil {
		return u.Mass(part) + " of " + u.Mass(all)
	}
	return Scoops(part, scoop.Of).String() + " of " + scoop.Bare(all)
}

// CarriedAmount is an amount as carried to the bed: a figure, its unit, and the same in another unit.
type CarriedAmount struct{ Big, Unit, Aside string }

// Carried words an amount in the gardener's own scoop, with what it weighs; else by weight, with about
// how many handfuls or cups that is.
func (u Units) Carried(k material.Kind, total quantity.Mass, scoop *Scoop) CarriedAmount {
	mass := u.Mass(total)
	if scoop != nil && Scoops(total, scoop.Of) > 0 {
		big, unit, _ := strings.Cut(scoop.Level(total), " ")
		return CarriedAmount{big, unit, mass}
	}
	big, unit, _ := strings.Cut(mass, " ")
	return CarriedAmount{big, unit, u.Measure(k, total, scoop)}
}

// Handfuls returns about how many handfuls or cups of a material an amount is, and what one is taken
// to weigh; false for what has no such measure, or too many to count.
func Handfuls(k material.Kind, total quantity.Mass) (n Scooped, one Scoop, ok bool) {
	m, _ := material.Find(k)
	for _, h := range households {
		if h.family == m.Family {
			one = Scoop{Name: h.one, Of: h.gram(m.Loose())}
			n = Scoops(total, one.Of)
			return n, one, n > 0 && n.Number() <= mostHandfuls
		}
	}
	return 0, one, false
}

// InHand words an amount as it is taken up: in the gardener's own scoop; a few handfuls, with what
// one is taken to weigh; else as Reported.
func (u Units) InHand(k material.Kind, total quantity.Mass, scoop *Scoop) CarriedAmount {
	if scoop == nil {
		if n, one, ok := Handfuls(k, total); ok {
			big, unit, _ := strings.Cut(n.Of(one.Name, one.Name+"s"), " ")
			return CarriedAmount{big, unit, u.Mass(total) + "; a " + one.Name + " is about " + u.Mass(one.Of)}
		}
	}
	return u.Carried(k, total, scoop)
}

// The lines that several materials share.
const (
	dusty     = "Gloves, eye protection, dust mask, long sleeves"
	calm      = "A calm day; rinse leaves and skin"
	caustic   = "Caustic: in the eyes, rinse with water for 15 minutes and get help"
	away      = "Children and pets off until it is watered in"
	noMix     = "Never with nitrogen fertiliser or fresh manure: it gives off ammonia"
	damp      = "Gloves and mask: damp it, its dust harms lungs; wash hands"
	byLabel   = "Follow the product label; it comes before anything said here"
	byRule    = "Local rules on burning, spreading, watercourses and wells come first"
	badGround = "Where lead, old paint, industrial fill or a spill is possible, ask the local authority and a licensed professional"
)

// safety is what to wear and to mind, by family.
var safety = map[material.Family][]string{
	material.Ash: {dusty, calm, caustic, away, noMix,
		"Keep it in a lidded metal bin on stone, away from walls: embers last for days", byRule, badGround},
	material.Lime:         {dusty, calm, away, noMix, byLabel, byRule, badGround},
	material.HydratedLime: {"Burns skin and eyes: trained hands only", dusty, calm, caustic, away, noMix, byLabel, byRule, badGround},
	material.Sulfur: {"Dust can catch fire: no flame, no sparks", dusty, "It irritates: rinse skin and eyes", away,
		"Never with lime or ash in one season", byLabel, byRule, badGround},
	material.Aluminium:    {dusty, "Not for ground that grows food", away, byLabel, byRule, badGround},
	material.Iron:         {dusty, "Stains stone and clothes", away, byLabel, byRule, badGround},
	material.Ammonium:     {"Gloves", "Never within {nitrogen weeks} weeks of lime or ash", "Water in; off the leaves", byLabel, byRule},
	material.UreaFeed:     {"Gloves", "Never within {nitrogen weeks} weeks of lime or ash", "Water in at once", byLabel, byRule},
	material.OtherFeed:    {"Gloves", "Never within {nitrogen weeks} weeks of lime or ash", "Water in; off the leaves", byLabel, byRule},
	material.Potash:       {"Gloves, eye protection", "Water in; off the leaves and seedlings", byLabel, byRule},
	material.Organic:      {damp, byRule},
	material.RottedManure: {damp, "{rotted gap} before planting", byRule},
	material.FreshManure: {damp, "Never within {nitrogen weeks} weeks of lime or ash",
		"{manure gap} before planting, {harvest gap} before harvest where the crop touches soil", byRule},
}

// weedkiller is said of what may carry some from treated grass or straw.
const weedkiller = "It may carry weedkiller that harms beans and tomatoes: grow beans in a pot of it for three weeks first"

// mayCarry are the kinds that weedkiller may be in.
var mayCarry = []material.Kind{material.Manure, "rotted-manure", "horse-manure", "straw"}

// Safety lists what to mind with a material.
func Safety(k material.Kind) []string {
	m, _ := material.Find(k)
	out := make([]string, len(safety[m.Family]))
	for i, line := range safety[m.Family] {
		out[i] = Units{}.say(line)
	}
	if slices.Contains(mayCarry, k) {
		out = append(out, weedkiller)
	}
	return out
}

// kit is a short list of protection, for the day sheet.
var kit = map[material.Family][]string{
	material.Ash: {"Gloves", "eye cover", "dust mask", "pets indoors"}, material.Lime: {"Gloves", "eye cover", "dust mask"},
	material.HydratedLime: {"Gloves", "eye cover", "dust mask"}, material.Aluminium: {"Gloves", "eye cover", "dust mask"},
	material.Iron: {"Gloves", "eye cover", "dust mask"}, material.Ammonium: {"Gloves"}, material.UreaFeed: {"Gloves"},
	material.OtherFeed: {"Gloves"},
	material.Potash:    {"Gloves", "eye cover"}, material.Organic: {"Gloves", "dust mask"},
	material.FreshManure: {"Gloves", "dust mask"}, material.RottedManure: {"Gloves", "dust mask"},
	material.Sulfur: {"Gloves", "eye cover", "dust mask", "no flame"},
}

// Kit returns what to put on before the work.
func Kit(k material.Kind) []string {
	m, _ := material.Find(k)
	return kit[m.Family]
}

// Method returns the sentence on how a material is put on ground worked so.
func (u Units) Method(k material.Kind, worked soil.Worked, depth quantity.Depth) string {
	m, _ := material.Find(k)
	water := ", then water lightly"
	if m.Family == material.Sulfur {
		water = ", then water in"
	}
	switch worked {
	case soil.Dug, soil.DugAmong:
		return "Spread evenly from both long sides, dig in to " + u.Depth(depth) + water + "."
	case soil.Established:
		return "Spread evenly under the plants, off the stems, scratch in lightly" + water + "."
	}
	return "Spread evenly on top, brush off the leaves" + water + "."
}

// measureNames are singular and plural.
var measureNames = map[material.Measure][2]string{
	material.Barrows: {"barrow", "barrows"}, material.Buckets: {"bucket", "buckets"}, material.Handfuls: {"handful", "handfuls"},
	material.HandfulsM2: {"handful a m²", "handfuls a m²"}, material.Cups: {"cup", "cups"}, material.Litres: {"litre", "litres"},
	material.GramsM2: {"g/m²", "g/m²"},
}

// MeasureName returns what many of a measure are called.
func MeasureName(m material.Measure) string { return measureNames[m][1] }

// MeasureCount formats an amount as it was entered: 3 barrows.
func MeasureCount(n float64, m material.Measure) string {
	return CountOf(n, measureNames[m][0], measureNames[m][1])
}

// CountOf formats a count with its unit: 1.5 barrows.
func CountOf(n float64, one, many string) string {
	if n == 1 {
		many = one
	}
	return num(n, 2) + " " + many
}
