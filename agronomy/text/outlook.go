package text

import (
	"math"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Factor words a factor with two places, Whole a figure with none, Signed a change of pH with its
// sign.
func Factor(x float64) string { return num(x, 2) }

// Whole words a figure with no places.
func Whole(x float64) string { return num(x, 0) }

// Signed formats a change of pH with its sign.
func Signed(x float64) string {
	switch s := PH2(quantity.PH(math.Abs(x))); {
	case s == PH2(0):
		return s
	case x < 0:
		return "−" + s
	default:
		return "+" + s
	}
}

// SignedPH formats a change of pH to a tenth.
func SignedPH(x quantity.PH) string {
	switch s := PH(quantity.PH(math.Abs(float64(x)))); {
	case s == PH(0):
		return "±" + s
	case x < 0:
		return "−" + s
	default:
		return "+" + s
	}
}

// Mover returns the name of a cause of change.
func Mover(m forecast.Move) string {
	switch {
	case m.Kind != "":
		return Brief(m.Kind)
	case m.ID == forecast.PullElse:
		return "unexplained"
	}
	return pulls[m.ID]
}

// hardlyMoves is the yearly change of pH below which there is none to report.
const hardlyMoves = 0.02

// SeasonTitle returns the sentence on what a bed does by itself, in a headline.
func SeasonTitle(name string, yearly float64) string {
	by := PH2(quantity.PH(math.Abs(yearly))) + " a year"
	switch {
	case math.Abs(yearly) < hardlyMoves:
		return name + " stays where it is"
	case yearly < 0:
		return name + " turns more sour by " + by
	default:
		return name + " turns sweeter by " + by
	}
}

// Course is a bed's outlook relative to its range.
type Course struct {
	// Range is what it is held against. Reads is the pH that it is judged by, as its dose is; Level is
	// where all its readings have it now.
	Range        crop.Range
	Reads, Level quantity.PH
	// Apart is set when Level leaves out what it reads, a surprising test.
	Apart bool
	// Comes is when the line will enter the range, Leaves when it will leave it; 0: not within five
	// years.
	Comes, Leaves quantity.Day
	// Planned is the number of planned applications.
	Planned int
}

// In reports whether the line is in the range now.
func (c Course) In() bool { return c.Range.Holds(c.Level) }

// odds words that what a bed reads and the line by all its readings lie on two sides of an end of
// its range; "" where they agree.
func (c Course) odds() string {
	if c.Range.Holds(c.Reads) == c.In() {
		return ""
	}
	return "It reads " + PH(c.Reads) + ", " + beside(c.Range, c.Reads) + "; by all its " + others[c.Apart] + " it is at " +
		PH2(c.Level) + ", " + beside(c.Range, c.Level) + ". "
}

// others words which readings a level rests on: all, or all but a surprising one.
var others = map[bool]string{false: "readings", true: "other readings"}

// beside words on which side of a range a pH lies.
func beside(b crop.Range, p quantity.PH) string {
	switch {
	case b.Holds(p):
		return "in its range"
	case p < b.Low:
		return "below its range"
	}
	return "above its range"
}

// SeasonAside returns what becomes of a bed relative to its range, in sentences.
func SeasonAside(c Course) string {
	with := "Left alone, it "
	if c.Planned > 0 {
		with = "With " + Count(c.Planned, "application", "applications") + " planned, it "
	}
	return c.odds() + with + c.becomes() + "."
}

// becomes words when the line enters its range, and when it leaves it.
func (c Course) becomes() string {
	switch {
	case c.In() && c.Leaves != 0:
		return "stays in its range until " + Month(c.Leaves)
	case c.In():
		return "stays in its range for five years and more"
	case c.Comes != 0 && c.Leaves != 0:
		return "comes into its range in " + Month(c.Comes) + " and leaves it in " + Month(c.Leaves)
	case c.Comes != 0:
		return "comes into its range in " + Month(c.Comes) + " and stays"
	}
	return "does not come into its range within five years"
}

// DoseHolds returns the sentence on how long today's dose would hold a bed.
func DoseHolds(name string, c Course) string {
	switch {
	case !c.In() && c.Comes == 0:
		return name + " would not bring it into its range by itself."
	case !c.In() && c.Leaves != 0:
		return name + " would bring it into its range in " + Month(c.Comes) + ", and keep it there until " + Month(c.Leaves) + "."
	case !c.In():
		return name + " would bring it into its range in " + Month(c.Comes) + ", and keep it there for five years."
	case c.Leaves != 0:
		return name + " would keep it in its range until " + Month(c.Leaves) + "."
	}
	return name + " would keep it in its range for five years and more."
}

// Potash is what came and went between two potassium readings, g K₂O/m² a year.
type Potash struct {
	From, To         quantity.Concentration
	Brought, Carried quantity.Rate
	// Named is the change that these and leaching explain.
	Named quantity.Concentration
}

// PotashMoved returns the sentence on what moved potassium.
func (u Units) PotashMoved(p Potash) string {
	says := "Potassium stayed near " + PPM(p.To)
	switch d := float64(p.To - p.From); {
	case d >= kStays*float64(p.From):
		says = "Potassium rose from " + num(float64(p.From), 0) + " to " + PPM(p.To)
	case d <= -kStays*float64(p.From):
		says = "Potassium fell from " + num(float64(p.From), 0) + " to " + PPM(p.To)
	}
	says += ": crops carried off " + u.Rate(p.Carried) + " of potash a year, and " + u.Rate(p.Brought) + " came back."
	if rest := float64(p.To - p.From - p.Named); math.Abs(rest) > 2*kStays*float64(p.From) {
		says += " That explains " + num(math.Abs(float64(p.Named)), 0) + " of it: the rest is unexplained."
	}
	return says
}

// kStays is the largest relative difference of potassium that counts as unchanged, about one
// reading's error.
const kStays = 0.08

// LevelSays returns the sentence on where a bed stands on a day by all its readings; apart is set when
// they leave out a surprising one.
func LevelSays(l forecast.Spread, apart bool) string {
	return "By all its " + others[apart] + " it is at pH " + PH2(quantity.PH(l.Median)) + ", usually between " +
		PH2(quantity.PH(l.P05)) + " and " + PH2(quantity.PH(l.P95)) + "."
}

// Leave returns the headline for a bed whose pH needs nothing, and what is not put on until its next
// test; feeds is set when its dose offers potash, which may be ash.
func Leave(feeds bool) (title, says string) {
	if feeds {
		return "Leave its pH alone", "Potassium is short: the dose says what to feed. Until the test, no lime and no sulfur."
	}
	return "Leave it alone", "Until then no lime, no ash, no sulfur."
}

// PotassiumTitle returns the sentence on how potassium went between its last two readings, and how
// it stands: what it holds now where that is judged otherwise than the last reading.
func PotassiumTitle(before, last, now quantity.Concentration, s soil.PotassiumScale) string {
	says := "Potassium steady near " + PPM(last)
	switch d := float64(last - before); {
	case d >= kStays*float64(before):
		says = "Potassium up from " + num(float64(before), 0) + " to " + PPM(last)
	case d <= -kStays*float64(before):
		says = "Potassium down from " + num(float64(before), 0) + " to " + PPM(last)
	}
	return says + heldNow(last, now, s)
}

// PotassiumBrief words the same where there is little room.
func PotassiumBrief(before, last, now quantity.Concentration, s soil.PotassiumScale) string {
	says := "Potassium steady near " + PPM(last)
	switch d := float64(last - before); {
	case d >= kStays*float64(before):
		says = "Potassium rose to " + PPM(last)
	case d <= -kStays*float64(before):
		says = "Potassium fell to " + PPM(last)
	}
	return says + heldNow(last, now, s)
}

// heldNow words what a bed holds now, where that is judged otherwise than its last reading.
func heldNow(last, now quantity.Concentration, s soil.PotassiumScale) string {
	switch was, is := s.Judge(&last), s.Judge(&now); {
	case was != is:
		return "; about " + num(float64(now), 0) + " now, " + Name(is)
	case is == soil.Short:
		return ", short"
	}
	return ""
}
