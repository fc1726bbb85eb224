package site

import (
	"context"
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

// Saving says how a posted form is saved and answered.
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

// Save answers a posted form: with a redirect to the next page; with the form again and each fault at its field,
// status 422; or with what another window saved in the meantime, status 409. Other errors are returned.
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

// Press answers a button that concerns one version of a record: it makes the change and redirects to a page.
// Errors are returned.
func (s *Site) Press(c *gin.Context, to string,
	change func(ctx context.Context, a garden.Actor, id, version int64) (garden.Receipt, error)) error {
	id, version, err := TaskPost(c)
	if err != nil {
		return err
	}
	r, err := change(c.Request.Context(), s.Actor(c), id, version)
	return s.Finish(c, to, r, err)
}

// Finish redirects to a page after a change; err is returned.
func (s *Site) Finish(c *gin.Context, to string, r garden.Receipt, err error) error {
	if err == nil {
		s.Done(c, to, r)
	}
	return err
}
