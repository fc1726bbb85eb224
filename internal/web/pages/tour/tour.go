package tour

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	benchpage "zephyrfield/internal/web/pages/bench"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// tourView is one screen for readings of many beds.
type tourView struct {
	view.Page
	Form    form.Form
	Fields  map[string]view.Field
	Methods []view.Option
	Parts   []view.Option
	Rows    []tourRow
	Part    string
}

// tourRow is a bed with the field of its figures.
type tourRow struct {
	Field view.Field
	// Fact names Last.
	Bed, Last, Fact string
}

// tourMethods are the portable methods.
var tourMethods = []view.Option{{Value: string(soil.Meter), Text: "Meter, calibrated this week"}, {Value: string(soil.MeterStale),
	Text: "Meter"}, {Value: string(soil.Probe), Text: "Stick-in probe"}}

func tourField(bed int64) string { return "bed-" + strconv.FormatInt(bed, 10) }

// Tour shows the form of one reading per bed, in the order of a route.
func (s *Handler) Tour(c *gin.Context) error {
	f := form.Asked(c)
	if f.Value("method") == "" {
		f.Values["method"] = string(soil.MeterStale)
	}
	if f.Value("date") == "" {
		f.Values["date"] = s.Clock.Today().String()
	}
	return s.showTour(c, http.StatusOK, f)
}

func (s *Handler) showTour(c *gin.Context, status int, f form.Form) error {
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	vm := tourView{Form: f, Methods: tourMethods, Part: f.Value("part")}
	if vm.Part == "" {
		vm.Parts = append(vm.Parts, view.Option{Text: "All beds"})
	}
	f.Sentences()
	seen := map[string]bool{}
	for i := range v.Beds {
		p := &v.Beds[i]
		b := &p.Bed
		if b.Part != "" && !seen[b.Part] {
			seen[b.Part] = true
			vm.Parts = append(vm.Parts, view.Option{Value: b.Part, Text: b.Part})
		}
		if b.Kind == garden.KindHeap || vm.Part != "" && b.Part != vm.Part {
			continue
		}
		field := f.Resolve(form.Row{Name: tourField(b.ID), Mode: form.Decimal, Figure: true})
		row := tourRow{Field: field, Bed: b.Name, Last: present.LastRead(p)}
		if p.Reading != nil {
			row.Fact = fact.Read(b.ID)
		}
		vm.Rows = append(vm.Rows, row)
	}
	vm.Page = s.Page(c, v.Garden, "Bench", "A tour with the meter")
	if err := s.Undated(c, &vm.Page); err != nil {
		return err
	}
	vm.Fields = f.Fields(form.Table{{Name: "method", Label: "Read with", Options: vm.Methods, Box: form.Wide},
		{Name: "date", Label: "On", Mode: form.Date}})
	s.Render(c, status, "tour", vm)
	return nil
}

// AddTour saves the readings of a tour in one change.
func (s *Handler) AddTour(c *gin.Context) error {
	f := form.Posted(c)
	today := s.Clock.Today()
	v, err := s.App(c).BedState.View(c.Request.Context(), today)
	if err != nil {
		return err
	}
	method, known := soil.Method(f.Value("method")), false
	for _, m := range tourMethods {
		known = known || m.Value == string(method)
	}
	if !known {
		f.Faults["method"] = "choose how it was tested"
	}
	day := f.Day("date")
	if day == 0 && f.Fault("date") == "" {
		f.Faults["date"] = "a day is needed"
	}
	var rs []garden.Reading
	for _, p := range v.Beds {
		field := tourField(p.Bed.ID)
		if f.Values[field] = c.PostForm(field); f.Values[field] == "" {
			continue
		}
		shown := benchpage.ShownIn(f, field)
		if len(shown) == 0 {
			continue
		}
		ph, _ := soil.OfPlaces(shown)
		ph = quantity.PH(quantity.Round(float64(ph), 2))
		r := garden.Reading{BedID: p.Bed.ID, Date: day, Method: method, Basis: soil.Water, PH: &ph, Cores: len(shown), Depth: p.Bed.Depth}
		if len(shown) > 1 {
			r.Note = "Showed " + present.FiguresText(shown) + "."
		}
		rs = append(rs, r)
	}
	return s.Save(c, &f, site.Saving{
		To:   "/",
		Save: func() (garden.Receipt, error) { return s.App(c).Readings.Tour(c.Request.Context(), s.Actor(c), rs) },
		Show: func(status int) error { return s.showTour(c, status, f) },
	})
}

// Count returns the number of beds in words.
func (v tourView) Count() string { return text.Count(len(v.Rows), "bed", "beds") }
