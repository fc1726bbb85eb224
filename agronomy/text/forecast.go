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
func Check(k forecast.Check, school soil.LimeMethod) string {
	read := "read " + PH(k.Measured) + " where " + PH(k.Promised) + " was expected"
	off := k.Miss()
	switch {
	case k.Why == forecast.TooSoon:
		return read + " for the day: " + num(100*(1-k.Reacted), 0) + " % has yet to act, so it was too soon to say more; it was expected to " +
			"settle at " + PH(k.Settles)
	case k.Why == forecast.AsPromised || math.Abs(off) <= k.SD:
		return read + ": as expected, as near as readings can tell"
	case off < 0:
		read += ": " + PH(quantity.PH(-off)) + " short"
	default:
		read += ": " + PH(quantity.PH(off)) + " over"
	}
	if why := whyMissed(k, school); why != "" {
		read += ". " + why
	}
	return read
}

// whyMissed returns the sentence on what most likely stands behind a miss.
func whyMissed(k forecast.Check, school soil.LimeMethod) string {
	short := k.Miss() < 0
	either := func(a, b string) string {
		if short == (k.Promised >= k.From) { // it moved less than was promised
			return a
		}
		return b
	}
	switch k.Why {
	case forecast.OtherBuffering:
		return "Most likely the bed needs " + either("more", "less") + " lime than " + besides[school] + " says"
	case forecast.Strength:
		return "Most likely what was put on was " + either("weaker", "stronger") + " than expected: test its batch"
	case forecast.Drifted:
		if short {
			return "Most likely it turns sour by itself faster than expected"
		}
		return "Most likely it turns sweet by itself, or turns sour more slowly, than expected"
	case forecast.OffMethod:
		return "Most likely the two ways of testing differ: keep to one"
	case forecast.TooEarly:
		return "It was tested too soon to tell: most of it has yet to act, and " +
			either("may act later than expected", "crumbs of it in the sample made it read too high") + ". Test again when it is due"
	case forecast.ByChance:
		return "Nothing in the records explains it: the reading may be off, so test again before acting on it"
	}
	return ""
}

// Happened returns the sentence on what the last test of an application found, in a headline.
func Happened(k forecast.Check) string {
	moved := float64(k.Measured - k.From)
	says := "was " + PH(k.From) + ", and is " + PH(k.Measured)
	switch {
	case moved >= worthTelling:
		says = "raised from " + PH(k.From) + " to " + PH(k.Measured)
	case moved <= -worthTelling:
		says = "lowered from " + PH(k.From) + " to " + PH(k.Measured)
	}
	switch off := k.Miss(); {
	case k.Why == forecast.TooSoon:
		return says + ", with more to come"
	case math.Abs(off) <= k.SD:
		return says + ", as expected"
	case off < 0:
		return says + ", " + PH(quantity.PH(-off)) + " short of what was expected"
	default:
		return says + ", " + PH(quantity.PH(off)) + " over what was expected"
	}
}

// worthTelling is the least change of pH that is mentioned.
const worthTelling = 0.1

// besides are the names of methods that a bed is compared with; any other is "its method".
var besides = map[soil.LimeMethod]string{soil.ByTable: "the texture table", soil.ByOrganicMatter: "organic matter and clay",
	soil.ByMeasured: "its jars", soil.ByLabRate: "the lab’s figure", soil.BySMP: "the lab’s buffer pH",
	soil.ByAdamsEvans: "the lab’s buffer pH", soil.ByMehlich: "the lab’s buffer pH"}

// Taught returns the sentence on what a bed's readings say of the buffering that it has shown
// beside a method.
func Taught(l forecast.Learned, school soil.LimeMethod) string {
	beside := besides[school]
	if l.Tests == 0 {
		return "No test after an application yet: it counts as " + beside + " says."
	}
	s := l.Buffering
	reach := num(s.P05, 2) + " to " + num(s.P95, 2)
	says := "From " + Count(l.Tests, "test", "tests") + " it needs "
	switch {
	case !l.Counts:
		return says + limeBeside(s.Median, beside) + ", but anything from " + reach +
			" times would fit: that does not count yet."
	case s.P05 > 1:
		return says + limeBeside(s.Median, beside) + " (" + reach + " times): it is hard to shift."
	case s.P95 < 1:
		return says + limeBeside(s.Median, beside) + " (" + reach + " times): it is easy to shift."
	}
	return says + "about as much lime as " + beside + " says (" + times(s.Median) + " times; " + reach + ")."
}

// Beside names a method as a bed is reported beside it.
func Beside(s soil.LimeMethod) string { return besides[s] }

// noMatter is the largest relative difference of needs that counts as none.
const noMatter = 0.03

// ofTests counts tests.
func ofTests(n int) string { return Count(n, "test", "tests") }

