package lab

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/job"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	static "zephyrfield/internal/web/static"
	"zephyrfield/internal/web/view"
)

type labView struct {
	view.Page
	Form    form.Form
	File    view.Field
	ID      int64
	Name    string
	Columns []labColumnView
	// Read are the settings of the whole file.
	Read []view.Field
	// Titles is the text above the heading.
	Titles string
	// Again is how many of the readings are already in the garden.
	Again    string
	Layout   exchange.LabLayout
	Rows     []labRowView
	More     int
	Problems []string
	// Faulty is the number of all of them, Unlisted of those that only the table tells; Beyond is set where there are
	// faulty lines that it does not show.
	Faulty, Unlisted int
	Beyond           bool
	Good             int
	// Known is set if this lab's columns were matched before.
	Known bool
	Job   *view.Progress
	// Before is the outcome of the last attempt.
	Before string
}

type labColumnView struct {
	Head string
	// Is is the column's field, Unit its unit; nil for a column without.
	Is   view.Field
	Unit *view.Field
}

// problemsID is the id of the list of problems.
const problemsID = "lab-problems"

// columnField resolves a choice above a column.
func columnField(name, called, value string, list []view.Option) view.Field {
	f := form.NoForm()
	f.Values[name] = value
	out := f.Resolve(form.Row{Name: name, Called: called, Options: list})
	out.FaultID = problemsID
	return out
}

func labColumn(i int, head string, l exchange.LabLayout, fields []view.Option) labColumnView {
	n, which := strconv.Itoa(i), "column "+strconv.Itoa(i+1)+", "+head
	v := labColumnView{Head: head, Is: columnField("c"+n, "What "+which+", holds", l.Columns[i], fields)}
	f, ok := exchange.FindLabField(l.Columns[i])
	if !ok || len(f.Units()) == 0 {
		return v
	}
	var units []view.Option
	if l.Units[i] == "" {
		units = []view.Option{{Value: "", Text: "in what unit?"}}
	}
	for _, u := range f.Units() {
		units = append(units, view.Option{Value: u.ID, Text: u.Name})
	}
	unit := columnField("u"+n, "In what unit "+which+", is", l.Units[i], units)
	unit.Bad = l.Units[i] == ""
	v.Unit = &unit
	return v
}

// read resolves the settings of the whole file.
func (v *labView) read() {
	var bases []view.Option
	for _, b := range soil.Bases {
		bases = append(bases, view.Option{Value: string(b.Basis), Text: text.Capital(text.Name(b.Basis))})
	}
	dates := []view.Option{{Value: exchange.DatesISO, Text: "2026-11-24"}, {Value: exchange.DatesDMY, Text: "24/11/2026"},
		{Value: exchange.DatesMDY, Text: "11/24/2026"}}
	commas := []view.Option{{Value: exchange.CommaDecimal, Text: "5,8: the decimals"},
		{Value: exchange.CommaThousands, Text: "1,250: thousands"}}
	l := v.Layout
	if l.Dates == "" {
		dates = slices.Insert(dates, 0, view.Option{Value: "", Text: "not clear: choose"})
	}
	if l.Comma == "" {
		commas = slices.Insert(commas, 0, view.Option{Value: "", Text: "as it looks"})
	}
	f := v.Form
	f.Values["basis"], f.Values["comma"], f.Values["dates"] = l.Basis, l.Comma, l.Dates
	f.Values["buffer"], f.Values["extractant"] = l.Buffer, l.Extractant
	v.Read = f.Rows([]form.Row{{Name: "basis", Label: "pH was stirred", Options: bases},
		{Name: "comma", Label: "A comma is for", Options: commas}, {Name: "dates", Label: "Days are written", Options: dates},
		{Name: "buffer", Label: "The buffer pH is", Options: present.BufferOptions()},
		{Name: "extractant", Label: "The lab’s extraction method", Options: present.ExtractOptions()}})
}

type labRowView struct {
	Line  int
	Cells []labCellView
	Wrong string
}

// labCellView is a cell; Field corrects it where it is wrong, or was.
type labCellView struct {
	Text, Wrong string
	Field       *view.Field
}

