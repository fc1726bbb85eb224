package place

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type placeView struct {
	view.Page
	Form        form.Form
	Fields      map[string]view.Field
	Climates    []view.Option
	Hemispheres []view.Option
	Choices     []choiceView
	Months      []view.Field
	TempsFault  string
	Rains       []view.Field
	RainFault   string
	// Units are the choices of units.
	Units []view.Field
	// Water is the assumed alkalinity.
	Water string
}

// unitOptions lists the units of a kind.
func unitOptions(us []text.UnitChoice) []view.Option {
	out := make([]view.Option, len(us))
	for i, u := range us {
		out[i] = view.Option{Value: u.ID, Text: u.Name}
	}
	return out
}

// choiceView is a choice of methods, each with its sentence.
type choiceView struct {
	Name, Label, Fault string
	Options            []view.Choice
}

func monthField(m int) string { return "t" + strconv.Itoa(m+1) }

func rainField(m int) string { return "rain" + strconv.Itoa(m+1) }

// placeTable returns the text fields, with the climate's frosts as placeholders.
func placeTable(w soil.Weather) form.Table {
	return form.Table{{Name: "name", Label: "Name of the garden", Box: form.Wide, MaxLength: 60},
		{Name: "last_frost", Label: "Last frost of spring, month-day", Placeholder: w.LastFrost.String()},
		{Name: "first_frost", Label: "First frost of autumn, month-day", Placeholder: w.FirstFrost.String()},
		{Name: "currency", Label: "Currency, as it is written"},
		{Name: "season_from", Label: "A season begins in", Options: seasonStarts()},
		{Name: "water_ph", Label: "pH", Mode: form.Decimal},
		{Name: "alkalinity", Label: "Alkalinity, mg/L CaCO₃", Mode: form.Decimal},
		{Name: "hardness", Label: "Hardness, mg/L CaCO₃", Mode: form.Decimal},
		{Name: "kit_chips", Label: "Your colour kit: the pH of each chip", Aside: "empty: 4 to 8 by halves", Box: form.Wide,
			Placeholder: "4 4.5 5 5.5 6 6.5 7 7.5 8"}}
}

// seasonStarts are the months in which a season may begin.
func seasonStarts() []view.Option {
	out := []view.Option{{Value: "0", Text: "autumn"}}
	for m := time.January; m <= time.December; m++ {
		out = append(out, view.Option{Value: strconv.Itoa(int(m)), Text: m.String()})
	}
	return out
}

// months resolves twelve fields, with the climate's values as placeholders.
func months(f form.Form, field func(int) string, usual func(int) float64, whole string) (out []view.Field, fault string) {
	fault = f.Fault(whole)
	for m := range 12 {
		name := field(m)
		if fault == "" {
			fault = f.Fault(name)
		}
		out = append(out, f.Small(name, time.Month(m + 1).String()[:3], strconv.FormatFloat(usual(m), 'f', -1, 64), whole))
	}
	return out, fault
}

// Place shows the form of the place: where it lies, its soil, units and method.
func (s *Handler) Place(c *gin.Context) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	return s.showPlace(c, http.StatusOK, placeForm(g))
}

// placeForm returns the form of a place.
func placeForm(g garden.Garden) form.Form {
	f := form.Form{Values: map[string]string{"name": g.Name, "climate": g.Climate, "hemisphere": g.Hemisphere, "table": tableChoice(g),
		"version":   strconv.FormatInt(g.Version, 10),
		"area_unit": g.AreaUnit, "depth_unit": g.DepthUnit, "weight_unit": g.WeightUnit, "rate_unit": g.RateUnit,
		"currency": g.Currency, "last_frost": g.LastFrost, "first_frost": g.FirstFrost, "kit_chips": present.FiguresText(g.KitChips),
		"season_from": strconv.Itoa(g.SeasonFrom)},
		Faults: garden.Faults{}}
	methods := g.Methods()
	for i := range dose.Questions {
		q := &dose.Questions[i]
		f.Values[q.Name] = q.Of(&methods)
	}
	for name, x := range map[string]*float64{"water_ph": (*float64)(g.WaterPH), "alkalinity": g.WaterAlkalinity,
		"hardness": g.WaterHardness} {
		if x != nil {
			f.Values[name] = strconv.FormatFloat(*x, 'f', -1, 64)
		}
	}
	for m, t := range g.SoilTemps {
		f.Values[monthField(m)] = strconv.FormatFloat(float64(t), 'f', -1, 64)
	}
	for m, mm := range g.Rain {
		f.Values[rainField(m)] = strconv.FormatFloat(mm, 'f', -1, 64)
	}
	return f
}

