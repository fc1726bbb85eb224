package crops

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type cropsView struct {
	view.Page
	Form   form.Form
	Fields map[string]view.Field
	Rows   []cropRow
	Flags  []view.Choice
	// Editing is the changed crop, "" for a new one; Book is set for a built-in crop, Own if there
	// is something to reset.
	Editing   string
	Book, Own bool
}

type cropRow struct {
	Href, Name, Range, Aim, Removal, Flags string
	Own, Open                              bool
}

func flagField(id crop.FlagID) string { return "flag-" + string(id) }

// Crops shows the crops with their ranges, and the form of an own one.
func (s *Handler) Crops(c *gin.Context) error {
	_, l, err := s.App(c).Crops(c.Request.Context())
	if err != nil {
		return err
	}
	f := form.NoForm()
	if code := c.Query("crop"); code != "" {
		var ok bool
		if f, ok = cropForm(l, code, s.Units(c)); !ok {
			return garden.ErrMissing
		}
	}
	return s.showCrops(c, http.StatusOK, f)
}

// cropForm returns the form of a crop.
func cropForm(l garden.Library, code string, u text.Units) (f form.Form, ok bool) {
	f = form.NoForm()
	x, ok := l.Find(code)
	if !ok {
		return f, false
	}
	own, _ := l.Own(code)
	f.Values = map[string]string{"code": code, "name": x.Name, "low": text.PH2(x.Range.Low), "high": text.PH2(x.Range.High),
		"aim": text.PH2(x.Aim), "removal": form.Figure(float64(x.Removal), u.Rates(), 2), "version": strconv.FormatInt(own.Version, 10)}
	for _, n := range crop.FlagNames {
		if x.Is(n.Flag) {
			f.Values[flagField(n.ID)] = "yes"
		}
	}
	return f, true
}

func (s *Handler) showCrops(c *gin.Context, status int, f form.Form) error {
	g, l, err := s.App(c).Crops(c.Request.Context())
	if err != nil {
		return err
	}
	u := g.Units()
	v := cropsView{Form: f, Fields: f.Fields(cropTable(u)), Editing: f.Value("code")}
	own := 0
	for _, x := range l.All() {
		row := cropRow{Href: "/crops?crop=" + x.ID, Name: text.Capital(x.Name), Range: text.PH(x.Range.Low) + " to " +
			text.PH(x.Range.High),
			Aim: text.PH2(x.Aim), Removal: u.Rate(x.Removal), Open: x.ID == v.Editing}
		var flags []string
		for _, n := range crop.FlagNames {
			if x.Is(n.Flag) {
				flags = append(flags, text.Name(n.ID))
			}
		}
		row.Flags = strings.Join(flags, ", ")
		if _, row.Own = l.Own(x.ID); row.Own {
			own++
		}
		v.Rows = append(v.Rows, row)
	}
	slices.SortStableFunc(v.Rows, func(a, b cropRow) int { return strings.Compare(a.Name, b.Name) })
	for _, n := range crop.FlagNames {
		v.Flags = append(v.Flags, view.Choice{ID: flagField(n.ID), Name: flagField(n.ID), Value: "yes", Text: text.Capital(text.Name(n.ID)),
			Why: text.Why(n.ID), On: f.Is(flagField(n.ID), "yes")})
	}
	_, v.Book = crop.Find(v.Editing)
	_, v.Own = l.Own(v.Editing)
	title := text.Count(len(v.Rows), "crop", "crops") + " in the library"
	if own > 0 {
		title += ", " + strconv.Itoa(own) + " of your own"
	}
	v.Page = s.Page(c, g, site.CropsTab, title)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "crops", v)
	return nil
}

// cropTable returns the text fields.
func cropTable(u text.Units) form.Table {
	return form.Table{{Name: "name", Label: "Name", Box: form.Wide, MaxLength: 60}, {Name: "low", Label: "Range from pH", Mode: form.Decimal},
		{Name: "high", Label: "to pH", Mode: form.Decimal}, {Name: "aim", Label: "Aim", Aside: "empty: the middle", Mode: form.Decimal},
		{Name: "removal", Label: "Potash (K₂O) a good crop carries off, " + u.Rates().Name, Mode: form.Decimal}}
}

// SetCrop saves an own crop, or a changed range of a built-in one.
func (s *Handler) SetCrop(c *gin.Context) error {
	f := form.Posted(c)
	ph := func(name string) quantity.PH { return quantity.PH(f.Needed(name, "A pH from 3 to 10 is needed.")) }
	x := garden.OwnCrop{Code: f.Value("code"), Name: f.Value("name"), Low: ph("low"), High: ph("high")}
	x.Aim = (x.Low + x.High) / 2
	if aim := form.Optional[quantity.PH](f, "aim", 1); aim != nil {
		x.Aim = *aim
	}
	x.Removal = quantity.Rate(f.Needed("removal", "An amount is needed, 0 or more.") * s.Units(c).Rates().Size)
	var flags crop.Flag
	for _, n := range crop.FlagNames {
		if f.Values[flagField(n.ID)] = c.PostForm(flagField(n.ID)); f.Is(flagField(n.ID), "yes") {
			flags |= n.Flag
		}
	}
	x.Flags = flags.IDs()
	if v := f.Value("version"); v != "" {
		var err error
		if x.Version, err = strconv.ParseInt(v, 10, 64); err != nil {
			return garden.ErrStale
		}
	}
	return s.Save(c, &f, site.Saving{
		To:   "/crops",
		Save: func() (garden.Receipt, error) { return s.App(c).Layout.SetCrop(c.Request.Context(), s.Actor(c), x) },
		Now: func() (form.Form, error) {
			_, l, err := s.App(c).Crops(c.Request.Context())
			if err != nil {
				return form.NoForm(), err
			}
			now, ok := cropForm(l, x.Code, s.Units(c))
			if !ok {
				return now, garden.ErrStale
			}
			return now, nil
		},
		Show: func(status int) error { return s.showCrops(c, status, f) },
	})
}

// DropCrop deletes an own crop, or resets a built-in one.
func (s *Handler) DropCrop(c *gin.Context) error {
	f := form.Posted(c)
	version, err := strconv.ParseInt(f.Value("version"), 10, 64)
	if err != nil {
		return garden.ErrStale
	}
	r, err := s.App(c).Layout.DropCrop(c.Request.Context(), s.Actor(c), f.Value("code"), version)
	if f.Add(err) {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(f.Fault("name")))
		return nil
	}
	return s.Finish(c, "/crops", r, err)
}
