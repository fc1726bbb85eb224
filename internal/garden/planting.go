package garden

import (
	"zephyrfield/agronomy/quantity"
)

// Planting is a crop on a bed: sown or planted, and cleared (0: not yet).
type Planting struct {
	Meta
	BedID   int64        `db:"bed_id" json:"bed_id"`
	Crop    string       `db:"crop" json:"crop"`
	Sown    quantity.Day `db:"sown" json:"sown"`
	Cleared quantity.Day `db:"cleared" json:"cleared"`
	// PlantedOut is set for young plants planted out, not sown there.
	PlantedOut bool `db:"planted_out" json:"planted_out"`
}

var plantingTable = Table{Name: "plantings", Order: "sown, id", One: "crop on a bed", New: func() Record { return &Planting{} },
	Most: 200_000}

func (p *Planting) check(f Faults) {
	CheckPlanting(f, *p)
	order(f, "cleared", p.Sown, p.Cleared)
}

// OfBed returns its bed.
func (p *Planting) OfBed() int64 { return p.BedID }
