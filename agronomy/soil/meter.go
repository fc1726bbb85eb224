package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// BufferPoint is a bottle of known pH with what the meter showed in it.
type BufferPoint struct{ Bottle, Shown quantity.PH }

// Calibration is a meter held against two or three bottles on a day.
type Calibration struct {
	On     quantity.Day
	Points []BufferPoint
}

// What a meter must do to be believed: a slope near its ideal over bottles that
// lie well apart, not longer ago than a week. Slopes are in %.
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

// Slope is what the meter shows of a step between the outermost bottles, per
// cent; 0 with fewer than two bottles.
func (c Calibration) Slope() quantity.Percent {
	ps := c.sorted()
	if len(ps) < 2 {
		return 0
	}
	first, last := ps[0], ps[len(ps)-1]
	return quantity.Percent(100 * float64(last.Shown-first.Shown) / float64(last.Bottle-first.Bottle))
}

// Good reports whether the meter held: bottles far enough apart, and a slope from
// 90 to 105 %.
func (c Calibration) Good() bool {
	ps := c.sorted()
	return len(ps) >= 2 && ps[len(ps)-1].Bottle-ps[0].Bottle >= bottlesApart-1e-9 && c.Slope() >= LowSlope-1e-9 && c.Slope() <= HighSlope+1e-9
}

// Method is how a reading of a day by this meter counts: freshly calibrated, or
// stale when the calibration is over a week old or did not hold.
func (c Calibration) Method(day quantity.Day) Method {
	if c.On != 0 && c.On <= day && day-c.On <= CalibrationDays && c.Good() {
		return Meter
	}
	return MeterStale
}

// Correct is the pH behind what the meter showed, straight between the bottles
// and on beyond them; what was shown with fewer than two.
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

// AtTemperature takes the temperature out of what a meter showed that does not
// do so itself: its slope grows with the absolute temperature.
func AtTemperature(shown quantity.PH, t quantity.Temperature) quantity.PH {
	return 7 + (shown-7)*quantity.PH(298.15/(273.15+float64(t)))
}

// Agreed is what a row of readings of one slurry comes to: the mean of the last
// three once they lie within 0.1; ok is false while they do not.
func Agreed(shown []quantity.PH) (ph quantity.PH, ok bool) { return steady(shown, agreed) }

// Settled is the same of a meter in a bottle, whose last three lie within 0.05.
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

// KitSD is the uncertainty of a colour kit by the step between its chips: half a step,
// and 0.35 at the least.
func KitSD(step quantity.PH) float64 {
	t, _ := FindMethod(Kit)
	return math.Max(t.SD, float64(step)/2)
}

// KitStep is the step between a kit's chips around a colour that lies from low to high: of one that matches a chip, low = high,
// the wider of the steps beside it. The usual step of 0.5 where the kit has no such chip.
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

// OfPlaces is what a probe's readings at several places of a bed come to: their
// mean, of three and more their median. Far are those that lie further than 0.4
// from it, to be read again.
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
