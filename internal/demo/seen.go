package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// see notes what was seen over the seasons; one of it is a question still, and has a
// picture.
func (b *builder) see() error {
	for _, x := range []struct{ bed, sign, day, note string }{
		{"Kale and roots", "clubbed-roots", "2025-09-14", "Three kale plants at the north end."},
		{"Top lawn", "moss", "2026-03-08", ""},
		{"Plum row", "pale-all-over", "2026-08-02", "The last tree of the row."},
	} {
		day, err := quantity.ParseDay(x.day)
		if err != nil {
			return err
		}
		s := garden.Observation{BedID: b.beds[x.bed].ID, Day: day, Sign: x.sign, Note: x.note, Pictured: x.sign == "pale-all-over"}
		if err := b.tx.Insert(&s); err != nil {
			return err
		}
		if x.sign != "pale-all-over" {
			continue
		}
		raw, err := leaf()
		if err != nil {
			return err
		}
		if err := b.tx.Insert(&garden.Photo{ObservationID: s.ID, JPEG: garden.Encode(raw)}); err != nil {
			return err
		}
	}
	return nil
}

// leaf draws a pale leaf over dark ground, in the place of a photograph: a made-up garden
// has none.
func leaf() ([]byte, error) {
	const w, h = 320, 220
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{uint8(70 + (x*7+y*13)%24), uint8(56 + (x*5+y*11)%18), 44, 255}
			u, v := (float64(x)-w/2)/130, (float64(y)-h/2)/80
			if u*u+v*v*(1+0.9*u*u) < 1 {
				c = color.RGBA{uint8(190 + (x+y)%20), uint8(196 + (x*3)%16), 104, 255}
				if max(v, -v) < 0.03 || (x+40)%56 < 3 && u*u+v*v < 0.8 {
					c = color.RGBA{214, 214, 140, 255}
				}
			}
			img.Set(x, y, c)
		}
	}
	var b bytes.Buffer
	err := jpeg.Encode(&b, img, &jpeg.Options{Quality: 70})
	return b.Bytes(), err
}
