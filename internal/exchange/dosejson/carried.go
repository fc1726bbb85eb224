package dosejson

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// mostPotassium is the largest figure of potassium, as in docs/dose.md.
const mostPotassium = 20000

// carried parses the carried potassium.
func (r Request) carried(q *dose.Request) error {
	k := r.KCarried
	if k == nil {
		return nil
	}
	if r.Reading == nil || r.Reading.KPPM == nil {
		return bad("k_carried", "the reading that it was carried forward from is needed, with its reading.k_ppm")
	}
	for _, x := range []struct {
		field string
		is    float64
	}{{"k_ppm", k.PPM}, {"given_k2o_g_m2", k.Given}, {"carried_off_k2o_g_m2", k.Carried}, {"leached_ppm", k.Leached}} {
		if !(x.is >= 0 && x.is <= mostPotassium) {
			return bad("k_carried."+x.field, "a figure from 0 to %d is needed", mostPotassium)
		}
	}
	q.Carried = &soil.KCarried{Now: quantity.Concentration(k.PPM), Given: quantity.Rate(k.Given), Carried: quantity.Rate(k.Carried),
		Leached: quantity.Concentration(k.Leached)}
	return nil
}
