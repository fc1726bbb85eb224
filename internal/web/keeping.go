package web

import (
	"bytes"
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
)

type keepView struct {
	Page
	Copies  []string
	Journal []journalRow
	Empty   bool
	Form    Form
}

type journalRow struct {
	At, Who, What string
	Undo          int64
	Key           string
}

const journalLines = 25

func (s *server) keeping(c *gin.Context) {
	s.showKeeping(c, http.StatusOK, Form{Faults: garden.Faults{}})
}

func (s *server) showKeeping(c *gin.Context, status int, f Form) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	lines, err := s.keep.Journal(c.Request.Context(), journalLines)
	if err != nil {
		s.failWith(c, err)
		return
	}
	view := keepView{Form: f, Empty: len(v.Plots) == 0}
	if view.Copies, err = s.Gate.Copies(); err != nil {
		s.failWith(c, err)
		return
	}
	for _, e := range lines {
		row := journalRow{At: e.At[:10] + " " + e.At[11:16], Who: e.Who, What: e.What, Key: newKey()}
		if e.UndoneBy == nil && e.Who == "gardener" {
			row.Undo = e.ID
		}
		view.Journal = append(view.Journal, row)
	}
	title := "Everything is kept in one file"
	if n := len(view.Copies); n > 0 {
		title = "Kept, with " + words.Count(n, "daily copy", "daily copies")
	}
	view.Page = s.page(c, v.Garden, "Safe keeping", title)
	if err := s.undated(c, &view.Page); err != nil {
		s.failWith(c, err)
		return
	}
	s.render(c, status, "keep", view)
}

func (s *server) exportArchive(c *gin.Context) {
	var b bytes.Buffer
	err := s.Store.Read(c.Request.Context(), func(r garden.Reader) error { return exchange.WriteArchive(&b, r) })
	if err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-`+s.Clock.Today().String()+`.json"`)
	c.Data(http.StatusOK, "application/json; charset=utf-8", b.Bytes())
}

func (s *server) exportTasks(c *gin.Context) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	var b bytes.Buffer
	if err := exchange.WriteTasks(&b, v.Garden, v.ToDo(), v.Plots, s.Clock.Now()); err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-tasks.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
}

func (s *server) importArchive(c *gin.Context) {
	f := Form{Faults: garden.Faults{}}
	file, err := c.FormFile("archive")
	if err != nil {
		f.Faults["archive"] = "Choose the archive's file first."
		s.showKeeping(c, http.StatusUnprocessableEntity, f)
		return
	}
	var receipt garden.Receipt
	err = func() error {
		r, err := file.Open()
		if err != nil {
			return err
		}
		defer func() { _ = r.Close() }()
		receipt, err = s.keep.BringIn(c.Request.Context(), s.act(c), func(put func(garden.Record) error) error { return exchange.ReadArchive(r, put) })
		return err
	}()
	if errors.Is(err, garden.ErrNotEmpty) {
		err = garden.Faults{"archive": err.Error()}
	}
	if f.add(err) {
		f.Faults["archive"] = words.Sentence(f.Faults["archive"])
		s.showKeeping(c, http.StatusUnprocessableEntity, f)
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, "/", receipt)
}

func (s *server) exportPlan(c *gin.Context) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	beds := make([]garden.Bed, len(v.Plots))
	for i, p := range v.Plots {
		beds[i] = p.Bed
	}
	var b bytes.Buffer
	if err := exchange.WritePlan(&b, beds, v.Marks); err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-plan.geojson"`)
	c.Data(http.StatusOK, "application/geo+json; charset=utf-8", b.Bytes())
}

func (s *server) importPlan(c *gin.Context) {
	f := Form{Faults: garden.Faults{}}
	file, err := c.FormFile("plan")
	if err != nil {
		f.Faults["plan"] = "Choose the plan's file first."
		s.showKeeping(c, http.StatusUnprocessableEntity, f)
		return
	}
	var r garden.Receipt
	err = func() error {
		in, err := file.Open()
		if err != nil {
			return err
		}
		defer func() { _ = in.Close() }()
		plan, marks, err := exchange.ReadPlan(in)
		if err != nil {
			return err
		}
		r, err = s.keep.TakePlan(c.Request.Context(), s.act(c), plan, marks)
		return err
	}()
	if f.add(err) {
		f.Faults["plan"] = words.Sentence(f.Faults["plan"])
		s.showKeeping(c, http.StatusUnprocessableEntity, f)
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, "/", r)
}
