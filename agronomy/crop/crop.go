// Package crop is the library of crops: the pH range of each, the potassium that a good
// crop removes, and the flags that rules follow.
package crop

import (
	"slices"
	"strings"

	"zephyrfield/agronomy/quantity"
)

// Flag is a property of a crop.
type Flag uint16

// Flags.
const (
	// AcidLover gets no ash; lime only below its range, gently.
	AcidLover Flag = 1 << iota
	// NoAsh gets no ash, lime may be used below the range.
	NoAsh
	// TenderSeed is harmed by fresh ash: wait 42 days.
	TenderSeed
	// Scab is suppressed near pH 5.2: no ash or lime in its year.
	Scab
	// Clubroot raises the aim to 7.2.
	Clubroot
	// AshWelcome accepts ash as a side dressing.
	AshWelcome
	// NotFood is set for flowers, shrubs, lawn and green manures.
	NotFood
	// Perennial gets ash and lime while dormant.
	Perennial
)

// FlagID is the id of a flag.
type FlagID string

// FlagNames are the ids of the flags, in the order of the form.
var FlagNames = []struct {
	ID   FlagID
	Flag Flag
}{
	{"acid-lover", AcidLover}, {"no-ash", NoAsh}, {"tender-seed", TenderSeed}, {"scab", Scab}, {"clubroot", Clubroot},
	{"ash-welcome", AshWelcome}, {"not-food", NotFood}, {"perennial", Perennial},
}

// ParseFlags reads ids separated by spaces; ok is false for an unknown one.
func ParseFlags(ids string) (f Flag, ok bool) {
	for _, id := range strings.Fields(ids) {
		i := slices.IndexFunc(FlagNames, func(n struct {
			ID   FlagID
			Flag Flag
		}) bool {
			return string(n.ID) == id
		})
		if i < 0 {
			return 0, false
		}
		f |= FlagNames[i].Flag
	}
	return f, true
}

// IDs writes the flags as ParseFlags reads them.
func (f Flag) IDs() string {
	var ids []string
	for _, n := range FlagNames {
		if f&n.Flag != 0 {
			ids = append(ids, string(n.ID))
		}
	}
	return strings.Join(ids, " ")
}

// Range is the pH range that a crop likes.
type Range struct{ Low, High quantity.PH }

// Middle returns the middle of the range, the usual aim.
func (b Range) Middle() quantity.PH { return (b.Low + b.High) / 2 }

// Holds reports whether p is within the range, bounds included.
func (b Range) Holds(p quantity.PH) bool { return p >= b.Low && p <= b.High }

// Limits of a crop defined by the gardener.
const (
	MinRange   = 0.1 // pH, least width of the range
	MaxRemoval = 100 // K₂O removed by a good crop, g/m²
)

// Crop is a row of the library.
type Crop struct {
	ID    string
	Name  string
	Range Range
	// Aim is the target pH.
	Aim quantity.PH
	// Removal is the K₂O removed by a good crop in a season.
	Removal quantity.Rate
	Flags   Flag
}

// Is reports whether a flag is set.
func (c Crop) Is(f Flag) bool { return c.Flags&f != 0 }

func row(id, name string, low, high quantity.PH, removal quantity.Rate, flags ...Flag) Crop {
	c := Crop{ID: id, Name: name, Range: Range{low, high}, Removal: removal}
	for _, f := range flags {
		c.Flags |= f
	}
	c.Aim = quantity.PH(quantity.Round(float64(c.Range.Middle()), 2))
	if c.Is(Clubroot) {
		c.Aim = ClubrootAim
	}
	return c
}

