package round

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// roundView is a round in progress.
type roundView struct {
	view.Page
	ID      int64
	Beds    []stopView
	Samples []sampleRow
	Says    string
	Wet     string
	Left    int
	LabelsHref,
	CSVHref string
	// Answered is the notice that the lab's report is ready; Simulated, that a stand-in wrote it.
	Answered  string
	Simulated bool
}

// stopView is a bed of the round.
type stopView struct {
	ID                      int64
	Place, Code, Name, Says string
	Cores                   []coreView
	Picture                 *svg.CorePicture
	Note                    view.Field
	NoteKey                 string
	Left                    int
	// Tray is how its cores are cut, nil if they are not.
	Tray *svg.Tray
	// Taken is how many cores are taken, and when the last was.
	Taken string
}

// coreView is a stop with its cores, of which Each are taken close together.
type coreView struct {
	N, Each       int
	Key, At, Says string
	Taken         bool
}

// says returns its button's label.
func (x *coreView) says(bed string) string {
	says := fmt.Sprintf("Core %d of %s", x.N, bed)
	if x.Each > 1 {
		says = fmt.Sprintf("Stop %d, %d cores, of %s", x.N, x.Each, bed)
	}
	if x.Taken {
		says += ", taken " + x.At
	}
	return says
}

type sampleRow struct {
	ID, Version       int64
	Code, Beds, State string
	Says, Lost        string
	CanTake, CanSend  bool
	ReadHref, Key     string
}

// readWalk returns the round of the request.
func (s *Handler) readWalk(c *gin.Context) (w rounds.Walk, id int64, err error) {
	if id, err = site.ParamID(c); err == nil {
		w, err = s.App(c).Rounds.Walk(c.Request.Context(), id)
	}
	return w, id, err
}

// Walk shows a round: where to take each core, and what is taken.
func (s *Handler) Walk(c *gin.Context) error {
	w, id, err := s.readWalk(c)
	if err != nil {
		return err
	}
	u := w.Garden.Units()
	v := roundView{ID: id, Left: w.Left(0), LabelsHref: c.Request.URL.Path + "/labels", CSVHref: c.Request.URL.Path + "/round.csv",
		Wet: "Too wet to crumble? Wait, or spread the sample overnight in the air. Never in an oven, never in the sun."}
	v.Says = text.Count(len(w.Beds), "bed", "beds") + ", " + u.Length(quantity.Round(w.Round.Walk,
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
		v.Answered = s.Lab.Name() + " has answered for " + text.List(r.Codes) + "."
		v.Simulated = s.Lab.Simulated()
	}
	title := text.Count(v.Left, "core", "cores") + " to take"
	if v.Left == 0 {
		title = "Every core is taken"
	}
	v.Page = s.Page(c, w.Garden, "Walk", title)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "round", v)
	return nil
}

// noteField is the field of a bed's oddity.
func noteField(b garden.SampleBed) view.Field {
	f := form.NoForm()
	f.Values["note"] = b.Note
	return f.Resolve(form.Row{Name: "note", ID: present.IDOn("note", b.ID), Label: "Anything odd here", MaxLength: 300, Silent: true})
}

func stopOf(w rounds.Walk, b garden.SampleBed, u text.Units) stopView {
	bed, sample := w.Ground[b.BedID], w.Sample(b.SampleID)
	v := stopView{ID: b.ID, Place: strconv.Itoa(b.Place), Code: sample.Code, Name: bed.Name, Note: noteField(b), NoteKey: form.NewKey(),
		Left: b.Cores - len(w.Taken[b.ID])}
	layers := []sampling.Stretch{{From: 0, To: bed.Depth}}
	if w.Round.Layered {
		layers = sampling.Layers(bed.Ground(w.Garden.SoilTable))
	}
	stops := b.StopCount()
	v.Says = text.Cored(b.Cores, stops) + ", " + present.Stretches(layers, u)
	if sample.Corer != 0 {
		v.Says += ", with the corer of " + u.Corer(sample.Corer)
	}
	switch {
	case len(layers) > 1 && w.Round.Tray:
		v.Says += ", each core cut in the tray"
		v.Tray = svg.TrayOf(sample.Code, layers, u)
	case len(layers) > 1:
		v.Says += ", each layer in a pail of its own"
	}
	var last int64
	taken := map[int]bool{}
	for n := 1; n <= stops; n++ {
		from, to := b.CoresAt(n)
		x := coreView{N: n, Each: to - from + 1, Key: form.NewKey()}
		if k, ok := w.Taken[b.ID][to]; ok {
			taken[n] = true
			x.Taken = true
			if at, err := time.Parse(time.RFC3339, k.At); err == nil {
				x.At = at.Local().Format("15:04")
				last = max(last, at.Unix())
			}
		}
		x.Says = x.says(bed.Name)
		v.Cores = append(v.Cores, x)
	}
	if done := b.Cores - v.Left; done > 0 {
		v.Taken = strconv.Itoa(done) + " of " + strconv.Itoa(b.Cores) + " taken, last at " + time.Unix(last, 0).Format("15:04")
	}
	v.Picture = svg.CoresOf(bed, stops, b.Cores/stops, taken)
	return v
}

