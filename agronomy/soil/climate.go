package soil

import (
	"time"

	"zephyrfield/agronomy/quantity"
)

// Warmth returns soil temperatures at 10 cm, usual or measured.
type Warmth interface {
	At(quantity.Day) quantity.Temperature
}

// Climate is twelve monthly soil temperatures at 10 cm, January first, each for mid-month.
type Climate struct {
	ID     string
	Normal [12]quantity.Temperature
	// Measured are the measured temperatures that With added, in order of day.
	Measured []Warm10
	off      *offsets
}

// Climates are the presets, for the northern hemisphere.
var Climates = []Climate{
	{ID: "maritime", Normal: [12]quantity.Temperature{5, 5, 7, 9, 12, 15, 17, 17, 15, 12, 8, 6}},
	{ID: "continental", Normal: [12]quantity.Temperature{-1, 0, 3, 8, 14, 19, 22, 21, 17, 11, 5, 1}},
	{ID: "prairie", Normal: [12]quantity.Temperature{-4, -3, 1, 7, 13, 18, 21, 20, 14, 8, 2, -2}},
	{ID: "warm-temperate", Normal: [12]quantity.Temperature{8, 9, 12, 16, 20, 24, 26, 26, 23, 18, 13, 9}},
	{ID: "subtropical", Normal: [12]quantity.Temperature{15, 16, 18, 21, 24, 26, 27, 27, 26, 23, 19, 16}},
}

// Hemispheres.
const (
	North = "north"
	South = "south"
)

// FindClimate returns a preset for a hemisphere; the southern year is shifted by six months.
func FindClimate(id, hemisphere string) (Climate, bool) {
	for _, c := range Climates {
		if c.ID != id {
			continue
		}
		if hemisphere == South {
			n := c.Normal
			for m := range n {
				c.Normal[m] = n[(m+6)%12]
			}
		}
		return c, true
	}
	return Climate{}, false
}

// WarmSoil is the temperature at and above which a week counts as warm.
const WarmSoil quantity.Temperature = 12

// between places a day of the year on the line from one mid-month to the next.
type between struct {
	from, to uint8
	share    quantity.Temperature
}

// yearDays holds the place of each day of a leap year.
var yearDays = func() (out [366]between) {
	for i := range out {
		t := time.Date(2000, 1, 1+i, 0, 0, 0, 0, time.UTC)
		m := t.Month()
		days := time.Date(2000, m+1, 0, 0, 0, 0, 0, time.UTC).Day()
		pos := (float64(t.Day()) - 0.5) / float64(days) // 0…1 within the month
		at := int(m) - 1
		if pos < 0.5 {
			out[i] = between{uint8((at + 11) % 12), uint8(at), quantity.Temperature(pos + 0.5)}
		} else {
			out[i] = between{uint8(at), uint8((at + 1) % 12), quantity.Temperature(pos - 0.5)}
		}
	}
	return out
}()

// leapDay is the index of 29 February in yearDays.
const leapDay = 59

// placeInYear returns a day's index in yearDays.
func placeInYear(d quantity.Day) int {
	t := d.Time()
	n := t.YearDay() - 1
	if y := t.Year(); n >= leapDay && (y%4 != 0 || y%100 == 0 && y%400 != 0) {
		n++
	}
	return n
}

// The calendar repeats every four years from 1901 to 2099, so days are looked up: dating a dose
// asks for hundreds of temperatures.
const fourYears = 4*365 + 1

var (
	cycleFrom, cycleTo = quantity.Date(1901, 1, 1), quantity.Date(2099, 12, 31)
	cycle              = func() (out [fourYears]uint16) {
		for i := range out {
			out[i] = uint16(placeInYear(cycleFrom + quantity.Day(i)))
		}
		return out
	}()
)

// At returns the soil temperature of a day: measured, or else usual.
func (c *Climate) At(d quantity.Day) quantity.Temperature {
	if c.off != nil {
		return c.usual(d) + c.off.at(d)
	}
	return c.usual(d)
}

// Usual returns the usual soil temperature of a day, whatever was measured.
func (c *Climate) Usual(d quantity.Day) quantity.Temperature { return c.usual(d) }

// usual interpolates linearly between mid-months, so that each month keeps its own figure.
func (c *Climate) usual(d quantity.Day) quantity.Temperature {
	var b *between
	if d >= cycleFrom && d <= cycleTo {
		b = &yearDays[cycle[(d-cycleFrom)%fourYears]]
	} else {
		b = &yearDays[placeInYear(d)]
	}
	a := c.Normal[b.from]
	return a + (c.Normal[b.to]-a)*b.share
}

// South reports whether the climate is of the southern hemisphere.
func (c *Climate) South() bool {
	n := &c.Normal
	return n[11]+n[0]+n[1] > n[5]+n[6]+n[7]
}

// Months returns the monthly figures.
func (c *Climate) Months() [12]quantity.Temperature { return c.Normal }

// Warm reports whether soil is warm enough for the microbes that oxidise sulfur.
func Warm(t quantity.Temperature) bool { return t >= WarmSoil }

// Frozen reports whether soil is frozen at 10 cm.
func Frozen(t quantity.Temperature) bool { return t <= 0 }
