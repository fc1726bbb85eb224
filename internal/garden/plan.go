package garden

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
)

// Plan is a planned dose with its request, from which its working can be shown again.
type Plan struct {
	Meta
	BedID     int64        `db:"bed_id" json:"bed_id"`
	Made      quantity.Day `db:"made" json:"made"`
	ReadingID int64        `db:"reading_id" json:"reading_id"`
	Target    quantity.PH  `db:"target_ph" json:"target_ph"`
	Request   JSON         `db:"request" json:"request"`
	// RestsApart is set when the rest that waits for the plan's test is stored as rests; older
	// plans stored it as tasks.
	RestsApart bool `db:"rests_apart" json:"rests_apart"`
}

var planTable = Table{Name: "plans", One: "plan", New: func() Record { return &Plan{} }, Most: 200_000,
	Agrees: []Agree{{"reading_id", "readings", "bed_id", "rests on a reading of another bed"}}}

func (p *Plan) check(f Faults) {
	Limit{float64(dose.MinPH), float64(dose.MaxPH), false, "pH"}.hold(f, "target_ph", float64(p.Target))
	wanted(f, "made", p.Made)
}

// OfBed returns its bed.
func (p *Plan) OfBed() int64 { return p.BedID }
