package beds

import (
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/web/form"
	groundpage "zephyrfield/internal/web/pages/ground"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// bedsView is the list of all beds, with ticks.
type bedsView struct {
	view.Page
	Form   form.Form
	Fields map[string]view.Field
	Rows   []bedLine
	Sorts  []groundpage.SortLink
	// Filters select by content.
	Filters                []view.Field
	parts, crops, textures []view.Option
	stands                 []view.Option
	// GiveTextures and those after it are the changes of ticked beds.
	GiveTextures, GiveWorked, GiveLimes, GiveCrops []view.Option
	Shown, All                                     int
	Heads                                          string
}

// bedLine is a bed of the list.
type bedLine struct {
	groundpage.ListRow
	// Tick selects it.
	Tick                    view.Choice
	State, Part, Soil, Size string
	crop, texture           string
}

// The fields of the filters and of the changes.
var (
	bedsFilters = []string{"q", "part", "crop", "texture", "stands", "sort"}
	bedsGive    = []string{"set_texture", "set_depth", "set_worked", "set_free_lime", "set_part", "set_crop", "set_sown", "do"}
)

// bedSorts are the list's orders besides those of the plan's table.
var bedSorts = append(planSorts(),
	bedSort{"part", "Part", func(a, b bedLine) int { return strings.Compare(garden.Fold(a.Part), garden.Fold(b.Part)) }},
	bedSort{"soil", "Soil", func(a, b bedLine) int { return strings.Compare(a.Soil, b.Soil) }})

type bedSort struct {
	id, name string
	order    func(a, b bedLine) int
}

// planSorts returns the orders of the plan's table; beds without a figure come last.
func planSorts() (out []bedSort) {
	for _, x := range groundpage.Sorts {
		out = append(out, bedSort{x.ID, x.Name, func(a, b bedLine) int {
			switch none := x.None(b.ListRow); {
			case x.None(a.ListRow) != none && none:
				return -1
			case x.None(a.ListRow) != none:
				return 1
			}
			return x.Order(a.ListRow, b.ListRow)
		}})
	}
	return out
}

// Beds shows all beds as a table that can be filtered and changed many rows at a time.
func (s *Handler) Beds(c *gin.Context) error {
	return s.showBeds(c, http.StatusOK, form.Asked(c), c.QueryArray("bed"))
}

func (s *Handler) showBeds(c *gin.Context, status int, f form.Form, chosen []string) error {
	today := s.Clock.Today()
	v, err := s.App(c).BedState.View(c.Request.Context(), today)
	if err != nil {
		return err
	}
	if f.Value("set_sown") == "" {
		f.Values["set_sown"] = today.String()
	}
	f.Sentences()
	vm := bedsView{Form: f, All: len(v.Beds), Heads: strings.Join(exchange.BedHeads(), ", ")}
	vm.fill(&v, f, chosen)
	vm.sort(f)
	vm.gives(&v)
	vm.Shown = len(vm.Rows)
	title := text.Count(vm.Shown, "bed", "beds")
	if vm.Shown < vm.All {
		title = strconv.Itoa(vm.Shown) + " of " + text.Count(vm.All, "bed", "beds")
	}
	vm.Page = s.Page(c, v.Garden, "Beds", title)
	if err := s.Undated(c, &vm.Page); err != nil {
		return err
	}
	vm.Filters, vm.Fields = f.Rows(vm.filterTable()), f.Fields(append(vm.giveTable(), addTable...))
	s.Render(c, status, "beds", vm)
	return nil
}

// fill sets the rows that pass the filters, and the filters' choices.
func (vm *bedsView) fill(v *bedstate.View, f form.Form, chosen []string) {
	next := map[int64]garden.Task{}
	for _, t := range v.Tasks {
		if _, ok := next[t.BedID]; !ok {
			next[t.BedID] = t
		}
	}
	list := groundpage.GroundView{}
	list.FillList(v, next)
	seen := map[string]bool{}
	once := func(to *[]view.Option, kind, value, words string) {
		if key := kind + value; value != "" && !seen[key] {
			seen[key] = true
			*to = append(*to, view.Option{Value: value, Text: words})
		}
	}
	for i, p := range v.Beds {
		b := p.Bed
		x := bedLine{ListRow: list.List[i], State: string(p.Standing), Part: b.Part,
			Soil: text.Capital(text.Name(b.Texture)), Size: v.Garden.Units().Area(b.Area()), crop: p.Crop.ID, texture: string(b.Texture)}
		id := strconv.FormatInt(b.ID, 10)
		x.Tick = view.Choice{ID: "b" + id, Name: "bed", Value: id, Text: b.Name, On: slices.Contains(chosen, id)}
		once(&vm.parts, "p", b.Part, b.Part)
		once(&vm.crops, "c", x.crop, x.Crop)
		once(&vm.textures, "t", x.texture, x.Soil)
		once(&vm.stands, "s", x.State, text.Capital(text.Name(x.State)))
		named := strings.Contains(garden.Fold(b.Name), garden.Fold(f.Value("q")))
		if !named || !among(f, "part", b.Part) || !among(f, "crop", x.crop) || !among(f, "texture", x.texture) || !among(f, "stands", x.State) {
			continue
		}
		vm.Rows = append(vm.Rows, x)
	}
	for _, list := range []*[]view.Option{&vm.parts, &vm.crops, &vm.textures, &vm.stands} {
		slices.SortFunc(*list, func(a, b view.Option) int { return strings.Compare(a.Text, b.Text) })
	}
}

func among(f form.Form, field, is string) bool { return f.Value(field) == "" || f.Is(field, is) }

// sort sorts the list; a leading hyphen reverses it.
func (vm *bedsView) sort(f form.Form) {
	by, down := strings.CutPrefix(f.Value("sort"), "-")
	query := ""
	for _, n := range bedsFilters {
		if n != "sort" && f.Value(n) != "" {
			query += "&" + n + "=" + url.QueryEscape(f.Value(n))
		}
	}
	for _, x := range bedSorts {
		link := groundpage.SortLink{Name: x.name, Href: "/beds?sort=" + x.id + query}
		if x.id == by {
			link.How = "ascending"
			slices.SortStableFunc(vm.Rows, func(a, b bedLine) int {
				if down {
					return x.order(b, a)
				}
				return x.order(a, b)
			})
			if down {
				link.How = "descending"
			} else {
				link.Href = "/beds?sort=-" + x.id + query
			}
		}
		vm.Sorts = append(vm.Sorts, link)
	}
}

// filterTable returns the filters' fields, which belong to a separate form.
func (vm *bedsView) filterTable() []form.Row {
	all := func(list []view.Option) []view.Option {
		return append([]view.Option{{Value: "", Text: "all"}}, list...)
	}
	t := []form.Row{{Name: "q", Label: "Name", Form: "filter"}}
	if len(vm.parts) > 0 {
		t = append(t, form.Row{Name: "part", Label: "Part", Form: "filter", Options: all(vm.parts)})
	}
	return append(t, form.Row{Name: "crop", Label: "Crop", Form: "filter", Options: all(vm.crops)},
		form.Row{Name: "texture", Label: "Soil", Form: "filter", Options: all(vm.textures)},
		form.Row{Name: "stands", Label: "Stands", Form: "filter", Options: all(vm.stands)})
}

// addTable is the fields for adding beds.
var addTable = form.Table{
	{Name: "table", ID: "table-text", Label: "The table", Mode: form.Lines, Lines: 5, Group: "table",
		Placeholder: "name, length_m, width_m, crop, part\nEast 1, 15, 0.75, tomato, East field"},
	{Name: "file", ID: "table-file", Label: "or its file, CSV or XLSX", Mode: form.File, Accept: form.Sheets, Group: "table"}}

// giveTable returns the fields for changing ticked beds.
func (vm *bedsView) giveTable() form.Table {
	return form.Table{{Name: "set_part", Label: "Part of the garden", MaxLength: 60, Suggests: texts(vm.parts),
		Placeholder: "a tunnel, a field; - for none"},
		{Name: "set_texture", Label: "Soil", Options: vm.GiveTextures},
		{Name: "set_depth", Label: "Depth, " + vm.DepthIn(), Mode: form.Decimal, Placeholder: "as it is"},
		{Name: "set_worked", Label: "Worked", Options: vm.GiveWorked}, {Name: "set_free_lime", Label: "A drop of vinegar", Options: vm.GiveLimes},
		{Name: "set_crop", Label: "Next crop", Options: vm.GiveCrops}, {Name: "set_sown", Label: "Sown or planted on", Mode: form.Date}}
}

// gives fills in the choices for changing ticked beds.
func (vm *bedsView) gives(v *bedstate.View) {
	may := func(list []view.Option) []view.Option {
		return append([]view.Option{{Value: "", Text: "as it is"}}, list...)
	}
	vm.GiveTextures, vm.GiveWorked, vm.GiveLimes = may(present.TextureOptions()), may(present.WorkedOptions()), may(present.LimeOptions())
	vm.GiveCrops = may(present.CropOptions(v.Library))
}

func texts(list []view.Option) (out []string) {
	for _, o := range list {
		out = append(out, o.Text)
	}
	return out
}

// noPart removes beds from their part of the garden.
const noPart = "-"

// ChangeBeds changes the ticked beds alike, as one change.
func (s *Handler) ChangeBeds(c *gin.Context) error {
	f := form.Posted(c)
	chosen := c.PostFormArray("bed")
	beds, err := BedsOf(chosen)
	if err != nil {
		return err
	}
	u := s.Units(c)
	change := layout.Change{Retire: f.Is("do", "retire")}
	if !change.Retire {
		change = layout.Change{Texture: soil.Texture(f.Value("set_texture")), Worked: soil.Worked(f.Value("set_worked")),
			FreeLime: soil.FreeLime(f.Value("set_free_lime")), Part: f.Value("set_part"), SetPart: f.Value("set_part") != "",
			Crop: f.Value("set_crop")}
		if change.Part == noPart {
			change.Part = ""
		}
		if x, ok := f.Number("set_depth"); ok {
			change.Depth = quantity.Depth(x * u.Depths().Size)
		}
		if change.Crop != "" {
			change.Sown = f.Day("set_sown")
		}
	}
	return s.Save(c, &f, site.Saving{
		To: "/beds",
		Save: func() (garden.Receipt, error) {
			return s.App(c).Layout.ChangeMany(c.Request.Context(), s.Actor(c), beds, change)
		},
		FieldOf: bedsField,
		Show:    func(status int) error { return s.showBeds(c, status, f, chosen) },
	})
}

// bedsFaultOf maps the bed's fields to the page's.
var bedsFaultOf = garden.Fields{"texture": "set_texture", "depth": "set_depth", "worked": "set_worked", "part": "set_part",
	"crop": "set_crop", "sown": "set_sown"}

// bedsField returns the field of a fault's path; others are shown above the list.
func bedsField(path string) string {
	if field := bedsFaultOf.Of(path); slices.Contains(bedsGive, field) {
		return field
	}
	return "beds"
}

// AddTable adds the beds of a table.
func (s *Handler) AddTable(c *gin.Context) error {
	f := form.Posted(c)
	today := s.Clock.Today()
	name, data, err := present.UploadedOr(c, "beds.csv", f.Value("table"))
	usual := layout.New{Bed: garden.Bed{Kind: garden.KindBed, Shape: garden.ShapeRect, Texture: soil.Loam, Depth: 0.15, Worked: soil.Dug,
		FreeLime: soil.LimeUnknown}, Crop: "general-vegetables", Sown: today}
	var rows []layout.New
	if err == nil {
		rows, err = exchange.ReadBeds(name, data, usual)
	}
	if err == nil {
		var r garden.Receipt
		if r, err = s.App(c).Layout.AddTable(c.Request.Context(), s.Actor(c), rows); err == nil {
			s.Done(c, "/beds", r)
			return nil
		}
	}
	if f.Add(err) {
		return s.showBeds(c, http.StatusUnprocessableEntity, f, nil)
	}
	return err
}
