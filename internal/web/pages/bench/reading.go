package bench

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
)

// byJars is the way of a jar series read with a meter.
const byJars = "jars"

// jarLine is the field names of one jar of a series.
type jarLine struct {
	N        int
	Lime, PH string
}

func jarLines() []jarLine {
	out := make([]jarLine, garden.MostJars)
	for i := range out {
		n := "jar" + strconv.Itoa(i+1)
		out[i] = jarLine{i + 1, n + "_lime", n + "_ph"}
	}
	return out
}

// layerLine is the field names of one layer; each starts at the end of the one before.
type layerLine struct {
	N      int
	To, PH string
}

// mostLayers is the largest number of layers of a reading.
const mostLayers = 6

func layerLines() []layerLine {
	out := make([]layerLine, mostLayers)
	for i := range out {
		n := "layer" + strconv.Itoa(i+1)
		out[i] = layerLine{i + 1, n + "_to", n + "_ph"}
	}
	return out
}

// layersFrom reads a reading's layers, in its basis; those without a pH are left out. Without a pH
// of the whole, it is their mean by thickness.
func layersFrom(f form.Form, r *garden.Reading, in float64) {
	from := 0.0
	for _, l := range layerLines() {
		to, has := f.Number(l.To)
		ph, read := f.Number(l.PH)
		to *= in
		switch {
		case f.Faults[l.To] != "" || f.Faults[l.PH] != "":
			f.Faults["layers"] = "layer " + strconv.Itoa(l.N) + ": figures are needed"
			return
		case read && !has:
			f.Faults["layers"] = "layer " + strconv.Itoa(l.N) + ": how deep is it?"
			return
		case has && to <= from:
			f.Faults["layers"] = "layer " + strconv.Itoa(l.N) + ": it must be deeper than the one above"
			return
		case read && !garden.LimitPH.Holds(ph):
			f.Faults["layers"] = "layer " + strconv.Itoa(l.N) + ": " + garden.LimitPH.Says()
			return
		case read:
			r.Layers = append(r.Layers, []float64{from, to, ph})
		}
		if has {
			from = to
		}
	}
	if r.PH == nil && len(r.Layers) > 0 && f.Faults["ph"] == "" {
		mean := r.MeanOfLayers()
		r.PH = &mean
	}
}

// fillLayers fills a reading's layers into the form.
func fillLayers(f form.Form, layers garden.Rows, in float64) {
	figure := func(x float64) string { return strconv.FormatFloat(quantity.Round(x, 3), 'f', -1, 64) }
	lines, n, at := layerLines(), 0, 0.0
	for _, l := range layers {
		if n < len(lines) && l[0] > at+1e-9 { // the range between was not read
			f.Values[lines[n].To] = figure(l[0] / in)
			n++
		}
		if n < len(lines) {
			f.Values[lines[n].To], f.Values[lines[n].PH] = figure(l[1]/in), figure(l[2])
			n++
		}
		at = l[1]
	}
}

// ReadingFrom reads the form's reading, in a garden's units and with its kit; faults are in the
// form.
func ReadingFrom(f form.Form, g garden.Garden) garden.Reading {
	u := g.Units()
	ppm := func(name string) *quantity.Concentration { return form.Optional[quantity.Concentration](f, name, 1) }
	// Values typed for another way are ignored, except those of a reading being corrected.
	way, editing := f.Value("method"), f.Value("reading") != ""
	r := garden.Reading{Date: f.Day("date"), Method: methodOf(f), Basis: soil.Basis(f.Value("basis")), Cores: f.Whole("cores"),
		Note: f.Value("note"),
		PH:   form.Optional[quantity.PH](f, "ph", 1), Potassium: ppm("k"), Magnesium: ppm("mg")}
	r.Depth = quantity.Depth(f.Needed("depth", "A depth from 2 to 60 cm is needed.") * u.Depths().Size)
	switch r.Method {
	case soil.Meter, soil.MeterStale:
		if way == byJars {
			r.Basis, r.PH = soil.Water, nil
		} else {
			meterFrom(f, &r)
		}
	case soil.Probe:
		probeFrom(f, &r)
	case soil.Kit:
		kitFrom(f, g.Chips(), &r)
	case soil.Fizz:
		r.Vinegar, r.Soda = soil.FreeLime(f.Value("vinegar")), soil.FreeLime(f.Value("soda"))
		r.PH = nil
	case soil.Lab:
		r.Calcium, r.Phosphorus, r.KFrom, r.KTo = ppm("ca"), ppm("p"), ppm("k_from"), ppm("k_to")
		r.Extractant = soil.Extractant(f.Value("k_extractant"))
		r.OrganicMatter, r.CEC = form.Optional[quantity.Percent](f, "om", 1), form.Optional[quantity.CationExchangeCapacity](f, "cec", 1)
		r.BufferKind, r.BufferPH = soil.BufferKind(f.Value("buffer_kind")), form.Optional[quantity.PH](f, "buffer_ph", 1)
		r.BufferCapacity = form.Optional[float64](f, "capacity", 1)
		r.LabRate, r.LabDepth = form.Optional[quantity.Rate](f, "lab_rate", u.Rates().Size), form.Optional[quantity.Depth](f, "lab_depth",
			u.Depths().Size)
		r.LabCCE, r.LabTarget = form.Optional[quantity.Percent](f, "lab_cce", 1), form.Optional[quantity.PH](f, "lab_target", 1)
	}
	if r.Method != soil.Fizz && way != byJars {
		layersFrom(f, &r, u.Depths().Size)
	}
	if way == byJars || editing {
		jarSeriesFrom(f, &r, way == byJars)
	}
	return r
}

