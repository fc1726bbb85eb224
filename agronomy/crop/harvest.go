package crop

import (
	"strings"
	"time"

	"zephyrfield/agronomy/quantity"
)

// Harvest is when a crop is first cut (field guide, section 6), for what must be kept from it.
type Harvest struct {
	// After is how many days after its sowing or planting that is; 0 where it follows the month alone.
	After quantity.Day
	// Month is the month of the northern half in which what stands for years bears; 0 for none.
	Month time.Month
	// Clear is set where what is eaten hangs clear of the soil.
	Clear bool
}

// Gaps between fresh manure and a harvest: of what touches the soil, and of what hangs clear of it.
const (
	TouchesGap quantity.Day = 120
	ClearGap   quantity.Day = 90
)

// Gap is how long before the harvest the last fresh manure goes on.
func (h Harvest) Gap() quantity.Day {
	if h.Clear {
		return ClearGap
	}
	return TouchesGap
}

// usualCut is how long a food crop takes of which nothing else is known.
const usualCut quantity.Day = 60

// cuts are the days from sowing or planting to the first cut; what is not named takes usualCut.
var cuts = byName(map[quantity.Day]string{
	45:  "lettuce spinach basil",
	55:  "chard parsley",
	60:  "pea bean cucumber squash strawberry",
	65:  "broccoli cauliflower kale",
	75:  "beetroot carrot sweet-corn potato tomato pepper",
	100: "cabbage onion leek parsnip",
})

// bears are the months in which what stands for years is first picked. Those that the published list leaves out stand with their
// nearest kin: peaches with plums, lingonberries with cranberries; strawberries bear in June once they are a year old.
var bears = byName(map[time.Month]string{
	time.April:     "asparagus",
	time.June:      "gooseberry cherry strawberry",
	time.July:      "raspberry currant blueberry",
	time.August:    "plum peach",
	time.September: "apple pear fig grape cranberry lingonberry",
})

// clear are the crops of which what is eaten hangs clear of the soil; of all others it is taken to touch it.
var clear = byName(map[bool]string{
	true: "tomato pepper sweet-corn pea bean raspberry blueberry currant gooseberry grape apple pear cherry plum peach fig",
})

// Harvest reports when a crop is first cut; ok is false where it is not eaten.
func (c Crop) Harvest() (h Harvest, ok bool) {
	if c.Is(NotFood) {
		return h, false
	}
	h = Harvest{After: cuts[c.ID], Month: bears[c.ID], Clear: clear[c.ID]}
	if h.After == 0 && h.Month == 0 {
		h.After = usualCut
	}
	return h, true
}

// byName turns names by value into values by name.
func byName[T comparable](rows map[T]string) map[string]T {
	out := map[string]T{}
	for v, ids := range rows {
		for _, id := range strings.Fields(ids) {
			out[id] = v
		}
	}
	return out
}
