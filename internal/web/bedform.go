package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/draw"
)

var bedFields = []string{"name", "kind", "w", "h", "x", "y", "shape", "turn", "corners", "rings", "texture", "depth", "worked", "om", "free_lime", "crop", "sown", "version"}

type newBedView struct {
	Page
	Form     Form
	Kinds    []Option
	Textures []Option
	Worked   []Option
	Crops    []Option
	Limes    []Option
	Shapes   []Option
	Plan     draw.Plan
	// Over names the beds that this one lies over.
	Over []string
	// Action is where the form goes, Button what it says; Editing is the bed
	// that is changed, 0 for a new one.
	Action, Button string
	Editing        int64
}

func (s *server) newBed(c *gin.Context) { s.showBedForm(c, http.StatusOK, asked(c, bedFields...), 0) }

// showBedForm shows the form of a new bed, or of the one that is edited.
func (s *server) showBedForm(c *gin.Context, status int, f Form, editing int64) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	if status == http.StatusOK && editing == 0 {
		x, y := garden.FreeSpot(v.Plots)
		for name, usual := range map[string]string{"kind": "bed", "w": "4", "h": "1.2", "texture": "loam", "depth": "15", "worked": "dug", "rings": "3", "shape": "rect", "turn": "0", "free_lime": "unknown",
			"crop": "general-vegetables", "sown": s.Clock.Today().String(), "x": metres(x), "y": metres(y)} {
			if f.Values[name] == "" {
				f.Values[name] = usual
			}
		}
	}
	view := newBedView{Page: s.page(c, v.Garden, "Ground", "Add a bed"), Form: f, Crops: cropOptions(), Action: "/beds", Button: "Add the bed", Editing: editing}
	if editing != 0 {
		view.Title, view.Action, view.Button = "Change "+f.Value("name"), "/beds/"+strconv.FormatInt(editing, 10), "Save the bed"
	}
	for _, x := range garden.Shapes {
		view.Shapes = append(view.Shapes, Option{x, shapeNames[x]})
	}
	view.begin(c, beginBed, "The first bed: where it lies, how large it is, what its soil is like.")
	for _, l := range []soil.FreeLime{soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong} {
		view.Limes = append(view.Limes, Option{string(l), words.Capital(limeNames[l])})
	}
	for _, k := range garden.Kinds {
		view.Kinds = append(view.Kinds, Option{k, words.Capital(words.Name(k))})
	}
	for _, t := range soil.Textures {
		view.Textures = append(view.Textures, Option{string(t.ID), words.Capital(words.Name(t.ID))})
	}
	for _, w := range []soil.Worked{soil.Dug, soil.Surface, soil.Established} {
		view.Worked = append(view.Worked, Option{string(w), words.Capital(words.Name(w))})
	}
	var plots []garden.Plot
	mine := garden.Plot{Standing: garden.Untested}
	for _, p := range v.Plots {
		if p.Bed.ID == editing {
			mine = p // it keeps its reading wherever it is moved
		} else {
			plots = append(plots, p)
		}
	}
	if b, err := bedFrom(f); err == nil {
		b.ID = -1
		if b.Name == "" {
			b.Name = "New"
		}
		for _, p := range plots {
			if garden.Overlaps(b, p.Bed) {
				view.Over = append(view.Over, p.Bed.Name)
			}
		}
		mine.Bed = b
		plots = append(plots, mine)
	}
	view.Plan = draw.PlanOf(plots, draw.Layers(s.Clock.Today())[0], nil, -1, 620, 430)
	s.render(c, status, "newbed", view)
}

func metres(m float64) string { return strconv.FormatFloat(quantity.Round(m, 1), 'f', -1, 64) }

