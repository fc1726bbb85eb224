package text

import (
	"strconv"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
)

// facts are figures of the core's tables by the name that stands in braces in sentences, so that no
// sentence restates one.
var facts = map[string]func(Units) string{
	"top layer":       func(u Units) string { return u.Depth(soil.TopLayer) },
	"overshot months": fact(whole(guard.OvershotMonths)),
	"mg most":         func(u Units) string { return u.Rate(soil.MostMagnesium) },
	"mg aim":          fact(num(float64(soil.MagnesiumAim), 0)),
	"k mg high":       fact(num(soil.KMgHigh, 1)),
	"gypsum once":     func(u Units) string { return u.Rate(material.GypsumOnce) },
	"gypsum year":     func(u Units) string { return u.Rate(material.GypsumYear) },
	"careful over":    fact(num(1/guard.CarefulOver, 0)),
	"lapse months":    fact(whole(calendar.LapseMonths)),
	"pace step":       fact(Percent(dose.PaceStep)),
	"past range":      phOf(guard.PastRange),
	"horizon":         fact(Count(int(calendar.Horizon+1)/7, "week", "weeks")),
	"nitrogen days":   days(calendar.NitrogenDays),
	"nitrogen weeks":  fact(Spelled(int(calendar.NitrogenDays / 7))),
	"Lime time":       fact(Capital(Spelled(int(dose.LimeTime/7))) + " weeks"),
	"manure gap":      days(calendar.ManureGap),
	"rotted gap":      days(calendar.RottedGap),
	"harvest gap":     fact(whole(crop.TouchesGap)),
	"clear gap":       fact(whole(crop.ClearGap)),
	"hydrated gap":    weeksOf(calendar.HydratedGap),
	"hydrated stand":  fact(Spelled(int(calendar.HydratedStands / 7))),
	"tender gap":      days(crop.TenderGap),
	"usual gap":       fact(whole(crop.UsualGap)),
	"sown stands":     weeksOf(crop.SownStands),
	"planted stands":  fact(Spelled(int(crop.PlantedStands / 7))),
	"long rhythm":     fact(whole(calendar.LongMonths/12) + "–" + whole(calendar.MostMonths/12)),
	"long years":      fact(Spelled(calendar.LongMonths/12) + " to " + Spelled(calendar.MostMonths/12)),
	"most years":      fact(Spelled(calendar.MostMonths / 12)),

	"ash top":       phOf(material.AshTop),
	"dusting":       func(u Units) string { return u.Rate(material.DustingCap) },
	"much ash":      func(u Units) string { return u.Rate(material.MuchAshYear) },
	"much years":    fact(Spelled(material.MuchAshYears)),
	"ash span":      fact(Spelled(int(material.MuchAshSpan / 365))),
	"ash advice":    func(u Units) string { return u.rates(material.AdviceFrom, material.AdviceTo) },
	"acid lime":     func(u Units) string { return u.Rate(material.AcidLoverLimeYear) },
	"hot days":      days(material.HotDays),
	"old ash":       fact(yearsOf(material.OldDays)),
	"stale ash":     fact(yearsOf(material.StaleDays)),
	"usual low":     phOf(crop.Unnamed.Range.Low),
	"usual high":    phOf(crop.Unnamed.Range.High),
	"scab":          phOf(crop.LockOutAim),
	"lock-out":      phOf(crop.LockOut),
	"step in":       phOf(crop.StepIn),
	"clubroot":      phOf(crop.ClubrootAim),
	"drifts":        phOf(crop.LowerFrom),
	"lock high":     phOf(guard.LockHigh),
	"lock low":      phOf(guard.LockLow),
	"loose metals":  phOf(guard.LooseMetals),
	"free lime":     phOf(guard.FreeLimeFrom),
	"limy":          phOf(guard.LimyFrom),
	"most wind":     fact(Speed(calendar.MostWind)),
	"most rain":     fact(Rainfall(calendar.MostRain)),
	"after ash":     weeksOf(calendar.AfterAsh, "digits"),
	"after lime":    weeksOf(calendar.AfterLime, "digits"),
	"calibration":   days(soil.CalibrationDays),
	"disagree":      fact(num(soil.Disagree, 1)),
	"outlier":       fact(num(soil.Outlier, 1)),
	"muck":          fact(Percent(soil.MuckOM)),
	"light":         fact(Percent(soil.UsualOM)),
	"magnesium low": fact(num(float64(soil.MagnesiumLow), 0)),
	"smp top":       phOf(soil.SMPTop),
	"ae top":        phOf(soil.AdamsEvansTop),
	"ae cec":        fact(num(float64(soil.AdamsEvansCEC), 0)),
	"apart":         phOf(sampling.ReadingsApart),
	"treated":       fact(whole(sampling.TreatedMonths)),

	"above critical": fact(num(float64(soil.AboveCritical), 0)),
	"k of k2o":       fact(num(soil.K2OToK*1000, 0)),
	"acetate":        fact(whole(soil.AcetateBase)),
	"acetate cec":    fact(num(soil.AcetatePerCEC, 1)),
	"held":           fact(num(soil.HeldBase, 1)),
	"held cec":       fact(num(soil.HeldPerCEC, 2)),
	"h free":         fact(num(soil.HydrogenFree, 2)),
	"h slope":        fact(num(soil.HydrogenSlope, 2)),
	"h square":       fact(num(soil.HydrogenSquare, 2)),
	"organic":        fact(num(soil.OrganicDensity, 3)),
	"k share":        fact(num(soil.K2OToK, 2)),
	"most removal":   fact(whole(material.MostRemovals)),
	"per om":         fact(num(soil.PerOM, 3)),
	"per clay":       fact(num(soil.PerClay, 3)),
	"ae rate":        fact(whole(soil.AdamsEvansRate)),
	"ae end":         fact(trim(soil.AdamsEvansEnd, 2, 2)),
	"ae factor":      fact(num(soil.AdamsEvansFactor, 1)),
	"effective":      fact(num(soil.PrintedToEffective, 2)),
	"pound":          fact(num(float64(quantity.PoundPerAcre), 6)),
	"ton":            fact(num(float64(quantity.ShortTonPerAcre), 2)),
	"mehlich top":    phOf(quantity.PH(soil.MehlichTop)),
	"mehlich step":   fact(num(soil.MehlichStep, 2)),
	"sulfur gram":    fact(num(soil.SulfurGram, 2)),
	"sulfur from":    phOf(quantity.PH(soil.SulfurFrom)),
	"lime per cent":  fact(whole(soil.FreeLimePerPercent)),
}

