package web

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/year"
)

// restAmount is what of an option waits for its test, by material where there are several; "" where nothing does.
func restAmount(w *desk.Worked, o *dose.Option) string {
	var parts []string
	for n := range o.Parts {
		p := &o.Parts[n]
		if p.Rest <= 0 {
			continue
		}
		says := brief(p.RestTotal, stockMeasure(w, p.Batch), w.Garden.Units())
		if len(o.Parts) > 1 {
			says += " of " + partName(w, n, *o)
		}
		parts = append(parts, says)
	}
	return words.List(parts)
}

// restWords say what of an option waits, and for which test; "" where nothing does.
func restWords(w *desk.Worked, o *dose.Option, today quantity.Day) string {
	amount := restAmount(w, o)
	if amount == "" {
		return ""
	}
	return words.RestAfter(amount, words.NearDay(o.Retest, today))
}

// restSays says what of a planned dose waits on a bed: of what, where it is told apart.
func restSays(u words.Units, x *plots.Rest, called string, measure *words.Scoop, today quantity.Day) string {
	amount := brief(x.Total, measure, u)
	if called != "" {
		amount += " of " + called
	}
	switch {
	case x.Lapsed:
		return words.RestLapsed(amount)
	case x.Test == 0:
		return words.RestAfter(amount, "")
	}
	return words.RestAfter(amount, words.NearDay(x.Test, today))
}

// waitsOn are what waits for tests by a day's sheet.
func waitsOn(sh year.Sheet) (out []waitView) {
	for i := range sh.Rests {
		x := &sh.Rests[i]
		called := garden.Called(x.What, garden.BatchIn(sh.Batches, x.BatchID))
		out = append(out, waitView{sh.Beds[x.BedID].Name, bedHref(x.BedID),
			restSays(sh.Garden.Units(), x, called, measureOf(sh.Batches, x.BatchID), sh.Today)})
	}
	return out
}

// waitsFor says at a test what waits for it.
func waitsFor(sh year.Sheet, test garden.Task) (says string) {
	for i := range sh.Rests {
		if x := &sh.Rests[i]; test.PlanID != nil && x.PlanID == *test.PlanID && !x.Lapsed {
			says += " " + words.Sentence(words.RestWaits(sh.Garden.Units().Amount(x.Total, measureOf(sh.Batches, x.BatchID))))
		}
	}
	return says
}

// surpriseRuns say that a bed's last test surprises, or what it said of one that did; none where neither is so.
func surpriseRuns(w *desk.Worked) []run {
	if s := w.Lesson.Surprise(); s != nil {
		return []run{{words.Surprised(s) + " ", "strong"}}
	}
	if w.Reading == nil {
		return nil
	}
	if v, ok := w.Lesson.Verdict(w.Reading.Date); ok {
		return []run{{Text: words.Confirmed(&v) + " "}}
	}
	return nil
}

// chance says when a go's window closes, where that is soon.
func (v *taskView) chance(sh year.Sheet, t garden.Task) {
	last, ok := sh.Last[t.ID]
	switch {
	case !ok:
	case v.Late != "":
		v.Late += ", " + words.LastChance(last)
	default:
		v.Late = words.LastChance(last)
	}
}

// missedOn are the goes of a day's sheet that missed their windows.
func missedOn(sh year.Sheet) (out []missedView) {
	for _, t := range sh.Missed {
		what := taskWords(t, sh.Garden.Units(), garden.BatchIn(sh.Batches, t.BatchID))
		out = append(out, missedView{ID: t.ID, Version: t.Version, Says: words.Missed(what, sh.Beds[t.BedID].Name, t.Due) + ".",
			To: t.Due.String(), Key: form.NewKey(), Button: "Plan for " + words.NearDay(t.Due, sh.Today)})
	}
	return out
}
