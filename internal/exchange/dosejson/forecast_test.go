package dosejson_test

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange/dosejson"
)

const forecastExample = `{"today":"2026-11-24","until":"2031-11-24","place":{"climate":"maritime","hemisphere":"north"},
	"bed":{"area_m2":10,"texture":"loam"},"school":{"buffering":"table"},
	"readings":[{"date":"2023-10-28","ph":6.3,"method":"lab","cores":12,"k_ppm":124},{"date":"2026-11-12","ph":5.7,"k_ppm":82}],
	"history":[{"date":"2023-12-02","material":"calcitic-lime","g_m2":250,"batch":"bag-23"}],
	"crops":[{"crop":"sweet-pea","from":"2024-04-12","to":"2024-10-15"}],
	"nitrogen":[{"date":"2024-05-01","kind":"ammonium-sulfate","n_g_m2":9}],"water":{"litres_m2_year":120,"alkalinity_mg_l":200},
	"plan":[{"date":"2026-11-28","material":"calcitic-lime","g_m2":265}],"seed":1}`

func foretold(t *testing.T, request string) dosejson.ForecastAnswer {
	t.Helper()
	a, err := dosejson.ForecastTo([]byte(request))
	require.NoError(t, err)
	return a
}

func TestForecastExample(t *testing.T) {
	a := foretold(t, forecastExample)
	// The first of every month from the first record to the end.
	require.Len(t, a.PH, 8*12+1)
	assert.Equal(t, "2023-11-01", a.PH[0].Date)
	assert.Equal(t, "2031-11-01", a.PH[len(a.PH)-1].Date)
	require.Len(t, a.Idle.PH, len(a.PH))
	for i, p := range a.PH {
		assert.True(t, p.P05 <= p.P25 && p.P25 <= p.Median && p.Median <= p.P75 && p.P75 <= p.P95, p.Date)
		if p.Date < "2026-11-28" {
			assert.InDelta(t, p.Median, a.Idle.PH[i].Median, 0.002, "the plan moves nothing before it")
		}
	}
	last, idle := a.PH[len(a.PH)-1], a.Idle.PH[len(a.PH)-1]
	assert.Greater(t, last.Median, idle.Median+0.2)
	b := a.Balance
	assert.InDelta(t, 0, b.Brought+b.Drift-b.Change-b.Unreacted-b.LeftOver, 1e-6)
	require.Len(t, a.Checks, 1)
	assert.Equal(t, "2023-12-02", a.Checks[0].Date)
	assert.Contains(t, a.Checks[0].Says, "short")
	// Rain −18, water 120 × 200 / 1000.
	assert.Equal(t, dosejson.ForecastPull{ID: "rain", Rate: -18}, a.Pulls[0])
	assert.Equal(t, dosejson.ForecastPull{ID: "water", Rate: 24}, a.Pulls[2])
	// A bed that fell where lime should have lifted it is more hard to shift than the table, or drifts: both are reported.
	assert.Greater(t, a.Learned.Buffering.Median, 1.0)
	assert.Equal(t, 1, a.Learned.Tests)
	require.NotEmpty(t, a.K)
	assert.Less(t, a.K[len(a.K)-1].Median, a.K[0].Median)
	again, _ := json.Marshal(foretold(t, strings.Replace(forecastExample, `"seed":1`, `"seed":7`, 1)))
	first, _ := json.Marshal(a)
	assert.JSONEq(t, string(first), string(again), "nothing is drawn by chance")
}

func TestEmptyForecastIsFlat(t *testing.T) {
	a := foretold(t, `{"today":"2026-11-24","until":"2030-11-24","bed":{"area_m2":10,"texture":"loam"},"drift_g_m2_year":0,"drift_sd":0,
		"readings":[{"date":"2026-11-12","ph":6.2}]}`)
	for _, p := range a.PH {
		assert.InDelta(t, 6.2, p.Median, 0.02)
	}
	assert.Empty(t, a.K)
	assert.Nil(t, a.LeavesRange)
	assert.False(t, a.Learned.Buffering.Counts)
}

func TestForecastLeaves(t *testing.T) {
	a := foretold(t, `{"today":"2026-11-24","until":"2036-11-24","bed":{"area_m2":10,"texture":"sand"},"drift_g_m2_year":-20,"drift_sd":1,
		"readings":[{"date":"2026-11-12","ph":6.3}],"crops":[{"crop":"tomato","from":"2027-05-10"}]}`)
	require.NotNil(t, a.LeavesRange)
	for _, p := range a.PH {
		switch {
		case p.Date == *a.LeavesRange:
			assert.Less(t, p.Median, 6.2)
		case p.Date < *a.LeavesRange:
			assert.GreaterOrEqual(t, p.Median, 6.2)
		}
	}
}

