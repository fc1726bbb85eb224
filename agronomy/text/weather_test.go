package text_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// A day's figures read on the side of the rule's threshold on which the rule puts the day.
func TestSkySaysKeepsThresholds(t *testing.T) {
	says := func(wind quantity.Speed, rain quantity.Rainfall, low quantity.Temperature) string {
		return text.SkySays(calendar.Sky{Wind: &wind, Rain: &rain, Low: &low})
	}
	for _, x := range []struct {
		wind quantity.Speed
		rain quantity.Rainfall
		low  quantity.Temperature
		says string
	}{
		{3.4, 7.6, -2.2, "wind 3 m/s, down to −2 °C, rain 8 mm"},
		{3.6, 8.0, -2.7, "wind 3.6 m/s, down to −2.7 °C, rain 8 mm"},
		{3.97, 8.3, -2.96, "wind 3.9 m/s, down to −2.9 °C, rain 8.3 mm"},
		{4.0, 8.04, -3.0, "wind 4 m/s, down to −3 °C, rain 8.1 mm"},
		{4.4, 9.2, -3.4, "wind 4 m/s, down to −3 °C, rain 9 mm"},
	} {
		assert.Equal(t, x.says, says(x.wind, x.rain, x.low))
	}
}
