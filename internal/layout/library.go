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
	fresh := c.Code == ""
	if c.Name = strings.TrimSpace(c.Name); fresh {
		c = newCrop(c)
	}
	if err := garden.CheckCrop(c).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		if fresh {
			return "Added the crop " + c.Name, addCrop(tx, &c)
		}
		l, err := garden.LibraryOf(tx)
		if err != nil {
			return "", err
		}
		had, own := l.Own(c.Code)
		_, known := l.Find(c.Code)
		switch {
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

// newCrop gives a crop that is added its code.
func newCrop(c garden.OwnCrop) garden.OwnCrop {
	c.Name = strings.TrimSpace(c.Name)
	c.Code = garden.CodeOf(c.Name)
	return c
}

// addCrop adds a crop of a name that is not in the library.
func addCrop(tx Tx, c *garden.OwnCrop) error {
	l, err := garden.LibraryOf(tx)
	if err != nil {
		return err
	}
	if _, known := l.Find(c.Code); known {
		return garden.Faults{"name": "there is a crop of that name already; change that one"}
	}
	return tx.Insert(c)
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
