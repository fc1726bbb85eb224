package preparation

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	sheetpage "zephyrfield/internal/web/pages/daysheet"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type preparationView struct {
	view.Page
	ID, Version int64
	BedID       int64
	Bed, Href   string
	Says        string
	// Plants is the day of the planting, after Says; Fact names it.
	Plants, Fact string
	Stair        *svg.Stair
	Steps        []doneView
	// Form is what was typed at a step or form.
	Form form.Form
	// OwnStep and OwnWay are the fields of an own step and template.
	OwnStep []view.Field
	OwnWay  view.Field
	Afters  []view.Option
}

// doneView is a step of a saved preparation.
type doneView struct {
	ID, Version           int64
	Name, When, How, Says string
	Note                  string
	State                 string
	Moved                 present.MovedWords
	// First is set on the next step, Applies on one that applies something, Test on the sample, Asks on
	// the soil check.
	First, Applies, Test, Asks bool
	Button, Href, Link         string
	Key                        string
	Looks                      []lookView
	// On is the field of the day done, Why that of skipping it.
	On, Why view.Field
	Form    form.Form
}

// lookView is a question of the soil check.
type lookView struct {
	ID, Name string
	Signs    []view.Choice
}

// typedStep is what was typed on the page: at which task, 0 for a form of the preparation.
type typedStep struct {
	Task int64
	form.Form
}

// showPreparation shows a saved preparation.
func (s *Handler) showPreparation(c *gin.Context, status int, bed int64, typed typedStep) error {
	today := s.Clock.Today()
	g, rec, err := s.App(c).Preparation.Bed(c.Request.Context(), bed, today)
	if err != nil {
		return err
	}
	if len(rec.State.Preparations) == 0 {
		c.Redirect(http.StatusSeeOther, site.BedHref(bed))
		return nil
	}
	x := &rec.State.Preparations[0]
	v := preparationView{ID: x.ID, Version: x.Version, BedID: bed, Bed: rec.Bed.Name, Href: site.BedHref(bed), Form: form.NoForm()}
	if typed.Task == 0 {
		v.Form = typed.Form
	}
	v.steps(&rec, x, g.Units(), today, typed)
	v.Page = s.Page(c, g, site.SheetTab, preparationTitle(&rec, x, v.Steps))
	v.Form.Sentences()
	v.OwnStep = v.Form.Rows(form.Table{{Name: "says", Label: "What", MaxLength: 60}, {Name: "after", Label: "After", Options: v.Afters},
		{Name: "wait", Label: "Days to wait after it", Mode: form.Numeric}})
	v.OwnWay = v.Form.Resolve(form.Row{Name: "name", ID: "way-name", Label: "Name", MaxLength: 60})
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "turning", v)
	return nil
}

// preparationTitle returns the next step.
func preparationTitle(rec *bedstate.Record, x *bedstate.Preparation, steps []doneView) string {
	title := rec.Bed.Name + " for " + text.Lower(rec.Library.Name(x.Planting.Crop))
	for _, s := range steps {
		if s.First {
			return title + ": " + text.Lower(s.Name)
		}
	}
	return title
}

// steps fills in the steps.
func (v *preparationView) steps(rec *bedstate.Record, x *bedstate.Preparation, u text.Units, today quantity.Day, typed typedStep) {
	stands := map[int64]garden.Task{}
	for _, t := range rec.Tasks {
		stands[t.ID] = t
	}
	var treads []svg.Tread
	first := true
	for _, t := range x.Steps {
		now := stands[t.ID]
		d := v.stepOf(rec, now, u, today)
		if t.State == garden.Open {
			d.First, first = first, false
			treads = append(treads, svg.Tread{Name: d.Name, Day: max(now.Due, today), Rests: quantity.Day(max(t.Before, t.Wait)),
				Last: t.Step == bedprep.Plant})
		}
		d.Form = form.NoForm()
		if typed.Task == t.ID {
			d.Form = typed.Form
			d.Form.Sentences()
		}
		d.On = d.Form.Resolve(form.Row{Name: "on", ID: present.IDOn("on", d.ID), Label: "On", Aside: "empty is today", Mode: form.Date,
			Max: today.String()})
		d.Why = d.Form.Resolve(form.Row{Name: "why", ID: present.IDOn("why", d.ID), Label: "Why not (for the record)", MaxLength: 200})
		for i := range d.Looks {
			q := &d.Looks[i]
			q.Signs = d.Form.Tiles(q.ID, present.IDOn(q.ID, d.ID), q.Signs)
		}
		v.Steps = append(v.Steps, d)
		if t.Step != bedprep.Plant {
			v.Afters = append(v.Afters, view.Option{Value: strconv.FormatInt(t.ID, 10), Text: d.Name})
		}
	}
	if len(treads) == 0 {
		return
	}
	stair := svg.StairOf(treads, today, 560)
	v.Stair = &stair
	v.Plants, v.Fact = text.DayYear(rec.State.PlantingDay(x.Planting)), fact.PlantingDay(x.PlantingID)
	v.Says = "As things are, it is planted on"
	if meant := text.DayYear(x.Meant); meant != v.Plants {
		v.Says = "The planting was meant for " + meant + "; with the wait after each step it is"
	}
}

