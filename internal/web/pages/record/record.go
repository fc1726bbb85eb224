package record

import (
	"cmp"
	"errors"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type bedView struct {
	view.Page
	Profile     *svg.Profile
	Surprise    *present.Surprise
	ID          int64
	Name, Facts string
	Crops, Note string
	// CropFact names the day in Crops.
	CropFact string
	// Chart and KChart are its pH and potassium over time; nil if empty.
	Chart        *svg.Chart
	KChart       *svg.Chart
	Readings     []present.ReadingRow
	Applications []applicationRow
	Tasks        []taskRow
	Plantings    []plantingRow
	CropOptions  []view.Option
	Form         form.Form
	Version      int64
	Retired      string
	DuplicateKey string
	// Seen are its observations, SeenHref leads to all.
	Seen struct {
		Rows []present.SeenRow
		Path string
	}
	SeenHref string
	// Like are the fields for copies of the bed.
	Like     []view.Field
	DoseHref string
	// PreparationHref is the address of its preparation; "" for ground that has none.
	PreparationHref, PreparationSays string
	// SideHref is the address of its side dressing; "" without plants.
	SideHref    string
	ReadingHref string
	PlanHref    string
	// Journal are its newest changes.
	Journal view.Journal
	// Log is the form of an unplanned application.
	Log       form.Form
	Materials []view.Option
}

// CropFields returns the fields of the next crop.
func (v *bedView) CropFields() []view.Field {
	t := present.PlantingTable(v.CropOptions)
	t[0].Label = "Next crop"
	return v.Form.Rows(t)
}

// LogFields returns the fields of an unplanned application.
func (v *bedView) LogFields() []view.Field {
	return v.Log.Rows([]form.Row{{Name: "what", Label: "What", Options: append([]view.Option{{Value: "", Text: "Choose"}}, v.Materials...)},
		{Name: "put_date", Label: "On", Mode: form.Date}, {Name: "put_amount", Label: "In all, " + v.WeightIn(), Mode: form.Decimal},
		{Name: "put_note", Label: "Note", MaxLength: 200}})
}

// LogFaults reports whether that form has faults.
func (v *bedView) LogFaults() bool { return len(v.Log.Faults) > 0 }

type plantingRow struct {
	ID, Version int64
	// Fact names the day Sown.
	Crop, Sown, Fact string
	// Cleared is the field of the day cleared, ClearedOn the day in words, for paper.
	Cleared   view.Field
	ClearedOn string
	Key       string
}

// plantingRows returns a bed's plantings, the last first.
func plantingRows(w *dosing.Dose) (out []plantingRow) {
	for i := len(w.Record.Plantings) - 1; i >= 0; i-- {
		p := w.Record.Plantings[i]
		crop, f := text.Capital(w.Record.Library.Name(p.Crop)), form.NoForm()
		f.Values["cleared"] = p.Cleared.String()
		cleared := f.Resolve(form.Row{Name: "cleared", ID: present.IDOn("cleared", p.ID), Called: crop + ", cleared on", Mode: form.Date,
			Silent: true})
		on := ""
		if !p.Cleared.IsZero() {
			on = text.DayYear(p.Cleared)
		}
		out = append(out, plantingRow{p.ID, p.Version, crop, text.DayYear(w.Record.State.PlantingDay(p)), fact.PlantingDay(p.ID),
			cleared, on, form.NewKey()})
	}
	return out
}

type applicationRow struct {
	Date, What, Total, Rate, Note string
	// DateFact and TotalFact name its day and amount.
	DateFact, TotalFact string
}

type taskRow struct {
	Due, What, State, Why string
	// Fact names its amount, DueFact and DoneFact its day, WhyFact why it was moved; "" for what has
	// none.
	Fact, DueFact, DoneFact, WhyFact string
	// Move is the address for moving it; "" if it cannot be moved.
	Move string
}

// lastOf returns the last event on a bed up to a day.
func lastOf(w *dosing.Dose, today quantity.Day) string {
	says, on := "nothing is noted yet", quantity.Day(0)
	told := func(day quantity.Day, what string) {
		if day <= today && day >= on {
			says, on = what+", "+text.DayYear(day), day
		}
	}
	for _, t := range w.Record.Tasks {
		if t.State == garden.Skipped {
			told(t.Settled, present.TaskWords(t, w.Garden.Units(), w.Batch(t.BatchID))+" skipped")
		}
	}
	for _, r := range w.Record.Readings {
		what := "potassium read by " + text.Short(r.Method)
		switch {
		case r.PH != nil:
			what = "read " + text.PH(r.Soil().Water()) + " by " + text.Short(r.Method)
			if k, ok := w.Record.Lesson.Last(r.Date); ok {
				what = text.Happened(k)
			}
		case r.Method == soil.Fizz:
			_, what = text.ByJars(r.Soil().Fizz)
		}
		told(r.Date, what)
	}
	for _, a := range w.Record.Applications {
		told(a.Date, w.Garden.Units().Amount(a.Total, w.Measure(a.BatchID))+" of "+w.Called(a.What, a.BatchID)+" put on")
	}
	return says
}

// Bed shows a bed's record: charts, history, crops, tasks.
func (s *Handler) Bed(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	return s.showBed(c, http.StatusOK, id, form.NoForm(), form.NoForm())
}

// showBed shows a bed's record on the shown day; f is the typed form of its next crop, log that of
// an application.
func (s *Handler) showBed(c *gin.Context, status int, id int64, f, log form.Form) error {
	today := s.On(c)
	w, err := s.App(c).Dosing.Dose(c.Request.Context(), id, dosing.Choice{Today: s.Clock.Today()}, today)
	if err != nil && !errors.Is(err, dosing.ErrNoReading) {
		return err
	}
	chart, kChart, err := present.BedPictures(s.Site, c, &w, today)
	if err != nil {
		return err
	}
	u := w.Garden.Units()
	v := bedView{KChart: kChart, Page: s.Page(c, w.Garden, "Ground", w.Record.Bed.Name+": "+lastOf(&w, today)), ID: id,
		Name:  w.Record.Bed.Name,
		Facts: present.Facts(w.Record.Bed, w.Record.State.Spread(), u), Crops: present.CropWords(w.Record.State, w.Record.Library),
		CropFact: present.CropFact(w.Record.State),
		Note:     w.Record.Bed.Note, Version: w.Record.Bed.Version, Retired: text.DayYear(w.Record.Bed.Retired), Form: f,
		CropOptions: present.CropOptions(w.Record.Library),
		Chart:       chart, DoseHref: site.DoseHref(id), ReadingHref: "/bench?bed=" + strconv.FormatInt(id, 10), PlanHref: site.BedHref(id)}
	log.Usual("put_date", today.String())
	v.Log, v.Materials = log, present.MaterialOptions()
	if len(w.Record.State.Now) > 0 {
		v.SideHref = "/beds/" + strconv.FormatInt(id, 10) + "/side"
	}
	if preparation.May(w.Record.Bed) {
		v.PreparationHref, v.PreparationSays = site.PreparationHref(id), "Prepare it for the next crop"
		if len(w.Record.State.Preparations) > 0 {
			v.PreparationSays = "Being prepared: its steps"
		}
	}
	if err := s.Year(c, &v.Page, nil); err != nil {
		return err
	}
	v.Surprise = present.SurpriseOf(&w.Record)
	v.Profile = svg.ProfileOf(w.Record.State.Profile, w.Record.State.Crop.Range, u)
	v.Readings = readingRows(&w, today)
	for i := len(w.Record.Applications) - 1; i >= 0; i-- {
		a := &w.Record.Applications[i]
		if a.Date > today {
			continue
		}
		v.Applications = append(v.Applications, applicationRow{text.DayYear(a.Date), text.Capital(w.Called(a.What, a.BatchID)),
			u.Amount(a.Total, w.Measure(a.BatchID)), u.Rate(a.Rate), a.Note, fact.PutOn(a), fact.Put(a)})
	}
	if err := v.see(s, c, today); err != nil {
		return err
	}
	v.Tasks = taskRows(&w, today)
	v.Plantings = plantingRows(&w)
	v.DuplicateKey, v.Like = form.NewKey(), likeFields(w.Garden.Units())
	lines, err := s.App(c).JournalOf(c.Request.Context(), id, bedLines)
	if err != nil {
		return err
	}
	v.Journal.Back = site.BedHref(id)
	for _, l := range garden.Folded(lines) {
		v.Journal.Rows = append(v.Journal.Rows, present.JournalRowOf(l))
	}
	s.Render(c, status, "bed", &v)
	return nil
}

// see fills in the observations.
func (v *bedView) see(s *Handler, c *gin.Context, today quantity.Day) error {
	all, err := s.App(c).Observation.OfBed(c.Request.Context(), v.ID, today)
	v.Seen.Rows, v.Seen.Path, v.SeenHref = present.SeenRows(all), "/beds/"+strconv.FormatInt(v.ID, 10), site.ObservationHref(v.ID)
	return err
}

// toDo is the state of an open task.
const toDo = "to do, or another day"

// taskRows returns a bed's tasks as of a day, the latest first.
func taskRows(w *dosing.Dose, today quantity.Day) (out []taskRow) {
	u := w.Garden.Units()
	for i := range w.Record.Rests {
		x := &w.Record.Rests[i]
		row := taskRow{Due: "after a test", What: text.Capital(present.RestSays(u, x, w.Called(x.What, x.BatchID), w.Measure(x.BatchID), today)),
			State: "waits", Fact: fact.Rest(x.ID)}
		if x.Test != 0 {
			row.Due = "after " + text.DayYear(x.Test)
		}
		if x.Lapsed {
			row.State = "lapsed"
		}
		out = append(out, row)
	}
	for i := len(w.Record.Tasks) - 1; i >= 0; i-- {
		t := w.Record.Tasks[i]
		if t.Settled > today {
			t.State = garden.Open // as of that day
		}
		state := map[string]string{garden.Open: toDo, garden.Done: "done " + text.DayYear(t.Settled),
			garden.Skipped: "skipped"}[t.State]
		if on, held := w.Record.Held[t.ID]; held {
			state = "held back: its reading was deleted " + text.DayYear(on)
		}
		row := taskRow{Due: text.DayYear(t.Due), What: text.Capital(taskWords(w, t)), State: state, Why: t.Why,
			Fact: fact.Amount(t), DueFact: fact.Due(t), DoneFact: fact.Done(t)}
		if state == toDo {
			row.Move = site.MoveHref(t.ID)
		}
		if m := present.MovedOf(w.Record.Moved, t, u); m.Says != "" {
			row.Why, row.WhyFact = text.Capital(m.Says), m.Fact
		}
		out = append(out, row)
	}
	return out
}

// taskWords returns a task in a line: a done one by what was put on, with what was planned where
// that is another amount.
func taskWords(w *dosing.Dose, t garden.Task) string {
	u := w.Garden.Units()
	planned := present.TaskWords(t, u, w.Batch(t.BatchID))
	went := t.AsPut(w.Record.Applications)
	put := present.TaskWords(went, u, w.Batch(went.BatchID))
	switch {
	case put == planned:
		return planned
	case went.Total < t.Total:
		return put + "; planned was " + planned + ", and the rest was left out"
	default:
		return put + "; planned was " + planned
	}
}

// bedLines is the number of changes shown.
const bedLines = 30

// readingRows returns a bed's readings up to a day, newest first, including struck ones.
func readingRows(w *dosing.Dose, today quantity.Day) (out []present.ReadingRow) {
	all := append(append([]garden.Reading(nil), w.Record.Readings...), w.Record.Struck...)
	slices.SortStableFunc(all, func(a, b garden.Reading) int { return cmp.Or(int(b.Date-a.Date), int(b.ID-a.ID)) })
	for _, r := range all {
		if r.Date > today {
			continue
		}
		row := present.ReadingOf(r, w.Record.Bed.Name)
		if r.SampleID != nil {
			row.Sample = w.Record.Codes[*r.SampleID]
		}
		if r.Stands() && w.Record.Lesson.Out(&r) {
			row.Struck = "Left out: it was not what was expected, and is not confirmed."
		}
		out = append(out, row)
	}
	return out
}

// LogApplication records an unplanned application.
func (s *Handler) LogApplication(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	in := s.Units(c).Weights()
	a := garden.Application{BedID: id, What: material.Kind(f.Value("what")), Date: f.Day("put_date"), Note: f.Value("put_note"),
		Total: quantity.Mass(f.Needed("put_amount", "How much was put on, in "+in.Name+"?") * in.Size)}
	return s.Save(c, &f, site.Saving{
		To:   "/beds/" + c.Param("id"),
		Save: func() (garden.Receipt, error) { return s.App(c).Applications.Note(c.Request.Context(), s.Actor(c), a) },
		Show: func(status int) error { return s.showBed(c, status, id, form.NoForm(), f) },
	})
}

// likeFields returns the fields of number and path for copies of a bed.
func likeFields(u text.Units) []view.Field {
	in := u.Lengths()
	f := form.NoForm()
	f.Values["copies"], f.Values["between"] = "1", form.Usual(0.5, in)
	return f.Rows(form.Table{{Name: "copies", Label: "How many", Mode: form.Numeric},
		{Name: "between", Label: "Path between, " + in.Name, Mode: form.Decimal}})
}
