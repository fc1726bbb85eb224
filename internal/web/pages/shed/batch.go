package shed

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type batchView struct {
	view.Page
	Form    form.Form
	Fields  map[string]view.Field
	Ash     bool
	Editing int64
	Action  string
	Kinds   []view.Option
	Fires   []view.Choice
	Sources []view.Choice
	Grades  []view.Option
	Scoops  []view.Option
	// Does is each kind's use.
	Does string
	// Stock is the batch with its stock, when it is changed.
	Stock     *stockView
	Currency  string
	MassIn    string
	LabelHref string
}

type stockView struct {
	Left string
	// Moves are the possible movements.
	Moves []view.Choice
	Lines []moveLine
	Today string
}

type moveLine struct{ Date, What, Note string }

// scoopUnit returns the unit of a scoop's weight.
func scoopUnit(u text.Units) text.Scale {
	if u.WeightIn == "" {
		return text.Scale{Name: "g", Size: 1}
	}
	return text.Scale{Name: "oz", Size: float64(quantity.OunceAvoirdupois)}
}

// NewAsh shows the form of a bin of ash.
func (s *Handler) NewAsh(c *gin.Context) error {
	f := form.Asked(c)
	f.Values["kind"] = string(material.UnknownAsh)
	f.Values["scoop_name"] = garden.Scoops[0]
	return s.showBatch(c, http.StatusOK, f, true, nil)
}

// NewBag shows the form of a bag.
func (s *Handler) NewBag(c *gin.Context) error {
	f := form.Asked(c)
	if _, ok := material.Find(material.Kind(f.Value("kind"))); !ok {
		f.Values["kind"] = string(material.CalciticLime)
	}
	return s.showBatch(c, http.StatusOK, f, false, nil)
}

// showBatch shows the form; was is the changed batch, nil for a new one.
func (s *Handler) showBatch(c *gin.Context, status int, f form.Form, ash bool, was *garden.Batch) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	title := "A bag for the shelf"
	if ash {
		title = "A bin of ash"
	}
	v := batchView{Form: f, Ash: ash, Action: "/shed", Currency: g.Currency, MassIn: scoopUnit(g.Units()).Name}
	if was != nil {
		title, v.Editing, v.Action = was.Name, was.ID, batchHref(was.ID)
		v.LabelHref = batchHref(was.ID) + "/label"
		if v.Stock, err = s.stockOf(c, *was, g.Units()); err != nil {
			return err
		}
	}
	v.Page = s.Page(c, g, site.ShedTab, title)
	v.lists(ash)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	if v.Stock != nil {
		f.Usual("moved_on", v.Stock.Today)
		f.Usual("moved_kind", garden.MovedWeighed)
		v.Stock.Moves = f.Tiles("moved_kind", "moved", moveKinds(ash))
	}
	v.Fields = f.Fields(v.table())
	s.Render(c, status, "batch", v)
	return nil
}

// lists fills in the choices.
func (v *batchView) lists(ash bool) {
	for _, m := range material.Table {
		if (m.Family == material.Ash) == ash {
			v.Kinds = append(v.Kinds, view.Option{Value: string(m.Kind), Text: text.Capital(m.Name)})
		}
	}
	m, _ := material.Find(material.Kind(v.Form.Value("kind")))
	v.Does = text.Does(m)
	v.Grades = []view.Option{{Value: "", Text: "not known: all as fine as flour"}}
	for _, x := range material.Grades {
		v.Grades = append(v.Grades, view.Option{Value: x.ID, Text: gradeNames[x.ID]})
	}
	v.Grades = append(v.Grades, view.Option{Value: ownSieve, Text: "by its label’s sieves"})
	for _, id := range garden.Scoops {
		v.Scoops = append(v.Scoops, view.Option{Value: id, Text: "a level " + id})
	}
	for _, id := range garden.Fires {
		v.Fires = append(v.Fires, view.Choice{Value: id, Text: fireNames[id]})
	}
	v.Fires = v.Form.Tiles("fire", "fire", v.Fires)
	// Unknown comes last.
	for _, x := range append(slices.DeleteFunc(slices.Clone(material.Sources),
		func(x material.Source) bool { return x == material.UnknownFire }), material.UnknownFire) {
		row := view.Choice{Value: string(x), Text: text.Capital(text.Name(x)), Why: text.WhyBarred(x)}
		if x == material.Clean {
			row.Text, row.Why = "None of these: only clean, dry, untreated wood", ""
		}
		if x == material.UnknownFire {
			row.Text = "I cannot say"
		}
		v.Sources = append(v.Sources, row)
	}
	v.Sources = v.Form.Tiles("source", "source", v.Sources)
}