func (s *Handler) showPlace(c *gin.Context, status int, f form.Form) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	v := placeView{Page: s.Page(c, g, site.SettingsTab, site.SettingsTab), Form: f}
	for _, x := range soil.Climates {
		v.Climates = append(v.Climates, view.Option{Value: x.ID, Text: text.Capital(text.Name(x.ID))})
	}
	v.Hemispheres = []view.Option{{Value: soil.North, Text: "North"}, {Value: soil.South, Text: "South"}}
	usual, _ := soil.FindClimate(f.Value("climate"), f.Value("hemisphere"))
	v.Months, v.TempsFault = months(f, monthField, func(m int) float64 { return float64(usual.Normal[m]) }, "temps")
	weather := soil.FindWeather(f.Value("climate"), f.Value("hemisphere"))
	v.Rains, v.RainFault = months(f, rainField, func(m int) float64 { return weather.Rain[m] }, "rain")
	v.Units = f.Rows([]form.Row{
		{Name: "area_unit", Label: "Areas and lengths", Options: unitOptions(text.AreaUnits())},
		{Name: "depth_unit", Label: "Depths", Options: unitOptions(text.DepthUnits())},
		{Name: "weight_unit", Label: "Weights", Options: unitOptions(text.WeightUnits())},
		{Name: "rate_unit", Label: "Rates", Options: unitOptions(text.RateUnits())}})
	if a := g.Alkalinity(); a != nil {
		v.Water = "Taken as an alkalinity of " + strconv.FormatFloat(quantity.Round(*a, 0), 'f', -1, 64) + " mg/L CaCO₃"
		switch {
		case g.WaterAlkalinity != nil:
			v.Water += ", as measured."
		case g.WaterHardness != nil:
			v.Water += ", four fifths of the hardness."
		default:
			v.Water += ", guessed from the pH alone: half as much or half more is possible."
		}
	}
	v.Choices = []choiceView{
		choicesOf(f, "table", "Lime table", byClimate, soil.CoolTable, soil.WarmTable),
	}
	for _, q := range dose.Questions {
		v.Choices = append(v.Choices, choicesOf(f, q.Name, text.Question(q.Name), q.Habits...))
	}
	v.Fields = f.Fields(append(placeTable(weather), form.Row{Name: "climate", Label: "Nearest climate", Options: v.Climates},
		form.Row{Name: "hemisphere", Label: "Hemisphere", Options: v.Hemispheres}))
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "place", v)
	return nil
}

// byClimate selects the lime table's column by climate.
const byClimate soil.TableClimate = "climate"

func tableChoice(g garden.Garden) string {
	if g.SoilTable == soil.UsualTable(g.Climate) {
		return string(byClimate)
	}
	return string(g.SoilTable)
}

func choicesOf[T ~string](f form.Form, name, label string, ids ...T) choiceView {
	v := choiceView{Name: name, Label: label, Fault: f.Fault(name)}
	for _, id := range ids {
		words := text.Name(id)
		switch {
		case string(id) == string(byClimate):
			words = "By the climate"
		case name == "table":
			words = text.Capital(string(id))
		}
		v.Options = append(v.Options, view.Choice{ID: name + "-" + string(id), Name: name, Value: string(id), Text: words, Why: text.Why(id),
			On: f.Is(name, string(id))})
	}
	return v
}

// SetPlace saves the place.
func (s *Handler) SetPlace(c *gin.Context) error {
	f := form.Posted(c)
	g := garden.Garden{Name: f.Value("name"), Climate: f.Value("climate"), Hemisphere: f.Value("hemisphere"),
		SoilTable: soil.TableClimate(f.Value("table")),
		AreaUnit:  f.Value("area_unit"), DepthUnit: f.Value("depth_unit"), WeightUnit: f.Value("weight_unit"),
		RateUnit: f.Value("rate_unit"),
		KitChips: f.Figures("kit_chips"), Currency: f.Value("currency"), LastFrost: f.Value("last_frost"),
		FirstFrost: f.Value("first_frost"),
		WaterPH:    form.Optional[quantity.PH](f, "water_ph", 1), WaterAlkalinity: form.Optional[float64](f, "alkalinity",
			1), WaterHardness: form.Optional[float64](f, "hardness", 1)}
	var methods dose.Methods
	for i := range dose.Questions {
		q := &dose.Questions[i]
		q.Choose(&methods, f.Value(q.Name))
	}
	g.SetMethods(methods)
	if g.SoilTable == byClimate {
		g.SoilTable = soil.UsualTable(g.Climate)
	}
	g.ID = 1
	g.SeasonFrom = f.Whole("season_from")
	version, err := strconv.ParseInt(f.Value("version"), 10, 64)
	if err != nil {
		return garden.ErrStale
	}
	g.Version = version
	for m := range 12 {
		name := monthField(m)
		f.Values[name] = c.PostForm(name)
		if t, ok := f.Number(name); ok {
			g.SoilTemps = append(g.SoilTemps, quantity.Temperature(t))
		}
		name = rainField(m)
		f.Values[name] = c.PostForm(name)
		if mm, ok := f.Number(name); ok {
			g.Rain = append(g.Rain, mm)
		}
	}
	return s.Save(c, &f, site.Saving{
		To:   "/place",
		Save: func() (garden.Receipt, error) { return s.App(c).Layout.SetPlace(c.Request.Context(), s.Actor(c), g) },
		Now: func() (form.Form, error) {
			now, err := s.App(c).Place(c.Request.Context())
			return placeForm(now), err
		},
		Show: func(status int) error { return s.showPlace(c, status, f) },
	})
}
