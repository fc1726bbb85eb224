package dose

import (
	"cmp"
	"slices"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

// Reason is why an option ranks before another.
type Reason string

// The reasons in order of weight. Level is used when none separates the first two, Alone when there
// is only one option.
const (
	Gentle         Reason = "gentle"
	Meets          Reason = "meets"
	OnShelf        Reason = "shelf"
	ByMagnesium    Reason = "magnesium"
	FewestCautions Reason = "cautions"
	FeedsPotassium Reason = "potassium"
	Cheapest       Reason = "cost"
	Soonest        Reason = "soonest"
	// NoMagnesium replaces ByMagnesium when magnesium was not read.
	NoMagnesium Reason = "no magnesium"
	Level       Reason = "level"
	Alone       Reason = "alone"
)

// criterion compares two options; negative when the first ranks higher.
type criterion struct {
	reason  Reason
	compare func(s *sum, x, y *Option) int
}

// criteria rank options: hydrated lime last; does the work; the lime that magnesium calls for; in
// stock; fewest cautions; supplies potassium that is short; costs least if prices are known; acts
// soonest.
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

// first ranks true before false.
func first(x, y bool) int {
	switch {
	case x == y:
		return 0
	case x:
		return -1
	}
	return 1
}

// rank sorts the options and sets the reason for the first place.
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

// compare returns the first reason that separates two options.
func (s *sum) compare(x, y *Option) (order int, why Reason) {
	for i := range criteria {
		if order := criteria[i].compare(s, x, y); order != 0 {
			return order, criteria[i].reason
		}
	}
	return 0, Level
}

// works reports whether an option does the work: it meets its need, or is a lime limited only by
// its year, or ash limited by common advice, whose rest follows later.
func (s *sum) works(o *Option) bool {
	return s.met(o) || o.has(material.Lime) && o.Limit == "year-cap" || o.has(material.Ash) && o.Limit == adviceLimit
}

// onShelf reports whether all of an option is in stock. Ash ranks first for that only up to common
// advice, unless a good reading shows the need.
func (s *sum) onShelf(o *Option) bool {
	return !slices.ContainsFunc(o.Parts, func(p Part) bool {
		much := p.Of.Family == material.Ash && p.Rate+p.Rest+s.history(material.Ash) > material.AshCommonAdvice+nothing
		return much && !s.wellRead() || !p.Of.Has(p.Total)
	})
}

// met reports whether an option meets its need; under the careful pace, the part before a test.
func (s *sum) met(o *Option) bool {
	if o.Waits() {
		return o.short < nothing
	}
	if s.forK {
		return o.ShortfallK2O == 0
	}
	return o.Shortfall == 0
}

// oddMagnesium reports whether an option contains the wrong lime for the magnesium: dolomitic when
// it is not low, another when it is.
func (s *sum) oddMagnesium(o *Option) bool {
	if s.want <= 0 || s.forK {
		return false
	}
	mg := s.Reading.Magnesium
	low := mg != nil && *mg < soil.MagnesiumLow
	dolomitic := slices.ContainsFunc(o.Parts, func(p Part) bool { return p.Kind == material.DolomiticLime })
	return dolomitic != low
}
