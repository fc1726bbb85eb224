package seasons

import (
	"errors"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type seasonsView struct {
	view.Page
	Bed, Aside, Holds string
	// Lacks is set if the bed was never read.
	Lacks, ReadingHref, RecordHref, ShownHref, TryHref string
	Surprise                                           *present.Surprise
	// Wide is the drawing for a desk, Slim for a phone.
	Wide, Slim *svg.OutlookChart
	Lesson     *svg.Lesson
	Shown      string
	BasedOn    string
	Moves      *svg.Moves
	Checks     []seasonCheck
	Potash     string
	// Layers are the layers read, now and in a year.
	Layers   []seasonLayer
	Glimpses []svg.Glimpse
	// Next are the next beds to leave their ranges; More is the number of beds without an outline
	// here.
	Next []nextOut
	More int
	// Working is the progress of the beds' outlines, Again the address that polls it.
	Working, Again string
}

type seasonCheck struct{ First, Promised, Measured, So, Class string }

type seasonLayer struct{ Depth, Now, Year string }

type nextOut struct{ Bed, Href, When string }

// mostGlimpses is the largest number of outlines shown.
const mostGlimpses = 40

// Seasons shows a bed's past and future, among all beds' outlines.
func (s *Handler) Seasons(c *gin.Context) error {
	today := s.Clock.Today()
	all, working, err := s.App(c).Outlook.Ready(c.Request.Context(), today)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.Query("bed"), 10, 64)
	if id == 0 {
		if id, err = s.seasonsFirst(c, all, today); err != nil || id == 0 {
			c.Redirect(http.StatusSeeOther, "/")
			return err
		}
	}
	t, err := s.App(c).Outlook.Bed(c.Request.Context(), id, today)
	if err != nil && !errors.Is(err, outlook.ErrNoReading) {
		return err
	}
	v := seasonsView{Bed: t.Record.Bed.Name, RecordHref: "/beds/" + strconv.FormatInt(id, 10), ShownHref: site.ShownHref(id),
		TryHref: "/beds/" + strconv.FormatInt(id, 10) + "/try"}
	title := v.Bed + " was never tested"
	if err != nil {
		v.Lacks, v.ReadingHref = "Test its pH first: then its seasons can be shown.", "/bench?bed="+strconv.FormatInt(id, 10)
	} else {
		title = v.show(&t)
		if v.Holds, err = s.holds(c, &t); err != nil {
			return err
		}
	}
	v.outlines(all, id)
	if working != nil {
		v.Working = "The lines of all beds are being worked out: " + strconv.Itoa(working.Done) + " of " + strconv.Itoa(working.Total) + "."
		v.Again = site.SeasonsHref(id)
	}
	v.Page = s.Page(c, t.Garden, site.SeasonsTab, title)
	s.Render(c, http.StatusOK, "seasons", v)
	return nil
}

// seasonsFirst returns the default bed; 0 for none.
func (s *Handler) seasonsFirst(c *gin.Context, all []outlook.Outline, today quantity.Day) (int64, error) {
	if len(all) > 0 {
		return mostMoved(all), nil
	}
	_, beds, err := s.App(c).BedState.Names(c.Request.Context(), today)
	if err != nil || len(beds) == 0 {
		return 0, err
	}
	return beds[0].ID, nil
}

// mostMoved returns the default bed: the first outside its range, else the next to leave it.
func mostMoved(all []outlook.Outline) int64 {
	best := &all[0]
	for i := range all {
		o := &all[i]
		if len(o.Back) == 0 {
			continue
		}
		switch {
		case len(best.Back) == 0, best.State.Standing != bed.Sour && o.State.Standing == bed.Sour:
			best = o
		case best.State.Standing == bed.InRange && o.Leaves != 0 && (best.Leaves == 0 || o.Leaves < best.Leaves):
			best = o
		}
	}
	return best.State.Bed.ID
}

