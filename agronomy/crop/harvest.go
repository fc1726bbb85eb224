package crop

import (
	"strings"
	"time"

	"zephyrfield/agronomy/quantity"
)

// Harvest is the time of a crop's first harvest (guide, section 6), for the intervals to it.
type Harvest struct {
	// After is the days from sowing or planting; 0 when it follows the month alone.
	After quantity.Day
	// Month is the month in the northern hemisphere in which a perennial bears; 0 for none.
	Month time.Month
	// Clear is set when the edible part hangs clear of the soil.
	Clear bool
}

// Intervals from fresh manure to a harvest: touching the soil, and clear of it.
const (
	TouchesGap quantity.Day = 120
	ClearGap   quantity.Day = 90
)

// Gap returns the least interval from fresh manure to the harvest.
func (h Harvest) Gap() quantity.Day {
	if h.Clear {
		return ClearGap
	}
	return TouchesGap
}

// usualCut is the default for food crops.
const usualCut quantity.Day = 60

// cuts are the days from sowing or planting to the first harvest; crops not listed take usualCut.
// Crops that the published list omits follow their nearest kin, and never later than they are cut.
var cuts = byName(map[quantity.Day]string{
	25:  "radish",
	45:  "lettuce spinach basil rocket lambs-lettuce endive pak-choi mustard-greens",
	55:  "chard parsley turnip kohlrabi",
	60:  "pea bean cucumber squash strawberry courgette broad-bean",
	65:  "broccoli cauliflower kale fennel",
	75:  "beetroot carrot sweet-corn potato tomato pepper aubergine okra sunflower",
	100: "cabbage onion leek parsnip sprouts swede celery celeriac peanut",
})

// bears are the first harvest months of perennials. Crops that the published list omits follow
// their nearest kin: peaches plums, lingonberries cranberries; strawberries bear in June once they
// are a year old.
var bears = byName(map[time.Month]string{
	time.April:     "asparagus rhubarb mint thyme rosemary sage comfrey",
	time.June:      "gooseberry cherry strawberry artichoke",
	time.July:      "raspberry currant blueberry blackberry",
	time.August:    "plum peach elder",
	time.September: "apple pear fig grape cranberry lingonberry quince hazel walnut hop",
})

// clear are the crops whose edible part hangs clear of the soil; all others are taken to touch it,
// nuts that are gathered from it among them.
var clear = byName(map[bool]string{
	true: "tomato pepper sweet-corn pea bean raspberry blueberry currant gooseberry grape apple pear cherry plum peach fig " +
		"aubergine okra broad-bean sunflower artichoke blackberry quince elder hop",
})

// Harvest returns the time of a crop's first harvest; ok is false for a crop that is not eaten.
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

// byName inverts a map of names by value.
func byName[T comparable](rows map[T]string) map[string]T {
	out := map[string]T{}
	for v, ids := range rows {
		for _, id := range strings.Fields(ids) {
			out[id] = v
		}
	}
	return out
}
