package web

import (
	"fmt"
	"math"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
)

var readingFields = []string{"bed", "sample", "reading", "version", "date", "method", "basis", "ph", "cores", "depth", "k", "mg", "vinegar", "soda", "note",
	"ca", "p", "om", "cec", "k_extractant", "k_from", "k_to", "buffer_kind", "buffer_ph", "capacity", "layers", "jars",
	"lab_rate", "lab_depth", "lab_cce", "lab_target", "chip", "cal_date", "cal_4", "cal_7", "cal_10", "tries", "temp"}

type benchView struct {
	Page
	Form     Form
	Beds     []Option
	Methods  []Option
	Bases    []Option
	Fizzes   []Option
	Buffers  []Option
	Extracts []Option
	Probe    *probeView
	Chips    []Option
	Last     []readingRow
	Today    string
	Chosen   string
	RateIn   string
	// Sample is set when a mixed sample of a round is read, Editing when a
	// reading is put right.
	Sample, Editing string
	Action          string
}

// MoreOpen tells whether something of the lab's report beyond the pH is there,
// or wrong.
func (v benchView) MoreOpen() bool {
	for _, n := range []string{"buffer_ph", "om", "cec", "ca", "p", "k_from", "k_to", "lab_rate", "lab_depth", "lab_cce", "lab_target", "capacity", "layers"} {
		if v.Form.Value(n) != "" || v.Form.Fault(n) != "" {
			return true
		}
	}
	return false
}

func (s *server) bench(c *gin.Context) {
	f := asked(c, readingFields...)
	if id, err := strconv.ParseInt(f.Value("reading"), 10, 64); err == nil {
		var r garden.Reading
		err = s.Store.Read(c.Request.Context(), func(x garden.Reader) (err error) { r, err = x.Reading(id); return err })
		if err != nil {
			s.failWith(c, err)
			return
		}
		f.fillReading(r, s.units(c))
	}
	s.showBench(c, http.StatusOK, f)
}

const benchLast = 12

// benchSample fills the form from a sample's label.
func (s *server) benchSample(c *gin.Context, view *benchView, f Form, fill bool) error {
	code := strings.ToUpper(f.Value("sample"))
	if code == "" {
		return nil
	}
	x, beds, cores, err := s.keep.SampleFor(c.Request.Context(), code)
	if err != nil {
		return err
	}
	names := make([]string, len(beds))
	for i, b := range beds {
		names[i] = b.Name
	}
	view.Sample, view.Chosen = x.Code, "sample "+x.Code+": "+words.List(names)
	if !fill {
		return nil
	}
	f.Values["cores"] = strconv.Itoa(cores)
	f.Values["depth"] = figure(float64(x.Depth), s.units(c).Depths(), 1)
	if x.Taken != 0 {
		f.Values["date"] = x.Taken.String()
	}
	return nil
}

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
	u := g.Units()
	view := benchView{Form: f, Today: today.String(), RateIn: u.Rates().Name, Action: "/readings", Editing: f.Value("reading")}
	if view.Editing != "" {
		view.Action = "/readings/" + view.Editing
	}
	if err := s.benchSample(c, &view, f, status == http.StatusOK && view.Editing == ""); err != nil {
		s.failWith(c, err)
		return
	}
	names := map[int64]string{}
	for _, b := range beds {
		id := strconv.FormatInt(b.ID, 10)
		names[b.ID] = b.Name
		view.Beds = append(view.Beds, Option{id, b.Name})
		if f.Is("bed", id) && view.Sample == "" {
			view.Chosen = b.Name
			if f.Values["depth"] == "" && status == http.StatusOK {
				f.Values["depth"] = figure(float64(b.Depth), u.Depths(), 1)
			}
		}
	}
	if status == http.StatusOK {
		for name, usual := range map[string]string{"date": today.String(), "method": "lab", "basis": "water", "cores": "10", "depth": figure(0.15, u.Depths(), 1)} {
			if f.Values[name] == "" {
				f.Values[name] = usual
			}
		}
	}
	view.lists()
	view.Chips, view.Probe = chipOptions(g.Chips()), s.probe()
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
	switch {
	case view.Editing != "":
		title = "Put a reading right"
	case view.Chosen != "":
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

func (v *benchView) lists() {
	for _, m := range soil.Methods {
		v.Methods = append(v.Methods, Option{string(m.Method), words.Capital(words.Name(m.Method))})
	}
	for _, b := range soil.Bases {
		v.Bases = append(v.Bases, Option{string(b.Basis), words.Capital(words.Name(b.Basis))})
	}
	for _, x := range []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong} {
		v.Fizzes = append(v.Fizzes, Option{string(x), words.Capital(words.Name(x))})
	}
	v.Buffers = []Option{{"", "None"}}
	for _, k := range soil.BufferKinds {
		v.Buffers = append(v.Buffers, Option{string(k), words.Name(k)})
	}
	v.Extracts = []Option{{"", "Not said"}}
	for _, e := range soil.Extractants {
		v.Extracts = append(v.Extracts, Option{string(e), words.Capital(words.Name(e))})
	}
}

