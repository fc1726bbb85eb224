package web

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

var _ = pagesAt(
	post("/beds/:id/plantings", (*server).addPlanting),
	post("/plantings/:id/clear", (*server).clearPlanting),
)

func (s *server) addPlanting(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c, "crop", "sown", "together", "planted_out")
	p := garden.Planting{BedID: id, Crop: f.Value("crop"), Sown: f.Day("sown"), PlantedOut: f.Is("planted_out", "yes")}
	if len(f.Faults) == 0 {
		r, err := s.keep.Ground.AddPlanting(c.Request.Context(), s.act(c), p, f.Is("together", "yes"))
		if err == nil {
			s.done(c, "/beds/"+c.Param("id"), r)
			return nil
		}
		if !f.Add(err) {
			return err
		}
	}
	f.Sentences()
	return s.showBed(c, http.StatusUnprocessableEntity, id, f, form.NoForm())
}

func (s *server) clearPlanting(c *gin.Context) error {
	id, version, err := taskPost(c)
	if err != nil {
		return err
	}
	f := form.Posted(c, "cleared")
	on := f.Day("cleared")
	if len(f.Faults) > 0 {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("cleared")))
		return nil
	}
	r, bed, err := s.keep.Ground.Clear(c.Request.Context(), s.act(c), id, version, on)
	if f.Add(err) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("cleared")))
		return nil
	}
	if err != nil {
		return err
	}
	to := "/beds/" + strconv.FormatInt(bed, 10)
	if r.Repeated {
		to = "/"
	}
	s.done(c, to, r)
	return nil
}
