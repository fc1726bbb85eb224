package agree

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/webtest"
)

// line is what tells a file's row from others where it has no number: its bed, day, and material or method.
type line struct{ kind, bed, day, what string }

// lines are the facts that a file's rows may tell, each of one record; two records of one line name none.
type lines map[line]map[string]string

func (l lines) add(of line, facts map[string]string) {
	if _, twice := l[of]; twice {
		facts = nil
	}
	l[of] = facts
}

// linesOf returns the lines of a garden's readings, applications and open tasks.
func linesOf(s *webtest.Client, v *bedstate.View) lines {
	l := lines{}
	for _, b := range v.AllBeds() {
		rec := s.Record(b.ID)
		for _, r := range rec.Readings {
			if r.PH != nil {
				l.add(line{"reading", b.Name, r.Date.String(), string(r.Method)}, map[string]string{"ph_sd": fact.Doubt(r.ID)})
			}
		}
		for i := range rec.Applications {
			a := &rec.Applications[i]
			l.add(line{"put on", b.Name, a.Date.String(), string(a.What)}, map[string]string{"amount_kg": fact.Put(a), "date": fact.PutOn(a)})
		}
	}
	for _, t := range v.Tasks {
		b, _ := v.Bed(t.BedID)
		l.add(line{"to do", b.Bed.Name, t.Due.String(), string(t.What)}, map[string]string{"amount_kg": fact.Amount(t), "date": fact.Due(t)})
	}
	return l
}

// ofFiles collects the facts of all files.
func (x told) ofFiles(s *webtest.Client, v *bedstate.View) {
	x.ofBeds(s, v)
	x.ofPlan(s, v)
	x.ofDiary(s)
	x.ofArchive(s)
	l := linesOf(s, v)
	x.ofTable(s, l, "/export/log.csv", table(s, "/export/log.csv"))
	x.ofTable(s, l, "/export/season.csv", table(s, "/export/season.csv"))
	book, err := excelize.OpenReader(s.Get("/export/season.xlsx").Body)
	require.NoError(s.T, err)
	rows, err := book.GetRows(book.GetSheetName(0))
	require.NoError(s.T, err)
	x.ofTable(s, l, "/export/season.xlsx", rows)
}

func table(s *webtest.Client, path string) [][]string {
	rows, err := csv.NewReader(s.Get(path).Body).ReadAll()
	require.NoError(s.T, err)
	return rows
}

// ofTable collects the facts of a table of readings, applications and tasks; a log has applications alone.
func (x told) ofTable(s *webtest.Client, l lines, page string, rows [][]string) {
	for _, row := range rows[1:] {
		cell := func(column string) string {
			if at := slices.Index(rows[0], column); at >= 0 && at < len(row) {
				return row[at]
			}
			return ""
		}
		of := line{cell("line"), cell("bed"), cell("date"), cell("material") + cell("method")}
		if of.kind == "" {
			of.kind = "put on"
		}
		for column, name := range l[of] {
			switch says := cell(column); {
			case name == "":
			case column == "amount_kg":
				x.add(page, name, says+" kg")
			case column == "date":
				x.add(page, name, dayOf(s, says))
			default:
				x.add(page, name, says)
			}
		}
	}
}

// dayOf returns an ISO date as pages word it.
func dayOf(s *webtest.Client, iso string) string {
	day, err := quantity.ParseDay(iso)
	require.NoError(s.T, err)
	return text.DayYear(day)
}

