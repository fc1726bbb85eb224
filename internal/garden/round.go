package garden

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// Candidate is a bed as a round sees it.
type Candidate struct {
	Plot Plot
	// Due is why it is to be sampled; "" when it is not yet.
	Due sampling.Due
	For sampling.Bed
}

// Candidates reads every bed that can be sampled on a day: all but heaps.
func (k Keeper) Candidates(ctx context.Context, today quantity.Day) (v View, out []Candidate, err error) {
	if v, err = k.View(ctx, today); err != nil {
		return v, nil, err
	}
	err = k.Store.Read(ctx, func(r Reader) error {
		as, err := r.ApplicationsSince((today - 2*365).String())
		if err != nil {
			return err
		}
		put := byBed(as, func(a Application) int64 { return a.BedID })
		retests := map[int64]quantity.Day{}
		for _, t := range v.Tasks {
			if _, ok := retests[t.BedID]; t.Kind == TaskRetest && !ok {
				retests[t.BedID] = t.Due
			}
		}
		for _, p := range v.Plots {
			if p.Bed.Kind != KindHeap {
				out = append(out, candidate(v.Garden, p, put[p.Bed.ID], retests[p.Bed.ID], today))
			}
		}
		return nil
	})
	return v, out, err
}

func candidate(g Garden, p Plot, as []Application, retest, today quantity.Day) Candidate {
	c := Candidate{Plot: p, For: sampling.Bed{ID: p.Bed.ID, Name: p.Bed.Name, Ground: p.Bed.Ground(g.SoilTable), Crop: p.Crop}}
	for _, a := range as {
		if p, ok := a.Put(); ok && a.Date <= today {
			c.For.Put = append(c.For.Put, p)
		}
	}
	var last, trusted quantity.Day
	if r := p.Reading; r != nil {
		ph := r.Soil().Water()
		c.For.PH, last = &ph, r.Date
		if t, _ := soil.FindMethod(r.Method); t.Dose == soil.Freely {
			trusted = r.Date
		}
	}
	c.Due = sampling.DueOn(p.Bed.Texture, g.RetestRhythm, trusted, last, retest, today)
	return c
}

// Letters name the samples of a round.
const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"

// Letter is the name of the nth sample of a round: A to Z, then AA.
func Letter(n int) string {
	if n < len(letters) {
		return letters[n : n+1]
	}
	return Letter(n/len(letters)-1) + letters[n%len(letters):n%len(letters)+1]
}

// RoundChoice is what a gardener chose of a round: which beds, and under which
// letter where the proposal was overruled.
type RoundChoice struct {
	Beds    map[int64]bool
	Letters map[int64]string
	Corer   sampling.Corer
	Layered bool
}

// Pair is two beds with what keeps them apart.
type Pair struct {
	A, B string
	Why  []sampling.Reason
}

// Draft is a round that is being planned.
type Draft struct {
	Candidates []Candidate
	Chosen     []Candidate
	Samples    []DraftSample
	// Order is the way through the chosen beds, Walk its length in metres.
	Order []int
	Walk  float64
	// Apart are the pairs of chosen beds that must not share a sample, the first
	// of them where they are more than can be read; AllApart is how many they are.
	Apart    []Pair
	AllApart int
}

// DraftSample is one mixed sample of a draft.
type DraftSample struct {
	sampling.Sample
	Letter string
	// Lost are the pairs in it that the rules keep apart: what is lost by
	// overruling them.
	Lost   []Pair
	Layers []sampling.Stretch
	Total  int
	// Grams are what a packet gets: of each layer, where they are kept apart.
	Grams  quantity.Mass
	Pieces int
	// Least is how many cores the ground alone wants, Wider the corer that gives
	// enough with them.
	Least int
	Wider quantity.Depth
}

// mostPairs is how many pairs are told one by one.
const mostPairs = 300

