package dosejson_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/dose"
	"zephyrfield/internal/exchange/dosejson"
)

// contract is the request of docs/ration.md.
const contract = `{"date":"2026-11-24","place":{"climate":"maritime","hemisphere":"north"},
 "school":{"buffering":"table","pace":"all-at-once"},
 "stock":[{"id":"oven","kind":"wood-ash-hardwood","cce_pct":50,"k2o_pct":5,"source":"clean","kg":41},
          {"id":"lime","kind":"calcitic-lime","cce_pct":100,"price_kg":0.5}],
 "min_g_m2":{"oven":20,"lime":25},
 "beds":[{"id":"a","bed":{"area_m2":10,"texture":"loam"},"reading":{"ph":5.5,"k_ppm":90},"crop":"tomato"},
         {"id":"b","area_m2":10,"need_caco3_g_m2":200,"max_g_m2":{"oven":250},"k2o_room_g_m2":40,"k2o_need_g_m2":0}]}`

// By the careful pace a bed with its reading asks for its first part, and its rest is reported beside it; bare figures are as they are.
func TestRationGivesFirstPart(t *testing.T) {
	a, err := dosejson.RationTo([]byte(strings.Replace(contract, `,"pace":"all-at-once"`, "", 1)), 0)
	require.NoError(t, err)
	given := 0.0
	for _, x := range a.Beds[0].Given {
		given += x.GM2 * map[string]float64{"oven": 0.5, "lime": 1}[x.Stock]
	}
	assert.Positive(t, a.Beds[0].Rest)
	assert.InDelta(t, 321.5, given+a.Beds[0].Shortfall+a.Beds[0].Rest, 0.2)
	assert.Equal(t, []dosejson.RationShare{{Stock: "oven", GM2: 250, KG: 2.5}, {Stock: "lime", GM2: 75, KG: 0.75}}, a.Beds[1].Given)
	assert.Zero(t, a.Beds[1].Rest)
}

func TestRationExample(t *testing.T) {
	a, err := dosejson.RationTo([]byte(contract), 0)
	require.NoError(t, err)
	// 321.5 g/m² by the table: half a kilo of ash is the year's cap and brings 250, lime
	// the rest; bed b 250 of ash and 75 of lime.
	assert.Equal(t, []dosejson.RationShare{{Stock: "oven", GM2: 500, KG: 5}, {Stock: "lime", GM2: 71.5, KG: 0.715}}, a.Beds[0].Given)
	assert.Equal(t, []dosejson.RationShare{{Stock: "oven", GM2: 250, KG: 2.5}, {Stock: "lime", GM2: 75, KG: 0.75}}, a.Beds[1].Given)
	assert.InDelta(t, (0.715+0.75)*0.5, a.Cost, 1e-4)
	assert.Zero(t, a.Gap)
	assert.Equal(t, "ash-year-cap", a.Beds[1].HeldBy[0].ID)
	assert.InDelta(t, 33.5, *a.Stock[0].LeftKG, 1e-9)
	assert.Nil(t, a.Stock[0].NextKG, "there is more of it than beds want")
	assert.Nil(t, a.Stock[1].LeftKG, "as much as wanted")
	assert.InDelta(t, (321.5+200)*10/1000*0.5, a.WithoutAsh.Cost, 1e-3)
	// The same need as the dose of that bed.
	d, err := dosejson.AnswerTo([]byte(`{"date":"2026-11-24","place":{"climate":"maritime","hemisphere":"north"},
		"bed":{"area_m2":10,"texture":"loam"},"reading":{"ph":5.5,"k_ppm":90},"crop":"tomato",
		"school":{"buffering":"table","pace":"all-at-once"}}`))
	require.NoError(t, err)
	assert.InDelta(t, d.Need.CaCO3, 500*0.5+71.5, 0.1)
}

