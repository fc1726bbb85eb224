package ground

import (
	"strconv"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
)

// reminder is one thing to do, with its link.
type reminder struct {
	Says, Href string
	Late       bool
}

// mostNamed is the largest number of beds named in a reminder.
const mostNamed = 3

// reminders returns what is due, held, or without a day; none on another day, which is read-only.
func reminders(v bedstate.View, today, day quantity.Day) (out []reminder) {
	if day != today {
		return nil
	}
	var due, late []string
	since := today
	for _, t := range v.Tasks {
		on, held := v.Held[t.ID]
		m := v.Moved[t.ID]
		missed := t.Kind == garden.TaskApplication && m.From != 0 && m.Missed(m.From, today)
		if t.Due > today && !held && !m.Shortfall && !missed {
			continue // most tasks; no need to look up the bed
		}
		p, ok := v.Bed(t.BedID)
		if !ok {
			continue
		}
		if held {
			out = append(out, reminder{Says: text.Capital(workName(t)) + " on " + p.Bed.Name + " is held back: its reading was deleted on " +
				text.NearDay(on, today) + ".", Href: site.DoseHref(t.BedID), Late: true})
			continue
		}
		if missed && !held {
			out = append(out, reminder{Says: text.Missed(workName(t), p.Bed.Name, t.Due) + ".", Href: site.MoveHref(t.ID), Late: true})
			continue
		}
		if m.Shortfall {
			says := text.Capital(workName(t)) + " on " + p.Bed.Name + ": " + v.Garden.Units().Moved(m.From, m.Placed) + "."
			out = append(out, reminder{Says: says, Href: site.MoveHref(t.ID), Late: true})
			continue
		}
		if o, ok := v.Overtaken[t.ID]; ok {
			out = append(out, reminder{Says: text.Capital(workName(t)) + " on " + p.Bed.Name + " was planned before it read " + text.PH(o.PH) +
				" on " + text.NearDay(o.Date, today) + ": see what the dose is now.", Href: site.DoseHref(t.BedID), Late: true})
			continue
		}
		name := workName(t) + " on " + p.Bed.Name
		if last, ok := v.Last[t.ID]; ok {
			name += " (" + text.LastChance(last) + ")"
		}
		if t.Due < today {
			late, since = append(late, name), min(since, t.Due)
		} else {
			due = append(due, name)
		}
	}
	out = append(out, testsWanted(v, today)...)
	if len(late) > 0 {
		says := "Late since " + text.NearDay(since, today) + ": "
		if len(late) > 1 {
			says = "Late, the oldest since " + text.NearDay(since, today) + ": "
		}
		out = append([]reminder{{Says: says + named(late) + ".", Href: "/sheet", Late: true}}, out...)
	}
	if len(due) > 0 {
		out = append([]reminder{{Says: "Due today: " + named(due) + ".", Href: "/sheet"}}, out...)
	}
	return out
}

// testsWanted returns reminders of surprising tests, and of rests that waited too long.
func testsWanted(v bedstate.View, today quantity.Day) (out []reminder) {
	for i := range v.Beds {
		if p := &v.Beds[i]; p.Surprise != nil {
			out = append(out, reminder{Says: p.Bed.Name + ": " + text.Surprised(p.Surprise), Href: "/bench?bed=" + strconv.FormatInt(p.Bed.ID, 10),
				Late: p.Surprise.Test <= today})
		}
	}
	for i := range v.Rests {
		x := &v.Rests[i]
		if p, ok := v.Bed(x.BedID); ok && x.Lapsed {
			out = append(out, reminder{Says: p.Bed.Name + ": " + present.RestSays(v.Garden.Units(), x, text.Brief(x.What),
				present.MeasureOf(v.Batches, x.BatchID), today) + ".", Href: site.DoseHref(x.BedID)})
		}
	}
	return out
}

// workName returns a task in a word.
func workName(t garden.Task) string {
	switch {
	case t.Kind == garden.TaskStep:
		return text.Lower(text.StepName(t.Step, t.Says))
	case t.Kind == garden.TaskRetest && t.Step != "":
		return "a test"
	case t.Kind == garden.TaskRetest:
		return "a retest"
	}
	return text.Brief(t.What)
}

// named joins a few names and counts the rest.
func named(names []string) string {
	if len(names) <= mostNamed {
		return text.List(names)
	}
	return text.List(append(names[:mostNamed-1:mostNamed-1], strconv.Itoa(len(names)-mostNamed+1)+" more"))
}
