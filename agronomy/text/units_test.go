package text_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/agronomy/working"
)

var imperial = text.Units{AreaIn: "ft2", DepthIn: "in", WeightIn: "lb", RateIn: "lb-100ft2"}

func TestImperialAmounts(t *testing.T) {
	for got, want := range map[string]string{
		imperial.Mass(2214):                          "4.9 lb",
		imperial.Mass(453.59237):                     "1 lb",
		imperial.Mass(347):                           "12 oz",
		imperial.Mass(20):                            "0.7 oz",
		imperial.Mass(100):                           "3.5 oz",
		imperial.MassExact(283.49523125):             "10 oz",
		imperial.Area(9.290304):                      "100 ft²",
		imperial.Area(1):                             "10.8 ft²",
		imperial.Depth(0.1778):                       "7 in",
		imperial.Depth(0.15):                         "5.9 in",
		imperial.Length(3.048):                       "10 ft",
		imperial.Rate(48.824):                        "1 lb/100 ft²",
		imperial.Rate(257.2):                         "5.27 lb/100 ft²",
		text.Units{RateIn: "lb-1000ft2"}.Rate(244):   "50 lb/1000 ft²",
		text.Units{RateIn: "oz-yd2"}.Rate(33.906):    "1 oz/yd²",
		imperial.Measure("calcitic-lime", 5680, nil): "about 5 quarts, loose",
	} {
		assert.Equal(t, want, got)
	}
}

func TestUnitsAreIndependent(t *testing.T) {
	only := text.Units{DepthIn: "in"}
	assert.Equal(t, "6 in", only.Depth(0.1524))
	assert.Equal(t, []string{"2.2 kg", "9.6 m²", "225 g/m²", "4 m"},
		[]string{only.Mass(2214), only.Area(9.6), only.Rate(225), only.Length(4)})
	assert.True(t, imperial.Known())
	assert.False(t, text.Units{AreaIn: "acre"}.Known())
	for _, all := range [][]text.UnitChoice{text.AreaUnits(), text.DepthUnits(), text.WeightUnits(), text.RateUnits()} {
		assert.Empty(t, all[0].ID, "the usual is metric")
	}
}

func TestUnitsRoundTrip(t *testing.T) {
	for _, u := range []text.Units{{}, imperial} {
		for _, in := range []text.Scale{u.Lengths(), u.Depths(), u.Weights(), u.Rates()} {
			for _, typed := range []float64{0.1, 1, 7, 123.4} {
				assert.InDelta(t, typed, typed*in.Size/in.Size, 1e-9*typed, in.Name)
				assert.Positive(t, in.Size)
			}
		}
	}
}

func TestWorkingStaysMetric(t *testing.T) {
	step := []working.Step{{ID: "year-cap", Source: "caps", Result: working.Num("cap", working.Rate, 500.0),
		From: working.Values{working.ID("kind", "calcitic-lime")}}}
	assert.Equal(t, "500 g/m²", text.Steps(step)[0].Value)
	assert.Equal(t, "500 g/m² (10.2 lb/100 ft²)", imperial.Steps(step)[0].Value)
	assert.Equal(t, text.Steps(step)[0].How, imperial.Steps(step)[0].How)
}

func ExampleUnits() {
	u := text.Units{WeightIn: "lb", RateIn: "oz-yd2"}
	fmt.Println(u.Mass(quantity.Mass(2546)), u.Rate(265.2), u.Depth(0.15))
	// Output: 5.6 lb 7.82 oz/yd² 15 cm
}
