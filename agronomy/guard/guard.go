// Package guard is the table of safety rules: what forbids a rate (stop), what must be read first
// (caution), and what is useful to know (note).
//
// A rule is a row: id, level, scope, condition, source. Its sentences are in package text under the
// same id.
package guard

import (
	"slices"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Level is the severity of a rule.
type Level string

// Levels.
const (
	Stop    Level = "stop"
	Caution Level = "caution"
	Note    Level = "note"
)

// Scope is what a rule looks at.
type Scope int

// The scopes: the request alone; the request and one material, before its rate is known; an option
// with its rates.
const (
	OfRequest Scope = iota
	OfMaterial
	OfOption
)

// Facts are the input of the rules. Fields from Material on are set for OfMaterial and OfOption,
// those from Total on for OfOption only.
type Facts struct {
	// State is the verdict on the bed.
	*bed.Judgement
	Target quantity.PH
	// TargetTyped is set when the gardener typed it.
	TargetTyped bool
	// Stand is the trigger's verdict, ignoring a typed target.
	Stand crop.Stand
	// Raising and Lowering are the direction of the dose; both false: none.
	Raising, Lowering bool
	AshApproach       material.AshApproach
	Buffering         soil.LimeMethod
	// Beyond is set when the method was extrapolated past its printed targets; ByTable is the
	// texture table's need when a buffer method yields none.
	Beyond  bool
	ByTable quantity.Rate
	// Surprise is the last test when it awaits confirmation.
	Surprise *forecast.Surprise
	// Unlearned is the number of a bed's tests when they do not suffice for the learned method; nil
	// if that was not asked for.
	Unlearned *int
	// WaterIgnored is set when the method leaves out light watering.
	WaterIgnored bool
	// NoTomatoAsh is set when the method keeps ash from tomatoes.
	NoTomatoAsh bool
	// Dusting is set when jars support a light dusting.
	Dusting bool
	// ForPotassium is set when potassium is dosed, not pH.
	ForPotassium bool

	Material *material.Batch
	Worth    material.Worth

	Total  quantity.Rate
	KAfter *quantity.Concentration
	// Over is the probability of ending PastRange past the range, P95 the pH passed with a
	// probability of 5 %: above when raising, below when lowering.
	Over      float64
	P95       quantity.PH
	Shortfall quantity.Rate
	// Careful is set when a test precedes what could overshoot.
	Careful bool
	// Mix is set when the option has other parts.
	Mix bool
	// AshFiveYears is the ash of five years including the option, AshRunning is set when three
	// consecutive years had much.
	AshFiveYears quantity.Rate
	AshRunning   bool
	// LateSowing is the sowing that lime comes too late for, with the share reacted by then; 0 when
	// it is in time.
	LateSowing quantity.Day
	LateShare  float64
	// N is the nitrogen that the option supplies.
	N quantity.Rate
	// LeftOut is set when applications were dropped because no day serves.
	LeftOut bool
}

// Finding is a rule that holds, with the values of its sentence.
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
	// With returns the values of the sentence; nil for none.
	With func(*Facts) working.Values
}

// Effects of pH on availability: iron and similar are locked up above LockHigh, phosphorus below
// LockLow, and aluminium and manganese are released below LooseMetals.
const (
	LockHigh    quantity.PH = 7.3
	LockLow     quantity.PH = 5.5
	LooseMetals quantity.PH = 5.0
)

// hardWater is the alkalinity from which water counts as hard, mg/L CaCO₃.
const hardWater = 150

func bit(b bool) int {
	if b {
		return 1
	}
	return 0
}

func isAsh(f *Facts) bool  { return f.Material.Family == material.Ash }
func isLime(f *Facts) bool { return f.Material.Raises() && f.Material.Family != material.Ash }

// raises reports whether a material would raise the pH of a bed that is not to be lowered.
func raises(f *Facts) bool { return f.Material.Raises() && !f.Lowering }

// bringsK reports whether a material supplies potassium.
func bringsK(f *Facts) bool { return f.Worth.K2O > 0 }

// lockedOut reports whether a crop kept at low pH stands in soil that is too sour.
func lockedOut(f *Facts) bool { return f.PH > 0 && f.PH < crop.LockOut-edge }

// edge keeps figures that are read to hundredths on their side of an edge.
const edge = 1e-9

// PastRange is the distance past the range that counts as past it, mostOver the probability from
// which that is reported.
const PastRange quantity.PH = 0.2

