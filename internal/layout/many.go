package layout

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// MostAtOnce is the largest number of beds added or changed at once.
const MostAtOnce = 400

// path is the gap between beds laid out in a row, m.
const path = 0.5

// Like adds copies of a bed with its coming crops, in a row across it with paths between, each at a
// free place, with numbered names.
func (svc Service) Like(ctx context.Context, a garden.Actor, bed int64, n int, between float64) (last garden.Bed, r garden.Receipt,
	err error) {
	f := garden.Faults{}
	if !garden.LimitCopies.Holds(float64(n)) {
		f["copies"] = garden.LimitCopies.Says()
	}
	if !garden.LimitPath.Holds(between) {
		f["between"] = garden.LimitPath.Says()
	}
	if err := f.OrNil(); err != nil {
		return last, r, err
	}
	r, err = garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		was, err := garden.Get[garden.Bed](tx, bed)
		if err != nil {
			return "", err
		}
		all, err := garden.All[garden.Bed](tx)
		if err != nil {
			return "", err
		}
		ps, err := garden.Where[garden.Planting](tx, "bed_id", bed)
		if err != nil {
			return "", err
		}
		last = was
		for range n {
			b := last
			b.Meta, b.Retired, b.LearnsFrom = garden.Meta{}, 0, 0
			b.Name = counted(was.Name, all)
			beside(&b, last, between, all)
			if err := tx.Insert(&b); err != nil {
				return "", err
			}
			for _, p := range ps {
				if p.Cleared == 0 || p.Cleared > a.Today {
					p.Meta, p.BedID = garden.Meta{}, b.ID
					if err := tx.Insert(&p); err != nil {
						return "", err
					}
				}
			}
			all, last = append(all, b), b
		}
		if n == 1 {
			return "Added " + last.Name + ", like " + was.Name, nil
		}
		return fmt.Sprintf("Added %d beds like %s, up to %s", n, was.Name, last.Name), nil
	})
	return last, r, err
}

// beside places a bed across the one before it, far enough on to be free.
func beside(b *garden.Bed, before garden.Bed, between float64, all []garden.Bed) {
	low, high := before.Bounds()
	step := func() { b.Y += high.Y - low.Y + between }
	if high.Y-low.Y > high.X-low.X { // a bed that runs north has its neighbour to the east
		step = func() { b.X += high.X - low.X + between }
	}
	for step(); slices.ContainsFunc(all, func(x garden.Bed) bool { return x.Retired == 0 && garden.Overlaps(*b, x) }); {
		step()
	}
}

// counted returns the next free name: after Terrace 2 comes Terrace 3, after Terrace comes Terrace
// 2.
func counted(name string, beds []garden.Bed) string {
	n, stem := 1, name
	if i := strings.LastIndexFunc(name, func(r rune) bool { return r < '0' || r > '9' }); i < len(name)-1 {
		if x, err := strconv.Atoi(name[i+1:]); err == nil {
			n, stem = x, name[:i+1]
		}
	} else {
		stem += " "
	}
	for {
		n++
		try := stem + strconv.Itoa(n)
		if !slices.ContainsFunc(beds, func(b garden.Bed) bool { return garden.Fold(b.Name) == garden.Fold(try) }) {
			return try
		}
	}
}

// New is a bed of an imported table, with its crop; Line is its line, Placed whether the table
// gives its place.
type New struct {
	Line   int
	Bed    garden.Bed
	Crop   string
	Sown   quantity.Day
	Placed bool
}

// AddTable adds the beds of a table, all or none. Beds without a place are laid out by part of the
// garden, below what exists.
func (svc Service) AddTable(ctx context.Context, a garden.Actor, rows []New) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, err := garden.All[garden.Bed](tx)
		if err != nil {
			return "", err
		}
		var wrong []string // nothing is kept then: all of it is told at once
		for _, x := range laidOut(rows, all) {
			b := x.Bed
			if slices.ContainsFunc(all, func(o garden.Bed) bool { return garden.Fold(o.Name) == garden.Fold(b.Name) }) {
				wrong = append(wrong, fmt.Sprintf("line %d: there is a bed called %s already", x.Line, b.Name))
				continue
			}
			if err := addOne(tx, &b, x.Crop, x.Sown); err != nil {
				var f garden.Faults
				if err = atLine(x.Line, err); !errors.As(err, &f) {
					return "", err
				}
				wrong = append(wrong, f["table"])
				continue
			}
			all = append(all, b)
		}
		if len(wrong) > 0 {
			return "", garden.Faults{"table": text.Several(wrong)}
		}
		return "Added " + text.Count(len(rows), "bed", "beds") + " of a table", nil
	})
}