// readingFrom reads the form's reading; faults stand in it.
func readingFrom(f Form, u words.Units) garden.Reading {
	ppm := func(name string) *quantity.Concentration { return optional[quantity.Concentration](f, name, 1) }
	r := garden.Reading{Date: f.day("date"), Method: soil.Method(f.Value("method")), Basis: soil.Basis(f.Value("basis")), Cores: f.whole("cores"), Note: f.Value("note"),
		PH: optional[quantity.PH](f, "ph", 1), Potassium: ppm("k"), Magnesium: ppm("mg")}
	r.Depth = quantity.Depth(f.needed("depth", "A depth from 2 to 60 cm is needed.") * u.Depths().Size)
	switch r.Method {
	case soil.Meter, soil.MeterStale:
		meterFrom(f, &r)
	case soil.Kit:
		kitFrom(f, &r)
	case soil.Fizz:
		r.Vinegar, r.Soda = soil.FreeLime(f.Value("vinegar")), soil.FreeLime(f.Value("soda"))
		r.PH = nil
	case soil.Lab:
		r.Calcium, r.Phosphorus, r.KFrom, r.KTo = ppm("ca"), ppm("p"), ppm("k_from"), ppm("k_to")
		r.Extractant = soil.Extractant(f.Value("k_extractant"))
		r.OrganicMatter, r.CEC = optional[quantity.Percent](f, "om", 1), optional[quantity.ChargeCapacity](f, "cec", 1)
		r.BufferKind, r.BufferPH = soil.BufferKind(f.Value("buffer_kind")), optional[quantity.PH](f, "buffer_ph", 1)
		r.BufferCapacity = optional[float64](f, "capacity", 1)
		r.LabRate, r.LabDepth = optional[quantity.Rate](f, "lab_rate", u.Rates().Size), optional[quantity.Depth](f, "lab_depth", u.Depths().Size)
		r.LabCCE, r.LabTarget = optional[quantity.Percent](f, "lab_cce", 1), optional[quantity.PH](f, "lab_target", 1)
		r.Layers = f.rows("layers", 3, "from, to and a pH")
		for _, l := range r.Layers {
			l[0], l[1] = l[0]*u.Depths().Size, l[1]*u.Depths().Size
		}
	}
	if r.Method != soil.Fizz {
		r.Jars = f.rows("jars", 2, "lime in g a kg of soil, and a pH")
	}
	return r
}

// bottles are the pH of the usual bottles that a meter is held against.
var bottles = []struct {
	field string
	ph    quantity.PH
}{{"cal_4", 4}, {"cal_7", 7}, {"cal_10", 10}}

