// Package guard is the table of rules of harm: what stops a rate (stop), what must be read
// before it (caution), what is good to know (note).
//
// A rule is a row: id, level, scope, condition, source. Its sentences are in package text
// under the same id.
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
	// State is how the bed stands on the day of the dose.
	*bed.Judgement
	Target quantity.PH
	// TargetTyped is set when the gardener typed it.
	TargetTyped bool
	// Stand is what the trigger says without the typed target.
	Stand crop.Stand
	// Raising and Lowering say which way the dose goes; both false: none.
	Raising, Lowering bool
	AshApproach       material.AshApproach
	Buffering         soil.LimeMethod
	// Beyond is set when the method was carried on past its last printed target;
	// ByTable is what the texture table gives where a buffer gives nothing.
	Beyond  bool
	ByTable quantity.Rate
	// Surprise is the last test where it waits for a confirming one.
	Surprise *forecast.Surprise
	// Untaught is how many tests a bed had that did not teach enough to dose by; nil where that was not asked for.
	Untaught *int
	// WaterIgnored is set where the method leaves light watering out.
	WaterIgnored bool
	// NoTomatoAsh is set where the method keeps ash from tomatoes.
	NoTomatoAsh bool
	// Dusting is set where two jars carry a light dusting.
	Dusting bool
	// ForPotassium is set where potassium is to be dosed, not pH.
	ForPotassium bool

	Material *material.Batch
	Worth    material.Worth

	Total  quantity.Rate
	KAfter *quantity.Concentration
	// Over is the chance of ending PastBand past the band, P95 the pH that one in
	// twenty ends past: above when raising, below when lowering.
	Over  float64
	P95   quantity.PH
	Unmet quantity.Rate
	// Careful is set where a test stands before what may overshoot.
	Careful bool
	// Mix is set when the option has other parts.
	Mix bool
	// AshFiveYears is the ash of five years with the option's own, AshRunning is
	// set where three years running had much.
	AshFiveYears quantity.Rate
	AshRunning   bool
	// LateSowing is the sowing that lime comes too late for, with the share of it
	// that will have acted by then; no day when it is in time.
	LateSowing quantity.Day
	LateShare  float64
	// N is the nitrogen that the option feeds.
	N quantity.Rate
	// LeftOut is set when applications had to be left out since no day served.
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

