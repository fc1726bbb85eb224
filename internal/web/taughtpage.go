package web

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/web/draw"
	"zephyrfield/internal/web/ui"
)

var _ = pagesAt(get("/beds/:id/taught", kept((*server).taught)))

type taughtView struct {
	ui.Page
	Bed, Href string
	// Lacks is set where the bed has no reading.
	Lacks, ReadingHref string
	Says, Drifts       string
	Pulls              []string
	Course             *draw.Course
	Checks             []checkRow
}

// checkRow is a promise beside what was read.
type checkRow struct{ Go, Read, Promised, Measured, Says string }

// taught says what a bed's own readings have taught, with its pH and its doubt, past and to come.
func (s *server) taught(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	today := s.Clock.Today()
	t, err := s.keep.Desk.Taught(c.Request.Context(), id, today)
	if err != nil && !errors.Is(err, desk.ErrNoReading) {
		return err
	}
	u := t.Garden.Units()
	v := taughtView{Bed: t.BedRecord.Bed.Name, Href: "/beds/" + c.Param("id")}
	title := "What " + v.Bed + " has taught"
	if err != nil {
		v.Lacks, v.ReadingHref = "It has no reading yet: nothing can be foretold of it.", "/bench?bed="+c.Param("id")
	} else {
		v.Says = words.Taught(t.Run.Learned, t.School)
		v.Drifts = u.Drifts(t.Run.Learned.Drift)
		for _, p := range t.Pulls {
			v.Pulls = append(v.Pulls, u.Pull(p))
		}
		course := draw.CourseOf(&t.Bed, &t.Run, t.Crop.Band, today, 760)
		v.Course = &course
		for _, k := range t.Checks {
			v.Checks = append(v.Checks, checkRow{words.DayYear(k.Go), words.DayYear(k.Date), words.PH2(k.Promised), words.PH2(k.Measured),
				words.Capital(words.Kept(k)) + "."})
		}
	}
	v.Page = s.page(c, t.Garden, "Ground", title)
	if err := s.undated(c, &v.Page); err != nil {
		return err
	}
	s.render(c, http.StatusOK, "taught", v)
	return nil
}
