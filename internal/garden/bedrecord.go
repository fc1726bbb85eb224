package garden

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Kinds of ground.
const (
	KindBed  = "bed"
	KindLawn = "lawn"
	KindTree = "tree"
	KindPots = "pot"
	KindHeap = "heap"
)

// Kinds lists them in the order they are offered.
var Kinds = []string{KindBed, KindLawn, KindTree, KindPots, KindHeap}

// Shapes on the plan: a rectangle, a circle, rings set evenly along a
// rectangle, or a freehand outline.
const (
	ShapeRect    = "rect"
	ShapeCircle  = "circle"
	ShapeRings   = "rings"
	ShapeOutline = "outline"
)

// Shapes lists them in the order they are offered.
var Shapes = []string{ShapeRect, ShapeCircle, ShapeRings, ShapeOutline}

// Bed is a piece of ground. X and Y are the top left corner on the plan, W and
// H its size, all in metres; the plan's north is up.
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
	// Turn is clockwise, degrees, about the frame's middle; Corners are those of
	// an outline.
	Turn          float64                          `db:"turn_deg" json:"turn_deg"`
	Corners       Corners                          `db:"corners_m" json:"corners_m"`
	Texture       soil.Texture                     `db:"texture" json:"texture"`
	Depth         quantity.Depth                   `db:"depth_m" json:"depth_m"`
	Worked        soil.Worked                      `db:"worked" json:"worked"`
	OrganicMatter *quantity.Percent                `db:"organic_matter_pct" json:"organic_matter_pct"`
	Clay          *quantity.Percent                `db:"clay_pct" json:"clay_pct"`
	CEC           *quantity.CationExchangeCapacity `db:"cec" json:"cec"`
	FreeLime      soil.FreeLime                    `db:"free_lime" json:"free_lime"`
	// Stones is their share of the volume.
	Stones quantity.Percent `db:"stones_pct" json:"stones_pct"`
	// TextureBy is how the texture was found: "" as told, by jar or by feel. Jar
	// is the jar's layers of sand, silt and clay, mm.
	TextureBy string  `db:"texture_by" json:"texture_by"`
	Jar       Figures `db:"jar_mm" json:"jar_mm"`
	// Watered is "tap" where the tap's water goes on, else "".
	Watered string `db:"watered" json:"watered"`
	Note    string `db:"note" json:"note"`
	// NameKey is the name as names are compared; the store keeps it.
	NameKey string `db:"name_key" json:"-"`
	// Retired is the day from which it is no longer on the plan; its history
	// stays.
	Retired quantity.Day `db:"retired" json:"retired"`
}

// SetKeys puts the name in as names are compared.
func (b *Bed) SetKeys() { b.NameKey = Fold(b.Name) }

// Use is how the calculation sees the kind.
func (b Bed) Use() soil.Use {
	switch b.Kind {
	case KindLawn:
		return soil.UseLawn
	case KindTree:
		return soil.UseTree
	case KindPots:
		return soil.UsePot
	}
	return soil.UseBed
}

var bedTable = Table{Name: "beds", One: "bed", New: func() Record { return &Bed{} }, Most: mostBeds,
	Alone: []Alone{{"name", "name", "there is a bed of that name already", "choose another"}}}

func (b *Bed) check(f Faults) { f.join(CheckGround(*b).OrNil()) }

// Called is its name.
func (b *Bed) Called() string { return b.Name }

// OfBed is the bed itself.
func (b *Bed) OfBed() int64 { return b.ID }
