package walk

import (
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// walkView plans a round.
type walkView struct {
	view.Page
	Form    form.Form
	Beds    []candidateView
	Samples []draftView
	Apart   []pairView
	// AllApart is the number of pairs, More that of those not listed.
	AllApart, More int
	Rounds         []roundRow
	Way            string
	Plan           svg.Plan
	// Share is the choice of sharing samples; Each is set if none is shared.
	Share []view.Choice
	Each  bool
	// Layers, Tray and Lone are checkboxes; TrayOn is set if Tray is checked.
	Layers, Tray, Lone view.Field
	TrayOn             bool
	// Deep is set if a sample has separate layers.
	Deep  bool
	Total int
	// Picks select many beds at once, Stretch those between two of the list.
	Picks   []view.Option
	Stretch []view.Field
	// Corers are the widths used before.
	Corers []string
}

// CorerFields returns the fields of corer and mass.
func (v *walkView) CorerFields() []view.Field {
	return v.Form.Rows([]form.Row{
		{Name: "corer", Label: "Corer, " + v.CorersIn() + " across", Mode: form.Decimal, Suggests: append([]string{}, v.Corers...)},
		{Name: "wanted", Label: "The lab wants, " + v.Units.Samples().Name, Mode: form.Decimal}})
}

// CorersIn returns the unit of a corer's width.
func (v *walkView) CorersIn() string { return v.Units.Corers().Name }

// ask resolves the fields besides beds and corer.
func (v *walkView) ask(choice rounds.RoundChoice) {
	f := v.Form
	for name, on := range map[string]bool{"layered": choice.Layered, "tray": choice.Tray, "lone": choice.Corer.Lone} {
		if on {
			f.Values[name] = form.Yes
		}
	}
	tick := func(name, label string) view.Field {
		return f.Resolve(form.Row{Name: name, Label: label, Mode: form.Tick})
	}
	v.Layers = tick("layered", "Keep the layers separate where the ground is not dug")
	v.Tray, v.TrayOn = tick("tray", "Cut each core into its layers in a tray"), choice.Tray
	v.Lone = tick("lone", "Each core at its own spot, even with a narrow corer")
	if choice.Each {
		f.Values["share"] = shareEach
	}
	v.Each = choice.Each
	v.Share = []view.Choice{{ID: "share-may", Name: "share", Text: "Share samples where allowed", On: !choice.Each},
		{ID: "share-each", Name: "share", Value: shareEach, Text: "One sample a bed", On: choice.Each}}
}

// stretch resolves the two ends of a selected stretch.
func (v *walkView) stretch(from, to string) {
	list := make([]view.Option, len(v.Beds))
	for i := range v.Beds {
		list[i] = view.Option{Value: v.Beds[i].Take.Value, Text: v.Beds[i].Take.Text}
	}
	v.Form.Values["from"], v.Form.Values["to"] = from, to
	v.Stretch = v.Form.Rows([]form.Row{{Name: "from", Label: "From", Options: list}, {Name: "to", Label: "To", Options: list}})
}

type candidateView struct {
	// Take selects the bed, LetterField is its sample.
	Take        view.Choice
	LetterField view.Field
	// Read is its last reading, which Fact names, Seen what was noted of it.
	Why, Read, Fact, Seen string
	// Proposed is the proposed letter, Key the field's name.
	Proposed, Key string
}

type draftView struct {
	Letter, Beds, Says string
	Layers             string
	Lost               []string
	// Own is the width of its own corer.
	Own view.Field
}

type pairView struct{ Beds, Why string }

type roundRow struct{ Href, Made, Says string }

// roundChoice reads the form of a round; initially the due beds.
func roundChoice(get func(string) string, list func(string) []string, all []rounds.Candidate, f form.Form, u text.Units,
	usual quantity.Depth) rounds.RoundChoice {
	c := rounds.RoundChoice{Beds: map[int64]bool{}, Letters: map[int64]string{}, Layered: get("layered") == "yes", Tray: get("tray") == "yes",
		Corers: map[string]quantity.Depth{}, Corer: sampling.Corer{Diameter: usual, Wanted: sampling.UsualWanted, Lone: get("lone") == "yes"}}
	c.Each = get("share") == shareEach
	for _, s := range list("bed") {
		if id, err := strconv.ParseInt(s, 10, 64); err == nil {
			c.Beds[id] = true
		}
	}
	pick := get("pick")
	if get("asked") == "" && pick == "" {
		pick = pickDue
	}
	if pick == "" {
		for n := range all {
			id := all[n].State.Bed.ID
			key := strconv.FormatInt(id, 10)
			if l := strings.TrimSpace(get("letter-" + key)); l != get("proposed-"+key) { // not overruled
				c.Letters[id] = l
			}
			for _, l := range []string{garden.Letter(n), strings.ToUpper(c.Letters[id])} {
				if at := "corer-" + l; l != "" && get(at) != "" {
					f.Values[at] = get(at)
					if w, ok := f.Number(at); ok {
						c.Corers[l] = quantity.Depth(w * u.Corers().Size)
					}
				}
			}
		}
	} else {
		picked(all, &c, pick, get("from"), get("to"))
	}
	f.Values["corer"], f.Values["wanted"] = get("corer"), get("wanted")
	if x, ok := f.Number("corer"); ok {
		c.Corer.Diameter = quantity.Depth(x * u.Corers().Size)
	} else if f.Values["corer"] == "" {
		f.Values["corer"] = form.Figure(float64(usual), u.Corers(), 2)
	}
	if g, ok := f.Number("wanted"); ok {
		c.Corer.Wanted = quantity.Mass(g * u.Samples().Size)
	} else if f.Values["wanted"] == "" {
		f.Values["wanted"] = form.Figure(float64(sampling.UsualWanted), u.Samples(), 0)
	}
	return c
}

// WalkPlan shows the form of a round, and its route.
func (s *Handler) WalkPlan(c *gin.Context) error {
	return s.showWalkPlan(c, http.StatusOK, form.NoForm(), c.Query, c.QueryArray)
}

func (s *Handler) showWalkPlan(c *gin.Context, status int, f form.Form, get func(string) string, list func(string) []string) error {
	day := s.On(c)
	v, all, err := s.App(c).Rounds.Candidates(c.Request.Context(), day)
	if err != nil {
		return err
	}
	rounds, err := s.App(c).Rounds.Rounds(c.Request.Context())
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	usual := usualCorer(rounds)
	choice := roundChoice(get, list, all, f, u, usual)
	tooMuch := choice.Check()
	for field, why := range tooMuch {
		f.Faults[field] = text.Sentence(why)
	}
	if len(f.Faults) > 0 {
		status = http.StatusUnprocessableEntity
		choice.Corer, choice.Corers = sampling.Corer{Diameter: usual, Wanted: sampling.UsualWanted}, nil
	}
	if tooMuch["letters"] != "" {
		choice.Letters = nil
	}
	d := choice.Draft(all)
	if faults := d.TooMuch(); len(faults) > 0 {
		// It is reported at its field, and the round is drawn with the defaults.
		f.Faults["wanted"], status = text.Sentence(faults["wanted"]), http.StatusUnprocessableEntity
		choice.Corer, choice.Corers = sampling.Corer{Diameter: sampling.UsualCorer, Wanted: sampling.UsualWanted}, nil
		d = choice.Draft(all)
	}
	vm := walkView{Form: f, Picks: picks(all), Corers: usedCorers(rounds, u)}
	vm.ask(choice)
	asks, err := s.App(c).Observation.Asks(c.Request.Context(), day)
	if err != nil {
		return err
	}
	letter := vm.samples(d, u)
	vm.candidates(all, d, choice, letter, asks)
	vm.stretch(get("from"), get("to"))
	vm.AllApart, vm.More = d.AllApart, d.AllApart-len(d.Apart)
	for _, p := range d.Apart {
		vm.Apart = append(vm.Apart, pairView{p.A + " and " + p.B, text.Capital(u.Reasons(p.Why))})
	}
	vm.rounds(rounds)
	if len(d.Chosen) > 0 {
		vm.Way = "The way from the plan’s corner past " + text.Count(len(d.Chosen), "bed", "beds") + " is " +
			u.Length(quantity.Round(d.Walk, 0)) + "."
	}
	vm.Plan = walkPicture(v, d, letter, u)
	vm.Page = s.Page(c, v.Garden, "Walk", walkTitle(d))
	if err := s.Year(c, &vm.Page, &v); err != nil {
		return err
	}
	s.Render(c, status, "walk", &vm)
	return nil
}

// samples lists a draft's samples, and returns each bed's letter.
func (v *walkView) samples(d rounds.Draft, u text.Units) map[int64]string {
	letter := map[int64]string{}
	for _, x := range d.Samples {
		names := make([]string, len(x.Beds))
		for n, i := range x.Beds {
			b := &d.Chosen[i].State.Bed
			letter[b.ID] = x.Letter
			names[n] = b.Name
			if len(x.Beds) > 1 {
				names[n] += " (" + text.Count(x.Cores[n], "core", "cores") + ")"
			}
		}
		v.Total += x.Total
		row := draftView{Letter: x.Letter, Beds: text.List(names), Layers: present.Stretches(x.Layers, u),
			Says: text.Cored(x.Total, x.AtStops()) + ", about " + u.Mass(x.Grams)}
		row.Own = v.Form.Resolve(form.Row{Name: "corer-" + x.Letter, Label: "Its corer, " + v.CorersIn() + " across", Form: "round-form",
			Mode: form.Decimal, Suggests: v.Corers})
		if len(x.Layers) > 1 {
			row.Says += " of each layer"
			v.Deep = true
		}
		if x.Total > x.Least+len(x.Beds) {
			row.Says += "; with a corer of " + u.Corer(x.Wider) + ", " +
				strconv.Itoa(x.Least) + " would do"
		}
		if x.Pieces > 1 {
			row.Says += "; too large for one sample: split it into " + strconv.Itoa(x.Pieces)
		}
		for _, p := range x.Lost {
			row.Lost = append(row.Lost, p.A+" and "+p.B+": "+u.Reasons(p.Why))
		}
		v.Samples = append(v.Samples, row)
	}
	return letter
}

// candidates lists the beds that can be sampled, due ones first.
func (v *walkView) candidates(all []rounds.Candidate, d rounds.Draft, choice rounds.RoundChoice, letter map[int64]string,
	asks map[int64]garden.Observation) {
	for _, x := range listed(all) {
		b := &x.State.Bed
		key := strconv.FormatInt(b.ID, 10)
		row := candidateView{Why: text.DueFor(x.Due), Proposed: d.Proposed[b.ID], Key: key,
			Take: view.Choice{ID: "take-" + key, Name: "bed", Value: key, Text: b.Name, On: choice.Beds[b.ID]}}
		if x.Due != sampling.NeverRead { // whose reason says so
			row.Read = present.LastRead(x.State)
		}
		if x.State.Reading != nil {
			row.Fact = fact.Read(b.ID)
		}
		if a, ok := asks[b.ID]; ok {
			row.Seen = "seen: " + text.Lower(text.SymptomName(a.Sign)) + ", " + text.SymptomAsks(a.Sign)
		}
		v.Form.Values["letter-"+key] = letter[b.ID]
		row.LetterField = v.Form.Resolve(form.Row{Name: "letter-" + key, Called: "Sample of " + b.Name, MaxLength: 2, Group: "letters"})
		v.Beds = append(v.Beds, row)
	}
}

func (v *walkView) rounds(all []garden.Round) {
	for _, r := range all {
		says := "under way"
		if r.Ended != 0 {
			says = "all read"
		}
		v.Rounds = append(v.Rounds, roundRow{"/walk/" + strconv.FormatInt(r.ID, 10), text.DayYear(r.Made), says})
	}
}

// walkPicture draws a draft's beds with cores and route.
func walkPicture(v bedstate.View, d rounds.Draft, letter map[int64]string, u text.Units) svg.Plan {
	scene := svg.Scene{Beds: v.Beds, Marks: v.Marks, Layer: svg.Layers(v.Today)[0], Units: u, Letters: letter}
	stops := map[int]int{}
	for _, s := range d.Samples {
		for n, i := range s.Beds {
			stops[i] = s.Stops[n]
		}
	}
	for _, i := range d.Order {
		b := &d.Chosen[i].State.Bed
		scene.Way = append(scene.Way, b.Middle())
		scene.Cores = append(scene.Cores, b.CorePoints(stops[i])...)
	}
	return svg.PlanOf(scene, 620, 400)
}

func walkTitle(d rounds.Draft) string {
	due := 0
	for i := range d.Candidates {
		if d.Candidates[i].Due != "" {
			due++
		}
	}
	if due == 0 {
		return "No bed is due for a sample"
	}
	return text.Count(due, "bed is", "beds are") + " due for a sample"
}

// StartRound starts the shown round.
func (s *Handler) StartRound(c *gin.Context) error {
	f := form.NoForm()
	v, all, err := s.App(c).Rounds.Candidates(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	rounds, err := s.App(c).Rounds.Rounds(c.Request.Context())
	if err != nil {
		return err
	}
	choice := roundChoice(c.PostForm, c.PostFormArray, all, f, v.Garden.Units(), usualCorer(rounds))
	if len(f.Faults) == 0 {
		id, r, err := s.App(c).Rounds.StartRound(c.Request.Context(), s.Actor(c), choice)
		if err == nil {
			to := "/walk/" + strconv.FormatInt(id, 10)
			if r.Repeated {
				to = "/walk"
			}
			s.Done(c, to, r)
			return nil
		}
		if !f.Add(err) {
			return err
		}
	}
	f.Sentences()
	return s.showWalkPlan(c, http.StatusUnprocessableEntity, f, c.PostForm, c.PostFormArray)
}
