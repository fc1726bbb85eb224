package layout

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// SetPlace changes the garden's place and defaults. g carries the version that was read.
func (svc Service) SetPlace(ctx context.Context, a garden.Actor, g garden.Garden) (garden.Receipt, error) {
	g.Name = strings.TrimSpace(g.Name)
	if err := garden.CheckPlace(g); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		was, err := tx.Garden()
		if err != nil {
			return "", err
		}
		g.Started, g.WorkDays, g.Away, g.Rehearsal = was.Started, was.WorkDays, was.Away, was.Rehearsal
		return "Changed the place", tx.Update(&g)
	})
}

// SetDays sets the working days: weekdays, Sunday is 0, none for all, and stretches without work.
func (svc Service) SetDays(ctx context.Context, a garden.Actor, version int64, week garden.Figures,
	away garden.Stretches) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		g.Version, g.WorkDays, g.Away = version, week, away
		f := garden.Faults{}
		garden.CheckDays(g, f)
		if err := f.OrNil(); err != nil {
			return "", err
		}
		return "Changed the days on which you work", tx.Update(&g)
	})
}

// EditBed changes a bed; b carries the version that was read.
func (svc Service) EditBed(ctx context.Context, a garden.Actor, b garden.Bed) (garden.Receipt, error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := garden.CheckGround(b).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		was, err := garden.Get[garden.Bed](tx, b.ID)
		if err != nil {
			return "", err
		}
		// Fields that the form does not have stay unchanged.
		b.Retired = was.Retired
		return "Changed " + b.Name, tx.Update(&b)
	})
}

// Retire takes a bed off the plan; its history stays, and its open tasks are deleted.
func (svc Service) Retire(ctx context.Context, a garden.Actor, bed, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.Bed](tx, bed)
		if err != nil {
			return "", err
		}
		b.Version = version
		return "Retired " + b.Name, retire(tx, a, &b)
	})
}

func retire(tx Tx, a garden.Actor, b *garden.Bed) error {
	b.Retired = a.Today
	if err := tx.Update(b); err != nil {
		return err
	}
	tasks, err := garden.Where[garden.Task](tx, "bed_id", b.ID)
	if err != nil {
		return err
	}
	for i := range tasks {
		if tasks[i].State == garden.Open {
			if err := tx.Delete(&tasks[i]); err != nil {
				return err
			}
		}
	}
	preparations, err := garden.Where[garden.Preparation](tx, "bed_id", b.ID)
	if err != nil {
		return err
	}
	for i := range preparations {
		if preparations[i].Open() {
			preparations[i].Closed = max(a.Today, preparations[i].Made)
			if err := tx.Update(&preparations[i]); err != nil {
				return err
			}
		}
	}
	return nil
}

// Teach sets the day from which on a bed's retests teach; 0: all of them.
func (svc Service) Teach(ctx context.Context, a garden.Actor, bed, version int64, from quantity.Day) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.Bed](tx, bed)
		if err != nil {
			return "", err
		}
		b.Version, b.LearnsFrom = version, from
		if err := tx.Update(&b); err != nil {
			return "", err
		}
		if from == 0 {
			return "All tests of " + b.Name + " count again for what it has shown", nil
		}
		return "The tests of " + b.Name + " so far are ignored for what it has shown", nil
	})
}

// AddPlanting adds a crop to a bed from a day on: together with what stands there, or replacing it.
func (svc Service) AddPlanting(ctx context.Context, a garden.Actor, p garden.Planting, together bool) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) { return plant(tx, p, together) })
}

