package text_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/agronomy/working"
)

func TestAmounts(t *testing.T) {
	for got, want := range map[string]string{
		text.Mass(2214): "2.2 kg", text.Mass(5000): "5 kg", text.Mass(347): "350 g", text.Mass(12.4): "12 g",
		text.MassExact(2545.6): "2546 g",
		text.Rate(224.6):       "225 g/m²", text.Rate(7.24): "7.2 g/m²", text.Rate(16200): "16.2 kg/m²", text.Rate(-374.2): "−374 g/m²",
		text.PH(6.449): "6.4", text.PH(7): "7.0", text.PH2(5.7): "5.70", text.PPM(128.4): "128 ppm", text.Percent(3.1): "3.1 %",
		text.Area(9.6): "9.6 m²", text.Area(1234.5): "1235 m²", text.Depth(0.15): "15 cm", text.Rate(-0.01): "0 g/m²",
		text.Day(quantity.Date(2026, 11, 28)): "28 Nov", text.Weekday(quantity.Date(2026, 11, 28)): "Sat 28 Nov",
		text.NearDay(quantity.Date(2027, 1, 5), quantity.Date(2026, 11, 24)): "5 Jan 2027",
		text.Count(1, "application", "applications"):                         "1 application", text.List([]string{"a", "b",
			"c"}): "a, b and c", text.Sentence("choose a bed"): "Choose a bed.", text.Capital("écluse"): "Écluse",
		text.Lower("Øster bed"): "øster bed", text.Sentence("“x” is wrong"): "“x” is wrong.",
	} {
		assert.Equal(t, want, got)
	}
}

func TestMeasures(t *testing.T) {
	scoop := text.Scoop{Name: "scoop", Of: 100}
	assert.Equal(t, "22 level scoops", text.Measure(material.HardwoodAsh, 2210, &scoop))
	cup := text.Scoop{Name: "cup", Of: 2210}
	assert.Equal(t, "1 level cup", text.Measure(material.HardwoodAsh, 2210, &cup))
	assert.Equal(t, "about 10 handfuls", text.Measure(material.HardwoodAsh, 600, nil))
	assert.Equal(t, "about 12 handfuls", text.Measure(material.CalciticLime, 1249, nil))
	assert.Equal(t, "about 1 litre, loose", text.Measure(material.CalciticLime, 1251, nil), "thirteen are no more counted")
	assert.Equal(t, "about 1½ litres, loose", text.Measure(material.CalciticLime, 1915, nil))
	assert.Equal(t, "about 4½ litres, loose", text.Measure(material.CalciticLime, 5680, nil))
	assert.Equal(t, "about 9½ litres, loose", text.Measure(material.CalciticLime, 11_600, nil))
	assert.Equal(t, "about 1 bucket of 10 litres, loose", text.Measure(material.CalciticLime, 11_800, nil))
	assert.Equal(t, "about 2 buckets of 10 litres and 3 litres, loose", text.Measure(material.CalciticLime, 27_600, nil))
	assert.Equal(t, text.CarriedAmount{Big: "8", Unit: "handfuls", Aside: "790 g; a handful is about 100 g"},
		text.Units{}.InHand(material.CalciticLime, 790, nil))
	assert.Equal(t, "1.3", text.Units{}.InHand(material.CalciticLime, 1251, nil).Big, "more is weighed")
	// Few are reported in halves: a whole one more or less would be a third of it, and sulfur forgives none.
	cupful := float64(quantity.Mass(0.24 * 600)) // 0.24 L of powder, 0.6 kg/L
	for share, want := range map[float64]string{0.2: "less than ½ cup", 0.3: "about ½ cup", 0.7: "about ½ cup", 0.8: "about 1 cup",
		1.2: "about 1 cup", 1.3: "about 1½ cups", 2.4: "about 2½ cups", 4.7: "about 4½ cups", 4.8: "about 5 cups", 5.4: "about 5 cups",
		12.4: "about 12 cups"} {
		assert.Equal(t, want, text.Measure(material.SulfurPowder, quantity.Mass(share*cupful), nil), share)
	}
	assert.Equal(t, text.CarriedAmount{Big: "2½", Unit: "cups", Aside: "340 g; a cup is about 140 g"},
		text.Units{}.InHand(material.SulfurPowder, 340, nil))
	assert.Equal(t, text.CarriedAmount{Big: "1½", Unit: "level scoops", Aside: "140 g"},
		text.Units{}.Carried(material.HardwoodAsh, 140, &scoop))
	assert.Equal(t, text.CarriedAmount{Big: "20", Unit: "g", Aside: "less than ½ level scoop"},
		text.Units{}.Carried(material.HardwoodAsh, 20, &scoop), "hardly any of it is weighed")
	assert.Equal(t, "0 of 2½ scoops", text.Units{}.OutOf(20, 250, &scoop))
	assert.Equal(t, "1½ scoops", scoop.Bare(150))
	assert.Empty(t, text.Measure("gypsum", 500, nil))
}

