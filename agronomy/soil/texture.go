// Package soil models the ground: textures, soil temperature, readings with their errors,
// layers, and the buffering curves of the lime methods.
package soil

import (
	"zephyrfield/agronomy/quantity"
)

// Texture is the id of a texture class.
type Texture string

// Textures that the program knows.
const (
	Sand      Texture = "sand"
	LoamySand Texture = "loamy-sand"
	SandyLoam Texture = "sandy-loam"
	Loam      Texture = "loam"
	SiltLoam  Texture = "silt-loam"
	ClayLoam  Texture = "clay-loam"
	Clay      Texture = "clay"
	Muck      Texture = "muck"
)

// TextureClass is a row of the texture table.
type TextureClass struct {
	ID          Texture
	Clay        quantity.Percent
	BulkDensity quantity.Density
	// CEC is assumed when none was measured.
	CEC quantity.CationExchangeCapacity
	// Cool and Warm are effective CaCO₃ in short tons per acre over 7 inches
	// for the steps 3.5→4.5, 4.5→5.5 and 5.5→6.5. A step that the printed
	// table leaves out holds the next step's value.
	Cool, Warm [3]float64
	// Sulfur is lb of sulfur per acre over 7 inches to bring pH 7.0, 7.5, 8.0
	// and 8.5 down to 6.5.
	Sulfur [4]float64
	// Leaching is the share of the potassium over half critical lost in a year.
	Leaching float64
}

// The printed sulfur table has three columns; the rest lean on them.
var (
	sulfurSand = [4]float64{100, 500, 1200, 2000}
	sulfurLoam = [4]float64{150, 800, 1500, 2500}
	sulfurClay = [4]float64{300, 1000, 2000, 3000}
)

func mean(a, b [4]float64) (m [4]float64) {
	for i := range m {
		m[i] = (a[i] + b[i]) / 2
	}
	return m
}

// Textures is the texture table, lightest first.
var Textures = []TextureClass{
	{Sand, 4, 1550, 3, [3]float64{0.4, 0.5, 0.6}, [3]float64{0.3, 0.3, 0.4}, sulfurSand, 0.10},
	{LoamySand, 7, 1500, 5, [3]float64{0.4, 0.5, 0.6}, [3]float64{0.3, 0.3, 0.4}, sulfurSand, 0.10},
	{SandyLoam, 12, 1450, 8, [3]float64{0.8, 0.8, 1.3}, [3]float64{0.5, 0.5, 0.7}, mean(sulfurSand, sulfurLoam), 0.06},
	{Loam, 20, 1350, 12, [3]float64{1.2, 1.2, 1.7}, [3]float64{0.8, 0.8, 1.0}, sulfurLoam, 0.03},
	{SiltLoam, 18, 1300, 15, [3]float64{1.5, 1.5, 2.0}, [3]float64{1.2, 1.2, 1.4}, sulfurLoam, 0.03},
	{ClayLoam, 33, 1280, 20, [3]float64{1.9, 1.9, 2.3}, [3]float64{1.5, 1.5, 2.0}, mean(sulfurLoam, sulfurClay), 0.01},
	{Clay, 50, 1200, 28, [3]float64{1.9, 1.9, 2.3}, [3]float64{1.5, 1.5, 2.0}, sulfurClay, 0.01},
	// The sulfur table has no column for muck: the heaviest stands in.
	{Muck, 20, 400, 80, [3]float64{2.9, 3.8, 4.3}, [3]float64{2.5, 3.3, 3.8}, sulfurClay, 0.03},
}

// FindTexture returns the row of a texture.
func FindTexture(t Texture) (TextureClass, bool) {
	for _, row := range Textures {
		if row.ID == t {
			return row, true
		}
	}
	return TextureClass{}, false
}

// Worked says how what is put on meets the soil.
type Worked string

// Dug is mixed in to the depth; Surface is left on a no-dig bed; Established
// is left on top around standing plants. DugAmong is dug whatever stands there, since the gardener says so;
// Resolved turns it into Dug.
const (
	Dug         Worked = "dug"
	DugAmong    Worked = "dug-among"
	Surface     Worked = "surface"
	Established Worked = "established"
)

// WaysWorked lists them as they are offered.
var WaysWorked = []Worked{Dug, Surface, Established, DugAmong}

// Use says what kind of ground it is.
type Use string

// Uses of ground.
const (
	UseBed  Use = "bed"
	UseLawn Use = "lawn"
	UseTree Use = "tree"
	UsePot  Use = "pot"
	// UseHeap is a compost heap: it has no dose.
	UseHeap Use = "heap"
)

// FreeLime is the answer of the vinegar test on the soil.
type FreeLime string

// Classes of free lime.
const (
	LimeUnknown FreeLime = "unknown"
	LimeNone    FreeLime = "none"
	LimeFaint   FreeLime = "faint"
	LimeClear   FreeLime = "clear"
	LimeStrong  FreeLime = "strong"
)

// FreeLimeClasses are those that the vinegar tells, the least first.
var FreeLimeClasses = []FreeLime{LimeNone, LimeFaint, LimeClear, LimeStrong}

// freeLimes are the classes with the CaCO₃ to compute with, percent of the
// soil's weight, and the range that it may be anywhere in.
var freeLimes = []struct {
	class            FreeLime
	share, low, high quantity.Percent
}{{LimeFaint, 0.5, 0, 1}, {LimeClear, 3, 1, 5}, {LimeStrong, 8, 5, 12}}

// Share returns the CaCO₃ to compute with, percent of the soil's weight.
func (f FreeLime) Share() quantity.Percent {
	for _, r := range freeLimes {
		if r.class == f {
			return r.share
		}
	}
	return 0
}

