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

// State is a bed's state on a day.
type State struct {
	Bed garden.Bed
	// Now are the standing crops, Next the next crops with those that then still stand. Crops are
	// those that the soil is judged for: the next, or standing perennials.
	Now, Next []garden.Planting
	Crops     []crop.Crop
	// Reading is the last reading with a pH, Potassium the last with a potassium, Fizz the last jar
	// test if newer; each may be nil. Joined in the judgement is Reading with Beside.
	Reading, Potassium, Fizz *garden.Reading
	// Beside are the readings of the same soil that are combined with Reading.
	Beside []garden.Reading
	// Preparations are the open ones, in order of creation.
	Preparations []Preparation
	// Judgement is the agronomic verdict.
	bed.Judgement
	// AtWork is what was applied since the reading and is reacting; nil if nothing.
	AtWork *AtWork
	// Expected is set when PH is a forecast, not a measurement.
	Expected bool
	// Surprise is the last reading if it is surprising and awaits confirmation, or nil.
	Surprise *forecast.Surprise
	// waits are the plans with a waiting rest.
	waits map[int64]bool
}

// AtWork is lime, ash or acid that has been reacting since the reading.
type AtWork struct {
	// What is the material of the last application.
	What material.Kind
	// Now is the estimated current pH, Settles the final one.
	Now, Settles quantity.PH
	// Again is the day of the next test, unless one is planned; may be 0.
	Again quantity.Day
}

// leastMove is the least move that is reported.
const leastMove = 0.1

// atWork returns what is reacting on the record's day, by the median of its forecast.
func (p *State) atWork(q dose.Request, l *Lesson, rhythm calendar.Rhythm) {
	last := q.History.LastMover(q.Date)
	if last == nil || l == nil {
		return
	}
	c := l.Course()
	on := c.On(max(q.Date, c.Day+1)) // on the reading's own day nothing has acted since
	put := on.Put
	w := AtWork{last.Material.Kind, on.PH, c.End(), calendar.Again(last.Date, p.Reading.Date, rhythm)}
	if math.Abs(float64(put)) < leastAtWork {
		return
	}
	if math.Abs(float64(w.Now-c.From)) >= leastMove || math.Abs(float64(w.Settles-c.From)) >= leastMove {
		p.AtWork = &w
	}
}

// leastAtWork is the least unreacted amount that counts as reacting, g CaCO₃/m².
const leastAtWork = 0.5

// StandingOn returns the crops that stand on a bed on a day.
func StandingOn(ps []garden.Planting, day quantity.Day) (out []garden.Planting) {
	for _, p := range ps {
		if p.Sown <= day && (p.Cleared == 0 || p.Cleared > day) {
			out = append(out, p)
		}
	}
	return out
}

// standsSince reports whether a perennial stands on a bed on a day, and since when.
func standsSince(ps []garden.Planting, l garden.Library, day quantity.Day) (stands bool, since quantity.Day) {
	for _, p := range StandingOn(ps, day) {
		if c, ok := l.Find(p.Crop); ok && c.Is(crop.Perennial) && (!stands || p.Sown < since) {
			stands, since = true, p.Sown
		}
	}
	return stands, since
}

// plant sets the standing and the next crops, and chooses those that the soil is judged for:
// standing perennials, else the next.
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

// noted are a bed's records, each list in order of day.
type noted struct {
	plantings    []garden.Planting
	readings     []garden.Reading
	applications []garden.Application
	preparations []Preparation
	lesson       *Lesson
	// k is its potassium record with a day's figure, if computed before.
	k *potassium
	// rests are the parts of doses that wait for a test.
	rests []garden.WaitingRest
}

// newState computes a bed's state on a day.
func newState(b garden.Bed, n noted, g garden.Garden, l garden.Library, day quantity.Day) State {
	p := State{Bed: b, Preparations: slices.Clone(n.preparations), waits: make(map[int64]bool, len(n.rests))}
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
		p.Beside = n.beside(&used, day)
	}
	q := p.asked(g, n, l, used, p.Beside, day)
	p.Judgement = bed.Judge(&q.Record)
	p.Surprise = n.lesson.Surprise()
	if p.Reading != nil {
		p.atWork(q, n.lesson, g.RetestRhythm)
	}
	return p
}

// beside returns the readings up to a day of the same soil as one: near in time, of about the same
// depth, with no application in between.
func (n noted) beside(used *garden.Reading, day quantity.Day) (out []garden.Reading) {
	var moved []quantity.Day
	for i := range n.readings {
		r := &n.readings[i]
		if r.ID == used.ID || r.Date > day || !r.Stands() || !soil.SameDepth(r.Depth, used.Depth) ||
			!soil.SameSoil(r.Date, used.Date, nil) {
			continue
		}
		if moved == nil {
			moved = n.ledger().Movers()
		}
		if soil.SameSoil(r.Date, used.Date, moved) && n.lesson.Joins(used.Date, r.Date) {
			out = append(out, *r)
		}
	}
	return out
}

// ground returns the bed with what the newest lab reports up to a day found, which overrides what
// the bed's form says.
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

// history returns the applications up to a day for package ledger.
func (n noted) history(day quantity.Day) (out ledger.Ledger) {
	return slices.DeleteFunc(n.ledger(), func(a ledger.Application) bool { return a.Date > day })
}

// ledger returns all applications.
func (n noted) ledger() (out ledger.Ledger) {
	for _, a := range n.applications {
		if p, ok := a.Put(); ok {
			out = append(out, p)
		}
	}
	return out
}

// grown returns the crops that removed potassium between two days.
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

// Stand sets an expected pH.
func (p *State) Stand(ph quantity.PH) {
	p.PH, p.Expected, p.AtWork = ph, true, nil
	p.Standing, p.Off = bed.Against(p.Crop.Range, ph)
}

// ByBed groups rows by their bed, order kept.
func ByBed[T any](rows []T, bed func(T) int64) map[int64][]T {
	m := make(map[int64][]T)
	for _, r := range rows {
		m[bed(r)] = append(m[bed(r)], r)
	}
	return m
}

// HistoryDays is how far back applications matter: metals from ash are summed over five years.
const HistoryDays = material.MuchAshSpan

// asked returns the dose request of a bed on a day without its materials: the one conversion of
// records for dose, outlook and plan.
func (p *State) asked(g garden.Garden, n noted, l garden.Library, used garden.Reading, beside []garden.Reading,
	today quantity.Day) dose.Request {
	q := dose.Request{Methods: g.Methods().Or(dose.Methods{}), Record: bed.Record{
		Date: today, Days: g.Days(), Climate: g.Warmth(), Ground: n.ground(p.Bed, g.SoilTable, today), Reading: used.Soil()}}
	for _, r := range beside {
		q.More = append(q.More, r.Soil())
	}
	// Potassium has its own day: the newest figure is used with any pH.
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

// FreeSpot returns a free place for a new bed: below all others on the plan.
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
