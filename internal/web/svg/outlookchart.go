package svg

import (
	"math"
	"strconv"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
)

// OutlookChart is a bed over the years: pH, potassium, applications and crops on one time axis.
type OutlookChart struct {
	W, H, X0, X1, Today Px
	// Top and Foot are the ends of the year lines.
	Top, Foot Px
	Years     []Tick
	PH, K     Panel
	// Idle is the forecast without further applications, IdleAt its label's place.
	Idle   Path
	IdleAt Text
	Put    []SeasonMark
	Grown  []SeasonBar
	// PutY and GrownY are the strips' headings.
	PutY, GrownY Px
	Says         string
	Rows         []SeasonRow
}

// Panel is one figure over the years. Wide and Narrow are its 90 % and 50 % intervals.
type Panel struct {
	Has            bool
	X0, X1         Px
	Top, Foot      Px
	RangeY, RangeH Px
	RangeW         Px
	Range, Title   Text
	Ticks          []Tick
	Wide, Narrow   Path
	Past, Ahead    Path
	Points         []Point
	y              scale
}

// SeasonMark is a past or planned application; Label is "" if there is no room.
type SeasonMark struct {
	X           Px
	Label, Says string
	Planned     bool
}

// SeasonBar is a crop.
type SeasonBar struct {
	X, W        Px
	Label, Says string
	Planned     bool
}

// Facts name what a picture's table tells of its day for data-fact.
type Facts struct{ Level, Potassium string }

// SeasonRow is a row of its table.
type SeasonRow struct {
	Day, Level, Range, Idle, K string
	// Fact and KFact name its level and its potassium for data-fact; "" for none.
	Fact, KFact string
}

// Heights of the parts.
const (
	seasonTop  = 26.0
	phFoot     = 268.0
	kTop       = 306.0
	kFoot      = 376.0
	putY       = 406.0
	grownY     = 442.0
	seasonHigh = 486.0
)

// begins returns the day of the first reading; the forecast starts with the month after.
func begins(s *outlook.Forecast) quantity.Day {
	day := s.Run.PH[0].Date
	for i := range s.Record.Readings {
		day = min(day, s.Record.Readings[i].Date)
	}
	return day
}

// OutlookChartOf draws an outlook over w units, some years around its day.
func OutlookChartOf(s *outlook.Forecast, w float64, back, ahead int, f Facts) OutlookChart {
	from := max(begins(s), quantity.Date(s.Today.Year()-back, 1, 1))
	to := min(quantity.Date(s.Today.Year()+ahead, 12, 31), s.Run.PH[len(s.Run.PH)-1].Date)
	x := scale{float64(from), float64(to), 40, w - 10}
	d := OutlookChart{W: Px(w), H: seasonHigh, X0: 40, X1: Px(w - 10), Today: x.at(float64(s.Today)), Top: seasonTop, Foot: grownY + 26,
		PutY: putY, GrownY: grownY}
	for y := from.Year(); y <= to.Year(); y++ {
		if at := quantity.Date(y, 1, 1); at >= from {
			d.Years = append(d.Years, Tick{At: x.at(float64(at)), Label: strconv.Itoa(y)})
		}
	}
	d.PH = phPanel(s, from, to, x)
	d.K = kPanel(s, from, to, x)
	d.idle(s, from, to, x)
	d.strips(s, from, to, x)
	d.rows(s, f)
	last := s.Run.PH[len(s.Run.PH)-1]
	d.Says = "pH and potassium from " + text.DayYear(from) + " to " + text.DayYear(to) + ". The year’s level is to be " +
		text.PH(quantity.PH(last.Median)) + " at the end, usually between " + text.PH(quantity.PH(last.P05)) + " and " +
		text.PH(quantity.PH(last.P95))
	return d
}

// within returns a forecast's points between two days, with interpolated ends.
func within(all []forecast.Spread, from, to quantity.Day) (out []forecast.Spread) {
	if len(all) == 0 || all[0].Date > to {
		return nil
	}
	if all[0].Date <= from {
		out = append(out, forecast.On(all, from))
	}
	for _, p := range all {
		if p.Date > from && p.Date < to {
			out = append(out, p)
		}
	}
	return append(out, forecast.On(all, to))
}

// lay draws a forecast: solid before a day, dashed after.
func (p *Panel) lay(all []forecast.Spread, today quantity.Day, x, y scale) {
	at := func(v float64) Px { return y.clamped(v) }
	p.Wide = area(all, x, at, func(s forecast.Spread) (float64, float64) { return s.P05, s.P95 })
	p.Narrow = area(all, x, at, func(s forecast.Spread) (float64, float64) { return s.P25, s.P75 })
	for _, s := range all {
		px, py := x.at(float64(s.Date)), y.clamped(s.Median)
		if s.Date <= today {
			p.Past = p.Past.to(px, py)
		}
	}
	now := forecast.On(all, today)
	if p.Past != "" {
		p.Past = p.Past.to(x.at(float64(today)), y.clamped(now.Median))
	}
	p.Ahead = moveTo(x.clamped(float64(max(today, all[0].Date))), y.clamped(now.Median))
	for _, s := range all {
		if s.Date > today {
			p.Ahead = p.Ahead.to(x.at(float64(s.Date)), y.clamped(s.Median))
		}
	}
}

