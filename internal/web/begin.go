package web

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"
	"golang.org/x/text/language"

	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/begin"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// The beginning of an empty garden: the place, the first bed, the first reading, and then
// its dose. Each step asks only what the dose needs; the rest is folded, with what is
// taken for it.
var _ = pagesAt(
	get("/begin", (*server).beginPlace),
	post("/begin", (*server).setBeginPlace),
	get("/begin/bed", (*server).beginBed),
	post("/begin/bed", (*server).addBeginBed),
	get("/begin/reading", (*server).beginReading),
	post("/begin/reading", (*server).addBeginReading),
)

// Systems of units to begin with; each can be changed one by one later.
const (
	unitsMetric = "metric"
	unitsUS     = "us"
)

var unitSystems = map[string]words.Units{
	unitsMetric: {},
	unitsUS:     {AreaIn: "ft2", DepthIn: "in", WeightIn: "lb", RateIn: "lb-100ft2"},
}

// usUnits are the regions that weigh in pounds and measure in feet.
var usUnits = []string{"US", "LR", "MM"}

// guessUnits reads the units off the languages that a browser asks for; a language without
// its region tells nothing.
func guessUnits(accept string) string {
	tags, _, err := language.ParseAcceptLanguage(accept)
	if err != nil {
		return unitsMetric
	}
	for _, t := range tags {
		if region, sure := t.Region(); sure == language.Exact {
			if slices.Contains(usUnits, region.String()) {
				return unitsUS
			}
			return unitsMetric
		}
	}
	return unitsMetric
}

// tile is one of a row of choices, with its picture where it has one.
type tile struct {
	Value, Text, Aside string
	Picture            any
}

var (
	placeBeginFields = []string{"hemisphere", "climate", "units", "name", "version"}
	bedBeginFields   = []string{"name", "w", "h", "feel", "crop", "when", "depth", "worked"}
)

type beginView struct {
	view.Page
	Form   form.Form
	Fields map[string]view.Field
	N      int
	// Back is the step before; "" at the first.
	Back string
	// Halves, Climates and Systems are of the place.
	Halves, Climates, Systems []tile
	UnitsSay                  string
	// Feels, Crops, Whens and Ways are of the bed.
	Feels, Whens, Worked []tile
	Crops                []view.Option
	RestSays             string
	// What is of the reading.
	ID                  int64
	Methods, Have, Sure []tile
	Chips               []tile
	Jars                []fizzJar
	Has                 map[string]bool
	Picked              map[string]bool
}

// beginTable are the fields that are typed, of all three steps.
func beginTable(u words.Units) form.Table {
	return form.Table{{Name: "name", Label: "Its name", Box: "named", MaxLength: 60},
		{Name: "depth", Label: "How deep it is worked, " + u.Depths().Name, Mode: form.Decimal},
		{Name: "ph", Label: "The pH that it shows", Mode: form.Decimal, Class: "figure", Way: "lab meter"},
		{Name: "date", Label: "Sampled on", Mode: form.Date}, {Name: "cores", Label: "Spots mixed into it", Mode: form.Numeric}}
}

// showBegin shows a step: without the rest of the pages around it.
func (s *server) showBegin(c *gin.Context, g garden.Garden, v beginView, title string) error {
	v.Page = s.page(c, g, "Ground", title)
	v.Tabs, v.Message, v.Plain = nil, nil, true
	status := http.StatusOK
	if len(v.Form.Faults) > 0 {
		v.Form.Sentences()
		status = http.StatusUnprocessableEntity
	}
	v.Fields = v.Form.Fields(beginTable(g.Units()))
	s.render(c, status, "begin", v)
	return nil
}

