package ledger_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
)

// A crop takes its potash in half a year, or until it was cleared; what it is to be cleared on changes nothing before.
func TestCarriedByAnnualCrop(t *testing.T) {
	kale, ok := crop.Find("kale")
	require.True(t, ok)
	sown := quantity.Date(2026, 4, 1)
	all := float64(kale.Removal)
	for name, x := range map[string]struct {
		cleared, on quantity.Day
		want        float64
	}{
		"half of its time":                        {0, sown + 90, all / 2},
		"all of its time":                         {0, sown + 180, all},
		"still standing after it":                 {0, sown + 250, all},
		"a whole year":                            {0, sown + 365, all},
		"two years":                               {0, sown + 730, 2 * all},
		"cleared early":                           {sown + 90, sown + 90, all},
		"cleared early, long ago":                 {sown + 90, sown + 200, all},
		"cleared late":                            {sown + 300, sown + 300, all},
		"to be cleared for the next, half grown":  {sown + 120, sown + 90, all / 2},
		"to be cleared for the next, fully grown": {sown + 350, sown + 200, all},
	} {
		g := ledger.Grown{Crop: kale, From: sown, To: x.cleared}
		assert.InDelta(t, x.want, float64(g.Carried(sown, x.on, x.on)), 1e-9, name)
	}
	// One that is still to come has taken all by the day it is to be cleared.
	coming := ledger.Grown{Crop: kale, From: sown, To: sown + 60}
	assert.InDelta(t, all, float64(coming.Carried(sown-30, sown+60, sown-30)), 1e-9)
}

func TestCarriedByPerennial(t *testing.T) {
	plum, ok := crop.Find("plum")
	require.True(t, ok)
	planted := quantity.Date(2020, 11, 1)
	g := ledger.Grown{Crop: plum, From: planted}
	assert.InDelta(t, 6*float64(plum.Removal), float64(g.Carried(planted, planted+6*365, planted+6*365)), 1e-9)
	assert.InDelta(t, float64(plum.Removal), float64(g.Carried(planted+365, planted+730, planted+3000)), 1e-9, "each year the same")
}