// Library lists every crop, in the order of the handbook. Crops that the handbook names together
// share a line.
var Library = slices.Concat(
	rows("general-vegetables", 6.0, 7.0, 15),
	rows("tomato", 6.2, 6.8, 25),
	rows("pepper", 6.0, 6.8, 18),
	rows("cucumber", 6.0, 7.0, 20, AshWelcome),
	rows("squash pumpkin courgette", 6.0, 6.8, 20),
	rows("melon", 6.0, 6.8, 18),
	rows("watermelon", 5.5, 6.5, 16, NoAsh),
	rows("lettuce", 6.2, 7.0, 12, TenderSeed),
	rows("spinach", 6.5, 7.2, 15, AshWelcome),
	rows("chard beetroot", 6.5, 7.2, 20, AshWelcome),
	rows("cabbage kale broccoli cauliflower", 6.5, 7.4, 22, Clubroot, AshWelcome),
	rows("carrot", 6.0, 6.8, 20, TenderSeed),
	rows("parsnip", 6.0, 7.0, 20, TenderSeed),
	rows("onion leek garlic chive", 6.2, 7.0, 14, AshWelcome, TenderSeed),
	rows("pea", 6.0, 7.2, 10),
	rows("bean", 6.0, 7.0, 12, TenderSeed),
	rows("sweet-corn", 5.8, 7.0, 18),
	rows("potato", 5.0, 6.0, 30, Scab, NoAsh),
	rows("sweet-potato", 5.2, 6.2, 25, NoAsh),
	rows("asparagus", 6.5, 7.5, 10, AshWelcome, Perennial),
	rows("strawberry", 5.5, 6.5, 12, NoAsh, TenderSeed, Perennial),
	rows("raspberry", 5.6, 6.5, 8, NoAsh, Perennial),
	rows("blueberry", 4.5, 5.2, 4, AcidLover, NoAsh, Perennial),
	rows("cranberry lingonberry", 4.2, 5.2, 3, AcidLover, NoAsh, Perennial),
	rows("currant gooseberry", 6.0, 6.8, 8, Perennial),
	rows("grape", 5.8, 6.8, 10, Perennial),
	rows("apple pear", 6.0, 6.8, 6, AshWelcome, Perennial),
	rows("cherry plum peach", 6.2, 7.0, 8, AshWelcome, Perennial),
	rows("fig", 6.2, 7.5, 6, AshWelcome, Perennial),
	rows("azalea rhododendron", 4.5, 5.8, 3, AcidLover, NoAsh, NotFood, Perennial),
	rows("camellia", 5.0, 6.2, 3, AcidLover, NotFood, Perennial),
	rows("heather", 4.5, 5.5, 2, AcidLover, NoAsh, NotFood, Perennial),
	rows("blue-hydrangea", 5.0, 5.5, 4, AcidLover, NoAsh, NotFood, Perennial),
	rows("pink-hydrangea", 6.0, 6.6, 4, NotFood, Perennial),
	rows("rose", 6.0, 6.8, 8, NotFood, Perennial),
	rows("dahlia", 6.2, 6.8, 14, NotFood),
	rows("sweet-pea", 6.5, 7.5, 10, NotFood),
	rows("peony", 6.5, 7.0, 8, NotFood, Perennial),
	rows("lavender", 6.5, 8.0, 4, AshWelcome, NotFood, Perennial),
	rows("basil", 6.0, 6.8, 10, TenderSeed),
	rows("parsley", 5.8, 6.8, 12),
	rows("lawn", 6.0, 7.0, 8, NotFood, Perennial),
	rows("clover", 6.0, 7.0, 15, NotFood),
	rows("lupin", 5.0, 6.5, 10, NoAsh, NotFood),
	rows("rye buckwheat", 5.0, 7.0, 10, NotFood),
	rows("radish", 6.0, 7.0, 8, TenderSeed),
	rows("turnip swede", 6.0, 7.2, 15, Clubroot),
	rows("sprouts kohlrabi", 6.5, 7.4, 20, Clubroot, AshWelcome),
	rows("pak-choi mustard-greens", 6.0, 7.2, 15, Clubroot, TenderSeed),
	rows("rocket lambs-lettuce endive chicory", 6.0, 7.0, 10, TenderSeed),
	rows("celery celeriac", 6.0, 7.0, 20, AshWelcome),
	rows("fennel", 6.0, 7.0, 14),
	rows("artichoke", 6.5, 7.5, 15, AshWelcome, Perennial),
	rows("rhubarb", 5.5, 6.8, 12, Perennial),
	rows("aubergine okra", 5.8, 6.8, 18),
	rows("broad-bean", 6.2, 7.2, 12),
	rows("peanut", 5.8, 6.5, 8, NoAsh),
	rows("mint", 6.0, 7.0, 10, Perennial),
	rows("thyme rosemary sage", 6.0, 7.5, 5, Perennial),
	rows("chamomile", 6.0, 7.0, 6),
	rows("blackberry", 5.6, 6.5, 8, NoAsh, Perennial),
	rows("quince hazel walnut", 6.0, 7.0, 6, Perennial),
	rows("elder hop", 6.0, 7.0, 8, Perennial),
	rows("sunflower", 6.0, 7.5, 25),
	rows("zinnia cosmos marigold", 6.0, 7.0, 8, NotFood),
	rows("tulip daffodil", 6.0, 7.0, 6, NotFood),
	rows("comfrey", 6.0, 7.0, 20, Perennial),
	rows("alfalfa", 6.5, 7.5, 20, NotFood),
	rows("phacelia mustard", 6.0, 7.0, 10, NotFood),
	rows("vetch field-bean", 6.0, 7.0, 12, NotFood),
)

// spelled are the names that are not their ids.
var spelled = map[string]string{"lambs-lettuce": "lamb’s lettuce", "sprouts": "Brussels sprouts"}

// rows returns the crops of one line; an id is the name in kebab case.
func rows(ids string, low, high quantity.PH, removal quantity.Rate, flags ...Flag) []Crop {
	var out []Crop
	for _, id := range strings.Fields(ids) {
		name := strings.ReplaceAll(id, "-", " ")
		if said, ok := spelled[id]; ok {
			name = said
		}
		out = append(out, row(id, name, low, high, removal, flags...))
	}
	return out
}

// noAshTop is the upper end of a range up to which a crop gets no ash by rule.
const noAshTop quantity.PH = 6.5

// ByRule sets NoAsh on a crop that the library does not hold, when its range ends at 6.5 or below.
// For the library's crops the table decides.
func (c Crop) ByRule() Crop {
	if book, ok := byID[c.ID]; (!ok || book.Range != c.Range) && c.Range.High <= noAshTop+1e-9 {
		c.Flags |= NoAsh
	}
	return c
}

