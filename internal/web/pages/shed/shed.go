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
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type shedView struct {
	view.Page
	Form form.Form
	Bins []binView
	Bags []bagView
	// Logs is the ash of a pile of firewood, if asked.
	Logs string
	// Pile is the field of that pile.
	Pile view.Field
	// Mixed are the bins that can be mixed, MixName the result's name.
	Mixed   []view.Choice
	MixName view.Field
	// Table are the fields of a table of the shelf.
	Table []view.Field
	Buys  []buyView
	// Wanted are the materials for beds that have no plan, with what is missing of each.
	Wanted []buyView
	// Cost is the total of purchases, Saved the saving by ash.
	Cost, Saved string
	Currency    string
}

type binView struct {
	ID                   int64
	Name, Kg, Href       string
	Strength, State, Why string
	Picture              svg.Bin
	Lines                []string
	CanMix               bool
	// Do is what to do with it, with its address; "" for nothing.
	Do, DoHref string
	// Exact is the planned amount to the gram; "" for none.
	Exact string
}

type bagView struct {
	Name, Kg, Href, Strength, Price, Measure string
	Planned, Does, Exact, Do, DoHref         string
	Picture                                  svg.Bin
}

type buyView struct {
	What, Amount, Cost, Why string
	Beds                    []buyBed
}

type buyBed struct{ Bed, Amount, Cost string }

func batchHref(id int64) string { return "/shed/" + strconv.FormatInt(id, 10) }

// Shed shows stock, purchases, and how to test ash.
func (s *Handler) Shed(c *gin.Context) error {
	return s.showShed(c, http.StatusOK, form.Asked(c))
}

func (s *Handler) showShed(c *gin.Context, status int, f form.Form) error {
	shed, err := s.App(c).Inventory.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	v := shedView{Page: s.Page(c, shed.Garden, site.ShedTab, shedTitle(shed)), Form: f, Currency: shed.Garden.Currency}
	u := shed.Garden.Units()
	for _, x := range shed.Stock {
		if x.Ash() {
			bin := binOf(x, s.Clock.Today(), u)
			v.Bins = append(v.Bins, bin)
			if bin.CanMix {
				v.Mixed = append(v.Mixed, view.Choice{Value: strconv.FormatInt(bin.ID, 10), Text: bin.Name + ", " + bin.Kg})
			}
		} else {
			v.Bags = append(v.Bags, bagOf(x, shed.Garden))
		}
	}
	for _, b := range shed.Buys {
		v.Buys = append(v.Buys, buyOf(b, shed.Garden))
	}
	if v.Wanted, err = s.wanted(c, shed); err != nil {
		return err
	}
	if len(v.Buys) > shed.Unpriced {
		v.Cost = present.Money(shed.Cost, shed.Garden.Currency)
	}
	if shed.Saved != nil {
		v.Saved = present.Money(*shed.Saved, shed.Garden.Currency)
	}
	if logs, ok := f.Number("logs"); ok && f.Fault("logs") == "" {
		if !garden.LimitLogs.Holds(logs) {
			f.Faults["logs"] = garden.LimitLogs.Says()
		} else {
			v.Logs = text.Cubic(logs) + " of logs leave about " + u.Mass(material.OfLogs(logs)) + " of ash."
		}
	}
	f.Sentences()
	v.Pile = f.Resolve(form.Row{Name: "logs", Label: "Logs burnt this winter, m³ stacked", Mode: form.Decimal})
	v.Mixed = form.Ticks("bin", "bin", v.Mixed, c.PostFormArray("bin"))
	v.MixName = f.Resolve(form.Row{Name: "name", ID: "mix-name", Label: "Name of the mix", MaxLength: 60, Group: "mix"})
	v.Table = f.Rows([]form.Row{{Name: "file", Label: "A table like it", Mode: form.File, Accept: form.Sheets},
		{Name: "csv", Label: "or its lines, pasted", Mode: form.Lines, Lines: 3, Group: "file"}})
	if len(f.Faults) > 0 {
		status = http.StatusUnprocessableEntity
	}
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "shed", v)
	return nil
}

// shedTitle returns the finding: usable ash, unusable ash, and purchases.
func shedTitle(shed inventory.Shed) string {
	ash, barred, bins := shed.Ash()
	u := shed.Garden.Units()
	var parts []string
	if bins > 0 {
		parts = append(parts, u.Mass(ash)+" of ash in "+text.Count(bins, "bin", "bins"))
	}
	if barred > 0 {
		parts = append(parts, u.Mass(barred)+" not to be used")
	}
	if n := len(shed.Buys); n > 0 {
		parts = append(parts, text.Count(n, "thing", "things")+" to buy")
	}
	switch {
	case len(shed.Stock) == 0:
		return "Nothing on the shelf yet"
	case len(parts) == 0:
		return text.Count(len(shed.Stock), "thing", "things") + " on the shelf"
	}
	return text.Capital(strings.Join(parts, ", "))
}

