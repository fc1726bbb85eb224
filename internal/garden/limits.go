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

// Limit is how small and how large a figure may be, in its inside unit. Where
// Above is set the low end itself is not meant.
type Limit struct {
	Low, High float64
	Above     bool
	Unit      string
}

// Holds reports whether a figure lies within; what is no number does not.
func (l Limit) Holds(x float64) bool { return x >= l.Low && x <= l.High && !(l.Above && x == l.Low) }

// Says returns the sentence of one that does not.
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

// hold puts the limit's sentence at a field whose figure breaks it.
func (l Limit) hold(f Faults, field string, x float64) {
	if !l.Holds(x) && f[field] == "" {
		f[field] = l.Says()
	}
}

// holdOpt is hold for a figure that may be left out.
func holdOpt[T ~float64](l Limit, f Faults, field string, x *T) {
	if x != nil {
		l.hold(f, field, float64(*x))
	}
}

// The limits of every figure that comes in, whether typed, in an address, in a
// file or in an archive. What the calculation itself bounds is taken from there.
var (
	LimitCopies  = Limit{1, 100, false, ""}   // beds like another, laid out at once
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

// How much there may be at the most.
const (
	MostPoints     = 200   // of a mark or of an outline
	MostBedCores   = 2000  // of a round, on one bed
	MostRoundCores = 50000 // of a round
	mostLayers     = 24
	mostChips      = 40
	mostBeds       = 5000
)

// Letters at the most, by what they are of.
const (
	LongestName  = 60
	longestWhat  = 200 // a crop's or a batch's code, an id
	LongestNote  = 1000
	longestEntry = 4000 // what a line of the journal says
)

// The years that a record may be of.
const (
	earliest = 1950
	latest   = 2200
)

// DayFault returns what is wrong with a day that was noted, "" when nothing is.
func DayFault(d quantity.Day) string {
	switch y := d.Year(); {
	case y < earliest:
		return "that is too long ago"
	case y > latest:
		return fmt.Sprintf("that is after the year %d", latest)
	}
	return ""
}

// TextFault returns what is wrong with a text of at most so many letters, "" when nothing is. Notes
// may have lines.
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

// nameFault returns what is wrong with a name that must be there.
func nameFault(s, missing string) string {
	if strings.TrimSpace(s) == "" {
		return missing
	}
	return TextFault(s, LongestName, false)
}

// finite reports whether a figure is one.
func finite(x float64) bool { return !math.IsNaN(x) && !math.IsInf(x, 0) }
