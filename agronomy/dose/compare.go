package dose

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Comparison is the result of the same request under one method.
type Comparison struct {
	// Question is the matter, Method one of its methods; Chosen marks the request's own.
	Question, Method string
	Chosen           bool
	// CaCO3 is the amount that it yields, negative when lowering; Low and High are the 1/6 and 5/6
	// quantiles if the method has an uncertainty of its own, else 0.
	CaCO3, Low, High quantity.Rate
	// Ash is the ash among it, g/m², for questions on ash.
	Ash quantity.Rate
}

// sideQuestions are the questions that change the amount.
const (
	sideBuffering, sideAsh, sideAct = "buffering", "ash", "act"
)

// CompareMethods returns the need by every lime method that the data can feed, the amount by each
// ash method of the first usable ash, and, without a typed target, the need by each trigger method.
// Errors are those of For; a stopped bed has no comparisons.
func CompareMethods(r Request) ([]Comparison, error) {
	r.Methods = r.Methods.Or(DefaultMethods)
	a, err := For(r)
	if err != nil || a.Buffering.Method == "" {
		return nil, err
	}
	out := bufferingSides(r, &a)
	if a.Direction == Raise {
		out = append(out, ashSides(r)...)
	}
	if r.Target == nil {
		out = append(out, actSides(r, &a)...)
	}
	return out, nil
}

func bufferingSides(r Request, a *Answer) (out []Comparison) {
	chosen := r.Methods.Buffering
	for _, o := range soil.OnOffer(a.Ground, a.Reading, a.Target, chosen) {
		if o.Lacks {
			continue
		}
		r.Methods.Buffering = o.Method
		s := begin(&r)
		if s.chooseMethod() != nil {
			continue
		}
		var x Answer
		s.need(&x)
		out = append(out, Comparison{sideBuffering, string(o.Method), o.Method == chosen, x.Need.CaCO3, x.Need.Low, x.Need.High, 0})
	}
	return out
}

// ashSides returns the amount of the first usable ash by each ash method; none without ash.
func ashSides(r Request) (out []Comparison) {
	chosen, any := r.Methods.Ash, false
	for _, method := range material.AshApproaches {
		r.Methods.Ash = method
		x := Comparison{Question: sideAsh, Method: string(method), Chosen: method == chosen}
		a, err := For(r)
		if err != nil {
			return nil
		}
		for i := range a.Options {
			if o := &a.Options[i]; len(o.Parts) == 1 && o.has(material.Ash) {
				x.CaCO3, x.Ash, any = o.CaCO3, o.Parts[0].Rate, true
				break
			}
		}
		out = append(out, x)
	}
	if !any {
		return nil
	}
	return out
}

// actSides returns the need by the trigger methods that act, and 0 by those that wait.
func actSides(r Request, a *Answer) (out []Comparison) {
	for i := range Questions {
		q := &Questions[i]
		if q.Name != sideAct {
			continue
		}
		chosen := q.Of(&r.Methods)
		for _, id := range q.IDs {
			q.Choose(&r.Methods, id)
			s := begin(&r)
			if s.chooseMethod() != nil {
				continue
			}
			var x Answer
			s.need(&x)
			side := Comparison{Question: sideAct, Method: id, Chosen: id == chosen}
			if x.Direction != Leave {
				side.CaCO3 = a.Need.CaCO3
			}
			out = append(out, side)
		}
	}
	return out
}
