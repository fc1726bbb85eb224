package web

import (
	"bytes"
	"cmp"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/walk"
	"zephyrfield/internal/web/draw"
)

// walkView plans a round.
type walkView struct {
	Page
	Form    Form
	Beds    []candidateView
	Samples []draftView
	Apart   []pairView
	// AllApart counts them all, More those that are not listed.
	AllApart, More int
	Rounds         []roundRow
	Way            string
	Plan           draw.Plan
	Layered        bool
	Total          int
}

type candidateView struct {
	ID             int64
	Name, Why      string
	Facts, Letter  string
	LetterID       string
	Chosen, Misses bool
}

type draftView struct {
	Letter, Beds, Says string
	Layers             string
	Lost               []string
}

type pairView struct{ Beds, Why string }

type roundRow struct{ Href, Made, Says string }

// roundChoice reads the form of a round; the first time it is the beds that
// are due.
func roundChoice(get func(string) string, list func(string) []string, all []walk.Candidate, f Form) walk.RoundChoice {
	c := walk.RoundChoice{Beds: map[int64]bool{}, Letters: map[int64]string{}, Layered: get("layered") == "yes",
		Corer: sampling.Corer{Diameter: sampling.UsualCorer, Wanted: sampling.UsualWanted}}
	asked := get("asked") != ""
	for _, x := range all {
		if !asked && x.Due != "" {
			c.Beds[x.Plot.Bed.ID] = true
		}
		c.Letters[x.Plot.Bed.ID] = strings.TrimSpace(get("letter-" + strconv.FormatInt(x.Plot.Bed.ID, 10)))
	}
	for _, s := range list("bed") {
		if id, err := strconv.ParseInt(s, 10, 64); err == nil {
			c.Beds[id] = true
		}
	}
	f.Values["corer"], f.Values["wanted"] = get("corer"), get("wanted")
	if mm, ok := f.number("corer"); ok {
		c.Corer.Diameter = quantity.Depth(mm / 1000)
	} else if f.Values["corer"] == "" {
		f.Values["corer"] = "19"
	}
	if g, ok := f.number("wanted"); ok {
		c.Corer.Wanted = quantity.Mass(g)
	} else if f.Values["wanted"] == "" {
		f.Values["wanted"] = "500"
	}
	return c
}

// given is 1 where something is said.
func given(says string) int { return min(len(says), 1) }

func (s *server) walkPlan(c *gin.Context) error {
	return s.showWalkPlan(c, http.StatusOK, noForm(), c.Query, c.QueryArray)
}

