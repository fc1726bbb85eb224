package site

import (
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// BedHref returns the address of the plan with a bed chosen.
func BedHref(id int64) string { return "/?bed=" + strconv.FormatInt(id, 10) }

// ribbonMonths is the range of the year ribbon, three months of it past; it scrolls by half years
// so that it stays put while the handle moves.
const (
	ribbonMonths = 18
	ribbonPast   = 3
	ribbonPan    = 6
	ribbonEdge   = quantity.Day(20)
)

// ribbonWidth is the width of the year and of the strip on other pages.
var ribbonWidth = map[bool]float64{false: 1280, true: 1050}

// ribbonFrom returns the first month of the ribbon, such that a day is in view.
func ribbonFrom(today, day quantity.Day) quantity.Day {
	from := quantity.Date(today.Year(), today.Month()-ribbonPast, 1)
	for day < from+ribbonEdge {
		from = from.AddMonths(-ribbonPan)
	}
	for day > from.AddMonths(ribbonMonths)-ribbonEdge {
		from = from.AddMonths(ribbonPan)
	}
	return from
}

// Year adds the year ribbon with its date handle to a page, as of the requested day. v is the
// garden's view on that day if the page has read it already, else nil.
func (s *Site) Year(c *gin.Context, p *view.Page, v *bedstate.View) error {
	day := s.On(c)
	if v == nil {
		read, err := s.App(c).BedState.ViewOn(c.Request.Context(), s.Clock.Today(), day)
		if err != nil {
			return err
		}
		v = &read
	}
	p.Show(day)
	// The preview of a form takes the plan alone out of its page.
	if preview := c.GetHeader("HX-Target") == "new-plan"; preview || len(v.Beds) == 0 {
		return nil
	}
	slim := c.Request.URL.Path != "/" // the full year is shown on Ground only
	key := ribbonKey{p.Today, day, opened(c, p.Tab), [3]string{c.Query("bed"), c.Query("look"), c.Query("crop")}, slim}
	p.OffNote = p.Off
	return s.Garden(c).Read(c.Request.Context(), func(r garden.Reader) (err error) {
		p.Ribbon, err = garden.Cached(r, yearRibbons, key, func() (*svg.Ribbon, error) { return s.Ribbon(c, key, v) })
		return err
	})
}

// yearRibbons are cached ribbons: with many beds, making one takes a third of a page's time.
var yearRibbons = cache.Kind{Name: "ribbons", Room: 16}

// ribbonKey is all that a ribbon depends on besides the garden.
type ribbonKey struct {
	today, on quantity.Day
	action    string
	carry     [3]string
	slim      bool
}

// Ribbon returns the ribbon of a view, cached by the garden's version.
func (s *Site) Ribbon(c *gin.Context, k ribbonKey, v *bedstate.View) (*svg.Ribbon, error) {
	all := v.AllBeds() // what was done on a bed that is off the plan by now is shown too
	names := make(map[int64]string, len(all))
	for i := range all {
		names[all[i].ID] = all[i].Name
	}
	from := ribbonFrom(k.today, k.on)
	y, err := s.App(c).Schedule.Year(c.Request.Context(), *v, from, from.AddMonths(ribbonMonths)-1)
	if err != nil {
		return nil, err
	}
	r := svg.RibbonOf(y, names, k.today, k.on, ribbonWidth[k.slim], k.slim)
	r.Action = k.action
	for i, name := range []string{"bed", "look", "crop"} {
		if x := k.carry[i]; x != "" {
			r.Carry = append(r.Carry, svg.Carried{Name: name, Value: x})
		}
	}
	return &r, nil
}

// Undated adds the ribbon to a page that does not depend on the day.
func (s *Site) Undated(c *gin.Context, p *view.Page) error {
	err := s.Year(c, p, nil)
	p.OffNote = false
	return err
}
