package garden

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
)

// Plan is a dose that was put in the year, with the request it came from, so
// that its working can be shown again.
type Plan struct {
	Meta
	BedID     int64        `db:"bed_id" json:"bed_id"`
	Made      quantity.Day `db:"made" json:"made"`
	ReadingID int64        `db:"reading_id" json:"reading_id"`
	Target    quantity.PH  `db:"target_ph" json:"target_ph"`
	Request   JSON         `db:"request" json:"request"`
	// RestsApart is set where what waits for the plan's test was planned as rests; plans made before had it among the tasks.
	RestsApart bool `db:"rests_apart" json:"rests_apart"`
}

var planTable = Table{Name: "plans", One: "plan", New: func() Record { return &Plan{} }, Most: 200_000,
	Agrees: []Agree{{"reading_id", "readings", "bed_id", "rests on a reading of another bed"}}}

func (p *Plan) check(f Faults) {
	Limit{float64(dose.MinPH), float64(dose.MaxPH), false, "pH"}.hold(f, "target_ph", float64(p.Target))
	wanted(f, "made", p.Made)
}

// OfBed returns the bed that it is for.
func (p *Plan) OfBed() int64 { return p.BedID }
