package layout

import (
	"context"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/internal/garden"
)

// SetCrop adds or changes a crop: Code is the changed crop, "" for a new one; Version is 0 for a
// library row not changed before.
func (svc Service) SetCrop(ctx context.Context, a garden.Actor, c garden.OwnCrop) (garden.Receipt, error) {
	c.Name = strings.TrimSpace(c.Name)
	fresh := c.Code == ""
	if fresh {
		c.Code = garden.CodeOf(c.Name)
	}
	if err := garden.CheckCrop(c).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		l, err := garden.LibraryOf(tx)
		if err != nil {
			return "", err
		}
		had, own := l.Own(c.Code)
		_, known := l.Find(c.Code)
		switch {
		case fresh && known:
			return "", garden.Faults{"name": "there is a crop of that name already; change that one"}
		case fresh:
			return "Added the crop " + c.Name, tx.Insert(&c)
		case !known:
			return "", garden.ErrMissing
		case own:
			c.ID = had.ID
			return "Changed the crop " + c.Name, tx.Update(&c)
		case c.Version != 0:
			return "", garden.ErrStale
		}
		return "Changed the crop " + c.Name, tx.Insert(&c)
	})
}

// DropCrop deletes an own crop, or resets a library row. A crop that is or was planted stays.
func (svc Service) DropCrop(ctx context.Context, a garden.Actor, code string, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		l, err := garden.LibraryOf(tx)
		if err != nil {
			return "", err
		}
		c, ok := l.Own(code)
		if !ok {
			return "", garden.ErrMissing
		}
		c.Version = version
		if book, ok := crop.Find(code); ok {
			return "Put " + book.Name + " back as the book has it", tx.Delete(&c)
		}
		n, err := tx.CropUsed(code)
		if err != nil {
			return "", err
		}
		if n > 0 {
			return "", garden.Faults{"name": c.Name + " stands in the record of a bed; it stays in the library"}
		}
		return "Deleted the crop " + c.Name, tx.Delete(&c)
	})
}
