package words_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/turn"
	"zephyrfield/agronomy/words"
)

func TestEveryStepWayAndSignHasItsWords(t *testing.T) {
	u := words.Units{}
	for _, id := range turn.Steps {
		if id != turn.Own {
			assert.NotEmpty(t, words.StepName(id, ""), id)
			assert.NotEmpty(t, u.StepHow(id), id)
			assert.NotContains(t, u.StepHow(id), "{", id)
		}
	}
	assert.Equal(t, "Lay boards", words.StepName(turn.Own, "Lay boards"))
	for _, x := range turn.Templates {
		assert.NotEmpty(t, words.Template(x.ID), x.ID)
		assert.NotContains(t, u.TemplateSays(x.ID), "{", x.ID)
	}
	for _, l := range turn.Looks {
		assert.NotEmpty(t, words.Look(l.ID))
		for _, s := range l.Signs {
			assert.NotEmpty(t, words.Sign(s), s)
			if _, against := turn.Ready([]turn.Sign{s}); len(against) > 0 {
				assert.NotContains(t, words.NotReady(against, quantity.Date(2026, 11, 24)), ": .", s)
			}
		}
	}
	for _, why := range []calendar.Why{calendar.StepOrder, calendar.PotatoYear} {
		assert.NotEqual(t, string(why), words.Limit(string(why)))
	}
}

// Three rings of 250 g are 750 g; 98 g of ash are 0.8 of a cup of 0.24 L, loose at half a kilo a litre.
func TestAmountsForEachTreeAndPlant(t *testing.T) {
	u := words.Units{}
	assert.Equal(t, "250 g to each of the three", u.Each(750, 3, nil))
	assert.Equal(t, "2.5 scoops to each of the three", u.Each(750, 3, &words.Scoop{Name: "scoop", Of: 100}))
	assert.Empty(t, u.Each(750, 1, nil))
	ash, _ := material.Find(material.HardwoodAsh)
	assert.Equal(t, "about 0.8 cups", words.InCups(ash, 98))
}
