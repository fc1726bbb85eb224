package garden

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
)

// LayersOf are the layers that a round keeps apart in a bed.
func LayersOf(r Round, b Bed) []sampling.Stretch {
	if !r.Layered {
		return nil
	}
	if all := sampling.Layers(b.Ground(soil.CoolTable)); len(all) > 1 {
		return all
	}
	return nil
}

// SampleCode is a sample's code with what its layers go by.
type SampleCode struct {
	Code    string         `db:"code"`
	BedID   int64          `db:"bed_id"`
	Layered bool           `db:"layered"`
	Kind    string         `db:"kind"`
	Worked  soil.Worked    `db:"worked"`
	Depth   quantity.Depth `db:"depth_m"`
}