// ownSieve is the grade of a label with sieve shares.
const ownSieve = "sieves"

var gradeNames = map[string]string{"flour": "as fine as flour", "ordinary": "ordinary ground stone", "sandy": "like sand",
	"grit": "like grit"}

var fireNames = map[string]string{"stove": "Wood stove", "oven": "Bread oven", "kiln": "Kiln", "fire-pit": "Fire pit",
	"pellet-stove": "Pellet stove", "leaves": "Leaves"}

// fireKinds are the default kinds of ash, by fire.
var fireKinds = map[string]material.Kind{"pellet-stove": "wood-ash-softwood", "leaves": "leaf-ash"}

// batchFrom reads the form; faults are in it.
func batchFrom(f form.Form, u text.Units) garden.Batch {
	small, kg := scoopUnit(u), u.Weights()
	b := garden.Batch{Name: f.Value("name"), Kind: material.Kind(f.Value("kind")), CCE: form.Optional[quantity.Percent](f, "cce", 1),
		Effective: form.Optional[quantity.Percent](f, "effective", 1), K2O: form.Optional[quantity.Percent](f, "k2o", 1),
		OnHand: form.Optional[quantity.Mass](f, "on_hand", kg.Size), Scoop: form.Optional[quantity.Mass](f, "scoop", small.Size),
		ScoopName: f.Value("scoop_name"), Bag: form.Optional[quantity.Mass](f, "bag", kg.Size), Note: f.Value("note")}
	m, _ := material.Find(b.Kind)
	if b.Name == "" && m.Family != material.Ash {
		b.Name = text.Capital(m.Name)
	}
	if price, ok := f.Number("price"); ok {
		of := quantity.Mass(kg.Size)
		if b.Bag != nil && *b.Bag > 0 {
			of = *b.Bag
		}
		price = price / float64(of/quantity.Kilogram)
		b.Price = &price
	}
	if m.Family == material.Ash {
		ashFrom(f, &b)
		return b
	}
	b.Crushed = f.Is("crushed", form.Yes) && b.Kind == material.ShellMeal
	if x, ok := f.Number("moisture"); ok && m.Raises() {
		b.Moisture = quantity.Percent(x)
	}
	if m.Family == material.Lime && !b.Crushed {
		b.Fineness = finenessFrom(f)
	}
	return b
}

// finenessFrom reads a stone's fineness: a grade, or a label's sieve shares.
func finenessFrom(f form.Form) (out garden.Figures) {
	if x, ok := material.FindGrade(f.Value("grade")); ok {
		for _, p := range x.Shares {
			out = append(out, float64(p))
		}
		return out
	}
	if !f.Is("grade", ownSieve) {
		return nil
	}
	last := 100.0
	for _, name := range []string{"passes_1", "passes_2", "passes_3"} {
		x := f.Needed(name, "What share passes it, in per cent?")
		if x > last || x < 0 {
			f.Faults[name] = "No more passes a finer sieve than a coarser one, and no more than 100 %."
		}
		out = append(out, last-x)
		last = x
	}
	return append(out, last)
}

// ashFrom reads the fields of a fire.
func ashFrom(f form.Form, b *garden.Batch) {
	b.Source, b.Fire, b.Woods, b.Keeping = material.Source(f.Value("source")), f.Value("fire"), f.Value("woods"), f.Value("keeping")
	if kind, ok := fireKinds[b.Fire]; ok && b.Kind == material.UnknownAsh {
		b.Kind = kind
	}
	b.Condition = material.Dry
	if f.Is("wet", form.Yes) {
		b.Condition = material.Wet
	}
	b.Burnt, b.Embers, b.Walnut = f.Day("burnt"), f.Is("embers", form.Yes), f.Is("walnut", form.Yes)
	if x, ok := f.Number("charcoal"); ok {
		b.Charcoal = quantity.Percent(x)
	}
	b.Vinegar = f.Figures("vinegar")
	if len(b.Vinegar) > 0 {
		b.VinegarPct = form.Optional[quantity.Percent](f, "vinegar_pct", 1)
	}
	if b.Name == "" && b.Fire != "" {
		b.Name = fireNames[b.Fire] + " ash"
	}
}

