package crop_test

import (
	"fmt"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
)

func TestTheLibraryHoldsTogether(t *testing.T) {
	kebab := regexp.MustCompile(`^[a-z]+(-[a-z]+)*$`)
	seen := map[string]bool{}
	for _, c := range crop.Library {
		assert.Regexp(t, kebab, c.ID)
		assert.False(t, seen[c.ID], c.ID)
		seen[c.ID] = true
		assert.Less(t, float64(c.Band.Low), float64(c.Band.High), c.ID)
		assert.True(t, c.Band.Holds(c.Aim), c.ID)
		assert.Positive(t, float64(c.Removal), c.ID)
		if c.Is(crop.AcidLover) || c.Is(crop.Scab) {
			assert.True(t, c.Is(crop.NoAsh), c.ID)
		}
		assert.False(t, c.Is(crop.NoAsh) && c.Is(crop.AshWelcome), c.ID)
	}
	assert.Len(t, crop.Library, 60)
}

func TestSomeRowsAsPrinted(t *testing.T) {
	for _, want := range []struct {
		id             string
		low, high, aim quantity.PH
		removal        quantity.Rate
		flags          crop.Flag
		gap            quantity.Day
	}{
		{"tomato", 6.2, 6.8, 6.5, 25, 0, 28},
		{"cabbage", 6.5, 7.4, 7.2, 22, crop.Clubroot | crop.AshWelcome, 28},
		{"lettuce", 6.2, 7.0, 6.6, 12, crop.TenderSeed, 42},
		{"blueberry", 4.5, 5.2, 4.85, 4, crop.AcidLover | crop.NoAsh | crop.Perennial, 28},
		{"potato", 5.0, 6.0, 5.5, 30, crop.Scab | crop.NoAsh, 28},
		{"dahlia", 6.2, 6.8, 6.5, 14, crop.NotFood, 28},
	} {
		c, ok := crop.Find(want.id)
		assert.True(t, ok)
		assert.Equal(t, crop.Band{Low: want.low, High: want.high}, c.Band, want.id)
		assert.InDelta(t, float64(want.aim), float64(c.Aim), 1e-9, want.id)
		assert.Equal(t, want.removal, c.Removal, want.id)
		assert.Equal(t, want.flags, c.Flags, want.id)
		assert.Equal(t, want.gap, c.SowingGap(), want.id)
	}
}

func TestCropsOfOneLineShareIt(t *testing.T) {
	cabbage, _ := crop.Find("cabbage")
	for _, id := range []string{"kale", "broccoli", "cauliflower"} {
		c, ok := crop.Find(id)
		assert.True(t, ok, id)
		assert.Equal(t, id, c.Name)
		c.ID, c.Name = cabbage.ID, cabbage.Name
		assert.Equal(t, cabbage, c)
	}
	corn, _ := crop.Find("sweet-corn")
	assert.Equal(t, "sweet corn", corn.Name)
}

func TestMuckIsActedOnBelowItsOwnFigure(t *testing.T) {
	b := crop.Band{Low: 6.0, High: 7.0}
	assert.False(t, crop.BelowBand.Acts(b, 5.5, 5.3, true))
	assert.True(t, crop.BelowBand.Acts(b, 5.5, 5.1, true))
	assert.True(t, crop.At6.Acts(b, 6.5, 7.1, false), "above the band every school acts")
}

func ExampleFind() {
	c, _ := crop.Find("dahlia")
	fmt.Println(c.Name, float64(c.Band.Low), float64(c.Band.High))
	// Output: dahlia 6.2 6.8
}

func TestFlagsAreWrittenAndReadBack(t *testing.T) {
	for all := range crop.Flag(1) << len(crop.FlagNames) {
		back, ok := crop.ParseFlags(all.IDs())
		require.True(t, ok)
		require.Equal(t, all, back)
	}
	_, ok := crop.ParseFlags("no-ash evergreen")
	assert.False(t, ok)
	blueberry, _ := crop.Find("blueberry")
	assert.Equal(t, "acid-lover no-ash perennial", blueberry.Flags.IDs())
}