func (s *server) beginPlace(c *gin.Context) error {
	g, err := s.keep.Place(c.Request.Context())
	if err != nil {
		return err
	}
	f := form.NoForm()
	f.Values["name"], f.Values["version"] = g.Name, strconv.FormatInt(g.Version, 10)
	f.Values["units"] = guessUnits(c.GetHeader("Accept-Language"))
	// A place that was changed before is shown as it is; a new one is asked.
	if g.Version > 1 {
		f.Values["hemisphere"], f.Values["climate"] = g.Hemisphere, g.Climate
		for id, u := range unitSystems {
			if u.AreaIn == g.AreaUnit {
				f.Values["units"] = id
			}
		}
	}
	return s.showBeginPlace(c, g, f)
}

func (s *server) showBeginPlace(c *gin.Context, g garden.Garden, f form.Form) error {
	v := beginView{Form: f, N: 1}
	v.Halves = []tile{{Value: soil.North, Text: "North"}, {Value: soil.South, Text: "South"}}
	for _, x := range soil.Climates {
		name, aside := words.Winter(x.ID)
		v.Climates = append(v.Climates, tile{x.ID, name, aside, svg.ClimateOf(x, soil.FindWeather(x.ID, soil.North))})
	}
	for _, id := range []string{unitsMetric, unitsUS} {
		u := unitSystems[id]
		says := u.Weights().Name + ", " + u.Lengths().Name
		v.Systems = append(v.Systems, tile{Value: id, Text: says})
		if f.Is("units", id) {
			v.UnitsSay = says
		}
	}
	return s.showBegin(c, g, v, "Where does your garden lie?")
}

func (s *server) setBeginPlace(c *gin.Context) error {
	f := form.Posted(c, placeBeginFields...)
	g, err := s.keep.Place(c.Request.Context())
	if err != nil {
		return err
	}
	if f.Value("hemisphere") == "" {
		f.Faults["hemisphere"] = "tap the half it lies in: the seasons hang on it"
	}
	if f.Value("climate") == "" {
		f.Faults["climate"] = "tap the year that comes nearest"
	}
	u, known := unitSystems[f.Value("units")]
	if !known {
		f.Faults["units"] = "choose the units"
	}
	was := g
	g.Hemisphere, g.Climate, g.SoilTable = f.Value("hemisphere"), f.Value("climate"), soil.UsualTable(f.Value("climate"))
	g.AreaUnit, g.DepthUnit, g.WeightUnit, g.RateUnit = u.AreaIn, u.DepthIn, u.WeightIn, u.RateIn
	if name := f.Value("name"); name != "" {
		g.Name = name
	}
	if g.Version, err = strconv.ParseInt(f.Value("version"), 10, 64); err != nil {
		return garden.ErrStale
	}
	if len(f.Faults) > 0 {
		return s.showBeginPlace(c, was, f)
	}
	r, err := s.keep.Ground.SetPlace(c.Request.Context(), s.act(c), g)
	if f.Add(err) {
		return s.showBeginPlace(c, was, f)
	}
	if err != nil {
		return err
	}
	s.done(c, "/begin/bed", r)
	return nil
}

// feel is what a squeezed handful does, with what that answers to the questions put to one.
type feel struct {
	id, says string
	is       soil.Feel
}

var feels = []feel{
	{"crumbs", "falls apart", soil.Feel{}},
	{"crumbles", "holds, then crumbles", soil.Feel{Ball: true, Ribbon: 0.01}},
	{"worm", "rolls into a worm", soil.Feel{Ball: true, Ribbon: 0.03}},
	{"shines", "shines and sticks", soil.Feel{Ball: true, Ribbon: 0.06}},
}

func (s *server) beginBed(c *gin.Context) error {
	v, err := s.keep.Plots.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	f := form.Asked(c, bedBeginFields...)
	usual := form.Form{Values: map[string]string{}, Faults: garden.Faults{}}
	usualBed(usual, v.Plots, u, s.Clock.Today())
	for _, name := range []string{"w", "h", "depth", "worked"} {
		if f.Values[name] == "" {
			f.Values[name] = usual.Values[name]
		}
	}
	if f.Values["name"] == "" {
		f.Values["name"] = "Bed " + strconv.Itoa(len(v.Plots)+1)
	}
	return s.showBeginBed(c, &v, f)
}

