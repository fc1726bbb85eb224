package main

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"mime/multipart"
	"net/http"
	"sync"
	"sync/atomic"
	"time"
)

// picture is a photograph as a phone sends it.
var picture = sync.OnceValue(func() []byte {
	img := image.NewRGBA(image.Rect(0, 0, 480, 360))
	for y := range 360 {
		for x := range 480 {
			img.SetRGBA(x, y, color.RGBA{uint8(x), uint8(y), uint8(x ^ y), 255})
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, nil); err != nil {
		panic(err) // a buffer takes all
	}
	return b.Bytes()
})

// see posts an observation with a photograph and gives the status.
func (s *served) see(bed int, note string) (int, error) {
	var b bytes.Buffer
	m := multipart.NewWriter(&b)
	for name, value := range map[string]string{"sign": "green-veins", "note": note, "day": time.Now().Format(time.DateOnly),
		"key": "key-" + note} {
		if err := m.WriteField(name, value); err != nil {
			return 0, err
		}
	}
	part, err := m.CreateFormFile("photo", "leaf.jpg")
	if err != nil {
		return 0, err
	}
	if _, err := part.Write(picture()); err != nil {
		return 0, err
	}
	if err := m.Close(); err != nil {
		return 0, err
	}
	r, err := client.Post(fmt.Sprintf("http://%s/beds/%d/seen", s.at, bed), m.FormDataContentType(), &b)
	if err != nil {
		return 0, err
	}
	_, _ = io.Copy(io.Discard, r.Body)
	return r.StatusCode, r.Body.Close()
}

// beside sends photographs, and asks for exports and share-outs, until the program is killed; landed is called with the
// note of each photograph that was acknowledged.
func (s *served) beside(round int, over *atomic.Bool, landed func(note string)) (wait func()) {
	var wg sync.WaitGroup
	wg.Go(func() {
		for n := 0; !over.Load(); n++ {
			note := fmt.Sprintf("seen-r%d-%d", round, n)
			code, err := s.see(1+n%mostBeds, note)
			if err != nil {
				return
			}
			if code == http.StatusSeeOther {
				landed(note)
			}
		}
	})
	for _, path := range []string{"/export/garden.json?", "/export/readings.xlsx?", "/shed/share?goal=foot&"} {
		wg.Go(func() {
			for n := 0; !over.Load(); n++ {
				// Another bed is left out each time, so that no plan is one that was kept.
				if _, _, err := s.get(fmt.Sprintf("%sout=%d", path, n%mostBeds)); err != nil {
					return
				}
			}
		})
	}
	return wg.Wait
}
