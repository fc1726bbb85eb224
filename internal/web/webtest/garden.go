package webtest

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"

	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
)

// Bed returns a bed's state today, by its name.
func (c *Client) Bed(name string) bedstate.State {
	c.T.Helper()
	v, err := c.App.BedState.View(context.Background(), c.Today)
	require.NoError(c.T, err)
	for _, p := range v.Beds {
		if p.Bed.Name == name {
			return p
		}
	}
	require.Fail(c.T, "no such bed", name)
	return bedstate.State{}
}

// Record reads a bed's record.
func (c *Client) Record(bed int64) bedstate.Record {
	c.T.Helper()
	r, err := c.App.BedState.Bed(context.Background(), bed, c.Today)
	require.NoError(c.T, err)
	return r
}

// OpenTasks returns a bed's open tasks.
func (c *Client) OpenTasks(bed int64) (out []garden.Task) {
	for _, t := range c.Record(bed).Tasks {
		if t.State == garden.Open {
			out = append(out, t)
		}
	}
	return out
}

// OpenTask returns the first open task of a kind, one that is due where there is one.
func (c *Client) OpenTask(kind string) garden.Task {
	c.T.Helper()
	v, err := c.App.BedState.View(context.Background(), c.Today)
	require.NoError(c.T, err)
	for _, t := range v.Tasks {
		if t.Kind == kind && t.Due <= c.Today {
			return t
		}
	}
	for _, t := range v.Tasks {
		if t.Kind == kind {
			return t
		}
	}
	require.Fail(c.T, "no task", kind)
	return garden.Task{}
}

// Stock returns a batch with its stock, by name.
func (c *Client) Stock(name string) inventory.Stock {
	c.T.Helper()
	shed, err := c.App.Inventory.View(context.Background(), c.Today)
	require.NoError(c.T, err)
	for _, x := range shed.Stock {
		if x.Name == name {
			return x
		}
	}
	require.Fail(c.T, "not on the shelf", name)
	return inventory.Stock{}
}

// Batch reads a batch.
func (c *Client) Batch(id int64) garden.Batch {
	c.T.Helper()
	b, err := c.App.Inventory.Batch(context.Background(), id)
	require.NoError(c.T, err)
	return b
}

// Readings counts the readings of the garden.
func (c *Client) Readings() int {
	n := 0
	for _, line := range strings.Split(c.Get("/export/readings.csv").Body.String(), "\n") {
		if line != "" {
			n++
		}
	}
	return n - 1
}

// Add inserts records.
func (c *Client) Add(rs ...garden.Record) {
	c.T.Helper()
	_, err := c.Store.Change(c.T.Context(), garden.Change{}, func(tx garden.Tx) (string, error) {
		for _, r := range rs {
			if err := tx.Insert(r); err != nil {
				return "", err
			}
		}
		return "added", nil
	})
	require.NoError(c.T, err)
}

// Change makes a change in the store.
func (c *Client) Change(put func(tx garden.Tx) error) {
	c.T.Helper()
	_, err := c.Store.Change(context.Background(), garden.Change{}, func(tx garden.Tx) (string, error) { return "changed", put(tx) })
	require.NoError(c.T, err)
}

// LastLine returns the newest line of the journal.
func (c *Client) LastLine() garden.Line {
	c.T.Helper()
	lines, err := c.App.Journal(context.Background(), 0, 1)
	require.NoError(c.T, err)
	require.NotEmpty(c.T, lines)
	return lines[0]
}

var (
	versions = regexp.MustCompile(`"version":\d+`)
	journal  = regexp.MustCompile(`(?s)"journal": \[.*`)
)

// Records returns the garden's archive without journal and versions.
func (c *Client) Records() string {
	return versions.ReplaceAllString(journal.ReplaceAllString(c.Get("/export/garden.json").Body.String(), ""), "")
}

// Walked starts a round of one bed, and returns it with its first stop.
func (c *Client) Walked() (round int64, stop string) {
	c.T.Helper()
	w := c.Post("/walk", url.Values{"asked": {"1"}, "bed": {ID(c.Bed("Top lawn").Bed.ID)}, "key": {fmt.Sprint("set-out", c.LastLine().ID)}})
	require.Equal(c.T, http.StatusSeeOther, w.Code)
	round, err := strconv.ParseInt(Grep(w.Header().Get("Location"), `/walk/(\d+)`), 10, 64)
	require.NoError(c.T, err)
	return round, Grep(c.Get(fmt.Sprintf("/walk/%d", round)).Body.String(), `name="stop" value="(\d+)"`)
}

// Preparation returns a bed's open preparation, creating one if needed.
func (c *Client) Preparation() bedstate.Preparation {
	c.T.Helper()
	bed := c.Bed("Kale and roots").Bed.ID
	if open := c.Record(bed).State.Preparations; len(open) > 0 {
		return open[0]
	}
	w := c.Post(PreparationPath(bed), url.Values{"key": {fmt.Sprint("turn", c.LastLine().ID)}})
	require.Equal(c.T, http.StatusSeeOther, w.Code, w.Body.String())
	return c.Record(bed).State.Preparations[0]
}

// Warm records a soil temperature and returns it.
func (c *Client) Warm(celsius string) garden.SoilDay {
	c.T.Helper()
	w := c.Post("/warmth", url.Values{"soil_c": {celsius}, "key": {fmt.Sprint("warm", c.LastLine().ID)}})
	require.Equal(c.T, http.StatusSeeOther, w.Code, w.Body.String())
	x, err := c.App.Layout.Soil(context.Background())
	require.NoError(c.T, err)
	return x.Days[0]
}

// SetOut starts a sampling round of beds, and gives its path.
func (c *Client) SetOut(beds ...string) (path string) {
	c.T.Helper()
	form := url.Values{"asked": {"1"}, "corer": {"19"}, "wanted": {"500"}}
	for _, name := range beds {
		form.Add("bed", fmt.Sprint(c.Bed(name).Bed.ID))
	}
	w := c.Post("/walk", form)
	require.Equal(c.T, http.StatusSeeOther, w.Code)
	path, _, _ = strings.Cut(w.Header().Get("Location"), "?")
	return path
}