// TaughtDose returns the sentence on how much learning changes a bed's need relative to its method;
// learned is whether the dose uses it.
func (u Units) TaughtDose(l soil.Learned, own, school quantity.Rate, learned bool) string {
	switch {
	case own < 0 || school < 0:
		return "What " + ofTests(l.Tests) + " showed here is about raising pH: for lowering it, " + besides[l.Beside] + " is used."
	case !learned:
		return ofTests(l.Tests) + " of this bed showed another figure, which is left out here: " + u.Rate(own) + " instead of " +
			u.Rate(school) + "."
	}
	how := "about as much as " + besides[l.Beside] + " says"
	if more := float64(own-school) / float64(max(school, 1)); math.Abs(more) > noMatter {
		word := "more"
		if more < 0 {
			word = "less"
		}
		how = num(100*math.Abs(more), 0) + " % " + word + " than " + besides[l.Beside] + " says (" + u.Rate(school) + ")"
	}
	return "Learned from " + ofTests(l.Tests) + ", it needs " + u.Rate(own) + " of lime, as pure lime: " + how + "."
}

// Others returns the sentence on what a bed's neighbours say of the buffering that it has shown; ""
// where they say next to nothing.
func Others(o forecast.Others, school soil.LimeMethod) string {
	p := o.Buffering
	if p.SD == 0 || math.Abs(p.Mean) < noMatter {
		return ""
	}
	return "From the other beds alone, it would need " + num(math.Exp(p.Mean), 2) + " times the lime that " + besides[school] + " says (" +
		num(math.Exp(p.Mean-nineIn*p.SD), 2) + " to " + num(math.Exp(p.Mean+nineIn*p.SD), 2) + ")."
}

// BatchTaught is what the beds that received a batch have shown of it.
type BatchTaught struct {
	Name   string
	Factor forecast.Normal
	Beds   int
}

// GardenTaught returns sentences on what the beds have shown together: each test method's offset
// here and each batch's strength, where significant.
func GardenTaught(bias map[soil.Method]forecast.Normal, batches []BatchTaught) (out []string) {
	for _, row := range soil.Methods {
		x, ok := bias[row.Method]
		if !ok || math.Abs(x.Mean) < math.Max(worthTelling, x.SD) {
			continue
		}
		way := "high"
		if x.Mean < 0 {
			way = "low"
		}
		out = append(out, "Readings by "+Short(row.Method)+" come out "+PH2(quantity.PH(math.Abs(x.Mean)))+" "+way+" here, give or take "+
			PH2(quantity.PH(nineIn*x.SD))+"; the forecast allows for that.")
	}
	for _, b := range batches {
		f := b.Factor
		if math.Abs(f.Mean) < math.Max(noMatter, f.SD/2) {
			continue
		}
		out = append(out, Capital(b.Name)+" has proved "+num(math.Exp(f.Mean), 2)+" times as strong as expected, from "+
			Count(b.Beds, "bed", "beds")+" (usually between "+num(math.Exp(f.Mean-nineIn*f.SD), 2)+" and "+
			num(math.Exp(f.Mean+nineIn*f.SD), 2)+").")
	}
	return out
}

// nineIn is the number of standard deviations of a 90 % interval.
const nineIn = 1.6449

// BasedOn returns the sentence that a bed's dose follows what it has shown.
func BasedOn(l soil.Learned) string {
	how := "as much lime as " + besides[l.Beside] + " says"
	if math.Abs(l.Factor-1) > noMatter {
		how = num(l.Factor, 2) + " times the lime that " + besides[l.Beside] + " says"
	}
	return "Its doses are learned from " + ofTests(l.Tests) + ": " + how + "."
}

// limeBeside words how much lime a bed needs beside a method, as a factor of one decimal.
func limeBeside(x float64, beside string) string {
	if n := times(x); n != times(1) {
		return n + " times the lime that " + beside + " says"
	}
	return "about as much lime as " + beside + " says"
}

func times(x float64) string { return strconv.FormatFloat(x, 'f', 1, 64) }

// Drifts returns the sentence on how a bed drifts from year to year.
func (u Units) Drifts(s forecast.Spread) string {
	rate := func(x float64) string { return u.Rate(quantity.Rate(math.Abs(x))) }
	switch {
	case s.P05 > 0:
		return "By itself it turns sweeter, by " + rate(s.Median) + " of lime a year, as pure lime."
	case s.P95 < 0:
		return "By itself it turns more sour, by " + rate(s.Median) + " of lime a year, as pure lime (" + rate(s.P95) + " to " +
			rate(s.P05) + ")."
	}
	return "By itself it stays about as it is."
}

// pulls are the names of the causes of drift.
var pulls = map[string]string{forecast.PullRain: "rain", forecast.PullCrop: "crops", forecast.PullWater: "water",
	forecast.PullFeed: "feeds and manure"}

// Pull returns what one of them comes to.
func (u Units) Pull(p forecast.Pull) string { return pulls[p.ID] + " " + u.Rate(quantity.Rate(p.Rate)) }