// wanted returns what beds without a plan would take of what there is too little of.
func (s *Handler) wanted(c *gin.Context, shed inventory.Shed) (out []buyView, err error) {
	m, err := s.App(c).Dosing.Many(c.Request.Context(), nil, "", s.Clock.Today())
	if err != nil {
		return nil, err
	}
	u, planned := shed.Garden.Units(), map[int64]quantity.Mass{}
	for _, x := range shed.Stock {
		planned[x.ID] = x.Planned
	}
	for _, t := range m.Totals {
		row := buyView{What: text.Capital(text.Material(t.Part.Kind)), Why: "for " + text.Count(t.Beds, "bed", "beds")}
		var had quantity.Mass
		if t.On != nil {
			row.What, had = t.On.Name, planned[t.On.ID]
		}
		if missing := t.Missing(had); missing > 0 {
			row.Amount = u.Mass(missing)
			out = append(out, row)
		}
	}
	return out, nil
}

// toDo returns what to do with a batch next: the bins by what is known of them, all else by where it
// may be put.
func toDo(x inventory.Stock, state string) (says, href string) {
	switch {
	case state == "barred":
		return "Print its label", batchHref(x.ID) + "/label"
	case state == "hot":
		return "", ""
	case x.Left == nil:
		return "Weigh it", batchHref(x.ID)
	case x.Ash() && len(x.Vinegar) == 0 && x.Effective == nil && x.CCE == nil:
		return "Test its strength", batchHref(x.ID) + "#strength"
	case *x.Left > 0:
		return "Where may it go", "/bucket?what=" + dosing.BatchKey(x.ID)
	}
	return "Delete it", batchHref(x.ID)
}

func binOf(x inventory.Stock, today quantity.Day, u text.Units) binView {
	b := binView{ID: x.ID, Name: x.Name, Kg: "not weighed", Href: batchHref(x.ID), CanMix: x.Left != nil && *x.Left > 0}
	most := quantity.Mass(0)
	if x.OnHand != nil {
		most = *x.OnHand
	}
	if x.Left != nil {
		b.Kg, most = u.Mass(*x.Left), max(most, *x.Left)
	}
	b.Strength = strength(x)
	switch {
	case x.Of.Barred():
		b.State, b.Why = "barred", "Off the beds: "+text.Barred(x.Source)+"."
		b.Strength = ""
	case x.Of.Hot(today):
		b.State, b.Why = "hot", "It may hide embers: leave it lidded, on stone."
		if cool := x.Of.Cool(); cool > today {
			b.Why = "It may hide embers: not before " + text.Day(cool) + "."
		}
	}
	if x.Condition == material.Wet {
		b.Lines = append(b.Lines, "left out wet")
	}
	if x.Planned > 0 {
		b.Lines, b.Exact = append(b.Lines, u.Amount(x.Planned, x.Measure())+" planned"), u.MassExact(x.Planned)
	}
	if x.Coming > 0 {
		b.Lines = append(b.Lines, "about "+u.Amount(x.Coming, x.Measure())+" more by "+text.Day(x.Until)+", at its usual pace")
	}
	if short := x.Short(); short > 0 {
		b.Lines = append(b.Lines, "short by "+u.Amount(short, x.Measure()))
	}
	if x.Scoop != nil {
		b.Lines = append(b.Lines, "a level "+scoopName(x.Batch)+" is "+u.Mass(*x.Scoop)+holds(x, u))
	}
	b.Do, b.DoHref = toDo(x, b.State)
	b.Picture = svg.BinOf(svg.ShareOf(x.Left, most), x.Of.Barred(), b.Kg)
	return b
}

// holds returns the stock in level scoops.
func holds(x inventory.Stock, u text.Units) string {
	if x.Left == nil || *x.Left <= 0 {
		return ""
	}
	return ", there are " + present.Brief(*x.Left, x.Measure(), u)
}

// scoopName returns the name of a batch's measure.
func scoopName(b garden.Batch) string {
	if b.ScoopName == "" {
		return garden.Scoops[0]
	}
	return b.ScoopName
}

// strength returns a batch's strength, and how it is known.
func strength(x inventory.Stock) string {
	says := text.Strength(x.Worth)
	switch n := len(x.Vinegar); {
	case says == "":
		return ""
	case n > 0:
		says += ", vinegar, " + text.Count(n, "run", "runs")
		if x.Wild >= 0 {
			says += ", run " + strconv.Itoa(x.Wild+1) + " left out"
		}
	case x.Effective != nil:
		says += " by its label"
	case x.CCE != nil:
		says += ", tested"
	default:
		says += " by its kind"
	}
	return says
}

