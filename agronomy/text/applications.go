package text

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// IfOnAlready ends every reason why an application is refused as done: the record must still be
// able to hold what happened. IfTrue asks instead, where it is recorded as done.
const (
	IfOnAlready = ". If it is on the bed already, note it on the bed’s record"
	IfTrue      = ". Sure? Note it once more if it was put on all the same"
)

// ApplicationTooMuch returns the sentence that an application is past the cap on one.
func ApplicationTooMuch(u Units, name string, rate, most quantity.Rate) string {
	return sprintf("%s of %s is more than the %s that this bed takes at one time", u.Rate(rate), name, u.Rate(most))
}

// FeedTooMuch returns the sentence that what is to be applied is past the cap on one application.
func FeedTooMuch(u Units, name string, rate, most quantity.Rate) string {
	return sprintf("%s of %s is more than the %s that this bed takes at one time; plan several applications", u.Rate(rate), name, u.Rate(most))
}

// ApplicationTooSoon returns the sentence that an application is too near to one of its family.
func ApplicationTooSoon(name string, other quantity.Day, weeks int) string {
	return sprintf("the nearest application of %s or similar was on %s; they are kept %s apart, so none until %s", name, DayYear(other),
		Count(weeks, "week", "weeks"), DayYear(other.AddWeeks(weeks)))
}

// ApplicationYearFull returns the sentence that an application would pass what a year may have.
func ApplicationYearFull(u Units, name string, had, rate, most quantity.Rate) string {
	return sprintf("%s of %s was put on within a year; %s more would pass the %s that any 365 days may have", u.Rate(had), name, u.Rate(rate),
		u.Rate(most))
}

// ApplicationKeptOff returns the sentence that an application may not go on on a day.
func ApplicationKeptOff(why calendar.Why) string {
	return sprintf("not on that day: %s", Limit(string(why)))
}

// LastChance returns the sentence on by when an application must go on before its window closes.
func LastChance(day quantity.Day) string { return "last chance " + Day(day) }

// Missed words of an application that missed its window where it went.
func Missed(amount, bed string, to quantity.Day) string {
	return sprintf("%s on %s missed its window. The next day is %s", Capital(amount), bed, DayYear(to))
}

// RestAfter returns the sentence on what of a dose waits for a test: its amount, about, and the
// test's day; "" where no day is set for it.
func RestAfter(amount, test string) string {
	if test == "" {
		return sprintf("the rest, about %s, after a test", amount)
	}
	return sprintf("the rest, about %s, after the test of %s", amount, test)
}

// RestIfTest returns the sentence on the rest for a beginner: about how much more, and when.
func RestIfTest(amount string, test quantity.Day) string {
	return sprintf("about %s more of it in %s, if the test says so", amount, Month(test))
}

// RestWaits words at a test what waits for it.
func RestWaits(amount string) string {
	return sprintf("the rest of the dose, about %s, waits for this test", amount)
}

// RestLapsed returns the sentence that a rest waited too long for its test.
func RestLapsed(amount string) string {
	return sprintf("the rest, about %s, has lapsed: {lapse months} months without a test. Test the bed and plan a new dose", amount)
}

// ApplicationWaits says that an application waits for a test.
const ApplicationWaits = "a retest comes before this: enter its reading, or skip it, first"

// AtWork returns the sentence on what has been reacting in a bed since its reading, with the
// approximate current and final pH.
func AtWork(k material.Kind, now, settles quantity.PH) string {
	says := sprintf("%s at work, about %s now", Brief(k), PH(now))
	if PH(now) != PH(settles) {
		says += " and " + PH(settles) + " in the end"
	}
	return says
}

// jars are the sentences on the results of two jars.
var jars = map[soil.Reaction]string{soil.Acid: "sour", soil.Alkaline: "sweet", soil.NearNeutral: "near neutral"}

// ByJars returns the result of two jars in words, and that it is no figure.
func ByJars(f soil.FizzTest) (reaction, says string) {
	r, weak := f.Judge()
	reaction = jars[r]
	if weak {
		reaction = "not clear"
	}
	return reaction, reaction + " by two jars, no figure"
}

// Moved returns the sentence on why a task is not on its planned day, or that no day serves.
func (u Units) Moved(from quantity.Day, x calendar.Placed) string {
	says := "moved from " + DayYear(from)
	switch {
	case x.Shortfall && x.Fits > 0:
		return sprintf("no day within a year is suitable: %s; %s of it would fit", Limit(string(x.Why)), u.Rate(x.Fits))
	case x.Shortfall:
		return "no day within a year is suitable: " + Limit(string(x.Why))
	case x.OffDays:
		return "none of your own days within a year is suitable"
	case x.Retest:
		return says + ": a retest stands before it"
	case x.Why == calendar.Free:
		return says + ": what comes before it is late"
	}
	return says + ": " + Limit(string(x.Why))
}

// NotOn returns the sentence on why work cannot stand on a day, and which days near it serve.
func NotOn(day quantity.Day, t calendar.Trial) string {
	says := sprintf("not on %s: ", DayYear(day))
	if t.Retest {
		says += "a retest stands before it"
	} else {
		says += Limit(string(t.Why))
	}
	switch {
	case t.Before != 0 && t.After != 0:
		return says + sprintf(". The nearest suitable days are %s and %s", DayYear(t.Before), DayYear(t.After))
	case t.After != 0:
		return says + ". The first suitable day is " + DayYear(t.After)
	case t.Before != 0:
		return says + ". The last suitable day is " + DayYear(t.Before)
	}
	return says + ". No day within a year is suitable"
}

// Each returns an amount as given to each of several trees or plants; "" for one.
func (u Units) Each(total quantity.Mass, n int, scoop *Scoop) string {
	if n < 2 {
		return ""
	}
	return u.Share(total/quantity.Mass(n), scoop) + " to each of the " + Spelled(n)
}

// Share returns a small amount: in parts of a scoop where one was weighed, else by weight.
func (u Units) Share(one quantity.Mass, scoop *Scoop) string {
	if scoop == nil {
		return u.Mass(one)
	}
	return CountOf(float64(one/scoop.Of), scoop.Name, scoop.Name+"s")
}

// InCups says about how many level cups of a material, loose, an amount is.
func InCups(m material.Material, one quantity.Mass) string {
	return "about " + CountOf(quantity.Round(float64(one/m.Loose().Litre)/material.CupLitres, 1), "cup", "cups")
}

// RingMethod is the instruction for a side dressing.
const RingMethod = "Draw the mulch back. Sprinkle it in a ring as wide as the leaves reach, a hand off the stem, and scratch it in " +
	"lightly. Rinse the leaves, water, and put the mulch back."
