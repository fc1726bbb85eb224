package web

import (
	"bytes"
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/draw"
)

// --- a bed's record

type bedView struct {
	Page
	ID           int64
	Name, Facts  string
	Crops, Note  string
	Chart        draw.Chart
	Readings     []readingRow
	Applications []applicationRow
	Tasks        []taskRow
	Plantings    []plantingRow
	CropOptions  []Option
	Form         Form
	Version      int64
	Retired      string
	DuplicateKey string
	DoseHref     string
	ReadingHref  string
	PlanHref     string
}

type plantingRow struct {
	ID, Version         int64
	Crop, Sown, Cleared string
	Key                 string
}

type readingRow struct{ Date, Bed, PH, Method, Doubt, Cores, K, Note string }
type applicationRow struct{ Date, What, Total, Rate, Note string }
type taskRow struct{ Due, What, State, Why string }

func (s *server) bed(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.showBed(c, http.StatusOK, id, Form{Values: map[string]string{}, Faults: garden.Faults{}})
}

// showBed shows a bed's record; f gives back what was typed for its next crop.
func (s *server) showBed(c *gin.Context, status int, id int64, f Form) {
	today := s.Clock.Today()
	w, err := s.keep.Dose(c.Request.Context(), id, garden.Choice{}, today)
	if err != nil && !errors.Is(err, garden.ErrNoReading) {
		s.failWith(c, err)
		return
	}
	chart := bedChart(w, today, 760, 260)
	v := bedView{Page: s.page(c, w.Garden, "Ground", w.Bed.Name+": "+words.Lower(chart.Title)), ID: id, Name: w.Bed.Name, Facts: facts(w.Bed), Crops: cropWords(w.Plot),
		Note: w.Bed.Note, Version: w.Bed.Version, Retired: words.DayYear(w.Bed.Retired), Form: f, CropOptions: cropOptions(), Chart: chart, DoseHref: doseHref(id), ReadingHref: "/bench?bed=" + strconv.FormatInt(id, 10), PlanHref: bedHref(id)}
	for i := len(w.Readings) - 1; i >= 0; i-- {
		v.Readings = append(v.Readings, readingOf(w.Readings[i], w.Bed.Name))
	}
	for i := len(w.Applications) - 1; i >= 0; i-- {
		a := w.Applications[i]
		v.Applications = append(v.Applications, applicationRow{words.DayYear(a.Date), words.Capital(words.Material(a.What)), words.Mass(a.Total), words.Rate(a.Rate), a.Note})
	}
	for i := len(w.Tasks) - 1; i >= 0; i-- {
		t := w.Tasks[i]
		state := map[string]string{garden.Open: "to do", garden.Done: "done " + words.DayYear(t.Settled), garden.Skipped: "skipped"}[t.State]
		v.Tasks = append(v.Tasks, taskRow{words.DayYear(t.Due), words.Capital(taskWords(t)), state, t.Why})
	}
	for i := len(w.Plantings) - 1; i >= 0; i-- {
		p := w.Plantings[i]
		v.Plantings = append(v.Plantings, plantingRow{p.ID, p.Version, words.Capital(words.Crop(p.Crop)), words.DayYear(p.Sown), p.Cleared.String(), newKey()})
	}
	v.DuplicateKey = newKey()
	s.render(c, status, "bed", v)
}

func readingOf(r garden.Reading, bed string) readingRow {
	row := readingRow{Date: words.DayYear(r.Date), Bed: bed, Method: words.Short(r.Method), Cores: strconv.Itoa(r.Cores), Note: r.Note}
	if r.PH != nil {
		row.PH = words.PH2(r.Soil().Water())
		row.Doubt = "± " + words.PH2(quantity.PH(r.Soil().SD()))
		if r.Basis != soil.Water {
			row.PH += " (" + words.PH2(*r.PH) + " " + words.Name(r.Basis) + ")"
		}
	} else {
		reaction, _ := r.Soil().Fizz.Judge()
		row.PH = map[soil.Reaction]string{soil.Acid: "acid", soil.NearNeutral: "near neutral", soil.Alkaline: "alkaline"}[reaction]
	}
	if r.Potassium != nil {
		row.K = words.PPM(*r.Potassium)
	}
	return row
}

// --- the bench

var readingFields = []string{"bed", "date", "method", "basis", "ph", "cores", "depth", "k", "mg", "vinegar", "soda", "note"}

type benchView struct {
	Page
	Form    Form
	Beds    []Option
	Methods []Option
	Bases   []Option
	Fizzes  []Option
	Last    []readingRow
	Today   string
	Chosen  string
}

func (s *server) bench(c *gin.Context) {
	f := asked(c, readingFields...)
	s.showBench(c, http.StatusOK, f)
}

