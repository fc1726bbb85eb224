package store

import (
	"sync"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// soilKept keeps the soil temperatures that were measured until the records change: every
// reading of the garden has them.
type soilKept struct {
	mu       sync.Mutex
	stamp    string
	measured []soil.Warm10
}

// mostMeasured is how many days of measured soil are reckoned with, the newest: what was put on
// before them has long acted.
const mostMeasured = 2000

// measured are the soil temperatures that were measured, oldest first. Nobody may change what
// is given.
func (r reader) measured() ([]soil.Warm10, error) {
	stamp, err := r.Stamp()
	if err != nil {
		return nil, err
	}
	r.soil.mu.Lock()
	defer r.soil.mu.Unlock()
	if r.soil.stamp == stamp {
		return r.soil.measured, nil
	}
	rows, err := many[soilRow](r, "SELECT day, soil_c FROM (SELECT * FROM soil_days ORDER BY day DESC LIMIT ?) ORDER BY day", mostMeasured)
	if err != nil {
		return nil, err
	}
	out := make([]soil.Warm10, len(rows))
	for i, x := range rows {
		out[i] = soil.Warm10{Day: x.Day, Soil: x.Soil}
	}
	if len(out) == 0 {
		out = nil
	}
	if r.asked != nil { // a change may still be taken back
		r.soil.stamp, r.soil.measured = stamp, out
	}
	return out, nil
}

// soilRow is a row of what was measured.
type soilRow struct {
	Day  quantity.Day         `db:"day"`
	Soil quantity.Temperature `db:"soil_c"`
}
