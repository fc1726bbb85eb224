package crop_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
)

func TestLibraryIsConsistent(t *testing.T) {
	kebab := regexp.MustCompile(`^[a-z]+(-[a-z]+)*$`)
	seen := map[string]bool{}
	for _, c := range crop.Library {
		assert.Regexp(t, kebab, c.ID)
		assert.False(t, seen[c.ID], c.ID)
		seen[c.ID] = true
		assert.Less(t, float64(c.Range.Low), float64(c.Range.High), c.ID)
		assert.True(t, c.Range.Holds(c.Aim), c.ID)
		assert.Positive(t, float64(c.Removal), c.ID)
		if c.Range.High <= 6.5 {
			assert.True(t, c.Is(crop.NoAsh) || c.Is(crop.AcidLover), c.ID)
		}
		assert.False(t, c.Is(crop.NoAsh) && c.Is(crop.AshWelcome), c.ID)
	}
	assert.Len(t, crop.Library, 104)
}

func TestPublishedRows(t *testing.T) {
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
		{"courgette", 6.0, 6.8, 6.4, 20, 0, 28},
		{"swede", 6.0, 7.2, 7.2, 15, crop.Clubroot, 28},
		{"pak-choi", 6.0, 7.2, 7.2, 15, crop.Clubroot | crop.TenderSeed, 42},
		{"rhubarb", 5.5, 6.8, 6.15, 12, crop.Perennial, 28},
		{"artichoke", 6.5, 7.5, 7, 15, crop.AshWelcome | crop.Perennial, 28},
		{"blackberry", 5.6, 6.5, 6.05, 8, crop.NoAsh | crop.Perennial, 28},
		{"sunflower", 6.0, 7.5, 6.75, 25, 0, 28},
		{"zinnia", 6.0, 7.0, 6.5, 8, crop.NotFood, 28},
		{"alfalfa", 6.5, 7.5, 7, 20, crop.NotFood, 28},
	} {
		c, ok := crop.Find(want.id)
		assert.True(t, ok)
		assert.Equal(t, crop.Range{Low: want.low, High: want.high}, c.Range, want.id)
		assert.InDelta(t, float64(want.aim), float64(c.Aim), 1e-9, want.id)
		assert.Equal(t, want.removal, c.Removal, want.id)
		assert.Equal(t, want.flags, c.Flags, want.id)
		assert.Equal(t, want.gap, c.SowingGap(), want.id)
	}
}

