package layout

import (
	"context"
	"errors"
	"maps"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// First is what grows in a new bed: Crop is the code or name of a crop in the library, unless Own is
// a crop of the gardener's own, which is added with the bed.
type First struct {
	Crop string
	Own  *garden.OwnCrop
	Sown quantity.Day
}

// OwnCropField begins the fields of an own crop's faults, before the crop's own field names.
const OwnCropField = "own_"

// AddBed adds a bed with its crop.
func (svc Service) AddBed(ctx context.Context, a garden.Actor, b garden.Bed, first First) (garden.Bed, garden.Receipt, error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := first.Check(b); err != nil {
		return b, garden.Receipt{}, err
	}
	r, err := garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		code, says := first.Crop, "Added "+b.Name
		if first.Own != nil {
			own := newCrop(*first.Own)
			if err := addCrop(tx, &own); err != nil {
				return "", ownFaults(err)
			}
			code, says = own.Code, says+", and the crop "+own.Name
		}
		c, err := garden.KnownCrop(tx, code)
		if err != nil {
			return "", err
		}
		if err := tx.Insert(&b); err != nil {
			return "", err
		}
		return says, tx.Insert(&garden.Planting{BedID: b.ID, Crop: c.ID, Sown: first.Sown})
	})
	return b, r, err
}

// Check validates a new bed with its crop, by field.
func (x First) Check(b garden.Bed) error {
	f, code := garden.Faults{}, x.Crop
	if x.Own != nil {
		own := newCrop(*x.Own)
		code = own.Code
		maps.Copy(f, prefixed(garden.CheckCrop(own)))
	}
	var of garden.Faults
	if err := garden.CheckBed(b, code, x.Sown); errors.As(err, &of) {
		maps.Copy(f, of)
	} else if err != nil {
		return err
	}
	if x.Own != nil {
		delete(f, "crop") // its name is asked for instead
	}
	return f.OrNil()
}

// ownFaults moves the faults of an own crop to its fields in the bed's form.
func ownFaults(err error) error {
	var f garden.Faults
	if errors.As(err, &f) {
		return prefixed(f)
	}
	return err
}

func prefixed(f garden.Faults) garden.Faults {
	out := make(garden.Faults, len(f))
	for field, why := range f {
		out[OwnCropField+field] = why
	}
	return out
}
