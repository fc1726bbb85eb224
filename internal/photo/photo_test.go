package photo_test

import (
	"bytes"
	"context"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bounded/peak"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/photo"
)

func jpegOf(t testing.TB, img image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, nil))
	return b.Bytes()
}

func pngOf(t testing.TB, img image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img))
	return b.Bytes()
}

// slope is a picture that grows lighter to the right and redder downward.
func slope(w, h int) image.Image {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.SetRGBA(x, y, color.RGBA{uint8(y * 255 / h), uint8(x * 255 / w), 128, 255})
		}
	}
	return img
}

func TestSmallKeepsThePicture(t *testing.T) {
	for name, raw := range map[string][]byte{"png": pngOf(t, slope(1600, 1200)), "jpeg": jpegOf(t, slope(1600, 1200))} {
		small, err := photo.Small(t.Context(), bytes.NewReader(raw))
		require.NoError(t, err)
		img, err := jpeg.Decode(bytes.NewReader(small))
		require.NoError(t, err)
		require.Equal(t, image.Rect(0, 0, 1000, 750), img.Bounds(), name)
		for y := 5; y < 750; y += 7 { // over every seam of the strips
			r, g, _, _ := img.At(300, y).RGBA()
			require.InDelta(t, y*255/750, r>>8, 6, "%s, line %d", name, y)
			require.InDelta(t, 300*255/1000, g>>8, 6, "%s, line %d", name, y)
		}
	}
	thin, err := photo.Small(t.Context(), bytes.NewReader(pngOf(t, slope(12_000, 3))))
	require.NoError(t, err)
	head, err := jpeg.DecodeConfig(bytes.NewReader(thin))
	require.NoError(t, err)
	assert.Equal(t, [2]int{1000, 1}, [2]int{head.Width, head.Height})
}

// A camera writes where a picture was taken into it: that is not kept.
func TestPhotoMetadataIsDropped(t *testing.T) {
	plain := jpegOf(t, slope(40, 30))
	exif := append([]byte{0xff, 0xe1, 0, 22}, []byte("Exif\x00\x00GPS 51.5 -0.1 x")[:20]...)
	raw := bytes.Join([][]byte{plain[:2], exif, plain[2:]}, nil)
	require.Contains(t, string(raw), "GPS")
	small, err := photo.Small(t.Context(), bytes.NewReader(raw))
	require.NoError(t, err)
	assert.NotContains(t, string(small), "GPS")
}

// segment is one of a JPEG's, with its length.
func segment(marker byte, body ...byte) []byte {
	return append(binary.BigEndian.AppendUint16([]byte{0xff, marker}, uint16(len(body)+2)), body...)
}

// progressive is a picture of w × h pixels in so many scans, a few bytes each: every scan says that all blocks are
// empty, which costs a pass over the whole picture.
func progressive(w, h uint16, sampling byte, scans int) []byte {
	const components = 3
	frame := binary.BigEndian.AppendUint16(binary.BigEndian.AppendUint16([]byte{8}, h), w)
	frame = append(frame, components, 1, sampling, 0, 2, 0x11, 0, 3, 0x11, 0)
	quant := append([]byte{0}, bytes.Repeat([]byte{1}, 64)...)
	ends := append(append([]byte{0x10, 1}, make([]byte, 15)...), 0xe0) // one code: up to 32767 blocks end
	out := append([]byte{0xff, 0xd8}, segment(0xdb, quant...)...)
	out = append(out, segment(0xc2, frame...)...)
	out = append(out, segment(0xc4, ends...)...)
	var data []byte
	for range int(w)*int(h)/64/32767/8 + 1 {
		// Eight times "0" and fourteen "1", a zero after each 0xff.
		for _, b := range []byte{0x7f, 0xfe, 0xff, 0xfd, 0xff, 0xfb, 0xff, 0xf7, 0xff, 0xef, 0xff, 0xdf, 0xff, 0xbf, 0xff} {
			if data = append(data, b); b == 0xff {
				data = append(data, 0)
			}
		}
	}
	for i := range scans {
		out = append(append(out, segment(0xda, 1, byte(1+i%components), 0, 1, 63, 0)...), data...)
	}
	return append(out, 0xff, 0xd9)
}

