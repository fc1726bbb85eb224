package many

import (
	"errors"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/form"
	bedspage "zephyrfield/internal/web/pages/beds"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type manyView struct {
	view.Page
	Form form.Form
	// Of selects the material, Ways are the choices.
	Of     view.Field
	Ways   []view.Option
	Rows   []manyRow
	Totals []manyTotal
	// Chosen are the selected beds.
	Chosen   []int64
	Cost     string
	Short    bool
	Button   string
	Replaces string
	Untested string
	Ask      string
}

type manyRow struct {
	ID                         int64
	Bed, Href, Reads, State    string
	Gets, Exact, When, Settles string
	Cost, Why, Cautions        string
	// Must are the cautions to read first.
	Must []text.Guarded
	// Tick selects the bed, Can is set if it can be selected.
	Tick view.Choice
	Can  bool
	// Planned are the amounts in the year whose place its dose takes; "" for none.
	Planned string
}

type manyTotal struct{ Name, Amount, Beds, Short string }

// ManyDoses shows the doses of many beds in one table.
func (s *Handler) ManyDoses(c *gin.Context) error {
	beds, err := bedspage.BedsOf(c.QueryArray("bed"))
	if err != nil {
		return err
	}
	if c.Query("chosen") != "" && len(beds) == 0 {
		beds = []int64{0} // none of them
	}
	return s.showMany(c, http.StatusOK, beds, form.Asked(c))
}

func (s *Handler) showMany(c *gin.Context, status int, beds []int64, f form.Form) error {
	today := s.Clock.Today()
	m, err := s.App(c).Dosing.Many(c.Request.Context(), beds, f.Value("with"), today)
	if err != nil {
		return err
	}
	v := manyView{Form: f, Ways: []view.Option{{Value: "", Text: "each bed’s first"}}}
	for _, w := range m.Ways {
		v.Ways = append(v.Ways, view.Option{Value: w.Key, Text: wayName(w)})
	}
	v.rows(m, today)
	v.total(m)
	v.Page = s.Page(c, m.Garden, "Dose", manyTitle(m))
	f.Sentences()
	v.Of = f.Resolve(form.Row{Name: "with", Label: "Of what", Options: v.Ways})
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "many", v)
	return nil
}

// PutMany plans the selected doses in one change.
func (s *Handler) PutMany(c *gin.Context) error {
	beds, err := bedspage.BedsOf(c.PostFormArray("bed"))
	if err != nil {
		return err
	}
	f := form.Posted(c)
	r, err := s.App(c).Dosing.PlanMany(c.Request.Context(), s.Actor(c), beds, f.Value("with"), present.EncodePlan)
	switch {
	case errors.Is(err, dosing.ErrNoOption):
		f.Faults["beds"] = "one of these beds is not offered that any more; look again"
		fallthrough
	case f.Add(err):
		return s.showMany(c, http.StatusUnprocessableEntity, beds, f)
	case err != nil:
		return err
	}
	s.Done(c, "/dose/many", r)
	return nil
}

// wayName returns a material's name for a list.
func wayName(w dosing.Way) string {
	if w.On != nil {
		return w.On.Name
	}
	return text.Capital(text.Material(w.Part.Kind)) + ", to buy"
}

// wayMeasure returns its measure; nil without one.
func wayMeasure(w dosing.Way) *text.Scoop {
	if w.On == nil {
		return nil
	}
	return w.On.Measure()
}

// manyTitle returns the totals in words.
func manyTitle(m dosing.Many) string {
	beds := 0
	for i := range m.Rows {
		if m.Rows[i].Chosen {
			beds++
		}
	}
	if beds == 0 {
		return "No bed is chosen"
	}
	var says []string
	for _, t := range m.Totals {
		says = append(says, present.Brief(t.Total, wayMeasure(t.Way), m.Garden.Units())+" of "+text.Lower(wayName(t.Way)))
	}
	return text.List(says) + " on " + text.Count(beds, "bed", "beds")
}

