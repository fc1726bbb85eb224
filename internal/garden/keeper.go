package garden

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Keeper does the work of the garden: each method is one use case. It holds no
// clock; the day and the moment come in.
type Keeper struct{ Store Store }

// Act is who posts a change, when, on which day of the garden's calendar, and
// under which key.
type Act struct {
	Who   string
	Key   string
	At    time.Time
	Today quantity.Day
}

func (a Act) change() Change { return Change{Key: a.Key, Who: a.Who, At: a.At} }

// View is the whole garden on a day.
type View struct {
	Garden Garden
	Today  quantity.Day
	Plots  []Plot
	// Tasks are those still to do, in the order of their days.
	Tasks []Task
	// Held are the goes among them that are held back.
	Held    map[int64]quantity.Day
	Library Library
	Marks   []Mark
	// noted is what the plots were judged from, by bed.
	noted map[int64]noted
}

// ToDo are the tasks without the goes that are held back.
func (v View) ToDo() []Task {
	out := make([]Task, 0, len(v.Tasks))
	for _, t := range v.Tasks {
		if _, held := v.Held[t.ID]; !held {
			out = append(out, t)
		}
	}
	return out
}

// Count is how many plots stand so.
func (v View) Count(s Standing) int {
	n := 0
	for _, p := range v.Plots {
		if p.Standing == s && p.Bed.Kind != KindHeap {
			n++
		}
	}
	return n
}

// Plot finds one by its bed.
func (v View) Plot(bed int64) (Plot, bool) {
	for _, p := range v.Plots {
		if p.Bed.ID == bed {
			return p, true
		}
	}
	return Plot{}, false
}

// Names lists the beds that are on the plan on a day, in their order.
func (k Keeper) Names(ctx context.Context, day quantity.Day) (g Garden, beds []Bed, err error) {
	err = k.Store.Read(ctx, func(r Reader) error {
		if g, err = r.Garden(); err != nil {
			return err
		}
		all, err := r.Beds()
		for _, b := range all {
			if b.Retired == 0 || b.Retired > day {
				beds = append(beds, b)
			}
		}
		return err
	})
	return g, beds, err
}

// View reads the garden as it stands on a day.
func (k Keeper) View(ctx context.Context, today quantity.Day) (v View, err error) {
	v.Today = today
	err = k.Store.Read(ctx, func(r Reader) error {
		if v.Garden, err = r.Garden(); err != nil {
			return err
		}
		if v.Tasks, err = r.TasksOpen(); err != nil {
			return err
		}
		held, err := r.Held()
		if err != nil {
			return err
		}
		v.Held = heldOn(held, today)
		if v.Library, err = library(r); err != nil {
			return err
		}
		if v.Marks, err = r.Marks(); err != nil {
			return err
		}
		return v.judge(r, today, true)
	})
	return v, err
}

// Planted reads the garden's beds and crops on a day, without its readings:
// all that the year's windows rest on.
func (k Keeper) Planted(ctx context.Context, today quantity.Day) (v View, err error) {
	v.Today = today
	err = k.Store.Read(ctx, func(r Reader) error {
		if v.Garden, err = r.Garden(); err != nil {
			return err
		}
		if v.Library, err = library(r); err != nil {
			return err
		}
		return v.judge(r, today, false)
	})
	return v, err
}

// cropDays is how far ahead of a day crops still bear on it; notedDays is how far
// back what was put on and grown does: a potassium test is good for two years.
const (
	cropDays  quantity.Day = 400
	notedDays quantity.Day = 800
)

// judge reads every bed that is on the plan on a day; without read, its crops
// alone.
func (v *View) judge(r Reader, day quantity.Day, read bool) error {
	beds, err := r.Beds()
	if err != nil {
		return err
	}
	ps, err := r.PlantingsAround((day - notedDays).String(), (day + cropDays).String())
	if err != nil {
		return err
	}
	var rs []Reading
	var as []Application
	if read {
		if rs, err = r.LatestReadings(day.String()); err != nil {
			return err
		}
		if as, err = r.ApplicationsSince((day - notedDays).String()); err != nil {
			return err
		}
	}
	planted := byBed(ps, func(p Planting) int64 { return p.BedID })
	readings := byBed(rs, func(x Reading) int64 { return x.BedID })
	put := byBed(as, func(a Application) int64 { return a.BedID })
	v.Plots, v.noted = make([]Plot, 0, len(beds)), make(map[int64]noted, len(beds))
	for _, b := range beds {
		if b.Retired == 0 || b.Retired > day {
			n := noted{planted[b.ID], readings[b.ID], put[b.ID]}
			v.noted[b.ID] = n
			v.Plots = append(v.Plots, newPlot(b, n, v.Garden, v.Library, day))
		}
	}
	return nil
}

