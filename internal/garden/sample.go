package garden

import (
	"regexp"

	"zephyrfield/agronomy/quantity"
)

// Round is a sampling round through the garden.
type Round struct {
	Meta
	Made quantity.Day `db:"made" json:"made"`
	// Corer is the corer's inner diameter, Wanted the mass of a sample; Layered keeps the layers of
	// undug ground apart.
	Corer   quantity.Depth `db:"corer_m" json:"corer_m"`
	Wanted  quantity.Mass  `db:"wanted_g" json:"wanted_g"`
	Layered bool           `db:"layered" json:"layered"`
	// Tray is set when cores are cut into layers in a tray.
	Tray bool `db:"tray" json:"tray"`
	// Walk is the length of its route, m.
	Walk  float64      `db:"walk_m" json:"walk_m"`
	Ended quantity.Day `db:"ended" json:"ended"`
}

// The states of a sample.
const (
	SamplePlanned = "planned"
	SampleTaken   = "taken"
	SampleAtLab   = "at-lab"
	SampleRead    = "read"
)

// Sample is one mixed sample of a round; Code is printed on its label.
type Sample struct {
	Meta
	RoundID int64          `db:"round_id" json:"round_id"`
	Code    string         `db:"code" json:"code"`
	Depth   quantity.Depth `db:"depth_m" json:"depth_m"`
	// Corer is the inner diameter of a corer of its own; 0 is the round's.
	Corer quantity.Depth `db:"corer_m" json:"corer_m"`
	// Overruled says what is lost where the gardener put beds together that the
	// rules keep apart.
	Overruled string       `db:"overruled" json:"overruled"`
	State     string       `db:"state" json:"state"`
	Taken     quantity.Day `db:"taken" json:"taken"`
	Sent      quantity.Day `db:"sent" json:"sent"`
	Read      quantity.Day `db:"read" json:"read"`
}

// SampleBed is a bed of a sample, with its number of cores, of stops (0: one per core), and its
// position in the route.
type SampleBed struct {
	Meta
	SampleID int64  `db:"sample_id" json:"sample_id"`
	BedID    int64  `db:"bed_id" json:"bed_id"`
	Cores    int    `db:"cores" json:"cores"`
	Stops    int    `db:"stops" json:"stops"`
	Place    int    `db:"place" json:"place"`
	Note     string `db:"note" json:"note"`
}

// Core is one core taken; At is the time, RFC 3339.
type Core struct {
	Meta
	SampleBedID int64  `db:"sample_bed_id" json:"sample_bed_id"`
	N           int    `db:"n" json:"n"`
	At          string `db:"at" json:"at"`
}

// codeForm is the syntax of a sample code.
var codeForm = regexp.MustCompile(`^[0-9]{1,16}[A-Z]{1,4}$`)

func (s *Sample) check(f Faults) {
	if !codeForm.MatchString(s.Code) {
		f["code"] = "a code is a number and a letter, such as 12A"
	}
	if s.Corer != 0 {
		LimitCorer.hold(f, "corer", float64(s.Corer))
	}
	if !LimitDepth.Holds(float64(s.Depth)) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	states := []string{SamplePlanned, SampleTaken, SampleAtLab, SampleRead}
	known(f, "state", states, s.State)
	for i, d := range []quantity.Day{s.Taken, s.Sent, s.Read} {
		if s.State == states[i+1] {
			wanted(f, states[i+1], d)
		}
	}
}

var (
	roundTable  = Table{Name: "rounds", Order: "made DESC, id DESC", One: "round", New: func() Record { return &Round{} }, Most: 20_000}
	sampleTable = Table{Name: "samples", One: "sample", New: func() Record { return &Sample{} }, Most: 200_000,
		Alone: []Alone{{"code", "code", "there is a sample of that code already", "choose another"}}}
	sampleBedTable = Table{Name: "sample_beds", Order: "place, id", One: "bed of a sample", New: func() Record { return &SampleBed{} },
		Most: 400_000}
	coreTable = Table{Name: "cores", One: "core", New: func() Record { return &Core{} }, Most: 2_000_000,
		Alone: []Alone{{"sample_bed_id", "core", "that core was taken already", "take the next"}}}
)

func (r *Round) check(f Faults) {
	LimitCorer.hold(f, "corer", float64(r.Corer))
	LimitWanted.hold(f, "wanted", float64(r.Wanted))
	LimitWalk.hold(f, "walk", r.Walk)
	wanted(f, "made", r.Made)
}

func (b *SampleBed) check(f Faults) {
	Limit{1, MostBedCores, false, "cores"}.hold(f, "cores", float64(b.Cores))
	Limit{0, mostBeds * 4, false, ""}.hold(f, "place", float64(b.Place))
	Limit{0, float64(max(b.Cores, 0)), false, "stops"}.hold(f, "stops", float64(b.Stops))
}

// StopCount returns the number of stops for its cores.
func (b *SampleBed) StopCount() int {
	if b.Stops > 0 {
		return b.Stops
	}
	return b.Cores
}

// CoresAt returns the first and last core of a stop; stops are counted from 1.
func (b *SampleBed) CoresAt(stop int) (from, to int) {
	n := b.StopCount()
	return (stop-1)*b.Cores/n + 1, stop * b.Cores / n
}

// OfBed returns its bed.
func (b *SampleBed) OfBed() int64 { return b.BedID }

func (c *Core) check(f Faults) {
	Limit{1, MostBedCores, false, ""}.hold(f, "n", float64(c.N))
	moment(f, "at", c.At)
}
