package observations

import (
	"mime/multipart"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/symptom"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/photo"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// seenView is the form of symptoms to tap.
type seenView struct {
	view.Page
	ID     int64
	Bed    string
	Form   form.Form
	Fields map[string]view.Field
	Signs  []view.Choice
	Rows   []present.SeenRow
	Back   string
}

var seenTable = form.Table{{Name: "photo", Label: "Photograph", Mode: form.File, Accept: form.Pictures, Camera: true},
	{Name: "note", Label: "A word", MaxLength: 300}, {Name: "day", Label: "Seen on", Mode: form.Date}}

// Observations shows a bed's observations, and the form of a new one.
func (s *Handler) Observations(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.NoForm()
	f.Values["day"] = s.Clock.Today().String()
	return s.showObservations(c, http.StatusOK, id, f)
}

func (s *Handler) showObservations(c *gin.Context, status int, id int64, f form.Form) error {
	today := s.Clock.Today()
	bed, err := s.App(c).BedState.Named(c.Request.Context(), id)
	if err != nil {
		return err
	}
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	all, err := s.App(c).Observation.OfBed(c.Request.Context(), id, today)
	if err != nil {
		return err
	}
	v := seenView{ID: id, Bed: bed.Name, Form: f, Rows: present.SeenRows(all), Back: site.BedHref(id)}
	for _, x := range symptom.Symptoms {
		v.Signs = append(v.Signs, view.Choice{Value: x.ID, Text: text.SymptomName(x.ID)})
	}
	f.Sentences()
	v.Fields = f.Fields(seenTable)
	v.Page = s.Page(c, g, "Ground", "What do you see on "+bed.Name+"?")
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "seen", v)
	return nil
}

// NoteObservation saves an observation, with its picture.
func (s *Handler) NoteObservation(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	x := garden.Observation{BedID: id, Day: f.Day("day"), Sign: f.Value("sign"), Note: f.Value("note")}
	if x.Day == 0 {
		x.Day = s.Clock.Today()
	}
	raw, why := photoOf(c)
	if why != "" {
		f.Faults[photo.Field] = why
	}
	if raw != nil {
		defer func() { _ = raw.Close() }()
	}
	if len(f.Faults) > 0 {
		return s.showObservations(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Observation.Note(c.Request.Context(), s.Actor(c), x, raw)
	if f.Add(err) {
		return s.showObservations(c, http.StatusUnprocessableEntity, id, f)
	}
	return s.Finish(c, site.ObservationHref(id), r, err)
}

// photoOf returns the uploaded picture; nil for none.
func photoOf(c *gin.Context) (raw multipart.File, why string) {
	file, why := form.Uploaded(c, photo.Field, "")
	switch {
	case why != "" || file == nil || file.Size == 0:
		return nil, why
	case file.Size > site.MaxPhoto:
		return nil, "the photograph is too large"
	}
	raw, err := file.Open()
	if err != nil {
		return nil, "the photograph did not arrive whole; send it again"
	}
	return raw, ""
}

// ForgetObservation deletes an observation.
func (s *Handler) ForgetObservation(c *gin.Context) error {
	return s.Press(c, c.PostForm("back"), s.App(c).Observation.Forget)
}

// Photo sends an observation's picture.
func (s *Handler) Photo(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	raw, err := s.App(c).Observation.Photo(c.Request.Context(), id)
	if err != nil {
		return err
	}
	if !s.SignIn { // else nothing stays in the browser
		c.Header("Cache-Control", "private, max-age=3600")
	}
	s.Data(c, http.StatusOK, "image/jpeg", raw)
	return nil
}