// headOnly is a PNG that is only its head: its size is looked at before anything else.
func headOnly(w, h uint32, depth, kind, interlace byte) []byte {
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32([]byte("IHDR"), w), h)
	head = append(head, depth, kind, 0, 0, interlace)
	out := append([]byte("\x89PNG\r\n\x1a\n"), 0, 0, 0, 13)
	return binary.BigEndian.AppendUint32(append(out, head...), crc32.ChecksumIEEE(head))
}

func TestPhotographsAreBounded(t *testing.T) {
	const large, memory, wrong = "at most 12,000 pixels a side and 25 million", "too much memory", "no photograph"
	plain := jpegOf(t, image.NewYCbCr(image.Rect(0, 0, 6000, 4160), image.YCbCrSubsampleRatio420))
	for name, x := range map[string]struct {
		raw  []byte
		says string
	}{
		"a thousand scans":            {progressive(4000, 4000, 0x22, 1000), memory},
		"as many scans as are let in": {progressive(4500, 4500, 0x22, 24), ""},
		"progressive, no subsampling": {progressive(4500, 4500, 0x11, 3), memory},
		"too many pixels":             {progressive(5001, 5000, 0x22, 3), large},
		"too wide":                    {headOnly(12_001, 1, 8, 2, 0), large},
		"too high":                    {headOnly(1, 12_001, 8, 2, 0), large},
		"sides that overflow":         {headOnly(1<<31, 1<<31, 8, 2, 0), large},
		"deep colours":                {headOnly(5000, 5000, 16, 6, 0), memory},
		"interlaced colours":          {headOnly(5000, 5000, 8, 6, 1), memory},
		"a head only":                 {headOnly(5000, 5000, 8, 6, 0), wrong},
		"25 million pixels":           {plain, ""},
		"cut off":                     {plain[:len(plain)/2], wrong},
		"grey, 25 million pixels":     {pngOf(t, image.NewGray(image.Rect(0, 0, 5000, 5000))), ""},
		"colours, 25 million pixels":  {pngOf(t, image.NewNRGBA(image.Rect(0, 0, 5000, 5000))), ""},
		"no size":                     {headOnly(0, 5, 8, 2, 0), wrong},
		"no picture":                  {[]byte("no picture"), wrong},
		"nothing":                     {nil, wrong},
	} {
		t.Run(name, func(t *testing.T) {
			t.Logf("%d kB", len(x.raw)>>10)
			began := time.Now()
			var err error
			most := peak.Of(t, func() { _, err = photo.Small(t.Context(), bytes.NewReader(x.raw)) })
			if x.says == "" {
				require.NoError(t, err)
			} else {
				require.ErrorContains(t, err, x.says)
			}
			assert.Less(t, most, int64(200*peak.MB))
			assert.Less(t, time.Since(began), time.Minute, "it ends")
		})
	}
}

// gate is a picture that waits when it is gone back to, which is done to decode it, and tells that it does.
type gate struct {
	io.ReadSeeker
	decoding, goOn chan bool
	seeks          int
}

func (g *gate) Seek(offset int64, whence int) (int64, error) {
	if g.seeks++; g.seeks == 2 {
		close(g.decoding)
		<-g.goOn
	}
	return g.ReadSeeker.Seek(offset, whence)
}

func TestOnePictureIsDecodedAtATime(t *testing.T) {
	raw := jpegOf(t, slope(40, 30))
	first := &gate{bytes.NewReader(raw), make(chan bool), make(chan bool), 0}
	done := make(chan error)
	go func() {
		_, err := photo.Small(t.Context(), first)
		done <- err
	}()
	<-first.decoding
	gone, leave := context.WithCancel(t.Context())
	second := make(chan error)
	go func() {
		_, err := photo.Small(gone, bytes.NewReader(raw))
		second <- err
	}()
	select {
	case <-second:
		require.Fail(t, "a second one does not wait")
	case <-time.After(50 * time.Millisecond):
	}
	leave()
	require.ErrorIs(t, <-second, context.Canceled, "who has gone is not waited for")
	close(first.goOn)
	require.NoError(t, <-done)
	_, err := photo.Small(gone, bytes.NewReader(raw))
	require.Error(t, err)
	var f garden.Faults
	assert.NotErrorAs(t, err, &f, "no fault of the picture")
}
