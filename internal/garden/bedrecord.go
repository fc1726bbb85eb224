package garden

import (
	"fmt"
	"slices"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// Kinds of ground.
const (
	KindBed  = "bed"
	KindLawn = "lawn"
	KindTree = "tree"
	KindPots = "pot"
	KindHeap = "heap"
)

// Kinds lists them in the order of the form.
var Kinds = []string{KindBed, KindLawn, KindTree, KindPots, KindHeap}

// Shapes on the plan: a rectangle, a circle, rings set evenly along a
// rectangle, or a freehand outline.
const (
	ShapeRect    = "rect"
	ShapeCircle  = "circle"
	ShapeRings   = "rings"
	ShapeOutline = "outline"
)

// Shapes lists them in the order of the form.
var Shapes = []string{ShapeRect, ShapeCircle, ShapeRings, ShapeOutline}

// Bed is a piece of ground. X and Y are the top left corner on the plan, W and H its size, in
// metres; the plan's north is up.
type Bed struct {
	Meta
	Name  string  `db:"name" json:"name"`
	Kind  string  `db:"kind" json:"kind"`
	Shape string  `db:"shape" json:"shape"`
	X     float64 `db:"x_m" json:"x_m"`
	Y     float64 `db:"y_m" json:"y_m"`
	W     float64 `db:"w_m" json:"w_m"`
	H     float64 `db:"h_m" json:"h_m"`
	Rings int     `db:"rings" json:"rings"`
	// Turn is clockwise rotation about the frame's centre, degrees; Corners are those of an
	// outline.
	Turn          float64                          `db:"turn_deg" json:"turn_deg"`
	Corners       Corners                          `db:"corners_m" json:"corners_m"`
	Texture       soil.Texture                     `db:"texture" json:"texture"`
	Depth         quantity.Depth                   `db:"depth_m" json:"depth_m"`
	Worked        soil.Worked                      `db:"worked" json:"worked"`
	OrganicMatter *quantity.Percent                `db:"organic_matter_pct" json:"organic_matter_pct"`
	Clay          *quantity.Percent                `db:"clay_pct" json:"clay_pct"`
	CEC           *quantity.CationExchangeCapacity `db:"cec" json:"cec"`
	FreeLime      soil.FreeLime                    `db:"free_lime" json:"free_lime"`
	// Stones is their share by volume.
	Stones quantity.Percent `db:"stones_pct" json:"stones_pct"`
	// TextureBy is the source of the texture: "" as entered, by jar or by feel. Jar is the jar's
	// layers of sand, silt and clay, mm.
	TextureBy string  `db:"texture_by" json:"texture_by"`
	Jar       Figures `db:"jar_mm" json:"jar_mm"`
	// Watered is "tap" for tap water, else "".
	Watered string `db:"watered" json:"watered"`
	// Part is the gardener's name for the part of the garden; "" for none.
	Part string `db:"part" json:"part"`
	Note string `db:"note" json:"note"`
	// NameKey is the name folded for comparison; the store maintains it.
	NameKey string `db:"name_key" json:"-"`
	// Retired is the day from which it is off the plan; its history stays.
	Retired quantity.Day `db:"retired" json:"retired"`
	// LearnsFrom is the day from which on its retests teach its buffering; 0: all of them.
	LearnsFrom quantity.Day `db:"taught_from" json:"taught_from"`
}

// SetKeys sets NameKey.
func (b *Bed) SetKeys() { b.NameKey = Fold(b.Name) }

// Pieces returns the number of rings; 1 for one piece of ground.
func (b Bed) Pieces() int {
	if b.Shape == ShapeRings {
		return max(1, b.Rings)
	}
	return 1
}

// Use returns the kind for package soil.
func (b Bed) Use() soil.Use {
	switch b.Kind {
	case KindLawn:
		return soil.UseLawn
	case KindTree:
		return soil.UseTree
	case KindPots:
		return soil.UsePot
	case KindHeap:
		return soil.UseHeap
	}
	return soil.UseBed
}

var bedTable = Table{Name: "beds", One: "bed", New: func() Record { return &Bed{} }, Most: mostBeds,
	Alone: []Alone{{"name", "name", "there is a bed of that name already", "choose another"}}}

func (b *Bed) check(f Faults) { f.join(CheckGround(*b).OrNil()) }

// Called returns its name.
func (b *Bed) Called() string { return b.Name }

// OfBed returns the bed's own number.
func (b *Bed) OfBed() int64 { return b.ID }

// Ground converts the bed for package soil.
func (b Bed) Ground(table soil.TableClimate) soil.Ground {
	t, _ := soil.FindTexture(b.Texture)
	return soil.Ground{Area: b.Area(), Depth: b.Depth, Texture: t, Table: table, Worked: b.Worked, Use: b.Use(),
		OrganicMatter: b.OrganicMatter, Clay: b.Clay, CEC: b.CEC, FreeLime: b.FreeLime, Stones: b.Stones}
}

// CheckBed validates a bed and its crop, by field. Whether the crop is in the library is checked
// when it is planted.
func CheckBed(b Bed, crp string, sown quantity.Day) error {
	f := CheckGround(b)
	CheckPlanting(f, Planting{Crop: crp, Sown: sown})
	return f.OrNil()
}

func CheckPlanting(f Faults, p Planting) {
	if p.Crop == "" {
		f["crop"] = "choose what grows there next"
	}
	if p.Sown.IsZero() {
		f["sown"] = "a day is needed: when it was, or will be, sown or planted"
	} else if why := DayFault(p.Sown); why != "" {
		f["sown"] = why
	}
}

// KnownCrop returns the crop of a code or of a name, or a fault for one that is not in the library.
func KnownCrop(r Reader, code string) (crop.Crop, error) {
	l, err := LibraryOf(r)
	if err != nil {
		return crop.Crop{}, err
	}
	c, ok := l.Called(code)
	if !ok {
		return c, Faults{"crop": "choose a crop of the library"}
	}
	return c, nil
}

// CheckShape validates a bed's size and place, by field: a valid one can be drawn.
func CheckShape(b Bed) Faults {
	f := Faults{}
	for field, side := range map[string]struct {
		metres float64
		what   string
	}{"w": {b.W, "length"}, "h": {b.H, "width"}} {
		if !(side.metres > 0) {
			f[field] = "a " + side.what + " above 0 m is needed"
		}
		LimitSize.hold(f, field, side.metres)
	}
	LimitPlace.hold(f, "x", b.X)
	LimitPlace.hold(f, "y", b.Y)
	LimitTurn.hold(f, "turn", b.Turn)
	switch {
	case !slices.Contains(Shapes, b.Shape):
		f["shape"] = "choose a shape"
	case b.Shape == ShapeRings:
		LimitRings.hold(f, "rings", float64(b.Rings))
	case b.Shape == ShapeCircle && b.W != b.H:
		f["h"] = "a circle is as wide as it is long"
	case b.Shape == ShapeOutline:
		if why := CheckCorners(b.Corners); why != "" {
			f["corners"] = why
		}
	}
	if a := b.Area(); f["w"] == "" && f["h"] == "" && a > dose.MaxArea {
		f["w"] = fmt.Sprintf("%s is more than 5 ha; split the ground", text.Area(a))
	}
	return f
}

func CheckGround(b Bed) Faults {
	f := CheckShape(b)
	if why := nameFault(b.Name, "give the bed a name"); why != "" {
		f["name"] = why
	}
	if why := TextFault(b.Note, LongestNote, true); why != "" {
		f["note"] = why
	}
	if why := TextFault(b.Part, LongestName, false); why != "" {
		f["part"] = why
	}
	if !slices.Contains(Kinds, b.Kind) {
		f["kind"] = "choose what kind of ground it is"
	}
	if _, ok := soil.FindTexture(b.Texture); !ok {
		f["texture"] = "choose a texture"
	}
	if !(b.Depth >= dose.MinDepth && b.Depth <= dose.MaxDepth) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	holdOpt(LimitPercent, f, "om", b.OrganicMatter)
	checkSoil(b, f)
	if !slices.Contains(soil.WaysWorked, b.Worked) {
		f["worked"] = "choose how it is worked"
	}
	switch b.FreeLime {
	case soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong:
	default:
		f["free_lime"] = "choose what the vinegar drop did"
	}
	return f
}