func sampleRowOf(w rounds.Walk, x garden.Sample) sampleRow {
	var names []string
	for _, b := range w.Beds {
		if b.SampleID == x.ID {
			names = append(names, w.Ground[b.BedID].Name)
		}
	}
	row := sampleRow{ID: x.ID, Version: x.Version, Code: x.Code, Beds: text.List(names), Key: form.NewKey(), Lost: x.Overruled}
	switch x.State {
	case garden.SamplePlanned:
		row.State, row.CanTake = text.Count(w.Left(x.ID), "core", "cores")+" left", true
	case garden.SampleTaken:
		row.State, row.CanSend = "taken "+text.Day(x.Taken), true
	case garden.SampleAtLab:
		row.State = "at the lab since " + text.Day(x.Sent)
	case garden.SampleRead:
		row.State = "read " + text.Day(x.Read)
	}
	if x.State == garden.SampleTaken || x.State == garden.SampleAtLab {
		row.ReadHref = "/bench?sample=" + x.Code
	}
	return row
}

// Tick ticks a stop's cores. A phone that was offline sends the time.
func (s *Handler) Tick(c *gin.Context) error {
	id, err1 := strconv.ParseInt(c.PostForm("stop"), 10, 64)
	n, err2 := strconv.Atoi(c.PostForm("core"))
	if err1 != nil || err2 != nil {
		return garden.ErrMissing
	}
	at := s.Clock.Now()
	if ms, err := strconv.ParseInt(c.PostForm("at"), 10, 64); err == nil {
		at = time.UnixMilli(ms)
	}
	_, err := s.App(c).Rounds.Tick(c.Request.Context(), s.Actor(c), id, n, at)
	f := form.NoForm()
	if f.Add(err) {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(f.Fault("core")))
		return nil
	}
	if err != nil {
		return err
	}
	s.back(c, "#stop-"+c.PostForm("stop"))
	return nil
}

// back answers a post of a page that works offline: nothing for its script, the page again for a
// plain request.
func (s *Handler) back(c *gin.Context, at string) {
	if c.GetHeader("X-Queued") != "" {
		c.Status(http.StatusNoContent)
		return
	}
	c.Redirect(http.StatusSeeOther, "/walk/"+c.Param("id")+at)
}

// NoteOddity saves a bed's oddity.
func (s *Handler) NoteOddity(c *gin.Context) error {
	id, err := strconv.ParseInt(c.PostForm("stop"), 10, 64)
	if err != nil {
		return garden.ErrMissing
	}
	_, err = s.App(c).Rounds.NoteOddity(c.Request.Context(), s.Actor(c), id, c.PostForm("note"))
	f := form.NoForm()
	if f.Add(err) {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(f.Fault("note")))
		return nil
	}
	if err != nil {
		return err
	}
	s.back(c, "#stop-"+c.PostForm("stop"))
	return nil
}

// MoveSample marks a sample as taken or sent.
func (s *Handler) MoveSample(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	r, err := s.App(c).Rounds.MoveSample(c.Request.Context(), s.Actor(c), id, version, c.PostForm("state"))
	f := form.NoForm()
	if f.Add(err) {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(f.Fault("state")))
		return nil
	}
	return s.Finish(c, c.PostForm("back"), r, err)
}

// labelsView is a sheet of labels.
type labelsView struct {
	view.Page
	Labels []labelView
	Back   string
}

type labelView struct{ Code, Garden, Beds, Depth, Date string }

// Labels shows the labels of a round's samples, for print.
func (s *Handler) Labels(c *gin.Context) error {
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
			v.Labels = append(v.Labels, labelView{code, w.Garden.Name, row.Beds, present.Stretches([]sampling.Stretch{l}, u), text.DayYear(date)})
		}
	}
	v.Page = s.Page(c, w.Garden, "Walk", text.Count(len(v.Labels), "label", "labels"))
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "labels", v)
	return nil
}

// RoundCSV sends a round's samples as CSV.
func (s *Handler) RoundCSV(c *gin.Context) error {
	w, id, err := s.readWalk(c)
	if err != nil {
		return err
	}
	return s.SendFile(c, site.File{Name: "round-" + strconv.FormatInt(id, 10) + ".csv", Type: site.CSV}, func(out io.Writer) error {
		return exchange.WriteRound(out, w)
	})
}
