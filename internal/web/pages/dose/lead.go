package dose

import (
	"math"
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

// leadView is the short answer: how much of what, when, and what follows.
type leadView struct {
	// Big and Unit are the first application's amount, Of its material and day; Aside is the amount
	// in other measures, with the stock.
	Big, Unit, Of, Aside string
	// Buy is the sentence that it has to be bought, and what becomes of unusable ash; "" if it is
	// in stock.
	Buy string
	// Then are the further applications, the rest, and the test with its expected reading and the
	// final pH, in order of day.
	Then string
	// Kit is the protection to wear and the first day to sow.
	Kit string
	// Scatter is how the amount looks, with Square in words; nil where it is measured with a scoop.
	Scatter *svg.Scatter
	Square  string
	// Others is the number of other options; Today is set if the first application is today.
	Others int
	Today  bool
}

// onDay returns a day, today by name.
func onDay(d, today quantity.Day, now bool) string {
	if d == today && now {
		return "today"
	}
	return "on " + text.NearDay(d, today)
}

// inHand returns an application's amount as carried to the bed.
func inHand(w *dosing.Dose, o dose.Option, g dose.Application) text.CarriedAmount {
	return w.Garden.Units().InHand(g.Kind, g.Total, present.ScoopFor(w, o, g))
}

// leadOf returns the short answer of an option. now is set if the day is today, first for a
// beginner's first dose.
func leadOf(w *dosing.Dose, o dose.Option, today quantity.Day, now, first bool) *leadView {
	g := o.Applications[0]
	amount := inHand(w, o, g)
	v := &leadView{Big: amount.Big, Unit: amount.Unit, Aside: amount.Aside, Of: "of " + present.PartName(w, g.Part, o) + ", " + onDay(g.Date,
		today, now),
		Others: len(w.Answer.Options) - 1, Today: g.Date == today && now}
	if n, _, ok := text.Handfuls(g.Kind, g.Total); ok && present.ScoopFor(w, o, g) == nil {
		u := w.Garden.Units()
		v.Scatter = svg.ScatterOf(n.Number(), g.Rate)
		v.Square = u.Mass(g.Rate.Over(svg.ScatteredOn)) + " on " + u.Square(svg.ScatteredSide)
	}
	if first {
		v.Aside = w.Garden.Units().Mass(g.Total)
	} else {
		v.beside(w, present.ShelfOf(w, o.Parts[g.Part].Batch))
	}
	v.Buy = buyWords(w, o)
	if each := w.Garden.Units().Each(g.Total, w.Record.Bed.Pieces(), present.ScoopFor(w, o, g)); each != "" {
		v.Aside = strings.TrimPrefix(v.Aside+"; "+each, "; ")
	}
	v.Then = then(w, o, amount, today, now, first)
	kit := text.List(text.Kit(g.Kind))
	if kit != "" {
		kit += "."
	}
	if o.SowFrom != 0 {
		kit += " Do not sow or plant before " + text.NearDay(o.SowFrom, today) + "."
	}
	v.Kit = strings.TrimSpace(kit)
	return v
}

// then returns what follows the first application: the further ones, the rest, and the test with its
// expected reading and the final pH, in order of day.
func then(w *dosing.Dose, o dose.Option, amount text.CarriedAmount, today quantity.Day, now, first bool) string {
	g := o.Applications[0]
	var parts []string
	for _, x := range o.Applications[1:] {
		t := inHand(w, o, x)
		says := t.Big + " " + t.Unit
		if x.Part == g.Part && t.Unit == amount.Unit {
			says = t.Big + " more"
		} else if len(o.Parts) > 1 {
			says += " of " + present.PartName(w, x.Part, o)
		}
		if x.RetestFirst {
			parts = append(parts, says+" after a new test") // the rest has no day
			continue
		}
		parts = append(parts, says+" "+onDay(x.Date, today, now))
	}
	if amount := present.RestAmount(w, &o); first && amount != "" {
		return text.Capital(text.RestIfTest(amount, o.Retest)) + "."
	}
	var says []string
	if len(parts) > 0 {
		says = append(says, text.Sentence(strings.Join(parts, "; ")))
	}
	reads, on := text.PH(o.AtRetest.Median), onDay(o.Retest, today, now)
	switch rest := present.RestWords(w, &o, today); {
	case rest != "" && o.AtRetest.Median > 0:
		says = append(says, text.Sentence(rest), "It should read "+reads+" then.")
	case rest != "":
		says = append(says, text.Sentence(rest))
	case o.AtRetest.Median > 0:
		says = append(says, "Test again "+on+": it should read "+reads+".")
	default:
		says = append(says, "Test again "+on+".")
	}
	// Drift may carry the test past where the dose settles: then only the test's figure is told.
	if o.AtRetest.Median > 0 && !passes(o) && !o.Waits() && math.Abs(float64(o.PH.Median-o.AtRetest.Median)) >= worthTelling {
		says = append(says, "It should settle at "+text.PH(o.PH.Median)+".")
	}
	if m, ph, ok := w.ByRecord(&o); ok && math.Abs(float64(ph-o.AtRetest.Median)) >= worthTelling {
		says = append(says, "The bed’s record uses another method ("+text.Lower(text.Name(m))+") and will expect "+text.PH(ph)+".")
	}
	return strings.Join(says, " ")
}

// worthTelling is the difference of two figures for a test from which on both are told.
const worthTelling = 0.15

// beside adds a batch's stock.
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

// buyWords returns the sentence that an option has to be bought since nothing in stock will do, and
// what becomes of unusable ash; "" if all is in stock.
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

// passes reports whether the test should read past where the dose settles.
func passes(o dose.Option) bool {
	far := float64(o.AtRetest.Median - o.PH.Median)
	if o.CaCO3 < 0 {
		far = -far
	}
	return far > 0.05
}

// whyFirst returns why the first option ranks first.
func whyFirst(w *dosing.Dose, chosen int) string {
	why := text.First(w.Answer.First)
	switch {
	case why == "":
		return ""
	case chosen > 0:
		return text.Capital(present.OptionName(w, w.Answer.Options[0])) + " is recommended: " + why + "."
	}
	return "Recommended: " + why + "."
}

// outdatedView is a planned dose that a later reading overtook.
type outdatedView struct {
	// Says is what is planned, Now what a dose would be by the later reading.
	Says, Now string
	// Key selects its replacement; "" if it is the same or not offered.
	Key string
}

func outdatedOf(w *dosing.Dose, today quantity.Day) *outdatedView {
	o := w.Outdated
	if o == nil {
		return nil
	}
	u := w.Garden.Units()
	read := text.NearDay(o.Reading.Date, today)
	if o.Reading.PH != nil {
		read += " (" + text.PH(o.Reading.Soil().Water()) + ")"
	}
	left := u.Amount(o.Left, w.Measure(o.Batch)) + " of " + w.Called(o.What, o.Batch)
	v := &outdatedView{Says: "Planned since " + text.NearDay(o.Plan.Made, today) + ", by the reading of " + read + ": " + left +
		" still to go on."}
	now := text.NearDay(w.Used.Date, today)
	switch {
	case o.Now == nil:
		v.Now = "From the reading of " + now + " it would not be offered now."
	case o.Changed():
		v.Now, v.Key = "From the reading of "+now+" it is "+u.Amount(o.Total, w.Measure(o.Batch))+".", w.Key(*o.Now)
	default:
		v.Now = "The reading of " + now + " changes nothing in it."
	}
	return v
}

// sidesView is the method comparisons.
type sidesView struct {
	Rows []sideRow
	// Says is how far they differ on this bed.
	Says string
}

// sideRow is one method of the strip.
type sideRow struct {
	// Heads is the question, at its first method.
	Heads, Name, Amount string
	On                  bool
	Strip               svg.Strip
}

// sidesOf returns the method comparisons in kilograms of the chosen material; nil if there is
// nothing to compare.
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
	apart := u.Rate(high - low)
	if chosen != nil && len(chosen.Parts) == 1 && chosen.Parts[0].Worth.EffectiveCCE != 0 {
		p := chosen.Parts[0]
		of := quantity.Rate(float64(high-low) / max(p.Worth.EffectiveCCE, -p.Worth.EffectiveCCE)).Over(w.Request.Ground.Area)
		v.Says = "They differ by up to " + apart + " of lime, as pure lime: " + u.Amount(of, present.StockMeasure(w, p.Batch)) + " of " +
			present.PartName(w, 0, *chosen) + " on this bed."
		return v
	}
	v.Says = "They differ by up to " + apart + " of lime, as pure lime."
	return v
}
