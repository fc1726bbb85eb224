package exchange_test

import (
	"bytes"
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
)

func ptrTo[T any](v T) *T { return &v }

// Everything that is reported of a batch goes out and comes in again as it was.
func TestInventoryRoundTrip(t *testing.T) {
	pct := func(x float64) *quantity.Percent { return ptrTo(quantity.Percent(x)) }
	shelf := []garden.Stock{
		{Batch: garden.Batch{Name: "=Oven ash, autumn", Kind: "wood-ash-hardwood", K2O: pct(4.5), Condition: "wet", Source: "clean",
			Scoop: ptrTo(quantity.Mass(100.5)), ScoopName: "cup", Fire: "oven", Woods: "oak; beech", Burnt: quantity.Date(2026, 11, 3),
			Walnut: true, Charcoal: 12.5, Vinegar: garden.Figures{120, 118.5}, VinegarPct: pct(9), Keeping: "lidded bin", Note: "a \"note\""},
			Left: ptrTo(quantity.Mass(41250))},
		{Batch: garden.Batch{Name: "Lime", Kind: "calcitic-lime", Effective: pct(97), Fineness: garden.Figures{0, 10, 40, 50}, Moisture: 2,
			Price: ptrTo(0.35), Bag: ptrTo(quantity.Mass(25000)), Crushed: false}},
	}
	var out bytes.Buffer
	require.NoError(t, exchange.WriteInventory(&out, shelf))
	lines, err := exchange.ReadInventory("shelf.csv", out.Bytes())
	require.NoError(t, err)
	require.Len(t, lines, 2)
	for i, l := range lines {
		got := garden.Stock{Batch: garden.Batch{Note: "old", Embers: true}}
		require.NoError(t, l.Onto(&got))
		assert.Equal(t, shelf[i], got, "an empty cell says that nothing is known")
	}
	// Columns that are not there are left as they are.
	few, err := exchange.ReadInventory("few.csv", []byte("kind;name;price_kg\ncalcitic-lime;Lime;0,40\n"))
	require.NoError(t, err)
	was := shelf[1]
	require.NoError(t, few[0].Onto(&was))
	assert.Equal(t, 0.40, *was.Price)
	assert.Equal(t, shelf[1].Fineness, was.Fineness)
}

func TestInvalidInventoryNamesLine(t *testing.T) {
	for text, says := range map[string]string{
		"name,kind\nX,marble\n":                      `line 2, kind: "marble"`,
		"name,kind,left_kg\nX,gypsum,much\n":         `line 2, left_kg: "much" is not a number`,
		"name,kind,left_kg\nX,gypsum,NaN\n":          `is not a number`,
		"name,kind,embers\nX,leaf-ash,perhaps\n":     "neither yes nor no",
		"name,kind,colour\nX,gypsum,red\n":           `"colour" is no column`,
		"name,left_kg\nX,3\n":                        "name and kind are needed",
		"name,kind,burnt\nX,leaf-ash,the 3rd of May": "line 2, burnt",
	} {
		_, err := exchange.ReadInventory("shelf.csv", []byte(text))
		var f garden.Faults
		require.True(t, errors.As(err, &f), text)
		assert.True(t, strings.Contains(f["file"], says), "%s: %s", text, f["file"])
	}
}
