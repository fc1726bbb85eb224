package web

import (
	"bytes"
	"io"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/material"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/year"
)

var _ = pagesAt(
	get("/export/log.csv", (*server).exportLog),
	post("/log/csv", (*server).takeLog),
)

func (s *server) exportLog(c *gin.Context) error {
	bed, _ := strconv.ParseInt(c.Query("bed"), 10, 64)
	today := s.Clock.Today()
	f := year.Filter{Bed: bed, What: material.Kind(c.Query("what")), Season: c.Query("season")}
	l, err := s.keep.Year.Log(c.Request.Context(), f, today)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := exchange.WriteLog(&b, l.Entries); err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="log-`+today.String()+`.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
	return nil
}

// takeLog takes a table of what went on in.
func (s *server) takeLog(c *gin.Context) error {
	f := form.Posted(c, "csv")
	name, data, err := uploadedOr(c, "log.csv", f.Value("csv"))
	var lines []year.Incoming
	if err == nil {
		lines, err = exchange.ReadLog(name, data)
	}
	if err == nil {
		var r garden.Receipt
		if r, err = s.keep.Year.Take(c.Request.Context(), s.act(c), lines); err == nil {
			s.done(c, "/log", r)
			return nil
		}
	}
	if f.Add(err) {
		return s.showLog(c, http.StatusUnprocessableEntity, f)
	}
	return err
}

// uploadedOr is the file that came, or what was pasted in its place.
func uploadedOr(c *gin.Context, name, pasted string) (string, []byte, error) {
	if pasted != "" {
		return name, []byte(pasted), nil
	}
	file, why := form.Uploaded(c, "file", "Choose a file, or paste its lines.")
	if why != "" {
		return "", nil, garden.Faults{"file": why}
	}
	in, err := file.Open()
	if err != nil {
		return "", nil, err
	}
	defer func() { _ = in.Close() }()
	data, err := io.ReadAll(io.LimitReader(in, exchange.MaxLabFile+1))
	return file.Filename, data, err
}
