package share_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// What is on hand is shared out over all beds: no more of it than there is, none of what
// is barred, and the same in the picture and the table.
func TestShareOut(t *testing.T) {
	s := webtest.New(t, true)
	sh, err := s.App.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.Today, nil, nil)
	require.NoError(t, err)
	assert.Zero(t, sh.Gap)
	assert.Contains(t, sh.Untested, "New ground")
	for i := range sh.Beds {
		b := &sh.Beds[i]
		w, err := s.App.Dosing.Dose(context.Background(), b.Dose.Record.Bed.ID, dosing.Choice{}, s.Today)
		require.NoError(t, err)
		assert.Equal(t, w.Answer, b.Answer, "%s is shared out by its own dose", b.Dose.Record.Bed.Name)
		assert.Equal(t, w.Request, b.Request)
	}
	for m, of := range sh.Of {
		sum := 0.0
		for i, b := range sh.Beds {
			sum += float64(sh.Given[i][m].Over(b.Area))
			if b.Dose.Record.Bed.Name == "Blueberry pocket" && of.Family == material.Ash {
				assert.Zero(t, sh.Given[i][m], "never on an acid lover")
			}
		}
		if of.OnHand != nil {
			assert.LessOrEqual(t, sum, float64(*of.OnHand)+0.01, sh.Stocks[m].Name)
		}
		if of.Barred() {
			assert.Zero(t, sum, sh.Stocks[m].Name)
		}
	}
	page := s.Get("/shed/share").Body.String()
	assert.Contains(t, page, "of 50 kg of ash for", "what is barred is no ash that may")
	assert.Contains(t, s.Get("/shed").Body.String(), "50 kg of ash in 2 bins, 12 kg not to be used")
	assert.Contains(t, page, "Fire-pit ash is not to be used: driftwood from the sea went into this batch.")
	assert.Contains(t, page, "No reading, so no share")
	fed := 0
	for i := range sh.Beds {
		if slices.ContainsFunc(sh.Given[i], func(x quantity.Rate) bool { return x > 0 }) {
			fed++
		} else {
			assert.Regexp(t, "Nothing for [^.<]*"+sh.Beds[i].Dose.Record.Bed.Name, page, "what is left out is named")
		}
	}
	assert.Equal(t, fed, strings.Count(page, `class="bed-name"`))
	assert.Contains(t, page, "Top lawn, oven ash, autumn batch: what stays on top waits for a test before more goes on.")
	for _, held := range sh.Held {
		for _, h := range held {
			assert.True(t, h.Limit != "" || len(h.Against) > 0, "what holds a bed back is named")
		}
	}
	// A bin of 1 kg: its next kilo is worth something, and says where.
	s.Saved(s.Post("/shed/1/move", url.Values{"moved": {"1"}, "moved_kind": {"weighed"}, "key": {"w"}}))
	s.Saved(s.Post("/shed/2/move", url.Values{"moved": {"0"}, "moved_kind": {"weighed"}, "key": {"w2"}}))
	page = s.Get("/shed/share").Body.String()
	assert.Regexp(t, `One more kg of oven ash, autumn batch would be for [A-Z][a-z ]+ and save €\d`, page)
	assert.Contains(t, webtest.New(t, false).Get("/shed/share").Body.String(), "Nothing has been read yet")
}

// All of it is put in the year with one press, to the gram, and taken back with one.
func TestShareIsPlannedToTheGram(t *testing.T) {
	s := webtest.New(t, true)
	sh, err := s.App.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.Today, nil, nil)
	require.NoError(t, err)
	page := s.Get("/shed/share").Body.String()
	assert.Contains(t, page, `id="put-all">Plan all 5 beds`)
	assert.Contains(t, page, "It replaces what is planned for")
	w := s.Post("/shed/share", url.Values{"key": {"all"}})
	s.Saved(w)
	assert.Contains(t, s.Get(w.Header().Get("Location")).Body.String(), " for 5 beds.")
	for i := range sh.Beds {
		b := &sh.Beds[i]
		planned := map[int64]float64{}
		last := map[int64]garden.Task{}
		retests := 0
		for _, x := range s.OpenTasks(b.Dose.Record.Bed.ID) {
			if x.Kind == garden.TaskRetest {
				retests++
				continue
			}
			require.NotNil(t, x.BatchID)
			planned[*x.BatchID] += float64(x.Total)
			if was, ok := last[*x.BatchID]; ok {
				assert.GreaterOrEqual(t, int(x.Due-was.Due), 8*7, "goes of ash stand eight weeks apart")
			}
			last[*x.BatchID] = x
			assert.LessOrEqual(t, float64(x.Rate), 500.0)
		}
		gets := false
		for m := range sh.Stocks {
			want := float64(sh.Given[i][m].Over(b.Area))
			gets = gets || want > 0
			assert.InDelta(t, want, planned[sh.Stocks[m].ID], 1, "%s, %s", b.Dose.Record.Bed.Name, sh.Stocks[m].Name)
		}
		if gets {
			assert.Equal(t, 1, retests, b.Dose.Record.Bed.Name)
		}
	}
}

