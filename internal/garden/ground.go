package garden

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// CheckPlace says what is wrong with a place, by field.
func CheckPlace(g Garden) error {
	f := Faults{}
	if why := nameFault(g.Name, "give the garden a name"); why != "" {
		f["name"] = why
	}
	if _, ok := soil.FindClimate(g.Climate, g.Hemisphere); !ok {
		f["climate"] = "choose the climate that is nearest"
	}
	if g.Hemisphere != soil.North && g.Hemisphere != soil.South {
		f["hemisphere"] = "choose north or south"
	}
	if g.SoilTable != soil.CoolTable && g.SoilTable != soil.WarmTable {
		f["table"] = "choose cool or warm"
	}
	for i := range dose.Questions {
		q, schools := &dose.Questions[i], g.Schools()
		if !slices.Contains(q.Habits, q.Of(&schools)) {
			f[q.Name] = "choose a school"
		}
	}
	if n := len(g.SoilTemps); n != 0 && n != 12 {
		f["temps"] = "fill in all twelve months, or none"
	}
	for m, t := range g.SoilTemps {
		if !LimitSoilTemp.Holds(float64(t)) {
			f["temps"] = fmt.Sprintf("month %d: %s", m+1, LimitSoilTemp.Says())
		}
	}
	checkHabits(g, f)
	return f.orNil()
}

// SetPlace changes the garden's place and habits. g carries the version that
// was read.
func (k Keeper) SetPlace(ctx context.Context, a Act, g Garden) (Receipt, error) {
	g.Name = strings.TrimSpace(g.Name)
	if err := CheckPlace(g); err != nil {
		return Receipt{}, err
	}
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		was, err := tx.Garden()
		if err != nil {
			return "", err
		}
		g.Started = was.Started
		return "Changed the place", tx.Update(&g)
	})
}

// Place reads the garden itself.
func (k Keeper) Place(ctx context.Context) (g Garden, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { g, err = r.Garden(); return err })
	return g, err
}

// EditBed changes a bed; b carries the version that was read.
func (k Keeper) EditBed(ctx context.Context, a Act, b Bed) (Receipt, error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := checkGround(b).orNil(); err != nil {
		return Receipt{}, err
	}
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		was, err := Get[Bed](tx, b.ID)
		if err != nil {
			return "", err
		}
		// What the form does not hold stays as it was.
		b.Retired = was.Retired
		return "Changed " + b.Name, tx.Update(&b)
	})
}

// Retire takes a bed off the plan; its history stays, and what is still to do
// on it goes.
func (k Keeper) Retire(ctx context.Context, a Act, bed, version int64) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		b, err := Get[Bed](tx, bed)
		if err != nil {
			return "", err
		}
		b.Version, b.Retired = version, a.Today
		if err := tx.Update(&b); err != nil {
			return "", err
		}
		tasks, err := Where[Task](tx, "bed_id", bed)
		if err != nil {
			return "", err
		}
		for i := range tasks {
			if tasks[i].State == Open {
				if err := tx.Delete(&tasks[i]); err != nil {
					return "", err
				}
			}
		}
		return "Retired " + b.Name, nil
	})
}

// Duplicate adds a bed like another beside it, with its crops to come.
func (k Keeper) Duplicate(ctx context.Context, a Act, bed int64) (Bed, Receipt, error) {
	var b Bed
	r, err := k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		var err error
		if b, err = Get[Bed](tx, bed); err != nil {
			return "", err
		}
		all, err := All[Bed](tx)
		if err != nil {
			return "", err
		}
		was := b.Name
		b.Meta, b.Retired = Meta{}, 0
		b.Name = freeName(was, all)
		b.Y += b.H + 0.5
		if err := tx.Insert(&b); err != nil {
			return "", err
		}
		ps, err := Where[Planting](tx, "bed_id", bed)
		if err != nil {
			return "", err
		}
		for _, p := range ps {
			if p.Cleared == 0 || p.Cleared > a.Today {
				p.Meta, p.BedID = Meta{}, b.ID
				if err := tx.Insert(&p); err != nil {
					return "", err
				}
			}
		}
		return "Added " + b.Name + ", like " + was, nil
	})
	return b, r, err
}

// freeName counts on from a name until no bed has it.
func freeName(name string, beds []Bed) string {
	for n := 2; ; n++ {
		try := fmt.Sprintf("%s (%d)", name, n)
		if !slices.ContainsFunc(beds, func(b Bed) bool { return Fold(b.Name) == Fold(try) }) {
			return try
		}
	}
}

