package present

import (
	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/observation"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
)

// bedPicture returns a bed's pH chart; nil if it is empty.
func bedPicture(s *site.Site, c *gin.Context, w *dosing.Dose, today, day quantity.Day, width, height float64) (*svg.Chart, error) {
	expect, err := courseOf(s, c, w, today, day)
	if err != nil {
		return nil, err
	}
	sights, err := s.App(c).Observation.OfBed(c.Request.Context(), w.Record.Bed.ID, day)
	if err != nil {
		return nil, err
	}
	return drawn(bedChart(w, expect, sights, today, day, width, height)), nil
}

// drawn returns a chart with content, else nil.
func drawn(c svg.Chart) *svg.Chart {
	if len(c.Points) == 0 {
		return nil
	}
	return &c
}

func bedChart(w *dosing.Dose, expect []svg.Expect, seen []observation.Observed, today, day quantity.Day, width, height float64) svg.Chart {
	label := RangeName(w.Record.State)
	s := svg.Series{Range: w.Record.State.Crop.Range, Label: label, Readings: w.Record.Readings, Put: RaisersAndSulfur(w.Record.Applications),
		Line: outlook.Past(&w.Record, min(day, today)), Today: day,
		Units: w.Garden.Units(), Measure: w.Measure, Called: w.Called,
		From: day.AddMonths(-chartBackMonths), To: day.AddMonths(chartAheadMonths)}
	for _, t := range openOnly(w.Record) {
		if t.Kind == garden.TaskApplication && MovesPH(t.What) {
			s.Applications = append(s.Applications, t)
		}
	}
	for _, x := range seen {
		s.Observations = append(s.Observations, svg.Observation{Day: x.Day, Says: text.SymptomName(x.Sign)})
	}
	if day == today {
		s.Fact = fact.Bed(w.Record.Bed.ID, "level")
	}
	s.Expect = expect
	c := svg.ChartOf(s, width, height)
	c.Title = chartTitle(w, day)
	c.Says = c.Title + ". The same figures stand in the table below."
	return c
}

// potassiumOf returns a bed's potassium for its chart, with what is planned.
func potassiumOf(s *site.Site, c *gin.Context, w *dosing.Dose, today, day quantity.Day) (k outlook.Potassium, err error) {
	var plan []forecast.Application
	if day >= today { // a past day knows no plan
		coming, err := s.App(c).Dosing.Coming(c.Request.Context(), w, today)
		if err != nil {
			return k, err
		}
		plan = coming.Plan()
	}
	return outlook.PotassiumOf(&w.Record, w.Garden, plan, min(day, today), day, day.AddMonths(chartAheadMonths)), nil
}

// kPicture draws a bed's potassium on the axis of time of the pH chart above it; nil with fewer than
// two readings.
func kPicture(w *dosing.Dose, k *outlook.Potassium, above *svg.Chart, today, day quantity.Day, width, height float64) *svg.Chart {
	var opens quantity.Day
	if above != nil {
		opens = above.From
	}
	named := ""
	if day == today {
		named = fact.Bed(w.Record.Bed.ID, "potassium")
	}
	chart, _ := svg.KChartOf(k, day, day.AddMonths(-chartBackMonths), opens, day.AddMonths(chartAheadMonths), width, height, named)
	return drawn(chart)
}

// BedPictures returns both charts at the size of a record.
func BedPictures(s *site.Site, c *gin.Context, w *dosing.Dose, day quantity.Day) (ph, k *svg.Chart, err error) {
	today := s.Clock.Today()
	if ph, err = bedPicture(s, c, w, today, day, 760, 260); err != nil {
		return ph, k, err
	}
	potassium, err := potassiumOf(s, c, w, today, day)
	if err != nil {
		return ph, k, err
	}
	return ph, kPicture(w, &potassium, ph, today, day, 760, 150), nil
}

// RaisersAndSulfur returns the applications that move pH.
func RaisersAndSulfur(as []garden.Application) []garden.Application {
	var out []garden.Application
	for _, a := range as {
		if MovesPH(a.What) {
			out = append(out, a)
		}
	}
	return out
}

// noLine returns why a chart has no forecast: its tests are too inaccurate.
func noLine(all []garden.Reading, upTo quantity.Day) string {
	for i := len(all) - 1; i >= 0; i-- {
		if r := &all[i]; r.PH != nil && r.Date <= upTo {
			return text.PH(r.Soil().Water()) + " by " + text.Short(r.Method) + ", too rough for a line"
		}
	}
	return "No line yet"
}

// chartTitle returns the latest finding: the test of an application, else the last reading compared
// with the one before.
func chartTitle(w *dosing.Dose, upTo quantity.Day) string {
	var before, last *garden.Reading
	for i := range w.Record.Readings {
		r := &w.Record.Readings[i]
		if t, _ := soil.FindMethod(r.Method); r.PH == nil || t.Dose != soil.Freely || r.Date > upTo {
			continue
		}
		before, last = last, r
	}
	if last == nil {
		return noLine(w.Record.Readings, upTo)
	}
	if k, ok := w.Record.Lesson.Last(last.Date); ok {
		return text.Capital(text.Happened(k))
	}
	b := last.Soil().Water()
	if before == nil {
		return "pH " + text.PH(b) + ", one reading so far"
	}
	a := before.Soil().Water()
	since := " since " + before.Date.Time().Format("Jan 2006")
	switch d := b - a; {
	case d >= 0.15:
		return "pH up from " + text.PH(a) + " to " + text.PH(b) + since
	case d <= -0.15:
		return "pH down from " + text.PH(a) + " to " + text.PH(b) + since
	default:
		return "pH steady near " + text.PH(b) + since
	}
}

// keptView is a tested promise.
type keptView struct{ Headline, Says, Dose, Href string }

// newsDays is how long a tested promise is shown.
const newsDays quantity.Day = 60

// keptNote returns the last tested promise, and its effect on the dose.
func keptNote(w *dosing.Dose, today quantity.Day) *keptView {
	if w.Record.State.Reading == nil || today-w.Record.State.Reading.Date > newsDays {
		return nil
	}
	k, ok := w.Record.Lesson.Last(w.Record.State.Reading.Date)
	if !ok {
		return nil
	}
	v := &keptView{Headline: text.Capital(text.Happened(k)), Says: text.Capital(text.Check(k, w.Record.Lesson.Method)) + ".",
		Href: site.ShownHref(w.Record.Bed.ID)}
	if l := w.Record.Lesson.Beside(); l != nil {
		v.Dose = text.BasedOn(*l)
	}
	return v
}

// CourseOf returns a forecast's outlook relative to the bed's range.
func CourseOf(t *outlook.Forecast, ph []forecast.Spread, planned int) text.Course {
	span := t.Record.State.Crop.Range
	c := text.Course{Range: span, Reads: t.Record.State.PH, Level: quantity.PH(forecast.On(ph, t.Today).Median),
		Apart: t.Record.State.Surprise != nil, Planned: planned}
	c.Leaves, _ = forecast.Leaves(ph, t.Today, span.Low, span.High)
	for _, p := range ph {
		if p.Date > t.Today && span.Holds(quantity.PH(p.Median)) {
			c.Comes = p.Date
			break
		}
	}
	return c
}
