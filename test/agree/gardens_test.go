package agree

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// live does a month's work: some of what is due is put on, late, with another amount or skipped, and beds are read. It returns
// how many tasks were settled.
func live(s *webtest.Client, month int) (settled int) {
	v, err := s.App.BedState.View(s.T.Context(), s.Today)
	require.NoError(s.T, err)
	for i, t := range v.Tasks {
		if t.Due > s.Today || (i+month)%3 == 0 {
			continue
		}
		if t.Kind == garden.TaskRetest && month%4 == 1 {
			settled += skip(s, t, month)
		}
		if t.Kind != garden.TaskApplication {
			continue
		}
		path, f := "/put-on", url.Values{"version": {webtest.ID(t.Version)}, "key": {fmt.Sprint("m", month, "-", t.ID)}}
		switch (i + month) % 4 {
		case 0:
			f.Set("amount", strconv.FormatFloat(float64(t.Total)/2000, 'f', 3, 64)) // half of it
		case 1:
			path = "/skip"
			f.Set("why", "frost")
		default:
			f.Set("planned", "yes")
		}
		if w := s.Post("/tasks/"+webtest.ID(t.ID)+path, f); w.Code == http.StatusSeeOther {
			settled++
		}
	}
	for i := range v.Beds {
		p := &v.Beds[i]
		if p.PH == 0 || (i+month)%7 != 0 {
			continue
		}
		// Every other reading surprises, and a second method reads a little else, so that what a bed is judged by is not its last reading.
		ph := float64(p.PH) + 0.1*float64(month%3) + float64(month%2)
		read(s, p.Bed.ID, fmt.Sprint("lab", month, "-", i), "lab", min(ph, 8))
		read(s, p.Bed.ID, fmt.Sprint("meter", month, "-", i), "meter", min(ph, 8)+0.3)
	}
	if month%5 == 0 {
		before := s.LastLine().ID
		s.Post("/shed/share", url.Values{"key": {fmt.Sprint("share", month)}})
		if shared := s.LastLine().ID; shared != before && month%10 == 0 {
			s.Post("/undo/"+webtest.ID(shared), url.Values{"key": {fmt.Sprint("undo", month)}})
		}
	}
	return settled
}

// skip skips a task and returns how many were.
func skip(s *webtest.Client, t garden.Task, month int) int {
	w := s.Post("/tasks/"+webtest.ID(t.ID)+"/skip", url.Values{"version": {webtest.ID(t.Version)}, "why": {"no time"},
		"key": {fmt.Sprint("skip", month, "-", t.ID)}})
	if w.Code == http.StatusSeeOther {
		return 1
	}
	return 0
}

// read enters a reading of today; what is asked about is sent again.
func read(s *webtest.Client, bed int64, key, method string, ph float64) {
	f := url.Values{"bed": {webtest.ID(bed)}, "method": {method}, "basis": {"water"}, "fresh": {"yes"}, "date": {s.Today.String()},
		"cores": {"12"}, "depth": {"15"}, "ph": {fmt.Sprintf("%.1f", ph)}, "key": {key}}
	w := s.Post("/readings", f)
	if w.Code == http.StatusUnprocessableEntity {
		f.Set("sure", webtest.Filled(w.Body.String()).Get("sure"))
		w = s.Post("/readings", f)
	}
	s.Saved(w)
}

// demo returns the demo garden with a bed that is being prepared.
func demo(t *testing.T) *webtest.Client {
	s := webtest.New(t, true)
	turned(s, "Cutting strip")
	return s
}

// rehearsal returns a rehearsal of a gardener's own: four beds with crops to come and three tests each, ash and lime on the shelf.
func rehearsal(t *testing.T) *webtest.Client {
	s := webtest.New(t, false, func(c *site.Config) { c.Rehearsal, c.Demo = c.Demo, nil })
	require.NoError(t, s.Store.BeginRehearsal(t.Context(), s.Today))
	ppm := func(x quantity.Concentration) *quantity.Concentration { return &x }
	mass := func(x quantity.Mass) *quantity.Mass { return &x }
	s.Add(&garden.Batch{Name: "Stove ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean, OnHand: mass(9000),
		Scoop: mass(120)}, &garden.Batch{Name: "Garden lime", Kind: material.CalciticLime, OnHand: mass(20_000)},
		&garden.Batch{Name: "Sulfur", Kind: material.SulfurPowder, OnHand: mass(2000)})
	for i, x := range []struct {
		name, texture, now, next string
		ph                       quantity.PH
		k                        quantity.Concentration
	}{
		{"Long bed", "loam", "carrot", "kale", 5.6, 70},
		{"By the wall", "sand", "lettuce", "bean", 5.9, 50},
		{"Clay corner", "clay", "leek", "cabbage", 6.3, 190},
		{"Sweet side", "silt-loam", "bean", "potato", 7.2, 150},
	} {
		b := &garden.Bed{Name: x.name, Kind: garden.KindBed, Shape: garden.ShapeRect, X: 1, Y: float64(1 + 3*i), W: 6, H: 1.2,
			Texture: soil.Texture(x.texture), Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeNone}
		s.Add(b)
		s.Add(&garden.Planting{BedID: b.ID, Crop: x.now, Sown: s.Today - 200}, &garden.Planting{BedID: b.ID, Crop: x.next, Sown: s.Today + 150})
		for n := range 3 {
			ph := x.ph + quantity.PH(n)/20
			s.Add(&garden.Reading{BedID: b.ID, Date: s.Today - quantity.Day(400-180*n), Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12,
				Depth: 0.15, Potassium: ppm(x.k + quantity.Concentration(5*n)), Extractant: soil.Mehlich3})
		}
	}
	turned(s, "Long bed")
	return s
}

// turned puts the preparation of a bed for its next crop in the year; its steps are not done, so that its planting is put off month
// by month.
func turned(s *webtest.Client, name string) {
	bed, a := s.Bed(name).Bed.ID, garden.Actor{Who: "test", At: time.Now(), Today: s.Today}
	_, err := s.App.Preparation.Plan(s.T.Context(), a, bed, preparation.Choice{Template: string(bedprep.Sod)})
	require.NoError(s.T, err)
}
