package server_test

import (
	"net/url"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// inKilos is an amount of ash from a bin whose scoop was weighed, by weight alone.
var inKilos = regexp.MustCompile(`\d k?g of (oven|pellet stove) ash`)

func TestNothingOfABinIsToldInKilosAloneOnceAScoopWasWeighed(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Lower ledge").Bed.ID
	on := bedPath(bed)
	pages := []string{"/?bed=" + strconv.FormatInt(bed, 10), on,
		on + "/dose?use=b1", on + "/mix", "/dose/many?with=b1", "/sheet", "/shed", "/shed/share",
		"/bucket?with=b1", "/batches/1"}
	read := func(when string) {
		for _, page := range pages {
			if found := inKilos.FindString(s.get(page).Body.String()); !assert.Empty(t, found, "%s, %s", page, when) {
				return
			}
		}
	}
	read("as the demo is")
	assert.Contains(t, s.get(pages[0]).Body.String(),
		"24 Nov 2026, planned: 12 level scoops (1.2 kg) of oven ash, autumn batch", "the chart too")
	assert.Contains(t, s.get("/shed/share").Body.String(), "151 of 410 scoops")
	assert.Contains(t, s.get("/shed/share").Body.String(), "of 410 scoops")
	assert.Regexp(t, `\d+ level scoops \([\d.]+ kg\)</b>`, s.get("/dose/many?with=b1").Body.String())
	assert.Regexp(t, `class="amt [^>]*data-grams="[\d.]+ g"[^>]*>\s*\d+ scoops`, s.get(on+"/dose?use=b1").Body.String())
	g := s.openTasks(bed)[0]
	s.saved(s.post("/tasks/"+strconv.FormatInt(g.ID, 10)+"/put-on", url.Values{"version": {strconv.FormatInt(g.Version, 10)},
		"amount": {"1.8"}, "measure": {"kg"}}))
	read("once it has gone on")
	assert.Contains(t, s.get(on).Body.String(), "Put 18 level scoops (1.8 kg) of oven ash, autumn batch on Lower ledge")
	// What was weighed is the batch’s own: without it, kilos.
	_, err := s.store.Change(t.Context(), garden.Change{}, func(tx garden.Tx) (string, error) {
		b, err := garden.Get[garden.Batch](tx, 1)
		require.NoError(t, err)
		b.Scoop = nil
		return "no scoop", tx.Update(&b)
	})
	require.NoError(t, err)
	assert.Contains(t, s.get("/sheet").Body.String(), "1.8 kg put on")
	assert.Contains(t, s.get(on).Body.String(), "1.8 kg of oven ash, autumn batch put on")
}

func TestADoseThatWasOvertakenIsToldInScoopsToo(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Lower ledge").Bed.ID
	ph := quantity.PH(5.8)
	s.add(&garden.Reading{BedID: bed, Date: s.today - 2, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15})
	page := s.get(bedPath(bed) + "/dose").Body.String()
	assert.Contains(t, page, "24 level scoops (2.4 kg) of oven ash, autumn batch still to go on.")
	assert.Regexp(t, `By the reading of 22 Nov it is \d+ level scoops \([\d.]+ kg\)\.`, page)
}
