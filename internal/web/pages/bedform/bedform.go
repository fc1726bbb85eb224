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
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type newBedView struct {
	view.Page
	Form form.Form
	// The form's fields in three parts: shape, texture by hand, soil.
	Lies, Felt, Soil []form.Row

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
func UsualBed(f form.Form, all []bedstate.State, u text.Units, today quantity.Day) {
	x, y := bedstate.FreeSpot(all)
	in := u.Lengths()
	for name, usual := range map[string]string{"kind": "bed", "w": form.Usual(4, in), "h": form.Usual(1.2, in), "texture": "loam",
		"depth": form.Usual(0.15, u.Depths()), "worked": "dug", "rings": "3",
		"shape": "rect", "turn": "0", "free_lime": "unknown", "crop": "general-vegetables", "sown": today.String(), "x": form.Figure(x, in,
			1), "y": form.Figure(y, in, 1),
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
		UsualBed(f, v.Beds, u, s.Clock.Today())
	}
	vm := newBedView{Page: s.Page(c, v.Garden, "Ground", "Add a bed"), Form: f, Action: "/beds", Button: "Add the bed", Editing: editing}
	if editing != 0 {
		vm.Title, vm.Action, vm.Button = "Change "+f.Value("name"), "/beds/"+strconv.FormatInt(editing, 10), "Save the bed"
	}
	vm.fields(u, v.Beds, v.Library)
	if vm.place(f, &v, u, svg.Layers(s.Clock.Today())[0], status == http.StatusOK) {
		f.Sentences()
		status = http.StatusUnprocessableEntity
	}
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
	vm.Jar, vm.Found = jarOf(f), found(b)
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
	b, _ := BedFrom(f, s.Units(c))
	sown := f.Day("sown")
	err := garden.CheckBed(b, f.Value("crop"), sown)
	if len(f.Faults) == 0 && err == nil {
		var r garden.Receipt
		var id int64
		if id, r, err = s.AddOne(c, b, f.Value("crop"), sown); err == nil {
			s.Done(c, site.BedHref(id), r)
			return nil
		}
	}
	if err != nil && !f.Add(err) {
		return err
	}
	f.Sentences()
	return s.showBedForm(c, http.StatusUnprocessableEntity, f, 0)
}

// AddOne adds a bed and, with a crop, its planting from sown on, in one change. It returns the new
// bed and the receipt that undoes both.
func (s *Handler) AddOne(c *gin.Context, b garden.Bed, crp string, sown quantity.Day) (int64, garden.Receipt, error) {
	b, r, err := s.App(c).Layout.AddBed(c.Request.Context(), s.Actor(c), b, crp, sown)
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
