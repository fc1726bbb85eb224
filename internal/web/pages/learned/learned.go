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

type shownView struct {
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

// Shown shows what a bed's readings have shown, with its past and future pH.
func (s *Handler) Shown(c *gin.Context) error {
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
	v := shownView{Bed: t.Record.Bed.Name, Href: "/beds/" + c.Param("id")}
	title := "What " + v.Bed + " has shown"
	if err != nil {
		v.Lacks, v.ReadingHref = "It has no reading yet: nothing can be forecast for it.", "/bench?bed="+c.Param("id")
	} else {
		v.Says = text.Shown(*t.Record.Lesson.Learned(), t.Method())
		v.goesBy(t)
		v.Drifts = u.Drifts(t.Record.Lesson.Learned().Drift)
		for _, p := range t.Pulls {
			v.Pulls = append(v.Pulls, u.Pull(p))
		}
		course := svg.CourseOf(&t.Model, &t.Run, t.Record.State.Crop.Range, today, 760)
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
	s.Render(c, http.StatusOK, "learned", v)
	return nil
}

// goesBy sets what the dose uses, and whether it can be reset.
func (v *shownView) goesBy(t outlook.Forecast) {
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
	if from := t.Record.Bed.LearnsFrom; from != 0 {
		v.Aside = "Its tests up to " + text.DayYear(from) + " are ignored."
	}
	shared := t.Record.Lesson.Together()
	var batches []text.BatchShown
	for _, id := range slices.Sorted(maps.Keys(t.Batches)) {
		if x, beds, ok := bedstate.Got(shared, id); ok {
			batches = append(batches, text.BatchShown{Name: t.Batches[id].Name, Factor: x, Beds: beds})
		}
	}
	v.Others = text.GardenShown(shared.Bias, batches)
	v.Shared = text.Others(t.Record.Lesson.Model().Others, t.Method())
}

// SetShown resets what a bed has shown, or undoes that.
func (s *Handler) SetShown(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	var from quantity.Day
	if c.PostForm("from") != "" {
		from = s.Clock.Today()
	}
	r, err := s.App(c).Layout.Teach(c.Request.Context(), s.Actor(c), id, version, from)
	return s.Finish(c, site.ShownHref(id), r, err)
}
