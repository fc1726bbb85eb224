package dose

import (
	"strings"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/svg"
)

// leadView is the answer as it is read first: how much of what, when, and what comes
// after.
type leadView struct {
	// Big and Unit are the first application's amount, Of what it is of and when; Aside is the same
	// in other measures, with what is on hand of it.
	Big, Unit, Of, Aside string
	// Buy says that it is to be bought, and what becomes of ash that may not go on here; "" where it stands on the shelf.
	Buy string
	// Then are the applications that follow, what waits for a test, and what that should read and where
	// it settles, in the order of their days.
	Then string
	// Kit is what to put on and the first day to sow.
	Kit string
	// Others is how many other ways there are; Today is set where the first application is today's.
	Others int
	Today  bool
}

// onDay words a day of the answer: today by that name.
func onDay(d, today quantity.Day, now bool) string {
	if d == today && now {
		return "today"
	}
	return "on " + text.NearDay(d, today)
}

// inHand returns an application's amount as it is taken up.
func inHand(w *dosing.Dose, o dose.Option, g dose.Application) text.Told {
	return w.Garden.Units().InHand(g.Kind, g.Total, present.ScoopFor(w, o, g))
}

// leadOf returns the answer of an option. now is set where the day is today.
func leadOf(w *dosing.Dose, o dose.Option, today quantity.Day, now bool) *leadView {
	g := o.Applications[0]
	told := inHand(w, o, g)
	v := &leadView{Big: told.Big, Unit: told.Unit, Aside: told.Aside, Of: "of " + present.PartName(w, g.Part, o) + ", " + onDay(g.Date,
		today, now),
		Others: len(w.Answer.Options) - 1, Today: g.Date == today && now}
	v.beside(w, present.ShelfOf(w, o.Parts[g.Part].Batch))
	v.Buy = buyWords(w, o)
	if each := w.Garden.Units().Each(g.Total, w.Record.Bed.Pieces(), present.ScoopFor(w, o, g)); each != "" {
		v.Aside = strings.TrimPrefix(v.Aside+"; "+each, "; ")
	}
	var parts []string
	for _, x := range o.Applications[1:] {
		t := inHand(w, o, x)
		says := t.Big + " " + t.Unit
		if x.Part == g.Part && t.Unit == told.Unit {
			says = t.Big + " more"
		} else if len(o.Parts) > 1 {
			says += " of " + present.PartName(w, x.Part, o)
		}
		if x.RetestFirst {
			parts = append(parts, says+" after a new test") // what waits for a test has no day
			continue
		}
		parts = append(parts, says+" "+onDay(x.Date, today, now))
	}
	test := "Test again " + onDay(o.Retest, today, now)
	if o.AtRetest.Median > 0 {
		test += ": it should read " + text.PH(o.AtRetest.Median)
	}
	test += "."
	if rest := present.RestWords(w, &o, today); rest != "" {
		test = text.Capital(rest) + "."
		if o.AtRetest.Median > 0 {
			test += " It should read " + text.PH(o.AtRetest.Median) + " then."
		}
	}
	if len(parts) > 0 {
		test = text.Capital(strings.Join(parts, "; ")) + ". " + test
	}
	// What the forecast promises may pass where the method has it settle, while what the bed has shown does not count yet: then
	// the promise alone is reported, which the test will judge.
	if o.AtRetest.Median > 0 && !passes(o) && !o.Waits() && text.PH(o.PH.Median) != text.PH(o.AtRetest.Median) {
		test += " It should settle at " + text.PH(o.PH.Median) + "."
	}
	v.Then = test
	kit := text.List(text.Kit(g.Kind))
	if kit != "" {
		kit += "."
	}
	if o.SowFrom != 0 {
		kit += " Sow or plant no sooner than " + text.NearDay(o.SowFrom, today) + "."
	}
	v.Kit = strings.TrimSpace(kit)
	return v
}

// beside adds what there is of a batch to the aside.
func (v *leadView) beside(w *dosing.Dose, b *garden.Stock) {
	if b == nil || b.Left == nil {
		return
	}
	says, rest, more := strings.Cut(v.Aside, "; ")
	v.Aside = strings.TrimPrefix(says+", of "+w.Garden.Units().Mass(*b.Left)+" there", ", ")
	if more {
		v.Aside += "; " + rest
	}
}

