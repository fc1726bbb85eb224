package present

import (
	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/seasons"
	"zephyrfield/internal/seen"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
)

// bedPicture is a bed's chart; nil where there is nothing to draw.
func bedPicture(s *site.Site, c *gin.Context, w *desk.Worked, today, on quantity.Day, width, height float64) (*svg.Chart, error) {
	expect, err := courseOf(s, c, w, today, on)
	if err != nil {
		return nil, err
	}
	sights, err := s.App(c).Seen.OfBed(c.Request.Context(), w.Bed.ID, on)
	if err != nil {
		return nil, err
	}
	return drawn(bedChart(w, expect, sights, on, width, height)), nil
}

// drawn is a chart that has something to show; nil else.
func drawn(c svg.Chart) *svg.Chart {
	if len(c.Points) == 0 {
		return nil
	}
	return &c
}

func bedChart(w *desk.Worked, expect []svg.Expect, sights []seen.Seen, today quantity.Day, width, height float64) svg.Chart {
	label := BandName(w.Plot)
	s := svg.Series{Band: w.Crop.Band, Label: label, Readings: w.Readings, Put: RaisersAndSulfur(w.Applications), Today: today,
		Units: w.Garden.Units(), Measure: w.Measure, Called: w.Called,
		From: today.AddMonths(-chartBackMonths), To: today.AddMonths(chartAheadMonths)}
	for _, t := range openOnly(w.BedRecord) {
		if t.Kind == garden.TaskGo && MovesPH(t.What) {
			s.Goes = append(s.Goes, t)
		}
	}
	for _, x := range sights {
		s.Sights = append(s.Sights, svg.Sighted{Day: x.Day, Says: words.SignName(x.Sign)})
	}
	s.Expect = expect
	c := svg.ChartOf(s, width, height)
	c.Title = chartTitle(w, today)
	c.Says = c.Title + ". The same figures stand in the table below."
	return c
}

// kPicture is a bed's potassium through the years; nil where it was read less than twice.
func kPicture(s *site.Site, c *gin.Context, w *desk.Worked, today, on quantity.Day, width, height float64) (*svg.Chart, error) {
	to := on.AddMonths(chartAheadMonths)
	var plan []forecast.Put
	if on >= today { // a day that is past knew of no plan
		coming, err := s.App(c).Desk.Coming(c.Request.Context(), w, today)
		if err != nil {
			return nil, err
		}
		plan = coming.Plan()
	}
	k := seasons.PotassiumOf(&w.BedRecord, w.Garden, plan, min(on, today), on, to)
	chart, _ := svg.KChartOf(&k, on, on.AddMonths(-chartBackMonths), to, width, height)
	return drawn(chart), nil
}

// BedPictures are both, as large as a record has them.
func BedPictures(s *site.Site, c *gin.Context, w *desk.Worked, on quantity.Day) (ph, k *svg.Chart, err error) {
	today := s.Clock.Today()
	if ph, err = bedPicture(s, c, w, today, on, 760, 260); err != nil {
		return ph, k, err
	}
	k, err = kPicture(s, c, w, today, on, 760, 150)
	return ph, k, err
}

// RaisersAndSulfur leaves out what does not move pH.
func RaisersAndSulfur(as []garden.Application) []garden.Application {
	var out []garden.Application
	for _, a := range as {
		if MovesPH(a.What) {
			out = append(out, a)
		}
	}
	return out
}

// noLine says why a chart has no line: none is drawn from tests too weak to carry one.
func noLine(all []garden.Reading, upTo quantity.Day) string {
	for i := len(all) - 1; i >= 0; i-- {
		if r := &all[i]; r.PH != nil && r.Date <= upTo {
			return words.PH(r.Soil().Water()) + " by " + words.Short(r.Method) + ", too rough for a line"
		}
	}
	return "No line yet"
}

// chartTitle says what happened last: what a test found of a go, else how the last reading stands to the one before.
func chartTitle(w *desk.Worked, upTo quantity.Day) string {
	var before, last *garden.Reading
	for i := range w.Readings {
		r := &w.Readings[i]
		if t, _ := soil.FindMethod(r.Method); r.PH == nil || t.Dose != soil.Freely || r.Date > upTo {
			continue
		}
		before, last = last, r
	}
	if last == nil {
		return noLine(w.Readings, upTo)
	}
	if k, ok := w.Lesson.Last(last.Date); ok {
		return words.Capital(words.Happened(k))
	}
	b := last.Soil().Water()
	if before == nil {
		return "pH " + words.PH(b) + ", one reading so far"
	}
	a := before.Soil().Water()
	since := " since " + before.Date.Time().Format("Jan 2006")
	switch d := b - a; {
	case d >= 0.15:
		return "pH up from " + words.PH(a) + " to " + words.PH(b) + since
	case d <= -0.15:
		return "pH down from " + words.PH(a) + " to " + words.PH(b) + since
	default:
		return "pH steady near " + words.PH(b) + since
	}
}

// keptView is a promise that was tested.
type keptView struct{ Headline, Says, Dose, Href string }

// newsDays is how long what a test found is news.
const newsDays quantity.Day = 60

// keptNote says what the last test of a go found, and what it makes of the dose.
func keptNote(w *desk.Worked, today quantity.Day) *keptView {
	if w.Reading == nil || today-w.Reading.Date > newsDays {
		return nil
	}
	k, ok := w.Lesson.Last(w.Reading.Date)
	if !ok {
		return nil
	}
	v := &keptView{Headline: words.Capital(words.Happened(k)), Says: words.Capital(words.Kept(k, w.Lesson.School)) + ".",
		Href: site.TaughtHref(w.Bed.ID)}
	if l := w.Lesson.Beside(); l != nil {
		v.Dose = words.GoesBy(*l)
	}
	return v
}

// CourseOf is where a forecast goes against the bed's band.
func CourseOf(t *seasons.Season, ph []forecast.Spread, planned int) words.Course {
	band := t.Crop.Band
	in := func(p forecast.Spread) bool {
		return quantity.PH(p.Median) >= band.Low && quantity.PH(p.Median) <= band.High
	}
	c := words.Course{In: in(forecast.On(ph, t.Today)), Planned: planned}
	c.Leaves, _ = forecast.Leaves(ph, t.Today, band.Low, band.High)
	for _, p := range ph {
		if p.Date > t.Today && in(p) {
			c.Comes = p.Date
			break
		}
	}
	return c
}
