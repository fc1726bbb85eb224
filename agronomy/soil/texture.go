// Package soil knows the ground: textures, soil temperature, how a reading is
// to be trusted, and how stubborn the soil is: the buffering schools.
package soil

import "zephyrfield/agronomy/quantity"

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
	// CEC is reckoned with when none was measured.
	CEC quantity.ChargeCapacity
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

// FindTexture gives the row of a texture.
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
// is left on top around standing plants.
const (
	Dug         Worked = "dug"
	Surface     Worked = "surface"
	Established Worked = "established"
)

// Use says what kind of ground it is.
type Use string

// Uses of ground.
const (
	UseBed  Use = "bed"
	UseLawn Use = "lawn"
	UseTree Use = "tree"
	UsePot  Use = "pot"
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

// Share is the CaCO₃ to reckon with, percent of the soil's weight.
func (f FreeLime) Share() quantity.Percent {
	return map[FreeLime]quantity.Percent{LimeFaint: 0.5, LimeClear: 3, LimeStrong: 8}[f]
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
	// OrganicMatter, ClayShare and CEC are nil when not measured; clay and CEC
	// then come from the texture's row.
	OrganicMatter *quantity.Percent
	ClayShare     *quantity.Percent
	CEC           *quantity.ChargeCapacity
	FreeLime      FreeLime
	// State is how it lies on the day of the dose; "" is open.
	State State
}

// Capacity is the measured cation exchange capacity, or the texture's.
func (g Ground) Capacity() quantity.ChargeCapacity {
	if g.CEC != nil {
		return *g.CEC
	}
	return g.Texture.CEC
}

// Clays is the measured clay share, or the texture's.
func (g Ground) Clays() quantity.Percent {
	if g.ClayShare != nil {
		return *g.ClayShare
	}
	return g.Texture.Clay
}

// SoilMass is kilograms of dry soil per m² over the bed's depth.
func (g Ground) SoilMass() float64 {
	return quantity.SoilMass(g.Texture.BulkDensity, g.Depth)
}

// UsualDepth is the depth to reckon with when none is given.
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
