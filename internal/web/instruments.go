package web

import (
	"errors"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/walk"
	"zephyrfield/internal/web/form"
)

var _ = pagesAt(
	get("/bench/probe", silent((*server).readProbe)),
	post("/walk/:id/report", (*server).labReport),
)

// probeView names the probe on the bench; Says is what a stand-in must say.
type probeView struct{ Name, Says string }

func (s *server) probe() *probeView {
	if s.Probe == nil {
		return nil
	}
	v := &probeView{Name: s.Probe.Name()}
	if s.Probe.Simulated() {
		v.Says = "Simulated: a stand-in makes these figures. They are not of any soil."
	}
	return v
}

// usualTruth is where a stand-in takes soil to be that nobody has read.
const usualTruth quantity.PH = 6.2

// readProbe gives what the probe shows now, in a bottle or in the slurry, and
// with what it showed before whether it has settled.
func (s *server) readProbe(c *gin.Context) {
	if s.Probe == nil {
		c.JSON(http.StatusNotFound, gin.H{"error": "No probe is at hand."})
		return
	}
	in := instrument.In{Truth: usualTruth}
	in.N, _ = strconv.Atoi(c.Query("n"))
	in.N = min(max(in.N, 0), 1000)
	if b, err := strconv.ParseFloat(c.Query("bottle"), 64); err == nil && garden.LimitShown.Holds(b) {
		in.Bottle = quantity.PH(b)
	}
	if in.Bed, _ = strconv.ParseInt(c.Query("bed"), 10, 64); in.Bed != 0 {
		if rec, err := s.keep.Plots.Bed(c.Request.Context(), in.Bed, s.Clock.Today()); err == nil && rec.Reading != nil {
			in.Truth = rec.PH
		}
	}
	got, err := s.Probe.Read(c.Request.Context(), in)
	if err != nil {
		says := "The probe cannot be read."
		if errors.Is(err, instrument.ErrNoReading) {
			says = words.Sentence(err.Error())
		}
		c.JSON(http.StatusServiceUnavailable, gin.H{"error": says})
		return
	}
	shown := append(shownIn(form.Asked(c, "shown"), "shown"), got.PH)
	steady := soil.Agreed
	if in.Bottle != 0 {
		steady = soil.Settled
	}
	ph, ok := steady(shown)
	out := gin.H{"ph": got.PH, "simulated": s.Probe.Simulated(), "settled": ok, "at": quantity.Round(float64(ph), 2)}
	if got.HasTemperature {
		out["t"] = got.Temperature
	}
	c.JSON(http.StatusOK, out)
}

// sent lists a walk's samples that are at the lab, with what a stand-in starts
// from.
func (s *server) sent(c *gin.Context, w walk.Walk) (out []instrument.Sent, err error) {
	v, err := s.keep.Plots.View(c.Request.Context(), s.Clock.Today())
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
			p, ok := v.Plot(b.BedID)
			if b.SampleID != x.ID || !ok || p.Reading == nil {
				continue
			}
			y.PH, n = y.PH+p.PH, n+1
			if p.Potassium != nil {
				y.Potassium, withK = y.Potassium+*p.Potassium.Potassium, withK+1
			}
		}
		if y.PH /= quantity.PH(max(n, 1)); n == 0 {
			y.PH = usualTruth
		}
		if y.Potassium /= quantity.Concentration(max(withK, 1)); withK == 0 {
			y.Potassium = 110
		}
		out = append(out, y)
	}
	return out, nil
}

// answered asks the lab for what is ready of a walk.
func (s *server) answered(c *gin.Context, w walk.Walk) (r instrument.Report, ok bool, err error) {
	if s.Lab == nil {
		return r, false, nil
	}
	sent, err := s.sent(c, w)
	if err != nil || len(sent) == 0 {
		return r, false, err
	}
	return s.Lab.Report(c.Request.Context(), sent, s.Clock.Today())
}

// labReport puts the lab's report where lab files come in.
func (s *server) labReport(c *gin.Context) error {
	w, _, err := s.readWalk(c)
	if err != nil {
		return err
	}
	r, ready, err := s.answered(c, w)
	if err != nil {
		return err
	}
	if !ready {
		s.fail(c, http.StatusNotFound, "The lab has not answered yet.")
		return nil
	}
	cells, err := exchange.ReadCells(r.Name, r.Data)
	if err != nil {
		return err
	}
	id, err := s.Labs.KeepLabFile(c.Request.Context(), r.Name, cells, time.Now())
	if err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/bench/lab/"+strconv.FormatInt(id, 10))
	return nil
}