func TestCropsOfOneLineShareValues(t *testing.T) {
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

func TestTriggers(t *testing.T) {
	tomato, _ := crop.Find("tomato")                            // 6.2 to 6.8
	narrow := crop.Crop{Range: crop.Range{Low: 6.1, High: 6.8}} // 6.0 is less than WellUnder below it
	blueberry, _ := crop.Find("blueberry")
	general, _ := crop.Find("general-vegetables")
	for _, c := range []struct {
		name   string
		method crop.Trigger
		crop   crop.Crop
		ph     quantity.PH
		single float64
		muck   bool
		want   crop.Stand
	}{
		{"in band", crop.BelowRange, tomato, 6.2, 0.14, false, crop.InRange},
		{"below by less than one sd", crop.BelowRange, tomato, 6.06, 0.14, false, crop.TooClose},
		{"a hundredth more", crop.BelowRange, tomato, 6.05, 0.14, false, crop.Act},
		{"several readings are surer", crop.BelowRange, tomato, 6.15, 0, false, crop.Act},
		{"the patient school", crop.At6, tomato, 6.01, 0, false, crop.Patient},
		{"the patient school at 6.0", crop.At6, tomato, 6.0, 0, false, crop.Act},
		{"the patient school at 6.0, a little under the band", crop.At6, narrow, 6.0, 0, false, crop.Act},
		{"the patient school over 6.0, a little under the band", crop.At6, narrow, 6.01, 0, false, crop.Patient},
		{"to the middle", crop.ToMiddle, tomato, 6.44, 0.14, false, crop.Act},
		{"to the middle, near it", crop.ToMiddle, tomato, 6.46, 0.14, false, crop.InRange},
		{"too sweet by less than half", crop.BelowRange, tomato, 7.29, 0.14, false, crop.Drifts},
		{"too sweet by half", crop.BelowRange, tomato, 7.3, 0.14, false, crop.Act},
		{"too sweet within one sd", crop.BelowRange, tomato, 6.9, 0.14, false, crop.TooClose},
		{"half a unit by a probe", crop.BelowRange, tomato, 7.3, 0.51, false, crop.TooClose},
		{"acid lovers are brought down sooner", crop.BelowRange, blueberry, 5.4, 0.14, false, crop.Act},
		{"muck at 5.3", crop.BelowRange, general, 5.3, 0, true, crop.InRange},
		{"muck at 5.1", crop.BelowRange, general, 5.1, 0, true, crop.Act},
	} {
		assert.Equal(t, c.want, c.method.Judge(c.crop, 6.5, c.ph, c.single, c.muck), c.name)
	}
}

// flags are the letters of the handbook's list of crops.
var flags = map[string]string{
	"tomato": "", "cucumber": "N", "watermelon": "X", "lettuce": "S", "spinach": "N", "beetroot": "N", "kale": "C N", "carrot": "S",
	"parsnip": "S",
	"leek":    "N S", "pea": "", "bean": "S", "sweet-corn": "", "potato": "P X", "sweet-potato": "X", "asparagus": "N",
	"strawberry": "X S", "raspberry": "X",
	"blueberry": "A X", "cranberry": "A X", "currant": "", "grape": "", "pear": "N", "plum": "N", "fig": "N", "azalea": "A X",
	"camellia": "A", "heather": "A X",
	"blue-hydrangea": "A X", "pink-hydrangea": "", "rose": "", "dahlia": "", "sweet-pea": "", "peony": "", "lavender": "N",
	"basil": "S", "parsley": "", "lawn": "",
	"clover": "", "lupin": "X", "rye": "", "buckwheat": "",
	"courgette": "", "radish": "S", "turnip": "C", "swede": "C", "sprouts": "C N", "kohlrabi": "C N", "pak-choi": "C S",
	"mustard-greens": "C S", "rocket": "S", "lambs-lettuce": "S", "endive": "S", "chicory": "S", "celery": "N", "celeriac": "N",
	"fennel": "", "artichoke": "N", "rhubarb": "", "aubergine": "", "okra": "", "broad-bean": "", "peanut": "X", "mint": "", "thyme": "",
	"rosemary": "", "sage": "", "chamomile": "", "blackberry": "X", "quince": "", "hazel": "", "walnut": "", "elder": "", "hop": "",
	"sunflower": "", "zinnia": "", "cosmos": "", "marigold": "", "tulip": "", "daffodil": "", "comfrey": "", "alfalfa": "",
	"phacelia": "", "mustard": "", "vetch": "", "field-bean": "",
}

func TestFlagsMatchPublishedList(t *testing.T) {
	letters := []struct {
		letter string
		flag   crop.Flag
	}{{"A", crop.AcidLover}, {"X", crop.NoAsh}, {"S", crop.TenderSeed}, {"P", crop.Scab}, {"C", crop.Clubroot}, {"N", crop.AshWelcome}}
	for id, want := range flags {
		c, ok := crop.Find(id)
		require.True(t, ok, id)
		for _, l := range letters {
			assert.Equal(t, strings.Contains(want, l.letter), c.Is(l.flag), "%s %s", id, l.letter)
		}
	}
	own := crop.Crop{ID: "bog-lily", Range: crop.Range{Low: 5.5, High: 6.5}}
	assert.True(t, own.ByRule().Is(crop.NoAsh), "a band that ends at 6.5 or below: no ash")
	own.Range.High = 6.6
	assert.False(t, own.ByRule().Is(crop.NoAsh))
	camellia, _ := crop.Find("camellia")
	assert.Equal(t, camellia, camellia.ByRule(), "the list wins")
}

func ExampleFind() {
	c, _ := crop.Find("dahlia")
	fmt.Println(c.Name, float64(c.Range.Low), float64(c.Range.High))
	// Output: dahlia 6.2 6.8
}

func TestFlagIDsRoundTrip(t *testing.T) {
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
