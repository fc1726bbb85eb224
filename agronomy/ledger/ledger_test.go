package ledger_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

var today = quantity.Date(2026, 11, 24)

func put(ago quantity.Day, k material.Kind, rate quantity.Rate) ledger.Application {
	m, ok := material.Find(k)
	if !ok {
		panic(k)
	}
	return ledger.Application{Date: today - ago, Material: m, Rate: rate}
}

func percent(p quantity.Percent) *quantity.Percent { return &p }

func TestBrought(t *testing.T) {
	ash := put(10, material.HardwoodAsh, 200)
	b := ash.Brought()
	for name, x := range map[string]struct{ want, got quantity.Rate }{
		"CaCO₃ at 50 %": {100, b.CaCO3}, "K₂O at 5 %": {10, b.K2O}, "P₂O₅ at 1.5 %": {3, b.P2O5}, "Ca at 20 %": {40,
			b.Calcium}, "Mg at 2 %": {4, b.Magnesium},
	} {
		assert.InDelta(t, float64(x.want), float64(x.got), 1e-9, name)
	}
	ash.Measured, ash.Potash, ash.Condition = percent(40), percent(8), material.Wet
	b = ash.Brought()
	assert.InDelta(t, 200*0.40, float64(b.CaCO3), 1e-9, "what was measured of the wet batch stands")
	assert.InDelta(t, 200*0.08, float64(b.K2O), 1e-9)
	ash.Measured, ash.Potash = nil, nil
	b = ash.Brought()
	assert.InDelta(t, 200*0.50*0.85, float64(b.CaCO3), 1e-9, "its kind's, rained on")
	assert.InDelta(t, 200*0.05*0.3, float64(b.K2O), 1e-9)

	feed := put(3, material.AmmoniumSulfate, 20)
	b = feed.Brought()
	assert.InDelta(t, -22.4, float64(b.CaCO3), 1e-9, "an acid feed counts below nothing")
	assert.InDelta(t, 4.2, float64(b.N), 1e-9)
}

// The published figures: composted manure 5 g a kg, and for each gram of nitrogen 1.8 g of acid as ammonium nitrate, 5 as
// monoammonium phosphate, and 1.35 of lime as calcium nitrate.
func TestDriftCountsWithoutMovingPH(t *testing.T) {
	for kind, want := range map[material.Kind]float64{"rotted-manure": 5, "ammonium-nitrate": -1.8 * 340,
		"monoammonium-phosphate": -5 * 110, "calcium-nitrate": 1.35 * 155, material.Compost: 0, material.Manure: 0} {
		a := put(3, kind, 1000)
		assert.InDelta(t, want, float64(a.Brought().CaCO3), 1e-9, kind)
		assert.False(t, a.MovesPH(), kind)
	}
}

func TestEveryMaterialThatMovesPHCounts(t *testing.T) {
	for _, m := range material.Table {
		a := ledger.Application{Date: today, Material: m, Rate: 100}
		assert.Equal(t, m.MovesPH(), a.MovesPH(), m.Kind)
		assert.Equal(t, m.MovesPH() || m.Drift != 0, a.Brought().CaCO3 != 0, m.Kind)
		assert.Equal(t, m.MovesPH(), len(ledger.Ledger{a}.Movers()) == 1, m.Kind)
		assert.Equal(t, m.MovesPH(), ledger.Ledger{a}.UsedAfter(today-1), m.Kind)
		a.Rate = 0
		assert.False(t, a.MovesPH(), "%s of which nothing went on", m.Kind)
		assert.False(t, ledger.Ledger{a}.UsedAfter(today-1), "%s of which nothing went on", m.Kind)
	}
}

