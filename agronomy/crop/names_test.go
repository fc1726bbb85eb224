package crop_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/crop"
)

func TestCropIsFoundByItsNames(t *testing.T) {
	for name, id := range map[string]string{
		"Courgettes": "courgette", "zucchini": "courgette", "TOMATOES": "tomato", "potatoes": "potato", "radishes": "radish",
		"cherries": "cherry", "blackberries": "blackberry", "lettuces": "lettuce", "Peaches": "peach", "bean": "bean", "Runner beans": "bean",
		"Brussels sprouts": "sprouts", "brussel sprout": "sprouts", "lamb's lettuce": "lambs-lettuce", "Lamb’s  lettuce": "lambs-lettuce",
		"sweet corn": "sweet-corn", "sweet-corn": "sweet-corn", "SweetCorn": "sweet-corn", "cosmos": "cosmos", "broad beans": "broad-bean",
		"red currants": "currant", "Vines": "grape", "rutabagas": "swede", "Eggplants": "aubergine", "beets": "beetroot", "chives": "chive",
		"olive": "", "": "", "s": "", "es": "", "beef": "",
	} {
		c, ok := crop.Called(name)
		assert.Equal(t, id, c.ID, name)
		assert.Equal(t, id != "", ok, name)
	}
}

// No plural of one crop is the name of another, so that reading endings off never finds the wrong one.
func TestEveryCropIsFoundByItself(t *testing.T) {
	for _, c := range crop.Library {
		for _, name := range []string{c.ID, c.Name, strings.ToUpper(c.Name), c.Name + "s"} {
			found, ok := crop.Called(name)
			assert.True(t, ok, name)
			assert.Equal(t, c.ID, found.ID, name)
		}
	}
}
