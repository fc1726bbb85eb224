package dose

import (
	"strings"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/web/present"
)

// potassiumView is the answer on potassium.
type potassiumView struct {
	// Wants is the potash in the fewest words.
	Headline, Says, Wants string
	Options               []kOptionView
	Refused               []RefusedView
	Lines                 []words.Line
}

// kOptionView is one way to bring potassium.
type kOptionView struct {
	Key, Name, Amount, When, Note, Both string
	// Ask is as in chosenView.
	Ask string
	// Mind says how much there is to mind.
	Mind   string
	Guards []words.Guarded
}

// potassiumOf lays out the answer on potassium; nil where none is short.
func potassiumOf(w *desk.Worked, today quantity.Day) *potassiumView {
	k, has := w.Answer.Potassium, w.Answer.K
	if has.State != soil.Short {
		return nil
	}
	u := w.Garden.Units()
	v := &potassiumView{Headline: "Potassium is short: " + words.PPM(*has.Now) + ", enough is " + words.PPM(has.Scale.Critical),
		Lines: u.Steps(k.Working)}
	if k.Need <= 0 {
		v.Says = "This year has had all the potash that the crop may be given."
		return v
	}
	v.Wants = "wants " + u.Rate(k.Need)
	v.Says = "It " + v.Wants + " of potash (K₂O)."
	for _, o := range k.Options {
		x := kOptionView{Key: potassiumKey + w.Key(o), Name: present.OptionName(w, o), Amount: present.OptionAmount(w, o, o.Parts[0].Total),
			Guards: u.Guards(o.Guards)}
		x.Mind = words.Count(len(x.Guards), "thing", "things") + " to mind"
		var days []string
		for _, g := range o.Goes {
			days = append(days, present.Brief(g.Total, present.ScoopFor(w, o, g), u)+" on "+words.NearDay(g.Date, today))
		}
		x.When = words.List(days)
		if rest := present.RestWords(w, &o, today); rest != "" {
			x.When += "; " + rest
		}
		if w.AshUntold(o) {
			x.Ask = present.AskAsh(w)
		}
		var note []string
		if present.ShelfOf(w, o.Parts[0].Batch) == nil {
			note = append(note, "not on your shelf")
		}
		if o.UnmetK2O > 0 {
			note = append(note, "leaves "+u.Rate(o.UnmetK2O)+" of it unmet")
		}
		if len(note) > 0 {
			x.Note = strings.Join(note, ", ") + "."
		}
		if o.CaCO3 != 0 {
			x.Both = "It counts for pH too, bringing it to about " + words.PH(o.PH.Median) + ", and takes the place of what is in the year."
		}
		v.Options = append(v.Options, x)
	}
	for _, r := range k.Refused {
		g := u.Guard(r.Guards[0])
		v.Refused = append(v.Refused, RefusedView{Name: words.Capital(present.MaterialName(w, r.Batch)), Says: g.Says, Lifts: g.Lifts,
			Stop: g.Level == guard.Stop})
	}
	return v
}
