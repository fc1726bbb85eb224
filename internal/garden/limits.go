package garden

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
)

// Limit bounds a figure, in its internal unit. With Above, Low itself is excluded.
type Limit struct {
	Low, High float64
	Above     bool
	Unit      string
}

// Holds reports whether a figure is within; NaN is not.
func (l Limit) Holds(x float64) bool { return x >= l.Low && x <= l.High && !(l.Above && x == l.Low) }

// Says returns the message for a figure that is not.
func (l Limit) Says() string {
	unit := ""
	if l.Unit != "" {
		unit = " " + l.Unit
	}
	plain := func(x float64) string {
		return strings.Replace(strconv.FormatFloat(x, 'f', -1, 64), "-", "−", 1)
	}
	if l.Above {
		return "a figure above " + plain(l.Low) + " and to " + plain(l.High) + unit + " is needed"
	}
	return "a figure from " + plain(l.Low) + " to " + plain(l.High) + unit + " is needed"
}

// hold adds the limit's message at a field whose figure breaks it.
func (l Limit) hold(f Faults, field string, x float64) {
	if !l.Holds(x) && f[field] == "" {
		f[field] = l.Says()
	}
}

// holdOpt is hold for an optional figure.
func holdOpt[T ~float64](l Limit, f Faults, field string, x *T) {
	if x != nil {
		l.hold(f, field, float64(*x))
	}
}

// The limits of every figure that comes in: typed, in a URL, a file or an archive. Where the
// computation has bounds, they are taken from there.
var (
	LimitCopies  = Limit{1, 100, false, ""}   // copies of a bed, laid out at once
	LimitPath    = Limit{0, 20, false, "m"}   // between them
	LimitPlace   = Limit{0, 5000, false, "m"} // from the plan's corner: a garden is at most 5 km across
	LimitSize    = Limit{0, 5000, true, "m"}
	LimitTurn    = Limit{-360, 360, false, "degrees"}
	LimitRings   = Limit{1, 500, false, "rings"}
	LimitWidth   = Limit{0, 20, true, "m"}
	LimitDepth   = Limit{float64(dose.MinDepth), float64(dose.MaxDepth), false, "m"}
	LimitPercent = Limit{0, 100, false, "%"}
	LimitStones  = Limit{0, float64(dose.MaxStones), false, "%"}
	LimitCEC     = Limit{0, dose.MaxCEC, true, ""}
	LimitJar     = Limit{0, 1000, false, "mm"}
	LimitPH      = Limit{float64(dose.MinPH), float64(dose.MaxPH), false, "pH"}
	LimitPPM     = Limit{0, dose.MaxPPM, false, "ppm"}
	LimitJarLime = Limit{0, 500, false, "g a kg"}
	LimitShown   = Limit{0, 14, false, "pH"} // what an instrument may show
	LimitDoubt   = Limit{0, 3, false, "pH"}

	LimitSoilTemp = Limit{-40, 50, false, "°C"}
	LimitRain     = Limit{0, 3000, false, "mm"}
	LimitWaterPH  = Limit{3, 11, false, "pH"}
	LimitWater    = Limit{0, dose.MaxAlkalinity, false, "mg/L"}
	LimitChips    = Limit{3, 10, false, "pH"}
	LimitRemoval  = Limit{0, crop.MaxRemoval, false, "g/m²"}

	LimitLitres   = Limit{0, 5000, false, "litres"}
	LimitAmount   = Limit{0, 1e8, true, "g"}
	LimitRate     = Limit{0, dose.MaxRate, false, "g/m²"}
	LimitOnHand   = Limit{0, 1e9, false, "g"}
	LimitScoop    = Limit{0, 1e6, true, "g"}
	LimitScoops   = Limit{0, 1e6, true, "scoops"}
	LimitPrice    = Limit{0, 1e6, false, ""}
	LimitStrength = Limit{0, dose.MaxStrength, true, "%"}
	LimitVinegar  = Limit{0, 500, true, "mL"}
	LimitLogs     = Limit{0, 500, true, "m³"}
	LimitPotash   = Limit{0, dose.MaxPotash, false, "%"}

	LimitCorer  = Limit{0.005, 0.2, false, "m"}
	LimitWanted = Limit{20, 5000, false, "g"}
	LimitWalk   = Limit{0, 1e7, false, "m"}
)

// Largest counts.
const (
	MostPoints     = 200   // points of a mark or an outline
	MostBedCores   = 2000  // cores of one bed in a round
	MostRoundCores = 50000 // of a round
	mostLayers     = 24
	mostChips      = 40
	mostBeds       = 5000
)

// Longest texts in letters.
const (
	LongestName  = 60
	longestWhat  = 200 // codes and ids
	LongestNote  = 1000
	longestEntry = 4000 // a journal entry's message
)

// The range of years of records.
const (
	earliest = 1950
	latest   = 2200
)

// DayFault returns the message for an invalid recorded day, or "".
func DayFault(d quantity.Day) string {
	switch y := d.Year(); {
	case y < earliest:
		return "that is too long ago"
	case y > latest:
		return fmt.Sprintf("that is after the year %d", latest)
	}
	return ""
}

// TextFault returns the message for an invalid text of at most so many letters, or "". Notes may
// have several lines.
func TextFault(s string, most int, lines bool) string {
	n := 0
	for _, r := range s {
		switch {
		case r == '\n' && lines || r == '\r' && lines || r == '\t' && lines:
		case unicode.IsControl(r), r == '\u2028', r == '\u2029', r == unicode.ReplacementChar, unicode.Is(unicode.Bidi_Control, r):
			return "a sign in it cannot be shown; type it anew"
		}
		if n++; n > most {
			return fmt.Sprintf("at most %d letters", most)
		}
	}
	return ""
}

// nameFault returns the message for an invalid required name.
func nameFault(s, missing string) string {
	if strings.TrimSpace(s) == "" {
		return missing
	}
	return TextFault(s, LongestName, false)
}

// finite reports whether a figure is neither NaN nor infinite.
func finite(x float64) bool { return !math.IsNaN(x) && !math.IsInf(x, 0) }
