package round

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/rounds"
	benchpage "zephyrfield/internal/web/pages/bench"
)

// sent returns a round's samples at the lab, with the estimates for a stand-in.
func (s *Handler) sent(c *gin.Context, w rounds.Walk) (out []instrument.Sent, err error) {
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return nil, err
	}
	for _, x := range w.Samples {
		if x.State != garden.SampleAtLab {
			continue
		}
		y := instrument.Sent{Code: x.Code, On: x.Sent}
		n, withK := 0, 0
		for _, b := range w.Beds {
			p, ok := v.Bed(b.BedID)
			if b.SampleID != x.ID || !ok || p.Reading == nil {
				continue
			}
			y.PH, n = y.PH+p.PH, n+1
			if p.Potassium != nil {
				y.Potassium, withK = y.Potassium+*p.Potassium.Potassium, withK+1
			}
		}
		if y.PH /= quantity.PH(max(n, 1)); n == 0 {
			y.PH = benchpage.UsualTruth
		}
		if y.Potassium /= quantity.Concentration(max(withK, 1)); withK == 0 {
			y.Potassium = 110
		}
		out = append(out, y)
	}
	return out, nil
}

// answered returns the lab's report on a round, if ready.
func (s *Handler) answered(c *gin.Context, w rounds.Walk) (r instrument.Report, ok bool, err error) {
	if s.Lab == nil {
		return r, false, nil
	}
	sent, err := s.sent(c, w)
	if err != nil || len(sent) == 0 {
		return r, false, err
	}
	return s.Lab.Report(c.Request.Context(), sent, s.Clock.Today())
}

// LabReport stores the lab's report for import.
func (s *Handler) LabReport(c *gin.Context) error {
	w, _, err := s.readWalk(c)
	if err != nil {
		return err
	}
	r, ready, err := s.answered(c, w)
	if err != nil {
		return err
	}
	if !ready {
		s.Fail(c, http.StatusNotFound, "The lab has not answered yet.")
		return nil
	}
	cells, err := exchange.ReadCells(r.Name, r.Data)
	if err != nil {
		return err
	}
	id, err := s.LabsOf(c).KeepLabFile(c.Request.Context(), r.Name, cells, time.Now())
	if err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/bench/lab/"+strconv.FormatInt(id, 10))
	return nil
}
