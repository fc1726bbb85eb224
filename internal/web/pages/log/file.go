package log

import (
	"io"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/material"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
)

// ExportLog sends the filtered log as a table.
func (s *Handler) ExportLog(c *gin.Context) error {
	bed, _ := strconv.ParseInt(c.Query("bed"), 10, 64)
	today := s.Clock.Today()
	f := applications.Filter{Bed: bed, What: material.Kind(c.Query("what")), Season: c.Query("season")}
	l, err := s.App(c).Applications.Log(c.Request.Context(), f, today)
	if err != nil {
		return err
	}
	return s.SendFile(c, site.File{Name: "log-" + today.String() + ".csv", Type: site.CSV}, func(w io.Writer) error {
		return exchange.WriteLog(w, l.Entries)
	})
}

// TakeLog imports a table of applications.
func (s *Handler) TakeLog(c *gin.Context) error {
	f := form.Posted(c)
	name, data, err := present.UploadedOr(c, "log.csv", f.Value("csv"))
	var lines []applications.Incoming
	if err == nil {
		lines, err = exchange.ReadLog(name, data)
	}
	if err == nil {
		var r garden.Receipt
		if r, err = s.App(c).Applications.ImportLog(c.Request.Context(), s.Actor(c), lines); err == nil {
			s.Done(c, "/log", r)
			return nil
		}
	}
	if f.Add(err) {
		return s.showLog(c, http.StatusUnprocessableEntity, f)
	}
	return err
}