// meterFrom reads a meter's calibration and what it showed, if they are there:
// the pH is then reckoned from them, and so is how it counts.
func meterFrom(f Form, r *garden.Reading) {
	c := soil.Calibration{On: f.day("cal_date")}
	for _, b := range bottles {
		if x, ok := f.number(b.field); ok {
			c.Points = append(c.Points, soil.BufferPoint{Bottle: b.ph, Shown: quantity.PH(x)})
		}
	}
	tries := f.figures("tries")
	if len(c.Points) > 0 {
		if len(c.Points) < 2 {
			f.Faults["cal_7"] = "two bottles or three are needed"
			return
		}
		if c.On == 0 {
			f.Faults["cal_date"] = "a day is needed: when it was held against the bottles"
			return
		}
		r.Method = c.Method(r.Date)
		r.Note = joinNote(r.Note, "Meter of "+words.DayYear(c.On)+", slope "+words.Percent(c.Slope())+".")
	}
	if len(tries) == 0 {
		return
	}
	shown := make([]quantity.PH, len(tries))
	for i, x := range tries {
		shown[i] = quantity.PH(x)
	}
	ph, ok := soil.Agreed(shown)
	if !ok {
		f.Faults["tries"] = "these do not agree yet; stir, wait a minute and read on until the last three lie within 0.1"
		return
	}
	if t, ok := f.number("temp"); ok {
		if !(t >= 0 && t <= 50) {
			f.Faults["temp"] = "a temperature from 0 to 50 °C is meant"
			return
		}
		ph = soil.AtTemperature(ph, quantity.Temperature(t))
	}
	ph = quantity.PH(quantity.Round(float64(c.Correct(ph)), 2))
	r.PH = &ph
	r.Note = joinNote(r.Note, "Read "+figuresText(tries)+".")
}

func joinNote(note, more string) string {
	if strings.Contains(note, more) {
		return note
	}
	return strings.TrimSpace(note + " " + more)
}

// kitFrom takes the chip that was picked, with the doubt of the step between
// chips. A chip is "low-high", both the same for one that matches.
func kitFrom(f Form, r *garden.Reading) {
	if f.Value("chip") == "" {
		return
	}
	var low, high float64
	if n, err := fmt.Sscanf(f.Value("chip"), "%g-%g", &low, &high); n != 2 || err != nil || !(low >= 3 && high <= 10 && low <= high) {
		f.Faults["chip"] = "choose a chip, or between which two it lies"
		return
	}
	ph := quantity.PH(quantity.Round((low+high)/2, 2))
	r.PH = &ph
	step := high - low
	if step == 0 {
		step = 0.5
	}
	doubt := soil.KitSD(quantity.PH(step))
	r.Doubt = &doubt
}

// chipOptions offers each chip, and each place between two.
func chipOptions(chips []float64) []Option {
	out := []Option{{"", "I typed the pH"}}
	text := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	for i, c := range chips {
		if i > 0 {
			out = append(out, Option{text(chips[i-1]) + "-" + text(c), "Between " + text(chips[i-1]) + " and " + text(c)})
		}
		out = append(out, Option{text(c) + "-" + text(c), "Chip " + text(c)})
	}
	return out
}

// rows reads a short table: so many figures a line.
func (f Form) rows(name string, n int, what string) (out garden.Rows) {
	for i, line := range strings.Split(f.Values[name], "\n") {
		fields := strings.FieldsFunc(line, func(r rune) bool { return r == ' ' || r == ';' || r == '\t' || r == '\r' })
		if len(fields) == 0 {
			continue
		}
		row := make([]float64, 0, n)
		for _, x := range fields {
			v, err := strconv.ParseFloat(strings.ReplaceAll(x, ",", "."), 64)
			if err == nil && !math.IsNaN(v) && !math.IsInf(v, 0) {
				row = append(row, v)
			}
		}
		if len(row) != n || len(fields) != n {
			f.Faults[name] = fmt.Sprintf("line %d: %s are needed", i+1, what)
			return nil
		}
		out = append(out, row)
	}
	return out
}