// Draft plans a round of the chosen beds. Letters that are given go before the
// proposal.
func (c RoundChoice) Draft(all []Candidate, today quantity.Day) Draft {
	d := Draft{Candidates: all}
	for _, x := range all {
		if c.Beds[x.Plot.Bed.ID] {
			d.Chosen = append(d.Chosen, x)
		}
	}
	beds := make([]sampling.Bed, len(d.Chosen))
	for i, x := range d.Chosen {
		beds[i] = x.For
	}
	for i := range beds {
		for j := i + 1; j < len(beds); j++ {
			why := sampling.Apart(&beds[i], &beds[j], today)
			if len(why) == 0 {
				continue
			}
			if d.AllApart++; len(d.Apart) < mostPairs {
				d.Apart = append(d.Apart, Pair{beds[i].Name, beds[j].Name, why})
			}
		}
	}
	for _, s := range c.samples(beds, today) {
		first := beds[s.Beds[0]].Ground
		s.Layers = []sampling.Stretch{{From: 0, To: first.Depth}}
		if c.Layered {
			s.Layers = sampling.Layers(first)
		}
		// Each layer goes into a packet of its own; the thinnest decides.
		length := first.Depth
		for _, l := range s.Layers {
			length = min(length, l.To-l.From)
		}
		s.Sample = sampling.Spread(beds, s.Sample, c.Corer, length)
		for _, n := range s.Cores {
			s.Total += n
		}
		s.Grams = c.Corer.Grams(length, first.Texture) * quantity.Mass(s.Total)
		s.Least, s.Pieces = sampling.CoresFor(s.Area)
		s.Least *= s.Pieces
		s.Wider = c.Corer.Across(s.Least, length, first.Texture)
		for n, i := range s.Beds {
			for _, j := range s.Beds[:n] {
				if why := sampling.Apart(&beds[j], &beds[i], today); len(why) > 0 {
					s.Lost = append(s.Lost, Pair{beds[j].Name, beds[i].Name, why})
				}
			}
		}
		d.Samples = append(d.Samples, s)
	}
	points := make([]sampling.Point, len(d.Chosen))
	for i, x := range d.Chosen {
		m := x.Plot.Bed.Middle()
		points[i] = sampling.Point{X: m.X, Y: m.Y}
	}
	d.Order, d.Walk = sampling.Walk(sampling.Point{}, points)
	return d
}

// TooMuch says which limit a draft breaks, by field: no round is walked with so
// many cores.
func (d Draft) TooMuch() Faults {
	all := 0
	for _, s := range d.Samples {
		for n, cores := range s.Cores {
			if all += cores; cores > mostBedCores {
				return Faults{"wanted": fmt.Sprintf("%s would give %s, and %d are the most: a wider corer or less of a sample is meant",
					d.Chosen[s.Beds[n]].Plot.Bed.Name, words.Count(cores, "core", "cores"), mostBedCores)}
			}
		}
	}
	if all > mostRoundCores {
		return Faults{"wanted": fmt.Sprintf("that makes %d cores, and %d are the most of a round: choose fewer beds, or a wider corer",
			all, mostRoundCores)}
	}
	return nil
}

// samples groups beds as proposed, then moves those that have a letter.
func (c RoundChoice) samples(beds []sampling.Bed, today quantity.Day) []DraftSample {
	of := make([]string, len(beds))
	for n, s := range sampling.Share(beds, today) {
		for _, i := range s.Beds {
			of[i] = Letter(n)
		}
	}
	for i := range beds {
		if l := strings.ToUpper(strings.TrimSpace(c.Letters[beds[i].ID])); l != "" {
			of[i] = l
		}
	}
	var out []DraftSample
	for i, l := range of {
		at := slices.IndexFunc(out, func(s DraftSample) bool { return s.Letter == l })
		if at < 0 {
			out = append(out, DraftSample{Letter: l})
			at = len(out) - 1
		}
		out[at].Beds = append(out[at].Beds, i)
		out[at].Area += beds[i].Ground.Area
	}
	slices.SortStableFunc(out, func(a, b DraftSample) int { return strings.Compare(a.Letter, b.Letter) })
	return out
}

// check says what is wrong with a choice.
func (c RoundChoice) check() Faults {
	f := c.Check()
	if len(c.Beds) == 0 {
		f["beds"] = "choose a bed or more"
	}
	return f
}

