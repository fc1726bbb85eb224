package garden

// Kinds of mark.
const (
	MarkPath = "path"
	MarkWall = "wall"
)

// Mark is a path or a wall on the plan: a line of some width.
type Mark struct {
	Meta
	Name  string  `db:"name" json:"name"`
	Kind  string  `db:"kind" json:"kind"`
	Width float64 `db:"width_m" json:"width_m"`
	// Points are metres from the plan's corner.
	Points Corners `db:"points_m" json:"points_m"`
}

var markTable = Table{Name: "marks", One: "path or wall", New: func() Record { return &Mark{} }, Most: mostBeds}

func (m *Mark) check(f Faults) { f.join(CheckMark(*m).OrNil()) }
