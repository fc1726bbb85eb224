package bench

import (
	"cmp"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// ways are the ways of reading soil that have their own form. A meter has one form, whatever its
// calibration.
var ways = []view.Choice{{Value: string(soil.Lab), Text: "Lab report"}, {Value: string(soil.Meter), Text: "Meter"},
	{Value: string(soil.Probe), Text: "Stick-in probe"}, {Value: string(soil.Kit), Text: "Colour kit"},
	{Value: string(soil.Fizz), Text: "Two jars"}, {Value: byJars, Text: "Jar series"}}

// chipView is a chip of the kit, or the gap between two.
type chipView struct {
	view.Choice
	Between bool
	// Colour is its colour; "" between two.
	Colour string
}

type benchView struct {
	view.Page
	Form  form.Form
	Beds  []view.Option
	Whose view.Field
	Ways  []view.Choice
	// Code looks up a sample by its label; PH and Fresh are the reading and the day of calibration.
	Code, PH, Fresh view.Field
	// The form's fields by section.
	Taken, Bottles, Stirred, Nutrients, Rest, Noted []form.Row

	Probe  *probeView
	Chips  []chipView
	Jars   []present.FizzJar
	Last   []present.ReadingRow
	Chosen string
	// Doubts are the standard deviations of a single reading, by method.
	Doubts              map[string]string
	LowSlope, HighSlope string
	ChipDoubt           string
	// Waiting are the samples taken and not yet read.
	Waiting []garden.Waiting
	// Sample is set when a mixed sample is read, Editing when a reading is corrected; Shared are
	// the sample's other beds.
	Sample, Editing, Shared string
	// Layered is set when the sample's layers were kept apart; LayerCode is the label's code, Layer
	// the reading that another layer's figure is added to.
	Layered   bool
	LayerCode string
	Layer     int64
	Action    string
}

// MoreOpen reports whether lab values besides pH are present or faulty.
func (v *benchView) MoreOpen() bool {
	for _, n := range []string{"buffer_ph", "om", "cec", "ca", "p", "k_from", "k_to", "lab_rate", "lab_depth", "lab_cce", "lab_target",
		"capacity", "k_extractant", "buffer_kind"} {
		if v.Form.Value(n) != "" || v.Form.Fault(n) != "" {
			return true
		}
	}
	return false
}

// LayersOpen reports whether layers are present, faulty or expected.
func (v *benchView) LayersOpen() bool {
	if v.Layered || v.Form.Fault("layers") != "" {
		return true
	}
	for _, l := range layerLines() {
		if v.Form.Value(l.PH) != "" {
			return true
		}
	}
	return false
}

// Bench shows the form of a reading and the last readings.
func (s *Handler) Bench(c *gin.Context) error {
	f := form.Asked(c)
	if id, err := strconv.ParseInt(f.Value("reading"), 10, 64); err == nil {
		var r garden.Reading
		r, err = s.App(c).Readings.Reading(c.Request.Context(), id)
		if err != nil {
			return err
		}
		fillReading(f, r, s.Units(c))
	}
	return s.showBench(c, http.StatusOK, f)
}

const benchLast = 12

// benchShared sets the other beds of the reading being corrected.
func (s *Handler) benchShared(c *gin.Context, vm *benchView) error {
	var r garden.Reading
	r.ID, _ = strconv.ParseInt(vm.Editing, 10, 64)
	r.Version, _ = strconv.ParseInt(vm.Form.Value("version"), 10, 64)
	names, err := s.App(c).Readings.SharedWith(c.Request.Context(), r)
	if errors.Is(err, garden.ErrStale) { // reported on saving
		return nil
	}
	vm.Shared = text.List(names)
	return err
}

// benchSample fills the form from a sample's label.
func (s *Handler) benchSample(c *gin.Context, vm *benchView, f form.Form, fill bool) error {
	code := strings.ToUpper(f.Value("sample"))
	if code == "" {
		return nil
	}
	l, err := s.App(c).Readings.Label(c.Request.Context(), code)
	if errors.Is(err, garden.ErrMissing) {
		f.Faults["sample"] = "No sample has the code “" + f.Value("sample") + "”. It stands on the label, like 2A, or 2A-1 for a layer."
		return nil
	}
	if err != nil {
		return err
	}
	x := l.Sample
	names := make([]string, len(l.Beds))
	for i, b := range l.Beds {
		names[i] = b.Name
	}
	vm.Sample, vm.Chosen, vm.Layered = x.Code, "sample "+x.Code+": "+text.List(names), len(l.Layers) > 0
	vm.LayerCode = l.Code()
	if !fill {
		return nil
	}
	if l.Layer > 0 && l.Read != 0 {
		vm.Layer = l.Read
		return nil
	}
	for i, y := range l.Layers {
		f.Values[layerLines()[i].To] = form.Figure(float64(y.To), s.Units(c).Depths(), 1)
	}
	f.Values["cores"] = strconv.Itoa(l.Cores)
	f.Values["depth"] = form.Figure(float64(x.Depth), s.Units(c).Depths(), 1)
	if x.Taken != 0 {
		f.Values["date"] = x.Taken.String()
	}
	return nil
}

func (s *Handler) showBench(c *gin.Context, status int, f form.Form) error {
	today := s.Clock.Today()
	g, beds, err := s.App(c).BedState.Names(c.Request.Context(), today)
	if err != nil {
		return err
	}
	if len(beds) == 0 {
		c.Redirect(http.StatusSeeOther, "/")
		return nil
	}
	u := g.Units()
	vm := benchView{Form: f, Action: "/readings", Editing: f.Value("reading")}
	if vm.Editing != "" {
		vm.Action = "/readings/" + vm.Editing
		if err := s.benchShared(c, &vm); err != nil {
			return err
		}
	}
	if err := s.benchSample(c, &vm, f, status == http.StatusOK && vm.Editing == ""); err != nil {
		return err
	}
	if vm.Layer != 0 {
		// Another layer was read already: this one is added to it.
		c.Redirect(http.StatusSeeOther, "/bench?reading="+strconv.FormatInt(vm.Layer, 10)+"#layers")
		return nil
	}
	last, waiting, err := s.App(c).Readings.Newest(c.Request.Context(), s.On(c), benchLast)
	if err != nil {
		return err
	}
	vm.Waiting = waiting
	names := vm.usual(f, beds, u, today, status == http.StatusOK, usualWay(g, last))
	vm.lists()
	vm.fields(u)
	vm.chips(g.Chips())
	vm.Probe = s.probe()
	for _, r := range last {
		vm.Last = append(vm.Last, present.ReadingOf(r, names[r.BedID]))
	}
	if f.Fault("sample") != "" {
		status = http.StatusNotFound
	}
	vm.Page = s.Page(c, g, "Bench", vm.title())
	if vm.Editing != "" {
		vm.Path = "/bench?reading=" + vm.Editing
	}
	if err := s.Year(c, &vm.Page, nil); err != nil {
		return err
	}
	s.Render(c, status, "bench", &vm)
	return nil
}

// usualWay returns the garden's default way of reading: the last one; a kit if its chips were
// entered; else a lab.
func usualWay(g garden.Garden, last []garden.Reading) soil.Method {
	switch {
	case len(last) > 0 && last[0].Method == soil.MeterStale:
		return soil.Meter
	case len(last) > 0:
		return last[0].Method
	case len(g.KitChips) > 0:
		return soil.Kit
	}
	return soil.Lab
}

// usual fills in the beds and the defaults of a new form.
func (vm *benchView) usual(f form.Form, beds []garden.Bed, u text.Units, today quantity.Day, askedFor bool,
	way soil.Method) map[int64]string {
	names := map[int64]string{}
	for _, b := range beds {
		id := strconv.FormatInt(b.ID, 10)
		names[b.ID] = b.Name
		vm.Beds = append(vm.Beds, view.Option{Value: id, Text: b.Name})
		if f.Is("bed", id) && vm.Sample == "" {
			vm.Chosen = b.Name
			if f.Values["depth"] == "" && askedFor {
				f.Values["depth"] = form.Figure(float64(b.Depth), u.Depths(), 1)
			}
		}
	}
	if askedFor {
		for name, usual := range map[string]string{"date": today.String(), "method": string(way), "basis": "water", "cores": "10",
			"depth": form.Usual(0.15, u.Depths()), "fresh": "no"} {
			if f.Values[name] == "" {
				f.Values[name] = usual
			}
		}
	}
	return names
}

func (v *benchView) lists() {
	v.Ways = v.Form.Tiles("method", "way", ways)
	beds := v.Beds
	if v.Chosen == "" {
		beds = append([]view.Option{{Text: "Choose the bed"}}, beds...)
	}
	v.Whose = v.Form.Resolve(form.Row{Name: "bed", Label: "Bed", Options: beds})
	v.Code = v.Form.Resolve(form.Row{Name: "sample", ID: "code", Label: "Code on a label", MaxLength: 10, Group: "code"})
	v.PH = v.Form.Resolve(form.Row{Name: "ph", Label: "pH", Aside: "if not from above", AsideWay: "meter probe kit", Mode: form.Decimal,
		Figure: true})
	v.Fresh = v.Form.Resolve(form.Row{Name: "fresh", Label: "Calibrated", Aside: "if no bottles above", AsideWay: "meter",
		Options: []view.Option{{Value: "no", Text: "Longer ago, or not known"}, {Value: "yes", Text: "Within the last week"}}})
	v.LowSlope, v.HighSlope = strconv.Itoa(soil.LowSlope), strconv.Itoa(soil.HighSlope)
	v.Doubts = map[string]string{}
	for _, m := range soil.Methods {
		v.Doubts[string(m.Method)] = "± " + text.PH2(quantity.PH(soil.UsualSD(m.Method)))
	}
	v.Jars = present.FizzJars(v.Form.Tiles)
}

// chips returns each chip of the kit, and each gap between two.
func (v *benchView) chips(chips []float64) {
	add := func(low, high, says string) {
		value := low + "-" + high
		v.Chips = append(v.Chips, chipView{view.Choice{ID: "chip-" + value, Name: "chip", Value: value, Text: says,
			On: v.Form.Is("chip", value)}, low != high, ""})
	}
	figure := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	widest := 0.0
	for i, c := range chips {
		if i > 0 {
			widest = max(widest, c-chips[i-1])
			add(figure(chips[i-1]), figure(c), figure(chips[i-1])+" to "+figure(c))
		}
		add(figure(c), figure(c), figure(c))
		v.Chips[len(v.Chips)-1].Colour = present.ChipColour(c)
	}
	v.ChipDoubt = "Its chips tell pH to " + "± " + text.PH2(quantity.PH(soil.WithSampling(soil.KitSD(quantity.PH(widest)), soil.FullSample))) +
		" at best: half the dose first, then a better reading."
}

func (v *benchView) title() string {
	switch {
	case v.Editing != "":
		return "Correct a reading"
	case v.Chosen != "":
		return "Enter a reading of " + v.Chosen
	}
	return "Enter a reading"
}

// AddReading saves a reading, or asks for confirmation of a surprising one.
func (s *Handler) AddReading(c *gin.Context) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	f := form.Posted(c)
	r := ReadingFrom(f, g)
	code := f.Value("sample")
	if code == "" {
		bed, err := strconv.ParseInt(f.Value("bed"), 10, 64)
		if err != nil {
			f.Faults["bed"] = "Choose the bed that was sampled."
		}
		r.BedID = bed
	}
	return s.tryReading(c, f, func() (garden.Receipt, string, error) {
		if code != "" {
			got, err := s.App(c).Readings.AddSampleReading(c.Request.Context(), s.Actor(c), code, r)
			return got, "/walk", err
		}
		got, err := s.App(c).Readings.AddReading(c.Request.Context(), s.Actor(c), r)
		return got, site.BedHref(r.BedID), err
	})
}

