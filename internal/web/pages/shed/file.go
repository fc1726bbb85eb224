package shed

import (
	"io"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
)

// ExportInventory sends the shelf as CSV.
func (s *Handler) ExportInventory(c *gin.Context) error {
	name := "shelf-" + s.Clock.Today().String() + ".csv"
	return s.SendFile(c, site.File{Name: name, Type: site.CSV}, func(w io.Writer) error {
		return s.App(c).Whole(c.Request.Context(), func(r garden.Reader) error {
			all, err := garden.Shelf(r)
			if err != nil {
				return err
			}
			return exchange.WriteInventory(w, all)
		})
	})
}

// ImportInventory imports a table of the shelf, uploaded or pasted.
func (s *Handler) ImportInventory(c *gin.Context) error {
	f := form.Posted(c)
	lines, err := shelfLines(c, f)
	if err == nil {
		var r garden.Receipt
		if r, err = s.App(c).Inventory.Import(c.Request.Context(), s.Actor(c), lines); err == nil {
			s.Done(c, "/shed", r)
			return nil
		}
	}
	if f.Add(err) {
		f.Sentences()
		return s.showShed(c, http.StatusUnprocessableEntity, f)
	}
	return err
}

// shelfLines parses the import.
func shelfLines(c *gin.Context, f form.Form) (out []inventory.Incoming, err error) {
	name, data, err := present.UploadedOr(c, "shelf.csv", f.Value("csv"))
	if err != nil {
		return nil, err
	}
	lines, err := exchange.ReadInventory(name, data)
	for _, l := range lines {
		out = append(out, inventory.Incoming{Line: l.Line, Name: l.Name, Onto: l.Onto})
	}
	return out, err
}
