package rounds

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Candidate is a bed as a round sees it.
type Candidate struct {
	// State is shared between callers and must not be modified.
	State *bedstate.State
	// Due is why it is to be sampled; "" when it is not due.
	Due sampling.Due
	For sampling.Site
}

// Candidates returns every bed that can be sampled on a day: all but heaps.
func (svc Service) Candidates(ctx context.Context, today quantity.Day) (v bedstate.View, out []Candidate, err error) {
	// Both are read from one state of the garden, under which they are cached.
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if v, err = svc.BedState.ViewIn(r, today, today); err != nil {
			return err
		}
		out, err = garden.Cached(r, candidateLists, today, func() ([]Candidate, error) { return candidates(r, &v) })
		return err
	})
	return v, slices.Clone(out), err
}

// candidateLists caches the candidates of a day.
var candidateLists = cache.Kind{Name: "candidates", Room: 2}

func candidates(r Reader, v *bedstate.View) (out []Candidate, err error) {
	as, err := r.ApplicationsSince((v.Today - 2*365).String())
	if err != nil {
		return nil, err
	}
	put := bedstate.ByBed(as, func(a garden.Application) int64 { return a.BedID })
	retests := map[int64]quantity.Day{}
	for _, t := range v.Tasks {
		if _, ok := retests[t.BedID]; t.Kind == garden.TaskRetest && !ok {
			retests[t.BedID] = t.Due
		}
	}
	for i := range v.Beds {
		if p := &v.Beds[i]; p.Bed.Kind != garden.KindHeap {
			out = append(out, candidate(&v.Garden, p, put[p.Bed.ID], retests[p.Bed.ID], v.Today))
		}
	}
	slices.SortStableFunc(out, func(a, b Candidate) int { return confirmsLast(&a) - confirmsLast(&b) })
	return out, nil
}

// confirmsLast orders beds whose surprising test is to be confirmed first.
func confirmsLast(c *Candidate) int {
	if c.Due == sampling.Confirm {
		return 0
	}
	return 1
}

func candidate(g *garden.Garden, p *bedstate.State, as []garden.Application, retest, today quantity.Day) Candidate {
	c := Candidate{State: p, For: sampling.Site{ID: p.Bed.ID, Name: p.Bed.Name, Ground: p.Ground, Crop: p.Crop}}
	var put ledger.Ledger
	for _, a := range as {
		if p, ok := a.Put(); ok {
			put = append(put, p)
		}
	}
	c.For.Treated = sampling.Treated(put, today)
	var last, trusted quantity.Day
	if r := p.Reading; r != nil {
		ph := r.Soil().Water()
		c.For.PH, last = &ph, r.Date
		if t, _ := soil.FindMethod(r.Method); t.Dose == soil.Freely {
			trusted = r.Date
		}
	}
	if x := p.AtWork; x != nil && retest == 0 {
		retest = x.Again
	}
	if p.Surprise != nil {
		c.Due, c.For.Confirms = sampling.Confirm, true
		return c
	}
	c.Due = sampling.DueOn(p.Bed.Texture, g.RetestRhythm, trusted, last, retest, today)
	return c
}

// RoundChoice is the gardener's choices for a round: the beds, and the sample letters where the
// proposal was overruled.
type RoundChoice struct {
	Beds    map[int64]bool
	Letters map[int64]string
	// Corer is the tool, Corers the diameters of samples with a tool of their own, by letter.
	Corer  sampling.Corer
	Corers map[string]quantity.Depth
	// Layered keeps the layers of undug ground apart, Tray cuts the cores into them in a tray.
	Layered, Tray bool
	// Each gives every bed a sample of its own; otherwise those share one that may.
	Each bool
}

// Pair is two beds with what keeps them apart.
type Pair struct {
	A, B string
	Why  []sampling.Reason
}

// Draft is a planned round before it is started.
type Draft struct {
	Candidates []Candidate
	Chosen     []Candidate
	Samples    []DraftSample
	// Proposed are the letters of the proposal.
	Proposed map[int64]string
	// Order is the route through the chosen beds, Walk its length in metres.
	Order []int
	Walk  float64
	// Apart are the pairs of chosen beds that must not share a sample, at most mostPairs of them;
	// AllApart is their number.
	Apart    []Pair
	AllApart int
}