// buyWords say that what an option takes is to be bought where nothing on the shelf will do, and what becomes of ash that stands there in
// vain; "" where all of it is on the shelf.
func buyWords(w *dosing.Dose, o dose.Option) string {
	if w.OnShelf(o) {
		return ""
	}
	says := text.ToBuy
	if w.Key(o) != w.Key(w.Answer.Options[0]) {
		says = ""
	}
	for _, x := range w.AshInVain() {
		m, _ := material.Find(x.Kind)
		of := x.Material(m)
		says += " " + text.AshKept(x.Name, of.Barred())
	}
	return strings.TrimSpace(says)
}

// passes reports whether a test before all has acted is promised past where all of it would settle.
func passes(o dose.Option) bool {
	far := float64(o.AtRetest.Median - o.PH.Median)
	if o.CaCO3 < 0 {
		far = -far
	}
	return far > 0.05
}

// whyFirst returns why the option that stands first does.
func whyFirst(w *dosing.Dose, chosen int) string {
	why := text.First(w.Answer.First)
	switch {
	case why == "":
		return ""
	case chosen > 0:
		return text.Capital(present.OptionName(w, w.Answer.Options[0])) + " stands first: " + why + "."
	}
	return "It stands first: " + why + "."
}

// outdatedView is a dose in the year that a later reading overtook.
type outdatedView struct {
	Says string
	// Key puts the new one in its place; "" where it is the same or not offered.
	Key string
}

func outdatedOf(w *dosing.Dose, today quantity.Day) *outdatedView {
	o := w.Outdated
	if o == nil {
		return nil
	}
	u := w.Garden.Units()
	v := &outdatedView{Says: "In the year since " + text.NearDay(o.Plan.Made, today) + ", by the reading of " +
		text.NearDay(o.Reading.Date, today)}
	if o.Reading.PH != nil {
		v.Says += " (" + text.PH(o.Reading.Soil().Water()) + ")"
	}
	v.Says += ": " + u.Amount(o.Left, w.Measure(o.Batch)) + " of " + w.Called(o.What, o.Batch) + " still to go on. "
	switch {
	case o.Now == nil:
		v.Says += "By the reading of " + text.NearDay(w.Used.Date, today) + " it would not be offered now."
	case o.Changed():
		v.Says += "By the reading of " + text.NearDay(w.Used.Date, today) + " it is " + u.Amount(o.Total, w.Measure(o.Batch)) + "."
		v.Key = w.Key(*o.Now)
	default:
		v.Says += "The reading of " + text.NearDay(w.Used.Date, today) + " leaves it as it is."
	}
	return v
}

// sidesView are the methods beside each other.
type sidesView struct {
	Rows []sideRow
	// Says is how far they disagree, on this bed.
	Says string
}

// sideRow is one method of the strip.
type sideRow struct {
	// Heads is what growers differ on, at the first method of it.
	Heads, Name, Amount string
	On                  bool
	Strip               svg.Strip
}

// sidesOf lays the methods beside each other, in kilos of what is chosen; nil where there
// is nothing to differ on.
func sidesOf(w *dosing.Dose, sides []dose.Comparison, chosen *dose.Option) *sidesView {
	if len(sides) < 2 {
		return nil
	}
	u := w.Garden.Units()
	most := quantity.Rate(0)
	for _, x := range sides {
		most = max(most, present.Magnitude(x.CaCO3), present.Magnitude(x.Low), present.Magnitude(x.High))
	}
	v := &sidesView{}
	var low, high quantity.Rate
	for i, x := range sides {
		heads := text.Question(x.Question)
		if i > 0 && sides[i-1].Question == x.Question {
			heads = ""
		}
		row := sideRow{Heads: heads, Name: text.Name(x.Method), Amount: u.Rate(present.Magnitude(x.CaCO3)), On: x.Chosen}
		if x.CaCO3 == 0 {
			row.Amount = "nothing"
		}
		row.Strip = svg.StripOf(x.CaCO3, x.Low, x.High, most)
		v.Rows = append(v.Rows, row)
		amount := present.Magnitude(x.CaCO3)
		if i == 0 || amount < low {
			low = amount
		}
		high = max(high, amount)
	}
	if high-low < 0.5 {
		v.Says = "They agree."
		return v
	}
	v.Says = "They differ by up to " + u.Rate(high-low) + " of pure lime’s worth"
	if chosen != nil && len(chosen.Parts) == 1 && chosen.Parts[0].Worth.EffectiveCCE != 0 {
		p := chosen.Parts[0]
		apart := quantity.Rate(float64(high-low) / max(p.Worth.EffectiveCCE, -p.Worth.EffectiveCCE)).Over(w.Request.Ground.Area)
		v.Says += ": " + u.Amount(apart, present.StockMeasure(w, p.Batch)) + " of " + present.PartName(w, 0, *chosen) + " on this bed"
	}
	v.Says += "."
	return v
}