// show fills in a bed's outlook and returns the headline.
func (v *seasonsView) show(t *outlook.Forecast) (title string) {
	u := t.Garden.Units()
	now := svg.Facts{Level: fact.Bed(t.Record.Bed.ID, "level"), Potassium: fact.Bed(t.Record.Bed.ID, "potassium")}
	wide, slim := svg.OutlookChartOf(t, 860, seasonsBack, seasonsAhead, now), svg.OutlookChartOf(t, 440, slimBack, slimAhead, now)
	v.Wide, v.Slim, v.Surprise = &wide, &slim, present.SurpriseOf(&t.Record)
	k := t.Record.Lesson.Learned()
	lesson := svg.LessonOf(forecast.Normal{SD: t.Record.Lesson.Model().Curved}, k.Buffering, 300)
	v.Lesson, v.Shown = &lesson, text.Shown(*k, t.Method())
	if l := t.Record.Lesson.Beside(); l != nil {
		v.BasedOn = text.BasedOn(*l)
	}
	moves := svg.MovesOf(t.Moves, 300)
	v.Moves = &moves
	for i := len(t.Checks) - 1; i >= 0 && len(v.Checks) < mostChecks; i-- {
		v.Checks = append(v.Checks, checkOf(t.Checks[i]))
	}
	if m := t.KMoved; m.Last.Date > m.First.Date {
		v.Potash = u.PotashMoved(text.Potash{From: quantity.Concentration(m.First.PPM), To: quantity.Concentration(m.Last.PPM),
			Brought: quantity.Rate(m.Brought), Carried: quantity.Rate(m.Carried), Named: quantity.Concentration(m.Named)})
	}
	for _, l := range t.Layers {
		at := func(d quantity.Day) string { return text.PH(quantity.PH(forecast.On(l.PH, d).Median)) }
		v.Layers = append(v.Layers, seasonLayer{u.Depth(l.From) + " to " + u.Depth(l.To), at(t.Today), at(t.Today.AddMonths(12))})
	}
	v.Aside = text.SeasonAside(present.CourseOf(t, t.Run.PH, t.Planned))
	return text.SeasonTitle(v.Bed, forecast.Yearly(t.Record.Lesson.Model(), k))
}

// The range of the drawings in years, and the number of promises shown.
const (
	seasonsBack, seasonsAhead = 4, 5
	slimBack, slimAhead       = 2, 2
	mostChecks                = 4
)

// checkOf returns a promise briefly.
func checkOf(k forecast.Check) seasonCheck {
	x := seasonCheck{First: k.First.Time().Format("Jan 2006"), Promised: text.PH(k.Promised), Measured: text.PH(k.Measured), So: "as expected"}
	switch {
	case k.Why == forecast.TooSoon:
		x.So = "too soon"
	case k.Why == forecast.AsPromised:
		x.Class = "in"
	case k.Miss() < 0:
		x.So, x.Class = "short", "off"
	default:
		x.So, x.Class = "over", "off"
	}
	return x
}

// holds returns how long today's dose would keep an unplanned bed in its range; "" without a dose.
func (s *Handler) holds(c *gin.Context, t *outlook.Forecast) (string, error) {
	if t.Planned > 0 {
		return "", nil
	}
	w, err := s.App(c).Dosing.Dose(c.Request.Context(), t.Record.Bed.ID, dosing.Choice{}, t.Today)
	if err != nil || len(w.Answer.Options) == 0 {
		return "", err
	}
	o := &w.Answer.Options[0]
	_, run := t.With(applicationsOf(o))
	amounts := ""
	for i := range o.Parts {
		if i > 0 {
			amounts += " and "
		}
		amounts += t.Garden.Units().Mass(o.Parts[i].Total) + " of " + present.PartName(&w, i, *o)
	}
	return text.DoseHolds("Today’s dose, "+amounts+",", present.CourseOf(t, run.PH, len(o.Applications))), nil
}

// applicationsOf converts an option's applications for a forecast.
func applicationsOf(o *dose.Option) (out []forecast.Application) {
	for i := range o.Applications {
		g := &o.Applications[i]
		b := o.Parts[g.Part].Of
		cce := quantity.Percent(100 * o.Parts[g.Part].Worth.EffectiveCCE)
		a := ledger.Application{Date: g.Date, Material: b.Material, Rate: g.Rate, Potash: b.Potash}
		if b.Raises() {
			a.Measured = &cce
		}
		out = append(out, forecast.Application{Application: a, Batch: "option " + strconv.Itoa(g.Part)})
	}
	return out
}

// outlines fills in the outlines of all beds, and the next to leave their ranges.
func (v *seasonsView) outlines(all []outlook.Outline, open int64) {
	for i := range all {
		o := &all[i]
		if i >= mostGlimpses && o.State.Bed.ID != open {
			v.More++
			continue
		}
		g := svg.GlimpseOf(o)
		g.Href, g.On = site.SeasonsHref(o.State.Bed.ID), o.State.Bed.ID == open
		v.Glimpses = append(v.Glimpses, g)
	}
	v.Next = nextOuts(all)
}

// nextOuts returns the beds that will leave their ranges, soonest first.
func nextOuts(all []outlook.Outline) (out []nextOut) {
	leaving := make([]*outlook.Outline, 0, len(all))
	for i := range all {
		if all[i].Leaves != 0 {
			leaving = append(leaving, &all[i])
		}
	}
	slices.SortStableFunc(leaving, func(a, b *outlook.Outline) int { return int(a.Leaves - b.Leaves) })
	for _, o := range leaving[:min(len(leaving), mostNext)] {
		out = append(out, nextOut{o.State.Bed.Name, site.SeasonsHref(o.State.Bed.ID), o.Leaves.Time().Format("Jan 2006")})
	}
	return out
}

// mostNext is the largest number of them shown.
const mostNext = 3