// DraftSample is one mixed sample of a draft.
type DraftSample struct {
	sampling.Sample
	Letter string
	// Corer is its tool.
	Corer sampling.Corer
	// Lost are its pairs that the rules keep apart: what is lost by overruling them.
	Lost   []Pair
	Layers []sampling.Stretch
	Total  int
	// Grams is the mass of a packet: of each layer if they are kept apart.
	Grams  quantity.Mass
	Pieces int
	// Least is the number of cores that the ground alone needs, Wider the corer that gives enough
	// with them.
	Least int
	Wider quantity.Depth
}

// AtStops returns the number of places where its cores are taken.
func (s *DraftSample) AtStops() (sum int) {
	for _, n := range s.Stops {
		sum += n
	}
	return sum
}

// mostPairs is the largest number of pairs listed.
const mostPairs = 300

// Draft plans a round of the chosen beds. Chosen letters override the proposal.
func (c RoundChoice) Draft(all []Candidate) Draft {
	d := Draft{Candidates: all}
	for i := range all {
		if c.Beds[all[i].State.Bed.ID] {
			d.Chosen = append(d.Chosen, all[i])
		}
	}
	beds := make([]sampling.Site, len(d.Chosen))
	for i := range d.Chosen {
		beds[i] = d.Chosen[i].For
	}
	for i := range beds {
		for j := i + 1; j < len(beds); j++ {
			why := sampling.Apart(&beds[i], &beds[j])
			if len(why) == 0 {
				continue
			}
			if d.AllApart++; len(d.Apart) < mostPairs {
				d.Apart = append(d.Apart, Pair{beds[i].Name, beds[j].Name, why})
			}
		}
	}
	samples, proposed := c.samples(beds)
	d.Proposed = make(map[int64]string, len(beds))
	for i, l := range proposed {
		d.Proposed[beds[i].ID] = l
	}
	for _, s := range samples {
		d.Samples = append(d.Samples, c.drafted(s, beds))
	}
	points := make([]sampling.Point, len(d.Chosen))
	for i := range d.Chosen {
		m := d.Chosen[i].State.Bed.Middle()
		points[i] = sampling.Point{X: m.X, Y: m.Y}
	}
	d.Order, d.Walk = sampling.Walk(sampling.Point{}, points)
	return d
}

// drafted returns a sample with its cores, its layers and its lost pairs.
func (c *RoundChoice) drafted(s DraftSample, beds []sampling.Site) DraftSample {
	first := beds[s.Beds[0]].Ground
	s.Layers = []sampling.Stretch{{From: 0, To: first.Depth}}
	if c.Layered {
		s.Layers = sampling.Layers(first)
	}
	// Each layer has its own packet; the thinnest decides.
	length := first.Depth
	for _, l := range s.Layers {
		length = min(length, l.To-l.From)
	}
	s.Corer = c.of(s.Letter)
	s.Sample = sampling.Spread(beds, s.Sample, s.Corer, length)
	for _, n := range s.Cores {
		s.Total += n
	}
	s.Grams = s.Corer.Grams(length, first.Texture) * quantity.Mass(s.Total)
	s.Least, s.Pieces = sampling.CoresFor(s.Area)
	s.Least *= s.Pieces
	s.Wider = s.Corer.Across(s.Least, length, first.Texture)
	for n, i := range s.Beds {
		for _, j := range s.Beds[:n] {
			if why := sampling.Apart(&beds[j], &beds[i]); len(why) > 0 {
				s.Lost = append(s.Lost, Pair{beds[j].Name, beds[i].Name, why})
			}
		}
	}
	return s
}

// of returns a sample's corer.
func (c *RoundChoice) of(letter string) sampling.Corer {
	x := c.Corer
	x.Diameter = cmp.Or(c.Corers[letter], x.Diameter)
	return x
}

// TooMuch returns the limit that a draft exceeds, by field.
func (d Draft) TooMuch() garden.Faults {
	all := 0
	for _, s := range d.Samples {
		for n, cores := range s.Cores {
			if all += cores; cores > garden.MostBedCores {
				return garden.Faults{"wanted": fmt.Sprintf("%s would give %s, and %d are the most: a wider corer or less of a sample is "+
					"meant",
					d.Chosen[s.Beds[n]].State.Bed.Name, text.Count(cores, "core", "cores"), garden.MostBedCores)}
			}
		}
	}
	if all > garden.MostRoundCores {
		return garden.Faults{"wanted": fmt.Sprintf("that makes %d cores, and %d are the most of a round: choose fewer beds, or a wider "+
			"corer",
			all, garden.MostRoundCores)}
	}
	return nil
}

