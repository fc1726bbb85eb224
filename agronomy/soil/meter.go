package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// BufferPoint is a buffer bottle's pH and what the meter showed in it.
type BufferPoint struct{ Bottle, Shown quantity.PH }

// Calibration is a meter's readings in two or three buffers on a day.
type Calibration struct {
	On     quantity.Day
	Points []BufferPoint
}

// A calibration is good when the slope is near the ideal over bottles far enough apart, and no
// older than a week. Slopes are in per cent.
const (
	LowSlope, HighSlope             = 90, 105
	bottlesApart        quantity.PH = 2
	CalibrationDays                 = quantity.Day(7)
	agreed, settled     quantity.PH = 0.1, 0.05
	agreeing                        = 3
)

func (c Calibration) sorted() []BufferPoint {
	ps := slices.Clone(c.Points)
	slices.SortFunc(ps, func(a, b BufferPoint) int {
		if a.Bottle < b.Bottle {
			return -1
		}
		return 1
	})
	return ps
}

// Slope returns the meter's slope between the outermost bottles, per cent of the ideal; 0 with
// fewer than two bottles.
func (c Calibration) Slope() quantity.Percent {
	ps := c.sorted()
	if len(ps) < 2 {
		return 0
	}
	first, last := ps[0], ps[len(ps)-1]
	return quantity.Percent(100 * float64(last.Shown-first.Shown) / float64(last.Bottle-first.Bottle))
}

// Good reports whether the calibration holds: bottles far enough apart, and a slope from 90 to 105
// %.
func (c Calibration) Good() bool {
	ps := c.sorted()
	return len(ps) >= 2 && ps[len(ps)-1].Bottle-ps[0].Bottle >= bottlesApart-1e-9 && c.Slope() >= LowSlope-1e-9 && c.Slope() <= HighSlope+1e-9
}

// Method returns the method of a reading of a day by this meter: calibrated, or stale when the
// calibration is over a week old or not good.
func (c Calibration) Method(day quantity.Day) Method {
	if c.On != 0 && c.On <= day && day-c.On <= CalibrationDays && c.Good() {
		return Meter
	}
	return MeterStale
}

// Correct returns the pH behind a shown value, linear between the bottles and beyond them; the
// shown value itself with fewer than two bottles.
func (c Calibration) Correct(shown quantity.PH) quantity.PH {
	ps := c.sorted()
	if len(ps) < 2 {
		return shown
	}
	i := 1
	for i < len(ps)-1 && shown > ps[i].Shown {
		i++
	}
	a, b := ps[i-1], ps[i]
	if b.Shown == a.Shown {
		return shown
	}
	return a.Bottle + (shown-a.Shown)*(b.Bottle-a.Bottle)/(b.Shown-a.Shown)
}

// AtTemperature corrects a value shown by a meter without temperature compensation: the slope grows
// with absolute temperature.
func AtTemperature(shown quantity.PH, t quantity.Temperature) quantity.PH {
	return 7 + (shown-7)*quantity.PH(298.15/(273.15+float64(t)))
}

// Agreed returns the mean of the last three readings of one slurry once they lie within 0.1; ok is
// false before.
func Agreed(shown []quantity.PH) (ph quantity.PH, ok bool) { return steady(shown, agreed) }

// Settled is Agreed for a meter in a buffer, where the last three must lie within 0.05.
func Settled(shown []quantity.PH) (ph quantity.PH, ok bool) { return steady(shown, settled) }

func steady(shown []quantity.PH, within quantity.PH) (ph quantity.PH, ok bool) {
	if len(shown) < agreeing {
		return 0, false
	}
	last := shown[len(shown)-agreeing:]
	if slices.Max(last)-slices.Min(last) > within+1e-9 {
		return 0, false
	}
	var sum quantity.PH
	for _, p := range last {
		sum += p
	}
	return sum / agreeing, true
}

// KitSD returns the standard deviation of a colour kit: half the step between its chips, at least
// 0.35.
func KitSD(step quantity.PH) float64 {
	t, _ := FindMethod(Kit)
	return math.Max(t.SD, float64(step)/2)
}

// KitStep returns the step between a kit's chips around a colour from low to high. For a colour on
// a chip, low = high, it is the wider of the neighbouring steps; 0.5 when the kit has no such chip.
func KitStep(chips []float64, low, high quantity.PH) quantity.PH {
	if high > low {
		return high - low
	}
	const usual quantity.PH = 0.5
	i := slices.IndexFunc(chips, func(c float64) bool { return math.Abs(c-float64(low)) < 1e-9 })
	if i < 0 || len(chips) < 2 {
		return usual
	}
	var step float64
	if i > 0 {
		step = chips[i] - chips[i-1]
	}
	if i < len(chips)-1 {
		step = max(step, chips[i+1]-chips[i])
	}
	return quantity.PH(step)
}

// OfPlaces combines a probe's readings at several places of a bed: their mean, or with three or
// more the median. far are the indexes of those further than 0.4 from it, to be read again.
func OfPlaces(shown []quantity.PH) (ph quantity.PH, far []quantity.PH) {
	if len(shown) == 0 {
		return 0, nil
	}
	all := make([]float64, len(shown))
	for i, p := range shown {
		all[i] = float64(p)
	}
	ph = quantity.PH(middle(all))
	if len(shown) >= 3 {
		for _, p := range shown {
			if math.Abs(float64(p-ph)) > Outlier {
				far = append(far, p)
			}
		}
	}
	return ph, far
}
