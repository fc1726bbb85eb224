package preparation

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type planView struct {
	view.Page
	ID        int64
	Bed, Href string
	Form      form.Form
	Fields    map[string]view.Field
	// Choices are the templates, Comes the coming plantings; none is NoCrop.
	Choices []view.Choice
	Comes   []view.Option
	NoCrop  bool
	// Organic and Meal are set if the template has such a step.
	Organic, Meal *bringsView
	Steps         []stepView
	Stair         *svg.Stair
	Answer        string
	PutsOff       bool
	Button        string
}

// bringsView is the choice of a step's material and rate; In is the unit.
type bringsView struct {
	Kind, Rate view.Field
	In         string
}

// stepView is a planned or proposed step.
type stepView struct {
	Value, Name, When, How, Brings string
	Keeps, Moved                   string
	Out, Fixed                     bool
}

// PrepareBed shows a bed's open preparation, or plans one.
func (s *Handler) PrepareBed(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	_, rec, err := s.App(c).Preparation.Bed(c.Request.Context(), id, s.Clock.Today())
	if err != nil {
		return err
	}
	if len(rec.State.Preparations) > 0 {
		return s.showPreparation(c, http.StatusOK, id, typedStep{Form: form.NoForm()})
	}
	return s.showPlan(c, http.StatusOK, id, form.Asked(c))
}

// fixed are the steps that cannot be left out.
var fixed = []bedprep.StepID{bedprep.Organic, bedprep.Meals, bedprep.Plant, bedprep.Own}

// choiceOf reads the choices for a preparation; after a change of template its own materials are
// used.
func choiceOf(f *form.Form, u text.Units, with []string) (c preparation.Choice) {
	c.Template = f.Value("template")
	if n, err := strconv.ParseInt(f.Value("planting"), 10, 64); err == nil {
		c.Planting = n
	}
	if f.Value("was") == "" || f.Value("was") != c.Template {
		return c
	}
	gives := func(id bedprep.StepID) *preparation.Gives {
		field, in := string(id), u.Rates()
		g := preparation.Gives{Kind: material.Kind(f.Value(field)), Rate: bedprep.UsualRate(id)}
		if x, ok := f.Number(field + "_rate"); ok {
			g.Rate = quantity.Rate(x * in.Size)
		}
		return &g
	}
	c.Organic, c.Meals = gives(bedprep.Organic), gives(bedprep.Meals)
	for _, id := range bedprep.Steps {
		if !slices.Contains(with, string(id)) && !slices.Contains(fixed, id) {
			c.Without = append(c.Without, id)
		}
	}
	return c
}

// showPlan shows the preparation that the form describes.
func (s *Handler) showPlan(c *gin.Context, status int, id int64, f form.Form) error {
	today := s.Clock.Today()
	u := s.Units(c)
	with := c.QueryArray("step")
	if c.Request.Method == http.MethodPost {
		with = c.PostFormArray("step")
	}
	choice := choiceOf(&f, u, with)
	if len(f.Faults) > 0 {
		status = http.StatusUnprocessableEntity
		choice.Organic, choice.Meals = nil, nil
	}
	d, err := s.App(c).Preparation.Draft(c.Request.Context(), id, choice, today)
	if err != nil && !f.Add(err) {
		return err
	}
	v := planView{ID: id, Bed: d.Rec.Bed.Name, Href: site.BedHref(id), Form: f}
	v.draft(d, u, today)
	title := "Prepare " + d.Rec.Bed.Name
	if d.For.ID != 0 {
		title += " for " + text.Lower(d.Rec.Library.Name(d.For.Crop))
	}
	if !preparation.May(d.Rec.Bed) {
		title, v.NoCrop = d.Rec.Bed.Name+" is no bed to prepare", true
	}
	v.Page = s.Page(c, d.Garden, site.SheetTab, title)
	f.Sentences()
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	v.Fields = f.Fields(form.Table{{Name: "planting", Label: "For", Options: v.Comes, Box: "field"}})
	s.Render(c, status, "turn", v)
	return nil
}

// draft fills in a proposed preparation.
func (v *planView) draft(d preparation.Draft, u text.Units, today quantity.Day) {
	for _, t := range bedprep.Templates {
		v.Choices = append(v.Choices, view.Choice{Value: string(t.ID), Text: text.Template(t.ID), Why: u.TemplateSays(t.ID)})
	}
	for _, w := range d.Ways {
		v.Choices = append(v.Choices, view.Choice{Value: preparation.WayKey(w.ID), Text: w.Name, Why: "Your own."})
	}
	v.Form.Values["was"], v.Form.Values["template"] = d.Template, d.Template
	v.Choices = v.Form.Tiles("template", "way", v.Choices)
	for _, p := range d.Comes {
		v.Comes = append(v.Comes, view.Option{Value: strconv.FormatInt(p.ID, 10),
			Text: text.Capital(d.Rec.Library.Name(p.Crop)) + ", " + text.DayYear(p.Sown)})
	}
	v.NoCrop = d.For.ID == 0
	v.Form.Values["planting"] = strconv.FormatInt(d.For.ID, 10)
	v.gives(d, u)
	n := 0
	for _, step := range d.Steps {
		x := stepView{Value: string(step.ID), Name: text.StepName(step.ID, step.Says), How: u.StepHow(step.ID),
			Out: slices.Contains(d.Out, step.ID), Fixed: slices.Contains(fixed, step.ID), Keeps: keeps(step)}
		if !x.Out && n < len(d.Placed) {
			p := d.Placed[n]
			n++
			x.When = text.Weekday(p.Lands)
			if p.Material != "" {
				x.Brings = u.Brings(p.Material, p.Rate, p.Total) + feedsWith(p.Material, p.Rate, u)
			}
			if p.Why != calendar.Free {
				x.Moved = text.Limit(string(p.Why))
			}
		}
		v.Steps = append(v.Steps, x)
	}
	v.answer(d, today)
}

