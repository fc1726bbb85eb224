package soil

import (
	"fmt"
	"time"

	"zephyrfield/agronomy/quantity"
)

// MonthDay is a day of any year; the zero value is none.
type MonthDay struct {
	Month time.Month
	Day   int
}

// ParseMonthDay reads MM-DD; "" is none. 29 February is not a day of every
// year.
func ParseMonthDay(s string) (MonthDay, error) {
	if s == "" {
		return MonthDay{}, nil
	}
	t, err := time.Parse(time.DateOnly, "2001-"+s) // not a leap year
	if err != nil {
		return MonthDay{}, fmt.Errorf("%q is not a month and a day, like 04-20", s)
	}
	return MonthDay{t.Month(), t.Day()}, nil
}

// String returns MM-DD, or "" for none.
func (m MonthDay) String() string {
	if m.Month == 0 {
		return ""
	}
	return fmt.Sprintf("%02d-%02d", int(m.Month), m.Day)
}

// In returns the day in a year; no day for none.
func (m MonthDay) In(year int) quantity.Day {
	if m.Month == 0 {
		return 0
	}
	return quantity.Date(year, m.Month, m.Day)
}

// Weather is what a place usually gets: rain by month in mm, January on, and
// the days of the last frost of spring and the first of autumn.
type Weather struct {
	Rain                  [12]float64
	LastFrost, FirstFrost MonthDay
}

// weathers are typical of the climates, for the northern half; like the soil
// temperatures they are there to be replaced by the place's own.
var weathers = map[string]Weather{
	"maritime":       {[12]float64{95, 70, 65, 55, 55, 55, 55, 65, 75, 95, 100, 100}, MonthDay{4, 25}, MonthDay{11, 1}},
	"continental":    {[12]float64{35, 30, 35, 40, 60, 70, 70, 65, 50, 40, 45, 40}, MonthDay{5, 5}, MonthDay{10, 10}},
	"prairie":        {[12]float64{18, 14, 20, 28, 50, 75, 65, 50, 40, 25, 18, 18}, MonthDay{5, 22}, MonthDay{9, 15}},
	"warm-temperate": {[12]float64{90, 85, 100, 80, 85, 95, 110, 105, 95, 80, 75, 85}, MonthDay{3, 25}, MonthDay{11, 12}},
	"subtropical":    {[12]float64{65, 75, 80, 65, 90, 160, 170, 180, 160, 90, 65, 60}, MonthDay{}, MonthDay{}},
}

// FindWeather returns a climate's weather for a hemisphere: the south is six months later.
func FindWeather(id, hemisphere string) Weather {
	w := weathers[id]
	if hemisphere != South {
		return w
	}
	rain := w.Rain
	for m := range rain {
		w.Rain[m] = rain[(m+6)%12]
	}
	for _, d := range []*MonthDay{&w.LastFrost, &w.FirstFrost} {
		if d.Month != 0 {
			// The 28th is in every month.
			d.Month, d.Day = (d.Month+5)%12+1, min(d.Day, 28)
		}
	}
	return w
}

// hardnessShare is how much of a water's hardness counts as alkalinity where
// only the hardness is known: most of it is carbonate.
const hardnessShare = 0.8

// Alkalinity is mg/L CaCO₃ of a water: as measured, else from its hardness,
// else from its pH alone (40 at 7, 120 at 7.5, 220 at 8, straight between and
// no further); ok is false when nothing is known.
func Alkalinity(measured, hardness *float64, ph *quantity.PH) (mg float64, ok bool) {
	switch {
	case measured != nil:
		return *measured, true
	case hardness != nil:
		return hardnessShare * *hardness, true
	case ph == nil:
		return 0, false
	}
	at := []struct{ ph, mg float64 }{{7, 40}, {7.5, 120}, {8, 220}}
	p := float64(*ph)
	if p <= at[0].ph {
		return at[0].mg, true
	}
	for i := 1; i < len(at); i++ {
		if a, b := at[i-1], at[i]; p <= b.ph {
			return a.mg + (b.mg-a.mg)*(p-a.ph)/(b.ph-a.ph), true
		}
	}
	return at[len(at)-1].mg, true
}
