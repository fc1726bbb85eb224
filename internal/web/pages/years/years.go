package years

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/turn"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/turning"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// How many years the plan of crops shows, those before this one and after it.
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

// bedYears is a bed’s row.
type bedYears struct {
	Name, Href, PH string
	Standing       string
	// Turn is where it is turned over; "" for what is not.
	Turn, TurnSays string
	Cells          []yearCell
	Hints          []string
}

// yearCell is a bed in a year.
type yearCell struct {
	Now   bool
	Crops []yearCrop
	// Goes are what went on and what is planned of lime, ash and sulfur.
	Goes []yearGo
	// Sour is set in the year of potatoes.
	Sour bool
}

type yearCrop struct {
	Name, When string
	Again      bool
}

type yearGo struct {
	Says, Href string
	Planned    bool
}

// Years shows what grows where year by year, and which beds want lime before what comes.
func (s *Handler) Years(c *gin.Context) error { return s.showYears(c, http.StatusOK, form.NoForm()) }

func (s *Handler) showYears(c *gin.Context, status int, f form.Form) error {
	today := s.Clock.Today()
	first := today.Year() - yearsBefore
	y, err := s.App(c).Plots.Years(c.Request.Context(), today, quantity.Date(first, 1, 1))
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
		v.BedOptions = append(v.BedOptions, view.Option{Value: strconv.FormatInt(b.Plot.Bed.ID, 10), Text: b.Plot.Bed.Name})
		if slices.ContainsFunc(b.Hints, func(h turn.Hint) bool { return h.ID != turn.SourYear }) {
			asks++
		}
	}
	title := "What grows where, year by year"
	if asks > 0 {
		title = words.Count(asks, "bed wants", "beds want") + " lime before what comes"
	}
	v.Page = s.Page(c, y.Garden, "Ground", title)
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
func yearsRow(y plots.Years, b plots.BedYears, first int, today quantity.Day) bedYears {
	row := bedYears{Name: b.Plot.Bed.Name, Href: "/beds/" + strconv.FormatInt(b.Plot.Bed.ID, 10), Standing: string(b.Plot.Standing), PH: "?"}
	if b.Plot.PH > 0 {
		row.PH = words.PH(b.Plot.PH)
	}
	if turning.May(b.Plot.Bed) {
		row.Turn, row.TurnSays = site.TurnHref(b.Plot.Bed.ID), "turn it over"
		if len(b.Plot.Turnings) > 0 {
			row.TurnSays = "being turned over"
		}
	}
	for n := first; n <= today.Year()+yearsAfter; n++ {
		row.Cells = append(row.Cells, yearsCell(y, b, n, today))
	}
	for _, h := range b.Hints {
		row.Hints = append(row.Hints, words.Hint(h, b.Plot.PH)+".")
	}
	return row
}

func yearsCell(y plots.Years, b plots.BedYears, n int, today quantity.Day) yearCell {
	from, to := quantity.Date(n, 1, 1), quantity.Date(n, 12, 31)
	cell := yearCell{Now: n == today.Year()}
	for _, p := range b.Crops {
		if off := y.Off(p); p.Sown > to || off != 0 && off <= from {
			continue
		}
		x := yearCrop{Name: words.Capital(y.Library.Name(p.Crop)), Again: p.Sown < from}
		if !x.Again {
			x.When = "from " + words.Day(p.Sown)
		}
		cell.Crops = append(cell.Crops, x)
	}
	for _, h := range b.Hints {
		if h.ID == turn.SourYear && h.From <= to && h.To >= from {
			cell.Sour = true
		}
	}
	measure := func(batch *int64) *words.Scoop { return present.MeasureOf(y.Batches, batch) }
	u := y.Garden.Units()
	for _, a := range b.Applications {
		if present.MovesPH(a.What) && a.Date >= from && a.Date <= to {
			cell.Goes = append(cell.Goes, yearGo{Says: words.Day(a.Date) + ": " + u.Amount(a.Total, measure(a.BatchID)) + " " + words.Brief(a.What)})
		}
	}
	for _, t := range b.Tasks {
		if t.Kind == garden.TaskGo && present.MovesPH(t.What) && t.Due >= from && t.Due <= to {
			cell.Goes = append(cell.Goes, yearGo{Planned: true, Href: site.MoveHref(t.ID),
				Says: words.Day(t.Due) + ": " + u.Amount(t.Total, measure(t.BatchID)) + " " + words.Brief(t.What)})
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
			return s.App(c).Ground.AddPlanting(c.Request.Context(), s.Act(c), p, f.Is("together", form.Yes))
		},
		Show: func(status int) error { return s.showYears(c, status, f) },
	})
}
