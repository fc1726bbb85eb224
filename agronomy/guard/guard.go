// Package guard is the table of rules that stand between a sum and the soil:
// what stops a rate, what must be read before it, and what is good to know.
//
// A rule is a row: id, level, scope, condition, source. Its sentences stand in
// package words under the same id.
package guard

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Level says how strong a rule is.
type Level string

// Levels.
const (
	Stop    Level = "stop"
	Caution Level = "caution"
	Note    Level = "note"
)

// Scope says what a rule looks at.
type Scope int

// Scopes: the request alone; the request and one material, before its rate is
// known; an option with its rates.
const (
	OfRequest Scope = iota
	OfMaterial
	OfOption
)

// Facts are what the rules look at. Fields below Material are set from
// OfMaterial on, those below Total for OfOption only.
type Facts struct {
	Date    quantity.Day
	Ground  soil.Ground
	Reading soil.Reading
	// PH is the reading on the water basis.
	PH     quantity.PH
	Crop   crop.Crop
	Target quantity.PH
	// TargetTyped is set when the gardener typed it.
	TargetTyped bool
	// Acts is what the act school says without the typed target.
	Acts bool
	// Raising and Lowering say which way the dose goes; both false: none.
	Raising, Lowering bool
	Potassium         soil.PotassiumScale
	// SinceAmendment is days from the last lime or ash before the reading to
	// the reading; below 0 when there was none.
	SinceAsh, SinceLime quantity.Day
	AshSchool           material.AshSchool
	Buffering           soil.School
	// Joined tells how several readings came together.
	Joined soil.Joined
	// UsedAfter is set when something went on after the reading that was not
	// planned from it.
	UsedAfter bool
	// Conflict is set when the bands of First and Second do not meet.
	Conflict      bool
	First, Second crop.Crop
	// Below is the lowest pH of a layer under the bed's depth; 0: none known.
	Below quantity.PH
	// Water is the alkalinity of the water, mg/L CaCO₃; nil: not known.
	Water *float64

	Material *material.Batch
	Worth    material.Worth

	Total  quantity.Rate
	KAfter *quantity.Concentration
	P95    quantity.PH
	Unmet  quantity.Rate
	// N is the nitrogen that the option feeds.
	N quantity.Rate
	// LeftOut is set when goes had to be left out since no day served.
	LeftOut bool
}

// Finding is a rule that holds, with the values its sentence needs.
type Finding struct {
	ID     string
	Level  Level
	With   working.Values
	Source string
}

// Rule is a row of the table.
type Rule struct {
	ID     string
	Level  Level
	Scope  Scope
	Source string
	Holds  func(*Facts) bool
	// With gives the values of the sentence; nil for none.
	With func(*Facts) working.Values
}

const (
	weeks8  quantity.Day = 56
	weeks12 quantity.Day = 84
)

// hardWater is where water begins to count as hard, mg/L CaCO₃.
const hardWater = 150

func bit(b bool) int {
	if b {
		return 1
	}
	return 0
}

func isAsh(f *Facts) bool  { return f.Material.Family == material.Ash }
func isLime(f *Facts) bool { return f.Material.Raises() && f.Material.Family != material.Ash }

func sulfurOnLime(f *Facts) bool {
	if f.Material.Family != material.Sulfur {
		return false
	}
	switch f.Ground.FreeLime {
	case soil.LimeClear, soil.LimeStrong:
		return true
	case soil.LimeUnknown:
		return f.PH >= 7.4
	}
	return false
}

func trust(f *Facts) soil.Trust { t, _ := soil.FindMethod(f.Reading.Method); return t }

func old(f *Facts) bool {
	return f.Reading.Date.AddMonths(soil.StaleAfter(f.Ground.Texture.ID)) < f.Date
}

// Stale tells whether a reading is too old to rest a dose on, or was overtaken
// by something put on.
func Stale(f *Facts) bool {
	return old(f) || f.UsedAfter
}

// bandAnd are the values of the crop's band and the reading, and some more.
func bandAnd(f *Facts, more ...working.Value) working.Values {
	return append(append(make(working.Values, 0, 5+len(more)),
		working.Num("low", working.PH, f.Crop.Band.Low), working.Num("high", working.PH, f.Crop.Band.High),
		working.ID("crop", f.Crop.ID), working.Num("ph", working.PH, f.PH), working.Num("target", working.PH, f.Target)), more...)
}

func band(f *Facts) working.Values { return bandAnd(f) }

