package ui_test

import (
	"bytes"
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/ui"
)

func form(values ...string) ui.Form {
	f := ui.NoForm()
	for i := 0; i < len(values); i += 2 {
		f.Values[values[i]] = values[i+1]
	}
	return f
}

func TestFiguresAreReadAsTheyAreTyped(t *testing.T) {
	for typed, want := range map[string]float64{"6.4": 6.4, "6,4": 6.4, "-2": -2, "1e3": 1000} {
		x, ok := form("x", typed).Number("x")
		assert.True(t, ok, typed)
		assert.InDelta(t, want, x, 1e-12, typed)
	}
	for _, typed := range []string{"NaN", "six", "1e10", "-1e10", "6.4.1"} {
		f := form("x", typed)
		_, ok := f.Number("x")
		assert.False(t, ok, typed)
		assert.Contains(t, f.Fault("x"), typed)
	}
	f := form("x", "")
	_, ok := f.Number("x")
	assert.False(t, ok)
	assert.Empty(t, f.Faults, "nothing typed is no fault")
	assert.Zero(t, f.Needed("x", "a figure is needed"))
	assert.Equal(t, "a figure is needed", f.Fault("x"))
}

func TestOnlyPlacesOfOurOwnAreGoneTo(t *testing.T) {
	for _, own := range []string{"/", "/beds/2?on=2026-11-24", "/sheet#go-3"} {
		assert.Equal(t, own, ui.Within(own))
	}
	for _, other := range []string{"", "beds", "//else.where/", "///else.where", "////else.where/a",
		"https://else.where/", `/\else.where`, "/a b", "/a\nb", "javascript:x"} {
		assert.Equal(t, "/", ui.Within(other), other)
	}
}

func TestEachSendingHasKeysOfItsOwn(t *testing.T) {
	page := []byte(ui.NewKey() + " " + ui.NewKey())
	sent := func() []string {
		var b bytes.Buffer
		require.NoError(t, ui.Send(&b, page))
		return strings.Fields(b.String())
	}
	first, second := sent(), sent()
	assert.Len(t, first, 2)
	all := append(first, second...)
	for i, a := range all {
		assert.GreaterOrEqual(t, len(a), 23)
		for _, b := range all[i+1:] {
			assert.NotEqual(t, a, b)
		}
	}
}

func TestFaultsOfTheGardenStandAtTheirFields(t *testing.T) {
	f := form()
	f.Faults["ph"] = "is said here first"
	assert.True(t, f.Add(errors.Join(errors.New("x"), garden.Faults{"ph": "is said there", "depth": "too deep", garden.SureField: "a day"})))
	f.Sentences()
	assert.Equal(t, "Is said here first.", f.Fault("ph"))
	assert.Equal(t, "Too deep.", f.Fault("depth"))
	assert.Equal(t, "a day", f.Fault(garden.SureField), "a question is no sentence yet")
	assert.False(t, f.Add(errors.New("another thing")))
	assert.Equal(t, "b", ui.FirstFault(garden.Faults{"2": "c", "1": "b"}))
}

// Two notices stand open, the gravest first; the rest are folded, and counted.
func TestAtMostTwoNoticesStandOpen(t *testing.T) {
	list := []words.Guarded{{Level: guard.Note, Says: "n1"}, {Level: guard.Caution, Says: "c1"}, {Level: guard.Stop, Says: "s1"},
		{Level: guard.Caution, Says: "c2"}}
	open, folded, found := strings.Cut(string(ui.Guards(list)), "<details")
	assert.True(t, found)
	assert.Less(t, strings.Index(open, "s1"), strings.Index(open, "c1"))
	assert.Equal(t, 2, strings.Count(open, "<p>"))
	assert.Contains(t, folded, "2 more notes")
	assert.Contains(t, folded, "n1")
	assert.NotContains(t, string(ui.Guards(list[:2])), "<details")
	assert.Equal(t, "n1", list[0].Says, "what came in stays as it is")
}
