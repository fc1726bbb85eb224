package photo_test

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color/palette"
	"image/jpeg"
	"testing"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/photo"
)

// FuzzSmall holds: no panic, a refusal is one at the form's field, and what is stored is a JPEG of the size that is
// promised.
func FuzzSmall(f *testing.F) {
	f.Add(jpegOf(f, slope(40, 30)))
	f.Add(pngOf(f, slope(40, 30)))
	f.Add(pngOf(f, image.NewNRGBA64(image.Rect(0, 0, 9, 9))))
	f.Add(pngOf(f, image.NewPaletted(image.Rect(0, 0, 9, 9), palette.Plan9)))
	f.Add(progressive(64, 64, 0x22, 3))
	f.Add(progressive(9, 9, 0x41, 25))
	f.Add(headOnly(1<<31, 1, 16, 6, 1))
	f.Fuzz(func(t *testing.T, raw []byte) {
		small, err := photo.Small(context.Background(), bytes.NewReader(raw))
		if err != nil {
			var faults garden.Faults
			if !errors.As(err, &faults) || faults[photo.Field] == "" {
				t.Fatal(err)
			}
			return
		}
		head, err := jpeg.DecodeConfig(bytes.NewReader(small))
		if err != nil || max(head.Width, head.Height) > 1000 {
			t.Fatalf("%v: %d × %d", err, head.Width, head.Height)
		}
	})
}