// Rules is the whole table, stops first.
var Rules = []Rule{
	{ID: "fizz-only", Level: Stop, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return trust(f).Dose == soil.Never }},
	{ID: "methods-disagree", Level: Stop, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Disagree },
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("a", f.Joined.A), working.ID("b", f.Joined.B), working.Num("apart", working.PH, f.Joined.Apart)}
		}},
	{ID: "crops-conflict", Level: Stop, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool { return f.Conflict },
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("a", f.First.ID), working.Num("low", working.PH, f.First.Band.Low),
				working.ID("b", f.Second.ID), working.Num("high", working.PH, f.Second.Band.High)}
		}},

	{ID: "above-band-top", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool { return f.Raising && f.Material.Raises() && f.PH >= f.Crop.Band.High }, With: band},
	{ID: "ash-acid-lover", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Crop.Is(crop.AcidLover) }, With: band},
	{ID: "potato-year", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool { return f.Material.Raises() && f.Crop.Is(crop.Scab) }},
	{ID: "ash-unsuited-crop", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Crop.Is(crop.NoAsh) && !f.Crop.Is(crop.AcidLover) && !f.Crop.Is(crop.Scab)
		}, With: band},
	{ID: "ash-at-6.5", Level: Stop, Scope: OfMaterial, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && f.PH >= 6.5 }, With: band},
	{ID: "ash-source", Level: Stop, Scope: OfMaterial, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Material.Source != material.Clean },
		With:  func(f *Facts) working.Values { return working.Values{working.ID("source", f.Material.Source)} }},
	{ID: "ash-not-measured", Level: Stop, Scope: OfMaterial, Source: "ash-schools",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.AshSchool == material.MeasuredOnly && f.Worth.Typical
		}},
	{ID: "ash-hot", Level: Stop, Scope: OfMaterial, Source: "ash",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Material.Burnt != 0 && f.Date-f.Material.Burnt < material.HotDays
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.On("cool", f.Material.Burnt+material.HotDays)}
		}},
	{ID: "aluminium-food", Level: Stop, Scope: OfMaterial, Source: "caps",
		Holds: func(f *Facts) bool { return f.Material.Family == material.Aluminium && !f.Crop.Is(crop.NotFood) }},
	{ID: "potassium-ceiling", Level: Stop, Scope: OfMaterial, Source: "potassium",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Reading.Potassium != nil && *f.Reading.Potassium >= f.Potassium.Ceiling
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("k", working.PPM, *f.Reading.Potassium), working.Num("ceiling", working.PPM, f.Potassium.Ceiling)}
		}},
	{ID: "sulfur-free-lime", Level: Stop, Scope: OfMaterial, Source: "free-lime", Holds: sulfurOnLime,
		With: func(f *Facts) working.Values {
			return working.Values{
				working.ID("free_lime", f.Ground.FreeLime),
				working.Num("acid", working.Rate, float64(f.Ground.FreeLime.Share())*10*f.Ground.SoilMass()),
			}
		}},

	{ID: "weak-method", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { d := trust(f).Dose; return d == soil.WithCaution || d == soil.HalfFirst },
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("method", f.Reading.Method), working.Num("sd", working.PH, f.Reading.SD()),
				working.Int("half", working.Count, int(trust(f).Dose))}
		}},
	{ID: "outranked", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Outranked }},
	{ID: "outlier", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Outliers > 0 },
		With: func(f *Facts) working.Values {
			return working.Values{working.Int("n", working.Count, f.Joined.Outliers)}
		}},
	{ID: "fizz-doubts", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Doubted }},
	{ID: "buried-acid", Level: Caution, Scope: OfRequest, Source: "layers",
		Holds: func(f *Facts) bool { return f.Below > 0 && f.Below < f.Crop.Band.Low },
		With: func(f *Facts) working.Values {
			return bandAnd(f, working.Num("below", working.PH, f.Below), working.Num("depth", working.Depth, f.Ground.Depth))
		}},
	{ID: "potassium-too-much", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool { return f.Potassium.Judge(f.Reading.Potassium) == soil.TooMuch },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("k", working.PPM, *f.Reading.Potassium), working.Num("ceiling", working.PPM, f.Potassium.Ceiling)}
		}},
	{ID: "potassium-extractant", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool {
			return f.Reading.Potassium != nil && f.Reading.KRange == nil && !f.Reading.Extractant.Comparable()
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("extractant", f.Reading.Extractant)}
		}},
	{ID: "hard-water", Level: Caution, Scope: OfRequest, Source: "water",
		Holds: func(f *Facts) bool { return f.Water != nil && *f.Water >= hardWater },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("alkalinity", working.None, *f.Water)}
		}},
	{ID: "adams-evans-range", Level: Caution, Scope: OfRequest, Source: "adams-evans",
		Holds: func(f *Facts) bool {
			return f.Buffering == soil.ByAdamsEvans && f.Raising && (f.Target > 6.5 || f.Ground.Capacity() > 10)
		}},
	{ID: "stale-reading", Level: Caution, Scope: OfRequest, Source: "trust", Holds: Stale,
		With: func(f *Facts) working.Values {
			return working.Values{working.On("date", f.Reading.Date), working.Int("months", working.Count, soil.StaleAfter(f.Ground.Texture.ID)), working.Int("old", working.Count, bit(old(f)))}
		}},
	{ID: "sampled-too-soon", Level: Caution, Scope: OfRequest, Source: "retest",
		Holds: func(f *Facts) bool {
			return f.SinceAsh >= 0 && f.SinceAsh < weeks8 || f.SinceLime >= 0 && f.SinceLime < weeks12
		}},
	{ID: "large-change", Level: Caution, Scope: OfRequest, Source: "caps",
		Holds: func(f *Facts) bool {
			return (f.Raising || f.Lowering) && (f.Target-f.PH > 1 || f.PH-f.Target > 1)
		}, With: band},
	{ID: "lowering-impractical", Level: Caution, Scope: OfRequest, Source: "free-lime",
		Holds: func(f *Facts) bool {
			return f.Lowering && f.PH > 7.5 && f.Ground.FreeLime == soil.LimeFaint
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("acid", working.Rate, float64(f.Ground.FreeLime.Share())*10*f.Ground.SoilMass())}
		}},
	{ID: "target-outside-band", Level: Caution, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool { return f.TargetTyped && f.Crop.ID != "" && !f.Crop.Band.Holds(f.Target) }, With: band},
	{ID: "magnesium-low", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool {
			return f.Reading.Magnesium != nil && *f.Reading.Magnesium < soil.MagnesiumLow
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("mg", working.PPM, *f.Reading.Magnesium)}
		}},

	{ID: "overshoot", Level: Caution, Scope: OfOption, Source: "forecast",
		Holds: func(f *Facts) bool { return f.Raising && f.P95 > f.Crop.Band.High }, With: func(f *Facts) working.Values {
			return bandAnd(f, working.Num("p95", working.PH, f.P95))
		}},
	{ID: "ash-over-common-advice", Level: Caution, Scope: OfOption, Source: "caps",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Total > material.AshCommonAdvice },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("total", working.Rate, f.Total)}
		}},
	{ID: "potassium-unknown", Level: Caution, Scope: OfOption, Source: "potassium",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Reading.Potassium == nil }},
	{ID: "potassium-magnesium", Level: Caution, Scope: OfOption, Source: "potassium",
		Holds: func(f *Facts) bool {
			if !isAsh(f) || f.KAfter == nil || *f.KAfter <= f.Potassium.EnoughTo {
				return false
			}
			share := float64(*f.KAfter) / 391 / float64(f.Ground.Capacity())
			mg := f.Reading.Magnesium
			return share > 0.07 || mg != nil && *mg > 0 && *f.KAfter / *mg > 1.5
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("k", working.PPM, *f.KAfter)}
		}},
	{ID: "seed-crop", Level: Caution, Scope: OfOption, Source: "crops",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Crop.Is(crop.TenderSeed) }, With: band},
	{ID: "ash-wet", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Material.Condition == material.Wet }},
	{ID: "ash-old", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Material.Burnt != 0 && f.Date-f.Material.Burnt > material.OldDays
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Int("days", working.Days, int(f.Date-f.Material.Burnt))}
		}},
	{ID: "black-walnut", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Material.Walnut }},
	{ID: "aluminium-sour", Level: Caution, Scope: OfOption, Source: "caps",
		Holds: func(f *Facts) bool { return f.Material.Family == material.Aluminium && f.PH < 5 }},
	{ID: "salt-seedlings", Level: Caution, Scope: OfOption, Source: "caps",
		Holds: func(f *Facts) bool {
			switch f.Material.Family {
			case material.Ammonium, material.UreaFeed, material.Potash:
				return f.Crop.Is(crop.TenderSeed)
			}
			return false
		}},
	{ID: "hydrated-lime", Level: Caution, Scope: OfOption, Source: "safety",
		Holds: func(f *Facts) bool { return f.Material.Family == material.HydratedLime }},
	{ID: "lime-acid-lover", Level: Caution, Scope: OfOption, Source: "crops",
		Holds: func(f *Facts) bool { return isLime(f) && f.Crop.Is(crop.AcidLover) }, With: band},
	{ID: "surface-slow", Level: Caution, Scope: OfOption, Source: "surface",
		Holds: func(f *Facts) bool { return f.Ground.Worked == soil.Surface }},
	{ID: "established-shrubs", Level: Caution, Scope: OfOption, Source: "surface",
		Holds: func(f *Facts) bool { return f.Ground.Worked == soil.Established && f.Ground.Use != soil.UseLawn }},
	{ID: "days-left-out", Level: Caution, Scope: OfOption, Source: "calendar",
		Holds: func(f *Facts) bool { return f.LeftOut }},

	{ID: "no-ph-change", Level: Note, Scope: OfMaterial, Source: "materials",
		Holds: func(f *Facts) bool { return !f.Material.Raises() && !f.Material.Lowers() },
		With:  func(f *Facts) working.Values { return working.Values{working.ID("kind", f.Material.Kind)} }},
	{ID: "wrong-way", Level: Note, Scope: OfMaterial, Source: "materials",
		Holds: func(f *Facts) bool {
			return f.Raising && f.Material.Lowers() || f.Lowering && f.Material.Raises()
		},
		With: func(f *Facts) working.Values {
			way := "raise"
			if f.Lowering {
				way = "lower"
			}
			return working.Values{working.ID("kind", f.Material.Kind), working.ID("way", way)}
		}},
	{ID: "feeds-nitrogen", Level: Note, Scope: OfOption, Source: "materials",
		Holds: func(f *Facts) bool { return f.N > 0 }, With: func(f *Facts) working.Values {
			return working.Values{working.Num("n", working.Rate, f.N)}
		}},
	{ID: "yellow-leaves", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.Crop.Is(crop.AcidLover) && f.PH > f.Crop.Band.High }},
	{ID: "typical-strength", Level: Note, Scope: OfOption, Source: "ash-schools",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Worth.Typical }},
	{ID: "target-overrides", Level: Note, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool {
			return f.TargetTyped && f.Crop.ID != "" && f.Crop.Band.Holds(f.Target) && !f.Acts && (f.Raising || f.Lowering)
		}, With: band},
	{ID: "lock-up-high", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.PH > 7.3 }},
	{ID: "lock-up-low", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.PH > 0 && f.PH < 5.5 && !f.Crop.Is(crop.AcidLover) }},
	{ID: "aluminium-low", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.PH > 0 && f.PH < 5.0 && !f.Crop.Is(crop.AcidLover) }},
}

