package dose

import (
	"strings"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/present"
)

// potassiumView is the answer on potassium.
type potassiumView struct {
	// Wants is the need of potash briefly.
	Headline, Says, Wants string
	Options               []kOptionView
	Refused               []RefusedView
	Lines                 []text.Line
}

// kOptionView is an option for potassium.
type kOptionView struct {
	Key, Name, Amount, When, Note, Both string
	// Ask is as in chosenView.
	Ask string
	// Mind is a summary of the cautions.
	Mind   string
	Guards []text.Guarded
}

// potassiumOf returns the answer on potassium; nil if it is not short.
func potassiumOf(w *dosing.Dose, today quantity.Day) *potassiumView {
	k, has := w.Answer.Potassium, w.Answer.K
	if has.State != soil.Short {
		return nil
	}
	u := w.Garden.Units()
	v := &potassiumView{Headline: "Potassium is short: " + text.PPM(*has.Now) + ", enough is " + text.PPM(has.Scale.Critical),
		Lines: u.Steps(k.Working)}
	if k.Need <= 0 {
		v.Says = "This year has had all the potash that the crop may have."
		return v
	}
	v.Wants = "wants " + u.Rate(k.Need)
	v.Says = "It " + v.Wants + " of potash (K₂O)."
	for _, o := range k.Options {
		x := kOptionView{Key: potassiumKey + w.Key(o), Name: present.OptionName(w, o), Amount: present.OptionAmount(w, o, o.Parts[0].Total),
			Guards: u.Guards(o.Guards)}
		x.Mind = text.Count(len(x.Guards), "thing", "things") + " to mind"
		var days []string
		for _, g := range o.Applications {
			days = append(days, present.Brief(g.Total, present.ScoopFor(w, o, g), u)+" on "+text.NearDay(g.Date, today))
		}
		x.When = text.List(days)
		if rest := present.RestWords(w, &o, today); rest != "" {
			x.When += "; " + rest
		}
		if w.UnknownAsh(o) {
			x.Ask = present.AskAsh(w)
		}
		var note []string
		if present.ShelfOf(w, o.Parts[0].Batch) == nil {
			note = append(note, "not on your shelf")
		}
		if o.ShortfallK2O > 0 {
			note = append(note, "falls short by "+u.Rate(o.ShortfallK2O))
		}
		if len(note) > 0 {
			x.Note = strings.Join(note, ", ") + "."
		}
		if o.CaCO3 != 0 {
			x.Both = "It counts for pH too, bringing it to about " + text.PH(o.PH.Median) + ", and replaces what is planned."
		}
		v.Options = append(v.Options, x)
	}
	for _, r := range k.Refused {
		g := u.Guard(r.Guards[0])
		v.Refused = append(v.Refused, RefusedView{Name: text.Capital(present.MaterialName(w, r.Batch)), Says: g.Says, WayOut: g.WayOut(),
			Stop: g.Level == guard.Stop})
	}
	return v
}