// methodOf returns the method of the form's way: a meter is calibrated only if the form says so, or
// its buffers show it.
func methodOf(f form.Form) soil.Method {
	m := soil.Method(f.Value("method"))
	if m == byJars {
		m = soil.Meter
	}
	if m == soil.Meter && f.Is("fresh", "no") {
		m = soil.MeterStale
	}
	return m
}

// jarSeriesFrom reads the jars; the one without lime is the reading itself.
func jarSeriesFrom(f form.Form, r *garden.Reading, alone bool) {
	for _, l := range jarLines() {
		lime, has := f.Number(l.Lime)
		ph, read := f.Number(l.PH)
		switch {
		case f.Faults[l.Lime] != "" || f.Faults[l.PH] != "":
			f.Faults["jars"] = "jar " + strconv.Itoa(l.N) + ": figures are needed"
			return
		case has != read:
			f.Faults["jars"] = "jar " + strconv.Itoa(l.N) + ": its lime and its pH are both needed"
			return
		case !garden.LimitJarLime.Holds(lime):
			f.Faults["jars"] = "jar " + strconv.Itoa(l.N) + ": " + garden.LimitJarLime.Says()
			return
		case has && !garden.LimitPH.Holds(ph):
			f.Faults["jars"] = "jar " + strconv.Itoa(l.N) + ": " + garden.LimitPH.Says()
			return
		case has:
			r.Jars = append(r.Jars, []float64{lime, ph})
		}
	}
	if !alone {
		return
	}
	if len(r.Jars) == 0 || r.Jars[0][0] != 0 {
		f.Faults["jars"] = "the first jar has no lime in it: 0, and the soil’s own pH"
		return
	}
	ph := quantity.PH(r.Jars[0][1])
	r.PH = &ph
}

// probeFrom combines a probe's values at several places.
func probeFrom(f form.Form, r *garden.Reading) {
	r.Basis = soil.Water
	if shown := ShownIn(f, "places"); len(shown) > 0 {
		ph, _ := soil.OfPlaces(shown)
		ph = quantity.PH(quantity.Round(float64(ph), 2))
		r.PH = &ph
		r.Note = joinNote(r.Note, "Showed "+present.FiguresText(shown)+".")
	}
}

// ShownIn parses pH values separated by spaces.
func ShownIn(f form.Form, name string) []quantity.PH {
	var out []quantity.PH
	for _, x := range f.Figures(name) {
		if !garden.LimitShown.Holds(x) {
			f.Faults[name] = garden.LimitShown.Says()
			return nil
		}
		out = append(out, quantity.PH(x))
	}
	return out
}

// bottles are the pH of common buffers.
var bottles = []struct {
	field string
	ph    quantity.PH
}{{"cal_4", 4}, {"cal_7", 7}, {"cal_10", 10}}

func calibrationOf(f form.Form) soil.Calibration {
	c := soil.Calibration{On: f.Day("cal_date")}
	for _, b := range bottles {
		if x, ok := f.Number(b.field); ok {
			c.Points = append(c.Points, soil.BufferPoint{Bottle: b.ph, Shown: quantity.PH(x)})
		}
	}
	return c
}