func TestCausticMaterialsHaveWarning(t *testing.T) {
	for _, m := range material.Table {
		if material.Dosed(m.Family) && (m.Raises() || m.Lowers()) {
			assert.NotEmpty(t, text.Safety(m.Kind), m.Kind)
			assert.Contains(t, text.Kit(m.Kind), "Gloves", m.Kind)
		}
	}
}

// What is not ash is not refused as ash.
func TestPotashRefusalText(t *testing.T) {
	says := func(ash int) string {
		g := text.Guard(guard.Finding{ID: "potassium-ceiling", With: working.Values{working.Num("k", working.PPM, 260.0),
			working.Num("ceiling", working.PPM, 250.0), working.Int("ash", working.Count, ash)}})
		return g.Says + g.Lifts
	}
	assert.Contains(t, says(1), "lime")
	assert.NotContains(t, says(0), "lime")
	assert.NotContains(t, says(0), "ash")
}

// Lime is a dust, not caustic; what may carry weedkiller says so, and compost its dust.
func TestOtherMaterialsHaveNoCausticWarning(t *testing.T) {
	says := func(k material.Kind) string { return strings.Join(text.Safety(k), "; ") }
	for kind, caustic := range map[material.Kind]bool{material.CalciticLime: false, "pelleted-lime": false, material.DolomiticLime: false,
		"hydrated-lime": true, material.HardwoodAsh: true} {
		assert.Equal(t, caustic, strings.Contains(says(kind), "Caustic"), kind)
		assert.Contains(t, says(kind), "dust mask", kind)
	}
	for kind, carries := range map[material.Kind]bool{material.Manure: true, "horse-manure": true, "straw": true, "poultry-manure": false} {
		assert.Equal(t, carries, strings.Contains(says(kind), "weedkiller"), kind)
	}
	assert.Contains(t, says(material.Compost), "damp it")
}

func TestEveryIDHasName(t *testing.T) {
	for _, x := range soil.Textures {
		assert.NotContains(t, text.Name(x.ID), "-")
	}
	for _, m := range soil.Methods {
		assert.NotContains(t, text.Short(m.Method), "-")
	}
	for _, s := range material.Sources[1:] {
		assert.NotEqual(t, string(s), text.Name(s)+"?")
		assert.NotContains(t, text.Name(s), "-")
	}
	for _, c := range crop.Library {
		assert.Equal(t, c.Name, text.Crop(c.ID))
	}
}

func TestStepShowsComputation(t *testing.T) {
	l := text.Step(working.Step{ID: "texture-table", Source: "soil-survey", Result: working.Num("need", working.Rate, 423.68),
		From: working.Values{working.Num("from", working.PH, 5.2), working.Num("to", working.PH, 6.4), working.ID("texture", soil.Loam),
			working.ID("table", soil.CoolTable),
			working.Num("share", working.PH, 0.3), working.Num("tons", working.ShortTons, 1.2), working.Num("share", working.PH,
				0.9), working.Num("tons", working.ShortTons, 1.7)}})
	assert.Equal(t, "5.20 to 6.40 in a cool loam", l.Label)
	assert.Equal(t, "0.3 × 1.2 + 0.9 × 1.7 short tons/acre for 7 in; 1 short ton/acre is 224.17 g/m²", l.How)
	assert.Equal(t, "424 g/m²", l.Value)
}

func ExampleMass() {
	fmt.Println(text.Mass(2546), text.Mass(347))
	// Output: 2.5 kg 350 g
}

// Whoever follows the careful pace already is not told to take it.
func TestCarefulPaceIsSuggestedOnlyIfUnused(t *testing.T) {
	for _, id := range []string{"overshoot", "undershoot"} {
		for careful, named := range map[int]bool{0: true, 1: false} {
			says := text.Guard(guard.Finding{ID: id, With: working.Values{working.Int("careful", working.Count, careful)}})
			assert.Equal(t, named, strings.Contains(says.Lifts, "pace"), "%s: %s", id, says.Lifts)
			assert.NotEmpty(t, says.Lifts)
		}
	}
}
