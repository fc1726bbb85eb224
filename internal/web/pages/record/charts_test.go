package record_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

// The charts of pH and potassium stand under each other on one axis of time: a year is at the same place in both, on the
// record and on the plan's summary.
func TestChartsShareOneAxisOfTime(t *testing.T) {
	s := webtest.New(t, true)
	year := regexp.MustCompile(`x="([\d.]+)"[^>]*>(20\d\d)<`)
	for _, path := range []string{"/beds/8", "/?bed=8", "/?bed=7"} {
		var charts []map[string]string
		for _, chart := range regexp.MustCompile(`(?s)<figure class="chart.*?</svg>`).FindAllString(s.Get(path).Body.String(), -1) {
			at := map[string]string{}
			for _, m := range year.FindAllStringSubmatch(chart, -1) {
				at[m[2]] = m[1]
			}
			charts = append(charts, at)
		}
		require.Len(t, charts, 2, path)
		assert.NotEmpty(t, charts[0], path)
		assert.Equal(t, charts[0], charts[1], path)
	}
}
