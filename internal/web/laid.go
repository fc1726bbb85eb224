package web

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// keptPages is how many pages are kept as they were laid out, until a record changes:
// laying one out takes most of its time, and between two changes pages are opened and
// left many times.
const keptPages = 16

// laidKey is what a kept page hangs on beside the records: its address, the part of it
// that is asked for, and the day.
type laidKey struct {
	address, target string
	today           quantity.Day
}

// laid is where a request keeps its page while it is laid out.
const laid = "laid"

// errNotLaid says that a request came to something else than a page to keep.
var errNotLaid = errors.New("no page to keep")

// kept makes a page one that is laid out once until a record changes. It may hang on
// nothing but the records, its address and the day.
func kept(page func(*server, *gin.Context) error) func(*server, *gin.Context) error {
	return func(s *server, c *gin.Context) error {
		key := laidKey{c.Request.URL.RequestURI(), c.GetHeader("HX-Target"), s.Clock.Today()}
		out, err := garden.Recall(c.Request.Context(), s.Store, s.laid, key, func() ([]byte, error) {
			var out []byte
			c.Set(laid, &out)
			if err := page(s, c); err != nil {
				return nil, err
			}
			if out == nil {
				return nil, errNotLaid
			}
			return out, nil
		})
		switch {
		case errors.Is(err, errNotLaid):
			return nil
		case err == nil:
			s.send(c, http.StatusOK, out)
		}
		return err
	}
}

// fleeting tells that a page hangs on more, and is not to be kept.
func (s *server) fleeting(c *gin.Context) { c.Set(laid, (*[]byte)(nil)) }