// Unnamed is used when no crop is named.
var Unnamed = row("", "no crop named", 6.0, 7.0, 10)

var byID = func() map[string]Crop {
	m := make(map[string]Crop, len(Library))
	for _, c := range Library {
		m[c.ID] = c
	}
	return m
}()

// Find returns a crop by its id.
func Find(id string) (Crop, bool) {
	c, ok := byID[id]
	return c, ok
}

// SowingGap returns the number of days between ash and sowing.
func (c Crop) SowingGap() quantity.Day {
	if c.Is(TenderSeed) {
		return TenderGap
	}
	return UsualGap
}

// Days from ash to a sowing: of sensitive seed, and of any other.
const (
	TenderGap quantity.Day = 42
	UsualGap  quantity.Day = 28
)

// Days after which plants count as established.
const (
	SownStands    quantity.Day = 42
	PlantedStands quantity.Day = 21
)

// Trigger is the id of a method for when to act.
type Trigger string

// The trigger methods.
const (
	BelowRange Trigger = "below-band"
	At6        Trigger = "at-6"
	ToMiddle   Trigger = "middle"
)

// Triggers lists them, the default first.
var Triggers = []Trigger{BelowRange, At6, ToMiddle}

// Muck soils have their own trigger and aim.
const (
	MuckAim quantity.PH = 5.5
	MuckAct quantity.PH = 5.2
)

// A crop kept at low pH against scab may have lime below LockOut, where nutrients lock up, to
// LockOutAim.
const (
	LockOut    quantity.PH = 4.8
	LockOutAim quantity.PH = 5.2
)

// LowerFrom is the distance above the range from which a soil is acidified; nearer to it, it drifts
// down by itself.
const LowerFrom quantity.PH = 0.5

// The method that acts at 6.0 also acts on a soil well below its range.
const (
	StepIn    quantity.PH = 6.0
	WellUnder quantity.PH = 0.2
)

// Stand is a trigger's verdict on a reading.
type Stand string

// The verdicts. All but Act leave the bed alone.
const (
	Act      Stand = "act"
	InRange  Stand = "in-range"
	Patient  Stand = "patient"
	TooClose Stand = "too-close-to-tell"
	Drifts   Stand = "drifts-down"
)

// margin keeps figures read to hundredths on their side of a bound.
const margin = 1e-9

// Judge returns a trigger's verdict on a soil at ph for this crop; single is the standard deviation
// of a single reading, 0 when several were combined. Muck soils are acted on only below MuckAct.
func (s Trigger) Judge(c Crop, aim, ph quantity.PH, single float64, muck bool) Stand {
	close := func(off quantity.PH) bool { return single > 0 && float64(off) <= single+margin }
	if ph > c.Range.High {
		switch off := ph - c.Range.High; {
		case close(off):
			return TooClose
		case !c.Is(AcidLover) && off < LowerFrom-margin:
			return Drifts
		}
		return Act
	}
	low := c.Range.Low
	if muck {
		low = min(low, MuckAct)
	}
	if s == ToMiddle && !muck {
		if ph < aim-0.05 {
			return Act
		}
		return InRange
	}
	off := low - ph
	switch {
	case off <= margin:
		return InRange
	case s == At6 && !muck && !(ph <= StepIn || off >= WellUnder-margin):
		return Patient
	case close(off):
		return TooClose
	}
	return Act
}

// Together merges crops that share a bed: the overlap of their ranges, their mean removal, and every
// restricting flag. ok is false when two ranges do not overlap; a and b then name the pair.
func Together(cs []Crop) (c Crop, a, b Crop, ok bool) {
	if len(cs) == 1 {
		return cs[0], a, b, true
	}
	low, high := cs[0], cs[0]
	c = Crop{ID: cs[0].ID, Flags: AshWelcome | NotFood}
	var removal quantity.Rate
	for _, x := range cs {
		if x.Range.Low > low.Range.Low {
			low = x
		}
		if x.Range.High < high.Range.High {
			high = x
		}
		removal += x.Removal
		// AshWelcome and NotFood hold only if they hold for all; other flags if for any.
		c.Flags = c.Flags&x.Flags&(AshWelcome|NotFood) | (c.Flags|x.Flags)&^(AshWelcome|NotFood)
	}
	c.Removal = removal / quantity.Rate(len(cs))
	c.Range = Range{low.Range.Low, high.Range.High}
	c.Name = cs[0].Name
	for _, x := range cs[1:] {
		c.Name += " with " + x.Name
	}
	if c.Range.Low > c.Range.High {
		return c, low, high, false
	}
	c.Aim = quantity.PH(quantity.Round(float64(c.Range.Middle()), 2))
	if c.Is(Clubroot) && c.Range.Holds(ClubrootAim) {
		c.Aim = ClubrootAim
	}
	return c, a, b, true
}

// ClubrootAim is the target pH that suppresses clubroot.
const ClubrootAim quantity.PH = 7.2
