package svg

import (
	"strings"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
)

// Layer is a colouring of the plan.
type Layer struct {
	ID, Name string
	Legend   []LegendRow
	look     func(*bedstate.State, bool, *PlanBed)
}

// LegendRow is a state with its name.
type LegendRow struct{ State, Text string }

// Layers returns the colourings on a day.
func Layers(day quantity.Day) []Layer {
	return []Layer{
		{"ph", "pH", []LegendRow{{"sour", "sour"}, {"in-range", "in range"}, {"too-sweet", "too sweet"}, {"untested", "untested"}}, lookPH},
		{"k", "Potassium", []LegendRow{{"sour", "short"}, {"in-range", "enough"}, {"plenty", "plenty"}, {"too-sweet", "too much"},
			{"untested", "untested"}}, lookPotassium},
		{"tested", "Last tested", []LegendRow{{"in-range", "this year"}, {"plenty", "last year"}, {"sour", "longer ago"},
			{"untested", "never"}},
			func(p *bedstate.State, _ bool, b *PlanBed) { lookTested(p, day, b) }},
		{"due", "Due", []LegendRow{{"sour", "something due"}, {"in-range", "nothing due"}}, lookDue},
	}
}

// ChangeID is the colouring that compares two days.
const ChangeID = "change"

// ChangeLayer returns the comparison with another day: by how much each bed differs, and from what
// to what. what is that day in words, from its pH by bed.
func ChangeLayer(what string, from map[int64]quantity.PH, later bool) Layer {
	return Layer{ChangeID, "Change", []LegendRow{{"sour", "sour"}, {"in-range", "in range"}, {"too-sweet", "too sweet"},
		{"untested", "untested"}}, func(p *bedstate.State, _ bool, b *PlanBed) {
		then, ok := from[p.Bed.ID]
		b.Value, b.Says = "–", p.Bed.Name+", not tested on both days"
		if p.Reading == nil || !ok {
			return
		}
		was, is := then, p.PH
		if later { // the other day is later
			was, is = p.PH, then
		}
		b.Value = text.SignedPH(is - was)
		b.Off = text.PH(was) + " → " + text.PH(is)
		b.Says = p.Bed.Name + ", " + b.Value + ", from " + text.PH(was) + " to " + text.PH(is) + ", beside " + what
	}}
}

func lookPH(p *bedstate.State, _ bool, b *PlanBed) {
	if p.Reading != nil {
		b.Value = text.PH(p.PH)
	} else if p.Fizz != nil {
		told, _ := text.ByJars(p.Fizz.Soil().Fizz)
		for _, says := range []string{told + " by jars, no figure", told + " by jars", told} {
			if b.Off = says; b.fits(says, 1) {
				break
			}
		}
	}
	switch p.Standing {
	case bed.Sour:
		b.Off = text.PH(max(p.Off, 0.1)) + " sour"
	case bed.TooSweet:
		b.Off = text.PH(max(p.Off, 0.1)) + " sweet"
	}
	if w := p.AtWork; w != nil && b.Off != "" {
		what := text.Brief(w.What)
		for _, says := range []string{b.Off + ", " + what + " at work", what + " at work", what} {
			if b.Off = says; b.fits(says, 1) {
				break
			}
		}
	}
	b.Says = says(p)
}

func lookPotassium(p *bedstate.State, _ bool, b *PlanBed) {
	b.State = supplyStates[p.K.State]
	b.Says = p.Bed.Name + ", potassium not tested"
	switch {
	case p.K.Now != nil && p.K.State != soil.Unknown:
		b.Value, b.Off = strings.TrimSuffix(text.PPM(*p.K.Now), " ppm"), text.Name(p.K.State)
		b.Says = p.Bed.Name + ", potassium " + text.PPM(*p.K.Now) + ", " + b.Off
	case p.K.Stale:
		b.Says = p.Bed.Name + ", potassium not tested for two years"
	}
}

func lookTested(p *bedstate.State, day quantity.Day, b *PlanBed) {
	if p.Reading == nil {
		b.State, b.Says = "untested", p.Bed.Name+", never tested"
		return
	}
	switch age := day - p.Reading.Date; {
	case age <= recent:
		b.State = "in-range"
	case age <= old:
		b.State = "plenty"
	default:
		b.State = "sour"
	}
	b.Value = p.Reading.Date.Time().Format("Jan 06")
	b.Says = p.Bed.Name + ", last tested " + text.DayYear(p.Reading.Date)
}

func lookDue(p *bedstate.State, due bool, b *PlanBed) {
	b.State, b.Value, b.Says = "in-range", "", p.Bed.Name+", nothing due"
	if due {
		b.State, b.Off, b.Says = "sour", "due", p.Bed.Name+", something due"
	}
}

func says(p *bedstate.State) string {
	s := p.Bed.Name + ", "
	if w := p.AtWork; w != nil {
		s += text.AtWork(w.What, w.Now, w.Settles) + ", was "
	}
	switch p.Standing {
	case bed.Untested:
		if p.Fizz != nil {
			_, by := text.ByJars(p.Fizz.Soil().Fizz)
			return s + by
		}
		return s + "untested"
	case bed.InRange:
		return s + "pH " + text.PH(p.PH) + ", in range"
	case bed.Sour:
		return s + "pH " + text.PH(p.PH) + ", sour by " + text.Off(p.Off)
	}
	return s + "pH " + text.PH(p.PH) + ", too sweet by " + text.Off(p.Off)
}
