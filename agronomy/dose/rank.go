package dose

import (
	"cmp"
	"slices"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

// Reason says what puts an option before another.
type Reason string

// Reasons, in the order in which they count. Level is reported where none parts the first two,
// Alone where there is nothing to choose between.
const (
	Gentle         Reason = "gentle"
	Meets          Reason = "meets"
	OnShelf        Reason = "shelf"
	ByMagnesium    Reason = "magnesium"
	FewestCautions Reason = "cautions"
	FeedsPotassium Reason = "potassium"
	Cheapest       Reason = "cost"
	Soonest        Reason = "soonest"
	// NoMagnesium is reported in place of ByMagnesium where none was read.
	NoMagnesium Reason = "no magnesium"
	Level       Reason = "level"
	Alone       Reason = "alone"
)

// criterion compares two options; below 0 the first goes before the second.
type criterion struct {
	reason  Reason
	compare func(s *sum, x, y *Option) int
}

// criteria put the best option first: hydrated lime behind all others; what does the
// work; the lime that the magnesium asks for; what stands on the shelf; fewest cautions; what feeds potassium that
// is short; what costs least where prices are known; what acts soonest.
var criteria = []criterion{
	{Gentle, func(_ *sum, x, y *Option) int {
		return first(y.has(material.HydratedLime), x.has(material.HydratedLime))
	}},
	{Meets, func(s *sum, x, y *Option) int { return first(s.works(x), s.works(y)) }},
	{ByMagnesium, func(s *sum, x, y *Option) int { return first(s.oddMagnesium(y), s.oddMagnesium(x)) }},
	{OnShelf, func(s *sum, x, y *Option) int { return first(s.onShelf(x), s.onShelf(y)) }},
	{FewestCautions, func(_ *sum, x, y *Option) int {
		_, nx := guard.Worst(x.Guards)
		_, ny := guard.Worst(y.Guards)
		return cmp.Compare(nx, ny)
	}},
	{FeedsPotassium, func(s *sum, x, y *Option) int {
		short := s.K.State == soil.Short && !s.forK
		return first(short && x.K2O > 0, short && y.K2O > 0)
	}},
	{Cheapest, func(_ *sum, x, y *Option) int {
		if x.Cost == nil || y.Cost == nil {
			return 0
		}
		return cmp.Compare(*x.Cost, *y.Cost)
	}},
	{Soonest, func(_ *sum, x, y *Option) int { return cmp.Compare(x.Acts, y.Acts) }},
}

// first puts what holds before what does not.
func first(x, y bool) int {
	switch {
	case x == y:
		return 0
	case x:
		return -1
	}
	return 1
}

// rank puts the best option first and says why it stands there.
func (s *sum) rank(options []Option) Reason {
	slices.SortStableFunc(options, func(x, y Option) int {
		order, _ := s.compare(&x, &y)
		return order
	})
	switch len(options) {
	case 0:
		return ""
	case 1:
		return Alone
	}
	_, why := s.compare(&options[0], &options[1])
	if why == ByMagnesium && s.Reading.Magnesium == nil {
		return NoMagnesium
	}
	return why
}

func (s *sum) better(x, y *Option) bool {
	order, _ := s.compare(x, y)
	return order < 0
}

// compare finds the first reason that parts two options.
func (s *sum) compare(x, y *Option) (order int, why Reason) {
	for i := range criteria {
		if order := criteria[i].compare(s, x, y); order != 0 {
			return order, criteria[i].reason
		}
	}
	return 0, Level
}

// works reports whether an option does the work: it meets what it is for, or is a lime that is held by its year alone, or ash by what is
// common without a good reading, whose rest follows later.
func (s *sum) works(o *Option) bool {
	return s.met(o) || o.has(material.Lime) && o.Limit == "year-cap" || o.has(material.Ash) && o.Limit == adviceLimit
}

// onShelf reports whether all of an option stands on the shelf. Ash stands first for that only up to what is common, unless a good
// reading shows the need.
func (s *sum) onShelf(o *Option) bool {
	return !slices.ContainsFunc(o.Parts, func(p Part) bool {
		much := p.Of.Family == material.Ash && p.Rate+p.Rest+s.history(material.Ash) > material.AshCommonAdvice+nothing
		return much && !s.wellRead() || !p.Of.Has(p.Total)
	})
}

// met reports whether an option meets what it is for: by the careful pace, what is applied before a test.
func (s *sum) met(o *Option) bool {
	if o.Waits() {
		return o.short < nothing
	}
	if s.forK {
		return o.UnmetK2O == 0
	}
	return o.Unmet == 0
}

// oddMagnesium reports whether an option has the lime that the magnesium speaks
// against: dolomitic where it is not low, any other where it is.
func (s *sum) oddMagnesium(o *Option) bool {
	if s.want <= 0 || s.forK {
		return false
	}
	mg := s.Reading.Magnesium
	low := mg != nil && *mg < soil.MagnesiumLow
	dolomitic := slices.ContainsFunc(o.Parts, func(p Part) bool { return p.Kind == material.DolomiticLime })
	return dolomitic != low
}
