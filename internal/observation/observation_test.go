package observation_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/symptom"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

// shot returns a picture of so many pixels, as PNG, which a phone's screen may send.
func shot(t *testing.T, w, h int) []byte {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for x := range w {
		for y := range h {
			img.Set(x, y, color.RGBA{uint8(x), uint8(y), uint8(x * y), 255})
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	return b.Bytes()
}

// What is seen is a question until a reading that can tell was taken; it is never older than a season, and goes with its picture.
// note records an observation of the garden's bed.
func note(t *testing.T, y *gardentest.Garden, key, sign, day string, photo []byte) {
	t.Helper()
	act := y.Actor
	act.Key = key
	_, err := y.App.Observation.Note(gardentest.Ctx, act, garden.Observation{BedID: y.Bed.ID, Sign: sign, Day: gardentest.Day(day),
		Note: " by the wall "}, reader(photo))
	require.NoError(t, err)
}

// reader reads a picture; nil for none.
func reader(photo []byte) io.ReadSeeker {
	if photo == nil {
		return nil
	}
	return bytes.NewReader(photo)
}

// assertSmall checks that a photograph of 1600 × 900 pixels was scaled down to what is stored.
func assertSmall(t *testing.T, raw []byte) {
	t.Helper()
	head, kind, err := image.DecodeConfig(bytes.NewReader(raw))
	require.NoError(t, err)
	assert.Equal(t, "jpeg", kind)
	assert.Equal(t, [2]int{1000, 562}, [2]int{head.Width, head.Height}, "made small, its shape kept")
	assert.LessOrEqual(t, len(raw), garden.MostPhoto)
}

func TestObservationIsOpenUntilRead(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2026-05-15", ""))
	note(t, y, "a", "green-veins", "2026-09-10", shot(t, 1600, 900))
	all, err := y.App.Observation.OfBed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.True(t, all[0].Pictured && all[0].Open)
	assert.Equal(t, "by the wall", all[0].Note)
	asks, err := y.App.Observation.Asks(gardentest.Ctx, gardentest.Today)
	require.NoError(t, err)
	assert.Contains(t, asks, y.Bed.ID)
	raw, err := y.App.Observation.Photo(gardentest.Ctx, all[0].ID)
	require.NoError(t, err)
	assertSmall(t, raw)
	old, err := y.App.Observation.Asks(gardentest.Ctx, gardentest.Day("2026-09-10")+symptom.Fresh+1)
	require.NoError(t, err)
	assert.Empty(t, old, "a question of long ago is none")
	other := garden.Bed{Name: "Other", Kind: garden.KindBed, Shape: garden.ShapeRect, X: 9, W: 2, H: 2, Texture: "loam",
		Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeNone}
	y.Add(&other)
	elsewhere, struck, before := y.Reading("2026-11-12", soil.Lab, 5.7), y.Reading("2026-11-12", soil.Lab, 5.7), y.Reading("2026-09-09",
		soil.Lab, 5.7)
	elsewhere.BedID, struck.Struck, struck.StruckWhy = other.ID, gardentest.Day("2026-11-13"), "a wrong pail"
	y.Add(elsewhere, struck, before)
	for _, of := range []func() bool{
		func() bool {
			asks, err = y.App.Observation.Asks(gardentest.Ctx, gardentest.Today)
			return asks[y.Bed.ID].ID != 0
		},
		func() bool {
			all, err = y.App.Observation.OfBed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
			return all[0].Open
		},
	} {
		assert.True(t, of(), "another bed, struck out, before it was seen: still a question")
		require.NoError(t, err)
	}
	y.Add(y.Reading("2026-11-12", soil.Lab, 5.7))
	all, err = y.App.Observation.OfBed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.False(t, all[0].Open)
	asks, err = y.App.Observation.Asks(gardentest.Ctx, gardentest.Today)
	require.NoError(t, err)
	assert.Empty(t, asks, "read since")
	act := y.Actor
	act.Key = "off"
	off, err := y.App.Observation.Forget(gardentest.Ctx, act, all[0].ID, all[0].Version)
	require.NoError(t, err)
	_, err = y.App.Observation.Photo(gardentest.Ctx, all[0].ID)
	require.ErrorIs(t, err, garden.ErrMissing)
	y.TakeBack(off.Journal)
	_, err = y.App.Observation.Photo(gardentest.Ctx, all[0].ID)
	require.NoError(t, err, "back with its picture")
}

// What is no sight or no picture is reported at its field, and nothing is kept.
func TestInvalidObservations(t *testing.T) {
	y := gardentest.New(t)
	for field, x := range map[string]struct {
		s     garden.Observation
		photo []byte
	}{
		"sign":  {garden.Observation{BedID: y.Bed.ID, Sign: "triffid", Day: gardentest.Today}, nil},
		"day":   {garden.Observation{BedID: y.Bed.ID, Sign: "scab", Day: gardentest.Today + 1}, nil},
		"photo": {garden.Observation{BedID: y.Bed.ID, Sign: "scab", Day: gardentest.Today}, []byte("no picture")},
	} {
		act := y.Actor
		act.Key = field
		_, err := y.App.Observation.Note(gardentest.Ctx, act, x.s, reader(x.photo))
		var f garden.Faults
		require.ErrorAs(t, err, &f, field)
		assert.NotEmpty(t, f[field], "%v", f)
	}
	all, err := y.App.Observation.OfBed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.Empty(t, all)
}