// tryReading saves a reading, or shows the form again with what is wrong.
func (s *Handler) tryReading(c *gin.Context, f form.Form, save func() (garden.Receipt, string, error)) error {
	if len(f.Faults) > 0 {
		f.Sentences()
		return s.showBench(c, http.StatusUnprocessableEntity, f)
	}
	got, to, err := save()
	if f.Add(err) {
		ReadingFaults(f)
		return s.showBench(c, http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	s.Done(c, to, got)
	return nil
}

// ReplaceReading corrects a reading; the old one stays in the history.
func (s *Handler) ReplaceReading(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	f.Values["reading"] = c.Param("id")
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	r := ReadingFrom(f, g)
	err = s.tryReading(c, f, func() (garden.Receipt, string, error) {
		got, err := s.App(c).Readings.ReplaceReading(c.Request.Context(), s.Actor(c), id, version, r)
		return got, "/beds/" + f.Value("bed"), err
	})
	if !errors.Is(err, garden.ErrStale) {
		return err
	}
	now, ok, err := s.App(c).Readings.Standing(c.Request.Context(), id)
	if err != nil || !ok {
		return cmp.Or(err, garden.ErrStale)
	}
	is := form.NoForm()
	fillReading(is, now, s.Units(c))
	delete(is.Values, "bed")
	delete(is.Values, "reading")
	for name := range f.Values {
		if _, kept := is.Values[name]; !kept && strings.HasPrefix(name, "layer") {
			is.Values[name] = "" // a layer typed now that was not read before
		}
	}
	f.Compare(is)
	f.Values["reading"] = strconv.FormatInt(now.ID, 10)
	return s.showBench(c, http.StatusConflict, f)
}

// StrikeReading strikes a reading out; it stays in the history and is not used.
func (s *Handler) StrikeReading(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	r, err := s.App(c).Readings.Strike(c.Request.Context(), s.Actor(c), id, version, c.PostForm("why"))
	return s.Finish(c, c.PostForm("back"), r, err)
}