const mostOver = 0.10

// CarefulOver is the highest probability of ending past the range under the careful pace: one in
// forty.
const CarefulOver = 1.0 / 40

// tooOften reports whether an option's probability of ending past the range is too high for its
// pace.
func tooOften(f *Facts) bool {
	if f.Careful {
		return f.Over > CarefulOver+edge
	}
	return f.Over > mostOver
}

// FreeLimeFrom is the pH from which soil may hold free lime, LimyFrom the one from which a faint
// fizz makes lowering doubtful.
const (
	FreeLimeFrom quantity.PH = 7.4
	LimyFrom     quantity.PH = 7.5
)

func sulfurOnLime(f *Facts) bool {
	if f.Material.Family != material.Sulfur {
		return false
	}
	switch f.Ground.FreeLime {
	case soil.LimeClear, soil.LimeStrong:
		return true
	case soil.LimeUnknown:
		return f.PH >= FreeLimeFrom-edge
	}
	return false
}

// OvershotMonths is how long to wait after lime that overshot before sulfur is considered.
const OvershotMonths = 24

// limed returns the last day on which lime or ash was applied before a reading over the range,
// within OvershotMonths; 0 for none.
func limed(f *Facts) (last quantity.Day) {
	if f.PH <= f.Crop.Range.High {
		return 0
	}
	for i := range f.Season.History {
		a := &f.Season.History[i]
		if a.Material.Raises() && a.Date < f.Reading.Date && a.Date.AddMonths(OvershotMonths) >= f.Date {
			last = max(last, a.Date)
		}
	}
	return last
}

func trust(f *Facts) soil.Trust { t, _ := soil.FindMethod(f.Reading.Method); return t }

func old(f *Facts) bool {
	return f.Reading.Date.AddMonths(soil.StaleAfter(f.Ground.Texture.ID)) < f.Date
}

// Stale reports whether a reading is too old for a dose, or predates an application.
func Stale(f *Facts) bool {
	return old(f) || f.UsedAfter
}

// rangeAnd returns the values of the crop's range and the reading, and more.
func rangeAnd(f *Facts, more ...working.Value) working.Values {
	return append(append(make(working.Values, 0, 5+len(more)),
		working.Num("low", working.PH, f.Crop.Range.Low), working.Num("high", working.PH, f.Crop.Range.High),
		working.ID("crop", f.Crop.ID), working.Num("ph", working.PH, f.PH), working.Num("target", working.PH, f.Target)), more...)
}

func span(f *Facts) working.Values { return rangeAnd(f) }

// landing returns the values of the layer that the material meets.
func landing(f *Facts) working.Values {
	return rangeAnd(f, working.Num("lands", working.PH, f.Lands), working.ID("worked", f.Ground.Worked),
		working.Int("layered", working.Count, bit(f.Profile.Layered)))
}

// past returns the values of the probability of ending past the range.
func past(f *Facts) working.Values {
	return rangeAnd(f, working.Num("p95", working.PH, f.P95), working.Num("chance", working.Percent, 100*f.Over),
		working.Int("careful", working.Count, bit(f.Careful)), working.Num("past", working.PH, PastRange))
}

func ceiling(f *Facts) working.Values {
	return working.Values{working.Num("k", working.PPM, *f.K.Now), working.Num("ceiling", working.PPM, f.K.Scale.Ceiling)}
}

// ends returns the values of the lowest and highest pH read.
func ends(f *Facts) working.Values {
	return working.Values{working.Num("sourest", working.PH, f.Profile.Sourest), working.Num("sweetest", working.PH, f.Profile.Sweetest)}
}

// Rules is the table of all rules, stops first.
var Rules = slices.Concat(stops, cautions, notes)

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

// Append runs the rules of a scope and appends the findings to out.
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

// Against returns the stops of a bed against a batch, for any amount.
func Against(s *bed.Judgement, b *material.Batch) (out []Finding) {
	f := Facts{Judgement: s, Target: s.Crop.Aim, Raising: b.Raises(), Lowering: b.Lowers(), ForPotassium: !b.MovesPH(), Material: b,
		Worth: b.Worth()}
	for _, x := range Check(OfMaterial, &f) {
		if x.Level == Stop {
			out = append(out, x)
		}
	}
	return out
}

// Refuses reports whether findings rule out a material: a stop, or one that cannot have the wanted
// effect.
func Refuses(fs []Finding) bool { return len(fs) > 0 }