// ofBeds collects the facts of the list of beds as a file.
func (x told) ofBeds(s *webtest.Client, v *bedstate.View) {
	const page = "/export/beds.csv"
	rows := table(s, page)
	for _, row := range rows[1:] {
		i := slices.IndexFunc(v.Beds, func(p bedstate.State) bool { return p.Bed.Name == row[0] })
		id, cell := v.Beds[i].Bed.ID, func(column string) string { return row[slices.Index(rows[0], column)] }
		if cell("ph_water") != "" {
			x.add(page, fact.Bed(id, "ph"), cell("ph_water"))
			x.add(page, fact.Bed(id, "read"), dayOf(s, cell("read_on")))
			stands := strings.ReplaceAll(cell("stands"), "-", " ")
			if off, err := strconv.ParseFloat(cell("off"), 64); err == nil && off > 0 {
				stands += fmt.Sprintf(" by %.1f", off)
			}
			x.add(page, fact.Bed(id, "standing"), stands)
		}
		if cell("k_ppm") != "" {
			x.add(page, fact.Bed(id, "potassium"), cell("k_ppm"))
			x.add(page, fact.Bed(id, "supply"), cell("potassium"))
		}
		if cell("crop") != "" {
			x.add(page, fact.Bed(id, "crop"), cell("crop"))
		}
	}
}

// ofPlan collects what the beds of the plan's file read.
func (x told) ofPlan(s *webtest.Client, v *bedstate.View) {
	const page = "/export/plan.geojson"
	var plan struct {
		Features []struct {
			Properties struct {
				Name, Crop string
				PH         *float64 `json:"ph_water"`
				ReadOn     string   `json:"read_on"`
			}
		}
	}
	require.NoError(s.T, json.Unmarshal(s.Get(page).Body.Bytes(), &plan))
	for _, f := range plan.Features {
		i := slices.IndexFunc(v.Beds, func(p bedstate.State) bool { return p.Bed.Name == f.Properties.Name })
		if i < 0 || f.Properties.PH == nil {
			continue // a path, or an unread bed
		}
		id := v.Beds[i].Bed.ID
		x.add(page, fact.Bed(id, "ph"), fmt.Sprintf("%.2f", *f.Properties.PH))
		x.add(page, fact.Bed(id, "read"), dayOf(s, f.Properties.ReadOn))
		if f.Properties.Crop != "" {
			x.add(page, fact.Bed(id, "crop"), f.Properties.Crop)
		}
	}
}

// ofDiary collects the days, amounts and reasons of tasks of the diary's file.
func (x told) ofDiary(s *webtest.Client) {
	const page = "/export/tasks.ics"
	diary, err := ics.ParseCalendar(s.Get(page).Body)
	require.NoError(s.T, err)
	for _, e := range diary.Events() {
		id, _, _ := strings.Cut(strings.TrimPrefix(e.Id(), "task-"), "@")
		summary, description := e.GetProperty(ics.ComponentPropertySummary).Value, e.GetProperty(ics.ComponentPropertyDescription).Value
		start, err := e.GetAllDayStartAt()
		require.NoError(s.T, err)
		named := func(kind, says string) { x.add(page, "task:"+id+":"+kind, says) }
		skipped, done := strings.HasPrefix(summary, "Skipped: "), strings.HasPrefix(summary, "Done: ")
		switch {
		case done:
			named("done", text.DayYear(quantity.DayOf(start)))
		case !skipped:
			named("due", text.DayYear(quantity.DayOf(start)))
		}
		if aWeight.MatchString(summary) && !skipped {
			named("amount", summary)
		}
		if strings.HasPrefix(description, "Moved from ") {
			named("why", description)
		}
	}
}

// ofArchive collects what was put on, and what waits for a test, from the archive.
func (x told) ofArchive(s *webtest.Client) {
	const page = "/export/garden.json"
	var archive struct {
		Applications []garden.Application
		Rests        []garden.Rest
	}
	require.NoError(s.T, json.Unmarshal(s.Get(page).Body.Bytes(), &archive))
	for i := range archive.Applications {
		a := &archive.Applications[i]
		x.add(page, fact.Put(a), fmt.Sprintf("%f g", float64(a.Total)))
		x.add(page, fact.PutOn(a), text.DayYear(a.Date))
	}
	for i := range archive.Rests {
		if r := &archive.Rests[i]; r.State == garden.RestWaiting {
			x.add(page, fact.Rest(r.ID), fmt.Sprintf("%f g", float64(r.Total)))
		}
	}
}
