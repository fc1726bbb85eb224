package web

import (
	"errors"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/web/draw"
	"zephyrfield/internal/web/ui"
)

var _ = pagesAt(
	get("/marks", kept((*server).marks)),
	post("/marks", (*server).addMark),
	get("/marks/:id/edit", kept((*server).editMark)),
	post("/marks/:id", (*server).saveMark),
	post("/marks/:id/drop", (*server).dropMark),
)

var markFields = []string{"name", "kind", "width", "corners", "version"}

type markView struct {
	ui.Page
	Form    ui.Form
	Kinds   []ui.Option
	Plan    draw.Plan
	Marks   []markRow
	Action  string
	Editing int64
}

type markRow struct {
	ID, Version      int64
	Name, Says, Href string
	Key              string
}

// markNames say what a mark is.
var markNames = map[string]string{garden.MarkPath: "Path", garden.MarkWall: "Wall, fence or hedge"}

func (s *server) marks(c *gin.Context) error {
	return s.showMarks(c, http.StatusOK, ui.Asked(c, markFields...), 0)
}

func (s *server) editMark(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	f := ui.Asked(c, markFields...)
	if _, typed := c.GetQuery("corners"); !typed {
		if f, err = s.markAsItIs(c, id); err != nil {
			return err
		}
	}
	return s.showMarks(c, http.StatusOK, f, id)
}

// markAsItIs is the form of a mark as it stands.
func (s *server) markAsItIs(c *gin.Context, id int64) (f ui.Form, err error) {
	v, err := s.keep.Plots.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return f, err
	}
	i := slices.IndexFunc(v.Marks, func(m garden.Mark) bool { return m.ID == id })
	if i < 0 {
		return f, garden.ErrMissing
	}
	m, in := v.Marks[i], v.Garden.Units().Lengths()
	f = ui.NoForm()
	f.Values = map[string]string{"name": m.Name, "kind": m.Kind, "width": ui.Figure(m.Width, in, 2),
		"corners": cornersText(m.Points, garden.Point{}, in), "version": strconv.FormatInt(m.Version, 10)}
	return f, nil
}

func (s *server) showMarks(c *gin.Context, status int, f ui.Form, editing int64) error {
	v, err := s.keep.Plots.On(c.Request.Context(), s.Clock.Today(), s.on(c), plots.Foretold{})
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	if f.Value("width") == "" && status == http.StatusOK {
		f.Values["width"] = ui.Usual(0.6, u.Lengths())
	}
	if f.Value("kind") == "" {
		f.Values["kind"] = garden.MarkPath
	}
	view := markView{Page: s.page(c, v.Garden, "Ground", "Paths and walls"), Form: f, Action: "/marks", Editing: editing}
	if editing != 0 {
		view.Action = "/marks/" + strconv.FormatInt(editing, 10)
	}
	for _, k := range garden.MarkKinds {
		view.Kinds = append(view.Kinds, ui.Option{Value: k, Text: markNames[k]})
	}
	quiet := ui.Form{Values: f.Values, Faults: garden.Faults{}}
	width, _ := quiet.Number("width")
	width *= u.Lengths().Size
	draft := cornersIn(quiet, "corners", u.Lengths())
	if width != 0 && !garden.LimitWidth.Holds(width) {
		quiet.Faults["width"], width = garden.LimitWidth.Says(), 0
	}
	// What cannot be meant is not drawn; it is told even before it is sent.
	for field, why := range quiet.Faults {
		if status == http.StatusOK || f.Fault(field) == "" {
			f.Faults[field] = words.Sentence(why)
		}
	}
	if len(quiet.Faults) > 0 {
		status = http.StatusUnprocessableEntity
	}
	view.Form = f
	scene := draw.Scene{Plots: v.Plots, Layer: draw.Layers(s.Clock.Today())[0], Units: u, Drawing: true, Draft: draft, DraftWidth: width}
	for _, m := range v.Marks {
		if m.ID != editing {
			scene.Marks = append(scene.Marks, m)
		}
		row := markRow{ID: m.ID, Version: m.Version, Name: m.Name, Key: ui.NewKey(), Href: "/marks/" + strconv.FormatInt(m.ID, 10) + "/edit",
			Says: markNames[m.Kind] + ", " + u.Length(m.Width) + " wide, " + words.Count(len(m.Points), "point", "points")}
		if row.Name == "" {
			row.Name = markNames[m.Kind]
		}
		view.Marks = append(view.Marks, row)
	}
	view.Plan = draw.PlanOf(scene, 620, 430)
	if err := s.year(c, &view.Page, &v); err != nil {
		return err
	}
	view.OffNote = false // the plan beside it says so
	s.render(c, status, "marks", view)
	return nil
}

func (s *server) addMark(c *gin.Context) error { return s.setMark(c, 0) }

func (s *server) saveMark(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	return s.setMark(c, id)
}

func (s *server) setMark(c *gin.Context, id int64) error {
	f := ui.Posted(c, markFields...)
	in := s.units(c).Lengths()
	m := garden.Mark{Name: f.Value("name"), Kind: f.Value("kind"),
		Width: f.Needed("width", "A width in "+in.Name+" is needed.") * in.Size, Points: cornersIn(f, "corners", in)}
	if m.ID = id; id != 0 {
		var err error
		if m.Version, err = strconv.ParseInt(f.Value("version"), 10, 64); err != nil {
			return garden.ErrStale
		}
	}
	if len(f.Faults) == 0 {
		r, err := s.keep.Ground.SetMark(c.Request.Context(), s.act(c), m)
		if err == nil {
			s.done(c, "/marks", r)
			return nil
		}
		if errors.Is(err, garden.ErrStale) {
			now, err := s.markAsItIs(c, id)
			if err != nil {
				return err
			}
			f.Meet(now, markFields, fieldName)
			return s.showMarks(c, http.StatusConflict, f, id)
		}
		if !f.Add(err) {
			return err
		}
	}
	f.Sentences()
	return s.showMarks(c, http.StatusUnprocessableEntity, f, id)
}

func (s *server) dropMark(c *gin.Context) error {
	id, version, err := taskPost(c)
	if err != nil {
		return err
	}
	r, err := s.keep.Ground.DropMark(c.Request.Context(), s.act(c), id, version)
	if err != nil {
		return err
	}
	s.done(c, "/marks", r)
	return nil
}
