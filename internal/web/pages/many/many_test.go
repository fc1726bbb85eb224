package many_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// A form that is refused, or opened again, holds what was chosen and typed in it.

func TestSelectionSurvivesFault(t *testing.T) {
	s := webtest.New(t, true)
	w := s.Post("/beds/change", url.Values{"bed": {"2", "3"}, "set_depth": {"six"}, "do": {"change"}})
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	page, err := html.Parse(w.Body)
	require.NoError(t, err)
	for id, want := range map[string]bool{"b2": true, "b3": true, "b4": false} {
		_, chosen := webtest.Attr(webtest.ByID(t, page, id), "checked")
		assert.Equal(t, want, chosen, id)
	}
}

// Rows are names that are counted on; a row or a stretch goes in place of the proposal, and beside what was chosen by hand.
func TestSelectMany(t *testing.T) {
	s := webtest.New(t, true)
	table := "name,length_m,width_m\n"
	for n := range 12 {
		table += fmt.Sprintf("Tunnel %d,10,1\n", n+1)
	}
	require.Equal(t, http.StatusSeeOther, s.Post("/beds/table", url.Values{"table": {table}, "key": {"t"}}).Code)
	chosen := func(query string) int { return len(webtest.Ticked(s.Page("/walk?"+query), "bed")) }
	due := chosen("")
	require.Equal(t, 14, due, "the two that were due and the twelve new ones")
	page := s.Get("/walk").Body.String()
	assert.Contains(t, page, `value="row:Tunnel"`)
	var all string
	for _, bed := range webtest.Ticked(webtest.Parsed(page), "bed") {
		all += "&bed=" + bed
	}
	require.Equal(t, 14, strings.Count(all, "&bed="))
	id := func(n int) string { return fmt.Sprint(s.Bed(fmt.Sprintf("Tunnel %d", n)).Bed.ID) }
	assert.Equal(t, 12, chosen("asked=1&pick=row:Tunnel"+all), "in place of the proposal")
	assert.Equal(t, 13, chosen("asked=1&pick=row:Tunnel&bed="+fmt.Sprint(s.Bed("Top lawn").Bed.ID)), "beside what was chosen")
	assert.Equal(t, 5, chosen("asked=1&pick=reach&from="+id(8)+"&to="+id(4)+all), "whichever comes first")
	assert.Equal(t, 6, chosen("asked=1&pick=reach&from="+id(4)+"&to="+id(8)+"&bed="+id(1)))
	assert.Zero(t, chosen("asked=1&pick=none"+all))
	row := ""
	for n := range 12 {
		row += "&bed=" + id(n+1)
	}
	assert.Zero(t, chosen("asked=1&pick=row:Tunnel"+row), "asked for again it is taken off")
}

// A bed with a dose in the year names the amounts whose place its new one takes, whatever the new one is of.
func TestReplacedAmountsAreNamed(t *testing.T) {
	s := webtest.New(t, true)
	kale := s.Bed("Kale and roots").Bed
	var total quantity.Mass
	for _, x := range s.OpenTasks(kale.ID) {
		if x.Kind == garden.TaskApplication && x.PlanID != nil {
			require.Equal(t, material.CalciticLime, x.What)
			total += x.Total
		}
	}
	require.NotZero(t, total)
	for _, with := range []string{"", dosing.BatchKey(s.Stock("Oven ash, autumn batch").ID)} {
		says := webtest.Wording(s.Page("/dose/many?with=" + with))
		assert.Contains(t, says, "planned now: "+text.Mass(total)+" of ground limestone", with)
	}
	assert.Equal(t, 3, strings.Count(webtest.Wording(s.Page("/dose/many")), "planned now"), "lime, ash and sulfur of the demo")
}