func (v *preparationView) stepOf(rec *bedstate.Record, t garden.Task, u text.Units, today quantity.Day) doneView {
	d := doneView{ID: t.ID, Version: t.Version, Name: text.StepName(t.Step, t.Says), How: u.StepHow(t.Step), State: t.State,
		Key: form.NewKey(), When: text.Weekday(t.Due), Applies: t.Kind == garden.TaskApplication, Test: t.Kind == garden.TaskRetest,
		Asks: t.Step == bedprep.Check, Button: "Done"}
	d.Moved = present.MovedOf(rec.Moved, t, u)
	if t.State != garden.Open {
		d.When, d.Says = text.DayYear(t.Settled), t.Why
		return d
	}
	d.Note = t.Why
	if t.Due < today {
		d.When = "due since " + d.When
	}
	switch {
	case d.Applies:
		d.Says = u.Brings(t.What, t.Rate, t.Total) + feedsWith(t.What, t.Rate, u)
		d.Href, d.Link = "/sheet#task-"+strconv.FormatInt(t.ID, 10), "Put it on, from the day sheet"
	case d.Test:
		d.Href, d.Link = "/bench?bed="+strconv.FormatInt(t.BedID, 10), "Enter the reading"
	case t.Step == bedprep.Correct:
		d.Href, d.Link = site.DoseHref(t.BedID), "Open the dose"
	case t.Step == bedprep.Plant:
		d.Button = "Planted"
	case d.Asks:
		for _, l := range bedprep.Looks {
			q := lookView{ID: l.ID, Name: text.Look(l.ID)}
			for _, sign := range l.Signs {
				q.Signs = append(q.Signs, view.Choice{Value: string(sign), Text: text.Sign(sign)})
			}
			d.Looks = append(d.Looks, q)
		}
	}
	return d
}

// StepDone ticks a step.
func (s *Handler) StepDone(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	tick := preparation.Tick{Task: id, Version: version, Note: f.Value("note")}
	for _, field := range []string{"day", "on"} {
		if f.Value(field) != "" {
			tick.On = f.Day(field)
		}
	}
	for _, l := range bedprep.Looks {
		if sign := f.Value(l.ID); sign != "" {
			tick.Signs = append(tick.Signs, bedprep.Sign(sign))
		}
	}
	bed, errBed := strconv.ParseInt(f.Value("bed"), 10, 64)
	var r garden.Receipt
	if len(f.Faults) == 0 {
		r, err = s.App(c).Preparation.Done(c.Request.Context(), s.Actor(c), tick)
	}
	switch {
	case f.Add(err) || len(f.Faults) > 0:
		if errBed == nil {
			return s.showPreparation(c, http.StatusUnprocessableEntity, bed, typedStep{id, f})
		}
		f.Sentences()
		return sheetpage.New(s.Site).ShowSheet(c, http.StatusUnprocessableEntity, id, f)
	case err != nil:
		return err
	}
	back := "/sheet"
	if errBed == nil {
		back = site.PreparationHref(bed)
	}
	s.Done(c, back, r)
	return nil
}

// DropPreparation ends a preparation.
func (s *Handler) DropPreparation(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	bed, r, err := s.App(c).Preparation.Drop(c.Request.Context(), s.Actor(c), id, version)
	if err != nil {
		return err
	}
	s.doneAt(c, bed, r)
	return nil
}

// doneAt redirects to a bed's preparation; to the plan if a repeated post names none.
func (s *Handler) doneAt(c *gin.Context, bed int64, r garden.Receipt) {
	if bed == 0 {
		s.Done(c, "/", r)
		return
	}
	s.Done(c, site.PreparationHref(bed), r)
}

// KeepWay saves the steps as an own template.
func (s *Handler) KeepWay(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	bed, r, err := s.App(c).Preparation.KeepAs(c.Request.Context(), s.Actor(c), id, f.Value("name"))
	if bed != 0 && f.Add(err) {
		return s.showPreparation(c, http.StatusUnprocessableEntity, bed, typedStep{Form: f})
	}
	if err != nil {
		return err
	}
	s.doneAt(c, bed, r)
	return nil
}

// AddStep adds an own step.
func (s *Handler) AddStep(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	e := preparation.Extra{Preparation: id, Says: f.Value("says"), Wait: quantity.Day(f.Whole("wait"))}
	if n, err := strconv.ParseInt(f.Value("after"), 10, 64); err == nil {
		e.After = n
	}
	if len(f.Faults) > 0 {
		e.Wait = -1 // reported at its field
	}
	bed, r, err := s.App(c).Preparation.Add(c.Request.Context(), s.Actor(c), e)
	if bed != 0 && f.Add(err) {
		return s.showPreparation(c, http.StatusUnprocessableEntity, bed, typedStep{Form: f})
	}
	if err != nil {
		return err
	}
	s.doneAt(c, bed, r)
	return nil
}