// bedFrom reads the form's bed; the error tells only whether it can be drawn.
func bedFrom(f Form) (garden.Bed, error) {
	b := garden.Bed{Name: f.Value("name"), Kind: f.Value("kind"), Shape: garden.ShapeRect, Texture: soil.Texture(f.Value("texture")),
		Worked: soil.Worked(f.Value("worked")), FreeLime: soil.FreeLime(f.Value("free_lime")),
		W: f.needed("w", "A length in metres is needed."), H: f.needed("h", "A width in metres is needed."),
		X: f.needed("x", "A place in metres is needed."), Y: f.needed("y", "A place in metres is needed.")}
	b.Depth = quantity.Depth(f.needed("depth", "A depth from 2 to 60 cm is needed.")) * quantity.Centimetre
	b.OrganicMatter = optional[quantity.Percent](f, "om", 1)
	if b.FreeLime == "" {
		b.FreeLime = soil.LimeUnknown
	}
	b.Shape = f.Value("shape")
	if b.Shape == "" {
		b.Shape = garden.ShapeRect
		if b.Kind == garden.KindTree {
			b.Shape = garden.ShapeRings
		}
	}
	b.Turn, _ = f.number("turn")
	switch b.Shape {
	case garden.ShapeRings:
		b.Rings = f.whole("rings")
	case garden.ShapeCircle:
		b.H = b.W
		delete(f.Faults, "h")
	case garden.ShapeOutline:
		ps := f.corners("corners")
		if why := garden.CheckCorners(ps); why != "" && f.Fault("corners") == "" {
			f.Faults["corners"] = why
		} else if why == "" {
			b.FitFrame(ps)
			for _, n := range []string{"w", "h", "x", "y"} {
				delete(f.Faults, n)
			}
		}
	}
	if f.Fault("corners") != "" || !(b.W > 0 && b.H > 0 && b.W <= 2000 && b.H <= 2000 && b.X >= 0 && b.Y >= 0 && b.X <= 2000 && b.Y <= 2000) {
		return b, errors.New("it cannot be drawn")
	}
	return b, nil
}

func (s *server) addBed(c *gin.Context) {
	f := posted(c, bedFields...)
	b, _ := bedFrom(f)
	sown := f.day("sown")
	err := garden.CheckBed(b, f.Value("crop"), sown)
	if len(f.Faults) == 0 && err == nil {
		var r garden.Receipt
		var id int64
		if id, r, err = s.addOne(c, b, f.Value("crop"), sown); err == nil {
			s.done(c, onFrom(c, beginBed, id, bedHref(id)), r)
			return
		}
	}
	if err != nil && !f.add(err) {
		s.failWith(c, err)
		return
	}
	f.sentences()
	s.showBedForm(c, http.StatusUnprocessableEntity, f, 0)
}

func (s *server) addOne(c *gin.Context, b garden.Bed, crp string, sown quantity.Day) (int64, garden.Receipt, error) {
	b, r, err := s.keep.AddBed(c.Request.Context(), s.act(c), b, crp, sown)
	return b.ID, r, err
}

// corners reads a freehand outline: a corner a line, metres from the west and
// from the north edge.
func (f Form) corners(name string) (out []garden.Point) {
	for i, line := range strings.Split(f.Values[name], "\n") {
		fields := strings.FieldsFunc(strings.TrimSpace(line), func(r rune) bool { return r == ' ' || r == ';' || r == '\t' })
		if len(fields) == 0 {
			continue
		}
		var p garden.Point
		var err1, err2 error
		if len(fields) == 2 {
			p.X, err1 = strconv.ParseFloat(strings.ReplaceAll(fields[0], ",", "."), 64)
			p.Y, err2 = strconv.ParseFloat(strings.ReplaceAll(fields[1], ",", "."), 64)
		}
		if len(fields) != 2 || err1 != nil || err2 != nil {
			f.Faults[name] = fmt.Sprintf("line %d: two figures are needed, metres from the west and from the north", i+1)
			return nil
		}
		out = append(out, p)
	}
	return out
}

func cornersText(b garden.Bed) string {
	if b.Shape != garden.ShapeOutline {
		return ""
	}
	var lines []string
	for _, p := range b.Corners {
		lines = append(lines, strconv.FormatFloat(quantity.Round(b.X+p.X, 3), 'f', -1, 64)+" "+strconv.FormatFloat(quantity.Round(b.Y+p.Y, 3), 'f', -1, 64))
	}
	return strings.Join(lines, "\n")
}

