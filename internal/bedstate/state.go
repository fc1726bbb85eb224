package bedstate

import (
	"math"
	"slices"
	"sort"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// State is a bed as it stands on a day.
type State struct {
	Bed garden.Bed
	// Now are the crops that stand, Next those that are sown next and what then
	// stands with them. Crops are those that the soil is judged for: what is next, or
	// what stands for years.
	Now, Next []garden.Planting
	Crops     []crop.Crop
	// Reading is the last with a pH, Potassium the last with a potassium, nil
	// when there is none. Fizz is the last jar test that is newer.
	Reading, Potassium, Fizz *garden.Reading
	// Preparations are those that are open, in the order in which they were begun.
	Preparations []Preparation
	// State is how agronomy sees it.
	bed.Judgement
	// AtWork is what was applied and moves the bed since it was read; nil when
	// nothing does.
	AtWork *AtWork
	// Expected is set when PH was not measured but is to be hoped for.
	Expected bool
	// Surprise is the last reading where it lies far from what was expected of it and waits for a confirming test; nil where it does not.
	Surprise *forecast.Surprise
	// waits are the plans of which a rest waits.
	waits map[int64]bool
}

// AtWork is lime, ash or acid that acts since the reading.
type AtWork struct {
	// What was applied last of it.
	What material.Kind
	// Now is about where the bed is, Settles where it should come to.
	Now, Settles quantity.PH
	// Again is the day by which it is tested again, unless a test stands in the year; may be no
	// day.
	Again quantity.Day
}

// worth is the least move that is reported.
const worth = 0.1

// atWork finds what acts in the bed on the day of its record, by its forecast's middle line.
func (p *State) atWork(q dose.Request, l *Lesson, rhythm calendar.Rhythm) {
	last := q.History.LastMover(q.Date)
	if last == nil || l == nil {
		return
	}
	c := l.Course()
	put := c.On(q.Date).Put
	w := AtWork{last.Material.Kind, c.On(q.Date).PH, c.Settle(put), calendar.Again(last.Date, p.Reading.Date, rhythm)}
	if math.Abs(float64(put)) < leastAtWork {
		return
	}
	if math.Abs(float64(w.Now-c.From)) >= worth || math.Abs(float64(w.Settles-c.From)) >= worth {
		p.AtWork = &w
	}
}

// leastAtWork is the least that is still told to be at work, g CaCO₃/m².
const leastAtWork = 0.5

// StandingOn returns the crops on a bed on a day.
func StandingOn(ps []garden.Planting, day quantity.Day) (out []garden.Planting) {
	for _, p := range ps {
		if p.Sown <= day && (p.Cleared == 0 || p.Cleared > day) {
			out = append(out, p)
		}
	}
	return out
}

// standsSince reports whether a crop stands on a bed for years on a day, and since when.
func standsSince(ps []garden.Planting, l garden.Library, day quantity.Day) (stands bool, since quantity.Day) {
	for _, p := range StandingOn(ps, day) {
		if c, ok := l.Find(p.Crop); ok && c.Is(crop.Perennial) && (!stands || p.Sown < since) {
			stands, since = true, p.Sown
		}
	}
	return stands, since
}

// plant finds what stands on a bed on a day and what follows, and judges for
// which of them the soil is meant: those that stand for years, else the next.
func (p *State) plant(ps []garden.Planting, l garden.Library, day quantity.Day) {
	p.Now = StandingOn(ps, day)
	for _, x := range ps {
		if x.Sown > day {
			p.Next = StandingOn(ps, x.Sown)
			break
		}
	}
	judged := p.Next
	if len(p.Next) == 0 || slices.ContainsFunc(p.Now, func(x garden.Planting) bool {
		c,
			_ := l.Find(x.Crop)
		return c.Is(crop.Perennial)
	}) {
		judged = p.Now
	}
	for _, x := range judged {
		c, ok := l.Find(x.Crop)
		if ok && !slices.ContainsFunc(p.Crops, func(y crop.Crop) bool { return y.ID == c.ID }) {
			p.Crops = append(p.Crops, c)
		}
	}
}

// noted is what was noted of a bed, each in the order of its days.
type noted struct {
	plantings    []garden.Planting
	readings     []garden.Reading
	applications []garden.Application
	turnings     []Preparation
	lesson       *Lesson
	// k is its record as potassium follows it, with the figure of a day, where that was made before.
	k *potassium
	// rests are what waits for a test.
	rests []garden.WaitingRest
}

// newState judges a bed on a day.
func newState(b garden.Bed, n noted, g garden.Garden, l garden.Library, day quantity.Day) State {
	p := State{Bed: b, Preparations: slices.Clone(n.turnings), waits: make(map[int64]bool, len(n.rests))}
	for i := range n.rests {
		p.waits[n.rests[i].PlanID] = true
	}
	for i := range p.Preparations {
		p.Preparations[i].Next, _ = l.Find(p.Preparations[i].Planting.Crop)
	}
	p.plant(n.plantings, l, day)
	rs := n.readings
	for i := range rs {
		r := &rs[i]
		if r.Date > day {
			break
		}
		if !r.Stands() {
			continue
		}
		if r.PH != nil {
			p.Reading, p.Fizz = r, nil
		} else if r.Method == soil.Fizz {
			if p.Fizz == nil || r.Date > p.Fizz.Date || !p.Fizz.Soil().Fizz.Over(r.Soil().Fizz) {
				p.Fizz = r
			}
		}
		if r.Potassium != nil {
			p.Potassium = r
		}
	}
	var used garden.Reading
	if p.Reading != nil {
		used = *p.Reading
	}
	q := p.asked(g, n, l, used, nil, day)
	p.Judgement = bed.Judge(&q.Record)
	p.Surprise = n.lesson.Surprise()
	if p.Reading != nil {
		p.atWork(q, n.lesson, g.RetestRhythm)
	}
	return p
}

// ground returns the bed with what the newest reports up to a day found of its soil; that goes
// before what was noted of the bed.
func (n noted) ground(b garden.Bed, table soil.TableClimate, day quantity.Day) soil.Ground {
	g := b.Ground(table)
	for i := range n.readings {
		r := &n.readings[i]
		if r.Date > day || !r.Stands() {
			continue
		}
		if r.OrganicMatter != nil {
			g.OrganicMatter = r.OrganicMatter
		}
		if r.CEC != nil {
			g.CEC = r.CEC
		}
	}
	return g
}

// history returns what was applied up to a day, as agronomy has it.
func (n noted) history(day quantity.Day) (out ledger.Ledger) {
	return slices.DeleteFunc(n.ledger(), func(a ledger.Application) bool { return a.Date > day })
}

// ledger returns all of what was applied.
func (n noted) ledger() (out ledger.Ledger) {
	for _, a := range n.applications {
		if p, ok := a.Put(); ok {
			out = append(out, p)
		}
	}
	return out
}

// grown returns the crops that carried potassium off from a day to another.
func (n noted) grown(l garden.Library, since, day quantity.Day) (out []ledger.Grown) {
	for _, p := range n.plantings {
		if p.Sown > day || p.Cleared != 0 && p.Cleared <= since {
			continue
		}
		if c, ok := l.Find(p.Crop); ok {
			out = append(out, ledger.Grown{Crop: c, From: p.Sown, To: p.Cleared})
		}
	}
	return out
}

// Stand sets what the bed is expected to read.
func (p *State) Stand(ph quantity.PH) {
	p.PH, p.Expected, p.AtWork = ph, true, nil
	p.Standing, p.Off = bed.Against(p.Crop.Band, ph)
}

// ByBed groups rows by their bed, order kept.
func ByBed[T any](rows []T, bed func(T) int64) map[int64][]T {
	m := make(map[int64][]T)
	for _, r := range rows {
		m[bed(r)] = append(m[bed(r)], r)
	}
	return m
}

// HistoryDays is how far back what was applied still matters: what ash brings of
// heavy metal is summed over five years.
const HistoryDays = material.MuchAshSpan

// asked makes what agronomy asks for of a bed on a day, but for its materials:
// the one way from the records to a dose, to the outlook and to the plan.
func (p *State) asked(g garden.Garden, n noted, l garden.Library, used garden.Reading, beside []garden.Reading,
	today quantity.Day) dose.Request {
	q := dose.Request{Methods: g.Methods().Or(dose.Methods{}), Record: bed.Record{
		Date: today, Days: g.Days(), Climate: g.Warmth(), Ground: n.ground(p.Bed, g.SoilTable, today), Reading: used.Soil()}}
	for _, r := range beside {
		if r.Date <= today {
			q.More = append(q.More, r.Soil())
		}
	}
	// Potassium has a day of its own: the newest figure is lent to any pH.
	if k := p.Potassium; k != nil {
		lent := k.Soil()
		q.Reading.Potassium, q.Reading.Extractant, q.Reading.KRange, q.Reading.PotassiumDate = lent.Potassium, lent.Extractant,
			lent.KRange, k.Date
		if q.Reading.Magnesium == nil {
			q.Reading.Magnesium = lent.Magnesium
		}
		if q.Reading.Calcium == nil {
			q.Reading.Calcium = lent.Calcium
		}
		q.Grown, q.Carried = n.grown(l, k.Date, today), n.carried(p.Bed, g, l, today)
	}
	if len(p.Crops) > 0 {
		first := p.Crops[0]
		q.Crop, q.With = &first, p.Crops[1:]
	} else {
		none := crop.Unnamed
		q.Crop = &none
	}
	if p.Bed.Watered == garden.Tap {
		q.Water = g.Alkalinity()
	}
	stands, since := standsSince(n.plantings, l, today)
	q.Ahead, q.Since = !stands, since
	_, q.Cleared = sowing(*p, n.plantings, today)
	q.Sown = starts(n.plantings, l, today)
	for _, x := range n.history(today) {
		if x.Date > today-HistoryDays {
			q.History = append(q.History, x)
		}
	}
	return q
}

// FreeSpot proposes a place for a new bed: under all that is on the plan.
func FreeSpot(ps []State) (x, y float64) {
	x, y = 1, 1
	for _, p := range ps {
		_, high := p.Bed.Bounds()
		y = max(y, high.Y+0.5)
	}
	if len(ps) > 0 {
		xs := make([]float64, len(ps))
		for i, p := range ps {
			xs[i] = p.Bed.X
		}
		sort.Float64s(xs)
		x = xs[0]
	}
	return x, y
}
