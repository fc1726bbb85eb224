package learned

import (
	"errors"
	"maps"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type taughtView struct {
	view.Page
	Bed, Href string
	// Lacks is set without a reading.
	Lacks, ReadingHref string
	Says, Drifts       string
	Pulls              []string
	Course             *svg.Course
	Checks             []checkRow
	// Others is what all beds have shown together.
	Others []string
	// BasedOn is what the dose uses, Shared what neighbours and batches have shown.
	BasedOn, Shared string
	// Aside is the day from which tests teach, if not all; CanReset is set if they can be reset.
	Aside    string
	CanReset bool
	Version  int64
}

// checkRow is a promise compared with a reading.
type checkRow struct{ First, Read, Promised, Measured, Says string }

// Taught shows what a bed's readings have taught, with its past and future pH.
func (s *Handler) Taught(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	today := s.Clock.Today()
	t, err := s.App(c).Outlook.Bed(c.Request.Context(), id, today)
	if err != nil && !errors.Is(err, outlook.ErrNoReading) {
		return err
	}
	u := t.Garden.Units()
	v := taughtView{Bed: t.Record.Bed.Name, Href: "/beds/" + c.Param("id")}
	title := "What " + v.Bed + " has shown"
	if err != nil {
		v.Lacks, v.ReadingHref = "It has no reading yet: nothing can be forecast for it.", "/bench?bed="+c.Param("id")
	} else {
		v.Says = text.Taught(*t.Record.Lesson.Learned(), t.Method())
		v.goesBy(t)
		v.Drifts = u.Drifts(t.Record.Lesson.Learned().Drift)
		for _, p := range t.Pulls {
			v.Pulls = append(v.Pulls, u.Pull(p))
		}
		course := svg.CourseOf(&t.Model, &t.Run, t.Record.State.Crop.Band, today, 760)
		v.Course = &course
		for _, k := range t.Checks {
			v.Checks = append(v.Checks, checkRow{text.DayYear(k.First), text.DayYear(k.Date), text.PH2(k.Promised), text.PH2(k.Measured),
				text.Capital(text.Check(k, t.Method())) + "."})
		}
	}
	v.Page = s.Page(c, t.Garden, "Ground", title)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "taught", v)
	return nil
}

// goesBy sets what the dose uses, and whether it can be reset.
func (v *taughtView) goesBy(t outlook.Forecast) {
	v.Version = t.Record.Bed.Version
	l := t.Record.Lesson.Beside()
	switch {
	case l != nil:
		v.BasedOn, v.CanReset = text.BasedOn(*l), true
	case t.Record.Lesson.Learned().Tests > 0:
		v.BasedOn, v.CanReset = "That is not enough yet: its doses follow "+text.Beside(t.Method())+".", true
	default:
		v.BasedOn = "Its doses follow " + text.Beside(t.Method()) + "."
	}
	if from := t.Record.Bed.TaughtFrom; from != 0 {
		v.Aside = "Its tests up to " + text.DayYear(from) + " are ignored."
	}
	shared := t.Record.Lesson.Together()
	var batches []text.BatchTaught
	for _, id := range slices.Sorted(maps.Keys(t.Batches)) {
		if x, beds, ok := bedstate.Got(shared, id); ok {
			batches = append(batches, text.BatchTaught{Name: t.Batches[id].Name, Factor: x, Beds: beds})
		}
	}
	v.Others = text.GardenTaught(shared.Bias, batches)
	v.Shared = text.Others(t.Record.Lesson.Model().Others, t.Method())
}

// SetTaught resets what a bed has taught, or undoes that.
func (s *Handler) SetTaught(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	var from quantity.Day
	if c.PostForm("from") != "" {
		from = s.Clock.Today()
	}
	r, err := s.App(c).Layout.Teach(c.Request.Context(), s.Actor(c), id, version, from)
	return s.Finish(c, site.TaughtHref(id), r, err)
}