// Range returns where the share may lie, anywhere alike.
func (f FreeLime) Range() (low, high quantity.Percent) {
	for _, r := range freeLimes {
		if r.class == f {
			return r.low, r.high
		}
	}
	return 0, 0
}

// State is how the ground lies on the day of the dose.
type State string

// States. Only Open ground takes anything.
const (
	Open        State = "open"
	FrozenHard  State = "frozen"
	SnowCovered State = "snow"
	Waterlogged State = "waterlogged"
)

// TableClimate picks the column of the texture table.
type TableClimate string

// Columns of the texture table.
const (
	CoolTable TableClimate = "cool"
	WarmTable TableClimate = "warm"
)

// Ground is a bed as the calculation sees it.
type Ground struct {
	Area    quantity.Area
	Depth   quantity.Depth
	Texture TextureClass
	Table   TableClimate
	Worked  Worked
	Use     Use
	// OrganicMatter, Clay and CEC are nil when not measured; clay and CEC
	// then come from the texture's row.
	OrganicMatter *quantity.Percent
	Clay          *quantity.Percent
	CEC           *quantity.CationExchangeCapacity
	FreeLime      FreeLime
	// Stones is their share of the volume.
	Stones quantity.Percent
	// State is how it lies on the day of the dose; "" is open.
	State State
	// Learned is what its own retests have shown; nil: nothing yet.
	Learned *Learned
	// DugUntil is set on ground that a crop established: what was applied before that day was dug in. No day: all is as Worked says.
	DugUntil quantity.Day
}

// Resolved returns the ground as it is to be assumed: a bed or a ring that is dug where it lies
// open is established once a crop stands there for years, since which day (no day: it is not
// known). What the gardener digs all the same is dug.
func (g Ground) Resolved(stands bool, since quantity.Day) Ground {
	switch {
	case g.Worked == DugAmong:
		g.Worked = Dug
	case g.Worked == Dug && (g.Use == UseBed || g.Use == UseTree) && stands:
		g.Worked, g.DugUntil = Established, since
	}
	return g
}

// DugOn reports whether what was applied on a day was dug in.
func (g *Ground) DugOn(day quantity.Day) bool { return g.Worked == Dug || day < g.DugUntil }

// CationExchangeCapacity returns the measured cation exchange capacity, or the texture's.
func (g Ground) CationExchangeCapacity() quantity.CationExchangeCapacity {
	if g.CEC != nil {
		return *g.CEC
	}
	return g.Texture.CEC
}

// ClayContent returns the measured share of clay, or the texture's.
func (g Ground) ClayContent() quantity.Percent {
	if g.Clay != nil {
		return *g.Clay
	}
	return g.Texture.Clay
}

// Above UsualOM organic matter makes the soil lighter than the table has it;
// above MuckOM the ground is muck, whatever texture was chosen.
const (
	UsualOM quantity.Percent = 3
	MuckOM  quantity.Percent = 20
)

// OrganicDensity is that of organic matter, kg/L.
const OrganicDensity = 0.244

// Density returns the bulk density of the soil between the stones: the texture's, or less where
// organic matter is known and above 3 %: 100/(OM/0.244 + (100 − OM)/D) kg/L, with the mineral
// part's D such that the table's figure stands at 3 %.
func (g Ground) Density() quantity.Density {
	usual := g.Texture.BulkDensity
	if g.Texture.ID == Muck || g.OrganicMatter == nil || *g.OrganicMatter <= UsualOM {
		return usual
	}
	om := float64(*g.OrganicMatter)
	mineral := (100 - float64(UsualOM)) / (100/(float64(usual)/1000) - float64(UsualOM)/OrganicDensity)
	return quantity.Density(1000 * 100 / (om/OrganicDensity + (100-om)/mineral))
}

// Fines returns the share of the volume that is not stones.
func (g Ground) Fines() float64 { return 1 - float64(g.Stones)/100 }

// SoilMass is kilograms of dry soil per m² over the bed's depth, stones left
// out.
func (g Ground) SoilMass() float64 {
	return quantity.SoilMass(g.Density(), g.Depth) * g.Fines()
}

// layers returns how many of a printed layer the bed's depth is, stones left out.
func (g Ground) layers(printed quantity.Depth) float64 { return float64(g.Depth/printed) * g.Fines() }

// AsFound returns the ground as it is to be assumed: one with over 20 % of organic matter is muck.
// muck tells that it was called otherwise.
func (g Ground) AsFound() (out Ground, muck bool) {
	if g.OrganicMatter == nil || *g.OrganicMatter <= MuckOM || g.Texture.ID == Muck {
		return g, false
	}
	g.Texture, _ = FindTexture(Muck)
	return g, true
}

// FreeLimePerPercent is the acid that 1 % of free lime takes, g CaCO₃ per kg of
// soil.
const FreeLimePerPercent = 10

// FreeLimeAcid returns the acid that a share of free lime takes before pH can move.
func (g Ground) FreeLimeAcid(share quantity.Percent) quantity.Rate {
	return quantity.Rate(float64(share) * FreeLimePerPercent * g.SoilMass())
}

// UsualTable returns the column of the lime table that suits a climate.
func UsualTable(climate string) TableClimate {
	if climate == "warm-temperate" || climate == "subtropical" {
		return WarmTable
	}
	return CoolTable
}

// UsualWorked returns how ground of a use is worked when nobody says.
func UsualWorked(u Use) Worked {
	switch u {
	case UseLawn:
		return Surface
	case UseTree:
		return Established
	}
	return Dug
}

// UsualDepth returns the depth that is assumed when none is given.
func UsualDepth(u Use, w Worked) quantity.Depth {
	switch {
	case u == UseLawn:
		return 0.10
	case u == UseTree:
		return 0.20
	case u == UseBed && w != Dug:
		return 0.10
	default:
		return 0.15
	}
}