const benchLast = 12

func (s *server) showBench(c *gin.Context, status int, f Form) {
	today := s.Clock.Today()
	g, beds, err := s.keep.Names(c.Request.Context(), today)
	if err != nil {
		s.failWith(c, err)
		return
	}
	if len(beds) == 0 {
		c.Redirect(http.StatusSeeOther, "/")
		return
	}
	view := benchView{Form: f, Today: today.String()}
	names := map[int64]string{}
	for _, b := range beds {
		id := strconv.FormatInt(b.ID, 10)
		names[b.ID] = b.Name
		view.Beds = append(view.Beds, Option{id, b.Name})
		if f.Is("bed", id) {
			view.Chosen = b.Name
			if f.Values["depth"] == "" && status == http.StatusOK {
				f.Values["depth"] = strconv.FormatFloat(quantity.Round(float64(b.Depth)*100, 1), 'f', -1, 64)
			}
		}
	}
	if status == http.StatusOK {
		for name, usual := range map[string]string{"date": today.String(), "method": "lab", "basis": "water", "cores": "10", "depth": "15"} {
			if f.Values[name] == "" {
				f.Values[name] = usual
			}
		}
	}
	for _, m := range soil.Methods {
		view.Methods = append(view.Methods, Option{string(m.Method), words.Capital(words.Name(m.Method))})
	}
	for _, b := range soil.Bases {
		view.Bases = append(view.Bases, Option{string(b.Basis), words.Capital(words.Name(b.Basis))})
	}
	for _, x := range []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong} {
		view.Fizzes = append(view.Fizzes, Option{string(x), words.Capital(words.Name(x))})
	}
	var last []garden.Reading
	err = s.Store.Read(c.Request.Context(), func(r garden.Reader) (err error) { last, err = r.ReadingsFrom(today.String(), benchLast); return err })
	if err != nil {
		s.failWith(c, err)
		return
	}
	for _, r := range last {
		view.Last = append(view.Last, readingOf(r, names[r.BedID]))
	}
	title := "Enter a reading"
	if view.Chosen != "" {
		title = "Enter a reading of " + view.Chosen
	}
	view.Page = s.page(c, g, "Bench", title)
	view.begin(c, beginReading, "The first reading. A colour kit will do to begin with; a lab is surer.")
	s.render(c, status, "bench", view)
}

func (s *server) addReading(c *gin.Context) {
	f := posted(c, readingFields...)
	r := garden.Reading{Date: f.day("date"), Method: soil.Method(f.Value("method")), Basis: soil.Basis(f.Value("basis")), Cores: f.whole("cores"), Note: f.Value("note"),
		PH: optional[quantity.PH](f, "ph", 1), Potassium: optional[quantity.Concentration](f, "k", 1), Magnesium: optional[quantity.Concentration](f, "mg", 1)}
	r.Depth = quantity.Depth(f.needed("depth", "A depth from 2 to 60 cm is needed.")) * quantity.Centimetre
	bed, err := strconv.ParseInt(f.Value("bed"), 10, 64)
	if err != nil {
		f.Faults["bed"] = "Choose the bed that was sampled."
	}
	r.BedID = bed
	if r.Method == soil.Fizz {
		r.Vinegar, r.Soda = soil.FreeLime(f.Value("vinegar")), soil.FreeLime(f.Value("soda"))
		r.PH = nil
	}
	if len(f.Faults) > 0 {
		s.showBench(c, http.StatusUnprocessableEntity, f)
		return
	}
	got, err := s.keep.AddReading(c.Request.Context(), s.act(c), r)
	if f.add(err) {
		readingFaults(f)
		s.showBench(c, http.StatusUnprocessableEntity, f)
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, onFrom(c, beginReading, bed, bedHref(bed)), got)
}

// readingFaults gives the core's names of fields those of the form, and each
// sentence its capital and its stop.
func readingFaults(f Form) {
	for from, to := range map[string]string{"k_ppm": "k", "mg_ppm": "mg", "fizz": "vinegar"} {
		if says, ok := f.Faults[from]; ok {
			f.Faults[to] = says
			delete(f.Faults, from)
		}
	}
	for k, v := range f.Faults {
		f.Faults[k] = words.Sentence(v)
	}
}

// --- a new bed

var bedFields = []string{"name", "kind", "w", "h", "x", "y", "rings", "texture", "depth", "worked", "om", "free_lime", "crop", "sown", "version"}

