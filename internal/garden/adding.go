package garden

import (
	"context"
	"fmt"
	"sort"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// CheckBed says what is wrong with a bed and its crop, by field. Whether the
// crop is one of the garden's is seen when it is added.
func CheckBed(b Bed, crp string, sown quantity.Day) error {
	f := checkGround(b)
	checkPlanting(f, Planting{Crop: crp, Sown: sown})
	return f.orNil()
}

func checkPlanting(f Faults, p Planting) {
	if p.Crop == "" {
		f["crop"] = "choose what grows there next"
	}
	if p.Sown.IsZero() {
		f["sown"] = "a day is needed: when it was, or will be, sown or planted"
	} else if why := dayFault(p.Sown); why != "" {
		f["sown"] = why
	}
}

// knownCrop tells a fault when the garden does not know a crop.
func knownCrop(r Reader, code string) (crop.Crop, error) {
	l, err := library(r)
	if err != nil {
		return crop.Crop{}, err
	}
	c, ok := l.Find(code)
	if !ok {
		return c, Faults{"crop": "choose a crop of the library"}
	}
	return c, nil
}

// CheckShape says what is wrong with a bed's size and place, by field: one that
// passes can be drawn.
func CheckShape(b Bed) Faults {
	f := Faults{}
	for field, side := range map[string]struct {
		metres float64
		what   string
	}{"w": {b.W, "length"}, "h": {b.H, "width"}} {
		if !(side.metres > 0) {
			f[field] = "a " + side.what + " above 0 m is needed"
		}
		LimitSize.hold(f, field, side.metres)
	}
	LimitPlace.hold(f, "x", b.X)
	LimitPlace.hold(f, "y", b.Y)
	LimitTurn.hold(f, "turn", b.Turn)
	switch {
	case !has(Shapes, b.Shape):
		f["shape"] = "choose a shape"
	case b.Shape == ShapeRings:
		LimitRings.hold(f, "rings", float64(b.Rings))
	case b.Shape == ShapeCircle && b.W != b.H:
		f["h"] = "a circle is as wide as it is long"
	case b.Shape == ShapeOutline:
		if why := CheckCorners(b.Corners); why != "" {
			f["corners"] = why
		}
	}
	if a := b.Area(); f["w"] == "" && f["h"] == "" && a > dose.MaxArea {
		f["w"] = fmt.Sprintf("%s is more than 5 ha; split the ground", words.Area(a))
	}
	return f
}

func checkGround(b Bed) Faults {
	f := CheckShape(b)
	if why := nameFault(b.Name, "give the bed a name"); why != "" {
		f["name"] = why
	}
	if why := TextFault(b.Note, longestNote, true); why != "" {
		f["note"] = why
	}
	if !has(Kinds, b.Kind) {
		f["kind"] = "choose what kind of ground it is"
	}
	if _, ok := soil.FindTexture(b.Texture); !ok {
		f["texture"] = "choose a texture"
	}
	if !(b.Depth >= dose.MinDepth && b.Depth <= dose.MaxDepth) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	holdOpt(LimitPercent, f, "om", b.OrganicMatter)
	checkSoil(b, f)
	switch b.Worked {
	case soil.Dug, soil.Surface, soil.Established:
	default:
		f["worked"] = "choose how it is worked"
	}
	switch b.FreeLime {
	case soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong:
	default:
		f["free_lime"] = "choose what the vinegar drop did"
	}
	return f
}

func has(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

// AddBed adds a bed with its crop.
func (k Keeper) AddBed(ctx context.Context, a Act, b Bed, crp string, sown quantity.Day) (Bed, Receipt, error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := CheckBed(b, crp, sown); err != nil {
		return b, Receipt{}, err
	}
	r, err := k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		if _, err := knownCrop(tx, crp); err != nil {
			return "", err
		}
		if err := tx.Insert(&b); err != nil {
			return "", err
		}
		return "Added " + b.Name, tx.Insert(&Planting{BedID: b.ID, Crop: crp, Sown: sown})
	})
	return b, r, err
}

// FreeSpot proposes a place for a new bed: under all that is on the plan.
func FreeSpot(ps []Plot) (x, y float64) {
	x, y = 1, 1
	for _, p := range ps {
		_, high := p.Bed.Bounds()
		y = max(y, high.Y+0.5)
	}
	if len(ps) > 0 {
		xs := make([]float64, len(ps))
		for i, p := range ps {
			xs[i] = p.Bed.X
		}
		sort.Float64s(xs)
		x = xs[0]
	}
	return x, y
}