func (s *server) showBeginBed(c *gin.Context, p *plots.View, f form.Form) error {
	v := beginView{Form: f, N: 2, Back: "/begin", Crops: cropOptions(p.Library)}
	for _, x := range feels {
		v.Feels = append(v.Feels, tile{Value: x.id, Text: x.says})
	}
	for _, w := range begin.Whens {
		v.Whens = append(v.Whens, tile{Value: string(w), Text: words.Sowing(string(w))})
	}
	for _, w := range []soil.Worked{soil.Dug, soil.Surface, soil.Established} {
		v.Worked = append(v.Worked, tile{Value: string(w), Text: words.Capital(words.Name(w))})
	}
	v.RestSays = f.Value("depth") + " " + p.Garden.Units().Depths().Name + ", " + words.Name(soil.Worked(f.Value("worked")))
	title := "Your first bed"
	if len(p.Plots) > 0 {
		title = "Another bed"
	}
	return s.showBegin(c, p.Garden, v, title)
}

func (s *server) addBeginBed(c *gin.Context) error {
	f := form.Posted(c, bedBeginFields...)
	today := s.Clock.Today()
	v, err := s.keep.Plots.View(c.Request.Context(), today)
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	full := form.Form{Values: map[string]string{}, Faults: f.Faults}
	for _, name := range []string{"name", "w", "h", "depth", "worked"} {
		full.Values[name] = f.Values[name]
	}
	usualBed(full, v.Plots, u, today)
	for _, name := range []string{"name", "w", "h", "depth"} {
		full.Values[name] = f.Values[name] // what was emptied is asked for again
	}
	b, _ := bedFrom(full, u)
	if at := slices.IndexFunc(feels, func(x feel) bool { return x.id == f.Value("feel") }); at < 0 {
		f.Faults["feel"] = "squeeze a moist handful, and tap what it does"
	} else {
		b.TextureBy, b.Texture = garden.ByFeel, feels[at].is.Class().ID
	}
	if f.Value("crop") == "" {
		f.Faults["crop"] = "choose what grows there next"
	}
	when := begin.When(f.Value("when"))
	if !slices.Contains(begin.Whens, when) {
		f.Faults["when"] = "tap how soon it goes in: ash and lime keep away from it"
	}
	if len(f.Faults) > 0 {
		return s.showBeginBed(c, &v, f)
	}
	id, r, err := s.addOne(c, b, f.Value("crop"), when.Sown(v.Garden.Weather(), today))
	if f.Add(err) {
		return s.showBeginBed(c, &v, f)
	}
	if err != nil {
		return err
	}
	s.done(c, "/begin/reading?bed="+strconv.FormatInt(id, 10), r)
	return nil
}

// beginWays are the ways to read soil that a beginner may have, the usual one first.
var beginWays = []struct {
	method soil.Method
	says   string
}{
	{soil.Kit, "Colour kit"}, {soil.Lab, "Lab letter"}, {soil.Meter, "Meter"}, {soil.Fizz, "Vinegar and soda"},
}

func (s *server) beginReading(c *gin.Context) error {
	b, g, err := s.bedAsked(c)
	if err != nil {
		return err
	}
	f := form.Asked(c, readingFields...)
	u := g.Units()
	cores, _ := sampling.CoresFor(b.Area())
	for name, usual := range map[string]string{"bed": c.Query("bed"), "date": s.Clock.Today().String(), "method": string(soil.Kit),
		"basis": string(soil.Water), "cores": strconv.Itoa(cores), "depth": form.Figure(float64(b.Depth), u.Depths(), 1),
		"fresh": "no"} {
		if f.Values[name] == "" {
			f.Values[name] = usual
		}
	}
	return s.showBeginReading(c, g, b.ID, f, nil, nil)
}