// Stopped reports whether a stop is among findings.
func Stopped(fs []Finding) bool {
	return slices.ContainsFunc(fs, func(f Finding) bool { return f.Level == Stop })
}

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

// NoDay returns the finding for a material without an allowed day in the next 52 weeks; why is the
// calendar rule's id.
func NoDay(why string) Finding {
	return Finding{ID: why, Level: Stop, Source: "calendar", With: working.Values{working.ID("why", why)}}
}

// Moved returns the finding for a first application that a calendar rule delays to a day: a stop
// that passes with time.
func Moved(why string, until quantity.Day) Finding {
	return Finding{ID: why, Level: Note, Source: "calendar", With: working.Values{working.ID("why", why), working.On("until", until)}}
}

// NotOffered returns the finding for a family that has no rate on such ground.
func NotOffered(kind material.Kind, use soil.Use, worked soil.Worked) Finding {
	return Finding{ID: "not-offered-here", Level: Stop, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.ID("use", use), working.ID("worked", worked)}}
}

// FizzOnly returns the finding for a material that needs a figure, when only jars were read.
func FizzOnly() Finding { return Finding{ID: "fizz-only", Level: Stop, Source: "trust"} }

// TooLittle is the id of NotWorthwhile.
const TooLittle = "not-worth-a-go"

// LeastMove is the least change of pH worth applying an option for.
const LeastMove quantity.PH = 0.1

// MovesTooLittle returns the finding for an amount that hardly moves pH.
func MovesTooLittle(kind material.Kind, rate quantity.Rate) Finding {
	return Finding{ID: TooLittle, Level: Note, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.Num("rate", working.Rate, rate), working.Num("moves", working.PH, LeastMove)}}
}

// NotWorthwhile returns the finding for an amount for potassium that is too small to apply.
func NotWorthwhile(kind material.Kind, rate, least quantity.Rate) Finding {
	return Finding{ID: TooLittle, Level: Note, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.Num("rate", working.Rate, rate), working.Num("least", working.Rate, least)}}
}

// AcidSpentID is the id of AcidSpent.
const AcidSpentID = "acid-spent"

// AcidSpent returns the finding for acid that free lime, worth takes of CaCO₃, consumes before pH
// can move.
func AcidSpent(takes quantity.Rate) Finding {
	return Finding{ID: AcidSpentID, Level: Stop, Source: "free-lime", With: working.Values{working.Num("acid", working.Rate, takes)}}
}

// NothingToGive returns the finding for a material whose limits leave nothing.
func NothingToGive(limit string) Finding {
	return Finding{ID: "nothing-to-give", Level: Stop, Source: "caps", With: working.Values{working.ID("limit", limit)}}
}

// HalfGoneID is the id of HalfGone.
const HalfGoneID = "half-gone"

// HalfGone returns the finding for a weak reading whose half dose was already applied: the rest
// waits for a test. on is the day of the last application, given its CaCO₃, retest the day of the
// test.
func HalfGone(on quantity.Day, given quantity.Rate, retest quantity.Day) Finding {
	return Finding{ID: HalfGoneID, Level: Stop, Source: "half-first",
		With: working.Values{working.On("date", on), working.Num("given", working.Rate, given), working.On("retest", retest)}}
}

// SurprisingID is the id of the rule for a test that awaits confirmation.
const SurprisingID = "surprising-test"

// FirstPartGoneID is the id of FirstPartGone.
const FirstPartGoneID = "first-part-gone"

// FirstPartGone returns the finding for a dose whose part before a test was already applied: the
// rest waits. on is the day of the last application, given its CaCO₃, test the day of the test.
func FirstPartGone(on quantity.Day, given quantity.Rate, test quantity.Day) Finding {
	return Finding{ID: FirstPartGoneID, Level: Stop, Source: "pace",
		With: working.Values{working.On("date", on), working.Num("given", working.Rate, given), working.On("retest", test)}}
}

// MoreThan returns the finding for a chosen amount over a limit; most is what the limit leaves.
func MoreThan(limit string, most quantity.Rate) Finding {
	return Finding{ID: "more-than", Level: Stop, Source: "caps",
		With: working.Values{working.ID("limit", limit), working.Num("most", working.Rate, max(0, most))}}
}

// RangeTop is the id of the limit of chosen amounts to the edge of the crop's range.
const RangeTop = "band-top"