// samples groups beds as proposed, then moves those with a chosen letter; proposed are the letters
// before that.
func (c RoundChoice) samples(beds []sampling.Site) (out []DraftSample, proposed []string) {
	of := make([]string, len(beds))
	for i := range of {
		of[i] = garden.Letter(i)
	}
	if !c.Each {
		for n, s := range sampling.Share(beds) {
			for _, i := range s.Beds {
				of[i] = garden.Letter(n)
			}
		}
	}
	proposed = slices.Clone(of)
	for i := range beds {
		if l := strings.ToUpper(strings.TrimSpace(c.Letters[beds[i].ID])); l != "" && !c.Each {
			of[i] = l
		}
	}
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
	return out, proposed
}

// check validates a choice.
func (c RoundChoice) check() garden.Faults {
	f := c.Check()
	if len(c.Beds) == 0 {
		f["beds"] = "choose a bed or more"
	}
	return f
}

// Check validates a choice, by field.
func (c RoundChoice) Check() garden.Faults {
	f := garden.Faults{}
	if !garden.LimitCorer.Holds(float64(c.Corer.Diameter)) {
		f["corer"] = corerMeant()
	}
	if l := garden.LimitWanted; !l.Holds(float64(c.Corer.Wanted)) {
		f["wanted"] = fmt.Sprintf("a sample of %.0f to %.0f g is meant", l.Low, l.High)
	}
	for _, w := range c.Corers {
		if !garden.LimitCorer.Holds(float64(w)) {
			f["corers"] = corerMeant()
		}
	}
	for _, l := range c.Letters {
		if len(l) > 2 || strings.Trim(strings.ToUpper(l), garden.Letters) != "" {
			f["letters"] = "a letter or two name a sample"
		}
	}
	return f
}

func corerMeant() string {
	l := garden.LimitCorer
	return fmt.Sprintf("a corer from %.0f to %.0f mm across is meant", l.Low*1000, l.High*1000)
}

// StartRound starts a round: its samples get their codes, and every core its place.
func (svc Service) StartRound(ctx context.Context, a garden.Actor, c RoundChoice) (round int64, r garden.Receipt, err error) {
	if err := c.check().OrNil(); err != nil {
		return 0, r, err
	}
	_, all, err := svc.Candidates(ctx, a.Today)
	if err != nil {
		return 0, r, err
	}
	d := c.Draft(all)
	if err := d.TooMuch().OrNil(); err != nil {
		return 0, r, err
	}
	if len(d.Chosen) == 0 {
		return 0, r, garden.Faults{"beds": "choose a bed or more"}
	}
	place := make([]int, len(d.Chosen))
	for n, i := range d.Order {
		place[i] = n + 1
	}
	r, err = garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x := garden.Round{Made: a.Today, Corer: c.Corer.Diameter, Wanted: c.Corer.Wanted, Layered: c.Layered,
			Tray: c.Layered && c.Tray, Walk: quantity.Round(d.Walk, 1)}
		if err := tx.Insert(&x); err != nil {
			return "", err
		}
		round = x.ID
		for _, s := range d.Samples {
			var lost []string
			for _, p := range s.Lost {
				lost = append(lost, p.A+" and "+p.B+": "+text.Reasons(p.Why))
			}
			y := garden.Sample{RoundID: x.ID, Code: strconv.FormatInt(x.ID, 10) + s.Letter, Depth: d.Chosen[s.Beds[0]].State.Bed.Depth,
				Corer: c.Corers[s.Letter], State: garden.SamplePlanned, Overruled: strings.Join(lost, ". ")}
			if err := tx.Insert(&y); err != nil {
				return "", err
			}
			for n, i := range s.Beds {
				if err := tx.Insert(&garden.SampleBed{SampleID: y.ID, BedID: d.Chosen[i].State.Bed.ID, Cores: s.Cores[n], Stops: s.Stops[n],
					Place: place[i]}); err != nil {
					return "", err
				}
			}
		}
		return fmt.Sprintf("Set out on a round: %s from %s", text.Count(len(d.Samples), "sample", "samples"),
			text.Count(len(d.Chosen), "bed", "beds")), nil
	})
	return round, r, err
}
