package dosejson_test

import (
	"encoding/json"
	"errors"
	"maps"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange/dosejson"
)

// shown is a bed that lime moved by half of what the table says, thrice.
const shown = `{"date":"2026-10-01","place":{"climate":"maritime"},"bed":{"area_m2":10,"texture":"loam"},"crop":"tomato",
	"target_ph":6.5,"reading":{"date":"2026-09-20","ph":5.85,"cores":12},
	"readings":[{"date":"2023-09-20","ph":5.2,"cores":12},{"date":"2024-09-20","ph":5.45,"cores":12},
	{"date":"2025-09-20","ph":5.65,"cores":12}],
	"history":[{"date":"2023-10-01","material":"calcitic-lime","g_m2":220,"batch":"bag"},{"date":"2024-10-01","material":"calcitic-lime",
	"g_m2":220,"batch":"bag"},{"date":"2025-10-01","material":"calcitic-lime","g_m2":220,"batch":"bag"}],
	"school":{"buffering":"learned"}}`

func need(t *testing.T, request string) dosejson.Answer {
	t.Helper()
	a, err := dosejson.AnswerTo([]byte(request))
	require.NoError(t, err)
	return a
}

// The same record asked by the table and by what it shown: a hard to shift bed wants more, and the working says so.
func TestDoseLearnsFromRequest(t *testing.T) {
	byTable := need(t, strings.Replace(shown, `"learned"`, `"table"`, 1))
	learned := need(t, shown)
	assert.Greater(t, learned.Need.CaCO3, 1.2*byTable.Need.CaCO3)
	ids := []string{}
	for _, s := range learned.Need.Working {
		ids = append(ids, s.ID)
	}
	assert.Contains(t, ids, "learned")
	assert.Contains(t, ids, "level")
}

// A page hands the command line what its bed has shown, and gets the same answer.
func TestLearnedRoundTrip(t *testing.T) {
	r, err := dosejson.Decode([]byte(shown))
	require.NoError(t, err)
	q, err := r.Dose()
	require.NoError(t, err)
	require.NotNil(t, q.Ground.Learned)
	again := dosejson.FromDose(q, "maritime", "north")
	require.NotNil(t, again.Method.Learned)
	again.Readings = nil // they are not needed any more
	b, err := json.Marshal(again)
	require.NoError(t, err)
	alone := need(t, string(b))
	assert.InDelta(t, need(t, shown).Need.CaCO3, alone.Need.CaCO3, 0.2)
}

// Where tests do not teach enough yet the method beside answers, with a caution.
func TestUnlearnedUsesBaseMethod(t *testing.T) {
	nothing := strings.ReplaceAll(shown, `"g_m2":220`, `"g_m2":0`)
	a := need(t, nothing)
	assert.InDelta(t, need(t, strings.Replace(nothing, `"learned"`, `"table"`, 1)).Need.CaCO3, a.Need.CaCO3, 1e-9)
	require.NotEmpty(t, a.Guards)
	assert.Equal(t, []string{"not-learned-yet", "caution"}, []string{a.Guards[0].ID, a.Guards[0].Level})
}

// A test far from what was expected of it stops the dose until it is confirmed, and tells the day.
func TestSurprisingTestStopsDose(t *testing.T) {
	var r map[string]any
	require.NoError(t, json.Unmarshal([]byte(shown), &r))
	first := r["reading"].(map[string]any)
	before := maps.Clone(first)
	first["ph"] = 7.9
	before["date"], before["ph"] = "2026-08-01", 5.6
	r["readings"] = append(r["readings"].([]any), before)
	b, err := json.Marshal(r)
	require.NoError(t, err)
	a := need(t, string(b))
	assert.Equal(t, "refused", a.Direction)
	assert.Equal(t, "surprising-test", a.Guards[0].ID)
	assert.Equal(t, "stop", a.Guards[0].Level)
	day, err := quantity.ParseDay(first["date"].(string))
	require.NoError(t, err)
	assert.Equal(t, (day + 21).String(), a.Guards[0].Test)
	assert.Empty(t, a.Options)
}

func TestInvalidLearnedNamesField(t *testing.T) {
	with := func(l string) string {
		return strings.Replace(shown, `"buffering":"learned"`, `"buffering":"learned","learned":`+l, 1)
	}
	for name, request := range map[string]string{
		"school.learned.joint[0]": with(`{"factor":1,"log_sd":0.1,"tests":2,"level":6,"level_sd":0.1,"joint":[{"weight":2}]}`),
		"school.learned.factor":   with(`{"factor":0,"log_sd":0.1,"tests":2}`),
		"school.learned.log_sd":   with(`{"factor":1,"tests":2}`),
		"school.learned.tests":    with(`{"factor":1,"log_sd":0.1}`),
		"school.learned.level":    with(`{"factor":1,"log_sd":0.1,"tests":2,"level":2,"level_sd":0.1}`),
		"school.learned.level_sd": with(`{"factor":1,"log_sd":0.1,"tests":2,"level":6}`),
		"school.learned.beside":   with(`{"beside":"learned"}`),
		"school.learned": strings.Replace(shown, `"buffering":"learned"`,
			`"buffering":"table","learned":{"factor":1,"log_sd":0.1,"tests":2}`, 1),
		"readings": strings.Replace(shown, "2023-09-20", "1903-09-20", 1),
	} {
		_, err := dosejson.AnswerTo([]byte(request))
		var bad *dose.InputError
		require.True(t, errors.As(err, &bad), "%s: %v", name, err)
		assert.Equal(t, name, bad.Field)
	}
}

// A ration by what beds have shown asks what each bed’s own record says it wants.
func TestRationUsesLearned(t *testing.T) {
	ration := func(buffering string) string {
		bed := strings.NewReplacer(`{"date":"2026-10-01","place":{"climate":"maritime"},`, `{"id":"a",`,
			`,
	"school":{"buffering":"learned"}}`, `}`).Replace(shown)
		return `{"date":"2026-10-01","place":{"climate":"maritime","hemisphere":"north"},"school":{"buffering":"` + buffering + `"},
	"stock":[{"id":"lime","kind":"calcitic-lime","cce_pct":100,"price_kg":0.5}],"beds":[` + bed + `]}`
	}
	given := func(buffering string) float64 {
		a, err := dosejson.RationTo([]byte(ration(buffering)), 0)
		require.NoError(t, err)
		require.NotEmpty(t, a.Beds)
		require.NotEmpty(t, a.Beds[0].Given)
		return a.Beds[0].Given[0].GM2
	}
	assert.Greater(t, given("learned"), 1.2*given("table"))
}