func plant(tx Tx, p garden.Planting, together bool) (string, error) {
	f := garden.Faults{}
	garden.CheckPlanting(f, p)
	if err := f.OrNil(); err != nil {
		return "", err
	}
	b, err := garden.Get[garden.Bed](tx, p.BedID)
	if err != nil {
		return "", err
	}
	c, err := garden.KnownCrop(tx, p.Crop)
	if err != nil {
		return "", err
	}
	p.Crop = c.ID
	all, err := garden.Where[garden.Planting](tx, "bed_id", p.BedID)
	if err != nil {
		return "", err
	}
	before := bedstate.StandingOn(all, p.Sown)
	if together {
		before = nil
	} else if i := slices.IndexFunc(all, func(x garden.Planting) bool { return x.Sown > p.Sown }); i >= 0 && !c.Is(crop.Perennial) {
		p.Cleared = all[i].Sown // what was to follow still follows
	}
	for _, x := range before {
		if x.Cleared = p.Sown; x.Cleared <= x.Sown {
			return "", garden.Faults{"sown": "something was sown on " + b.Name + " on that day already; a day after it is needed, or tick " +
				"that they stand together"}
		}
		if err := tx.Update(&x); err != nil {
			return "", err
		}
	}
	return fmt.Sprintf("%s on %s from %s", text.Capital(c.Name), b.Name, text.DayYear(p.Sown)), tx.Insert(&p)
}

// Clear sets the day on which a crop was, or will be, off the bed; 0 unsets it.
func (svc Service) Clear(ctx context.Context, a garden.Actor, planting, version int64, day quantity.Day) (garden.Receipt, int64, error) {
	var bed int64
	r, err := garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		p, err := garden.Get[garden.Planting](tx, planting)
		if err != nil {
			return "", err
		}
		if day != 0 && day < p.Sown {
			return "", garden.Faults{"cleared": "it cannot be cleared before it was sown, " + text.DayYear(p.Sown)}
		}
		l, err := garden.LibraryOf(tx)
		if err != nil {
			return "", err
		}
		p.Version, p.Cleared = version, day
		bed = p.BedID
		if err := tx.Update(&p); err != nil {
			return "", err
		}
		if day == 0 {
			return text.Capital(l.Name(p.Crop)) + " stands on", nil
		}
		return fmt.Sprintf("%s cleared %s", text.Capital(l.Name(p.Crop)), text.DayYear(day)), nil
	})
	return r, bed, err
}

// takeMarks imports a plan's marks: known names are redrawn, others added.
func takeMarks(tx garden.Tx, marks []garden.Mark) error {
	all, err := garden.All[garden.Mark](tx)
	if err != nil {
		return err
	}
	for _, m := range marks {
		for _, why := range garden.CheckMark(m) {
			return garden.Faults{"plan": m.Called() + ": " + why}
		}
		at := slices.IndexFunc(all, func(x garden.Mark) bool {
			return m.Name != "" && garden.Fold(x.Name) == garden.Fold(m.Name) || m.Name == "" && x.Name == "" &&
				slices.Equal(x.Points, m.Points)
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

// ImportPlan imports a plan's shapes, all or nothing: beds with known names are reshaped, others
// added with default soil; likewise paths and walls.
func (svc Service) ImportPlan(ctx context.Context, a garden.Actor, plan []garden.Bed, marks []garden.Mark) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, err := garden.All[garden.Bed](tx)
		if err != nil {
			return "", err
		}
		added, changed := 0, 0
		for _, p := range plan {
			b := garden.Bed{Texture: soil.Loam, Worked: soil.Dug, FreeLime: soil.LimeUnknown,
				Depth: soil.UsualDepth(garden.Bed{Kind: p.Kind}.Use(), soil.Dug)}
			at := slices.IndexFunc(all, func(x garden.Bed) bool { return garden.Fold(x.Name) == garden.Fold(p.Name) })
			if at >= 0 {
				b = all[at]
			}
			b.Name, b.Kind, b.Shape, b.X, b.Y, b.W, b.H, b.Turn, b.Rings, b.Corners = p.Name, p.Kind, p.Shape, p.X, p.Y, p.W, p.H,
				p.Turn, p.Rings, p.Corners
			for _, why := range garden.CheckGround(b) {
				return "", garden.Faults{"plan": p.Name + ": " + why}
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
		return fmt.Sprintf("Imported a plan: %s changed, %d added", text.Count(changed, "bed", "beds"), added), nil
	})
}