// Check says what stands against drafting a choice, by field.
func (c RoundChoice) Check() Faults {
	f := Faults{}
	if l := LimitCorer; !l.Holds(float64(c.Corer.Diameter)) {
		f["corer"] = fmt.Sprintf("a corer from %.0f to %.0f mm across is meant", l.Low*1000, l.High*1000)
	}
	if l := LimitWanted; !l.Holds(float64(c.Corer.Wanted)) {
		f["wanted"] = fmt.Sprintf("a sample of %.0f to %.0f g is meant", l.Low, l.High)
	}
	for _, l := range c.Letters {
		if len(l) > 2 || strings.Trim(strings.ToUpper(l), letters) != "" {
			f["letters"] = "a letter or two name a sample"
		}
	}
	return f
}

// StartRound sets out on a round: its samples get their codes, and every core
// its place.
func (k Keeper) StartRound(ctx context.Context, a Act, c RoundChoice) (round int64, r Receipt, err error) {
	if err := c.check().orNil(); err != nil {
		return 0, r, err
	}
	_, all, err := k.Candidates(ctx, a.Today)
	if err != nil {
		return 0, r, err
	}
	d := c.Draft(all, a.Today)
	if err := d.TooMuch().orNil(); err != nil {
		return 0, r, err
	}
	if len(d.Chosen) == 0 {
		return 0, r, Faults{"beds": "choose a bed or more"}
	}
	place := make([]int, len(d.Chosen))
	for n, i := range d.Order {
		place[i] = n + 1
	}
	r, err = k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		x := Round{Made: a.Today, Corer: c.Corer.Diameter, Wanted: c.Corer.Wanted, Layered: c.Layered, Walk: quantity.Round(d.Walk, 1)}
		if err := tx.Insert(&x); err != nil {
			return "", err
		}
		round = x.ID
		for _, s := range d.Samples {
			var lost []string
			for _, p := range s.Lost {
				lost = append(lost, p.A+" and "+p.B+": "+words.Reasons(p.Why))
			}
			y := Sample{RoundID: x.ID, Code: strconv.FormatInt(x.ID, 10) + s.Letter, Depth: d.Chosen[s.Beds[0]].Plot.Bed.Depth,
				State: SamplePlanned, Overruled: strings.Join(lost, ". ")}
			if err := tx.Insert(&y); err != nil {
				return "", err
			}
			for n, i := range s.Beds {
				if err := tx.Insert(&SampleBed{SampleID: y.ID, BedID: d.Chosen[i].Plot.Bed.ID, Cores: s.Cores[n], Place: place[i]}); err != nil {
					return "", err
				}
			}
		}
		return fmt.Sprintf("Set out on a round: %s from %s", words.Count(len(d.Samples), "sample", "samples"), words.Count(len(d.Chosen), "bed", "beds")), nil
	})
	return round, r, err
}

// Walk is a round with all that belongs to it.
type Walk struct {
	Garden  Garden
	Round   Round
	Samples []Sample
	// Beds are in the order of the way; Ground are their beds.
	Beds   []SampleBed
	Ground map[int64]Bed
	Taken  map[int64]map[int]Core
}

// Sample finds one of the walk's samples.
func (w Walk) Sample(id int64) Sample {
	for _, s := range w.Samples {
		if s.ID == id {
			return s
		}
	}
	return Sample{}
}

// Left is how many cores are still to be taken of a sample; of all with 0.
func (w Walk) Left(sample int64) int {
	n := 0
	for _, b := range w.Beds {
		if sample == 0 || b.SampleID == sample {
			n += b.Cores - len(w.Taken[b.ID])
		}
	}
	return n
}

// Walk reads a round.
func (k Keeper) Walk(ctx context.Context, round int64) (w Walk, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { w, err = walk(r, round); return err })
	return w, err
}