// Record is one bed with all that was noted of it.
type BedRecord struct {
	Plot
	Plantings []Planting
	// Readings are those that stand, Struck those that were struck out; Codes
	// are the labels of the samples that they were read from.
	Readings, Struck []Reading
	Codes            map[int64]string
	Applications     []Application
	Tasks            []Task
	// Held are the open goes that are held back, by the day of the striking out.
	Held    map[int64]quantity.Day
	Library Library
}

// noted is what the record holds of the bed.
func (rec BedRecord) noted() noted { return noted{rec.Plantings, rec.Readings, rec.Applications} }

// Bed reads one bed's record.
func (k Keeper) Bed(ctx context.Context, id int64, today quantity.Day) (rec BedRecord, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { rec, err = bedRecord(r, id, today); return err })
	return rec, err
}

func bedRecord(r Reader, id int64, today quantity.Day) (rec BedRecord, err error) {
	b, err := r.Bed(id)
	if err != nil {
		return rec, err
	}
	if rec.Plantings, err = r.PlantingsOf(id); err != nil {
		return rec, err
	}
	all, err := r.ReadingsOf(id)
	if err != nil {
		return rec, err
	}
	for _, x := range all {
		if x.Stands() {
			rec.Readings = append(rec.Readings, x)
		} else {
			rec.Struck = append(rec.Struck, x)
		}
	}
	samples, err := r.SamplesOfBed(id)
	if err != nil {
		return rec, err
	}
	rec.Codes = make(map[int64]string, len(samples))
	for _, s := range samples {
		rec.Codes[s.ID] = s.Code
	}
	if rec.Applications, err = r.ApplicationsOf(id); err != nil {
		return rec, err
	}
	if rec.Tasks, err = r.TasksOf(id); err != nil {
		return rec, err
	}
	held, err := r.Held()
	if err != nil {
		return rec, err
	}
	rec.Held = heldOn(held, today)
	if rec.Library, err = library(r); err != nil {
		return rec, err
	}
	g, err := r.Garden()
	if err != nil {
		return rec, err
	}
	rec.Plot = newPlot(b, rec.noted(), g, rec.Library, today)
	return rec, nil
}

// Climate is the place's soil temperatures.
func (g Garden) ClimateNormals() soil.Climate {
	c, ok := soil.FindClimate(g.Climate, g.Hemisphere)
	if !ok {
		c = soil.Climates[0]
	}
	if len(g.SoilTemps) == len(c.Normal) {
		c.ID = "own"
		copy(c.Normal[:], g.SoilTemps)
	}
	return c
}

// season is what the calendar must know of a plot's crops.
func season(p Plot, ps []Planting, c soil.Climate, today quantity.Day) calendar.Season {
	s := calendar.Season{Climate: c, SowingGap: p.Crop.SowingGap(), Dug: p.Bed.Worked == soil.Dug,
		Perennial: p.Bed.Kind == KindLawn || p.Bed.Kind == KindTree || p.Crop.Is(crop.Perennial)}
	_, s.Cleared = sowing(p, ps, today)
	s.Starts = starts(ps, today)
	return s
}

// starts are the sowings and plantings that bear on a day: of what stands, and of
// what comes.
func starts(ps []Planting, today quantity.Day) (out []calendar.Start) {
	for _, p := range ps {
		if p.Cleared == 0 || p.Cleared > today {
			out = append(out, calendar.Start{Day: p.Sown, Planted: p.PlantedOut})
		}
	}
	return out
}

// sowing gives the next sowing, and when the ground was last cleared.
func sowing(p Plot, ps []Planting, today quantity.Day) (next, cleared quantity.Day) {
	if len(p.Next) > 0 && !p.Crop.Is(crop.Perennial) {
		for _, x := range p.Next {
			if x.Sown > today {
				next = x.Sown
				break
			}
		}
	}
	if len(p.Now) == 0 {
		for _, x := range ps {
			if x.Cleared != 0 && x.Cleared <= today {
				cleared = max(cleared, x.Cleared)
			}
		}
		return next, cleared
	}
	// The ground is clear when the last of what stands is off.
	for _, x := range p.Now {
		if x.Cleared == 0 {
			return next, 0
		}
		cleared = max(cleared, x.Cleared)
	}
	return next, cleared
}