func TestSumsBetweenDays(t *testing.T) {
	l := ledger.Ledger{put(400, material.HardwoodAsh, 100), put(365, material.HardwoodAsh, 40), put(364, material.HardwoodAsh, 60),
		put(0, material.CalciticLime, 100), put(-5, material.HardwoodAsh, 500)}
	assert.InDelta(t, 60, float64(l.InYear(material.Ash, today)), 0, "365 days that end today")
	assert.InDelta(t, 100, float64(l.InYear(material.Ash, today-1)), 0, "a day earlier the one of 365 days ago is in it too")
	b := l.Brought(today-365, today)
	assert.InDelta(t, 60*0.5+97, float64(b.CaCO3), 1e-9, "after the first day, up to the last")
	assert.InDelta(t, (60+500)*0.05, float64(l.K2OAfter(today-365)), 1e-9)
}

func TestLedgerDays(t *testing.T) {
	l := ledger.Ledger{put(30, material.CalciticLime, 100), put(20, material.HardwoodAsh, 50), put(10, material.Compost, 4000),
		put(5, material.SulfurPowder, 20)}
	assert.Equal(t, material.SulfurPowder, l.LastMover(today).Material.Kind)
	assert.Equal(t, material.HardwoodAsh, l.LastMover(today-6).Material.Kind, "compost moves nothing")
	assert.Nil(t, l.LastMover(today-31))
	ash, lime := l.Since(today)
	assert.Equal(t, []quantity.Day{20, 30}, []quantity.Day{ash, lime})
	led := put(0, material.CalciticLime, 100)
	_, before := ledger.Ledger{led}.Since(today)
	assert.Zero(t, before, "lime of the day of a reading may have gone on before it")
	led.Planned = true
	_, before = ledger.Ledger{led}.Since(today)
	assert.Equal(t, quantity.Day(-1), before, "what the reading led to went on after it")
	ash, lime = l.Since(today - 25)
	assert.Equal(t, []quantity.Day{-1, 5}, []quantity.Day{ash, lime}, "ash that is still to come is none")
	assert.Equal(t, today-20, l.Nearest(material.Ash, today))
	assert.Zero(t, l.Nearest(material.Iron, today))
	isAsh := func(m *material.Material) bool { return m.Family == material.Ash }
	assert.True(t, l.Within(today, 21, isAsh))
	assert.False(t, l.Within(today, 20, isAsh), "just 20 days off")
	assert.True(t, l.Within(today-40, 21, isAsh), "before and after")
	assert.True(t, l.UsedAfter(today-6))
	l[3].Planned = true
	assert.False(t, l.UsedAfter(today-6), "planned from the reading")
}

func TestAshYears(t *testing.T) {
	l := ledger.Ledger{put(366, material.HardwoodAsh, 260), put(731, material.HardwoodAsh, 260), put(5*365-1, material.HardwoodAsh, 30),
		put(5*365, material.HardwoodAsh, 7)}
	all, running := l.AshYears(251, today)
	assert.InDelta(t, 251+260+260+30, float64(all), 0, "five years, no more")
	assert.True(t, running)
	_, running = l.AshYears(250, today)
	assert.False(t, running, "just 250 is not over it")
}

func ExampleLedger_Brought() {
	lime, _ := material.Find(material.CalciticLime)
	l := ledger.Ledger{{Date: quantity.Date(2026, 3, 2), Material: lime, Rate: 250}}
	b := l.Brought(quantity.Date(2026, 1, 1), quantity.Date(2026, 12, 31))
	fmt.Printf("%.1f g of CaCO₃ a square metre\n", float64(b.CaCO3))
	// Output: 242.5 g of CaCO₃ a square metre
}

func TestAshPhosphate(t *testing.T) {
	for k, want := range map[material.Kind]quantity.Percent{"wood-ash-unknown": 1.2, "wood-ash-hardwood": 1.5, "wood-ash-softwood": 1.2,
		"wood-ash-twigs": 2.5, "leaf-ash": 2} {
		m, ok := material.Find(k)
		require.True(t, ok)
		assert.Equal(t, want, m.P2O5, k)
	}
}
