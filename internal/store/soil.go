package store

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// mostMeasured is how many days of measured soil temperatures are read, the newest: older applications have
// reacted.
const mostMeasured = 2000

// measured returns the soil temperatures that were measured, oldest first.
func (r reader) measured() ([]soil.Warm10, error) {
	rows, err := many[soilRow](r, "SELECT day, soil_c FROM (SELECT * FROM soil_days ORDER BY day DESC LIMIT ?) ORDER BY day", mostMeasured)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	out := make([]soil.Warm10, len(rows))
	for i, x := range rows {
		out[i] = soil.Warm10{Day: x.Day, Soil: x.Soil}
	}
	return out, nil
}

// soilRow is a row of what was measured.
type soilRow struct {
	Day  quantity.Day         `db:"day"`
	Soil quantity.Temperature `db:"soil_c"`
}