// bedAsked is the bed that a step is about, with its garden.
func (s *server) bedAsked(c *gin.Context) (b garden.Bed, g garden.Garden, err error) {
	asked := c.Query("bed")
	if c.Request.Method == http.MethodPost {
		asked = c.PostForm("bed")
	}
	g, beds, err := s.keep.Plots.Names(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return b, g, err
	}
	at := slices.IndexFunc(beds, func(b garden.Bed) bool { return strconv.FormatInt(b.ID, 10) == asked })
	if at < 0 {
		return b, g, garden.ErrMissing
	}
	return beds[at], g, nil
}

func (s *server) showBeginReading(c *gin.Context, g garden.Garden, bed int64, f form.Form, have, chips []string) error {
	v := beginView{Form: f, N: 3, ID: bed, Jars: fizzJars(),
		Has: map[string]bool{}, Picked: map[string]bool{}}
	for _, w := range beginWays {
		v.Methods = append(v.Methods, tile{Value: string(w.method), Text: w.says})
	}
	for _, x := range g.Chips() {
		text := strconv.FormatFloat(x, 'f', -1, 64)
		v.Chips = append(v.Chips, tile{Value: text, Text: text})
	}
	for i := range begin.Haves {
		h := &begin.Haves[i]
		aside := "a bucket"
		if bag := h.Bag(g.Units().Weights()); h.Bagged() {
			aside = "a bag, " + g.Units().Mass(bag)
		}
		v.Have = append(v.Have, tile{Value: h.ID, Text: h.Name, Aside: aside})
	}
	v.Sure = []tile{{Value: "yes", Text: "Yes"}, {Value: "no", Text: "No, or unsure"}}
	for _, x := range have {
		v.Has[x] = true
	}
	for _, x := range chips {
		v.Picked[x] = true
	}
	day := f.Day("date")
	when := "on " + words.NearDay(day, s.Clock.Today())
	if day == s.Clock.Today() {
		when = "today"
	}
	v.RestSays = when + ", " + f.Value("cores") + " spots"
	return s.showBegin(c, g, v, "How did you test the soil?")
}

// chipOf makes one chip, or the gap between two that lie beside each other, of what was tapped.
func chipOf(f form.Form, picked []string, chips garden.Figures) {
	var at []int
	for i, x := range chips {
		if slices.Contains(picked, strconv.FormatFloat(x, 'f', -1, 64)) {
			at = append(at, i)
		}
	}
	text := func(i int) string { return strconv.FormatFloat(chips[i], 'f', -1, 64) }
	switch {
	case len(at) == 1:
		f.Values["chip"] = text(at[0]) + "-" + text(at[0])
	case len(at) == 2 && at[1] == at[0]+1:
		f.Values["chip"] = text(at[0]) + "-" + text(at[1])
	default:
		f.Faults["chip"] = "tap the chip that it matches, or two that lie beside each other"
	}
}

func (s *server) addBeginReading(c *gin.Context) error {
	b, g, err := s.bedAsked(c)
	if err != nil {
		return err
	}
	f := form.Posted(c, append(readingFields, "clean")...)
	chips, has := c.PostFormArray("chips"), c.PostFormArray("have")
	if f.Is("method", string(soil.Kit)) {
		chipOf(f, chips, g.Chips())
	}
	r := readingFrom(f, g.Units())
	r.BedID = b.ID
	var have []begin.Have
	for _, h := range begin.Haves {
		if slices.Contains(has, h.ID) {
			have = append(have, h)
		}
		if slices.Contains(has, h.ID) && h.Ash() && f.Value("clean") == "" {
			f.Faults["clean"] = "tap one: what was burnt decides whether it may go on a bed at all"
		}
	}
	if len(f.Faults) > 0 {
		return s.showBeginReading(c, g, b.ID, f, has, chips)
	}
	got, err := s.keep.Begin.First(c.Request.Context(), s.act(c), r, have, f.Is("clean", "yes"))
	if f.Add(err) {
		readingFaults(f)
		return s.showBeginReading(c, g, b.ID, f, has, chips)
	}
	if err != nil {
		return err
	}
	s.done(c, doseHref(b.ID)+"?begin=1", got)
	return nil
}
