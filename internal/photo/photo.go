// Package photo scales uploaded pictures down for storage, within bounds of memory and time.
package photo

import (
	"bytes"
	"context"
	"image"
	"image/jpeg"
	_ "image/png" // accepted uploads
	"io"

	"golang.org/x/image/draw"

	"zephyrfield/internal/garden"
)

// Field is the form's field of the picture, at which faults are reported.
const Field = "photo"

// What is stored: the largest side in pixels, and the JPEG quality.
const (
	smallSide = 1000
	quality   = 72
)

// decoding is held while a picture is decoded: one at a time, since each may take mostBytes.
var decoding = make(chan struct{}, 1)

// Small scales a picture down for storage and drops its metadata, such as the place. It waits for other pictures
// and stops when ctx ends. Errors are garden.Faults at Field, or those of ctx.
func Small(ctx context.Context, raw io.ReadSeeker) ([]byte, error) {
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	in := &until{ctx, raw}
	if err := check(in); err != nil {
		return nil, err
	}
	select {
	case decoding <- struct{}{}:
		defer func() { <-decoding }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	full, _, err := image.Decode(in)
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, unreadable()
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, scaled(full), &jpeg.Options{Quality: quality}); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

// strip is the number of lines of the small picture that are scaled at a time: the scaler holds 32 bytes for each
// line of the full one.
const strip = 64

// scaled returns a picture scaled to smallSide.
func scaled(full image.Image) *image.RGBA {
	b := full.Bounds()
	w, h := b.Dx(), b.Dy()
	if side := max(w, h); side > smallSide {
		w, h = max(1, w*smallSide/side), max(1, h*smallSide/side)
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	at := func(y int) int { return b.Min.Y + y*b.Dy()/h }
	for y := 0; y < h; y += strip {
		end := min(y+strip, h)
		draw.BiLinear.Scale(small, image.Rect(0, y, w, end), full, image.Rect(b.Min.X, at(y), b.Max.X, at(end)), draw.Src, nil)
	}
	return small
}

// until reads until its context ends.
type until struct {
	ctx context.Context
	io.ReadSeeker
}

func (u *until) Read(p []byte) (int, error) {
	if err := u.ctx.Err(); err != nil {
		return 0, err
	}
	return u.ReadSeeker.Read(p)
}

func unreadable() error {
	return garden.Faults{Field: "that is no photograph that can be read here; JPEG or PNG is needed"}
}