func walk(r Reader, round int64) (w Walk, err error) {
	if w.Garden, err = r.Garden(); err != nil {
		return w, err
	}
	if w.Round, err = Get[Round](r, round); err != nil {
		return w, err
	}
	if w.Samples, err = Where[Sample](r, "round_id", round); err != nil {
		return w, err
	}
	if w.Beds, err = r.SampleBedsOf(round); err != nil {
		return w, err
	}
	cores, err := r.CoresOf(round)
	if err != nil {
		return w, err
	}
	w.Taken = map[int64]map[int]Core{}
	for _, c := range cores {
		if w.Taken[c.SampleBedID] == nil {
			w.Taken[c.SampleBedID] = map[int]Core{}
		}
		w.Taken[c.SampleBedID][c.N] = c
	}
	beds, err := All[Bed](r)
	w.Ground = map[int64]Bed{}
	for _, b := range beds {
		w.Ground[b.ID] = b
	}
	return w, err
}

// Rounds lists the rounds, newest first.
func (k Keeper) Rounds(ctx context.Context) (rs []Round, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { rs, err = All[Round](r); return err })
	return rs, err
}

// Tick notes that a core was taken, at a moment that the phone told (it may
// have had no signal since). A core is ticked once however often it is told.
func (k Keeper) Tick(ctx context.Context, a Act, sampleBed int64, n int, at time.Time) (Receipt, error) {
	if at.After(a.At.Add(time.Hour)) || at.IsZero() {
		at = a.At // a clock that runs ahead
	}
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		b, err := Get[SampleBed](tx, sampleBed)
		if err != nil {
			return "", err
		}
		if n < 1 || n > b.Cores {
			return "", Faults{"core": fmt.Sprintf("this bed gives %s", words.Count(b.Cores, "core", "cores"))}
		}
		s, err := Get[Sample](tx, b.SampleID)
		if err != nil {
			return "", err
		}
		w, err := walk(tx, s.RoundID)
		if err != nil {
			return "", err
		}
		what := fmt.Sprintf("Core %d of %s, sample %s", n, w.Ground[b.BedID].Name, s.Code)
		if _, ok := w.Taken[b.ID][n]; ok {
			return what + ", told again", nil
		}
		if err := tx.Insert(&Core{SampleBedID: b.ID, N: n, At: at.UTC().Format(time.RFC3339)}); err != nil {
			return "", err
		}
		if w.Left(s.ID) == 1 && s.State == SamplePlanned {
			s.State, s.Taken = SampleTaken, a.Today
			what += "; the sample is complete"
			return what, tx.Update(&s)
		}
		return what, nil
	})
}

// NoteOddity keeps what was odd about a bed of a round.
func (k Keeper) NoteOddity(ctx context.Context, a Act, sampleBed int64, note string) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		b, err := Get[SampleBed](tx, sampleBed)
		if err != nil {
			return "", err
		}
		bed, err := Get[Bed](tx, b.BedID)
		if err != nil {
			return "", err
		}
		b.Note = strings.TrimSpace(note)
		if why := TextFault(b.Note, longestNote, true); why != "" {
			return "", Faults{"note": why}
		}
		return "Noted of " + bed.Name + ": " + b.Note, tx.Update(&b)
	})
}

// sampleSteps are the states a sample goes through, each with its words.
var sampleSteps = []struct{ state, says string }{{SamplePlanned, "planned"}, {SampleTaken, "taken"}, {SampleAtLab, "at the lab"}, {SampleRead, "read"}}

// MoveSample notes that a sample was taken or has gone to the lab.
func (k Keeper) MoveSample(ctx context.Context, a Act, id, version int64, state string) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		s, err := Get[Sample](tx, id)
		if err != nil {
			return "", err
		}
		s.Version = version
		switch state {
		case SampleTaken:
			s.Taken = a.Today
		case SampleAtLab:
			s.Sent = a.Today
			if s.Taken == 0 {
				s.Taken = a.Today
			}
		default:
			return "", Faults{"state": "taken or at the lab is meant"}
		}
		s.State = state
		i := slices.IndexFunc(sampleSteps, func(x struct{ state, says string }) bool { return x.state == state })
		return "Sample " + s.Code + " is " + sampleSteps[i].says, tx.Update(&s)
	})
}

