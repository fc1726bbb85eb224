package backup

import (
	"errors"
	"io"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type keepView struct {
	view.Page
	// Diary is the address of the calendar feed; "" is none.
	Diary   string
	Copies  []copyRow
	Journal view.Journal
	// Older is the address of older journal entries, "" at its end; Newer is set when newer ones
	// exist.
	Older string
	Newer bool
	Empty bool
	Form  form.Form
	// Fields are the file fields.
	Fields map[string]view.Field
	// NoCopy is why today's backup could not be written.
	NoCopy   string
	Sessions []sessionRow
	// Changed is set after a change of the passphrase.
	Changed bool
}

type copyRow struct{ Name, Says, Key string }

const journalLines = 40

var fileTable = form.Table{{Name: "archive", Label: "The archive’s file", Mode: form.File, Accept: form.Archives},
	{Name: "plan", Label: "A plan’s file", Mode: form.File, Accept: form.Plans}}

// Keeping shows export, import, backups, journal and passphrase.
func (s *Handler) Keeping(c *gin.Context) error {
	return s.showKeeping(c, http.StatusOK, form.NoForm())
}

func (s *Handler) showKeeping(c *gin.Context, status int, f form.Form) error {
	vm := keepView{Form: f, Fields: f.Fields(fileTable), Journal: view.Journal{Back: "/keep"}, NoCopy: s.GateOf(c).CopyTrouble(),
		Changed: c.Query("changed") == "passphrase"}
	err := s.keepLists(c, &vm)
	g, place := s.App(c).Place(c.Request.Context())
	if err = errors.Join(err, place); err != nil {
		return err
	}
	if vm.Diary, err = s.diaryAddress(c); err != nil {
		return err
	}
	title := "Everything is kept in one file"
	switch n := len(vm.Copies); {
	case vm.NoCopy != "":
		title = "Kept, but today’s copy could not be written"
	case n > 0:
		title = "Kept, with " + text.Count(n, "copy", "copies")
	}
	vm.Page = s.Page(c, g, site.BackupTab, title)
	if err := s.Undated(c, &vm.Page); err != nil {
		return err
	}
	s.Render(c, status, "keep", vm)
	return nil
}

// keepLists reads the page's lists.
func (s *Handler) keepLists(c *gin.Context, vm *keepView) (err error) {
	ctx := c.Request.Context()
	if vm.Empty, err = s.App(c).IsEmpty(ctx); err != nil {
		return err
	}
	before, _ := strconv.ParseInt(c.Query("before"), 10, 64)
	lines, err := s.App(c).Journal(ctx, max(before, 0), journalLines+1)
	if err != nil {
		return err
	}
	vm.Newer = before > 0
	if len(lines) > journalLines {
		lines = lines[:journalLines]
		vm.Older = "/keep?before=" + strconv.FormatInt(lines[journalLines-1].ID, 10) + "#journal"
	}
	for _, l := range garden.Folded(lines) {
		vm.Journal.Rows = append(vm.Journal.Rows, present.JournalRowOf(l))
	}
	copies, err := s.GateOf(c).Copies()
	if err != nil {
		return err
	}
	for _, name := range copies {
		day, rest, _ := strings.Cut(strings.TrimSuffix(name, ".db"), "-before-putting-back-")
		row := copyRow{Name: name, Says: day, Key: form.NewKey()}
		if d, err := quantity.ParseDay(day); err == nil {
			row.Says = text.DayYear(d)
		}
		if rest != "" {
			row.Says += ", as it was before another was restored"
		}
		vm.Copies = append(vm.Copies, row)
	}
	vm.Sessions, err = s.sessions(c)
	return err
}

// PutBack restores a backup.
func (s *Handler) PutBack(c *gin.Context) error {
	r, err := s.GateOf(c).PutBack(c.Request.Context(), s.Actor(c).Change(), c.PostForm("copy"))
	return s.Finish(c, "/keep", r, err)
}

// ExportArchive sends the whole garden as a JSON archive.
func (s *Handler) ExportArchive(c *gin.Context) error {
	f := site.File{Name: "zephyrfield-" + s.Clock.Today().String() + ".json", Type: "application/json; charset=utf-8"}
	return s.SendFile(c, f, func(w io.Writer) error {
		return s.App(c).Whole(c.Request.Context(), func(r garden.Reader) error { return exchange.WriteArchive(w, r) })
	})
}

// ImportArchive imports an archive into an empty garden; it can be undone.
func (s *Handler) ImportArchive(c *gin.Context) error {
	f := form.Form{Faults: garden.Faults{}}
	file, why := form.Uploaded(c, "archive", "Choose the archive’s file first.")
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
		receipt, err = s.App(c).BringIn(c.Request.Context(), s.Actor(c),
			func(put func(garden.Record) error) error { return exchange.ReadArchive(r, put) })
		return err
	}()
	if errors.Is(err, garden.ErrNotEmpty) {
		err = garden.Faults{"archive": err.Error()}
	}
	if f.Add(err) {
		f.Faults["archive"] = text.Sentence(f.Faults["archive"])
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	s.Done(c, "/", receipt)
	return nil
}

// ExportPlan sends the plan of the beds as GeoJSON.
func (s *Handler) ExportPlan(c *gin.Context) error {
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	f := site.File{Name: "zephyrfield-plan.geojson", Type: "application/geo+json; charset=utf-8"}
	return s.SendFile(c, f, func(w io.Writer) error { return exchange.WritePlan(w, v.Beds, v.Marks) })
}

// ImportPlan imports beds from a GeoJSON plan.
func (s *Handler) ImportPlan(c *gin.Context) error {
	f := form.Form{Faults: garden.Faults{}}
	file, why := form.Uploaded(c, "plan", "Choose the plan’s file first.")
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
		r, err = s.App(c).Layout.ImportPlan(c.Request.Context(), s.Actor(c), plan, marks)
		return err
	}()
	if f.Add(err) {
		f.Faults["plan"] = text.Sentence(f.Faults["plan"])
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	return s.Finish(c, "/", r, err)
}
