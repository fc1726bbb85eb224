package years

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// The range of the plan of crops in years.
const (
	yearsBefore = 1
	yearsAfter  = 3
)

type yearsView struct {
	view.Page
	Years       []string
	Beds        []bedYears
	Form        form.Form
	Fields      []view.Field
	BedOptions  []view.Option
	CropOptions []view.Option
}

// bedYears is a bed's row.
type bedYears struct {
	ID             int64
	Name, Href, PH string
	Standing       string
	// Preparation is the address of its preparation; "" for ground that has none.
	Preparation, PreparationSays string
	Cells                        []yearCell
	Hints                        []string
}

// yearCell is a bed in a year.
type yearCell struct {
	Now   bool
	Crops []yearCrop
	// Applications are past and planned lime, ash and sulfur.
	Applications []yearApplication
	// Sour is set in a potato year.
	Sour bool
}

// Bare reports whether there is nothing to tell of the year.
func (c yearCell) Bare() bool { return len(c.Crops) == 0 && len(c.Applications) == 0 && !c.Sour }

type yearCrop struct {
	// Fact names the day in When.
	Name, When, Fact string
	Again            bool
}

type yearApplication struct {
	// Facts name its day and amount, parted by a space.
	Says, Href, Facts string
	Planned           bool
}

// Years shows the crops year by year, and liming hints.
func (s *Handler) Years(c *gin.Context) error { return s.showYears(c, http.StatusOK, form.NoForm()) }

func (s *Handler) showYears(c *gin.Context, status int, f form.Form) error {
	today := s.Clock.Today()
	first := today.Year() - yearsBefore
	y, err := s.App(c).BedState.Years(c.Request.Context(), today, quantity.Date(first, 1, 1))
	if err != nil {
		return err
	}
	v := yearsView{Form: f, CropOptions: present.CropOptions(y.Library)}
	for n := first; n <= today.Year()+yearsAfter; n++ {
		v.Years = append(v.Years, strconv.Itoa(n))
	}
	asks := 0
	for _, b := range y.Beds {
		v.Beds = append(v.Beds, yearsRow(y, b, first, today))
		v.BedOptions = append(v.BedOptions, view.Option{Value: strconv.FormatInt(b.State.Bed.ID, 10), Text: b.State.Bed.Name})
		if slices.ContainsFunc(b.Hints, func(h bedprep.Hint) bool { return h.ID != bedprep.SourYear }) {
			asks++
		}
	}
	title := "What grows where, year by year"
	if asks > 0 {
		title = text.Count(asks, "bed needs", "beds need") + " lime before the next crop"
	}
	v.Page = s.Page(c, y.Garden, site.YearsTab, title)
	f.Sentences()
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	v.Fields = f.Rows(append(form.Table{{Name: "bed", Label: "Bed",
		Options: append([]view.Option{{Text: "Choose a bed"}}, v.BedOptions...)}}, present.PlantingTable(v.CropOptions)...))
	s.Render(c, status, "years", v)
	return nil
}

// yearsRow lays a bed out.
func yearsRow(y bedstate.Years, b bedstate.BedYears, first int, today quantity.Day) bedYears {
	bed := b.State.Bed
	row := bedYears{ID: bed.ID, Name: bed.Name, Href: site.BedHref(bed.ID), Standing: string(b.State.Standing), PH: "?"}
	if b.State.PH > 0 {
		row.PH = text.PH(b.State.PH)
	}
	if preparation.May(b.State.Bed) {
		row.Preparation, row.PreparationSays = site.PreparationHref(b.State.Bed.ID), "prepare it"
		if len(b.State.Preparations) > 0 {
			row.PreparationSays = "being prepared"
		}
	}
	for n := first; n <= today.Year()+yearsAfter; n++ {
		row.Cells = append(row.Cells, yearsCell(y, b, n, today))
	}
	for _, h := range b.Hints {
		row.Hints = append(row.Hints, text.Hint(h, b.State.PH)+".")
	}
	return row
}

func yearsCell(y bedstate.Years, b bedstate.BedYears, n int, today quantity.Day) yearCell {
	from, to := quantity.Date(n, 1, 1), quantity.Date(n, 12, 31)
	cell := yearCell{Now: n == today.Year()}
	for _, p := range b.Crops {
		if off := y.Off(p); p.Sown > to || off != 0 && off <= from {
			continue
		}
		x := yearCrop{Name: text.Capital(y.Library.Name(p.Crop)), Again: p.Sown < from}
		if !x.Again {
			x.When, x.Fact = "from "+text.Day(b.State.PlantingDay(p)), fact.PlantingDay(p.ID)
		}
		cell.Crops = append(cell.Crops, x)
	}
	for _, h := range b.Hints {
		if h.ID == bedprep.SourYear && h.From <= to && h.To >= from {
			cell.Sour = true
		}
	}
	measure := func(batch *int64) *text.Scoop { return present.MeasureOf(y.Batches, batch) }
	u := y.Garden.Units()
	for i := range b.Applications {
		a := &b.Applications[i]
		if present.MovesPH(a.What) && a.Date >= from && a.Date <= to {
			cell.Applications = append(cell.Applications, yearApplication{Says: text.Day(a.Date) + ": " + u.Amount(a.Total,
				measure(a.BatchID)) + " " + text.Brief(a.What), Facts: fact.PutOn(a) + " " + fact.Put(a)})
		}
	}
	for _, t := range b.Tasks {
		if t.Kind == garden.TaskApplication && present.MovesPH(t.What) && t.Due >= from && t.Due <= to {
			cell.Applications = append(cell.Applications, yearApplication{Planned: true, Href: site.MoveHref(t.ID),
				Facts: fact.Due(t) + " " + fact.Amount(t),
				Says:  text.Day(t.Due) + ": " + u.Amount(t.Total, measure(t.BatchID)) + " " + text.Brief(t.What)})
		}
	}
	return cell
}

// AddToYears puts a crop on a bed, after what stands there.
func (s *Handler) AddToYears(c *gin.Context) error {
	f := form.Posted(c)
	id, err := strconv.ParseInt(f.Value("bed"), 10, 64)
	if err != nil {
		f.Faults["bed"] = "choose a bed"
	}
	p := garden.Planting{BedID: id, Crop: f.Value("crop"), Sown: f.Day("sown"), PlantedOut: f.Is("planted_out", form.Yes)}
	return s.Save(c, &f, site.Saving{
		To: "/years",
		Save: func() (garden.Receipt, error) {
			return s.App(c).Layout.AddPlanting(c.Request.Context(), s.Actor(c), p, f.Is("together", form.Yes))
		},
		Show: func(status int) error { return s.showYears(c, status, f) },
	})
}