func TestInvalidRationNamesField(t *testing.T) {
	for field, change := range map[string][2]string{
		"stock":                   {`"stock":[{"id":"oven"`, `"stock":[],"x":[{"id":"oven"`},
		"date":                    {`"date":"2026-11-24"`, `"date":"2026-02-30"`},
		"school.buffering":        {`"buffering":"table"`, `"buffering":"guess"`},
		"place.climate":           {`"climate":"maritime"`, `"climate":"lunar"`},
		"stock[0].id":             {`{"id":"oven","kind"`, `{"kind"`},
		"stock[1].id":             {`"id":"lime"`, `"id":"oven"`},
		"stock[0].kind":           {`wood-ash-hardwood`, `moon-dust`},
		"stock[0].source":         {`"source":"clean"`, `"source":"magic"`},
		"stock[0].kg":             {`"kg":41`, `"kg":-41`},
		"stock[1].price_kg":       {`"price_kg":0.5`, `"price_kg":-0.5`},
		"stock[1].cce_pct":        {`"cce_pct":100`, `"cce_pct":900`},
		"min_g_m2.stove":          {`"min_g_m2":{"oven"`, `"min_g_m2":{"stove"`},
		"stock[0].min_g_m2":       {`"oven":20`, `"oven":-20`},
		"beds[0].reading.ph":      {`"ph":5.5`, `"ph":55`},
		"beds[0].crop":            {`"crop":"tomato"`, `"crop":"triffid"`},
		"beds[0].date":            {`"crop":"tomato"`, `"crop":"tomato","date":"2026-11-24"`},
		"beds[0].materials":       {`"crop":"tomato"`, `"crop":"tomato","materials":[{"kind":"gypsum"}]`},
		"beds[0].area_m2":         {`"crop":"tomato"`, `"crop":"tomato","area_m2":10`},
		"beds[1].id":              {`"id":"b"`, `"id":"a"`},
		"beds[1].area_m2":         {`"area_m2":10,"need`, `"need`},
		"beds[1].need_caco3_g_m2": {`"need_caco3_g_m2":200,`, ``},
		"beds[1].max_g_m2.pit":    {`"max_g_m2":{"oven":250}`, `"max_g_m2":{"pit":250}`},
		"beds[1].k2o_room_g_m2":   {`"k2o_room_g_m2":40`, `"k2o_room_g_m2":-40`},
		"colour":                  {`"date":"2026-11-24"`, `"date":"2026-11-24","colour":"grey"`},
		"request":                 {`"beds":[`, `"beds":[[`},
		"beds[1].k2o_need_g_m2":   {`"k2o_need_g_m2":0`, `"k2o_need_g_m2":-1`},
	} {
		text := strings.Replace(contract, change[0], change[1], 1)
		require.NotEqual(t, contract, text, field)
		_, err := dosejson.RationTo([]byte(text), 0)
		var in *dose.InputError
		if field == "stock" || field == "request" { // what else is wrong may be named first
			require.ErrorAs(t, err, &in, field)
			continue
		}
		require.ErrorAs(t, err, &in, field)
		assert.Equal(t, field, in.Field, in.Why)
	}
}

func TestRationsStream(t *testing.T) {
	var fault dosejson.Error
	require.NoError(t, json.Unmarshal([]byte(streamed(t, dosejson.Rations(allocate.UsualSteps), contract, "{}")), &fault))
	assert.Equal(t, "date", fault.Field)
}

// A barred bin goes nowhere, also where it is all there is.
func TestBarredStockIsNotShared(t *testing.T) {
	a, err := dosejson.RationTo([]byte(strings.Replace(contract, `"source":"clean"`, `"source":"treated"`, 1)), 0)
	require.NoError(t, err)
	for i, id := range []string{"ash-source", "barred"} {
		for _, g := range a.Beds[i].Given {
			assert.NotEqual(t, "oven", g.Stock)
		}
		assert.Equal(t, id, a.Beds[i].HeldBy[0].ID)
	}
}
