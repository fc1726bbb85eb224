package web

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
)

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
				f.Values["depth"] = figure(float64(b.Depth), g.Units().Depths(), 1)
			}
		}
	}
	if status == http.StatusOK {
		for name, usual := range map[string]string{"date": today.String(), "method": "lab", "basis": "water", "cores": "10", "depth": figure(0.15, g.Units().Depths(), 1)} {
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
	err = s.Store.Read(c.Request.Context(), func(r garden.Reader) (err error) { last, err = r.ReadingsFrom(s.on(c).String(), benchLast); return err })
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
	if err := s.year(c, &view.Page, nil); err != nil {
		s.failWith(c, err)
		return
	}
	s.render(c, status, "bench", view)
}

func (s *server) addReading(c *gin.Context) {
	f := posted(c, readingFields...)
	r := garden.Reading{Date: f.day("date"), Method: soil.Method(f.Value("method")), Basis: soil.Basis(f.Value("basis")), Cores: f.whole("cores"), Note: f.Value("note"),
		PH: optional[quantity.PH](f, "ph", 1), Potassium: optional[quantity.Concentration](f, "k", 1), Magnesium: optional[quantity.Concentration](f, "mg", 1)}
	r.Depth = quantity.Depth(f.needed("depth", "A depth from 2 to 60 cm is needed.") * s.units(c).Depths().Size)
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
	f.sentences()
}