func (s *server) showWalkPlan(c *gin.Context, status int, f Form, get func(string) string, list func(string) []string) error {
	on := s.on(c)
	v, all, err := s.keep.Walk.Candidates(c.Request.Context(), on)
	if err != nil {
		return err
	}
	choice := roundChoice(get, list, all, f)
	tooMuch := choice.Check()
	for field, why := range tooMuch {
		f.Faults[field] = words.Sentence(why)
	}
	if len(f.Faults) > 0 {
		status = http.StatusUnprocessableEntity
		choice.Corer = sampling.Corer{Diameter: sampling.UsualCorer, Wanted: sampling.UsualWanted}
	}
	if tooMuch["letters"] != "" {
		choice.Letters = nil
	}
	d := choice.Draft(all, on)
	if faults := d.TooMuch(); len(faults) > 0 {
		// It is told at its field, and the round is drawn as it is usually taken.
		f.Faults["wanted"], status = words.Sentence(faults["wanted"]), http.StatusUnprocessableEntity
		choice.Corer = sampling.Corer{Diameter: sampling.UsualCorer, Wanted: sampling.UsualWanted}
		d = choice.Draft(all, on)
	}
	u := v.Garden.Units()
	view := walkView{Form: f, Layered: choice.Layered}
	letter := map[int64]string{}
	for _, x := range d.Samples {
		names := make([]string, len(x.Beds))
		for n, i := range x.Beds {
			b := d.Chosen[i].Plot.Bed
			letter[b.ID] = x.Letter
			names[n] = b.Name
			if len(x.Beds) > 1 {
				names[n] += " (" + words.Count(x.Cores[n], "core", "cores") + ")"
			}
		}
		view.Total += x.Total
		row := draftView{Letter: x.Letter, Beds: words.List(names), Layers: stretches(x.Layers, u),
			Says: words.Count(x.Total, "core", "cores") + ", about " + u.Mass(x.Grams)}
		if len(x.Layers) > 1 {
			row.Says += " of each layer"
		}
		if x.Total > x.Least+len(x.Beds) {
			row.Says += "; with a corer of " + strconv.Itoa(int(math.Round(float64(x.Wider)*1000))) + " mm, " +
				strconv.Itoa(x.Least) + " would do"
		}
		if x.Pieces > 1 {
			row.Says += "; more ground than one sample can stand for: split it into " + strconv.Itoa(x.Pieces)
		}
		for _, p := range x.Lost {
			row.Lost = append(row.Lost, p.A+" and "+p.B+": "+words.Reasons(p.Why))
		}
		view.Samples = append(view.Samples, row)
	}
	for _, x := range all {
		b := x.Plot.Bed
		facts := lastRead(x.Plot)
		if x.Due == sampling.NeverRead {
			facts = "" // why it is due says so
		}
		view.Beds = append(view.Beds, candidateView{ID: b.ID, Name: b.Name, Why: words.DueFor(x.Due), Facts: facts, Letter: letter[b.ID],
			LetterID: "letter-" + strconv.FormatInt(b.ID, 10), Chosen: choice.Beds[b.ID]})
	}
	// What is due stands first.
	slices.SortStableFunc(view.Beds, func(a, b candidateView) int { return cmp.Compare(given(b.Why), given(a.Why)) })
	view.AllApart, view.More = d.AllApart, d.AllApart-len(d.Apart)
	for _, p := range d.Apart {
		view.Apart = append(view.Apart, pairView{p.A + " and " + p.B, words.Capital(words.Reasons(p.Why))})
	}
	rounds, err := s.keep.Walk.Rounds(c.Request.Context())
	if err != nil {
		return err
	}
	for _, r := range rounds {
		says := "under way"
		if r.Ended != 0 {
			says = "all read"
		}
		view.Rounds = append(view.Rounds, roundRow{"/walk/" + strconv.FormatInt(r.ID, 10), words.DayYear(r.Made), says})
	}
	if len(d.Chosen) > 0 {
		view.Way = "The way from the plan's corner past " + words.Count(len(d.Chosen), "bed",
			"beds") + " is " + u.Length(quantity.Round(d.Walk, 0)) + "."
	}
	view.Plan = walkPicture(v, d, letter, u)
	view.Page = s.page(c, v.Garden, "Walk", walkTitle(d))
	if err := s.year(c, &view.Page, &v); err != nil {
		return err
	}
	s.render(c, status, "walk", view)
	return nil
}

// walkPicture draws the beds of a draft with their cores and the way.
func walkPicture(v plots.View, d walk.Draft, letter map[int64]string, u words.Units) draw.Plan {
	scene := draw.Scene{Plots: v.Plots, Marks: v.Marks, Layer: draw.Layers(v.Today)[0], Units: u, Letters: letter}
	cores := map[int]int{}
	for _, s := range d.Samples {
		for n, i := range s.Beds {
			cores[i] = s.Cores[n]
		}
	}
	for _, i := range d.Order {
		b := d.Chosen[i].Plot.Bed
		scene.Way = append(scene.Way, b.Middle())
		scene.Cores = append(scene.Cores, b.CorePoints(cores[i])...)
	}
	return draw.PlanOf(scene, 620, 400)
}

func walkTitle(d walk.Draft) string {
	due := 0
	for _, x := range d.Candidates {
		if x.Due != "" {
			due++
		}
	}
	if due == 0 {
		return "No bed is due for a sample"
	}
	return words.Count(due, "bed is", "beds are") + " due for a sample"
}

func lastRead(p plots.Plot) string {
	if p.Reading == nil {
		return "no reading"
	}
	return "pH " + words.PH(p.PH) + " by " + words.Short(p.Reading.Method) + ", " + words.DayYear(p.Reading.Date)
}

func stretches(ls []sampling.Stretch, u words.Units) string {
	out := make([]string, len(ls))
	for i, l := range ls {
		from := strings.TrimSuffix(u.Depth(l.From), " "+u.Depths().Name)
		out[i] = from + " to " + u.Depth(l.To)
	}
	return words.List(out)
}

