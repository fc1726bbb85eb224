package bedform

import (
	"errors"
	"maps"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type newBedView struct {
	view.Page
	Form form.Form
	// Name, the two sides under the names of the bed's shape, and the soil: how it is known, and its
	// class where that is told. Feels are the handful's tiles.
	Name, Long, Wide, By, Texture view.Field
	Sides                         []side
	Feels                         []view.Choice
	// Crop or Own is a new bed's next crop; it is sown at one of Whens, or on the day of Sown.
	Crop      view.Field
	Own, Sown fold
	Whens     []view.Choice
	Folds     []fold

	Plan svg.Plan
	Jar  svg.Jar
	// Found is the result of the jar or the feel.
	Found string
	// Over are the beds that this one overlaps, Outline is the fault of an outline being drawn.
	Over    []string
	Outline string
	// Action is the form's target, Button its label; Editing is the changed bed, 0 for a new one.
	Action, Button string
	Editing        int64
}

// NewBed shows the form of a new bed with the place's defaults.
func (s *Handler) NewBed(c *gin.Context) error {
	return s.showBedForm(c, http.StatusOK, form.Asked(c), 0)
}

// UsualBed fills in the defaults of a new bed.
func UsualBed(f form.Form, all []bedstate.State, u text.Units) {
	x, y := bedstate.FreeSpot(all)
	in := u.Lengths()
	if _, sent := f.Values["texture_by"]; !sent {
		f.Values["texture_by"] = garden.ByFeel // empty means that the texture is known
	}
	for name, usual := range map[string]string{"kind": "bed", "w": form.Usual(4, in), "h": form.Usual(1.2, in), "texture": "loam",
		"depth": form.Usual(0.15, u.Depths()), "worked": "dug", "rings": "3",
		"shape": "rect", "turn": "0", "free_lime": "unknown",
		"x": form.Figure(x, in, 1), "y": form.Figure(y, in, 1),
		"jar_sand": "48", "jar_silt": "48", "jar_clay": "24"} {
		if f.Values[name] == "" {
			f.Values[name] = usual
		}
	}
}

// showBedForm shows the form of a new or edited bed.
func (s *Handler) showBedForm(c *gin.Context, status int, f form.Form, editing int64) error {
	v, err := s.App(c).BedState.On(c.Request.Context(), s.Clock.Today(), s.On(c), bedstate.ForecastOutlook{})
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	if status == http.StatusOK && editing == 0 {
		UsualBed(f, v.Beds, u)
	}
	vm := newBedView{Page: s.Page(c, v.Garden, "Ground", "Add a bed"), Form: f, Action: "/beds", Button: "Add the bed", Editing: editing}
	if editing != 0 {
		vm.Title, vm.Action, vm.Button = "Change "+f.Value("name"), "/beds/"+strconv.FormatInt(editing, 10), "Save the bed"
	}
	if vm.place(f, &v, u, svg.Layers(s.Clock.Today())[0], status == http.StatusOK) {
		f.Sentences()
		status = http.StatusUnprocessableEntity
	}
	vm.fields(v.Garden, v.Beds, v.Library)
	if err := s.Year(c, &vm.Page, &v); err != nil {
		return err
	}
	vm.OffNote = false // the plan beside it says so
	s.Render(c, status, "newbed", &vm)
	return nil
}

// place draws the form's bed among the others; wrong reports whether the form has more than can be
// drawn.
func (vm *newBedView) place(f form.Form, v *bedstate.View, u text.Units, layer svg.Layer, askedFor bool) (wrong bool) {
	others := make([]bedstate.State, 0, len(v.Beds)+1)
	mine := bedstate.State{}
	mine.Standing = bed.Untested
	for i := range v.Beds {
		if p := &v.Beds[i]; p.Bed.ID == vm.Editing {
			mine = *p // it keeps its reading when moved
		} else {
			others = append(others, *p)
		}
	}
	scene := svg.Scene{Marks: v.Marks, Layer: layer, Selected: -1, Units: u}
	b, err := BedFrom(f, u)
	wrong = askedFor && tooMuch(f, err)
	if err == nil {
		b.ID = -1
		if b.Name == "" {
			b.Name = "New"
		}
		for i := range others {
			if garden.Overlaps(b, others[i].Bed) {
				vm.Over = append(vm.Over, others[i].Bed.Name)
			}
		}
		mine.Bed = b
		others = append(others, mine)
		scene.Placing = &b
	}
	if b.Shape == garden.ShapeOutline {
		scene.Drawing, scene.Closed = true, true
		vm.Outline = text.Sentence(f.Fault("corners"))
		scene.Draft = present.CornersIn(form.Form{Values: f.Values, Faults: garden.Faults{}}, "corners", u.Lengths())
		if b.Turn != 0 {
			scene.Draft = nil // corners are edited without rotation
		}
	}
	scene.Beds = others
	vm.Plan = svg.PlanOf(scene, 620, 430)
	vm.Jar = jarOf(f)
	if vm.Editing != 0 || b.TextureBy == garden.ByJar || f.Value("feel") != "" {
		vm.Found = found(b)
	}
	return wrong
}

// tooMuch adds the faults of a bed's shape to its fields. Unfinished input, such as a side of 0 or
// an open outline, is ignored until it is sent.
func tooMuch(f form.Form, err error) bool {
	var faults garden.Faults
	errors.As(err, &faults)
	far := false
	for field, why := range faults {
		if x, ok := (form.Form{Values: f.Values, Faults: garden.Faults{}}).Number(field); ok && x != 0 {
			f.Faults[field], far = why, true
		}
	}
	quiet := form.Form{Values: f.Values, Faults: garden.Faults{}}
	if present.CornersIn(quiet, "corners", text.Scale{Size: 1}); quiet.Fault("corners") != "" && f.Is("shape", garden.ShapeOutline) {
		far = true
	}
	for field, why := range f.Faults {
		_, needed := (form.Form{Values: f.Values, Faults: garden.Faults{}}).Number(field)
		far = far || why != "" && !needed && f.Value(field) != "" && field != "corners"
	}
	return far
}

// jarOf draws the form's jar.
func jarOf(f form.Form) svg.Jar {
	quiet := form.Form{Values: f.Values, Faults: garden.Faults{}}
	sand, _ := quiet.Number("jar_sand")
	silt, _ := quiet.Number("jar_silt")
	clay, _ := quiet.Number("jar_clay")
	return svg.JarOf(sand, silt, clay)
}

// found returns the result of the jar or the feel.
func found(b garden.Bed) string {
	switch b.TextureBy {
	case garden.ByJar:
		if len(b.Jar) != 3 {
			return ""
		}
		usda, row, clay, ok := soil.JarTest{Sand: b.Jar[0], Silt: b.Jar[1], Clay: b.Jar[2]}.Class()
		if !ok {
			return "Fill in the three layers."
		}
		says := text.Capital(usda) + ", " + text.Percent(clay) + " clay"
		if text.Name(row.ID) != usda {
			says += "; counted as " + text.Name(row.ID)
		}
		return says + "."
	case garden.ByFeel:
		return text.Capital(text.Name(b.Texture)) + ", by feel."
	}
	return ""
}

// errNotDrawn is returned for a bed whose typed values cannot be drawn.
var errNotDrawn = errors.New("it cannot be drawn")

// AddBed adds a bed, with its first planting if a crop was named.
func (s *Handler) AddBed(c *gin.Context) error {
	f := form.Posted(c)
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	b, _ := BedFrom(f, g.Units())
	if b.TextureBy == garden.ByFeel {
		SoilByFeel(f, &b)
	}
	first := firstIn(f, g, s.Clock.Today())
	if err = first.Check(b); len(f.Faults) == 0 && err == nil {
		var r garden.Receipt
		var id int64
		if id, r, err = s.AddOne(c, b, first); err == nil {
			s.Done(c, site.BedHref(id), r)
			return nil
		}
	}
	if err != nil && !f.Add(err) {
		return err
	}
	if f.Fault("when") != "" {
		delete(f.Faults, "sown") // asked for once
	}
	f.Sentences()
	return s.showBedForm(c, http.StatusUnprocessableEntity, f, 0)
}

// firstIn returns the form's crop: one of the list, or the gardener's own where that is named, and
// its day, typed or by the season that was tapped.
func firstIn(f form.Form, g garden.Garden, today quantity.Day) layout.First {
	first := layout.First{Crop: f.Value("crop"), Sown: f.Day("sown")}
	if first.Sown.IsZero() && f.Fault("sown") == "" {
		first.Sown = SownWhen(f, g, today)
	}
	if name := f.Value(layout.OwnCropField + "name"); name != "" {
		ph := func(field string) quantity.PH {
			return quantity.PH(f.Needed(layout.OwnCropField+field, "A pH from 3 to 10 is needed."))
		}
		own := garden.OwnCrop{Name: name, Low: ph("low"), High: ph("high")}
		own.Aim = (own.Low + own.High) / 2
		first.Own = &own
	}
	return first
}

// AddOne adds a bed and its planting, in one change. It returns the new bed and the receipt that
// undoes both.
func (s *Handler) AddOne(c *gin.Context, b garden.Bed, first layout.First) (int64, garden.Receipt, error) {
	b, r, err := s.App(c).Layout.AddBed(c.Request.Context(), s.Actor(c), b, first)
	return b.ID, r, err
}

// EditBed shows the form of an existing bed.
func (s *Handler) EditBed(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	b, err := s.App(c).BedState.Named(c.Request.Context(), id)
	if err != nil {
		return err
	}
	f := formOf(b, s.Units(c))
	// Typed values override stored ones: the plan follows the form.
	maps.Copy(f.Values, form.Asked(c).Values)
	return s.showBedForm(c, http.StatusOK, f, id)
}

// SaveBed saves a bed, or shows the conflict if it was changed elsewhere.
func (s *Handler) SaveBed(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	b, _ := BedFrom(f, s.Units(c))
	b.ID = id
	if b.Version, err = strconv.ParseInt(f.Value("version"), 10, 64); err != nil {
		return garden.ErrStale
	}
	return s.Save(c, &f, site.Saving{
		To:   site.BedHref(id),
		Save: func() (garden.Receipt, error) { return s.App(c).Layout.EditBed(c.Request.Context(), s.Actor(c), b) },
		Now: func() (form.Form, error) {
			now, err := s.App(c).BedState.Named(c.Request.Context(), id)
			return formOf(now, s.Units(c)), err
		},
		Show: func(status int) error { return s.showBedForm(c, status, f, id) },
	})
}

// RetireBed takes a bed off the plan; its record stays.
func (s *Handler) RetireBed(c *gin.Context) error {
	return s.Press(c, "/", s.App(c).Layout.Retire)
}

// DuplicateBed adds copies of a bed.
func (s *Handler) DuplicateBed(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	n, between := 1, 0.5
	if f.Value("copies") != "" {
		n = f.Whole("copies")
	}
	if x, ok := f.Number("between"); ok {
		between = x * s.Units(c).Lengths().Size
	}
	if len(f.Faults) > 0 {
		f.Sentences()
		s.Fail(c, http.StatusUnprocessableEntity, "How many like it? "+site.FirstFault(f.Faults))
		return nil
	}
	b, r, err := s.App(c).Layout.Like(c.Request.Context(), s.Actor(c), id, n, between)
	if f.Add(err) {
		f.Sentences()
		s.Fail(c, http.StatusUnprocessableEntity, "How many like it? "+site.FirstFault(f.Faults))
		return nil
	}
	if err != nil {
		return err
	}
	if r.Repeated {
		b.ID = id
	}
	s.Done(c, site.BedHref(b.ID), r)
	return nil
}
