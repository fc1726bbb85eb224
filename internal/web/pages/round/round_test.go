package round_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

// Stops that were ticked one after the other are one line, and go back together.
func TestTicksAreUndoneTogether(t *testing.T) {
	s := webtest.New(t, true)
	round, stop := s.Walked()
	for n := 1; n <= 2; n++ {
		w := s.Post("/walk/"+strconv.FormatInt(round, 10)+"/tick", url.Values{"stop": {stop}, "core": {strconv.Itoa(n)}})
		require.Less(t, w.Code, 400)
	}
	found := false
	for _, list := range webtest.Forms(webtest.ByID(t, s.Page("/keep"), "journal").Parent) {
		for x := range list[0].Descendants() {
			if name, _ := webtest.Attr(x, "name"); name == "more" {
				more, _ := webtest.Attr(x, "value")
				found = found || more != ""
			}
		}
	}
	assert.True(t, found)
}

func TestTicksAreFoldedInJournal(t *testing.T) {
	s := webtest.New(t, true)
	ctx := context.Background()
	bed := s.Bed("Top lawn").Bed.ID
	w := s.Post("/walk", url.Values{"asked": {"1"}, "bed": {fmt.Sprint(bed)}, "key": {"walk"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	round := webtest.Grep(w.Header().Get("Location"), `/walk/(\d+)`)
	stop := webtest.Grep(s.Get("/walk/"+round).Body.String(), `name="stop" value="(\d+)"`)
	for n := 1; n <= 5; n++ {
		form := url.Values{"stop": {stop}, "core": {fmt.Sprint(n)}, "key": {fmt.Sprint("core", n)}}
		require.Equal(t, http.StatusSeeOther, s.Post("/walk/"+round+"/tick", form).Code)
	}
	page := s.Get("/keep").Body.String()
	assert.Contains(t, page, "5 stops cored, the last of them: Core 5 of Top lawn")
	more := webtest.Grep(page, `name="more" value="([\d,]+)"`)
	require.Len(t, strings.Split(more, ","), 4)
	first := webtest.Grep(page, `action="/undo/(\d+)"`)
	s.Saved(s.Post("/undo/"+first, url.Values{"more": {more}, "key": {"all"}, "back": {"/keep"}}))
	id, err := s.App.Rounds.Rounds(ctx)
	require.NoError(t, err)
	walked, err := s.App.Rounds.Walk(ctx, id[0].ID)
	require.NoError(t, err)
	assert.Empty(t, walked.Taken)
	assert.Contains(t, s.Get("/keep").Body.String(), "and 4 before it")
}

func TestRepeatedTickCountsOnce(t *testing.T) {
	s := webtest.New(t, true)
	path := s.SetOut("New ground")
	page := s.Get(path).Body.String()
	assert.Contains(t, page, "12 cores to take")
	stop := regexp.MustCompile(`id="stop-(\d+)"`).FindStringSubmatch(page)[1]
	send := func(key, core string, header bool) int {
		r := url.Values{"key": {key}, "stop": {stop}, "core": {core}, "at": {"1795511000000"}}
		if !header {
			return s.Post(path+"/tick", r).Code
		}
		req := webtest.NewPost(path+"/tick", r)
		req.Header.Set("X-Queued", "1")
		return s.Do(req).Code
	}
	assert.Equal(t, http.StatusNoContent, send("k1", "1", true))
	assert.Equal(t, http.StatusNoContent, send("k1", "1", true), "the same post again")
	assert.Equal(t, http.StatusNoContent, send("k2", "1", true), "the same core under another key")
	assert.Equal(t, http.StatusSeeOther, send("k3", "2", false), "as a plain request")
	assert.Equal(t, http.StatusUnprocessableEntity, send("k4", "77", true))
	round := s.Get(path).Body.String()
	assert.Contains(t, round, "10 cores to take")
	assert.Equal(t, 2, strings.Count(round, `class="core-button taken" aria-pressed="true" disabled`), "what is taken is taken once")
	assert.Equal(t, 10, strings.Count(round, `class="core-button" aria-pressed="false"`))
	assert.Regexp(t, `aria-label="Core 1 of New ground, taken \d\d:\d\d"`, round)
	require.Equal(t, http.StatusSeeOther, s.Post(path+"/note", url.Values{"stop": {stop}, "note": {"Old roots."}}).Code)

	rows, err := csv.NewReader(s.Get(path + "/round.csv").Body).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "2A", "New ground", "12", "2", "15.0", "planned", "", "Old roots.", "12", "19.0"}, rows[1])
	assert.Contains(t, webtest.Wording(s.Page(path+"/labels")), "2A")
}
