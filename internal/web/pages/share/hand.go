package share

import (
	"errors"
	"maps"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/view"
)

// hand is the gardener's changes of a sharing, as typed.
type hand struct {
	choice dosing.ShareChoice
	typed  url.Values
	faults garden.Faults
}

// fixField is the prefix of fixed amounts' names: fix.<bed>.<stock>.
const fixField = "fix."

// footGoal aims at the lower end of the ranges.
const footGoal = "foot"

// handOf reads an address or a form. Missing values are the garden's.
func handOf(q url.Values, u text.Units) hand {
	h := hand{typed: q, faults: garden.Faults{}}
	h.choice.Methods = dose.Methods{Buffering: soil.LimeMethod(q.Get("buffering")), Ash: material.AshApproach(q.Get("ash")),
		Act: crop.Trigger(q.Get("act")), Pace: dose.Pace(q.Get("pace"))}
	h.choice.Foot = q.Get("goal") == footGoal
	for _, x := range q["out"] {
		if id, err := strconv.ParseInt(x, 10, 64); err == nil {
			h.choice.Out = append(h.choice.Out, id)
		}
	}
	slices.Sort(h.choice.Out)
	form := form.Form{Values: map[string]string{}, Faults: h.faults}
	for name := range q {
		rest, ok := strings.CutPrefix(name, fixField)
		bed, key, has := strings.Cut(rest, ".")
		id, err := strconv.ParseInt(bed, 10, 64)
		if !ok || !has || err != nil || slices.Contains(h.choice.Out, id) {
			continue
		}
		form.Values[name] = strings.TrimSpace(q.Get(name))
		if kg, ok := form.Number(name); ok && kg >= 0 {
			h.choice.Hand = append(h.choice.Hand, dosing.ByHand{Bed: id, Key: key, Total: quantity.Mass(kg * u.Weights().Size)})
		} else if ok {
			h.faults[name] = "an amount of 0 or more is needed"
		}
	}
	slices.SortFunc(h.choice.Hand, func(a, b dosing.ByHand) int { return strings.Compare(a.Field(), b.Field()) })
	return h
}

// fault stores the fault of a fixed amount; false if err is another error.
func (h *hand) fault(err error) bool {
	var more garden.Faults
	if !errors.As(err, &more) {
		return false
	}
	for k, v := range more {
		h.faults[k] = v
	}
	return true
}

// handView is its form.
type handView struct {
	Open    bool
	Methods []view.Field
	Stocks  []string
	Beds    []handBed
	// Says is the cost of the changes; Fault is the fault of an amount.
	Says, Fault string
	// Carried are the button's hidden fields.
	Carried []view.Option
}

// handBed is a bed: whether it is excluded, and its amount of each stock; a field without a name if
// none is allowed.
type handBed struct {
	Name string
	Out  view.Choice
	Fix  []view.Field
}

func bedOf(b garden.Bed, out bool) handBed {
	id := strconv.FormatInt(b.ID, 10)
	return handBed{Name: b.Name, Out: view.Choice{ID: "out-" + id, Name: "out", Value: id, Text: "Leave " + b.Name + " out", On: out}}
}