func addOne(tx Tx, b *garden.Bed, crp string, sown quantity.Day) error {
	if err := garden.CheckBed(*b, crp, sown); err != nil {
		return err
	}
	c, err := garden.KnownCrop(tx, crp)
	if err != nil {
		return err
	}
	if err := tx.Insert(b); err != nil {
		return err
	}
	return tx.Insert(&garden.Planting{BedID: b.ID, Crop: c.ID, Sown: sown})
}

// atLine adds the line number to a fault.
func atLine(line int, err error) error {
	f, ok := err.(garden.Faults)
	if !ok {
		return err
	}
	var says []string
	for _, field := range slices.Sorted(maps.Keys(f)) {
		says = append(says, fmt.Sprintf("line %d, %s: %s", line, field, f[field]))
	}
	return garden.Faults{"table": text.Several(says)}
}

// Change is a change of many beds; empty fields stay.
type Change struct {
	Texture  soil.Texture
	Depth    quantity.Depth
	Worked   soil.Worked
	FreeLime soil.FreeLime
	// Part is their part of the garden, used if SetPart is set.
	Part    string
	SetPart bool
	// Crop follows the standing crop, from Sown on.
	Crop   string
	Sown   quantity.Day
	Retire bool
}

// zero reports whether nothing changes.
func (c *Change) zero() bool { return *c == Change{Sown: c.Sown} }

// ChangeMany changes many beds, all or none.
func (svc Service) ChangeMany(ctx context.Context, a garden.Actor, beds []int64, c Change) (garden.Receipt, error) {
	switch {
	case len(beds) == 0:
		return garden.Receipt{}, garden.Faults{"beds": "choose the beds first"}
	case len(beds) > MostAtOnce:
		return garden.Receipt{}, garden.Faults{"beds": fmt.Sprintf("at most %d beds at once", MostAtOnce)}
	case c.zero():
		return garden.Receipt{}, garden.Faults{"beds": "say what they should be given"}
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		for _, id := range beds {
			b, err := garden.Get[garden.Bed](tx, id)
			if err != nil {
				return "", err
			}
			if err := c.apply(tx, a, &b); err != nil {
				return "", err
			}
		}
		if c.Retire {
			return "Retired " + text.Count(len(beds), "bed", "beds"), nil
		}
		return "Changed " + text.Count(len(beds), "bed", "beds"), nil
	})
}

func (c *Change) apply(tx Tx, a garden.Actor, b *garden.Bed) error {
	if c.Retire {
		return retire(tx, a, b)
	}
	was := *b
	if c.Texture != "" {
		// The texture is no longer the result of a jar or hand test.
		b.Texture, b.TextureBy, b.Jar, b.Clay = c.Texture, "", nil, nil
	}
	if c.Depth != 0 {
		b.Depth = c.Depth
	}
	if c.Worked != "" {
		b.Worked = c.Worked
	}
	if c.FreeLime != "" {
		b.FreeLime = c.FreeLime
	}
	if c.SetPart {
		b.Part = strings.TrimSpace(c.Part)
	}
	if err := garden.CheckGround(*b).OrNil(); err != nil {
		return err
	}
	if !same(was, *b) {
		if err := tx.Update(b); err != nil {
			return err
		}
	}
	if c.Crop == "" {
		return nil
	}
	_, err := plant(tx, garden.Planting{BedID: b.ID, Crop: c.Crop, Sown: c.Sown}, false)
	return err
}

// same reports whether a Change left a bed as it was.
func same(a, b garden.Bed) bool {
	return a.Texture == b.Texture && a.TextureBy == b.TextureBy && a.Depth == b.Depth && a.Worked == b.Worked && a.FreeLime == b.FreeLime &&
		a.Part == b.Part
}
