package marks

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type markView struct {
	view.Page
	Form    form.Form
	Fields  map[string]view.Field
	Kinds   []view.Option
	Plan    svg.Plan
	Marks   []markRow
	Action  string
	Editing int64
}

// markTable returns the text fields.
func markTable(u text.Units, kinds []view.Option) form.Table {
	in := u.Lengths().Name
	return form.Table{{Name: "kind", Label: "What it is", Options: kinds},
		{Name: "corners", Label: "Points, one a line: " + in + " from the west edge and from the north edge", Mode: form.Lines, Lines: 5,
			Box: form.Wide},
		{Name: "width", Label: "Width, " + in, Mode: form.Decimal},
		{Name: "name", Label: "Name", Aside: "if it has one", Box: form.Wide, MaxLength: 60}}
}

type markRow struct {
	ID, Version      int64
	Name, Says, Href string
	Key              string
}

// markNames are the names of the kinds of mark.
var markNames = map[string]string{garden.MarkPath: "Path", garden.MarkWall: "Wall, fence or hedge"}

// Marks shows the marks and the form of a new one.
func (s *Handler) Marks(c *gin.Context) error {
	return s.showMarks(c, http.StatusOK, form.Asked(c), 0)
}

// EditMark shows the form of an existing mark.
func (s *Handler) EditMark(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Asked(c)
	if _, typed := c.GetQuery("corners"); !typed {
		if f, err = s.markAsItIs(c, id); err != nil {
			return err
		}
	}
	return s.showMarks(c, http.StatusOK, f, id)
}

// markAsItIs returns the form of an existing mark.
func (s *Handler) markAsItIs(c *gin.Context, id int64) (f form.Form, err error) {
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return f, err
	}
	i := slices.IndexFunc(v.Marks, func(m garden.Mark) bool { return m.ID == id })
	if i < 0 {
		return f, garden.ErrMissing
	}
	m, in := v.Marks[i], v.Garden.Units().Lengths()
	f = form.NoForm()
	f.Values = map[string]string{"name": m.Name, "kind": m.Kind, "width": form.Figure(m.Width, in, 2),
		"corners": present.CornersText(m.Points, garden.Point{}, in), "version": strconv.FormatInt(m.Version, 10)}
	return f, nil
}

func (s *Handler) showMarks(c *gin.Context, status int, f form.Form, editing int64) error {
	v, err := s.App(c).BedState.On(c.Request.Context(), s.Clock.Today(), s.On(c), bedstate.ForecastOutlook{})
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	if f.Value("width") == "" && status == http.StatusOK {
		f.Values["width"] = form.Usual(0.6, u.Lengths())
	}
	if f.Value("kind") == "" {
		f.Values["kind"] = garden.MarkPath
	}
	vm := markView{Page: s.Page(c, v.Garden, "Ground", "Paths and walls"), Form: f, Action: "/marks", Editing: editing}
	if editing != 0 {
		vm.Action = "/marks/" + strconv.FormatInt(editing, 10)
	}
	for _, k := range garden.MarkKinds {
		vm.Kinds = append(vm.Kinds, view.Option{Value: k, Text: markNames[k]})
	}
	quiet := form.Form{Values: f.Values, Faults: garden.Faults{}}
	width, _ := quiet.Number("width")
	width *= u.Lengths().Size
	draft := present.CornersIn(quiet, "corners", u.Lengths())
	if width != 0 && !garden.LimitWidth.Holds(width) {
		quiet.Faults["width"], width = garden.LimitWidth.Says(), 0
	}
	// Impossible values are not drawn, and reported before they are sent.
	for field, why := range quiet.Faults {
		if status == http.StatusOK || f.Fault(field) == "" {
			f.Faults[field] = text.Sentence(why)
		}
	}
	if len(quiet.Faults) > 0 {
		status = http.StatusUnprocessableEntity
	}
	vm.Form, vm.Fields = f, f.Fields(markTable(u, vm.Kinds))
	scene := svg.Scene{Beds: v.Beds, Layer: svg.Layers(s.Clock.Today())[0], Units: u, Drawing: true, Draft: draft, DraftWidth: width}
	for _, m := range v.Marks {
		if m.ID != editing {
			scene.Marks = append(scene.Marks, m)
		}
		row := markRow{ID: m.ID, Version: m.Version, Name: m.Name, Key: form.NewKey(), Href: "/marks/" + strconv.FormatInt(m.ID, 10) + "/edit",
			Says: markNames[m.Kind] + ", " + u.Length(m.Width) + " wide, " + text.Count(len(m.Points), "point", "points")}
		if row.Name == "" {
			row.Name = markNames[m.Kind]
		}
		vm.Marks = append(vm.Marks, row)
	}
	vm.Plan = svg.PlanOf(scene, 620, 430)
	if err := s.Year(c, &vm.Page, &v); err != nil {
		return err
	}
	vm.OffNote = false // the plan beside it says so
	s.Render(c, status, "marks", vm)
	return nil
}

// AddMark adds a mark.
func (s *Handler) AddMark(c *gin.Context) error { return s.setMark(c, 0) }

// SaveMark saves a mark.
func (s *Handler) SaveMark(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	return s.setMark(c, id)
}

func (s *Handler) setMark(c *gin.Context, id int64) error {
	f := form.Posted(c)
	in := s.Units(c).Lengths()
	m := garden.Mark{Name: f.Value("name"), Kind: f.Value("kind"),
		Width: f.Needed("width", "A width in "+in.Name+" is needed.") * in.Size, Points: present.CornersIn(f, "corners", in)}
	if m.ID = id; id != 0 {
		var err error
		if m.Version, err = strconv.ParseInt(f.Value("version"), 10, 64); err != nil {
			return garden.ErrStale
		}
	}
	return s.Save(c, &f, site.Saving{
		To:   "/marks",
		Save: func() (garden.Receipt, error) { return s.App(c).Layout.SetMark(c.Request.Context(), s.Actor(c), m) },
		Now:  func() (form.Form, error) { return s.markAsItIs(c, id) },
		Show: func(status int) error { return s.showMarks(c, status, f, id) },
	})
}

// DropMark deletes a mark.
func (s *Handler) DropMark(c *gin.Context) error {
	return s.Press(c, "/marks", s.App(c).Layout.DropMark)
}
