package dosejson_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/exchange/dosejson"
)

// A no-dig bed that was read in layers has a line for each: lime lifts the top, and hardly what is below.
func TestForecastLayers(t *testing.T) {
	const request = `{"today":"2026-11-24","until":"2027-11-24","place":{"climate":"maritime"},
	"bed":{"area_m2":10,"texture":"loam","worked":"surface","depth_cm":10},
	"readings":[{"date":"2024-10-28","ph":5.6,"layers":[{"from_cm":0,"to_cm":5,"ph":5.6},{"from_cm":5,"to_cm":10,"ph":5.6}]},
	{"date":"2026-10-28","ph":6.0,"layers":[{"from_cm":0,"to_cm":5,"ph":6.3},{"from_cm":5,"to_cm":10,"ph":5.6}]}],
	"history":[{"date":"2024-11-02","material":"calcitic-lime","g_m2":150}]}`
	a, err := dosejson.ForecastTo([]byte(request))
	require.NoError(t, err)
	require.Len(t, a.Layers, 2)
	assert.InDelta(t, 5, a.Layers[1].FromCM, 1e-9)
	last := func(n int) float64 { return a.Layers[n].PH[len(a.Layers[n].PH)-1].Median }
	assert.Greater(t, last(0), 6.1)
	assert.Less(t, last(1), 5.8)
	// Other layers are no series: the whole alone.
	other, err := dosejson.ForecastTo([]byte(strings.Replace(request, `"from_cm":0,"to_cm":5,"ph":6.3`, `"from_cm":0,"to_cm":4,"ph":6.3`, 1)))
	require.NoError(t, err)
	assert.Empty(t, other.Layers)
}
