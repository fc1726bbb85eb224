package dosing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
)

// What is missing is what the beds take beyond the stock that no plan has taken already; all of what is not in stock, and
// nothing of what was never weighed.
func TestMissingCountsPlannedStock(t *testing.T) {
	kg := func(x float64) *quantity.Mass { m := quantity.Mass(1000 * x); return &m }
	stock := func(left *quantity.Mass) dosing.Way { return dosing.Way{On: &garden.Stock{Left: left}} }
	for name, x := range map[string]struct {
		way     dosing.Way
		planned quantity.Mass
		want    quantity.Mass
	}{
		"enough": {stock(kg(10)), 7000, 0}, "short by what is planned": {stock(kg(10)), 7001, 1}, "to buy": {dosing.Way{}, 0, 3000},
		"not weighed": {stock(nil), 5000, 0},
	} {
		assert.InDelta(t, float64(x.want), float64(dosing.ManyTotal{Way: x.way, Total: 3000}.Missing(x.planned)), 1e-9, name)
	}
}
