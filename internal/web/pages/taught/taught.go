package taught

import (
	"errors"
	"maps"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/seasons"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type taughtView struct {
	view.Page
	Bed, Href string
	// Lacks is set where the bed has no reading.
	Lacks, ReadingHref string
	Says, Drifts       string
	Pulls              []string
	Course             *svg.Course
	Checks             []checkRow
	// Garden is what all beds say together.
	Others []string
	// GoesBy says what the dose goes by, Shared what its neighbours and its batches say.
	GoesBy, Shared string
	// Aside says from when on its tests teach, where they do not all; CanReset is set where they can be put aside.
	Aside    string
	CanReset bool
	Version  int64
}

// checkRow is a promise beside what was read.
type checkRow struct{ Go, Read, Promised, Measured, Says string }

// Taught says what a bed's own readings have taught, with its pH and its doubt, past and to come.
func (s *Handler) Taught(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	today := s.Clock.Today()
	t, err := s.App(c).Seasons.Bed(c.Request.Context(), id, today)
	if err != nil && !errors.Is(err, seasons.ErrNoReading) {
		return err
	}
	u := t.Garden.Units()
	v := taughtView{Bed: t.BedRecord.Bed.Name, Href: "/beds/" + c.Param("id")}
	title := "What " + v.Bed + " has taught"
	if err != nil {
		v.Lacks, v.ReadingHref = "It has no reading yet: nothing can be foretold of it.", "/bench?bed="+c.Param("id")
	} else {
		v.Says = words.Taught(*t.Lesson.Learned(), t.School())
		v.goesBy(t)
		v.Drifts = u.Drifts(t.Lesson.Learned().Drift)
		for _, p := range t.Pulls {
			v.Pulls = append(v.Pulls, u.Pull(p))
		}
		course := svg.CourseOf(&t.Model, &t.Run, t.Crop.Band, today, 760)
		v.Course = &course
		for _, k := range t.Checks {
			v.Checks = append(v.Checks, checkRow{words.DayYear(k.Go), words.DayYear(k.Date), words.PH2(k.Promised), words.PH2(k.Measured),
				words.Capital(words.Kept(k, t.School())) + "."})
		}
	}
	v.Page = s.Page(c, t.Garden, "Ground", title)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "taught", v)
	return nil
}

// goesBy says what the dose goes by, and whether that can be put aside.
func (v *taughtView) goesBy(t seasons.Season) {
	v.Version = t.BedRecord.Bed.Version
	l := t.Lesson.Beside()
	switch {
	case l != nil:
		v.GoesBy, v.CanReset = words.GoesBy(*l), true
	case t.Lesson.Learned().Tests > 0:
		v.GoesBy, v.CanReset = "That is not enough to go by yet: its doses go by "+words.Beside(t.School())+".", true
	default:
		v.GoesBy = "Its doses go by " + words.Beside(t.School()) + "."
	}
	if from := t.BedRecord.Bed.TaughtFrom; from != 0 {
		v.Aside = "What its tests had taught by " + words.DayYear(from) + " is put aside."
	}
	shared := t.Lesson.Together()
	var batches []words.BatchTaught
	for _, id := range slices.Sorted(maps.Keys(t.Batches)) {
		if x, beds, ok := plots.Got(shared, id); ok {
			batches = append(batches, words.BatchTaught{Name: t.Batches[id].Name, Factor: x, Beds: beds})
		}
	}
	v.Others = words.GardenTaught(shared.Bias, batches)
	v.Shared = words.Others(t.Lesson.Model().Others, t.School())
}

// SetTaught puts aside what a bed has taught, or takes it back.
func (s *Handler) SetTaught(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	var from quantity.Day
	if c.PostForm("from") != "" {
		from = s.Clock.Today()
	}
	r, err := s.App(c).Ground.Teach(c.Request.Context(), s.Act(c), id, version, from)
	if err != nil {
		return err
	}
	s.Done(c, site.TaughtHref(id), r)
	return nil
}