// byScope are the rules of each scope, in the table's order.
var byScope = func() (out [OfOption + 1][]*Rule) {
	for i := range Rules {
		r := &Rules[i]
		out[r.Scope] = append(out[r.Scope], r)
	}
	return out
}()

// Check runs the rules of a scope.
func Check(s Scope, f *Facts) []Finding { return Append(nil, s, f) }

// Append runs the rules of a scope and adds what holds to out.
func Append(out []Finding, s Scope, f *Facts) []Finding {
	for _, r := range byScope[s] {
		if !r.Holds(f) {
			continue
		}
		found := Finding{ID: r.ID, Level: r.Level, Source: r.Source}
		if r.With != nil {
			found.With = r.With(f)
		}
		out = append(out, found)
	}
	return out
}

// Refuses tells whether findings take a material off the list: a stop, or a
// material that cannot do what is asked.
func Refuses(fs []Finding) bool { return len(fs) > 0 }

// Worst counts the stops and cautions.
func Worst(fs []Finding) (stops, cautions int) {
	for _, f := range fs {
		switch f.Level {
		case Stop:
			stops++
		case Caution:
			cautions++
		}
	}
	return stops, cautions
}

// NoDay is the finding for a material that no day in the next 52 weeks serves;
// why is the id of the calendar's rule, and its own.
func NoDay(why string) Finding {
	return Finding{ID: why, Level: Stop, Source: "calendar", With: working.Values{working.ID("why", why)}}
}

// Moved is the finding for a first go that a rule of the calendar put off to a
// day: a stop that passes with time.
func Moved(why string, until quantity.Day) Finding {
	return Finding{ID: why, Level: Note, Source: "calendar", With: working.Values{working.ID("why", why), working.On("until", until)}}
}

// NotOffered is the finding for a family without a rate on such ground.
func NotOffered(kind material.Kind, use soil.Use, worked soil.Worked) Finding {
	return Finding{ID: "not-offered-here", Level: Stop, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.ID("use", use), working.ID("worked", worked)}}
}

// NothingToGive is the finding for a material whose limits leave nothing.
func NothingToGive(limit string) Finding {
	return Finding{ID: "nothing-to-give", Level: Stop, Source: "caps", With: working.Values{working.ID("limit", limit)}}
}