func (s *server) startRound(c *gin.Context) error {
	f := noForm()
	_, all, err := s.keep.Walk.Candidates(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	choice := roundChoice(c.PostForm, c.PostFormArray, all, f)
	if len(f.Faults) == 0 {
		id, r, err := s.keep.Walk.StartRound(c.Request.Context(), s.act(c), choice)
		if err == nil {
			to := "/walk/" + strconv.FormatInt(id, 10)
			if r.Repeated {
				to = "/walk"
			}
			s.done(c, to, r)
			return nil
		}
		if !f.add(err) {
			return err
		}
	}
	f.sentences()
	return s.showWalkPlan(c, http.StatusUnprocessableEntity, f, c.PostForm, c.PostFormArray)
}

// roundView is a round being walked.
type roundView struct {
	Page
	ID      int64
	Beds    []stopView
	Samples []sampleRow
	Says    string
	Wet     string
	Left    int
	LabelsHref,
	CSVHref string
	// Answered says that the lab's report is there; Simulated, that a stand-in
	// wrote it.
	Answered  string
	Simulated bool
}

// stopView is one bed on the way.
type stopView struct {
	ID                      int64
	Place, Code, Name, Says string
	Cores                   []coreView
	Picture                 *draw.CorePicture
	Note, NoteKey           string
	Left                    int
	// Taken says how many cores are taken, and when the last was.
	Taken string
}

type coreView struct {
	N       int
	Key, At string
	Taken   bool
}

type sampleRow struct {
	ID, Version       int64
	Code, Beds, State string
	Says, Lost        string
	CanTake, CanSend  bool
	ReadHref, Key     string
}

// readWalk reads the round of an address.
func (s *server) readWalk(c *gin.Context) (w walk.Walk, id int64, err error) {
	if id, err = paramID(c); err == nil {
		w, err = s.keep.Walk.Walk(c.Request.Context(), id)
	}
	return w, id, err
}

func (s *server) walk(c *gin.Context) error {
	w, id, err := s.readWalk(c)
	if err != nil {
		return err
	}
	u := w.Garden.Units()
	v := roundView{ID: id, Left: w.Left(0), LabelsHref: c.Request.URL.Path + "/labels", CSVHref: c.Request.URL.Path + "/round.csv",
		Wet: "Too wet to crumble? Wait, or spread the sample overnight in the air. Never in an oven, never in the sun."}
	v.Says = words.Count(len(w.Beds), "bed", "beds") + ", " + u.Length(quantity.Round(w.Round.Walk,
		0)) + " to walk. A clean plastic pail: metal spoils zinc and iron. Not the edge, not the wet hollow, not where a heap stood."
	for _, b := range w.Beds {
		v.Beds = append(v.Beds, stopOf(w, b, u))
	}
	for _, x := range w.Samples {
		v.Samples = append(v.Samples, sampleRowOf(w, x))
	}
	if r, ready, err := s.answered(c, w); err != nil {
		s.Log.Error("asking the lab", "error", err)
	} else if ready {
		v.Answered = s.Lab.Name() + " has answered for " + words.List(r.Codes) + "."
		v.Simulated = s.Lab.Simulated()
	}
	title := words.Count(v.Left, "core", "cores") + " to take"
	if v.Left == 0 {
		title = "Every core is taken"
	}
	v.Page = s.page(c, w.Garden, "Walk", title)
	if err := s.undated(c, &v.Page); err != nil {
		return err
	}
	s.render(c, http.StatusOK, "round", v)
	return nil
}

func stopOf(w walk.Walk, b garden.SampleBed, u words.Units) stopView {
	bed, sample := w.Ground[b.BedID], w.Sample(b.SampleID)
	v := stopView{ID: b.ID, Place: strconv.Itoa(b.Place), Code: sample.Code, Name: bed.Name, Note: b.Note, NoteKey: newKey(),
		Left: b.Cores - len(w.Taken[b.ID])}
	layers := []sampling.Stretch{{From: 0, To: bed.Depth}}
	if w.Round.Layered {
		layers = sampling.Layers(bed.Ground(w.Garden.SoilTable))
	}
	v.Says = words.Count(b.Cores, "core", "cores") + ", " + stretches(layers, u)
	if len(layers) > 1 {
		v.Says += ", each layer in a pail of its own"
	}
	var last int64
	for n := 1; n <= b.Cores; n++ {
		x := coreView{N: n, Key: newKey()}
		if k, ok := w.Taken[b.ID][n]; ok {
			x.Taken = true
			if at, err := time.Parse(time.RFC3339, k.At); err == nil {
				x.At = at.Local().Format("15:04")
				last = max(last, at.Unix())
			}
		}
		v.Cores = append(v.Cores, x)
	}
	if done := b.Cores - v.Left; done > 0 {
		v.Taken = strconv.Itoa(done) + " of " + strconv.Itoa(b.Cores) + " taken, last at " + time.Unix(last, 0).Format("15:04")
	}
	taken := map[int]bool{}
	for n := range w.Taken[b.ID] {
		taken[n] = true
	}
	v.Picture = draw.CoresOf(bed, b.Cores, taken)
	return v
}

func sampleRowOf(w walk.Walk, x garden.Sample) sampleRow {
	var names []string
	for _, b := range w.Beds {
		if b.SampleID == x.ID {
			names = append(names, w.Ground[b.BedID].Name)
		}
	}
	row := sampleRow{ID: x.ID, Version: x.Version, Code: x.Code, Beds: words.List(names), Key: newKey(), Lost: x.Overruled}
	switch x.State {
	case garden.SamplePlanned:
		row.State, row.CanTake = words.Count(w.Left(x.ID), "core", "cores")+" left", true
	case garden.SampleTaken:
		row.State, row.CanSend = "taken "+words.Day(x.Taken), true
	case garden.SampleAtLab:
		row.State = "at the lab since " + words.Day(x.Sent)
	case garden.SampleRead:
		row.State = "read " + words.Day(x.Read)
	}
	if x.State == garden.SampleTaken || x.State == garden.SampleAtLab {
		row.ReadHref = "/bench?sample=" + x.Code
	}
	return row
}

// tick takes one core. A phone that had no signal tells when it was.
func (s *server) tick(c *gin.Context) error {
	id, err1 := strconv.ParseInt(c.PostForm("stop"), 10, 64)
	n, err2 := strconv.Atoi(c.PostForm("core"))
	if err1 != nil || err2 != nil {
		return garden.ErrMissing
	}
	at := s.Clock.Now()
	if ms, err := strconv.ParseInt(c.PostForm("at"), 10, 64); err == nil {
		at = time.UnixMilli(ms)
	}
	_, err := s.keep.Walk.Tick(c.Request.Context(), s.act(c), id, n, at)
	f := noForm()
	if f.add(err) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("core")))
		return nil
	}
	if err != nil {
		return err
	}
	s.back(c, "#stop-"+c.PostForm("stop"))
	return nil
}

