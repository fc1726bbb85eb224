package bench

import (
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/web/form"
)

// probeView is the connected probe; Says is a stand-in's notice.
type probeView struct{ Name, Says string }

func (s *Handler) probe() *probeView {
	if s.Probe == nil {
		return nil
	}
	v := &probeView{Name: s.Probe.Name()}
	if s.Probe.Simulated() {
		v.Says = "Simulated: a stand-in makes these figures. They are not of any soil."
	}
	return v
}

// UsualTruth is a stand-in's pH for soil that was never read.
const UsualTruth quantity.PH = 6.2

// ReadProbe returns what the probe shows, in a buffer or in the slurry, and whether the values have
// settled.
func (s *Handler) ReadProbe(c *gin.Context) {
	if s.Probe == nil {
		c.JSON(http.StatusNotFound, gin.H{"error": "No probe is at hand."})
		return
	}
	in := instrument.In{Truth: UsualTruth}
	in.N, _ = strconv.Atoi(c.Query("n"))
	in.N = min(max(in.N, 0), 1000)
	if b, err := strconv.ParseFloat(c.Query("bottle"), 64); err == nil && garden.LimitShown.Holds(b) {
		in.Bottle = quantity.PH(b)
	}
	if in.Bed, _ = strconv.ParseInt(c.Query("bed"), 10, 64); in.Bed != 0 {
		if rec, err := s.App(c).BedState.Bed(c.Request.Context(), in.Bed, s.Clock.Today()); err == nil && rec.State.Reading != nil {
			in.Truth = rec.State.PH
		}
	}
	got, err := s.Probe.Read(c.Request.Context(), in)
	if err != nil {
		says := "The probe cannot be read."
		if errors.Is(err, instrument.ErrNoReading) {
			says = text.Sentence(err.Error())
		}
		c.JSON(http.StatusServiceUnavailable, gin.H{"error": says})
		return
	}
	shown := append(ShownIn(form.Asked(c), "shown"), got.PH)
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
