package daysheet

import (
	"cmp"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type sheetView struct {
	view.Page
	Day string
	// On is the day of the sheet, for ticks made offline.
	On      string
	Weather string
	Ahead   *skyView
	Kit     []string
	Due     []taskView
	Settled []taskView
	Coming  []taskView
	Next    string
	Count   string
	// Waits are the rests that wait for tests, Missed the missed applications.
	Waits  []present.WaitView
	Missed []present.MissedView
}

type taskView struct {
	ID, Version      int64
	Bed, Facts, When string
	// Fact names its amount, DueFact its day; "" for what has none.
	Fact, DueFact string
	Late          string
	IsApplication bool
	// IsStep is set for a preparation step named StepName; Asks for the soil check, with the last
	// result in Note.
	IsStep, Asks     bool
	StepName, Note   string
	Big, Unit, Aside string
	Material         string
	Method           string
	Dots             *svg.Dots
	Button           string
	// Then are the steps due after this one, of the same Preparation.
	Then         []string
	Preparation  int64
	Key, SkipKey string
	Href         string
	Says         string
	Done         bool
	// Planned and Amount are the planned amount for a field and in words, Exact the same to the
	// gram.
	Planned, Amount, Exact string
	Measures               []view.Option
	Max                    string
	// Form is what was typed at a refused task; Typed is set then. Moved is why it is not on its
	// planned day.
	Form  form.Form
	Typed bool
	// Other are the fields of another amount or day, Why that of skipping it.
	Other []view.Field
	Why   view.Field
	Moved present.MovedWords
	// Held is why it must not be applied, DoseHref where to plan it again.
	Held, DoseHref string
	// Overtaken is the notice that a later reading may have changed it.
	Overtaken string
}

// Sum returns the task for the day's list: its amount, or what there is to do.
func (v taskView) Sum() string {
	switch {
	case v.IsApplication:
		return v.Big + " " + v.Unit
	case v.IsStep:
		return v.StepName
	}
	return "a test"
}

// Sheet shows the work of a day: which bed, which material, how much.
func (s *Handler) Sheet(c *gin.Context) error { return s.ShowSheet(c, http.StatusOK, 0, form.Form{}) }

// ShowSheet renders the day; typed is shown at the task that it was typed at.
func (s *Handler) ShowSheet(c *gin.Context, status int, task int64, typed form.Form) error {
	sh, err := s.App(c).Schedule.Sheet(c.Request.Context(), s.Clock.Today(), s.On(c))
	if err != nil {
		return err
	}
	v := sheetView{Page: s.Page(c, sh.Garden, "Day sheet", sheetHeadline(sh)), Day: text.Weekday(sh.Today), On: sh.Today.String(),
		Weather: s.soilWords(sh)}
	if sky, now := s.sky(c.Request.Context(), sh); sky != nil {
		v.Ahead, v.Weather = sky, cmp.Or(now, v.Weather)
		sky.Fault = typed.Fault("to")
	}
	seen := map[string]bool{}
	for _, t := range sh.Due {
		if v.follows(t) {
			continue
		}
		x := taskOf(sh, t)
		if t.ID == task {
			x.Form, x.Typed = typed, true
		}
		x.asks()
		v.Due = append(v.Due, x)
		if x.Held != "" {
			continue
		}
		for _, k := range text.Kit(t.What) {
			if !seen[k] {
				seen[k] = true
				v.Kit = append(v.Kit, k)
			}
		}
	}
	for _, t := range sh.Settled {
		v.Settled = append(v.Settled, taskOf(sh, t))
	}
	for _, t := range sh.Coming {
		v.Coming = append(v.Coming, taskOf(sh, t))
	}
	if sh.Next != nil && len(sh.Coming) == 0 {
		v.Next = "Next after that: " + text.DayYear(sh.Next.Due) + ", " + present.TaskWords(*sh.Next,
			sh.Garden.Units(), garden.BatchIn(sh.Batches, sh.Next.BatchID)) + " on " + sh.Beds[sh.Next.BedID].Name
		if m := present.MovedOf(sh.Moved, *sh.Next, sh.Garden.Units()); m.Says != "" {
			v.Next += " (" + m.Says + ")"
		}
		v.Next += "."
	}
	v.Waits, v.Missed = present.WaitsOn(sh), present.MissedOn(sh)
	if n := len(sh.Due) + len(sh.Settled); n > 0 {
		v.Count = text.Count(len(sh.Settled), "of", "of") + " " + strconv.Itoa(n) + " settled"
	}
	if err := s.Year(c, &v.Page, nil); err != nil {
		return err
	}
	s.Render(c, status, "sheet", v)
	return nil
}

// follows reports whether a task follows another of the sheet in a preparation, and adds it there,
// since steps are sequential.
func (v *sheetView) follows(t garden.Task) bool {
	if t.PreparationID == nil {
		return false
	}
	for i := range v.Due {
		if x := &v.Due[i]; x.Preparation == *t.PreparationID {
			x.Then = append(x.Then, text.Lower(text.StepName(t.Step, t.Says)))
			return true
		}
	}
	return false
}

func (s *Handler) soilWords(sh schedule.Sheet) string {
	climate := sh.Garden.Warmth()
	says := "Soil usually " + text.Temperature(climate.At(sh.Today)) + " now."
	if from := site.SkyFrom(climate, sh.Today); climate.At(sh.Today) != climate.Usual(sh.Today) {
		says = "Soil " + text.Temperature(climate.At(sh.Today)) + ", " + from + "."
	}
	if soil.Frozen(climate.At(sh.Today)) {
		return says + " Most likely frozen: look before you spread."
	}
	return says + " Look for wind, rain and frost yourself."
}

func sheetHeadline(sh schedule.Sheet) string {
	beds, tests, held := map[int64]bool{}, map[int64]bool{}, 0
	var due []garden.Task
	families := map[material.Family]string{}
	for _, t := range sh.Due {
		if t.Kind != garden.TaskApplication {
			tests[t.BedID] = true
			continue
		}
		if _, ok := sh.Held[t.ID]; ok {
			held++
			continue
		}
		beds[t.BedID] = true
		due = append(due, t)
		m, _ := material.Find(t.What)
		families[m.Family] = string(m.Family)
	}
	switch {
	case len(beds) == 0 && held > 0:
		return text.Count(held, "application is", "applications are") + " held back"
	case len(beds) == 0 && len(tests) == 0 && len(sh.Settled) > 0:
		return "All done for today"
	case len(beds) == 0 && len(tests) == 0:
		return "Nothing due today"
	case len(beds) == 0:
		return text.Count(len(tests), "bed to test", "beds to test")
	}
	names := slices.Sorted(maps.Values(families))
	day := text.Capital(text.List(names)) + " day"
	return day + ": " + text.Count(len(beds), "bed", "beds") + ", " + sumOf(sh, due)
}

// sumOf returns the total of several applications: in scoops if they are of one batch.
func sumOf(sh schedule.Sheet, tasks []garden.Task) string {
	var total quantity.Mass
	of := tasks[0].BatchID
	for _, t := range tasks {
		total += t.Total
		if of != nil && (t.BatchID == nil || *t.BatchID != *of) {
			of = nil
		}
	}
	return present.Brief(total, present.MeasureOf(sh.Batches, of), sh.Garden.Units())
}

func taskOf(sh schedule.Sheet, t garden.Task) taskView {
	b := sh.Beds[t.BedID]
	u := sh.Garden.Units()
	v := taskView{ID: t.ID, Version: t.Version, Bed: b.Name, When: text.Weekday(t.Due), IsApplication: t.Kind == garden.TaskApplication,
		Key: form.NewKey(), SkipKey: form.NewKey(), Href: site.BedHref(t.BedID), Facts: u.Area(b.Area()), Done: t.State == garden.Done,
		Fact: fact.Amount(t), DueFact: fact.Due(t)}
	if t.PreparationID != nil {
		v.Preparation = *t.PreparationID
	}
	if t.Due < sh.Today {
		v.Late = "due since " + text.Weekday(t.Due)
	}
	v.Moved = present.MovedOf(sh.Moved, t, u)
	v.chance(sh, t)
	v.Form, v.Max = form.NoForm(), sh.Today.String()
	if t.Kind == garden.TaskStep {
		return v.step(t, u)
	}
	if !v.IsApplication {
		v.Href = "/bench?bed=" + strconv.FormatInt(t.BedID, 10)
		v.Says = "Test again: " + u.Depth(t.Depth) + " deep, by " + text.Short(t.Method) + ", as before."
		if t.Step != "" {
			v.Says = "Take a sample " + u.Depth(t.Depth) + " deep and test it, by " + text.Short(t.Method) + ". " + u.StepHow(t.Step)
		}
		v.Says += present.WaitsFor(sh, t)
		if t.State == garden.Done {
			v.Says = "tested"
		} else if t.State == garden.Skipped {
			v.Says = present.SkippedWords(t)
		}
		return v
	}
	if on, held := sh.Held[t.ID]; held {
		v.Held = "Held back: the reading that it rests on was deleted on " + text.DayYear(on) + "."
		v.DoseHref = site.DoseHref(t.BedID)
	}
	if o, ok := sh.Overtaken[t.ID]; ok && v.Held == "" {
		v.Overtaken = "Read " + text.PH(o.PH) + " on " + text.DayYear(o.Date) + ", after this was planned."
		v.DoseHref = site.DoseHref(t.BedID)
	}
	v.amounts(sh, t, b)
	switch t.State {
	case garden.Done:
		v.Says = u.Amount(t.Total, present.MeasureOf(sh.Batches, t.BatchID)) + " put on"
		if a, ok := sh.Put[t.ID]; ok {
			v.Says = u.Amount(a.Total, present.MeasureOf(sh.Batches, a.BatchID)) + " put on"
			if a.Note != "" {
				v.Says += ": " + a.Note
			}
		}
	case garden.Skipped:
		v.Says = present.SkippedWords(t)
	default:
		v.Says = u.Amount(t.Total, present.MeasureOf(sh.Batches, t.BatchID)) + " of " + v.Material
	}
	return v
}

// amounts sets how much of what an application takes, and how.
func (v *taskView) amounts(sh schedule.Sheet, t garden.Task, b garden.Bed) {
	u := sh.Garden.Units()
	v.Material = text.Material(t.What)
	var scoop *text.Scoop
	if t.BatchID != nil {
		shelf := sh.Batches[*t.BatchID]
		v.Material, scoop = text.Lower(shelf.Name), shelf.Measure()
	}
	v.Facts += " · " + v.Material
	if p, ok := sh.States[t.BedID]; ok {
		if crop := serves(p, sh.Library, t); crop != "" {
			v.Facts += " · " + crop
		}
	}
	v.Exact = u.MassExact(t.Total)
	amount := u.InHand(t.What, t.Total, scoop)
	says, about, _ := strings.Cut(amount.Aside, "; ")
	v.Big, v.Unit, v.Aside = amount.Big, amount.Unit, strings.TrimPrefix(says+", "+u.Rate(t.Rate), ", ")
	if about != "" {
		v.Aside += "; " + about
	}
	v.Amount = amount.Big + " " + amount.Unit
	kg := u.Weights()
	v.Planned, v.Measures = form.Figure(float64(t.Total.Weighable()), kg, 3), []view.Option{{Value: kg.Name, Text: kg.Name}}
	if scoop != nil {
		v.counted(t.Total, b, *scoop)
	}
	v.Button = "Put on " + v.Amount
	if each := u.Each(t.Total, b.Pieces(), scoop); each != "" {
		v.Aside = strings.TrimPrefix(v.Aside+"; "+each, "; ")
	}
	worked := b.Worked
	if p, ok := sh.States[t.BedID]; ok {
		worked = p.Spread()
	}
	v.Method = u.Method(t.What, worked, b.Depth)
	if v.Dots != nil {
		v.Method = "One " + scoop.Name + " at each dot. " + v.Method
	}
}

// asks resolves the fields of the task's forms.
func (v *taskView) asks() {
	v.Other = v.Form.Rows(append(present.AmountTable(v.ID, "What was really put on", v.Planned, v.Measures),
		form.Row{Name: "on", ID: present.IDOn("on", v.ID), Label: "On", Mode: form.Date, Max: v.Max},
		form.Row{Name: "note", ID: present.IDOn("note", v.ID), Label: "Note, for the record", MaxLength: 200, Box: form.Wide}))
	v.Why = v.Form.Resolve(form.Row{Name: "why", ID: present.IDOn("why", v.ID), Label: "Why not (for the record)", MaxLength: 200})
}

// counted sets an amount in the gardener's scoop; a small fraction of one stays a weight.
func (v *taskView) counted(total quantity.Mass, b garden.Bed, scoop text.Scoop) {
	n := text.Scoops(total, scoop.Of)
	if n == 0 {
		return
	}
	v.Amount = scoop.Bare(total)
	v.Planned = strconv.FormatFloat(n.Number(), 'f', -1, 64)
	v.Measures = append([]view.Option{{Value: present.InScoops, Text: scoop.Name + "s"}}, v.Measures...)
	if whole, even := n.Whole(); even {
		v.Dots = svg.DotsOf(b, whole)
	}
}

// PutOn ticks an application, or shows why it cannot be.
func (s *Handler) PutOn(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	tick := applications.Tick{Task: id, Version: version, Note: f.Value("note")}
	// A chosen day overrides the day of the sheet.
	for _, field := range []string{"day", "on"} {
		if f.Value(field) != "" {
			tick.On = f.Day(field)
		}
	}
	if f.Value("planned") == "" && (f.Value("amount") != "" || f.Value("on") == "" && f.Value("note") == "") {
		in := s.Units(c).Weights()
		name := in.Name
		if f.Is("measure", present.InScoops) {
			name = present.InScoops
		}
		if n := f.Needed("amount", "How much was put on, in "+name+"?"); name == present.InScoops {
			tick.Scoops = &n
		} else {
			g := quantity.Mass(n * in.Size)
			tick.Total = &g
		}
	}
	if len(f.Faults) > 0 {
		return s.ShowSheet(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Applications.PutOn(c.Request.Context(), s.Actor(c), tick)
	if f.Add(err) {
		f.Sentences()
		return s.ShowSheet(c, http.StatusUnprocessableEntity, id, f)
	}
	return s.Finish(c, "/sheet", r, err)
}

// Skip marks a task as skipped, with the reason.
func (s *Handler) Skip(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	r, err := s.App(c).Schedule.Skip(c.Request.Context(), s.Actor(c), id, version, c.PostForm("why"))
	return s.Finish(c, "/sheet", r, err)
}