// shownRows is the number of lines shown, besides faulty ones, of which there are faultyRows at the most: more are
// corrected in the file. listedFaults is how many faults are listed above the table, which tells each at its cell.
const (
	shownRows    = 12
	faultyRows   = 100
	listedFaults = 12
)

// LabForm shows the upload form and the imported files.
func (s *Handler) LabForm(c *gin.Context) error {
	return s.showLab(c, http.StatusOK, labView{Form: form.NoForm()})
}

func (s *Handler) showLab(c *gin.Context, status int, v labView) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	v.File = v.Form.Resolve(form.Row{Name: "file", Label: "The lab’s file", Mode: form.File, Accept: form.Sheets})
	title := "Import a lab’s file"
	switch {
	case v.Job != nil:
		title = "Taking in " + v.Name
	case v.Faulty > 0:
		title = text.Count(v.Faulty, "thing", "things") + " to correct in " + v.Name
	case v.Name != "":
		title = text.Count(v.Good, "reading", "readings") + " in " + v.Name
	}
	v.Page = s.Page(c, g, "Bench", title)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "lab", v)
	return nil
}

// TakeLabFile stores an uploaded file and redirects to its preview.
func (s *Handler) TakeLabFile(c *gin.Context) error {
	f := form.NoForm()
	file, why := form.Uploaded(c, "file", "Choose the lab’s file first.")
	if why != "" {
		f.Faults["file"] = why
		return s.showLab(c, http.StatusUnprocessableEntity, labView{Form: f})
	}
	id, err := func() (int64, error) {
		if file.Size > exchange.MaxLabFile {
			return 0, garden.Faults{"file": "that is more than 10 MB; a lab’s report is smaller"}
		}
		in, err := file.Open()
		if err != nil {
			return 0, err
		}
		defer func() { _ = in.Close() }()
		data, err := io.ReadAll(io.LimitReader(in, exchange.MaxLabFile+1))
		if err != nil {
			return 0, err
		}
		cells, err := exchange.ReadCells(file.Filename, data)
		if err != nil {
			return 0, err
		}
		return s.LabsOf(c).KeepLabFile(c.Request.Context(), file.Filename, cells, time.Now())
	}()
	if f.Add(err) {
		f.Sentences()
		return s.showLab(c, http.StatusUnprocessableEntity, labView{Form: f})
	}
	if err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/bench/lab/"+strconv.FormatInt(id, 10))
	return nil
}

// headOf returns the key under which a layout is remembered.
func headOf(cells [][]string) string {
	return strings.ToLower(strings.Join(cells[exchange.HeadLine(cells)], "\x1f"))
}

// labFile reads an uploaded file with its layout: by the form, as remembered, or guessed.
func (s *Handler) labFile(c *gin.Context, get func(string) string) (u upload, err error) {
	if u.id, err = site.ParamID(c); err != nil {
		return
	}
	if u.name, u.cells, err = s.LabsOf(c).LabFile(c.Request.Context(), u.id); err != nil {
		return
	}
	if u.beds, u.list, err = s.bedsByName(c); err != nil {
		return
	}
	cells := u.cells
	u.head = exchange.HeadLine(cells)
	l := exchange.GuessLayout(cells)
	l.FindBeds(cells, u.beds)
	raw, err := s.LabsOf(c).Layout(c.Request.Context(), headOf(cells))
	if err != nil {
		return
	}
	var kept exchange.LabLayout
	if raw != nil && json.Unmarshal(raw, &kept) == nil && len(kept.Columns) == len(l.Columns) {
		l, u.known = kept, true
		l.Refit(cells)
	}
	if get("asked") != "" {
		u.known = false
		for i := range l.Columns {
			l.Columns[i], l.Units[i] = get("c"+strconv.Itoa(i)), get("u"+strconv.Itoa(i))
		}
		l.Refit(cells)
		l.Basis, l.Dates, l.Comma = get("basis"), get("dates"), get("comma")
		l.Buffer, l.Extractant = string(soil.SMP), ""
		if k := soil.BufferKind(get("buffer")); slices.Contains(soil.BufferKinds, k) {
			l.Buffer = string(k)
		}
		if e := soil.Extractant(get("extractant")); slices.Contains(soil.Extractants, e) {
			l.Extractant = string(e)
		}
	}
	u.layout = l
	u.edit(get)
	return
}