// YearWindow is the stretches of one family on the year ribbon.
type YearWindow struct {
	Family  material.Family
	Windows []calendar.Window
}

// ribbonFamilies are those that the ribbon shows, in order.
var ribbonFamilies = []material.Family{material.Lime, material.Ash, material.Sulfur}

// Year is what the ribbon shows.
type Year struct {
	From, To quantity.Day
	Windows  []YearWindow
	Tasks    []Task
	// Held are the goes among them that are held back.
	Held    map[int64]quantity.Day
	Samples []Sample
	Climate soil.Climate
	Weather soil.Weather
}

// Year finds, for each family, the days on which at least one bed of a view
// could take it, and the tasks, done and open.
func (k Keeper) Year(ctx context.Context, v View, from, to quantity.Day) (y Year, err error) {
	y.From, y.To = from, to
	y.Climate, y.Weather = v.Garden.ClimateNormals(), v.Garden.Weather()
	err = k.Store.Read(ctx, func(r Reader) error {
		if y.Tasks, err = r.TasksBetween(from.String(), to.String()); err != nil {
			return err
		}
		held, err := r.Held()
		if err != nil {
			return err
		}
		y.Held = heldOn(held, v.Today)
		y.Samples, err = r.SamplesBetween(from.String(), to.String())
		return err
	})
	seasons := v.seasons(y.Climate)
	// The families are reckoned side by side: with hundreds of beds it is the
	// longest part of a page.
	y.Windows = make([]YearWindow, len(ribbonFamilies))
	var all sync.WaitGroup
	for i, f := range ribbonFamilies {
		all.Go(func() { y.Windows[i] = YearWindow{f, union(seasons, f, from, to)} })
	}
	all.Wait()
	return y, err
}

// seasonKey tells seasons apart as far as their windows differ.
type seasonKey struct {
	starts         string
	cleared, gap   quantity.Day
	perennial, dug bool
}

// seasons are those of the view's beds that take lime, ash or sulfur, each
// kind once.
func (v View) seasons(c soil.Climate) []*calendar.Season {
	seen := map[seasonKey]bool{}
	var out []*calendar.Season
	for _, p := range v.Plots {
		if p.Bed.Kind == KindHeap || p.Bed.Kind == KindPots || p.Crop.Is(crop.NoAsh) {
			continue
		}
		s := season(p, v.noted[p.Bed.ID].plantings, c, v.Today)
		key := seasonKey{fmt.Sprint(s.Starts), s.Cleared, s.SowingGap, s.Perennial, s.Dug}
		if !seen[key] {
			seen[key] = true
			out = append(out, &s)
		}
	}
	if len(out) == 0 {
		out = append(out, &calendar.Season{Climate: c, Dug: true, SowingGap: crop.Unnamed.SowingGap()})
	}
	return out
}

// union joins the days on which any of the seasons is free into stretches. A
// day that is free for one need not be asked of the others.
func union(seasons []*calendar.Season, f material.Family, from, to quantity.Day) []calendar.Window {
	var out []calendar.Window
	rules := calendar.RulesOf(f)
	free := 0 // the season that was free last is likely to be free again
	for d := from; d <= to; d++ {
		if why := rules.Blocked(seasons[free], d); why.PlaceWide() {
			continue
		} else if why != calendar.Free {
			i := slices.IndexFunc(seasons, func(s *calendar.Season) bool { return rules.Blocked(s, d) == calendar.Free })
			if i < 0 {
				continue
			}
			free = i
		}
		best := f == material.Lime && seasons[0].Autumn(d)
		if n := len(out) - 1; n >= 0 && out[n].To == d-1 && out[n].Best == best {
			out[n].To = d
			continue
		}
		out = append(out, calendar.Window{From: d, To: d, Best: best})
	}
	for i := range out {
		w := &out[i]
		if w.From > from && (i == 0 || out[i-1].To < w.From-1) {
			w.Opens = commonest(seasons, f, w.From-1)
		}
		if w.To < to && (i == len(out)-1 || out[i+1].From > w.To+1) {
			w.Closes = commonest(seasons, f, w.To+1)
		}
	}
	return out
}

// commonest is the rule that keeps a family off most of the seasons on a day.
func commonest(seasons []*calendar.Season, f material.Family, d quantity.Day) calendar.Why {
	count := map[calendar.Why]int{}
	best := calendar.Free
	for _, s := range seasons {
		why := s.Blocked(f, d)
		count[why]++
		if n := count[why]; best == calendar.Free || n > count[best] || n == count[best] && why < best {
			best = why
		}
	}
	return best
}