func phPanel(s *outlook.Forecast, from, to quantity.Day, x scale) Panel {
	all := within(s.Run.PH, from, to)
	span := s.Record.State.Crop.Range
	low, high := float64(span.Low)-0.3, float64(span.High)+0.3
	for _, p := range all {
		low, high = min(low, p.P05-0.1), max(high, p.P95+0.1)
	}
	for _, p := range within(s.Idle.PH, s.Today, to) {
		low = min(low, p.Median-0.1)
	}
	for _, r := range readIn(s, from) {
		low, high = min(low, float64(r.Soil().Water())-0.1), max(high, float64(r.Soil().Water())+0.1)
	}
	p := Panel{Has: true, X0: Px(x.px0), X1: Px(x.px1), RangeW: Px(x.px1 - x.px0), Top: seasonTop, Foot: phFoot,
		Title: Text{40, seasonTop - 8, "pH"}}
	y := scale{low, high, phFoot, seasonTop}
	p.y = y
	p.RangeY, p.RangeH = y.clamped(float64(span.High)), y.clamped(float64(span.Low))-y.clamped(float64(span.High))
	p.Range = Text{x.clamped(float64(to)) - 4, p.RangeY + 15, rangeOf(s.Record.State.Crop)}
	p.Ticks = y.ticks(phSteps, phLabel)
	p.lay(all, s.Today, x, y)
	p.read(s, from, x)
	return p
}

// readIn returns the readings with a pH from a day to today.
func readIn(s *outlook.Forecast, from quantity.Day) (out []*garden.Reading) {
	for i := range s.Record.Readings {
		if r := &s.Record.Readings[i]; r.PH != nil && r.Date >= from && r.Date <= s.Today {
			out = append(out, r)
		}
	}
	return out
}

// read marks what was read.
func (p *Panel) read(s *outlook.Forecast, from quantity.Day, x scale) {
	for _, r := range readIn(s, from) {
		v, sd := r.Soil().Water(), r.Soil().SD()
		p.Points = append(p.Points, Point{X: x.at(float64(r.Date)), Y: p.y.clamped(float64(v)), Y0: p.y.clamped(float64(v) + sd),
			Y1: p.y.clamped(float64(v) - sd), State: standing(s.Record.State.Crop.Range, v), Method: r.Method, Expected: !trusted(r.Method),
			Says: text.PH(v) + " by " + text.Short(r.Method) + ", " + text.DayYear(r.Date)})
	}
}

func rangeOf(c crop.Crop) string {
	if c.Name == "" {
		return "usual range"
	}
	return c.Name + " range"
}

func kPanel(s *outlook.Forecast, from, to quantity.Day, x scale) Panel {
	all := within(s.K, from, to)
	if len(all) == 0 {
		return Panel{}
	}
	low, high := float64(s.Scale.Critical)*0.6, float64(s.Scale.EnoughTo)*1.1
	for _, p := range all {
		low, high = min(low, p.P05), max(high, p.P95)
	}
	low, high = math.Max(0, math.Floor(low/20)*20), math.Ceil(high/20)*20
	p := Panel{Has: true, X0: Px(x.px0), X1: Px(x.px1), RangeW: Px(x.px1 - x.px0), Top: kTop, Foot: kFoot,
		Title: Text{40, kTop - 8, "Potassium, ppm"}}
	y := scale{low, high, kFoot, kTop}
	p.RangeY = y.clamped(float64(s.Scale.EnoughTo))
	p.RangeH = y.clamped(float64(s.Scale.Critical)) - p.RangeY
	p.Range = Text{x.clamped(float64(to)) - 4, p.RangeY + 14, "enough"}
	p.Ticks = y.ticks(kSteps, text.Whole)
	p.lay(all, s.Today, x, y)
	for i := range s.Record.Readings {
		r := &s.Record.Readings[i]
		if r.Potassium == nil || r.Date < from || r.Date > s.Today {
			continue
		}
		v := float64(*r.Potassium)
		state := "in"
		if st := s.Scale.Judge(r.Potassium); st == soil.Short {
			state = "sour"
		}
		p.Points = append(p.Points, Point{X: x.at(float64(r.Date)), Y: y.clamped(v), Y0: y.clamped(v * 1.08), Y1: y.clamped(v * 0.92),
			State: state, Says: text.PPM(*r.Potassium) + ", " + text.DayYear(r.Date)})
	}
	return p
}