func bagOf(x inventory.Stock, g garden.Garden) bagView {
	u := g.Units()
	b := bagView{Name: x.Name, Kg: "not weighed", Href: batchHref(x.ID), Strength: text.Capital(strength(x)), Does: text.Does(x.Of.Material)}
	if x.Left != nil {
		b.Kg = u.Mass(*x.Left)
	}
	most := quantity.Mass(0)
	if x.OnHand != nil {
		most = *x.OnHand
	}
	if x.Left != nil {
		most = max(most, *x.Left)
	}
	b.Picture = svg.BagOf(svg.ShareOf(x.Left, most), b.Kg)
	b.Do, b.DoHref = toDo(x, "")
	if x.Price != nil {
		b.Price = present.Money(*x.Price*u.Weights().Size/float64(quantity.Kilogram), g.Currency) + " a " + u.Weights().Name
		if x.Bag != nil {
			b.Price = present.Money(*x.Price*float64(*x.Bag/quantity.Kilogram), g.Currency) + " for " + u.Mass(*x.Bag)
		}
	}
	if x.Scoop != nil {
		b.Measure = "a level " + scoopName(x.Batch) + " is " + u.Mass(*x.Scoop) + holds(x, u)
	}
	if x.Planned > 0 {
		b.Planned, b.Exact = u.Amount(x.Planned, x.Measure())+" planned", u.MassExact(x.Planned)
		if short := x.Short(); short > 0 {
			b.Planned += ", short by " + u.Amount(short, x.Measure())
		}
	}
	return b
}

func buyOf(b inventory.Buy, g garden.Garden) buyView {
	u := g.Units()
	v := buyView{What: text.Capital(b.What.Name), Amount: u.Mass(b.Amount)}
	var scoop *text.Scoop
	if b.Batch != nil {
		v.What, scoop = b.Batch.Name, b.Batch.Measure()
	}
	if b.Bags > 0 {
		v.Amount = text.Count(b.Bags, "bag", "bags") + " of " + u.Mass(*b.Batch.Bag)
		v.Why = u.Mass(b.Need) + " are short"
	}
	if b.Cost != nil {
		v.Cost = present.Money(*b.Cost, g.Currency)
	}
	for _, x := range b.Beds {
		row := buyBed{Bed: x.Bed, Amount: u.Amount(x.Amount, scoop)}
		if x.Cost != nil {
			row.Cost = present.Money(*x.Cost, g.Currency)
		}
		v.Beds = append(v.Beds, row)
	}
	return v
}

// MixBins mixes the chosen bins.
func (s *Handler) MixBins(c *gin.Context) error {
	f := form.Posted(c)
	var parts []inventory.Part
	for _, id := range c.PostFormArray("bin") {
		n, err := strconv.ParseInt(id, 10, 64)
		if err != nil {
			return garden.ErrMissing
		}
		parts = append(parts, inventory.Part{Batch: n})
	}
	r, err := s.App(c).Inventory.Mix(c.Request.Context(), s.Actor(c), f.Value("name"), parts)
	if f.Add(err) {
		f.Sentences()
		return s.showShed(c, http.StatusUnprocessableEntity, f)
	}
	return s.Finish(c, "/shed", r, err)
}

// labelView is the label for a bin's lid.
type labelView struct {
	view.Page
	Name, Of, Strength, Burnt, Woods, Scoop string
	Barred                                  string
	Safety                                  []string
}

// BinLabel shows the label of a bin's lid, for print.
func (s *Handler) BinLabel(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	shed, err := s.App(c).Inventory.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	i := slices.IndexFunc(shed.Stock, func(x inventory.Stock) bool { return x.ID == id && x.Ash() })
	if i < 0 {
		return garden.ErrMissing
	}
	x := shed.Stock[i]
	v := labelView{Page: s.Page(c, shed.Garden, site.ShedTab, x.Name+": a label for its lid"), Name: x.Name, Of: shed.Garden.Name,
		Strength: text.Capital(strength(x)), Woods: x.Woods, Safety: text.Safety(x.Kind)}
	if x.Burnt != 0 {
		v.Burnt = "Burnt " + text.DayYear(x.Burnt) + "; cold from " + text.DayYear(x.Of.Cool())
	}
	if x.Scoop != nil {
		v.Scoop = "A level " + scoopName(x.Batch) + " is " + shed.Garden.Units().Mass(*x.Scoop)
	}
	if x.Of.Barred() {
		v.Barred = "Not to be used: " + text.Barred(x.Source)
	}
	s.Render(c, http.StatusOK, "label", v)
	return nil
}