// labLines parses a file's lines with the garden's beds and samples.
func (s *Handler) labLines(c *gin.Context, u upload) (lines []readings.LabLine, bad []exchange.LabProblem, err error) {
	codes, of, err := s.App(c).Readings.Codes(c.Request.Context())
	if err != nil {
		return nil, nil, err
	}
	sampled := make(map[string]garden.Bed, len(of))
	for code, id := range of {
		if at := slices.IndexFunc(u.list, func(b garden.Bed) bool { return b.ID == id }); at >= 0 {
			sampled[code] = u.list[at]
		}
	}
	lines, bad = exchange.LabReadings(u.cells, u.layout, exchange.LabKnown{Beds: u.beds, Codes: codes, Sampled: sampled}, s.Clock.Today())
	return lines, bad, nil
}

// LabPreview shows a file's readings before they are imported.
func (s *Handler) LabPreview(c *gin.Context) error { return s.showPreview(c, http.StatusOK, c.Query) }

func (s *Handler) showPreview(c *gin.Context, status int, get func(string) string) error {
	u, err := s.labFile(c, get)
	if err != nil {
		return err
	}
	v := labView{Form: form.NoForm(), ID: u.id, Name: u.name, Layout: u.layout, Known: u.known}
	switch j, ok, err := s.FindJob(c, labJob(u.id)); {
	case err != nil:
		return err
	case ok && !j.Ended():
		v.Job = present.JobView(j, "lines")
		return s.showLab(c, status, v)
	case ok:
		v.Before = present.JobView(j, "lines").Says
	}
	lines, bad, err := s.labLines(c, u)
	if err != nil {
		return err
	}
	v.Good = len(lines)
	again, err := s.App(c).Readings.There(c.Request.Context(), lines)
	if err != nil {
		return err
	}
	if again > 0 {
		v.Again = text.Count(again, "reading is", "readings are") + " in the garden already, by the same way, of the same bed and day " +
			"and with the same pH. Taken in, they stand there twice."
	}
	v.fill(u, bad)
	return s.showLab(c, status, v)
}

func (v *labView) fill(u upload, bad []exchange.LabProblem) {
	cells := u.cells
	v.read()
	fields := []view.Option{{Value: "", Text: "Left out"}}
	for _, f := range exchange.LabFields {
		fields = append(fields, view.Option{Value: f.ID, Text: f.Name})
	}
	head := u.head
	if head > 0 {
		v.Titles = text.Count(head, "title line above the heads is", "title lines above the heads are") + " left out."
	}
	for i, h := range cells[head] {
		v.Columns = append(v.Columns, labColumn(i, h, v.Layout, fields))
	}
	wrong := map[int]map[int]string{}
	for _, p := range bad {
		if wrong[p.Line] == nil {
			wrong[p.Line] = map[int]string{}
		}
		wrong[p.Line][p.Column] = text.Sentence(p.Says)
		at := "Line " + strconv.Itoa(p.Line)
		if p.Column > 0 {
			at += ", " + cells[head][p.Column-1]
		}
		if v.Faulty++; v.Faulty > listedFaults {
			v.Unlisted++
			continue
		}
		v.Problems = append(v.Problems, at+": "+p.Says+".")
	}
	faulty := 0
	for i, row := range cells[head+1:] {
		line := i + head + 2
		if wrong[line] != nil {
			faulty++
			v.Beyond = faulty > faultyRows
		}
		// A corrected line stays in the form: its correction is sent with it.
		if i >= shownRows && !u.corrected[line] && (wrong[line] == nil || faulty > faultyRows) {
			v.More++
			continue
		}
		r := labRowView{Line: line, Wrong: wrong[line][0]}
		for j, cell := range row {
			r.Cells = append(r.Cells, u.cellView(line, j+1, cell, wrong[line][j+1]))
		}
		v.Rows = append(v.Rows, r)
	}
}

// labJob is the name of a file's import job.
func labJob(id int64) string { return "lab " + strconv.FormatInt(id, 10) }