type newBedView struct {
	Page
	Form     Form
	Kinds    []Option
	Textures []Option
	Worked   []Option
	Crops    []Option
	Limes    []Option
	Plan     draw.Plan
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
		for name, usual := range map[string]string{"kind": "bed", "w": "4", "h": "1.2", "texture": "loam", "depth": "15", "worked": "dug", "rings": "3", "free_lime": "unknown",
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
	for _, p := range v.Plots {
		if p.Bed.ID != editing {
			plots = append(plots, p)
		}
	}
	if b, err := bedFrom(f); err == nil {
		b.ID = -1
		if b.Name == "" {
			b.Name = "New"
		}
		plots = append(plots, garden.Plot{Bed: b, Standing: garden.Untested})
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
	if b.Kind == garden.KindTree {
		b.Shape, b.Rings = garden.ShapeRings, f.whole("rings")
	}
	if !(b.W > 0 && b.H > 0 && b.W <= 2000 && b.H <= 2000 && b.X >= 0 && b.Y >= 0 && b.X <= 2000 && b.Y <= 2000) {
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
	for k, v := range f.Faults {
		f.Faults[k] = words.Sentence(v)
	}
	s.showBedForm(c, http.StatusUnprocessableEntity, f, 0)
}

func (s *server) addOne(c *gin.Context, b garden.Bed, crp string, sown quantity.Day) (int64, garden.Receipt, error) {
	b, r, err := s.keep.AddBed(c.Request.Context(), s.act(c), b, crp, sown)
	return b.ID, r, err
}

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
		"rings": strconv.Itoa(max(b.Rings, 1)), "texture": string(b.Texture), "depth": metres(float64(b.Depth) * 100), "worked": string(b.Worked), "free_lime": string(b.FreeLime),
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
	for k, v := range f.Faults {
		f.Faults[k] = words.Sentence(v)
	}
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
	for k, v := range f.Faults {
		f.Faults[k] = words.Sentence(v)
	}
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

// --- safe keeping

type keepView struct {
	Page
	Copies  []string
	Journal []journalRow
	Empty   bool
	Form    Form
}

type journalRow struct {
	At, Who, What string
	Undo          int64
	Key           string
}

const journalLines = 25

func (s *server) keeping(c *gin.Context) {
	s.showKeeping(c, http.StatusOK, Form{Faults: garden.Faults{}})
}

func (s *server) showKeeping(c *gin.Context, status int, f Form) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	lines, err := s.keep.Journal(c.Request.Context(), journalLines)
	if err != nil {
		s.failWith(c, err)
		return
	}
	view := keepView{Form: f, Empty: len(v.Plots) == 0}
	if view.Copies, err = s.Gate.Copies(); err != nil {
		s.failWith(c, err)
		return
	}
	for _, e := range lines {
		row := journalRow{At: e.At[:10] + " " + e.At[11:16], Who: e.Who, What: e.What, Key: newKey()}
		if e.UndoneBy == nil && e.Who == "gardener" {
			row.Undo = e.ID
		}
		view.Journal = append(view.Journal, row)
	}
	title := "Everything is kept in one file"
	if n := len(view.Copies); n > 0 {
		title = "Kept, with " + words.Count(n, "daily copy", "daily copies")
	}
	view.Page = s.page(c, v.Garden, "Safe keeping", title)
	s.render(c, status, "keep", view)
}

func (s *server) exportArchive(c *gin.Context) {
	var b bytes.Buffer
	err := s.Store.Read(c.Request.Context(), func(r garden.Reader) error {
		a, err := r.Archive()
		if err != nil {
			return err
		}
		return exchange.WriteArchive(&b, a)
	})
	if err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-`+s.Clock.Today().String()+`.json"`)
	c.Data(http.StatusOK, "application/json; charset=utf-8", b.Bytes())
}

func (s *server) exportTasks(c *gin.Context) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	var b bytes.Buffer
	if err := exchange.WriteTasks(&b, v.Garden, v.Tasks, v.Plots, s.Clock.Now()); err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-tasks.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
}

func (s *server) importArchive(c *gin.Context) {
	f := Form{Faults: garden.Faults{}}
	file, err := c.FormFile("archive")
	if err != nil {
		f.Faults["archive"] = "Choose the archive's file first."
		s.showKeeping(c, http.StatusUnprocessableEntity, f)
		return
	}
	err = func() error {
		r, err := file.Open()
		if err != nil {
			return err
		}
		defer func() { _ = r.Close() }()
		a, err := exchange.ReadArchive(r)
		if err != nil {
			return err
		}
		return s.Store.Restore(c.Request.Context(), a)
	}()
	if errors.Is(err, garden.ErrNotEmpty) {
		err = garden.Faults{"archive": err.Error()}
	}
	if f.add(err) {
		f.Faults["archive"] = words.Sentence(f.Faults["archive"])
		s.showKeeping(c, http.StatusUnprocessableEntity, f)
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/")
}
