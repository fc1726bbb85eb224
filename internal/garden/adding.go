package garden

import (
	"fmt"
	"slices"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// CheckBed says what is wrong with a bed and its crop, by field. Whether the
// crop is one of the garden's is seen when it is added.
func CheckBed(b Bed, crp string, sown quantity.Day) error {
	f := CheckGround(b)
	CheckPlanting(f, Planting{Crop: crp, Sown: sown})
	return f.OrNil()
}

func CheckPlanting(f Faults, p Planting) {
	if p.Crop == "" {
		f["crop"] = "choose what grows there next"
	}
	if p.Sown.IsZero() {
		f["sown"] = "a day is needed: when it was, or will be, sown or planted"
	} else if why := DayFault(p.Sown); why != "" {
		f["sown"] = why
	}
}

// knownCrop tells a fault when the garden does not know a crop.
func KnownCrop(r Reader, code string) (crop.Crop, error) {
	l, err := LibraryOf(r)
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
	case !slices.Contains(Shapes, b.Shape):
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

func CheckGround(b Bed) Faults {
	f := CheckShape(b)
	if why := nameFault(b.Name, "give the bed a name"); why != "" {
		f["name"] = why
	}
	if why := TextFault(b.Note, LongestNote, true); why != "" {
		f["note"] = why
	}
	if !slices.Contains(Kinds, b.Kind) {
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