func fact(s string) func(Units) string { return func(Units) string { return s } }

func phOf[T ~float64](p T) func(Units) string { return fact(PH(quantity.PH(p))) }

func days(d quantity.Day) func(Units) string { return fact(Count(int(d), "day", "days")) }

// weeksOf words days as weeks: in words, or in digits.
func weeksOf(d quantity.Day, as ...string) func(Units) string {
	if len(as) > 0 {
		return fact(Count(int(d/7), "week", "weeks"))
	}
	return fact(Spelled(int(d/7)) + " weeks")
}

func yearsOf(d quantity.Day) string {
	if n := int(d / 365); n != 1 {
		return Spelled(n) + " years"
	}
	return "a year"
}

func whole[T ~int | ~int32](n T) string { return strconv.Itoa(int(n)) }

// rates words a range of rates.
func (u Units) rates(from, to quantity.Rate) string {
	low, _, _ := strings.Cut(u.Rate(from), " ")
	return low + " to " + u.Rate(to)
}

// say fills the core's figures into a sentence.
func (u Units) say(s string) string {
	if !strings.Contains(s, "{") {
		return s
	}
	var b strings.Builder
	for {
		head, rest, found := strings.Cut(s, "{")
		b.WriteString(head)
		if !found {
			return b.String()
		}
		name, tail, closed := strings.Cut(rest, "}")
		f, known := facts[name]
		if !closed || !known {
			b.WriteByte('{')
			s = rest
			continue
		}
		b.WriteString(f(u))
		s = tail
	}
}
