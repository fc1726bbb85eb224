package text

import (
	"math"
	"strconv"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Check returns the sentence on whether a promise was kept, within the error of two readings, and
// otherwise the most likely reason.
func Check(k forecast.Check, method soil.LimeMethod) string {
	read, expected, off := PH(k.Measured), PH(k.Promised), k.Miss()
	by := PH(quantity.PH(math.Abs(off)))
	switch {
	case k.Why == forecast.TooSoon:
		return sprintf("read %s where %s was expected by then: %s %% has yet to act. It was expected to settle at %s", read, expected,
			num(100*(1-k.Reacted), 0), PH(k.Settles))
	case k.Why == forecast.AsPromised || math.Abs(off) <= k.SD:
		return sprintf("read %s where %s was expected: as expected, as near as readings can tell", read, expected)
	case off < 0:
		return withReason(sprintf("read %s where %s was expected: %s short", read, expected, by), whyMissed(k, method))
	}
	return withReason(sprintf("read %s where %s was expected: %s over", read, expected, by), whyMissed(k, method))
}

// withReason adds the sentence of the reason, if one is known.
func withReason(says, why string) string {
	if why == "" {
		return says
	}
	return says + ". " + why
}

// whyMissed returns the sentence on what most likely stands behind a miss.
func whyMissed(k forecast.Check, method soil.LimeMethod) string {
	short := k.Miss() < 0
	either := func(a, b string) string {
		if short == (k.Promised >= k.From) { // it moved less than was promised
			return a
		}
		return b
	}
	switch k.Why {
	case forecast.OtherBuffering:
		return sprintf("Most likely the bed needs %s lime than %s says", either("more", "less"), besides[method])
	case forecast.Strength:
		return sprintf("Most likely what was put on was %s than expected: test its batch", either("weaker", "stronger"))
	case forecast.Drifted:
		if short {
			return "Most likely it turns sour by itself faster than expected"
		}
		return "Most likely it turns sweet by itself, or turns sour more slowly, than expected"
	case forecast.OffMethod:
		return "Most likely the two ways of testing differ: keep to one"
	case forecast.TooEarly:
		return either("It was tested too soon to tell: most of it has yet to act, and may act later than expected. Test again when it is due",
			"It was tested too soon to tell: crumbs of it in the sample made it read too high. Test again when it is due")
	case forecast.ByChance:
		return "Nothing in the records explains it: the reading may be off, so test again before acting on it"
	}
	return ""
}

// Happened returns the sentence on what the last test of an application found, in a headline.
func Happened(k forecast.Check) string {
	moved := float64(k.Measured - k.From)
	says := sprintf("was %s, and is %s", PH(k.From), PH(k.Measured))
	switch {
	case moved >= worthTelling:
		says = sprintf("raised from %s to %s", PH(k.From), PH(k.Measured))
	case moved <= -worthTelling:
		says = sprintf("lowered from %s to %s", PH(k.From), PH(k.Measured))
	}
	switch off := k.Miss(); {
	case k.Why == forecast.TooSoon:
		return says + ", with more to come"
	case math.Abs(off) <= k.SD:
		return says + ", as expected"
	case off < 0:
		return says + sprintf(", %s short of what was expected", PH(quantity.PH(-off)))
	default:
		return says + sprintf(", %s over what was expected", PH(quantity.PH(off)))
	}
}

// worthTelling is the least change of pH that is mentioned.
const worthTelling = 0.1

// besides are the names of methods that a bed is compared with; any other is "its method".
var besides = map[soil.LimeMethod]string{soil.ByTable: "the texture table", soil.ByOrganicMatter: "organic matter and clay",
	soil.ByMeasured: "its jars", soil.ByLabRate: "the lab’s figure", soil.BySMP: "the lab’s buffer pH",
	soil.ByAdamsEvans: "the lab’s buffer pH", soil.ByMehlich: "the lab’s buffer pH"}

// Shown returns the sentence on what a bed's readings say of its buffering beside a method.
func Shown(l forecast.Learned, method soil.LimeMethod) string {
	beside, n := besides[method], Count(l.Tests, "test", "tests")
	if l.Tests == 0 {
		return sprintf("No test after an application yet: it counts as %s says.", beside)
	}
	b := l.Buffering
	low, high := num(b.P05, 2), num(b.P95, 2)
	switch {
	case !l.Counts:
		return sprintf("From %s it needs %s. Anything from %s to %s times would fit, so that does not count yet.", n,
			limeBeside(b.Median, beside), low, high)
	case b.P05 > 1:
		return sprintf("From %s it needs %s (%s to %s times): it is hard to shift.", n, limeBeside(b.Median, beside), low, high)
	case b.P95 < 1:
		return sprintf("From %s it needs %s (%s to %s times): it is easy to shift.", n, limeBeside(b.Median, beside), low, high)
	}
	return sprintf("From %s it needs about as much lime as %s says (%s times; %s to %s).", n, beside, times(b.Median), low, high)
}

// Beside names a method as a bed is reported beside it.
func Beside(s soil.LimeMethod) string { return besides[s] }

// noMatter is the largest relative difference of needs that counts as none.
const noMatter = 0.03

// ofTests counts tests.
func ofTests(n int) string { return Count(n, "test", "tests") }

// ShownDose returns the sentence on how much learning changes a bed's need relative to its method;
// learned is whether the dose uses it.
func (u Units) ShownDose(l soil.Learned, own, byMethod quantity.Rate, learned bool) string {
	beside, n := besides[l.Beside], ofTests(l.Tests)
	switch {
	case own < 0 || byMethod < 0:
		return sprintf("What %s showed here is about raising pH: for lowering it, %s is used.", n, beside)
	case !learned:
		return sprintf("%s of this bed showed another figure, which is left out here: %s instead of %s.", n, u.Rate(own), u.Rate(byMethod))
	}
	more := float64(own-byMethod) / float64(max(byMethod, 1))
	switch by := num(100*math.Abs(more), 0); {
	case more > noMatter:
		return sprintf("Learned from %s, it needs %s of lime, as pure lime: %s %% more than %s says (%s).", n, u.Rate(own), by, beside,
			u.Rate(byMethod))
	case more < -noMatter:
		return sprintf("Learned from %s, it needs %s of lime, as pure lime: %s %% less than %s says (%s).", n, u.Rate(own), by, beside,
			u.Rate(byMethod))
	}
	return sprintf("Learned from %s, it needs %s of lime, as pure lime: about as much as %s says.", n, u.Rate(own), beside)
}

// Others returns the sentence on what a bed's neighbours say of its buffering; "" where they say
// next to nothing.
func Others(o forecast.Others, method soil.LimeMethod) string {
	p := o.Buffering
	if p.SD == 0 || math.Abs(p.Mean) < noMatter {
		return ""
	}
	low, mid, high := factors(p)
	return sprintf("From the other beds alone, it would need %s times the lime that %s says (%s to %s).", mid, besides[method], low, high)
}

// factors returns a factor's 90 % interval and middle.
func factors(log forecast.Normal) (low, mid, high string) {
	return num(math.Exp(log.Mean-nineIn*log.SD), 2), num(math.Exp(log.Mean), 2), num(math.Exp(log.Mean+nineIn*log.SD), 2)
}

// BatchShown is what the beds that received a batch have shown of it.
type BatchShown struct {
	Name   string
	Factor forecast.Normal
	Beds   int
}

// GardenShown returns sentences on what the beds have shown together: each test method's offset
// here and each batch's strength, where significant.
func GardenShown(bias map[soil.Method]forecast.Normal, batches []BatchShown) (out []string) {
	for _, row := range soil.Methods {
		x, ok := bias[row.Method]
		if !ok || math.Abs(x.Mean) < math.Max(worthTelling, x.SD) {
			continue
		}
		way := "high"
		if x.Mean < 0 {
			way = "low"
		}
		out = append(out, sprintf("Readings by %s come out %s %s here, give or take %s; the forecast allows for that.", Short(row.Method),
			PH2(quantity.PH(math.Abs(x.Mean))), way, PH2(quantity.PH(nineIn*x.SD))))
	}
	for _, b := range batches {
		f := b.Factor
		if math.Abs(f.Mean) < math.Max(noMatter, f.SD/2) {
			continue
		}
		low, mid, high := factors(f)
		out = append(out, sprintf("%s has proved %s times as strong as expected, from %s (usually between %s and %s).", Capital(b.Name), mid,
			Count(b.Beds, "bed", "beds"), low, high))
	}
	return out
}

// nineIn is the number of standard deviations of a 90 % interval.
const nineIn = 1.6449

// BasedOn returns the sentence that a bed's dose follows what it has shown.
func BasedOn(l soil.Learned) string {
	if math.Abs(l.Factor-1) > noMatter {
		return sprintf("Its doses are learned from %s: %s times the lime that %s says.", ofTests(l.Tests), num(l.Factor, 2), besides[l.Beside])
	}
	return sprintf("Its doses are learned from %s: as much lime as %s says.", ofTests(l.Tests), besides[l.Beside])
}

// limeBeside words how much lime a bed needs beside a method, as a factor of one decimal.
func limeBeside(x float64, beside string) string {
	if n := times(x); n != times(1) {
		return sprintf("%s times the lime that %s says", n, beside)
	}
	return sprintf("about as much lime as %s says", beside)
}

func times(x float64) string { return strconv.FormatFloat(x, 'f', 1, 64) }

// Drifts returns the sentence on how a bed drifts from year to year.
func (u Units) Drifts(s forecast.Spread) string {
	rate := func(x float64) string { return u.Rate(quantity.Rate(math.Abs(x))) }
	switch {
	case s.P05 > 0:
		return sprintf("By itself it turns sweeter, by %s of lime a year, as pure lime.", rate(s.Median))
	case s.P95 < 0:
		return sprintf("By itself it turns more sour, by %s of lime a year, as pure lime (%s to %s).", rate(s.Median), rate(s.P95),
			rate(s.P05))
	}
	return "By itself it stays about as it is."
}

// pulls are the names of the causes of drift.
var pulls = map[string]string{forecast.PullRain: "rain", forecast.PullCrop: "crops", forecast.PullWater: "water",
	forecast.PullFeed: "feeds and manure"}

// Pull returns what one of them comes to.
func (u Units) Pull(p forecast.Pull) string { return pulls[p.ID] + " " + u.Rate(quantity.Rate(p.Rate)) }