// meterFrom reads a meter's calibration and values, if present, and computes pH and method from
// them.
func meterFrom(f form.Form, r *garden.Reading) {
	c := calibrationOf(f)
	tries := ShownIn(f, "tries")
	if len(c.Points) > 0 {
		if len(c.Points) < 2 {
			f.Faults["cal_7"] = "two bottles or three are needed"
			return
		}
		if c.On == 0 {
			f.Faults["cal_date"] = "a day is needed: when it was checked in the bottles"
			return
		}
		r.Method = c.Method(r.Date)
		r.Note = joinNote(r.Note, "Meter of "+text.DayYear(c.On)+", slope "+text.Percent(c.Slope())+".")
	}
	if len(tries) == 0 {
		return
	}
	ph, ok := soil.Agreed(tries)
	if !ok {
		f.Faults["tries"] = "these do not agree yet; stir, wait a minute and read again until the last three lie within 0.1"
		return
	}
	if t, ok := f.Number("temp"); ok {
		if !(t >= 0 && t <= 50) {
			f.Faults["temp"] = "a temperature from 0 to 50 °C is needed"
			return
		}
		ph = soil.AtTemperature(ph, quantity.Temperature(t))
	}
	ph = quantity.PH(quantity.Round(float64(c.Correct(ph)), 2))
	r.PH = &ph
	r.Note = joinNote(r.Note, "Read "+present.FiguresText(tries)+".")
}

func joinNote(note, more string) string {
	if strings.Contains(note, more) {
		return note
	}
	return strings.TrimSpace(note + " " + more)
}

// kitFrom reads the chosen chip, with the standard deviation by the step between chips. A chip is
// "low-high", equal for one that matches.
func kitFrom(f form.Form, chips []float64, r *garden.Reading) {
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
	doubt := soil.KitSD(soil.KitStep(chips, quantity.PH(low), quantity.PH(high)))
	r.Doubt = &doubt
}

// fillReading fills a reading into the form, for correction.
func fillReading(f form.Form, r garden.Reading, u text.Units) {
	put := func(name string, x *float64, size float64) {
		if x != nil {
			f.Values[name] = strconv.FormatFloat(quantity.Round(*x/size, 4), 'f', -1, 64)
		}
	}
	in := u.Depths().Size
	for name, figure := range map[string]string{"bed": strconv.FormatInt(r.BedID, 10), "version": strconv.FormatInt(r.Version, 10),
		"date": r.Date.String(), "method": string(r.Method),
		"basis": string(r.Basis), "cores": strconv.Itoa(r.Cores), "note": r.Note, "vinegar": string(r.Vinegar), "soda": string(r.Soda),
		"k_extractant": string(r.Extractant),
		"buffer_kind":  string(r.BufferKind), "depth": form.Figure(float64(r.Depth), u.Depths(), 1)} {
		f.Values[name] = figure
	}
	switch {
	case r.Method == soil.MeterStale:
		f.Values["method"], f.Values["fresh"] = string(soil.Meter), "no"
	case r.Method == soil.Meter:
		f.Values["fresh"] = "yes"
	}
	fillLayers(f, r.Layers, in)
	lines := jarLines()
	for i, j := range r.Jars[:min(len(r.Jars), len(lines))] {
		f.Values[lines[i].Lime], f.Values[lines[i].PH] = strconv.FormatFloat(j[0], 'f', -1, 64), strconv.FormatFloat(j[1], 'f', -1, 64)
	}
	if len(r.Jars) > 0 && f.Is("method", string(soil.Meter)) && r.Jars[0][0] == 0 {
		f.Values["method"] = byJars
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

// readingFieldOf maps a reading's fields to the form's.
var readingFieldOf = garden.Fields{"k_ppm": "k", "mg_ppm": "mg", "ca_ppm": "ca",
	"fizz": "vinegar", "buffer": "buffer_ph", "buffer.kind": "buffer_kind",
	"k_range": "k_to", "k_range.from_ppm": "k_from", "buffer_capacity_mg_kg": "capacity", "lab_rate": "lab_rate",
	"lab_rate.depth_cm": "lab_depth", "lab_rate.cce_pct": "lab_cce", "lab_rate.target_ph": "lab_target", "layers": "layers", "jars": "jars"}

// tapped are fields that have a message but are not posted until something is tapped or typed.
var tapped = []string{"method", "chip", "vinegar", "soda", "layers", "jars"}

// ReadingFaults moves each fault to its field of the form and finishes the sentences. Faults
// without a field are shown at the pH.
func ReadingFaults(f form.Form) {
	for from, says := range maps.Clone(f.Faults) {
		to := readingFieldOf.Of(from)
		if _, typed := f.Values[to]; !typed && from != garden.SureField && !slices.Contains(tapped, to) {
			to = "ph"
		}
		delete(f.Faults, from)
		if f.Faults[to] == "" {
			f.Faults[to] = says
		}
	}
	f.Sentences()
}