// handView returns the form: participating beds and others.
func (s *Handler) handView(c *gin.Context, h hand, sh dosing.Sharing) (v handView, err error) {
	v.Open = len(h.faults) > 0
	for name, list := range h.typed {
		for _, x := range list {
			if carriedByHand(name) && x != "" {
				v.Open, v.Carried = true, append(v.Carried, view.Option{Value: name, Text: x})
			}
		}
	}
	slices.SortFunc(v.Carried, func(a, b view.Option) int { return strings.Compare(a.Value+a.Text, b.Value+b.Text) })
	methods := h.choice.Methods.Or(sh.Garden.Methods())
	f := form.Form{Values: map[string]string{}, Faults: h.faults}
	ask := func(name, label, value string, list []view.Option) {
		f.Values[name] = value
		v.Methods = append(v.Methods, f.Resolve(form.Row{Name: name, ID: "hand-" + name, Label: label, Options: list}))
	}
	for i := range dose.Questions {
		q := &dose.Questions[i]
		if q.Name != "buffering" && q.Name != "ash" && q.Name != "act" && q.Name != "pace" {
			continue
		}
		var list []view.Option
		for _, id := range q.Habits {
			list = append(list, view.Option{Value: id, Text: text.Name(id)})
		}
		ask(q.Name, text.Question(q.Name), q.Of(&methods), list)
	}
	ask("goal", "Bring each bed to", h.typed.Get("goal"),
		[]view.Option{{Value: "", Text: "its crop’s aim"}, {Value: footGoal, Text: "the bottom of its range"}})
	stocks := usable(sh)
	for _, m := range stocks {
		v.Stocks = append(v.Stocks, stockName(sh, m))
	}
	_, beds, err := s.App(c).BedState.Names(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return v, err
	}
	for _, b := range beds {
		if i := slices.IndexFunc(sh.Beds, func(x dosing.SharedBed) bool { return x.Dose.Record.Bed.ID == b.ID }); i >= 0 {
			v.Beds = append(v.Beds, handRow(h, sh, i, stocks))
		} else if slices.Contains(h.choice.Out, b.ID) {
			v.Beds = append(v.Beds, bedOf(b, true))
		}
	}
	v.says(h, sh)
	return v, nil
}

// usable returns the stocks that some bed may take.
func usable(sh dosing.Sharing) (out []int) {
	for m := range sh.Stocks {
		if slices.ContainsFunc(sh.Beds, func(b dosing.SharedBed) bool { return b.Most[m] > 0 }) {
			out = append(out, m)
		}
	}
	return out
}

// carriedByHand reports whether a field belongs to this form.
func carriedByHand(name string) bool {
	return strings.HasPrefix(name, fixField) || slices.Contains([]string{"out", "goal", "buffering", "ash", "act", "pace"}, name)
}

func handRow(h hand, sh dosing.Sharing, i int, stocks []int) handBed {
	bed := sh.Beds[i].Dose.Record.Bed
	b := bedOf(bed, false)
	f := form.Form{Values: map[string]string{}, Faults: maps.Clone(h.faults)}
	f.Sentences()
	for _, m := range stocks {
		name := dosing.ByHand{Bed: bed.ID, Key: sh.StockKey(m)}.Field()
		f.Values[name] = h.typed.Get(name)
		x := f.Resolve(form.Row{Name: name, Called: stockName(sh, m) + " on " + bed.Name, Mode: form.Decimal})
		if sh.Beds[i].Most[m] <= 0 {
			x.Name = "" // not allowed there
		}
		b.Fix = append(b.Fix, x)
	}
	return b
}

// says sets the cost of the changes compared with the free plan.
func (v *handView) says(h hand, sh dosing.Sharing) {
	if len(h.faults) > 0 {
		v.Fault = "One amount by hand is not possible; it is left out of what is shown."
		return
	}
	if sh.Free == nil {
		return
	}
	u := sh.Garden.Units()
	var parts []string
	if more := sh.Cost - sh.Free.Cost; more > 0.005 {
		parts = append(parts, "costs "+present.Money(more, sh.Garden.Currency)+" more")
	} else if more < -0.005 {
		parts = append(parts, "costs "+present.Money(-more, sh.Garden.Currency)+" less")
	}
	was, wasK := shortfall(sh, sh.Free.Shortfall), shortfall(sh, sh.Free.ShortfallK2O)
	is, isK := shortfall(sh, sh.Shortfall), shortfall(sh, sh.ShortfallK2O)
	if is > was+1 {
		parts = append(parts, "falls short by "+u.Mass(is-was)+" more of pure lime")
	}
	if isK > wasK+1 {
		parts = append(parts, "falls short by "+u.Mass(isK-wasK)+" more of potash")
	}
	v.Says = "Your changes cost nothing: the plan is as good as the cheapest one."
	if len(parts) > 0 {
		v.Says = "Compared with the cheapest plan, your changes " + text.List(parts) + "."
	}
}

// shortfall returns a plan's total shortfall need.
func shortfall(sh dosing.Sharing, rates []quantity.Rate) (sum quantity.Mass) {
	for i := range rates {
		sum += rates[i].Over(sh.Beds[i].Area)
	}
	return sum
}
