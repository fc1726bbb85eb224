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

// widestMark is the most that a path or a wall may be wide, m.
const widestMark = 20

// checkMark says what is wrong with a mark, by field.
func checkMark(m Mark) Faults {
	f := Faults{}
	if len([]rune(m.Name)) > longestName {
		f["name"] = fmt.Sprintf("at most %d letters", longestName)
	}
	if !has(MarkKinds, m.Kind) {
		f["kind"] = "choose what it is"
	}
	if !(m.Width > 0 && m.Width <= widestMark) {
		f["width"] = fmt.Sprintf("a width above 0 and to %d m is needed", widestMark)
	}
	if why := checkLine(m.Points); why != "" {
		f["corners"] = why
	}
	return f
}

// checkLine says what is wrong with a line, "" when nothing is. Unlike an
// outline it may cross itself.
func checkLine(ps []Point) string {
	switch n := len(ps); {
	case n < 2:
		return "a line needs two points or more"
	case n > mostCorners:
		return fmt.Sprintf("a line has at most %d points", mostCorners)
	}
	for i, p := range ps {
		if math.IsNaN(p.X) || math.IsNaN(p.Y) || p.X < 0 || p.Y < 0 || p.X > farthest || p.Y > farthest {
			return fmt.Sprintf("point %d lies off the plan: a place from 0 to %d m is needed", i+1, farthest)
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
	return k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		if m.ID == 0 {
			return "Drew " + m.called(), tx.Insert(&m)
		}
		return "Changed " + m.called(), tx.Update(&m)
	})
}

// DropMark takes a mark off the plan.
func (k Keeper) DropMark(ctx context.Context, a Act, id, version int64) (Receipt, error) {
	return k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		all, err := tx.Marks()
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
