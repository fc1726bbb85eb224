package garden

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"zephyrfield/agronomy/crop"
)

// Library is the crops that a garden knows: the built-in ones, with the gardener's changes, then
// the gardener's own. The zero value is the built-in library.
type Library struct {
	own map[string]OwnCrop
	// added are the codes of the gardener's own crops, in order of name.
	added []string
}

// NewLibrary merges the gardener's crops with the built-in ones.
func NewLibrary(own []OwnCrop) Library {
	l := Library{own: make(map[string]OwnCrop, len(own))}
	for _, c := range own {
		l.own[c.Code] = c
		if _, ok := crop.Find(c.Code); !ok {
			l.added = append(l.added, c.Code)
		}
	}
	slices.SortFunc(l.added, func(a, b string) int { return strings.Compare(l.own[a].Name, l.own[b].Name) })
	return l
}

// LibraryOf returns the garden's library.
func LibraryOf(r Reader) (Library, error) {
	own, err := All[OwnCrop](r)
	return NewLibrary(own), err
}

// Crop converts the row for package crop.
func (c OwnCrop) Crop() crop.Crop {
	f, _ := crop.ParseFlags(c.Flags)
	return crop.Crop{ID: c.Code, Name: c.Name, Range: crop.Range{Low: c.Low, High: c.High}, Aim: c.Aim, Removal: c.Removal, Flags: f}
}

// Find returns a crop by its code.
func (l Library) Find(code string) (crop.Crop, bool) {
	if c, ok := l.own[code]; ok {
		return c.Crop().ByRule(), true
	}
	return crop.Find(code)
}

// Called returns a crop by its code, or by what a gardener calls it: the gardener's own names first.
func (l Library) Called(name string) (crop.Crop, bool) {
	for _, code := range []string{name, CodeOf(name)} {
		if c, ok := l.Find(code); ok {
			return c, true
		}
	}
	for code, c := range l.own {
		if CodeOf(c.Name) == CodeOf(name) {
			return l.Find(code)
		}
	}
	if c, ok := crop.Called(name); ok {
		return l.Find(c.ID)
	}
	return crop.Crop{}, false
}

// Name returns a crop's name, or the code if it is unknown.
func (l Library) Name(code string) string {
	if c, ok := l.Find(code); ok {
		return c.Name
	}
	return strings.ReplaceAll(code, "-", " ")
}

// Changed reports whether it holds changes of the gardener.
func (l Library) Changed() bool { return len(l.own) > 0 }

// Own returns the gardener's row of a code.
func (l Library) Own(code string) (OwnCrop, bool) { c, ok := l.own[code]; return c, ok }

// All returns every crop: the gardener's own first, then the built-in ones in order.
func (l Library) All() []crop.Crop {
	out := make([]crop.Crop, 0, len(l.added)+len(crop.Library))
	for _, code := range l.added {
		out = append(out, l.own[code].Crop())
	}
	for _, c := range crop.Library {
		if own, ok := l.own[c.ID]; ok {
			c = own.Crop()
		}
		out = append(out, c)
	}
	return out
}

// Crops returns the garden's library.
func (svc Service) Crops(ctx context.Context) (g Garden, l Library, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error {
		if g, err = r.Garden(); err != nil {
			return err
		}
		l, err = LibraryOf(r)
		return err
	})
	return g, l, err
}

func CheckCrop(c OwnCrop) Faults {
	f := Faults{}
	if why := nameFault(c.Name, "give the crop a name"); why != "" {
		f["name"] = why
	} else if c.Code == "" {
		f["name"] = "a name needs letters"
	}
	LimitPH.hold(f, "low", float64(c.Low))
	LimitPH.hold(f, "high", float64(c.High))
	if f["low"] == "" && f["high"] == "" && c.High < c.Low+crop.MinRange {
		f["high"] = "the top of the range lies above its bottom, by 0.1 or more"
	}
	if len(f) == 0 && !(c.Aim >= c.Low && c.Aim <= c.High) {
		f["aim"] = fmt.Sprintf("the aim lies in the range, from %.1f to %.1f", float64(c.Low), float64(c.High))
	}
	LimitRemoval.hold(f, "removal", float64(c.Removal))
	if _, ok := crop.ParseFlags(c.Flags); !ok {
		f["flags"] = "one of these is not known"
	}
	return f
}

// CodeOf derives a crop's code from its name, in kebab case.
func CodeOf(name string) string {
	words := strings.FieldsFunc(Fold(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	return strings.Join(words, "-")
}