// TakeLab imports the file in the background, all or nothing.
func (s *Handler) TakeLab(c *gin.Context) error {
	u, err := s.labFile(c, c.PostForm)
	if err != nil {
		return err
	}
	id, name, l := u.id, u.name, u.layout
	lines, bad, err := s.labLines(c, u)
	if err != nil {
		return err
	}
	if len(bad) > 0 || len(lines) == 0 {
		return s.showPreview(c, http.StatusUnprocessableEntity, c.PostForm)
	}
	if raw, err := json.Marshal(l); err == nil {
		if err := s.LabsOf(c).KeepLayout(c.Request.Context(), headOf(u.cells), raw); err != nil {
			s.Log.Error("keeping a lab’s layout", "error", err)
		}
	}
	act := s.Actor(c)
	// The import continues when the page is left.
	err = s.Jobs.Start(c.Request.Context(), labJob(id), len(lines), func(ctx context.Context, tell func(int)) (int64, error) {
		r, err := s.Base().Readings.ImportLab(ctx, act, name, lines, tell)
		if err == nil {
			err = s.Labs.DropLabFile(ctx, id)
		}
		return r.Journal, err
	})
	if err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/bench/lab/"+strconv.FormatInt(id, 10)+"/progress")
	return nil
}

// LabProgress shows the progress, and redirects when it is done.
func (s *Handler) LabProgress(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	j, ok, err := s.FindJob(c, labJob(id))
	if err != nil {
		return err
	}
	if !ok {
		c.Redirect(http.StatusSeeOther, "/bench")
		return nil
	}
	v := present.JobView(j, "lines")
	if j.State == job.Done {
		to := "/bench?said=" + strconv.FormatInt(j.Journal, 10)
		if c.GetHeader("HX-Request") != "" {
			c.Header("HX-Redirect", to)
			c.Status(http.StatusOK)
			return nil
		}
		c.Redirect(http.StatusSeeOther, to)
		return nil
	}
	if c.GetHeader("HX-Request") != "" {
		s.RenderPart(c, "lab", "progress", v)
		return nil
	}
	name, _, err := s.LabsOf(c).LabFile(c.Request.Context(), id)
	if err != nil && !errors.Is(err, garden.ErrMissing) {
		return err
	}
	return s.showLab(c, http.StatusOK, labView{Form: form.NoForm(), ID: id, Name: name, Job: v})
}

// ExportReadings sends the readings in the format of the address's extension.
func (s *Handler) ExportReadings(c *gin.Context) error {
	write, kind, ext := exchange.WriteReadings, site.CSV, ".csv"
	if strings.HasSuffix(c.Request.URL.Path, ".xlsx") {
		write, kind, ext = exchange.WriteReadingsXLSX, site.Workbook, ".xlsx"
	}
	name := "readings-" + s.Clock.Today().String() + ext
	return s.SendFile(c, site.File{Name: name, Type: kind}, func(w io.Writer) error {
		return s.App(c).Whole(c.Request.Context(), func(r garden.Reader) error {
			list, err := exchange.ReadingsOf(r)
			if err != nil {
				return err
			}
			return write(w, list)
		})
	})
}

// SampleReport sends the demo's made-up lab report as a workbook.
func (s *Handler) SampleReport(c *gin.Context) error {
	f, err := static.FS.Open("lab-report.csv")
	if err != nil {
		return err
	}
	defer func() { _ = f.Close() }()
	rows, err := csv.NewReader(f).ReadAll()
	if err != nil {
		return err
	}
	return s.SendFile(c, site.File{Name: "lab-report.xlsx", Type: site.Workbook}, func(w io.Writer) error {
		return exchange.WriteSheet(w, "report", rows, reportCells(rows))
	})
}

// reportCells returns the types of the made-up report's columns.
func reportCells(rows [][]string) func(int) exchange.CellKind {
	return func(column int) exchange.CellKind {
		switch {
		case column < len(rows[0]) && strings.Contains(strings.ToLower(rows[0][column]), "sampled"):
			return exchange.DayCell
		case column > 1:
			return exchange.FigureCell
		}
		return exchange.TextCell
	}
}