// textRoom is the distance of two lines of text.
const textRoom = 15

// idle draws the forecast without further applications, if it differs from the planned one.
func (d *OutlookChart) idle(s *outlook.Forecast, from, to quantity.Day, x scale) {
	if s.Planned == 0 {
		return
	}
	y := d.PH.y
	for _, p := range within(s.Idle.PH, s.Today, to) {
		d.Idle = d.Idle.to(x.at(float64(p.Date)), y.clamped(p.Median))
		d.IdleAt = Text{x.at(float64(p.Date)) - 4, y.clamped(p.Median) + 16, "nothing more put on"}
	}
	if math.Abs(float64(d.IdleAt.Y-d.PH.Range.Y)) < textRoom {
		d.IdleAt.Y -= 23 // above its line, clear of the range's name
	}
}

// strips draws applications and crops.
func (d *OutlookChart) strips(s *outlook.Forecast, from, to quantity.Day, x scale) {
	u := s.Garden.Units()
	var names, amounts []string
	mark := func(day quantity.Day, what, amount string, planned bool) {
		if day < from || day > to {
			return
		}
		d.Put = append(d.Put, SeasonMark{X: x.at(float64(day)), Says: amount + " of " + what + ", " + text.DayYear(day), Planned: planned})
		names, amounts = append(names, amount+" "+what), append(amounts, amount)
	}
	for i := range s.Record.Applications {
		if a := &s.Record.Applications[i]; a.Date <= s.Today {
			mark(a.Date, text.Brief(a.What), u.Mass(a.Total), false)
		}
	}
	for i := range s.Record.Tasks {
		t := &s.Record.Tasks[i]
		if _, held := s.Record.Held[t.ID]; !held && t.State == garden.Open && t.Kind == garden.TaskApplication {
			mark(max(t.Due, s.Today), text.Brief(t.What), u.Mass(t.Total), true)
		}
	}
	for i := range d.Put { // as much of its name as fits
		for _, label := range []string{names[i], amounts[i]} {
			if d.Put[i].Label == "" && d.room(i, wordWidth(label)+10) {
				d.Put[i].Label = label
			}
		}
	}
	d.grown(s, from, to, x)
}

// wordWidth returns the approximate width of a text.
func wordWidth(s string) Px { return Px(6.4 * float64(len([]rune(s)))) }

// room reports whether there is so much room to the right of a mark.
func (d *OutlookChart) room(i int, wide Px) bool {
	at := d.Put[i].X
	for n := range d.Put {
		if x := d.Put[n].X; n != i && x >= at && x < at+wide+6 {
			return false
		}
	}
	return at+wide <= d.X1+6
}

func (d *OutlookChart) grown(s *outlook.Forecast, from, to quantity.Day, x scale) {
	end := Px(0)
	for _, g := range s.Record.Plantings {
		c, ok := s.Record.Library.Find(g.Crop)
		sown, till := s.Record.State.PlantingDay(g), g.Cleared
		if till == 0 {
			till = min(to, max(s.Today, sown+halfYear))
			if c.Is(crop.Perennial) {
				till = to
			}
		}
		if !ok || till <= from || sown >= to {
			continue
		}
		b := SeasonBar{X: x.clamped(float64(sown)), Planned: sown > s.Today, Says: c.Name + ", from " + text.DayYear(sown)}
		b.W = max(3, x.clamped(float64(till))-b.X)
		if wide := wordWidth(c.Name); b.X >= end && b.X+wide <= d.X1+10 {
			b.Label, end = c.Name, b.X+wide+4
		}
		d.Grown = append(d.Grown, b)
	}
}

// halfYear is the drawn length of a crop without an end.
const halfYear quantity.Day = 180

// rows returns the same figures by half years.
func (d *OutlookChart) rows(s *outlook.Forecast, f Facts) {
	for _, p := range s.Run.PH {
		m := p.Date.Month()
		if p.Date != s.Today && (p.Date.DayOfMonth() != 1 || m != 1 && m != 7) {
			continue
		}
		row := SeasonRow{Day: text.DayYear(p.Date), Level: text.PH2(quantity.PH(p.Median)),
			Range: text.PH2(quantity.PH(p.P05)) + " to " + text.PH2(quantity.PH(p.P95))}
		if p.Date == s.Today {
			row.Fact, row.KFact = f.Level, f.Potassium
		}
		if p.Date > s.Today {
			row.Idle = text.PH2(quantity.PH(forecast.On(s.Idle.PH, p.Date).Median))
		}
		if len(s.K) > 0 && p.Date >= s.K[0].Date {
			row.K = text.Whole(forecast.On(s.K, p.Date).Median)
		}
		d.Rows = append(d.Rows, row)
	}
}
