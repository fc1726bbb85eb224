package form_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

func typed(values ...string) form.Form {
	f := form.NoForm()
	for i := 0; i < len(values); i += 2 {
		f.Values[values[i]] = values[i+1]
	}
	return f
}

func TestFiguresAreReadAsTheyAreTyped(t *testing.T) {
	for text, want := range map[string]float64{"6.4": 6.4, "6,4": 6.4, "-2": -2, "1e3": 1000} {
		x, ok := typed("x", text).Number("x")
		assert.True(t, ok, text)
		assert.InDelta(t, want, x, 1e-12, text)
	}
	for _, text := range []string{"NaN", "six", "1e10", "-1e10", "6.4.1"} {
		f := typed("x", text)
		_, ok := f.Number("x")
		assert.False(t, ok, text)
		assert.Contains(t, f.Fault("x"), text)
	}
	f := typed("x", "")
	_, ok := f.Number("x")
	assert.False(t, ok)
	assert.Empty(t, f.Faults, "nothing typed is no fault")
	assert.Zero(t, f.Needed("x", "a figure is needed"))
	assert.Equal(t, "a figure is needed", f.Fault("x"))
}

func TestEachKeyIsOfItsOwn(t *testing.T) {
	seen := map[string]bool{}
	for range 100 {
		k := form.NewKey()
		assert.GreaterOrEqual(t, len(k), 22)
		assert.False(t, seen[k])
		seen[k] = true
	}
}

func TestFaultsOfTheGardenStandAtTheirFields(t *testing.T) {
	f := typed()
	f.Faults["ph"] = "is said here first"
	assert.True(t, f.Add(errors.Join(errors.New("x"), garden.Faults{"ph": "is said there", "depth": "too deep", garden.SureField: "a day"})))
	f.Sentences()
	assert.Equal(t, "Is said here first.", f.Fault("ph"))
	assert.Equal(t, "Too deep.", f.Fault("depth"))
	assert.Equal(t, "a day", f.Fault(garden.SureField), "a question is no sentence yet")
	assert.False(t, f.Add(errors.New("another thing")))
}