// The zigzag along a bed: from side to side, clear of its ends; many cores go up
// one line across and down the next.
const (
	clearEnds = 0.1
	manyCores = 20
)

// zigzag is where the i-th of n cores stands along and across ground of a
// length and a width, as shares of them.
func zigzag(i, n int, length, width float64) (along, across float64) {
	rows := 2
	if n > manyCores {
		rows = max(2, int(math.Round(math.Sqrt(float64(n)*width/length))))
	}
	place := func(k, of int, clear float64) float64 {
		if of < 2 {
			return 0.5
		}
		return clear + (1-2*clear)*float64(k)/float64(of-1)
	}
	if rows == 2 {
		return place(i, n, clearEnds), 0.25 + 0.5*float64(i%2)
	}
	line, in := i/rows, i%rows
	if line%2 == 1 {
		in = rows - 1 - in
	}
	return place(line, (n+rows-1)/rows, clearEnds), place(in, rows, 2*clearEnds)
}

// CorePoints are n places for cores on a bed, zigzag along it and clear of its
// edges by a fifth of its width.
func (b Bed) CorePoints(n int) []Point {
	if n < 1 {
		return nil
	}
	switch b.Shape {
	case ShapeCircle, ShapeRings:
		circles := b.Circles()
		out := make([]Point, n)
		for i := range out {
			c := circles[i*len(circles)/n]
			// Round each ring at two thirds of its radius, and near the middle by turns.
			sin, cos := math.Sincos(2 * math.Pi * float64(i) * 0.381966)
			r := c.Radius * []float64{0.66, 0.33}[i%2]
			out[i] = Point{c.Middle.X + r*cos, c.Middle.Y + r*sin}
		}
		return out
	case ShapeOutline:
		return b.zigzagIn(n)
	}
	out := make([]Point, n)
	for i := range out {
		along, across := zigzag(i, n, max(b.W, b.H), min(b.W, b.H))
		if b.W < b.H {
			along, across = across, along
		}
		out[i] = b.Frame(along, across)
	}
	return out
}

// zigzagIn lays a fine grid over an outline, keeps what lies well inside, and
// takes n of it evenly.
func (b Bed) zigzagIn(n int) []Point {
	outline := b.Outline()
	low, high := b.Bounds()
	clear := 0.15 * math.Min(high.X-low.X, high.Y-low.Y)
	for ; ; clear /= 2 {
		var in []Point
		const fine = 40
		for i := range fine {
			x := low.X + (high.X-low.X)*(float64(i)+0.5)/fine
			for j := range fine {
				// Up one column and down the next.
				row := j
				if i%2 == 1 {
					row = fine - 1 - j
				}
				p := Point{x, low.Y + (high.Y-low.Y)*(float64(row)+0.5)/fine}
				if inside(p, outline) && fromEdge(p, outline) >= clear {
					in = append(in, p)
				}
			}
		}
		if len(in) >= n || clear < 1e-4 && len(in) > 0 {
			out := make([]Point, n)
			for i := range out {
				out[i] = in[(2*i+1)*len(in)/(2*n)]
			}
			return out
		}
		if clear < 1e-4 {
			return nil
		}
	}
}

// fromEdge is how far a point lies from the nearest edge of an outline.
func fromEdge(p Point, ps []Point) float64 {
	best := math.Inf(1)
	for i, a := range ps {
		c := ps[(i+1)%len(ps)]
		dx, dy := c.X-a.X, c.Y-a.Y
		t := ((p.X-a.X)*dx + (p.Y-a.Y)*dy) / math.Max(dx*dx+dy*dy, 1e-12)
		t = math.Max(0, math.Min(1, t))
		best = math.Min(best, math.Hypot(p.X-a.X-t*dx, p.Y-a.Y-t*dy))
	}
	return best
}

// Waiting is a sample that was taken and not read yet, with the names of its
// beds.
type Waiting struct {
	Code  string `db:"code"`
	State string `db:"state"`
	Beds  string `db:"beds"`
}