// batchFieldOf maps the core's fields to the form's.
var batchFieldOf = garden.Fields{"cce_pct": "cce", "effective_pct": "effective", "k2o_pct": "k2o", "on_hand_g": "on_hand",
	"scoop_g": "scoop", "price_kg": "price", "bag_g": "bag", "fineness_pct": "grade", "moisture_pct": "moisture",
	"charcoal_pct": "charcoal", "vinegar_ml": "vinegar", "vinegar_pct": "vinegar_pct", "crushed_by_hand": "crushed"}

// AddBatch adds a batch.
func (s *Handler) AddBatch(c *gin.Context) error { return s.setBatch(c, nil) }

// SaveBatch saves a batch, or shows the conflict.
func (s *Handler) SaveBatch(c *gin.Context) error {
	was, err := s.batch(c)
	if err != nil {
		return err
	}
	return s.setBatch(c, &was)
}

func (s *Handler) batch(c *gin.Context) (garden.Batch, error) {
	id, err := site.ParamID(c)
	if err != nil {
		return garden.Batch{}, err
	}
	return s.App(c).Inventory.Batch(c.Request.Context(), id)
}

func (s *Handler) setBatch(c *gin.Context, was *garden.Batch) error {
	f := form.Posted(c)
	b := batchFrom(f, s.Units(c))
	if was != nil {
		b.ID = was.ID
		var err error
		if b.Version, err = strconv.ParseInt(f.Value("version"), 10, 64); err != nil {
			return garden.ErrStale
		}
	}
	m, _ := material.Find(b.Kind)
	saving := site.Saving{
		To:      shedFrom(f.Value("for")),
		Save:    func() (garden.Receipt, error) { return s.App(c).Inventory.Set(c.Request.Context(), s.Actor(c), b) },
		FieldOf: batchFieldOf.Of,
		Show:    func(status int) error { return s.showBatch(c, status, f, m.Family == material.Ash, was) },
	}
	if was != nil {
		saving.Now = func() (form.Form, error) { return fillBatch(*was, s.Units(c)), nil }
	}
	return s.Save(c, &f, saving)
}

// shedFrom returns the page after saving: the dose that asked for it, else the shed.
func shedFrom(bed string) string {
	if id, err := strconv.ParseInt(bed, 10, 64); err == nil {
		return site.DoseHref(id)
	}
	return "/shed"
}

// EditBatch shows the form of an existing batch.
func (s *Handler) EditBatch(c *gin.Context) error {
	b, err := s.batch(c)
	if err != nil {
		return err
	}
	return s.showBatch(c, http.StatusOK, fillBatch(b, s.Units(c)), b.Source != "" || isAsh(b), &b)
}

func isAsh(b garden.Batch) bool {
	m, _ := material.Find(b.Kind)
	return m.Family == material.Ash
}

// fillBatch fills a batch into the form.
func fillBatch(b garden.Batch, u text.Units) form.Form {
	f := form.NoForm()
	small, kg := scoopUnit(u), u.Weights()
	put := func(name string, x *float64, size float64, decimals int) {
		if x != nil {
			f.Values[name] = strconv.FormatFloat(quantity.Round(*x/size, decimals), 'f', -1, 64)
		}
	}
	for name, is := range map[string]string{"name": b.Name, "kind": string(b.Kind), "source": string(b.Source),
		"scoop_name": scoopName(b), "note": b.Note, "fire": b.Fire, "woods": b.Woods, "burnt": b.Burnt.String(), "keeping": b.Keeping,
		"version": strconv.FormatInt(b.Version, 10), "vinegar": strings.Join(figureTexts(b.Vinegar), " ")} {
		f.Values[name] = is
	}
	for name, set := range map[string]bool{"wet": b.Condition == material.Wet, "embers": b.Embers, "walnut": b.Walnut, "crushed": b.Crushed} {
		if set {
			f.Values[name] = "yes"
		}
	}
	put("cce", (*float64)(b.CCE), 1, 2)
	put("effective", (*float64)(b.Effective), 1, 2)
	put("k2o", (*float64)(b.K2O), 1, 2)
	put("scoop", (*float64)(b.Scoop), small.Size, 2)
	put("bag", (*float64)(b.Bag), kg.Size, 3)
	put("vinegar_pct", (*float64)(b.VinegarPct), 1, 1)
	for name, x := range map[string]quantity.Percent{"moisture": b.Moisture, "charcoal": b.Charcoal} {
		if x > 0 {
			put(name, (*float64)(&x), 1, 2)
		}
	}
	if b.Price != nil {
		of := kg.Size
		if b.Bag != nil {
			of = float64(*b.Bag)
		}
		price := *b.Price * of / float64(quantity.Kilogram)
		put("price", &price, 1, 2)
	}
	fillFineness(f, b)
	return f
}