func (v *manyView) rows(m dosing.Many, today quantity.Day) {
	u := m.Garden.Units()
	for i := range m.Rows {
		row := &m.Rows[i]
		x := manyRow{ID: row.Dose.Record.Bed.ID, Bed: row.Dose.Record.Bed.Name, Href: site.DoseHref(row.Dose.Record.Bed.ID),
			State: string(row.Dose.Record.State.Standing), Can: row.Option != nil,
			Planned: present.PlannedFor(&row.Dose)}
		id := strconv.FormatInt(row.Dose.Record.Bed.ID, 10)
		x.Tick = view.Choice{ID: "bed-" + id, Name: "bed", Value: id, Text: row.Dose.Record.Bed.Name, On: row.Chosen}
		if row.Dose.Record.State.PH > 0 {
			x.Reads = text.PH(row.Dose.Record.State.PH)
		}
		if !x.Can {
			x.Why = present.WhyNot(row)
			x.Tick.Off = x.Why
			v.Rows = append(v.Rows, x)
			continue
		}
		x.option(row, u, today, m.Garden.Currency)
		if row.Chosen {
			v.Chosen = append(v.Chosen, row.Dose.Record.Bed.ID)
			if row.UnknownAsh(*row.Option) {
				v.Ask = present.AskAsh(&row.Dose)
			}
		}
		v.Rows = append(v.Rows, x)
	}
}

// option sets what a bed would get.
func (x *manyRow) option(row *dosing.ManyRow, u text.Units, today quantity.Day, currency string) {
	o := row.Option
	var days []string
	total := quantity.Mass(0)
	for n, p := range o.Parts {
		amount := u.Carried(p.Kind, p.Total, present.StockMeasure(&row.Dose, p.Batch))
		if n > 0 {
			x.Gets += " and "
		}
		x.Gets += amount.Big + " " + amount.Unit + " of " + present.PartName(&row.Dose, n, *o)
		total += p.Total
	}
	for _, g := range o.Applications {
		if d := text.NearDay(g.Date, today); !slices.Contains(days, d) {
			days = append(days, d)
		}
	}
	x.Exact, x.When = u.MassExact(total), text.List(days)
	if rest := present.RestWords(&row.Dose, o, today); rest != "" {
		x.When += "; " + rest
	}
	if o.PH.Median > 0 {
		x.Settles = text.PH(o.PH.Median)
	}
	if o.Cost != nil {
		x.Cost = present.Money(*o.Cost, currency)
	}
	if x.Must, _ = present.Cautions(u.Guards(o.Guards)); len(x.Must) > 0 {
		x.Cautions = text.Count(len(x.Must), "caution", "cautions")
	}
}

func (v *manyView) total(m dosing.Many) {
	u := m.Garden.Units()
	for _, t := range m.Totals {
		x := manyTotal{Name: wayName(t.Way), Amount: u.Amount(t.Total, wayMeasure(t.Way)), Beds: text.Count(t.Beds, "bed", "beds")}
		if short := t.Short(); short > 0 {
			x.Short, v.Short = u.Amount(short, wayMeasure(t.Way))+" more than there is", true
		}
		v.Totals = append(v.Totals, x)
	}
	if m.Cost != nil {
		v.Cost = present.Money(*m.Cost, m.Garden.Currency)
	}
	if len(v.Chosen) > 0 {
		all := "all "
		if len(v.Chosen) == 1 {
			all = ""
		}
		v.Button = "Plan " + all + text.Count(len(v.Chosen), "bed", "beds")
	}
	var replaces []string
	for i := range m.Rows {
		if m.Rows[i].Chosen && m.Rows[i].Planned {
			replaces = append(replaces, m.Rows[i].Dose.Record.Bed.Name)
		}
	}
	if len(replaces) > 0 {
		v.Replaces = "It replaces what is planned for " + text.List(replaces) + "."
	}
	if len(m.Untested) > 0 {
		v.Untested = "No reading yet: " + text.List(m.Untested) + "."
	}
}
