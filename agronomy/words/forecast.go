package words

import (
	"math"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
)

// Kept says whether a promise was kept: as far as two readings can tell.
func Kept(k forecast.Kept) string {
	off := float64(k.Measured - k.Promised)
	read := "read " + PH(k.Measured) + " where " + PH(k.Promised) + " was promised"
	switch {
	case math.Abs(off) <= k.SD:
		return read + ": as promised, as near as readings can tell"
	case off < 0:
		return read + ": " + PH(quantity.PH(-off)) + " short"
	}
	return read + ": " + PH(quantity.PH(off)) + " over"
}