// Edges of what a pH does to what is in the soil: iron and its like are locked up
// above LockHigh, phosphorus and its like below LockLow, and below LooseMetals
// aluminium and manganese come loose.
const (
	LockHigh    quantity.PH = 7.3
	LockLow     quantity.PH = 5.5
	LooseMetals quantity.PH = 5.0
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

// raises reports whether a material would raise a bed that is not to be lowered.
func raises(f *Facts) bool { return f.Material.Raises() && !f.Lowering }

// bringsK reports whether a material feeds potassium.
func bringsK(f *Facts) bool { return f.Worth.K2O > 0 }

// lockedOut reports whether a crop kept sour stands in soil that is too sour.
func lockedOut(f *Facts) bool { return f.PH > 0 && f.PH < crop.LockOut-edge }

// edge keeps figures that are read to hundredths on their side of an edge.
const edge = 1e-9

// PastBand is how far past the band counts as past it, mostOver the chance of
// that from which it must be said.
const PastBand quantity.PH = 0.2

const mostOver = 0.10

// CarefulOver is the most chance of ending past the range that the careful pace takes: one in forty.
const CarefulOver = 1.0 / 40

// tooOften reports whether an option ends past the range too often for its pace.
func tooOften(f *Facts) bool {
	if f.Careful {
		return f.Over > CarefulOver+edge
	}
	return f.Over > mostOver
}

// FreeLimeFrom is the pH from which soil may hold free lime, LimyFrom that from
// which a faint fizz makes lowering doubtful.
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

// OvershotMonths is how long lime that overshot is waited for before sulfur answers it.
const OvershotMonths = 24

// limed is the last day on which lime or ash went on before a reading over the band, within OvershotMonths; no day for none.
func limed(f *Facts) (last quantity.Day) {
	if f.PH <= f.Crop.Band.High {
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

// Stale reports whether a reading is too old to rest a dose on, or was overtaken
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

// landing adds the layer that the material meets.
func landing(f *Facts) working.Values {
	return bandAnd(f, working.Num("lands", working.PH, f.Lands), working.ID("worked", f.Ground.Worked),
		working.Int("layered", working.Count, bit(f.Profile.Layered)))
}

// past adds how often an option ends past the band.
func past(f *Facts) working.Values {
	return bandAnd(f, working.Num("p95", working.PH, f.P95), working.Num("chance", working.Percent, 100*f.Over),
		working.Int("careful", working.Count, bit(f.Careful)), working.Num("past", working.PH, PastBand))
}

func ceiling(f *Facts) working.Values {
	return working.Values{working.Num("k", working.PPM, *f.K.Now), working.Num("ceiling", working.PPM, f.K.Scale.Ceiling)}
}

// ends are the lowest and highest pH that was read.
func ends(f *Facts) working.Values {
	return working.Values{working.Num("sourest", working.PH, f.Profile.Sourest), working.Num("sweetest", working.PH, f.Profile.Sweetest)}
}

// Rules is the whole table, stops first.
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

// Against are the stops that a bed, as it stands, has against a batch: whoever asks, of whatever amount.
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

// Refuses reports whether findings take a material off the list: a stop, or a
// material that cannot do what is asked.
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

// NoDay is the finding for a material that no day in the next 52 weeks serves;
// why is the id of the calendar's rule, and its own.
func NoDay(why string) Finding {
	return Finding{ID: why, Level: Stop, Source: "calendar", With: working.Values{working.ID("why", why)}}
}

// Moved is the finding for a first application that a rule of the calendar put off to a
// day: a stop that passes with time.
func Moved(why string, until quantity.Day) Finding {
	return Finding{ID: why, Level: Note, Source: "calendar", With: working.Values{working.ID("why", why), working.On("until", until)}}
}

// NotOffered is the finding for a family without a rate on such ground.
func NotOffered(kind material.Kind, use soil.Use, worked soil.Worked) Finding {
	return Finding{ID: "not-offered-here", Level: Stop, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.ID("use", use), working.ID("worked", worked)}}
}

// FizzOnly is the finding for a material that nothing but a figure can carry.
func FizzOnly() Finding { return Finding{ID: "fizz-only", Level: Stop, Source: "trust"} }

// TooLittle is the id of NotWorthwhile.
const TooLittle = "not-worth-a-go"

// LeastMove is the least that an option must move pH by in all to be worth an application.
const LeastMove quantity.PH = 0.1

// MovesTooLittle is the finding for so much of a material that pH would hardly move by it.
func MovesTooLittle(kind material.Kind, rate quantity.Rate) Finding {
	return Finding{ID: TooLittle, Level: Note, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.Num("rate", working.Rate, rate), working.Num("moves", working.PH, LeastMove)}}
}

// NotWorthwhile is the finding for a material of which so little would serve, of potassium, that
// no application is worth it.
func NotWorthwhile(kind material.Kind, rate, least quantity.Rate) Finding {
	return Finding{ID: TooLittle, Level: Note, Source: "caps",
		With: working.Values{working.ID("kind", kind), working.Num("rate", working.Rate, rate), working.Num("least", working.Rate, least)}}
}

// AcidSpentID is the id of AcidSpent.
const AcidSpentID = "acid-spent"

// AcidSpent is the finding for acid that free lime, which takes so much CaCO₃ of it, would spend before pH can move.
func AcidSpent(takes quantity.Rate) Finding {
	return Finding{ID: AcidSpentID, Level: Stop, Source: "free-lime", With: working.Values{working.Num("acid", working.Rate, takes)}}
}

// NothingToGive is the finding for a material whose limits leave nothing.
func NothingToGive(limit string) Finding {
	return Finding{ID: "nothing-to-give", Level: Stop, Source: "caps", With: working.Values{working.ID("limit", limit)}}
}

// HalfGoneID is the id of HalfGone.
const HalfGoneID = "half-gone"

// HalfGone is the finding for what a weak reading carries half of, where that half went on since: the rest waits for a test. On is
// the day of what was applied last, given what it comes to of CaCO₃, and retest when a test tells.
func HalfGone(on quantity.Day, given quantity.Rate, retest quantity.Day) Finding {
	return Finding{ID: HalfGoneID, Level: Stop, Source: "half-first",
		With: working.Values{working.On("date", on), working.Num("given", working.Rate, given), working.On("retest", retest)}}
}

// SurprisingID is the id of the rule on a test that waits for a confirming one.
const SurprisingID = "surprising-test"

// FirstPartGoneID is the id of FirstPartGone.
const FirstPartGoneID = "first-part-gone"

// FirstPartGone is the finding for a dose of which the part that goes on before a test went on since the reading: the rest waits. On is
// the day of what was applied last, given what it comes to of CaCO₃, and test when a test tells.
func FirstPartGone(on quantity.Day, given quantity.Rate, test quantity.Day) Finding {
	return Finding{ID: FirstPartGoneID, Level: Stop, Source: "pace",
		With: working.Values{working.On("date", on), working.Num("given", working.Rate, given), working.On("retest", test)}}
}

// MoreThan is the finding for an amount by hand that is over a limit: most is what the
// limit leaves.
func MoreThan(limit string, most quantity.Rate) Finding {
	return Finding{ID: "more-than", Level: Stop, Source: "caps",
		With: working.Values{working.ID("limit", limit), working.Num("most", working.Rate, max(0, most))}}
}

// BandTop is the id of the limit on what may be applied by hand: no further than the edge
// of the crop's band.
const BandTop = "band-top"
