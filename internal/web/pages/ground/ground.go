package ground

import (
	"cmp"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// The plan's size in its own units.
const planWidth, planHeight = 846, 516

// GroundView is the plan with a bed's summary.
type GroundView struct {
	view.Page
	Empty  bool
	Plan   svg.Plan
	Legend []svg.LegendRow
	Layers []layerLink
	Slip   *present.BedSummary
	List   []ListRow
	Sorts  []SortLink
	// Sorted is set if another order was asked for.
	Sorted bool
	CSV    string
	// Remind is what to do first, Parts are the garden's parts.
	Remind []reminder
	Parts  []partLink
	// The phone's page: Chosen is set when a bed was asked for, Look chooses the colouring and carries
	// Carry, First and Rest are the beds of its list.
	Chosen      bool
	Look        view.Field
	Carry       []view.Option
	First, Rest []ListRow
	RestSays    string
}

// mostListed is the largest number of beds that the phone's list shows unfolded.
const mostListed = 14

// SortLink is a heading of the beds' table; How is its current order, "" for none.
type SortLink struct{ Name, Href, How string }

// layerLink is a colouring of the plan.
type layerLink struct {
	ID, Name, Href string
	On             bool
}

// ListRow is a bed in the plan's table.
type ListRow struct {
	ID                                 int64
	Name, Href, Crop, Value, Says, Due string
	// Works is set when Says tells what is at work.
	Works bool
	// State and PH are its state on the plan and its number, Now what is due; On is set on the chosen bed.
	State, PH, Now string
	On             bool

	ph  float64
	due quantity.Day
}

// Sorts are the orders of the beds' table; `none` reports a bed without the figure.
var Sorts = []struct {
	ID, Name string
	Order    func(a, b ListRow) int
	None     func(ListRow) bool
}{
	{"bed", "Bed", func(a, b ListRow) int { return strings.Compare(garden.Fold(a.Name), garden.Fold(b.Name)) }, never},
	{"crop", "Crop", func(a, b ListRow) int { return strings.Compare(a.Crop, b.Crop) }, never},
	{"ph", "pH", func(a, b ListRow) int { return cmp.Compare(a.ph, b.ph) }, func(r ListRow) bool { return r.ph == 0 }},
	{"stands", "Stands", func(a, b ListRow) int { return strings.Compare(a.Says, b.Says) }, never},
	{"due", "Next due", func(a, b ListRow) int { return cmp.Compare(a.due, b.due) }, func(r ListRow) bool { return r.due == 0 }},
}

func never(ListRow) bool { return false }

// sortBy sorts the table by a heading, reversed by a leading hyphen. Beds without a figure come
// last.
func (v *GroundView) sortBy(asked string, chosen int64) {
	by, down := strings.CutPrefix(asked, "-")
	for _, x := range Sorts {
		link := SortLink{Name: x.Name, Href: site.BedHref(chosen) + v.OnQuery + "&sort=" + x.ID + "#beds"}
		if x.ID == by {
			v.Sorted, link.How = true, "ascending"
			slices.SortStableFunc(v.List, func(a, b ListRow) int {
				switch none := x.None(b); {
				case x.None(a) != none && none:
					return -1
				case x.None(a) != none:
					return 1
				case down:
					return x.Order(b, a)
				}
				return x.Order(a, b)
			})
			if down {
				link.How = "descending"
			} else {
				link.Href = site.BedHref(chosen) + v.OnQuery + "&sort=-" + x.ID + "#beds"
			}
		}
		v.Sorts = append(v.Sorts, link)
	}
}

// Ground shows the plan, the chosen bed and what is due.
func (s *Handler) Ground(c *gin.Context) error {
	today, day := s.Clock.Today(), s.On(c)
	v, err := s.App(c).BedState.On(c.Request.Context(), today, day, bedstate.ForecastOutlook{})
	if err != nil {
		return err
	}
	vm := GroundView{Page: s.Page(c, v.Garden, "Ground", headline(v)), Empty: len(v.Beds) == 0}
	if err := s.Year(c, &vm.Page, &v); err != nil {
		return err
	}
	vm.OffNote = false // the plan shows it
	if vm.Empty {
		s.Render(c, http.StatusOK, "ground", vm)
		return nil
	}
	vm.Remind = reminders(v, today, day)
	part := ""
	if vm.Parts, part = partly(&v, c.Query("part"), vm.OnQuery); part != "" {
		vm.OnQuery += "&part=" + url.QueryEscape(part)
		vm.Title = headline(v)
	}
	due, next := map[int64]bool{}, map[int64]garden.Task{}
	for _, t := range v.Tasks {
		if _, ok := next[t.BedID]; !ok {
			next[t.BedID] = t
		}
		if t.Due <= day && day >= today {
			due[t.BedID] = true
		}
	}
	vm.FillList(&v, next)
	chosen := choose(v, c.Query("bed"), due)
	change, title, err := s.change(c, &v, today, day)
	if err != nil {
		return err
	}
	layer := vm.layers(c.Query("look"), chosen, change)
	vm.sortBy(c.Query("sort"), chosen)
	vm.phone(c, chosen, layer.ID)
	if vm.Title = headlineOf(layer.ID, v, due); layer.ID == svg.ChangeID {
		vm.Title = title
	}
	query := vm.OnQuery
	if layer.ID != "ph" {
		query += "&look=" + layer.ID
	}
	vm.Plan = svg.PlanOf(svg.Scene{Beds: v.Beds, Marks: v.Marks, Layer: layer, Due: due, Selected: chosen, Units: v.Garden.Units(),
		Query: query}, planWidth, planHeight)
	vm.CSV = "/export/beds.csv?on=" + day.String()
	if vm.Slip, err = present.BedSummaryOf(s.Site, c, chosen, today, day); err != nil {
		return err
	}
	vm.Slip.LeadOn(vm.Message)
	s.Render(c, http.StatusOK, "ground", vm)
	return nil
}

// FillList fills the table of beds; next are the next tasks, by bed.
func (vm *GroundView) FillList(v *bedstate.View, next map[int64]garden.Task) {
	for _, p := range v.Beds {
		row := ListRow{ID: p.Bed.ID, Name: p.Bed.Name, Href: site.BedHref(p.Bed.ID) + vm.OnQuery, Crop: text.Capital(p.Crop.Name),
			Says: standingWords(p) + clashWords(p), Works: p.AtWork != nil, State: string(p.Standing)}
		if p.Bed.Kind == garden.KindHeap {
			row.State = garden.KindHeap
		}
		if p.Reading != nil {
			row.PH, row.ph = text.PH(p.PH), float64(p.PH)
			row.Value = row.PH + ", " + text.DayYear(p.Reading.Date)
		}
		if t, ok := next[p.Bed.ID]; ok {
			what := present.TaskWords(t, v.Garden.Units(), garden.BatchIn(v.Batches, t.BatchID))
			row.Due, row.due = text.DayYear(t.Due)+", "+what, t.Due
			if t.Due <= v.Today && vm.OnQuery == "" {
				row.Now = "Due " + text.Day(t.Due) + ": " + what
			}
		}
		vm.List = append(vm.List, row)
	}
}

// phone sets what the phone's page shows in another way.
func (v *GroundView) phone(c *gin.Context, chosen int64, layer string) {
	v.Chosen = c.Query("bed") != ""
	for _, name := range []string{"bed", "on", "part"} {
		if x := c.Query(name); x != "" {
			v.Carry = append(v.Carry, view.Option{Value: name, Text: x})
		}
	}
	v.Look = view.Field{ID: "look", Name: "look", Hook: view.HookOpen}
	for _, l := range v.Layers {
		v.Look.Options = append(v.Look.Options, view.Option{Value: l.ID, Text: "Look at: " + l.Name, On: l.ID == layer})
	}
	for i := range v.List {
		v.List[i].On = v.Chosen && v.List[i].ID == chosen
	}
	v.First, v.Rest = v.List[:min(mostListed, len(v.List))], v.List[min(mostListed, len(v.List)):]
	v.RestSays = text.Count(len(v.Rest), "more bed", "more beds")
}

// change compares the shown day with today, and today with a year ago.
func (s *Handler) change(c *gin.Context, v *bedstate.View, today, day quantity.Day) (l svg.Layer, title string, err error) {
	other := today
	if day == today {
		other = today.AddMonths(-12)
	}
	what := text.DayYear(other)
	if c.Query("look") != svg.ChangeID {
		return svg.ChangeLayer(what, nil, false), "", nil
	}
	beside, err := s.App(c).BedState.On(c.Request.Context(), today, other, bedstate.ForecastOutlook{})
	if err != nil {
		return l, "", err
	}
	from := beside.Levels()
	earlier, later := &beside, v
	if other > day {
		earlier, later = v, &beside
	}
	sourer, sweeter := later.Drifted(earlier)
	between := text.DayYear(min(day, other)) + " to " + text.DayYear(max(day, other))
	title = between + ": " + text.Count(sourer, "bed more sour", "beds more sour") + ", " + strconv.Itoa(sweeter) + " sweeter"
	return svg.ChangeLayer(what, from, other > day), title, nil
}

// layers returns the colourings and the chosen one.
func (v *GroundView) layers(asked string, chosen int64, change svg.Layer) svg.Layer {
	all := append(svg.Layers(v.On), change)
	at := 0
	for i, l := range all {
		if l.ID == asked {
			at = i
		}
	}
	for i, l := range all {
		v.Layers = append(v.Layers, layerLink{l.ID, l.Name, site.BedHref(chosen) + v.OnQuery + "&look=" + l.ID, i == at})
	}
	v.Legend = all[at].Legend
	return all[at]
}

// Find redirects to the bed whose name contains the typed text; to the plan if none does.
func (s *Handler) Find(c *gin.Context) error {
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	want := garden.Fold(c.Query("q"))
	if l, err := s.App(c).Readings.Label(c.Request.Context(), want); err == nil {
		c.Redirect(http.StatusSeeOther, "/bench?sample="+l.Code())
		return nil
	}
	for _, starts := range []bool{true, false} {
		for _, p := range v.Beds {
			name := garden.Fold(p.Bed.Name)
			if want != "" && (starts && strings.HasPrefix(name, want) || !starts && strings.Contains(name, want)) {
				c.Redirect(http.StatusSeeOther, site.BedHref(p.Bed.ID))
				return nil
			}
		}
	}
	s.Fail(c, http.StatusNotFound, "No bed is called “"+c.Query("q")+"”.")
	return nil
}

// BedsCSV sends the beds on a day as CSV.
func (s *Handler) BedsCSV(c *gin.Context) error {
	day := s.On(c)
	v, err := s.App(c).BedState.On(c.Request.Context(), s.Clock.Today(), day, bedstate.ForecastOutlook{})
	if err != nil {
		return err
	}
	return s.SendFile(c, site.File{Name: "beds-" + day.String() + ".csv", Type: site.CSV}, func(w io.Writer) error {
		return exchange.WriteBeds(w, v)
	})
}

// headline returns the finding.
func headline(v bedstate.View) string {
	if len(v.Beds) == 0 {
		return "Nothing on the plan yet"
	}
	var parts []string
	for _, x := range []struct {
		s         bed.Standing
		one, many string
	}{{bed.Sour, "bed sour", "beds sour"}, {bed.TooSweet, "too sweet", "too sweet"}, {bed.Untested, "untested", "untested"}} {
		if n := v.Count(x.s); n > 0 {
			says := text.Count(n, x.one, x.many)
			if k := v.Working(x.s); k > 0 {
				says += " (" + text.Count(k, "treated", "treated") + ")"
			}
			parts = append(parts, says)
		}
	}
	clashes := 0
	for _, p := range v.Beds {
		if p.Conflict {
			clashes++
		}
	}
	if clashes > 0 {
		parts = append(parts, text.Count(clashes, "clash of crops", "clashes of crops"))
	}
	if len(parts) == 0 {
		return "Every bed is in range"
	}
	return strings.Join(parts, ", ")
}

// headlineOf returns the finding of a colouring.
func headlineOf(layer string, v bedstate.View, due map[int64]bool) string {
	switch layer {
	case "k":
		n := map[soil.Supply]int{}
		for _, p := range v.Beds {
			n[p.K.State]++
		}
		switch {
		case n[soil.Short] > 0 && n[soil.TooMuch] > 0:
			return text.Count(n[soil.Short], "bed short", "beds short") + " of potassium, " + text.Count(n[soil.TooMuch],
				"with too much", "with too much")
		case n[soil.TooMuch] > 0:
			return text.Count(n[soil.TooMuch], "bed", "beds") + " with too much potassium"
		case n[soil.Short] > 0:
			return text.Count(n[soil.Short], "bed short", "beds short") + " of potassium"
		}
		return "No bed is short of potassium"
	case "tested":
		late := 0
		for _, p := range v.Beds {
			if p.Bed.Kind != garden.KindHeap && (p.Reading == nil || v.Today-p.Reading.Date > testedLong) {
				late++
			}
		}
		if late == 0 {
			return "Every bed was tested within a year"
		}
		return text.Count(late, "bed", "beds") + " not tested within a year"
	case "due":
		if len(due) == 0 {
			return "Nothing is due"
		}
		return text.Count(len(due), "bed has", "beds have") + " something due"
	}
	return headline(v)
}

// testedLong is the age from which a test is old.
const testedLong quantity.Day = 365

// clashWords names two crops whose ranges do not overlap, after a comma.
func clashWords(p bedstate.State) string {
	if !p.Conflict {
		return ""
	}
	return ", " + p.First.Name + " and " + p.Second.Name + " clash"
}

func standingWords(p bedstate.State) string {
	acts := ""
	if w := p.AtWork; w != nil {
		acts = "; " + text.AtWork(w.What, w.Now, w.Settles)
	}
	switch p.Standing {
	case bed.Sour:
		return "sour by " + text.Off(p.Off) + acts
	case bed.TooSweet:
		return "too sweet by " + text.Off(p.Off) + acts
	case bed.InRange:
		return "in range" + acts
	}
	if p.Fizz != nil {
		_, by := text.ByJars(p.Fizz.Soil().Fizz)
		return by
	}
	return "untested"
}

// choose returns the bed to show: the one asked for, else one with a due task, else the one
// furthest from its range.
func choose(v bedstate.View, asked string, due map[int64]bool) int64 {
	if id, err := strconv.ParseInt(asked, 10, 64); err == nil {
		if _, ok := v.Bed(id); ok {
			return id
		}
	}
	best := v.Beds[0]
	for _, p := range v.Beds {
		if due[p.Bed.ID] && !due[best.Bed.ID] || due[p.Bed.ID] == due[best.Bed.ID] && p.Off > best.Off {
			best = p
		}
	}
	return best.Bed.ID
}
