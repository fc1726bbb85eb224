package record

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/site"
)

// AddPlanting adds a crop to a bed.
func (s *Handler) AddPlanting(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	p := garden.Planting{BedID: id, Crop: f.Value("crop"), Sown: f.Day("sown"), PlantedOut: f.Is("planted_out", form.Yes)}
	return s.Save(c, &f, site.Saving{
		To: "/beds/" + c.Param("id"),
		Save: func() (garden.Receipt, error) {
			return s.App(c).Layout.AddPlanting(c.Request.Context(), s.Actor(c), p, f.Is("together", form.Yes))
		},
		Show: func(status int) error { return s.showBed(c, status, id, f, form.NoForm()) },
	})
}

// ClearPlanting ends a planting.
func (s *Handler) ClearPlanting(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	on := f.Day("cleared")
	if len(f.Faults) > 0 {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(f.Fault("cleared")))
		return nil
	}
	r, bed, err := s.App(c).Layout.Clear(c.Request.Context(), s.Actor(c), id, version, on)
	if f.Add(err) {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(f.Fault("cleared")))
		return nil
	}
	if err != nil {
		return err
	}
	to := "/beds/" + strconv.FormatInt(bed, 10)
	if r.Repeated {
		to = "/"
	}
	s.Done(c, to, r)
	return nil
}
