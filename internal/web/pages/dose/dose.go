package dose

import (
	"encoding/json"
	"errors"
	"net/http"
	"net/url"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// doseFields are the Dose form's fields.
var doseFields = []string{"reading", "target", "depth", "buffering", "ash", "act", "pace", "begin", "use"}

// DoseCarried are the fields posted with a chosen option.
var DoseCarried = doseFields[:len(doseFields)-1]

type doseView struct {
	view.Page
	ID    int64
	Bed   string
	Facts string
	Crops string
	// CropFact names the day in Crops.
	CropFact string
	// AtWork is the sentence on what is reacting in the bed.
	AtWork string
	// LevelFact names the level in AtWork.
	LevelFact string
	Form      form.Form
	// Beds selects another bed; Reading and Target are the dose's reading and target.
	Beds            view.Field
	Reading, Target view.Field
	// Carry are the hidden fields posted with a chosen option.
	Carry []view.Hidden
	// Basis is the form's content for print.
	Basis []present.Run
	// Rule is the pH ruler, shown twice; nil without a pH.
	Rule    *svg.Rule
	Profile *svg.Profile
	Methods []segment
	// Answer is nil if the form has a fault.
	Answer *answerView
	// NoReading is set without a reading.
	NoReading bool
	// NoDose is why this ground never gets a dose; "" if it may.
	NoDose      string
	ReadingHref string
	JSONHref    string
	// MixHref is the address of the mix page; "" if nothing can be mixed.
	MixHref string
}

// segment is a row of adjacent choices.
type segment struct {
	Name, Label string
	Options     []view.Choice
	// Faulty is set if something typed may be invalid.
	Faulty bool
	Fault  string
}

// AnyDose redirects to the dose of the bed that needs one most.
func (s *Handler) AnyDose(c *gin.Context) error {
	if id, err := strconv.ParseInt(c.Query("bed"), 10, 64); err == nil {
		c.Redirect(http.StatusSeeOther, site.DoseHref(id)+onOnly(c))
		return nil
	}
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	if len(v.Beds) == 0 {
		c.Redirect(http.StatusSeeOther, "/")
		return nil
	}
	c.Redirect(http.StatusSeeOther, site.DoseHref(v.WantsMost().Bed.ID)+onOnly(c))
	return nil
}

// onOnly returns the query parameter of the shown day.
func onOnly(c *gin.Context) string {
	if c.Query("on") == "" {
		return ""
	}
	return "?on=" + url.QueryEscape(c.Query("on"))
}

// Choice reads the form; faults are in it.
func Choice(f form.Form, u text.Units) dosing.Choice {
	ch := dosing.Choice{Buffering: soil.LimeMethod(f.Value("buffering")), Ash: material.AshApproach(f.Value("ash")),
		Act: crop.Trigger(f.Value("act")), Pace: dose.Pace(f.Value("pace"))}
	ch.Target = form.Optional[quantity.PH](f, "target", 1)
	ch.Depth = form.Optional[quantity.Depth](f, "depth", u.Depths().Size)
	if r := f.Value("reading"); r != "" {
		id, err := strconv.ParseInt(r, 10, 64)
		if err != nil {
			f.Faults["reading"] = "choose a reading"
		}
		ch.Reading = id
	}
	return ch
}

// doseFieldOf maps the core's fields to the form's.
var doseFieldOf = garden.Fields{"target_ph": "target", "depth_cm": "depth", "organic_matter_pct": "buffering", "school": "buffering",
	"buffer": "buffering", "lab_rate": "buffering", "jars": "buffering", "buffer_capacity_mg_kg": "buffering", "ph": "buffering"}

func (s *Handler) work(c *gin.Context, bed int64, f form.Form) (w *dosing.Dose, ok bool, err error) {
	ch := Choice(f, s.Units(c))
	ch.Today = s.Clock.Today()
	got, err := s.App(c).Dosing.Dose(c.Request.Context(), bed, ch, s.On(c))
	var faults garden.Faults
	if errors.As(err, &faults) {
		for k, v := range faults {
			f.Faults[doseFieldOf.Of(k)] = text.Sentence(v)
		}
		err = nil
	}
	return &got, len(f.Faults) == 0, err
}

// sides returns the method comparisons of a dose.
func (s *Handler) sides(c *gin.Context, w *dosing.Dose, worked bool, f form.Form) ([]dose.Comparison, error) {
	if !worked {
		return nil, nil
	}
	ch := Choice(f, s.Units(c))
	ch.Today = s.Clock.Today()
	return s.App(c).Dosing.CompareMethods(c.Request.Context(), w, ch, s.On(c))
}

// Dose shows a bed's dose with its working.
func (s *Handler) Dose(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	return s.showDose(c, http.StatusOK, id, form.Asked(c))
}

func (s *Handler) showDose(c *gin.Context, status int, id int64, f form.Form) error {
	w, ok, err := s.work(c, id, f)
	none := errors.Is(err, dosing.ErrNoReading)
	if err != nil && !none {
		return err
	}
	sides, err := s.sides(c, w, ok && !none, f)
	if err != nil {
		return err
	}
	g, beds, err := s.App(c).BedState.Names(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	v := doseView{ID: id, Bed: w.Record.Bed.Name, Facts: present.Facts(w.Record.Bed, w.Record.State.Spread(), w.Garden.Units()),
		Crops: present.CropWords(w.Record.State, w.Record.Library), CropFact: present.CropFact(w.Record.State), Form: f, NoReading: none,
		ReadingHref: "/bench?bed=" + strconv.FormatInt(id, 10)}
	if x := w.Record.State.AtWork; x != nil {
		v.LevelFact = fact.Bed(w.Record.Bed.ID, "level") + " " + fact.Bed(w.Record.Bed.ID, "work")
		v.AtWork = text.Capital(text.AtWork(x.What, x.Now, x.Settles)) + "."
	}
	v.Beds = pickBed(beds, id)
	title := w.Record.Bed.Name + ": no reading yet"
	if w.Record.Bed.Kind == garden.KindHeap {
		v.NoDose, title = text.NoDoseOfHeaps(), w.Record.Bed.Name+": no dose"
	}
	if !none {
		v.form(w)
		v.Carry = v.Form.Hidden(DoseCarried)
		if ok {
			v.Answer = answerOf(w, sides, f.Value("use"), s.On(c), s.On(c) == s.Clock.Today(), f.Value("begin") != "")
			title = w.Record.Bed.Name + ": " + text.Lower(v.Answer.Headline)
			if l := v.Answer.Lead; f.Value("begin") != "" && l != nil && l.Today && l.Buy == "" && v.Answer.Chosen != nil {
				v.Answer.Chosen.Button = "Put it on today"
			}
		} else {
			title = w.Record.Bed.Name + ": something to correct"
			if status == http.StatusOK {
				status = http.StatusUnprocessableEntity
			}
		}
	}
	v.Page = s.Page(c, g, "Dose", title)
	if err := s.Year(c, &v.Page, nil); err != nil {
		return err
	}
	v.JSONHref = site.DoseHref(id) + ".json?" + Query(f)
	if v.Answer != nil {
		v.MixHref = mixHref(w, f)
	}
	s.Render(c, status, "dose", &v)
	return nil
}

// Query returns a form as a URL query.
func Query(f form.Form) string {
	q := url.Values{}
	for _, n := range doseFields {
		if v := f.Value(n); v != "" {
			q.Set(n, v)
		}
	}
	return q.Encode()
}

// pickBed returns the beds to choose from.
func pickBed(beds []garden.Bed, id int64) view.Field {
	var list []view.Option
	for _, b := range beds {
		if b.Kind != garden.KindHeap {
			list = append(list, view.Option{Value: strconv.FormatInt(b.ID, 10), Text: b.Name})
		}
	}
	f := form.NoForm()
	f.Values["bed"] = strconv.FormatInt(id, 10)
	return f.Resolve(form.Row{Name: "bed", ID: "pick-bed", Label: "Bed", Options: list, Silent: true})
}

// mostReadings is the largest number of readings to choose from.
const mostReadings = 8

// form fills the form: typed values, else defaults.
func (v *doseView) form(w *dosing.Dose) {
	f := v.Form
	set := func(name, usual string) {
		if f.Values[name] == "" {
			f.Values[name] = usual
		}
	}
	set("reading", strconv.FormatInt(w.Used.ID, 10))
	q := w.Request
	if f.Value("target") == "" && f.Fault("target") == "" && w.Answer.Target > 0 {
		f.Values["target"] = text.PH(w.Answer.Target)
		if w.Answer.Target != quantity.PH(quantity.Round(float64(w.Answer.Target), 1)) {
			f.Values["target"] = text.PH2(w.Answer.Target)
		}
	}
	set("depth", form.Figure(float64(q.Ground.Depth), w.Garden.Units().Depths(), 1))
	set("buffering", string(q.Methods.Buffering))
	set("ash", string(q.Methods.Ash))
	set("act", string(q.Methods.Act))
	set("pace", string(q.Methods.Pace))
	var readings []view.Option
	for i := len(w.Record.Readings) - 1; i >= 0 && len(readings) < mostReadings; i-- {
		r := w.Record.Readings[i]
		words := "fizz " + text.DayYear(r.Date)
		if r.PH != nil {
			words = text.PH(r.Soil().Water()) + " " + text.Short(r.Method) + ", " + text.DayYear(r.Date)
		}
		readings = append(readings, view.Option{Value: strconv.FormatInt(r.ID, 10), Text: words})
	}
	doubt := "± " + text.PH2(quantity.PH(w.Used.Soil().SD()))
	ph, sd := w.Used.Soil().Water(), w.Used.Soil().SD()
	if n := len(w.Beside); n > 0 && w.Answer.PH > 0 {
		ph, sd = w.Answer.PH, w.Answer.SD
		doubt = "with " + text.Count(n, "more near it", "more near it")
	}
	span := w.Record.State.Crop.Range
	v.Reading = f.Resolve(form.Row{Name: "reading", Label: "Reading", Aside: doubt, Options: readings, Group: "target"})
	v.Target = f.Resolve(form.Row{Name: "target", Label: "Bring it to pH", Mode: form.Decimal,
		Aside: "range " + text.PH(span.Low) + " to " + text.PH(span.High)})
	if w.Used.PH != nil {
		target := w.Answer.Target
		rule := svg.RuleOf(256, span, present.RangeName(w.Record.State), string(w.Record.State.Standing), ph, sd, target,
			"pH "+text.PH(ph)+", to be brought to "+text.PH(target))
		v.Rule = &rule
	}
	v.Profile = svg.ProfileOf(w.Record.State.Profile, span, w.Garden.Units())
	made := " over " + w.Garden.Units().Depth(q.Ground.Depth) + ". Worked out " + text.DayYear(q.Date) + "."
	v.Basis = []present.Run{{Text: "Based on pH "},
		{Text: text.PH2(w.Answer.PH), Class: "strong", Fact: fact.Bed(w.Record.Bed.ID, "ph")},
		{Text: " by " + text.Short(w.Used.Method) + ", " + text.DayYear(w.Used.Date) +
			" (" + doubt + "). To be brought to " + text.PH2(w.Answer.Target) + made}}
	if w.Answer.PH == 0 { // jars tell no figure
		v.Basis = []present.Run{{Text: "Based on " + text.Short(w.Used.Method) + ", " + text.DayYear(w.Used.Date) + "," + made}}
	}
	v.segments(w)
}

// usualDepths are suggestions by depth unit.
var usualDepths = map[string][]string{"": {"5", "10", "15", "20"}, "in": {"2", "4", "6", "8"}}

func (v *doseView) segments(w *dosing.Dose) {
	depth := segment{Name: "depth", Label: "Over how deep", Faulty: true, Fault: v.Form.Fault("depth")}
	has := false
	u := w.Garden.Units()
	depths := usualDepths[u.DepthIn]
	for _, d := range depths {
		has = has || v.Form.Is("depth", d)
		depth.Options = append(depth.Options, view.Choice{Value: d, Text: d})
	}
	if !has {
		depth.Options = append(depth.Options, view.Choice{Value: v.Form.Value("depth"), Text: v.Form.Value("depth")})
	}
	buffering := segment{Name: "buffering", Label: text.Question("buffering"), Faulty: true, Fault: v.Form.Fault("buffering")}
	for _, x := range soil.OnOffer(w.Request.Ground, w.Request.Reading, w.Answer.Target, soil.LimeMethod(v.Form.Value("buffering"))) {
		o := view.Choice{Value: string(x.Method), Text: text.Name(x.Method)}
		if x.Lacks {
			o.Off = "the bed’s organic matter is not known"
		}
		buffering.Options = append(buffering.Options, o)
	}
	ash, act := segment{Name: "ash", Label: "Ash counts"}, segment{Name: "act", Label: text.Question("act")}
	pace := segment{Name: "pace", Label: text.Question("pace")}
	for _, s := range []*segment{&ash, &act, &pace} {
		for _, q := range dose.Questions {
			if q.Name != s.Name {
				continue
			}
			for _, id := range q.IDs {
				s.Options = append(s.Options, view.Choice{Value: id, Text: text.Name(id)})
			}
		}
	}
	for _, s := range []segment{depth, buffering, pace, ash, act} {
		for i := range s.Options {
			o := &s.Options[i]
			o.ID, o.Name = s.Name+"-"+o.Value, s.Name
			o.On = v.Form.Is(s.Name, o.Value)
			if s.Name == "depth" {
				o.Text += " " + u.Depths().Name
			}
		}
		v.Methods = append(v.Methods, s)
	}
}

// DoseJSON sends the dose as a command line request.
func (s *Handler) DoseJSON(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Asked(c)
	w, ok, err := s.work(c, id, f)
	if err != nil {
		return err
	}
	if !ok {
		c.JSON(http.StatusUnprocessableEntity, f.Faults)
		return nil
	}
	raw, err := json.MarshalIndent(dosejson.FromDose(w.Request, w.Garden.Climate, w.Garden.Hemisphere), "", "  ")
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="dose.json"`)
	s.Data(c, http.StatusOK, "application/json; charset=utf-8", append(raw, '\n'))
	return nil
}

// PlanDose plans the shown dose.
func (s *Handler) PlanDose(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	ch := Choice(f, s.Units(c))
	if len(f.Faults) > 0 {
		return s.showDose(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Dosing.Plan(c.Request.Context(), s.Actor(c), id, ch, f.Value("use"), present.EncodePlan)
	if f.Add(err) {
		return s.showDose(c, http.StatusUnprocessableEntity, id, f)
	}
	if err != nil {
		return err
	}
	to := site.BedHref(id)
	if f.Value("begin") != "" { // a first dose leads to the day sheet
		to = "/sheet"
	}
	s.Done(c, to, r)
	return nil
}
