package dose

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Comparison is what one method would have put on a bed, all else as it was asked for.
type Comparison struct {
	// Question is what growers differ on, Method one answer to it; Chosen where it is the
	// one that the request follows.
	Question, Method string
	Chosen           bool
	// CaCO3 is what it would put on of pure lime's worth, signed; Low and High hold two in
	// three where the method has a doubt of its own, else they are 0.
	CaCO3, Low, High quantity.Rate
	// Ash is the ash among it, g/m², where the methods differ on ash.
	Ash quantity.Rate
}

// sideQuestions are what changes the amount of a dose.
const (
	sideBuffering, sideAsh, sideAct = "buffering", "ash", "act"
)

// CompareMethods lays the methods beside each other: the need by every lime method that the
// data can feed, what each method of ash would put on of the first ash that may be used,
// and, where no target was typed, what each method of acting would. Errors are those of
// For; a bed that is stopped has no sides.
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

// ashSides are what each method of ash lets on of the first ash that may be used; none
// where there is no ash to differ on.
func ashSides(r Request) (out []Comparison) {
	chosen, any := r.Methods.Ash, false
	for _, school := range material.AshApproaches {
		r.Methods.Ash = school
		x := Comparison{Question: sideAsh, Method: string(school), Chosen: school == chosen}
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

// actSides are the need by the methods that step in, and nothing by those that wait.
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
