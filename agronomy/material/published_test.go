package material_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// month is one in weeks.
const month = 365.25 / 12 / 7

func TestPublishedMaterials(t *testing.T) {
	type row struct {
		cce, k2o         material.Range
		ca, mg, p2o5, n  quantity.Percent
		acid             float64
		halfLife, atTemp float64
		retest           int
	}
	printed := map[material.Kind]row{
		"calcitic-lime": {cce: material.Range{Low: 90, Typical: 97, High: 100}, ca: 38, halfLife: 2.5 * month, atTemp: 15,
			retest: 26},
		"dolomitic-lime": {cce: material.Range{Low: 95, Typical: 103, High: 109}, ca: 22, mg: 11, halfLife: 2.5 * 1.8 * month,
			atTemp: 15, retest: 52},
		"pelleted-lime": {cce: material.Range{Low: 85, Typical: 92, High: 96}, ca: 35, halfLife: 2.5*month + 3, atTemp: 15,
			retest: 26},
		"hydrated-lime": {cce: material.Range{Low: 120, Typical: 130, High: 135}, ca: 52, halfLife: 1, atTemp: 15, retest: 26},
		"wood-ash-unknown": {cce: material.Range{Low: 22, Typical: 43, High: 92},
			k2o: material.Range{Low: 0.5, Typical: 3.1, High: 10}, ca: 15, mg: 1, p2o5: 1.2, halfLife: 3, atTemp: 15, retest: 12},
		"wood-ash-hardwood": {cce: material.Range{Low: 35, Typical: 50, High: 70},
			k2o: material.Range{Low: 3, Typical: 5, High: 8}, ca: 20, mg: 2, p2o5: 1.5, halfLife: 3, atTemp: 15, retest: 12},
		"wood-ash-softwood": {cce: material.Range{Low: 30, Typical: 42, High: 60},
			k2o: material.Range{Low: 1.5, Typical: 3, High: 5}, ca: 16, mg: 1.5, p2o5: 1.2, halfLife: 3, atTemp: 15, retest: 12},
		"wood-ash-twigs": {cce: material.Range{Low: 35, Typical: 48, High: 65},
			k2o: material.Range{Low: 4, Typical: 7, High: 10}, ca: 18, mg: 2.5, p2o5: 2.5, halfLife: 3, atTemp: 15, retest: 12},
		"leaf-ash": {cce: material.Range{Low: 25, Typical: 40, High: 55},
			k2o: material.Range{Low: 3, Typical: 3, High: 3}, ca: 20, mg: 3, p2o5: 2, halfLife: 3, atTemp: 15, retest: 12},
		"elemental-sulfur-powder":  {acid: 312, halfLife: 5, atTemp: 25, retest: 12},
		"elemental-sulfur-pellets": {acid: 312, halfLife: 20, atTemp: 25, retest: 12},
		"aluminium-sulfate":        {acid: 45, halfLife: 2, atTemp: 15, retest: 12},
		"iron-sulfate":             {acid: 36, halfLife: 2, atTemp: 15, retest: 12},
		"ammonium-sulfate":         {acid: 112, n: 21, halfLife: 4, atTemp: 15, retest: 12},
		"urea":                     {acid: 83, n: 46, halfLife: 4, atTemp: 15, retest: 12},
		"compost":                  {k2o: material.Range{Low: 0.5, Typical: 0.5, High: 0.5}, n: 0.7, p2o5: 0.4, retest: 52},
		"manure":                   {k2o: material.Range{Low: 0.6, Typical: 0.6, High: 0.6}, n: 0.5, p2o5: 0.3, retest: 52},
		"horse-manure":             {k2o: material.Range{Low: 0.7, Typical: 0.7, High: 0.7}, n: 0.7, p2o5: 0.3, retest: 52},
		"sheep-manure":             {k2o: material.Range{Low: 0.8, Typical: 0.8, High: 0.8}, n: 0.7, p2o5: 0.3, retest: 52},
		"poultry-pellets":          {k2o: material.Range{Low: 2.5, Typical: 2.5, High: 2.5}, n: 4, p2o5: 3, retest: 52},
		"poultry-manure":           {k2o: material.Range{Low: 1, Typical: 1, High: 1}, n: 1.5, p2o5: 1.4, retest: 52},
		"mushroom-compost":         {k2o: material.Range{Low: 0.8, Typical: 0.8, High: 0.8}, n: 0.7, p2o5: 0.6, retest: 52},
		"leaf-mould":               {k2o: material.Range{Low: 0.3, Typical: 0.3, High: 0.3}, n: 0.4, p2o5: 0.1, retest: 52},
		"potassium-sulfate":        {k2o: material.Range{Low: 50, Typical: 50, High: 50}, retest: 52},
	}
	for kind, want := range printed {
		m := find(t, kind)
		assert.Equal(t, want, row{m.CCE, m.K2O, m.Calcium, m.Magnesium, m.P2O5, m.N, m.Acid, m.Reacts.HalfLife,
			float64(m.Reacts.Reference), m.Retest}, kind)
	}
}

func TestPublishedCaps(t *testing.T) {
	loam, _ := soil.FindTexture(soil.Loam)
	at := func(worked soil.Worked, use soil.Use) soil.Ground {
		return soil.Ground{Use: use, Worked: worked, Texture: loam}
	}
	dug, top, lawn := at(soil.Dug, soil.UseBed), at(soil.Surface, soil.UseBed), at(soil.Surface, soil.UseLawn)
	for f, want := range map[material.Family][3]material.Caps{
		material.Lime:         {{Once: 500, Year: 1000, Weeks: 12}, {Once: 250, Year: 500, Weeks: 26}, {Once: 250, Year: 500, Weeks: 26}},
		material.HydratedLime: {{Once: 150, Year: 150, Weeks: 26}, {Once: 0, Year: 0, Weeks: 26}, {Once: 0, Year: 0, Weeks: 26}},
		material.Ash:          {{Once: 250, Year: 500, Weeks: 8}, {Once: 125, Year: 500, Weeks: 12}, {Once: 50, Year: 100, Weeks: 12}},
		material.Sulfur:       {{Once: 100, Year: 150, Weeks: 12}, {Once: 50, Year: 75, Weeks: 26}, {Once: 25, Year: 50, Weeks: 26}},
		material.Aluminium:    {{Once: 250, Year: 500, Weeks: 8}, {Once: 120, Year: 500, Weeks: 8}, {Once: 0, Year: 0, Weeks: 8}},
		material.Iron:         {{Once: 200, Year: 400, Weeks: 8}, {Once: 100, Year: 400, Weeks: 8}, {Once: 20, Year: 60, Weeks: 8}},
		material.Ammonium:     {{Once: 25, Year: 75, Weeks: 6}, {Once: 25, Year: 75, Weeks: 6}, {Once: 25, Year: 75, Weeks: 6}},
		material.UreaFeed:     {{Once: 10, Year: 30, Weeks: 6}, {Once: 10, Year: 30, Weeks: 6}, {Once: 10, Year: 30, Weeks: 6}},
		material.Potash:       {{Once: 30, Year: 60, Weeks: 8}, {Once: 30, Year: 60, Weeks: 8}, {Once: 30, Year: 60, Weeks: 8}},
	} {
		for i, g := range []soil.Ground{dug, top, lawn} {
			got, ok := material.CapsFor(f, g)
			assert.True(t, ok, f)
			assert.Equal(t, want[i], got, "%s, %d", f, i)
		}
	}
}
