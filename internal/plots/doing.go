package plots

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// heldOn are the goes that were held back by a day.
func HeldOn(held []garden.Held, on quantity.Day) map[int64]quantity.Day {
	out := make(map[int64]quantity.Day, len(held))
	for _, h := range held {
		if h.Struck <= on {
			out[h.Task] = h.Struck
		}
	}
	return out
}