// back answers a post of a page that works without a signal: nothing for its
// script, the page again for a plain request.
func (s *server) back(c *gin.Context, at string) {
	if c.GetHeader("X-Queued") != "" {
		c.Status(http.StatusNoContent)
		return
	}
	c.Redirect(http.StatusSeeOther, "/walk/"+c.Param("id")+at)
}

func (s *server) noteOddity(c *gin.Context) error {
	id, err := strconv.ParseInt(c.PostForm("stop"), 10, 64)
	if err != nil {
		return garden.ErrMissing
	}
	_, err = s.keep.Walk.NoteOddity(c.Request.Context(), s.act(c), id, c.PostForm("note"))
	f := noForm()
	if f.add(err) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("note")))
		return nil
	}
	if err != nil {
		return err
	}
	s.back(c, "#stop-"+c.PostForm("stop"))
	return nil
}

func (s *server) moveSample(c *gin.Context) error {
	id, version, err := taskPost(c)
	if err != nil {
		return err
	}
	r, err := s.keep.Walk.MoveSample(c.Request.Context(), s.act(c), id, version, c.PostForm("state"))
	f := noForm()
	if f.add(err) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(f.Fault("state")))
		return nil
	}
	if err != nil {
		return err
	}
	s.done(c, c.PostForm("back"), r)
	return nil
}

// labelsView is a sheet of labels with the sample form.
type labelsView struct {
	Page
	Labels []labelView
	Back   string
}

type labelView struct{ Code, Garden, Beds, Depth, Date string }

func (s *server) labels(c *gin.Context) error {
	w, id, err := s.readWalk(c)
	if err != nil {
		return err
	}
	u := w.Garden.Units()
	v := labelsView{Back: "/walk/" + strconv.FormatInt(id, 10)}
	for _, x := range w.Samples {
		row := sampleRowOf(w, x)
		layers := []sampling.Stretch{{From: 0, To: x.Depth}}
		for _, b := range w.Beds {
			if b.SampleID == x.ID {
				if apart := garden.LayersOf(w.Round, w.Ground[b.BedID]); apart != nil {
					layers = apart
				}
				break
			}
		}
		for n, l := range layers {
			code := x.Code
			if len(layers) > 1 {
				code += "-" + strconv.Itoa(n+1)
			}
			date := x.Taken
			if date == 0 {
				date = w.Round.Made
			}
			v.Labels = append(v.Labels, labelView{code, w.Garden.Name, row.Beds, stretches([]sampling.Stretch{l}, u), words.DayYear(date)})
		}
	}
	v.Page = s.page(c, w.Garden, "Walk", words.Count(len(v.Labels), "label", "labels"))
	if err := s.undated(c, &v.Page); err != nil {
		return err
	}
	s.render(c, http.StatusOK, "labels", v)
	return nil
}

func (s *server) roundCSV(c *gin.Context) error {
	w, id, err := s.readWalk(c)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := exchange.WriteRound(&b, w); err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="round-`+strconv.FormatInt(id, 10)+`.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
	return nil
}