// AddPlanting puts a crop on a bed from a day on: together with what stands
// there, or after it has been cleared for it.
func (k Keeper) AddPlanting(ctx context.Context, a Act, p Planting, together bool) (Receipt, error) {
	f := Faults{}
	checkPlanting(f, p)
	if err := f.orNil(); err != nil {
		return Receipt{}, err
	}
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		b, err := Get[Bed](tx, p.BedID)
		if err != nil {
			return "", err
		}
		c, err := knownCrop(tx, p.Crop)
		if err != nil {
			return "", err
		}
		all, err := Where[Planting](tx, "bed_id", p.BedID)
		if err != nil {
			return "", err
		}
		before := standing(all, p.Sown)
		if together {
			before = nil
		} else if i := slices.IndexFunc(all, func(x Planting) bool { return x.Sown > p.Sown }); i >= 0 && !c.Is(crop.Perennial) {
			p.Cleared = all[i].Sown // what was to follow still does
		}
		for _, x := range before {
			if x.Cleared = p.Sown; x.Cleared <= x.Sown {
				return "", Faults{"sown": "something was sown there on that day already; a day after it is needed, or tick that they stand together"}
			}
			if err := tx.Update(&x); err != nil {
				return "", err
			}
		}
		return fmt.Sprintf("%s on %s from %s", words.Capital(c.Name), b.Name, words.DayYear(p.Sown)), tx.Insert(&p)
	})
}

// Clear notes when a crop was, or will be, off the bed; no day takes that back.
func (k Keeper) Clear(ctx context.Context, a Act, planting, version int64, on quantity.Day) (Receipt, int64, error) {
	var bed int64
	r, err := k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		p, err := Get[Planting](tx, planting)
		if err != nil {
			return "", err
		}
		if on != 0 && on < p.Sown {
			return "", Faults{"cleared": "it cannot be cleared before it was sown, " + words.DayYear(p.Sown)}
		}
		l, err := library(tx)
		if err != nil {
			return "", err
		}
		p.Version, p.Cleared = version, on
		bed = p.BedID
		if err := tx.Update(&p); err != nil {
			return "", err
		}
		if on == 0 {
			return words.Capital(l.Name(p.Crop)) + " stands on", nil
		}
		return fmt.Sprintf("%s cleared %s", words.Capital(l.Name(p.Crop)), words.DayYear(on)), nil
	})
	return r, bed, err
}

// takeMarks takes the marks of a plan: those of a name that is known are drawn
// anew, the others are added.
func takeMarks(tx Tx, marks []Mark) error {
	all, err := All[Mark](tx)
	if err != nil {
		return err
	}
	for _, m := range marks {
		for _, why := range checkMark(m) {
			return Faults{"plan": m.called() + ": " + why}
		}
		at := slices.IndexFunc(all, func(x Mark) bool {
			return m.Name != "" && Fold(x.Name) == Fold(m.Name) || m.Name == "" && x.Name == "" && slices.Equal(x.Points, m.Points)
		})
		if at >= 0 {
			m.Meta = all[at].Meta
			err = tx.Update(&m)
		} else {
			err = tx.Insert(&m)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// TakePlan takes the shapes of a plan: beds of a name that is known are
// reshaped, the others are added with usual soil; so are paths and walls. All
// or nothing.
func (k Keeper) TakePlan(ctx context.Context, a Act, plan []Bed, marks []Mark) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		all, err := All[Bed](tx)
		if err != nil {
			return "", err
		}
		added, changed := 0, 0
		for _, p := range plan {
			b := Bed{Texture: soil.Loam, Worked: soil.Dug, FreeLime: soil.LimeUnknown, Depth: soil.UsualDepth(Bed{Kind: p.Kind}.Use(), soil.Dug)}
			at := slices.IndexFunc(all, func(x Bed) bool { return Fold(x.Name) == Fold(p.Name) })
			if at >= 0 {
				b = all[at]
			}
			b.Name, b.Kind, b.Shape, b.X, b.Y, b.W, b.H, b.Turn, b.Rings, b.Corners = p.Name, p.Kind, p.Shape, p.X, p.Y, p.W, p.H, p.Turn, p.Rings, p.Corners
			for _, why := range checkGround(b) {
				return "", Faults{"plan": p.Name + ": " + why}
			}
			if at >= 0 {
				changed++
				err = tx.Update(&b)
			} else {
				added++
				err = tx.Insert(&b)
			}
			if err != nil {
				return "", err
			}
		}
		if err := takeMarks(tx, marks); err != nil {
			return "", err
		}
		return fmt.Sprintf("Took in a plan: %s changed, %d added", words.Count(changed, "bed", "beds"), added), nil
	})
}