// fillReading puts a reading into the form, to be put right.
func (f Form) fillReading(r garden.Reading, u words.Units) {
	put := func(name string, x *float64, size float64) {
		if x != nil {
			f.Values[name] = strconv.FormatFloat(quantity.Round(*x/size, 4), 'f', -1, 64)
		}
	}
	in := u.Depths().Size
	for name, text := range map[string]string{"bed": strconv.FormatInt(r.BedID, 10), "version": strconv.FormatInt(r.Version, 10), "date": r.Date.String(), "method": string(r.Method),
		"basis": string(r.Basis), "cores": strconv.Itoa(r.Cores), "note": r.Note, "vinegar": string(r.Vinegar), "soda": string(r.Soda), "k_extractant": string(r.Extractant),
		"buffer_kind": string(r.BufferKind), "depth": figure(float64(r.Depth), u.Depths(), 1), "layers": rowsText(r.Layers, []float64{in, in, 1}), "jars": rowsText(r.Jars, []float64{1, 1})} {
		f.Values[name] = text
	}
	put("ph", (*float64)(r.PH), 1)
	put("k", (*float64)(r.Potassium), 1)
	put("mg", (*float64)(r.Magnesium), 1)
	put("ca", (*float64)(r.Calcium), 1)
	put("p", (*float64)(r.Phosphorus), 1)
	put("k_from", (*float64)(r.KFrom), 1)
	put("k_to", (*float64)(r.KTo), 1)
	put("om", (*float64)(r.OrganicMatter), 1)
	put("cec", (*float64)(r.CEC), 1)
	put("buffer_ph", (*float64)(r.BufferPH), 1)
	put("capacity", r.BufferCapacity, 1)
	put("lab_rate", (*float64)(r.LabRate), u.Rates().Size)
	put("lab_depth", (*float64)(r.LabDepth), in)
	put("lab_cce", (*float64)(r.LabCCE), 1)
	put("lab_target", (*float64)(r.LabTarget), 1)
}

func rowsText(rows garden.Rows, sizes []float64) string {
	lines := make([]string, len(rows))
	for i, r := range rows {
		parts := make([]string, len(r))
		for n, x := range r {
			parts[n] = strconv.FormatFloat(quantity.Round(x/sizes[n], 3), 'f', -1, 64)
		}
		lines[i] = strings.Join(parts, " ")
	}
	return strings.Join(lines, "\n")
}

func (s *server) addReading(c *gin.Context) {
	f := posted(c, readingFields...)
	r := readingFrom(f, s.units(c))
	code := f.Value("sample")
	if code == "" {
		bed, err := strconv.ParseInt(f.Value("bed"), 10, 64)
		if err != nil {
			f.Faults["bed"] = "Choose the bed that was sampled."
		}
		r.BedID = bed
	}
	s.tryReading(c, f, func() (garden.Receipt, string, error) {
		if code != "" {
			got, err := s.keep.AddSampleReading(c.Request.Context(), s.act(c), code, r)
			return got, "/walk", err
		}
		got, err := s.keep.AddReading(c.Request.Context(), s.act(c), r)
		return got, onFrom(c, beginReading, r.BedID, bedHref(r.BedID)), err
	})
}

// tryReading saves a reading, or shows the form again with what is wrong.
func (s *server) tryReading(c *gin.Context, f Form, save func() (garden.Receipt, string, error)) {
	if len(f.Faults) > 0 {
		f.sentences()
		s.showBench(c, http.StatusUnprocessableEntity, f)
		return
	}
	got, to, err := save()
	if f.add(err) {
		readingFaults(f)
		s.showBench(c, http.StatusUnprocessableEntity, f)
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, to, got)
}

// replaceReading puts a reading right; the old one stays in the history.
func (s *server) replaceReading(c *gin.Context) {
	id, version, err := taskPost(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := posted(c, readingFields...)
	f.Values["reading"] = c.Param("id")
	r := readingFrom(f, s.units(c))
	s.tryReading(c, f, func() (garden.Receipt, string, error) {
		got, err := s.keep.ReplaceReading(c.Request.Context(), s.act(c), id, version, r)
		return got, "/beds/" + f.Value("bed"), err
	})
}

func (s *server) strikeReading(c *gin.Context) {
	id, version, err := taskPost(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	r, err := s.keep.Strike(c.Request.Context(), s.act(c), id, version, c.PostForm("why"))
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, c.PostForm("back"), r)
}

// readingFaults gives the core's names of fields those of the form, and each
// sentence its capital and its stop.
func readingFaults(f Form) {
	for from, to := range map[string]string{"k_ppm": "k", "mg_ppm": "mg", "fizz": "vinegar", "buffer": "buffer_ph", "pH": "ph", "from_ppm": "k_from", "buffer_capacity_mg_kg": "capacity", "g_m2": "lab_rate", "depth_cm": "lab_depth", "cce_pct": "lab_cce", "target_ph": "lab_target", "k_range": "k_to"} {
		if says, ok := f.Faults[from]; ok {
			f.Faults[to] = says
			delete(f.Faults, from)
		}
	}
	f.sentences()
}
