package garden

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
)

// MarkKinds lists the kinds of mark in the order they are offered.
var MarkKinds = []string{MarkPath, MarkWall}

// checkMark says what is wrong with a mark, by field.
func checkMark(m Mark) Faults {
	f := Faults{}
	if why := TextFault(m.Name, longestName, false); why != "" {
		f["name"] = why
	}
	if !has(MarkKinds, m.Kind) {
		f["kind"] = "choose what it is"
	}
	LimitWidth.hold(f, "width", m.Width)
	if why := CheckLine(m.Points); why != "" {
		f["corners"] = why
	}
	return f
}

// CheckLine says what is wrong with a line, "" when nothing is. Unlike an
// outline it may cross itself.
func CheckLine(ps []Point) string {
	switch n := len(ps); {
	case n < 2:
		return "a line needs two points or more"
	case n > MostPoints:
		return fmt.Sprintf("a line has at most %d points", MostPoints)
	}
	for i, p := range ps {
		if !LimitPlace.Holds(p.X) || !LimitPlace.Holds(p.Y) {
			return fmt.Sprintf("point %d lies off the plan: a place from 0 to %.0f m is needed", i+1, LimitPlace.High)
		}
		if i > 0 && math.Hypot(p.X-ps[i-1].X, p.Y-ps[i-1].Y) < 1e-6 {
			return fmt.Sprintf("points %d and %d lie on one spot", i, i+1)
		}
	}
	return ""
}

// called is what a mark is called: its name, else its kind.
func (m Mark) called() string {
	if m.Name == "" {
		return "a " + m.Kind
	}
	return m.Name
}

// SetMark adds a mark, or changes the one whose ID it carries.
func (k Keeper) SetMark(ctx context.Context, a Act, m Mark) (Receipt, error) {
	m.Name = strings.TrimSpace(m.Name)
	if err := checkMark(m).orNil(); err != nil {
		return Receipt{}, err
	}
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		if m.ID == 0 {
			return "Drew " + m.called(), tx.Insert(&m)
		}
		return "Changed " + m.called(), tx.Update(&m)
	})
}

// DropMark takes a mark off the plan.
func (k Keeper) DropMark(ctx context.Context, a Act, id, version int64) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		all, err := All[Mark](tx)
		if err != nil {
			return "", err
		}
		i := slices.IndexFunc(all, func(m Mark) bool { return m.ID == id })
		if i < 0 {
			return "", ErrMissing
		}
		all[i].Version = version
		return "Took " + all[i].called() + " off the plan", tx.Delete(&all[i])
	})
}
