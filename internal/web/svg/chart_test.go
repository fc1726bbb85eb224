package svg_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/svg"
)

// The line is the level by all readings, up to today; its halves of the year and today stand in the table.
func TestChartLineIsLevel(t *testing.T) {
	s := series()
	for d := today - 900; d < today; d += 60 {
		s.Line = append(s.Line, forecast.Spread{Date: d, Median: 6.2})
	}
	s.Line = append(s.Line, forecast.Spread{Date: today, Median: 5.84})
	s.Fact = "a fact"
	c := svg.ChartOf(s, 600, 200)
	assert.Equal(t, len(s.Line)-1, strings.Count(string(c.Past), "L"))
	table := c.Table()
	named := 0
	for i, row := range table.Rows {
		if fact := table.Fact(i, 2); fact != "" {
			named++
			assert.Equal(t, s.Fact, fact)
			assert.Equal(t, []string{text.DayYear(today), "Level now", "pH 5.84"}, row)
		}
	}
	assert.Equal(t, 1, named)
	s.Today += 100 // a day to come: the line ends where it is known
	later := svg.ChartOf(s, 600, 200)
	assert.Equal(t, strings.Count(string(c.Past), "L"), strings.Count(string(later.Past), "L"))
}
