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

// longestName is the most letters of a bed's name.
const longestName = 60

// farthest is the most metres from the plan's corner.
const farthest = 2000

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

func checkGround(b Bed) Faults {
	f := Faults{}
	switch n := len([]rune(strings.TrimSpace(b.Name))); {
	case n == 0:
		f["name"] = "give the bed a name"
	case n > longestName:
		f["name"] = fmt.Sprintf("at most %d letters", longestName)
	}
	if !has(Kinds, b.Kind) {
		f["kind"] = "choose what kind of ground it is"
	}
	size := func(field string, v float64, what string) {
		if !(v > 0) {
			f[field] = "a " + what + " above 0 m is needed"
		} else if v > farthest {
			f[field] = fmt.Sprintf("%d m is the most", farthest)
		}
	}
	size("w", b.W, "length")
	size("h", b.H, "width")
	for field, v := range map[string]float64{"x": b.X, "y": b.Y} {
		if !(v >= 0 && v <= farthest) {
			f[field] = fmt.Sprintf("a place from 0 to %d m is needed", farthest)
		}
	}
	switch {
	case !has(Shapes, b.Shape):
		f["shape"] = "choose a shape"
	case b.Shape == ShapeRings && (b.Rings < 1 || b.Rings > 500):
		f["rings"] = "from 1 to 500 rings"
	case b.Shape == ShapeCircle && b.W != b.H:
		f["h"] = "a circle is as wide as it is long"
	case b.Shape == ShapeOutline:
		if why := CheckCorners(b.Corners); why != "" {
			f["corners"] = why
		}
	}
	if !(b.Turn >= -360 && b.Turn <= 360) {
		f["turn"] = "a turn from −360 to 360 degrees is needed"
	}
	if a := b.Area(); f["w"] == "" && f["h"] == "" && a > dose.MaxArea {
		f["w"] = fmt.Sprintf("%s is more than 5 ha; split the ground", words.Area(a))
	}
	if _, ok := soil.FindTexture(b.Texture); !ok {
		f["texture"] = "choose a texture"
	}
	if !(b.Depth >= dose.MinDepth && b.Depth <= dose.MaxDepth) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	if b.OrganicMatter != nil && !(*b.OrganicMatter >= 0 && *b.OrganicMatter <= 100) {
		f["om"] = "a share from 0 to 100 % is needed"
	}
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
	r, err := k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
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
