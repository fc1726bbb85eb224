package spreading

import (
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/spreading"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type bucketView struct {
	view.Page
	// On is the day, for ticks made offline.
	Day  string
	What string
	Held string
	// Pick selects the material.
	Pick view.Field
	Kit  string
	// Safety is the safety advice.
	Safety []string
	// Nowhere is why it may be applied to no bed.
	Nowhere            string
	Today, Later, Nots []whereView
	Untested           string
	Feed               bool
}

// whereView is a bed and what may be applied there.
type whereView struct {
	ID                        int64
	What                      string
	Bed, Href, Facts          string
	Big, Unit, Aside, Planned string
	// PH is what it reads, which PHFact names; AmountFact names the amount of its task.
	PH, PHFact, AmountFact  string
	Then, When, Why, WayOut string
	Stop                    bool
	Cautions                []text.Guarded
	Mind                    string
	Button, Key             string
	Measures                []view.Option
	Form                    form.Form
	Amount                  []view.Field
	Replaces                bool
}

// Bucket shows where the material at hand may be applied today, later, and not at all.
func (s *Handler) Bucket(c *gin.Context) error {
	return s.showBucket(c, http.StatusOK, c.Query("what"), 0, form.NoForm())
}

// showBucket renders the page; typed is shown at the bed that it was typed at.
func (s *Handler) showBucket(c *gin.Context, status int, what string, bed int64, typed form.Form) error {
	today := s.Clock.Today()
	b, err := s.App(c).Spreading.Places(c.Request.Context(), what, today)
	if err != nil {
		return err
	}
	v := bucketView{What: what, Day: today.String()}
	var choices []view.Option
	if b.Held == nil {
		choices = append(choices, view.Option{Text: "choose"})
	}
	for _, h := range b.Choices {
		choices = append(choices, view.Option{Value: h.Key, Text: heldName(h)})
	}
	pick := form.NoForm()
	pick.Values["what"] = what
	v.Pick = pick.Resolve(form.Row{Name: "what", Label: "In the bucket", Options: choices,
		Hook: view.HookOpen, Silent: true})
	if h := b.Held; h != nil {
		v.Held, v.Feed = text.Lower(heldName(*h)), h.Feed()
		if kit := text.List(text.Kit(h.Of.Kind)); kit != "" {
			v.Kit = kit + "."
		}
		v.Safety = text.Safety(h.Of.Kind)
		v.nowhere(b)
		for i := range b.Places {
			p := placeOf(b, &b.Places[i], today)
			p.What = what
			if p.ID == bed {
				p.Form = typed
			}
			p.Amount = p.Form.Rows(present.AmountTable(p.ID, "How much", "", p.Measures))
			switch w := &b.Places[i]; {
			case w.Today(today):
				v.Today = append(v.Today, p)
			case w.Day > today:
				v.Later = append(v.Later, p)
			default:
				v.Nots = append(v.Nots, p)
			}
		}
	}
	if len(b.Untested) > 0 {
		v.Untested = "No reading, so not listed: " + text.List(b.Untested) + "."
	}
	v.Page = s.Page(c, b.Garden, site.ShedTab, v.title())
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "bucket", v)
	return nil
}

func (v *bucketView) title() string {
	switch {
	case v.Held == "":
		return "What is in the bucket?"
	case v.Nowhere != "":
		return "Not for any bed"
	case len(v.Today) == 0:
		return "No bed today"
	}
	return text.Count(len(v.Today), "bed", "beds") + " may have it today"
}

func (v *bucketView) nowhere(b spreading.Places) {
	switch {
	case b.Barred:
		v.Nowhere = text.Capital(text.Barred(b.Held.Of.Source)) + ". It is not to be used where anything grows."
	case b.Hot:
		v.Nowhere = "It may hide embers. Leave it lidded, on stone, away from walls"
		if cool := b.Held.Of.Cool(); cool != 0 {
			v.Nowhere += ", until " + text.Day(cool)
		}
		v.Nowhere += "."
	}
}

func heldName(h spreading.Material) string {
	if h.On != nil {
		return h.On.Name
	}
	return text.Capital(h.Of.Name)
}