// answer returns whether the planting can keep its day.
func (v *planView) answer(d preparation.Draft, today quantity.Day) {
	if len(d.Placed) == 0 {
		return
	}
	stair := svg.StairOf(stairs(d.Placed), today, 560)
	v.Stair = &stair
	v.Button = "Plan " + text.Count(len(d.Placed), "step", "steps")
	v.Answer = "Begin by " + text.Weekday(d.Placed[0].Lands) + "; planted on " + text.DayYear(d.Plants) + "."
	if d.Delays() {
		v.PutsOff = true
		v.Answer = text.Capital(text.DayYear(d.For.Sown)) + " is too soon: with the wait after each step, the first day to plant is " +
			text.DayYear(d.Plants) + "." + holdsUp(d)
		v.Button += ", planted " + text.DayYear(d.Plants)
	}
}

// holdsUp returns the first step that a rule moved, other than by steps before it.
func holdsUp(d preparation.Draft) string {
	for _, p := range d.Placed {
		if p.Why != calendar.Free && p.Why != calendar.StepOrder {
			return " What holds it up: " + text.Lower(text.StepName(p.ID, p.Says)) + ", since " + text.Limit(string(p.Why)) + "."
		}
	}
	return ""
}

func stairs(placed []preparation.Placed) (out []svg.Tread) {
	for _, p := range placed {
		out = append(out, svg.Tread{Name: text.StepName(p.ID, p.Says), Day: p.Lands, Rests: max(p.Before, p.Wait), Last: p.ID == bedprep.Plant})
	}
	return out
}

// feedsWith returns the nutrients of an amount of a material.
func feedsWith(k material.Kind, rate quantity.Rate, u text.Units) string {
	m, ok := material.Find(k)
	if !ok {
		return ""
	}
	a := ledger.Application{Material: m, Rate: rate}
	if says := present.BroughtWords(a.Brought(), u); says != "" {
		return "; it brings " + says
	}
	return ""
}

// keeps returns a step's intervals in words.
func keeps(s bedprep.Step) string {
	var all []string
	if s.Before > 0 {
		all = append(all, text.PreparationRests(s.Before)+" before planting")
	}
	if s.Lead > s.Before {
		all = append(all, text.PreparationRests(s.Lead)+" before planting where there is time")
	}
	if s.Wait > 0 {
		all = append(all, text.PreparationRests(s.Wait)+" before the next step")
	}
	return text.List(all)
}

// gives fills in the choices of organic matter and meal.
func (v *planView) gives(d preparation.Draft, u text.Units) {
	for _, s := range d.Steps {
		switch s.ID {
		case bedprep.Organic:
			v.Organic = v.brings(s, d, u, "Organic matter", bedprep.Matter)
		case bedprep.Meals:
			v.Meal = v.brings(s, d, u, "Bone meal and the like", bedprep.MealKinds)
		}
	}
}

// brings returns the choice of a step's material from a list.
func (v *planView) brings(s bedprep.Step, d preparation.Draft, u text.Units, label string, kinds []material.Kind) *bringsView {
	field, rate := string(s.ID), string(s.ID)+"_rate"
	if slices.Contains(d.Out, s.ID) || s.Material == "" {
		v.Form.Values[field] = ""
	} else {
		v.Form.Values[field] = string(s.Material)
		if v.Form.Fault(rate) == "" {
			v.Form.Values[rate] = form.Figure(float64(s.Rate), u.Rates(), 3)
		}
	}
	list := []view.Option{{Value: "", Text: "none"}}
	for _, k := range kinds {
		list = append(list, view.Option{Value: string(k), Text: text.Material(k)})
	}
	in := u.Rates().Name
	return &bringsView{In: in, Kind: v.Form.Resolve(form.Row{Name: field, Label: label, Options: list, Group: rate}),
		Rate: v.Form.Resolve(form.Row{Name: rate, Called: label + ", " + in, Mode: form.Decimal})}
}

// PlanPreparation saves a preparation by the chosen template.
func (s *Handler) PlanPreparation(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	choice := choiceOf(&f, s.Units(c), c.PostFormArray("step"))
	if len(f.Faults) > 0 {
		return s.showPlan(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Preparation.Plan(c.Request.Context(), s.Actor(c), id, choice)
	if f.Add(err) {
		return s.showPlan(c, http.StatusUnprocessableEntity, id, f)
	}
	return s.Finish(c, site.PreparationHref(id), r, err)
}
