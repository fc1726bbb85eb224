package move

import (
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type moveView struct {
	view.Page
	ID, Version      int64
	Bed, Href        string
	Form             form.Form
	Fields           map[string]view.Field
	Stands, Planned  string
	Strip            *svg.DayStrip
	Answer           string
	Serves, Same     bool
	Others           []string
	Before, After    *nearDay
	Shortfall        string
	Stretches        []stretchView
	Button, TaskName string
}

// nearDay is an allowed day near the chosen one.
type nearDay struct{ Day, Text string }

type stretchView struct{ When, Until string }

// AskMove shows what moving a task changes, and why a day may be refused.
func (s *Handler) AskMove(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	// A stake was dragged: days from the ribbon's first.
	if from, err := quantity.ParseDay(c.Query("from")); err == nil {
		if days, err := strconv.Atoi(c.Query("days")); err == nil && days >= 0 && days <= site.MostSteps {
			c.Redirect(http.StatusSeeOther, site.MoveHref(id)+"?to="+(from+quantity.Day(days)).String())
			return nil
		}
	}
	return s.showMove(c, http.StatusOK, id, form.Asked(c))
}

// showMove shows the outcome of moving a task to the form's day.
func (s *Handler) showMove(c *gin.Context, status int, id int64, f form.Form) error {
	today := s.Clock.Today()
	to := f.Day("to")
	if to != 0 {
		to = min(max(to, today), today+schedule.MoveAhead)
	}
	m, err := s.App(c).Schedule.Moving(c.Request.Context(), id, to, today)
	if err != nil && !f.Add(err) {
		return err
	}
	u := m.Garden.Units()
	name := taskName(m, u)
	v := moveView{ID: id, Version: m.Task.Version, Bed: m.Bed.Name, Href: site.BedHref(m.Bed.ID), Form: f, TaskName: name}
	if m.Stands.Day != 0 {
		v.answer(m, today)
	}
	v.Page = s.Page(c, m.Garden, site.SheetTab, text.Capital(name)+" on "+m.Bed.Name)
	f.Sentences()
	v.Fields = f.Fields(form.Table{{Name: "to", Label: "Put it on", Mode: form.Date, Min: today.String(),
		Max: (today + schedule.MoveAhead).String()}})
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "move", v)
	return nil
}

// taskName returns a task's name with its amount.
func taskName(m schedule.Moving, u text.Units) string {
	switch m.Task.Kind {
	case garden.TaskRetest:
		return "the retest"
	case garden.TaskStep:
		return text.Lower(text.StepName(m.Task.Step, m.Task.Says))
	}
	if m.Batch != nil {
		return present.Brief(m.Task.Total, m.Batch.Measure(), u) + " of " + text.Lower(m.Batch.Name)
	}
	return u.Mass(m.Task.Total) + " of " + text.Material(m.Task.What)
}

func (v *moveView) answer(m schedule.Moving, today quantity.Day) {
	u := m.Garden.Units()
	v.Form.Values["to"] = m.To.String()
	v.Stands = "It stands on " + text.Weekday(m.Stands.Lands) + "."
	if m.Stands.Shortfall {
		v.Stands = text.Capital(u.Moved(m.Task.Due, m.Stands)) + "."
	} else if m.Stands.Day < today {
		v.Stands = "It was due on " + text.Weekday(m.Stands.Day) + "."
	} else if m.Stands.Day != m.Task.Due {
		v.Stands = "It stands on " + text.Weekday(m.Stands.Day) + ", " + u.Moved(m.Task.Due, m.Stands) + "."
	}
	strip := svg.DayStripOf(m.Trial.Serve, today, today+calendar.Horizon, m.Stands.Lands, m.To, 360)
	v.Strip = &strip
	for _, w := range m.Trial.Serve {
		x := stretchView{When: text.DayYear(w.From) + " to " + text.DayYear(w.To)}
		if w.Closes != "" {
			x.Until = text.Limit(string(w.Closes))
		}
		v.Stretches = append(v.Stretches, x)
	}
	v.Serves, v.Same = m.Serves(), m.To == m.Stands.Day
	if !v.Serves {
		v.Answer = text.Capital(text.NotOn(m.To, m.Trial)) + "."
		v.Before, v.After = nearOf(m.Trial.Before), nearOf(m.Trial.After)
		return
	}
	v.Answer = text.Weekday(m.To) + " is suitable."
	if v.Same {
		v.Answer = ""
	}
	v.Button = "Move it to " + text.DayYear(m.To)
	for _, o := range m.Others {
		what := "The retest"
		switch o.Task.Kind {
		case garden.TaskApplication:
			what = "The application of " + garden.Called(o.Task.What, o.Batch)
		case garden.TaskStep:
			what = "“" + text.StepName(o.Task.Step, o.Task.Says) + "”"
		}
		says := what + " moves from " + text.DayYear(o.Was.Lands) + " to " + text.DayYear(o.Is.Lands)
		if o.Is.Shortfall {
			says = what + ": " + u.Moved(o.Task.Due, o.Is)
		} else if o.Is.Why != "" {
			says += ": " + text.Limit(string(o.Is.Why))
		}
		v.Others = append(v.Others, says+".")
	}
}

func nearOf(d quantity.Day) *nearDay {
	if d == 0 {
		return nil
	}
	return &nearDay{d.String(), text.DayYear(d)}
}

// MoveTask moves a task and those that follow it.
func (s *Handler) MoveTask(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	to := f.Day("to")
	if len(f.Faults) > 0 {
		f.Values["to"] = ""
		return s.showMove(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Schedule.Move(c.Request.Context(), s.Actor(c), id, version, to)
	var faults garden.Faults
	if errors.As(err, &faults) {
		f.Add(err)
		return s.showMove(c, http.StatusUnprocessableEntity, id, f)
	}
	return s.Finish(c, "/sheet", r, err)
}