// shapeNames are the shapes in the form.
var shapeNames = map[string]string{garden.ShapeRect: "Rectangle", garden.ShapeCircle: "Circle", garden.ShapeRings: "Tree rings in a row", garden.ShapeOutline: "Freehand, by its corners"}

// limeNames say what a drop of vinegar on dry soil did.
var limeNames = map[soil.FreeLime]string{soil.LimeUnknown: "not tried", soil.LimeNone: "nothing", soil.LimeFaint: "faint fizz", soil.LimeClear: "clear fizz", soil.LimeStrong: "strong fizz"}

func (s *server) editBed(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	rec, err := s.keep.Bed(c.Request.Context(), id, s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	b := rec.Bed
	f := Form{Faults: garden.Faults{}, Values: map[string]string{"name": b.Name, "kind": b.Kind, "w": metres(b.W), "h": metres(b.H), "x": metres(b.X), "y": metres(b.Y),
		"rings": strconv.Itoa(max(b.Rings, 1)), "shape": b.Shape, "turn": metres(b.Turn), "corners": cornersText(b), "texture": string(b.Texture), "depth": metres(float64(b.Depth) * 100), "worked": string(b.Worked), "free_lime": string(b.FreeLime),
		"version": strconv.FormatInt(b.Version, 10)}}
	if b.OrganicMatter != nil {
		f.Values["om"] = metres(float64(*b.OrganicMatter))
	}
	// What is being typed goes before what is kept: the plan follows the form.
	for _, n := range bedFields {
		if typed := c.Query(n); typed != "" {
			f.Values[n] = typed
		}
	}
	s.showBedForm(c, http.StatusOK, f, id)
}

func (s *server) saveBed(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := posted(c, bedFields...)
	b, _ := bedFrom(f)
	b.ID = id
	if b.Version, err = strconv.ParseInt(f.Value("version"), 10, 64); err != nil {
		s.failWith(c, garden.ErrStale)
		return
	}
	if len(f.Faults) == 0 {
		r, err := s.keep.EditBed(c.Request.Context(), s.act(c), b)
		if err == nil {
			s.done(c, bedHref(id), r)
			return
		}
		if !f.add(err) {
			s.failWith(c, err)
			return
		}
	}
	f.sentences()
	s.showBedForm(c, http.StatusUnprocessableEntity, f, id)
}

func (s *server) retireBed(c *gin.Context) {
	id, version, err := taskPost(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	r, err := s.keep.Retire(c.Request.Context(), s.act(c), id, version)
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, "/", r)
}

func (s *server) duplicateBed(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	b, r, err := s.keep.Duplicate(c.Request.Context(), s.act(c), id)
	if err != nil {
		s.failWith(c, err)
		return
	}
	if r.Repeated {
		b.ID = id
	}
	s.done(c, bedHref(b.ID), r)
}

func (s *server) addPlanting(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := posted(c, "crop", "sown")
	p := garden.Planting{BedID: id, Crop: f.Value("crop"), Sown: f.day("sown")}
	if len(f.Faults) == 0 {
		r, err := s.keep.AddPlanting(c.Request.Context(), s.act(c), p)
		if err == nil {
			s.done(c, "/beds/"+c.Param("id"), r)
			return
		}
		if !f.add(err) {
			s.failWith(c, err)
			return
		}
	}
	f.sentences()
	s.showBed(c, http.StatusUnprocessableEntity, id, f)
}

func (s *server) clearPlanting(c *gin.Context) {
	id, version, err := taskPost(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := posted(c, "cleared")
	on := f.day("cleared")
	if len(f.Faults) > 0 {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("cleared")))
		return
	}
	r, bed, err := s.keep.Clear(c.Request.Context(), s.act(c), id, version, on)
	if f.add(err) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("cleared")))
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	to := "/beds/" + strconv.FormatInt(bed, 10)
	if r.Repeated {
		to = "/"
	}
	s.done(c, to, r)
}