// placeOf returns what may be applied to a bed, when, or why not.
func placeOf(b spreading.Places, w *spreading.Place, today quantity.Day) whereView {
	u := b.Garden.Units()
	p := whereView{ID: w.ManyRow.Dose.Record.Bed.ID, Bed: w.ManyRow.Dose.Record.Bed.Name, Href: site.DoseHref(w.ManyRow.Dose.Record.Bed.ID),
		Facts: u.Area(w.ManyRow.Dose.Record.Bed.Area()), Key: form.NewKey(),
		Form: form.NoForm()}
	if w.ManyRow.Dose.Record.State.PH > 0 {
		p.PH, p.PHFact = "pH "+text.PH(w.ManyRow.Dose.Record.State.PH), fact.Bed(p.ID, "ph")
	}
	kg := u.Weights()
	p.Measures = []view.Option{{Value: kg.Name, Text: kg.Name}}
	scoop := b.Held.Measure()
	if scoop != nil {
		p.Measures = append([]view.Option{{Value: present.InScoops, Text: scoop.Name + "s"}}, p.Measures...)
	}
	switch {
	case w.Task != nil:
		p.setAmount(u, b.Held, w.Task.Total, scoop)
		p.AmountFact = fact.Amount(*w.Task)
		p.Aside += ", planned"
	case w.Application != nil:
		p.setAmount(u, b.Held, w.Application.Total, scoop)
		p.Replaces = w.ManyRow.Planned
		p.Cautions, _ = present.Cautions(u.Guards(w.Option.Guards))
		p.Mind = text.Count(len(p.Cautions), "caution", "cautions")
		if w.Option.PH.Median > 0 {
			p.Then = "settles at pH " + text.PH(w.Option.PH.Median)
		}
		if w.Option.ForPotassium {
			p.Then = "for its potassium, " + p.Then
		}
		if n := len(w.Option.Applications) - 1; n > 0 {
			p.Then += ", with " + text.Count(n, "more application", "more applications")
		}
		if rest := present.RestWords(&w.Dose, w.Option, today); rest != "" {
			p.Then += "; " + rest
		}
	case w.Most > 0 && w.Day == today:
		p.setAmount(u, b.Held, w.Most.Over(w.ManyRow.Dose.Record.Bed.Area()), scoop)
		p.Aside = strings.TrimPrefix(p.Aside+", at most at one time", ", ")
	}
	if w.Day > today {
		p.When = text.NearDay(w.Day, today)
	}
	p.why(u, w)
	return p
}

// setAmount sets an amount in words.
func (p *whereView) setAmount(u text.Units, h *spreading.Material, total quantity.Mass, scoop *text.Scoop) {
	t := u.Carried(h.Of.Kind, total, scoop)
	p.Big, p.Unit, p.Aside = t.Big, t.Unit, t.Aside
	p.Planned = t.Big + " " + t.Unit
	p.Button = "Put on " + p.Planned
}

// why returns why none may be applied to a bed.
func (p *whereView) why(u text.Units, w *spreading.Place) {
	switch {
	case w.Stopped != "":
		p.Why = w.Stopped
	case len(w.Against) > 0:
		g := u.Guard(w.Against[0])
		p.Why, p.WayOut, p.Stop = g.Says, g.WayOut(), g.Level == guard.Stop
	case w.Day == 0:
		p.Why = text.Capital(present.WhyNot(&w.ManyRow)) + "."
	}
}

// Pour records the material as applied to a bed.
func (s *Handler) Pour(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	p := spreading.Amount{What: f.Value("what"), Bed: id, On: f.Day("day")}
	if x, ok := f.Number("amount"); ok {
		g := quantity.Mass(x * s.Units(c).Weights().Size)
		if f.Is("measure", present.InScoops) {
			if g, err = s.scoops(c, p.What, x); err != nil {
				return err
			}
		}
		p.Amount = &g
	}
	if len(f.Faults) > 0 {
		return s.showBucket(c, http.StatusUnprocessableEntity, p.What, id, f)
	}
	r, err := s.App(c).Spreading.PutOn(c.Request.Context(), s.Actor(c), p, present.EncodePlan)
	if f.Add(err) {
		f.Sentences()
		return s.showBucket(c, http.StatusUnprocessableEntity, p.What, id, f)
	}
	return s.Finish(c, "/bucket?what="+url.QueryEscape(p.What), r, err)
}

// scoops returns the mass of a number of level scoops.
func (s *Handler) scoops(c *gin.Context, what string, n float64) (quantity.Mass, error) {
	b, err := s.App(c).Spreading.Places(c.Request.Context(), what, s.Clock.Today())
	if err != nil {
		return 0, err
	}
	if b.Held == nil || b.Held.On == nil || b.Held.On.Measure() == nil {
		return 0, garden.ErrMissing
	}
	return quantity.Mass(n) * b.Held.On.Measure().Of, nil
}
