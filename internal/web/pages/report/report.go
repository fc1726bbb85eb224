package report

import (
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type reportView struct {
	view.Page
	Season, Printed, CSV, XLSX string
	Fields                     []view.Field
	Beds                       []reportBed
}

// reportBed is a bed of the report in words.
type reportBed struct {
	Name, Facts, Crops string
	// Level is the level now, which Fact names.
	Level, Fact string
	Surprise    *present.Surprise
	Readings    []reportReading
	Put         []reportPut
	Sum         string
	Checks      []string
	Next        []reportTask
}

type reportReading struct {
	ID                                     int64
	Day, PH, Doubt, Method, Depth, K, Note string
}

type reportPut struct {
	Day, What, Batch, Amount, Rate, Brings string
	// DayFact and AmountFact name its day and amount.
	DayFact, AmountFact string
}

type reportTask struct{ Says, Facts string }

// reportAsked returns the requested season and bed.
func (s *Handler) reportAsked(c *gin.Context) (p outlook.Report, f form.Form, err error) {
	f = form.Asked(c)
	bed, _ := strconv.ParseInt(f.Value("bed"), 10, 64)
	p, err = s.App(c).Outlook.Report(c.Request.Context(), f.Value("season"), bed, s.Clock.Today())
	return p, f, err
}

// Report shows a season's report, for print.
func (s *Handler) Report(c *gin.Context) error {
	p, f, err := s.reportAsked(c)
	if err != nil {
		return err
	}
	f.Values["season"] = p.Season
	query := url.Values{"season": {p.Season}, "bed": {f.Value("bed")}}.Encode()
	v := reportView{Season: p.Season, Printed: text.DayYear(p.Today), CSV: "/export/season.csv?" + query,
		XLSX: "/export/season.xlsx?" + query}
	var seasons []view.Option
	for _, x := range p.Seasons {
		seasons = append(seasons, view.Option{Value: x, Text: x})
	}
	_, beds, err := s.App(c).BedState.Names(c.Request.Context(), p.Today)
	if err != nil {
		return err
	}
	asked := []view.Option{{Text: "All beds"}}
	for _, b := range beds {
		asked = append(asked, view.Option{Value: strconv.FormatInt(b.ID, 10), Text: b.Name})
	}
	v.Fields = f.Rows(form.Table{{Name: "season", Label: "Season", Options: seasons}, {Name: "bed", Label: "Bed", Options: asked}})
	for i := range p.Beds {
		if b := &p.Beds[i]; !b.Empty() {
			v.Beds = append(v.Beds, reportBedOf(&p, b))
		}
	}
	v.Page = s.Page(c, p.Garden, site.SeasonsTab, p.Garden.Name+", season "+p.Season)
	s.Render(c, http.StatusOK, "report", v)
	return nil
}

func reportBedOf(p *outlook.Report, b *outlook.BedReport) reportBed {
	u := p.Garden.Units()
	out := reportBed{Name: b.Record.Bed.Name, Facts: present.Facts(b.Record.Bed, b.Record.State.Spread(), u)}
	var crops []string
	for _, x := range b.Crops {
		says := b.Record.Library.Name(x.Crop) + " from " + text.DayYear(b.Record.State.PlantingDay(x))
		if x.Cleared != 0 {
			says += " to " + text.DayYear(x.Cleared)
		}
		crops = append(crops, says)
	}
	out.Crops = text.Capital(strings.Join(crops, "; "))
	if now, ok := outlook.Level(&b.Record, p.Today); ok {
		out.Level, out.Fact = text.LevelSays(now, b.Record.State.Surprise != nil), fact.Bed(b.Record.Bed.ID, "level")
	}
	out.Surprise = present.SurpriseOf(&b.Record)
	for _, r := range b.Readings {
		row := present.ReadingOf(r, b.Record.Bed.Name)
		out.Readings = append(out.Readings, reportReading{row.ID, row.Date, row.PH, row.Doubt, row.Method, u.Depth(r.Depth), row.K, row.Note})
	}
	for i := range b.Put {
		x := &b.Put[i]
		put := reportPut{Day: text.DayYear(x.Date), What: text.Capital(text.Material(x.What)), Amount: u.Mass(x.Total), Rate: u.Rate(x.Rate),
			Brings: present.BroughtWords(x.Brought, u), DayFact: fact.PutOn(&x.Application), AmountFact: fact.Put(&x.Application)}
		if x.Batch != nil {
			put.Batch = x.Batch.Name
		}
		out.Put = append(out.Put, put)
	}
	out.Sum = present.BroughtWords(b.Sum, u)
	for _, k := range b.Checks {
		out.Checks = append(out.Checks, text.DayYear(k.Date)+": "+text.Check(k, b.Record.Lesson.Method)+".")
	}
	for _, t := range b.Next {
		out.Next = append(out.Next, reportTask{text.DayYear(t.Due) + ": " + present.TaskWords(t, u, garden.BatchIn(p.Batches, t.BatchID)),
			fact.Due(t) + " " + fact.Amount(t)})
	}
	return out
}

// ExportReport sends the report as a table.
func (s *Handler) ExportReport(c *gin.Context) error {
	p, _, err := s.reportAsked(c)
	if err != nil {
		return err
	}
	write, kind, ext := exchange.WriteReport, site.CSV, ".csv"
	if strings.HasSuffix(c.Request.URL.Path, ".xlsx") {
		write, kind, ext = exchange.WriteReportXLSX, site.Workbook, ".xlsx"
	}
	name := "season-" + strings.ReplaceAll(p.Season, "/", "-") + ext
	return s.SendFile(c, site.File{Name: name, Type: kind}, func(w io.Writer) error { return write(w, &p) })
}