func TestInvalidForecastNamesField(t *testing.T) {
	swap := func(a, b string) string { return strings.Replace(forecastExample, a, b, 1) }
	for request, field := range map[string]string{
		swap(`"until":"2031-11-24"`, `"until":"2026-01-01"`):                               "until",
		swap(`"until":"2031-11-24"`, `"until":"2126-01-01"`):                               "until",
		swap(`"today":"2026-11-24"`, `"today":"2026-02-30"`):                               "today",
		swap(`"ph":6.3`, `"ph":11`):                                                        "readings[0].ph",
		swap(`"cores":12`, `"cores":0`):                                                    "readings[0].cores",
		swap(`"k_ppm":82`, `"k_ppm":-1`):                                                   "readings[1].k_ppm",
		swap(`"date":"2026-11-12"`, `"date":"2026-12-12"`):                                 "readings[1].date",
		swap(`"g_m2":250`, `"g_m2":-1`):                                                    "history[0].g_m2",
		swap(`"date":"2023-12-02"`, `"date":"2027-12-02"`):                                 "history[0].date",
		swap(`"date":"2026-11-28"`, `"date":"2026-11-20"`):                                 "plan[0].date",
		swap(`"material":"calcitic-lime"`, `"material":"moon-dust"`):                       "history[0].material",
		swap(`"kind":"ammonium-sulfate"`, `"kind":"gypsum"`):                               "nitrogen[0].kind",
		swap(`"crop":"sweet-pea"`, `"crop":"triffid"`):                                     "crops[0].crop",
		swap(`"to":"2024-10-15"`, `"to":"2024-01-15"`):                                     "crops[0].to",
		swap(`"alkalinity_mg_l":200`, `"alkalinity_mg_l":-2`):                              "water.alkalinity_mg_l",
		swap(`"buffering":"table"`, `"buffering":"smp"`):                                   "school.buffering",
		swap(`"seed":1`, `"drift_sd":-1`):                                                  "drift_sd",
		swap(`"texture":"loam"`, `"texture":"cheese"`):                                     "bed.texture",
		swap(`"seed":1`, `"sead":1`):                                                       "sead",
		swap(`"ph":5.7`, `"ph":5.7,"layers":[{"from_cm":5,"to_cm":2,"ph":5}]`):             "readings[1].layers[0]",
		`{"today":"2026-11-24","until":"2027-01-01","bed":{"area_m2":1,"texture":"loam"}}`: "readings",
	} {
		_, err := dosejson.ForecastTo([]byte(request))
		require.Error(t, err, field)
		assert.Equal(t, field, dosejson.Fault(err).Field, "%v", err)
	}
}

func FuzzForecast(f *testing.F) {
	f.Add([]byte(forecastExample))
	f.Fuzz(func(t *testing.T, raw []byte) {
		a, err := dosejson.ForecastTo(raw)
		if err != nil {
			assert.NotEmpty(t, dosejson.Fault(err).Field)
			return
		}
		for _, p := range a.PH {
			require.False(t, math.IsNaN(p.Median) || math.IsInf(p.Median, 0) || p.P05 > p.P95)
		}
	})
}

// What a dose promises of its retest is the forecast's own median: of the same bed, with the dose's applications for its plan; and once all
// has reacted and nothing drifts, the forecast stands where the dose engine has it settle.
func TestPromiseMatchesForecastMedian(t *testing.T) {
	for _, bed := range []string{`{"area_m2":10,"texture":"loam"}`, `{"area_m2":10,"texture":"sand"}`,
		`{"area_m2":10,"texture":"clay","depth_cm":20}`, `{"area_m2":10,"texture":"loam","worked":"surface"}`} {
		a, err := dosejson.AnswerTo([]byte(`{"date":"2026-10-01","place":{"climate":"maritime"},"bed":` + bed +
			`,"reading":{"date":"2026-09-20","ph":5.5,"cores":12},"target_ph":6.4,"materials":[{"kind":"calcitic-lime","cce_pct":100}]}`))
		require.NoError(t, err)
		require.NotEmpty(t, a.Options, bed)
		o := a.Options[0]
		ask := func(until, drift string) dosejson.ForecastAnswer {
			plan := []string{}
			for _, g := range o.Applications {
				plan = append(plan, fmt.Sprintf(`{"date":%q,"material":"calcitic-lime","g_m2":%f,"cce_pct":100}`, g.Date, g.GM2))
			}
			f, err := dosejson.ForecastTo([]byte(`{"today":"2026-10-01","until":"` + until + `","place":{"climate":"maritime"},"bed":` + bed +
				`,"readings":[{"date":"2026-09-20","ph":5.5,"cores":12}]` + drift + `,"plan":[` + strings.Join(plan, ",") + `]}`))
			require.NoError(t, err)
			return f
		}
		retest, err := quantity.ParseDay(o.Retest)
		require.NoError(t, err)
		f := ask(retest.AddMonths(2).String(), "")
		var all []forecast.Spread
		for _, p := range f.PH {
			d, err := quantity.ParseDay(p.Date)
			require.NoError(t, err)
			all = append(all, forecast.Spread{Date: d, Median: p.Median})
		}
		assert.InDelta(t, forecast.On(all, retest).Median, o.AtRetest.Median, 0.03, bed)
		flat := ask("2046-10-01", `,"drift_g_m2_year":0,"drift_sd":0`)
		settled := 0.0
		for _, g := range o.Applications {
			settled = max(settled, g.PHAfter)
		}
		// After twenty years the middle of what is doubted lies a little off where a kinked curve settles.
		assert.InDelta(t, settled, flat.PH[len(flat.PH)-1].Median, 0.06, bed)
	}
}
