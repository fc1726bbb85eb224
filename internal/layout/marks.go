package layout

import (
	"context"
	"slices"
	"strings"

	"zephyrfield/internal/garden"
)

// SetMark adds a mark, or changes the one with its ID.
func (svc Service) SetMark(ctx context.Context, a garden.Actor, m garden.Mark) (garden.Receipt, error) {
	m.Name = strings.TrimSpace(m.Name)
	if err := garden.CheckMark(m).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		if m.ID == 0 {
			return "Drew " + m.Called(), tx.Insert(&m)
		}
		return "Changed " + m.Called(), tx.Update(&m)
	})
}

// DropMark deletes a mark.
func (svc Service) DropMark(ctx context.Context, a garden.Actor, id, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, err := garden.All[garden.Mark](tx)
		if err != nil {
			return "", err
		}
		i := slices.IndexFunc(all, func(m garden.Mark) bool { return m.ID == id })
		if i < 0 {
			return "", garden.ErrMissing
		}
		all[i].Version = version
		return "Took " + all[i].Called() + " off the plan", tx.Delete(&all[i])
	})
}
