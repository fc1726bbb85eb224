package sidedressing

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type sideView struct {
	view.Page
	ID        int64
	Bed, Href string
	Fields    []view.Field
	// Refused is why this bed has none now.
	Refused string
	// Big and Unit are one plant's amount, Of its ash and number; Held is its limit.
	Big, Unit, Of, Aside, Held string
	Kit                        []string
	Method                     string
	// Why is why none is applied today, Next when it may be; Against are the guards.
	Why, Next string
	Against   []text.Guarded
	Button    string
	// Lacks is what has to be done first, LacksHref where.
	Lacks, LacksHref string
}

// The defaults.
const (
	usualPlants = 6
	usualAcross = 60 * quantity.Centimetre
)

// Side shows how much ash may be applied around single plants today, or why none.
func (s *Handler) Side(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	return s.showSide(c, http.StatusOK, id, form.Asked(c))
}

// sideChoice reads the chosen plants; faults are in the form.
func sideChoice(f *form.Form, u text.Units) dosing.SideDressingChoice {
	c := dosing.SideDressingChoice{Key: f.Value("ash"), Ring: dose.Ring{Plants: usualPlants, Across: usualAcross}}
	in := u.Depths()
	if f.Value("plants") != "" {
		c.Plants = f.Whole("plants")
	} else {
		f.Values["plants"] = form.Figure(usualPlants, text.Scale{Size: 1}, 0)
	}
	if x, ok := f.Number("across"); ok {
		c.Across = quantity.Depth(x * in.Size)
	} else {
		f.Values["across"] = form.Figure(float64(usualAcross), in, 0)
	}
	return c
}

func (s *Handler) showSide(c *gin.Context, status int, id int64, f form.Form) error {
	u := s.Units(c)
	choice := sideChoice(&f, u)
	x, err := s.App(c).Dosing.SideDress(c.Request.Context(), id, choice, s.Clock.Today())
	v := sideView{ID: id, Bed: x.Dose.Record.Bed.Name, Href: site.BedHref(id)}
	switch {
	case errors.Is(err, dosing.ErrNoReading):
		v.Lacks, v.LacksHref = "How much it may have depends on a reading. Test the bed first.", "/bench?bed="+c.Param("id")
	case x.At < 0 && f.Add(err):
		v.Lacks, v.LacksHref = text.Sentence(f.Fault("ash")), "/shed"
	case err != nil && !f.Add(err):
		return err
	case len(f.Faults) == 0:
		v.answer(x, choice, u)
	}
	ashes := []view.Option{}
	for _, i := range x.Ashes {
		ashes = append(ashes, view.Option{Value: x.MaterialKey(i), Text: text.Capital(present.MaterialName(&x.Dose, i))})
	}
	f.Values["ash"] = x.Key
	title := "Ash round the plants on " + x.Dose.Record.Bed.Name
	if v.Button == "" && v.Big == "" && v.Lacks == "" && len(f.Faults) == 0 {
		title = "No ash round the plants on " + x.Dose.Record.Bed.Name + " today"
	}
	v.Page = s.Page(c, x.Garden, site.SheetTab, title)
	f.Sentences()
	v.Refused = f.Fault("bed")
	v.Fields = f.Rows(form.Table{{Name: "plants", Label: "Plants", Mode: form.Numeric},
		{Name: "across", Label: "Leaves reach across, " + u.Depths().Name, Mode: form.Decimal},
		{Name: "ash", Label: "Which ash", Options: ashes, Box: form.Wide}})
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "side", v)
	return nil
}

// answer sets one plant's amount, or why there is none.
func (v *sideView) answer(x dosing.SideDressing, c dosing.SideDressingChoice, u text.Units) {
	d := x.Dressing
	v.Against = u.Guards(d.Against)
	switch {
	case len(d.Against) > 0:
		return
	case d.Total == 0:
		v.Why = "This bed needs none: its pH leaves no room for ash."
		return
	case d.Why != calendar.Free:
		v.Why = text.Capital(text.Limit(string(d.Why))) + "."
		if d.Next != 0 {
			v.Next = "It may have some from " + text.DayYear(d.Next) + " on, as things are."
		}
		return
	}
	scoop := x.Stock().Measure()
	told := u.Carried(x.Request.Materials[x.At].Kind, d.Each, nil)
	v.Big, v.Unit, v.Aside = told.Big, told.Unit, text.InCups(x.Request.Materials[x.At].Material, d.Each)
	if scoop != nil {
		v.Aside += ", " + u.Share(d.Each, scoop)
	}
	v.Of = "round each of " + text.Count(c.Plants, "plant", "plants") + ": " + u.Mass(d.Total) + " in all, " + u.Rate(d.Rate) + " of the bed"
	v.Held = text.Capital(text.Limit(d.Limit)) + "."
	v.Kit, v.Method = text.Kit(material.HardwoodAsh), text.RingMethod
	v.Button = "Put on " + u.Mass(d.Total)
}

// PutSide records it as applied.
func (s *Handler) PutSide(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	choice := sideChoice(&f, s.Units(c))
	if len(f.Faults) > 0 {
		return s.showSide(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Dosing.ApplySideDressing(c.Request.Context(), s.Actor(c), id, choice)
	var faults garden.Faults
	if errors.As(err, &faults) {
		f.Add(err)
		return s.showSide(c, http.StatusUnprocessableEntity, id, f)
	}
	return s.Finish(c, "/log?bed="+c.Param("id"), r, err)
}
