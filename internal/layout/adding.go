package layout

import (
	"context"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// AddBed adds a bed with its crop.
func (svc Service) AddBed(ctx context.Context, a garden.Actor, b garden.Bed, crp string, sown quantity.Day) (garden.Bed, garden.Receipt,
	error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := garden.CheckBed(b, crp, sown); err != nil {
		return b, garden.Receipt{}, err
	}
	r, err := garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		c, err := garden.KnownCrop(tx, crp)
		if err != nil {
			return "", err
		}
		if err := tx.Insert(&b); err != nil {
			return "", err
		}
		return "Added " + b.Name, tx.Insert(&garden.Planting{BedID: b.ID, Crop: c.ID, Sown: sown})
	})
	return b, r, err
}
