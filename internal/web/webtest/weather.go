package webtest

import (
	"context"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/web/site"
)

// Weather is a source of weather with the wind of each day from today, m/s.
type Weather struct {
	Wind []quantity.Speed
	// Err is returned along with the days.
	Err error
	// Late is how many days after today it starts.
	Late quantity.Day
}

// Name implements instrument.Weather.
func (Weather) Name() string { return "Weather of a test" }

// Simulated implements instrument.Weather.
func (Weather) Simulated() bool { return false }

// Days implements instrument.Weather.
func (w Weather) Days(_ context.Context, _ instrument.Spot, from, to, today quantity.Day) (out calendar.Skies, err error) {
	for n := range w.Wind {
		if d := today + w.Late + quantity.Day(n); d >= from && d <= to {
			out = append(out, calendar.Sky{Day: d, Wind: &w.Wind[n]})
		}
	}
	return out, w.Err
}

// Under configures a source of weather.
func Under(w instrument.Weather) func(*site.Config) { return func(c *site.Config) { c.Weather = w } }

// Gale is windy today and tomorrow.
var Gale = Weather{Wind: []quantity.Speed{9, 7, 2, 2, 2, 5, 2, 2, 2, 2}}
