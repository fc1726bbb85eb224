package days

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type daysView struct {
	view.Page
	Version int64
	Week    []view.Choice
	Away    []awayRow
	Form    form.Form
}

// awayRow is a stretch without work, or an empty row.
type awayRow struct{ From, To view.Field }

// awayRowOf returns the row of a stretch; its field names repeat, so the n-th of each belong
// together.
func awayRowOf(n int, x calendar.Stretch, called string) awayRow {
	f := form.NoForm()
	f.Values["from"], f.Values["to"] = x.From.String(), x.To.String()
	id := strconv.Itoa(n)
	return awayRow{
		f.Resolve(form.Row{Name: "from", ID: "from-" + id, Called: called + " from", Mode: form.Date, Group: "away"}),
		f.Resolve(form.Row{Name: "to", ID: "to-" + id, Called: called + " until", Mode: form.Date, Group: "away"})}
}

// Days shows the gardener's working days.
func (s *Handler) Days(c *gin.Context) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	return s.showDays(c, http.StatusOK, g, form.NoForm())
}

// showDays shows a garden's working days, stored or typed.
func (s *Handler) showDays(c *gin.Context, status int, g garden.Garden, f form.Form) error {
	d := g.Days()
	v := daysView{Version: g.Version, Form: f}
	// Monday first
	for n := 1; n <= 7; n++ {
		day := time.Weekday(n % 7)
		v.Week = append(v.Week, view.Choice{ID: "day-" + strconv.Itoa(int(day)), Name: "day", Value: strconv.Itoa(int(day)),
			Text: day.String(), On: d.Week[day]})
	}
	for i, x := range g.Away {
		v.Away = append(v.Away, awayRowOf(i, x, "Away"))
	}
	v.Away = append(v.Away, awayRowOf(len(g.Away), calendar.Stretch{}, "One more: away"))
	v.Page = s.Page(c, g, site.SheetTab, "Work is planned on "+workDays(d))
	f.Sentences()
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "days", v)
	return nil
}

// workDays returns the working weekdays in words.
func workDays(d calendar.Days) string {
	var names []string
	for n := 1; n <= 7; n++ {
		if day := time.Weekday(n % 7); d.Week[day] {
			names = append(names, day.String()+"s")
		}
	}
	if len(names) == 0 || len(names) == 7 {
		return "any day"
	}
	return text.List(names)
}

// SetDays saves the working days.
func (s *Handler) SetDays(c *gin.Context) error {
	version, err := strconv.ParseInt(c.PostForm("version"), 10, 64)
	if err != nil {
		return garden.ErrStale
	}
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	f := form.NoForm()
	g.WorkDays, g.Away = nil, nil
	for _, x := range c.PostFormArray("day") {
		n, err := strconv.Atoi(x)
		if err != nil {
			f.Faults["work_days"] = "choose days of the week"
			continue
		}
		g.WorkDays = append(g.WorkDays, float64(n))
	}
	from, to := c.PostFormArray("from"), c.PostFormArray("to")
	for i := range min(len(from), len(to)) {
		if from[i] == "" && to[i] == "" {
			continue // removed, or left empty
		}
		row := form.Form{Values: map[string]string{"from": from[i], "to": to[i]}, Faults: garden.Faults{}}
		g.Away = append(g.Away, calendar.Stretch{From: row.Day("from"), To: row.Day("to")})
		for _, why := range row.Faults {
			f.Faults["away"] = why
		}
	}
	return s.Save(c, &f, site.Saving{
		To: "/days",
		Save: func() (garden.Receipt, error) {
			return s.App(c).Layout.SetDays(c.Request.Context(), s.Actor(c), version, g.WorkDays, g.Away)
		},
		Show: func(status int) error { return s.showDays(c, status, g, f) },
	})
}