// A large garden is shared out beside the page, which tells how far it is and leads on.
func TestLargeGardenShowsProgress(t *testing.T) {
	s := webtest.New(t, true)
	var beds, read []garden.Record
	for i := range 130 {
		beds = append(beds, &garden.Bed{Name: fmt.Sprintf("Long bed %d", i+1), Kind: garden.KindBed, Shape: garden.ShapeRect, X: 40,
			Y: float64(i) * 3, W: 5, H: 2, Texture: soil.Loam, Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeNone})
	}
	s.Add(beds...)
	for i, b := range beds {
		ph := quantity.PH(5.5 + 0.01*float64(i))
		read = append(read, &garden.Reading{BedID: b.(*garden.Bed).ID, Date: s.Today - 20, Method: soil.Lab, Basis: soil.Water, PH: &ph,
			Cores: 12, Depth: 0.15})
	}
	s.Add(read...)
	page := s.Get("/shed/share?goal=foot")
	require.Equal(t, http.StatusOK, page.Code)
	assert.Contains(t, page.Body.String(), "Being shared out over 143 beds")
	require.Eventually(t, func() bool {
		return s.Get("/shed/share/progress?goal=foot").Header().Get("Location") == "/shed/share?goal=foot" &&
			strings.Contains(s.Get("/shed/share?goal=foot").Body.String(), "of ash for")
	}, time.Minute, 20*time.Millisecond)
	assert.Contains(t, s.Get("/shed/share?goal=foot").Body.String(), "Long bed 130")
}

// Each bed that gets something is planned, or named with the reason; the button counts those that are, and so does the journal.
func TestEveryShareIsPlannedOrNamed(t *testing.T) {
	s := webtest.New(t, true)
	sh, err := s.App.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.Today, nil, nil)
	require.NoError(t, err)
	var planned, left []string
	for i := range sh.Beds {
		b := &sh.Beds[i]
		gets := slices.ContainsFunc(sh.Given[i], func(x quantity.Rate) bool { return x > 0 })
		assert.Equal(t, gets, b.Plan != nil, "%s is planned", b.Dose.Record.Bed.Name)
		if b.Plan != nil {
			planned = append(planned, b.Dose.Record.Bed.Name)
		} else if b.Why != "" {
			left = append(left, b.Dose.Record.Bed.Name+": "+b.Why)
		}
	}
	page := s.Page("/shed/share")
	for _, x := range left {
		assert.Contains(t, webtest.Wording(page), x)
	}
	assert.Contains(t, webtest.Wording(webtest.ByID(t, page, "put-all")), text.Count(len(planned), "bed", "beds"))
	w := s.Post("/shed/share", url.Values{"key": {"all"}})
	s.Saved(w)
	assert.Contains(t, s.LastLine().What, text.Count(len(planned), "bed", "beds"))
}

// A bed whose dose waits for its test keeps nothing from the others: what it may not have is shared out among them or left over.
func TestShareOutLeavesOutWhatWaitsForTest(t *testing.T) {
	s := webtest.New(t, true)
	lower := s.Bed("Lower ledge").Bed.ID
	begun := s.OpenTasks(lower)[0]
	s.Saved(s.Post("/tasks/"+webtest.ID(begun.ID)+"/put-on", url.Values{"version": {webtest.ID(begun.Version)}, "planned": {"yes"},
		"key": {"begun"}}))
	s.Today += 7
	s.Saved(s.Post("/shed/1/move", url.Values{"moved": {"3"}, "moved_kind": {"weighed"}, "key": {"w"}}))
	s.Saved(s.Post("/shed/2/move", url.Values{"moved": {"0"}, "moved_kind": {"weighed"}, "key": {"w2"}}))
	sh, err := s.App.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.Today, nil, nil)
	require.NoError(t, err)
	gone := quantity.Mass(0)
	for i := range sh.Beds {
		b := &sh.Beds[i]
		if b.Dose.Record.Bed.ID == lower {
			assert.Contains(t, b.Why, "waits for the test of")
			assert.Equal(t, make([]quantity.Rate, len(sh.Stocks)), sh.Given[i])
			require.NotNil(t, b.After)
			assert.Equal(t, s.Bed("Lower ledge").AtWork.Settles, *b.After, "what went on takes it there")
		}
		if b.Plan != nil {
			require.NotNil(t, b.After)
			assert.Equal(t, b.Plan.PH.Median, *b.After)
			for _, p := range b.Plan.Parts {
				if sh.Stocks[p.Batch].ID == 1 {
					gone += p.Total
				}
			}
		}
	}
	assert.InDelta(t, 3000, float64(gone+*sh.Left[0]), 1, "what is planned and what is left over are the bin")
	assert.Less(t, float64(*sh.Left[0]), 1.0, "the others get it")
	page := webtest.Wording(s.Page("/shed/share"))
	assert.Contains(t, page, "Lower ledge: the rest of the dose that was begun waits for the test of")
	assert.NotContains(t, page, "Lower ledge, oven ash", "one reason is told")
	assert.Regexp(t, `Plan \d beds`, page, "not all of them")
	assert.Regexp(t, `\d scoops of oven ash, autumn batch`, page, "there are two bins of ash")
}

// A search tells when all is read, so that no view of the garden is held meanwhile; a plan that was kept needs none.
func TestSearchTellsThatAllIsRead(t *testing.T) {
	s := webtest.New(t, true)
	searched := 0
	for range 2 {
		_, err := s.App.Dosing.Share(context.Background(), dosing.ShareChoice{}, s.Today, nil, func() { searched++ })
		require.NoError(t, err)
		assert.Equal(t, 1, searched)
	}
}