func fillFineness(f form.Form, b garden.Batch) {
	shares := b.Material(material.Material{}).Fineness
	if shares == nil {
		return
	}
	if x, ok := material.GradeOf(*shares); ok {
		f.Values["grade"] = x.ID
		return
	}
	f.Values["grade"] = ownSieve
	last := quantity.Percent(100)
	for i, name := range []string{"passes_1", "passes_2", "passes_3"} {
		last -= shares[i]
		f.Values[name] = strconv.FormatFloat(quantity.Round(float64(last), 2), 'f', -1, 64)
	}
}

func figureTexts[T ~float64](xs []T) []string { return strings.Fields(present.FiguresText(xs)) }

// stockOf returns a batch's movements, newest first.
func (s *Handler) stockOf(c *gin.Context, b garden.Batch, u text.Units) (*stockView, error) {
	left, moves, err := s.App(c).Inventory.Moves(c.Request.Context(), b.ID)
	if err != nil {
		return nil, err
	}
	v := &stockView{Left: "not weighed yet", Today: s.Clock.Today().String()}
	if left != nil {
		v.Left = u.Amount(*left, b.Measure())
	}
	says := map[string]string{garden.MovedIn: "came", garden.MovedOut: "went", garden.MovedWeighed: "weighed"}
	for i := len(moves) - 1; i >= 0; i-- {
		m := moves[i]
		v.Lines = append(v.Lines, moveLine{text.DayYear(m.Date), u.Amount(m.Amount, b.Measure()) + " " + says[m.Kind], m.Note})
	}
	return v, nil
}

// moveKinds returns the possible movements of a bin or bag.
func moveKinds(ash bool) []view.Choice {
	in := "Came"
	if ash {
		in = "Another fire"
	}
	return []view.Choice{{Value: garden.MovedWeighed, Text: "Weighed"}, {Value: garden.MovedIn, Text: in},
		{Value: garden.MovedOut, Text: "Went"}}
}

var moveFields = []string{"moved", "moved_on", "moved_kind", "moved_note"}

// MoveStock records a movement.
func (s *Handler) MoveStock(c *gin.Context) error {
	b, err := s.batch(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	u := s.Units(c)
	m := garden.Movement{BatchID: b.ID, Date: f.Day("moved_on"), Kind: f.Value("moved_kind"), Note: f.Value("moved_note"),
		Amount: quantity.Mass(f.Needed("moved", "How much, in "+u.Weights().Name+"?") * u.Weights().Size)}
	if m.Date.IsZero() {
		m.Date = s.Clock.Today()
	}
	return s.Save(c, &f, site.Saving{
		To:   batchHref(b.ID),
		Save: func() (garden.Receipt, error) { return s.App(c).Inventory.Move(c.Request.Context(), s.Actor(c), m) },
		Show: func(status int) error {
			whole := fillBatch(b, u)
			for _, name := range moveFields {
				whole.Values[name] = f.Value(name)
			}
			whole.Faults = f.Faults
			return s.showBatch(c, status, whole, isAsh(b), &b)
		},
	})
}

// DropBatch removes a batch from the shelf; its applications stay.
func (s *Handler) DropBatch(c *gin.Context) error {
	return s.Press(c, "/shed", s.App(c).Inventory.Drop)
}
