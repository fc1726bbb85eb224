package web

import (
	"bytes"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/ui"
)

var _ = pagesAt(
	get("/keep", (*server).keeping),
	get("/export/garden.json", (*server).exportArchive),
	post("/import", (*server).importArchive),
	get("/export/plan.geojson", (*server).exportPlan),
	post("/import/plan", (*server).importPlan),
	post("/keep/put-back", (*server).putBack),
)

type keepView struct {
	ui.Page
	// Diary is the address at which a diary reads the tasks; "" is none.
	Diary   string
	Copies  []copyRow
	Journal journalView
	// Older is where the journal goes on, "" at its end; Newer that it began later.
	Older string
	Newer bool
	Empty bool
	Form  ui.Form
	// NoCopy is why today's copy could not be written.
	NoCopy   string
	Sessions []sessionRow
	// Changed says that the passphrase was.
	Changed bool
}

type copyRow struct{ Name, Says, Key string }

// journalView is a table of lines; Back is the page that it stands on.
type journalView struct {
	Rows []journalRow
	Back string
}

type journalRow struct {
	At, Who, What string
	Undo          int64
	More          string
	Undone        bool
	Key           string
}

const journalLines = 40

func (s *server) keeping(c *gin.Context) error { return s.showKeeping(c, http.StatusOK, ui.NoForm()) }

func (s *server) showKeeping(c *gin.Context, status int, f ui.Form) error {
	view := keepView{Form: f, Journal: journalView{Back: "/keep"}, NoCopy: s.Gate.CopyTrouble(),
		Changed: c.Query("changed") == "passphrase"}
	err := s.keepLists(c, &view)
	g, place := s.keep.Place(c.Request.Context())
	if err = errors.Join(err, place); err != nil {
		return err
	}
	if view.Diary, err = s.diaryAddress(c); err != nil {
		return err
	}
	title := "Everything is kept in one file"
	switch n := len(view.Copies); {
	case view.NoCopy != "":
		title = "Kept, but today’s copy could not be written"
	case n > 0:
		title = "Kept, with " + words.Count(n, "copy", "copies")
	}
	view.Page = s.page(c, g, "Safe keeping", title)
	if err := s.undated(c, &view.Page); err != nil {
		return err
	}
	s.render(c, status, "keep", view)
	return nil
}

// keepLists reads what the page lists.
func (s *server) keepLists(c *gin.Context, view *keepView) (err error) {
	ctx := c.Request.Context()
	if view.Empty, err = s.keep.IsEmpty(ctx); err != nil {
		return err
	}
	before, _ := strconv.ParseInt(c.Query("before"), 10, 64)
	lines, err := s.keep.Journal(ctx, max(before, 0), journalLines+1)
	if err != nil {
		return err
	}
	view.Newer = before > 0
	if len(lines) > journalLines {
		lines = lines[:journalLines]
		view.Older = "/keep?before=" + strconv.FormatInt(lines[journalLines-1].ID, 10) + "#journal"
	}
	for _, l := range garden.Folded(lines) {
		view.Journal.Rows = append(view.Journal.Rows, journalRowOf(l))
	}
	copies, err := s.Gate.Copies()
	if err != nil {
		return err
	}
	for _, name := range copies {
		day, rest, _ := strings.Cut(strings.TrimSuffix(name, ".db"), "-before-putting-back-")
		row := copyRow{Name: name, Says: day, Key: ui.NewKey()}
		if d, err := quantity.ParseDay(day); err == nil {
			row.Says = words.DayYear(d)
		}
		if rest != "" {
			row.Says += ", as it stood before another was put back"
		}
		view.Copies = append(view.Copies, row)
	}
	view.Sessions, err = s.sessions(c)
	return err
}

func journalRowOf(l garden.Line) journalRow {
	row := journalRow{At: momentWords(l.At), Who: l.Who, What: l.What, Undone: l.UndoneBy != nil, Key: ui.NewKey()}
	if l.CanUndo() {
		row.Undo = l.ID
	}
	more := make([]string, len(l.More))
	for i, id := range l.More {
		more[i] = strconv.FormatInt(id, 10)
	}
	row.More = strings.Join(more, ",")
	return row
}

// putBack makes the garden what one of its copies says.
func (s *server) putBack(c *gin.Context) error {
	r, err := s.Gate.PutBack(c.Request.Context(), s.act(c).Change(), c.PostForm("copy"))
	if err != nil {
		return err
	}
	s.done(c, "/keep", r)
	return nil
}

func (s *server) exportArchive(c *gin.Context) error {
	var b bytes.Buffer
	err := s.keep.Whole(c.Request.Context(), func(r garden.Reader) error { return exchange.WriteArchive(&b, r) })
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-`+s.Clock.Today().String()+`.json"`)
	c.Data(http.StatusOK, "application/json; charset=utf-8", b.Bytes())
	return nil
}

func (s *server) importArchive(c *gin.Context) error {
	f := ui.Form{Faults: garden.Faults{}}
	file, why := ui.Uploaded(c, "archive", "Choose the archive’s file first.")
	if why != "" {
		f.Faults["archive"] = why
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	var receipt garden.Receipt
	err := func() error {
		r, err := file.Open()
		if err != nil {
			return err
		}
		defer func() { _ = r.Close() }()
		receipt, err = s.keep.BringIn(c.Request.Context(), s.act(c),
			func(put func(garden.Record) error) error { return exchange.ReadArchive(r, put) })
		return err
	}()
	if errors.Is(err, garden.ErrNotEmpty) {
		err = garden.Faults{"archive": err.Error()}
	}
	if f.Add(err) {
		f.Faults["archive"] = words.Sentence(f.Faults["archive"])
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	s.done(c, "/", receipt)
	return nil
}

func (s *server) exportPlan(c *gin.Context) error {
	v, err := s.keep.Plots.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	beds := make([]garden.Bed, len(v.Plots))
	for i, p := range v.Plots {
		beds[i] = p.Bed
	}
	var b bytes.Buffer
	if err := exchange.WritePlan(&b, beds, v.Marks); err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-plan.geojson"`)
	c.Data(http.StatusOK, "application/geo+json; charset=utf-8", b.Bytes())
	return nil
}

func (s *server) importPlan(c *gin.Context) error {
	f := ui.Form{Faults: garden.Faults{}}
	file, why := ui.Uploaded(c, "plan", "Choose the plan’s file first.")
	if why != "" {
		f.Faults["plan"] = why
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	var r garden.Receipt
	err := func() error {
		in, err := file.Open()
		if err != nil {
			return err
		}
		defer func() { _ = in.Close() }()
		plan, marks, err := exchange.ReadPlan(in)
		if err != nil {
			return err
		}
		r, err = s.keep.Ground.TakePlan(c.Request.Context(), s.act(c), plan, marks)
		return err
	}()
	if f.Add(err) {
		f.Faults["plan"] = words.Sentence(f.Faults["plan"])
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	s.done(c, "/", r)
	return nil
}
