package photo

import (
	"bufio"
	"encoding/binary"
	"errors"
	"fmt"
	"io"

	"zephyrfield/internal/garden"
)

// Limits of a picture: its sides and pixels, what decoding it takes, and the scans of a JPEG, each of which goes
// over the whole picture.
const (
	mostSide   = 12_000
	mostPixels = 25_000_000
	mostBytes  = 150 << 20
	mostScans  = 24
)

// shape is what a picture's head says of it.
type shape struct {
	w, h int
	// perPixel is what decoding holds for a pixel, bytes.
	perPixel float64
	scans    int
}

var errShape = errors.New("no picture")

// check refuses pictures that take too much memory or time to decode. The formats' own packages do not bound them.
func check(in io.ReadSeeker) error {
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return err
	}
	r := bufio.NewReader(in)
	head, err := r.Peek(2)
	if err != nil {
		return unreadable()
	}
	read := pngShape
	if head[0] == 0xff && head[1] == soi {
		read = jpegShape
	}
	s, err := read(r)
	switch {
	case err != nil || s.w < 1 || s.h < 1:
		return unreadable()
	case s.w > mostSide || s.h > mostSide || s.w*s.h > mostPixels:
		return garden.Faults{Field: fmt.Sprintf("that photograph is too large: at most %d,%03d pixels a side and %d million in all are taken",
			mostSide/1000, mostSide%1000, mostPixels/1_000_000)}
	case float64(s.w)*float64(s.h)*s.perPixel > mostBytes, s.scans > mostScans:
		return garden.Faults{Field: "that photograph takes too much memory to open; save it smaller, or as a plain JPEG"}
	}
	return nil
}

const pngStart = "\x89PNG\r\n\x1a\n"

// pngShape reads the head of a PNG.
func pngShape(r *bufio.Reader) (s shape, err error) {
	var head struct {
		Start                                    [8]byte
		Length                                   uint32
		Kind                                     [4]byte
		W, H                                     uint32
		Depth, Color, Packing, Filter, Interlace uint8
	}
	if err := binary.Read(r, binary.BigEndian, &head); err != nil {
		return s, err
	}
	if string(head.Start[:]) != pngStart || string(head.Kind[:]) != "IHDR" {
		return s, errShape
	}
	s.w, s.h = int(head.W), int(head.H)
	// The colours are kept as four values a pixel, greys and palettes as one.
	s.perPixel = 1
	if isColor := head.Color&^1 != 0 && head.Color != 3; isColor {
		s.perPixel = 4
	}
	if head.Depth == 16 {
		s.perPixel *= 2
	}
	if head.Interlace != 0 {
		s.perPixel *= 2 // each pass is a picture of its own
	}
	return s, nil
}

// Markers of a JPEG.
const (
	soi         = 0xd8
	eoi         = 0xd9
	sof0        = 0xc0
	sof2        = 0xc2 // progressive
	sos         = 0xda
	app14       = 0xee // colours that are converted
	rst0, rst7  = 0xd0, 0xd7
	coefficient = 4 // bytes of each value of a progressive picture
	converted   = 4 // bytes a pixel, where colours are converted
)

// jpegShape reads the markers of a JPEG from its start to its end, as image/jpeg goes from one to the next.
func jpegShape(r *bufio.Reader) (s shape, err error) {
	if _, err := r.Discard(2); err != nil {
		return s, err
	}
	special := false
	for {
		marker, err := nextMarker(r)
		if errors.Is(err, io.EOF) || marker == eoi {
			break
		}
		if err != nil {
			return s, err
		}
		var length uint16
		if err := binary.Read(r, binary.BigEndian, &length); err != nil || length < 2 {
			break // cut off: it is decoded to here
		}
		n := int(length) - 2
		switch marker {
		case sof0, sof0 + 1, sof2:
			frame, err := r.Peek(n)
			if err != nil {
				return s, err
			}
			if err := s.frame(frame, marker == sof2); err != nil {
				return s, err
			}
		case sos:
			if s.scans++; s.scans > mostScans {
				return s, nil
			}
		case app14:
			special = true
		}
		if _, err := r.Discard(n); err != nil {
			break
		}
	}
	if s.w == 0 {
		return s, errShape
	}
	if special {
		s.perPixel += converted
	}
	return s, nil
}

// nextMarker returns the next marker that is followed by a length, or the end.
func nextMarker(r *bufio.Reader) (byte, error) {
	for {
		b, err := r.ReadByte()
		if err != nil {
			return 0, err
		}
		for b == 0xff {
			if b, err = r.ReadByte(); err != nil {
				return 0, err
			}
			if b != 0xff && b != 0 && (b < rst0 || b > rst7) {
				return b, nil
			}
		}
	}
}

// frame reads a frame's size and what its components take.
func (s *shape) frame(raw []byte, progressive bool) error {
	const fixed, each = 6, 3
	if s.w != 0 || len(raw) < fixed || len(raw) < fixed+each*int(raw[5]) {
		return errShape
	}
	s.h, s.w = int(binary.BigEndian.Uint16(raw[1:])), int(binary.BigEndian.Uint16(raw[3:]))
	components := int(raw[5])
	var all, widest, highest int
	for i := range components {
		h, v := int(raw[fixed+each*i+1]>>4), int(raw[fixed+each*i+1]&15)
		all, widest, highest = all+h*v, max(widest, h), max(highest, v)
	}
	if all == 0 {
		return errShape
	}
	s.perPixel = float64(all) / float64(widest*highest)
	if progressive {
		s.perPixel *= 1 + coefficient
	}
	if components == 4 || components == 3 && raw[fixed] == 'R' {
		s.perPixel += converted
	}
	return nil
}
