package site

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

// Saving is what becomes of a form that was posted.
type Saving struct {
	// Save records what was typed; it is not called where something is wrong with it already.
	Save func() (garden.Receipt, error)
	// To is the page that follows.
	To string
	// Now gives the form as it would be opened now, for when another window saved first; nil where
	// nothing is shown beside what was typed.
	Now func() (form.Form, error)
	// FieldOf gives the field of a fault's path; nil where they have the same names.
	FieldOf func(path string) string
	// Show answers with the form as it was typed and what is wrong with it.
	Show func(status int) error
}

// Save answers a form that was posted: it goes on to the next page; or shows the form again with each
// fault at its field, status 422; or with what another window saved in the meantime, status 409. Other
// errors are returned.
func (s *Site) Save(c *gin.Context, f *form.Form, x Saving) error {
	if x.FieldOf == nil {
		x.FieldOf = func(path string) string { return path }
	}
	if len(f.Faults) == 0 {
		r, err := x.Save()
		switch {
		case err == nil:
			s.Done(c, x.To, r)
			return nil
		case errors.Is(err, garden.ErrStale) && x.Now != nil:
			now, err := x.Now()
			if err != nil {
				return err
			}
			f.Compare(now)
			return x.Show(http.StatusConflict)
		case !f.AddAt(err, x.FieldOf):
			return err
		}
	}
	f.Sentences()
	return x.Show(http.StatusUnprocessableEntity)
}
