package onboarding

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
	"golang.org/x/text/language"

	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/onboarding"
	"zephyrfield/internal/web/form"
	bedformpage "zephyrfield/internal/web/pages/bedform"
	benchpage "zephyrfield/internal/web/pages/bench"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// The systems of units; each unit can be changed later.
const (
	unitsMetric = "metric"
	unitsUS     = "us"
)

var unitSystems = map[string]text.Units{
	unitsMetric: {},
	unitsUS:     {AreaIn: "ft2", DepthIn: "in", WeightIn: "lb", RateIn: "lb-100ft2"},
}

// usUnits are the regions that use pounds and feet.
var usUnits = []string{"US", "LR", "MM"}

// guessUnits returns the system of units by the browser's languages; one without a region is
// ignored.
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

type beginView struct {
	view.Page
	Form   form.Form
	Fields map[string]view.Field
	// Called is the garden's name, Long and Wide the bed's sides.
	Called, Long, Wide view.Field
	N                  int
	// Back is the previous step; "" at the first.
	Back string
	// Halves, Climates and Systems are choices of the place.
	Halves, Climates, Systems []view.Choice
	UnitsSay                  string
	// Feels, Whens and Worked are choices of the bed.
	Feels, Whens, Worked []view.Choice
	Crops                []view.Option
	RestSays             string
	// The reading's step.
	ID                  int64
	Methods, Have, Sure []view.Choice
	Chips               []view.Choice
	Jars                []present.FizzJar
}

// beginTable returns the text fields of all three steps.
func beginTable(u text.Units, crops []view.Option) form.Table {
	return form.Table{{Name: "name", Label: "Name", Box: "named", MaxLength: 60},
		{Name: "crop", Label: "Next crop", Options: append([]view.Option{{Text: "Choose"}}, crops...)},
		{Name: "depth", Label: "How deep it is worked, " + u.Depths().Name, Mode: form.Decimal},
		{Name: "ph", Label: "The pH that it shows", Mode: form.Decimal, Figure: true, Way: "lab meter"},
		{Name: "fresh", Label: "The meter was calibrated", Way: "meter",
			Options: []view.Option{{Value: "no", Text: "Longer ago, or not known"}, {Value: form.Yes, Text: "Within the last week"}}},
		{Name: "date", Label: "Sampled on", Mode: form.Date}, {Name: "cores", Label: "Spots mixed into it", Mode: form.Numeric}}
}

// showBegin shows a step without navigation.
func (s *Handler) showBegin(c *gin.Context, g garden.Garden, v beginView, title string) error {
	v.Page = s.Page(c, g, "Ground", title)
	v.Tabs, v.Message, v.Plain = nil, nil, true
	status := http.StatusOK
	if len(v.Form.Faults) > 0 {
		v.Form.Sentences()
		status = http.StatusUnprocessableEntity
	}
	v.Fields = v.Form.Fields(beginTable(g.Units(), v.Crops))
	in := g.Units().Lengths().Name
	v.Called = v.Form.Resolve(form.Row{Name: "name", Label: "What you call the garden", MaxLength: 60})
	v.Long, v.Wide = v.Form.Bare("w", "Length, "+in, "w"), v.Form.Bare("h", "Width, "+in, "w")
	s.Render(c, status, "begin", v)
	return nil
}

// BeginPlace shows the first step of an empty garden: its place.
func (s *Handler) BeginPlace(c *gin.Context) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	f := form.NoForm()
	f.Values["name"], f.Values["version"] = g.Name, strconv.FormatInt(g.Version, 10)
	f.Values["units"] = guessUnits(c.GetHeader("Accept-Language"))
	// A stored place is shown; a new one is asked for.
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

func (s *Handler) showBeginPlace(c *gin.Context, g garden.Garden, f form.Form) error {
	v := beginView{Form: f, N: 1}
	v.Halves = f.Tiles("hemisphere", "half", []view.Choice{{Value: soil.North, Text: "North"}, {Value: soil.South, Text: "South"}})
	for _, x := range soil.Climates {
		v.Climates = append(v.Climates, view.Choice{Value: x.ID, Text: text.Winter(x.ID),
			Drawn: view.DrawnClimate, Picture: svg.ClimateOf(x, soil.FindWeather(x.ID, soil.North))})
	}
	v.Climates = f.Tiles("climate", "climate", v.Climates)
	for _, id := range []string{unitsMetric, unitsUS} {
		u := unitSystems[id]
		says := u.Weights().Name + ", " + u.Lengths().Name
		v.Systems = append(v.Systems, view.Choice{Value: id, Text: says})
		if f.Is("units", id) {
			v.UnitsSay = says
		}
	}
	v.Systems = f.Tiles("units", "units", v.Systems)
	return s.showBegin(c, g, v, "Your garden")
}

// SetBeginPlace saves the place and goes on to the first bed.
func (s *Handler) SetBeginPlace(c *gin.Context) error {
	f := form.Posted(c)
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	if f.Value("hemisphere") == "" {
		f.Faults["hemisphere"] = "tap the half it lies in: the seasons depend on it"
	}
	if f.Value("climate") == "" {
		f.Faults["climate"] = "tap the climate that comes nearest"
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
	r, err := s.App(c).Layout.SetPlace(c.Request.Context(), s.Actor(c), g)
	if f.Add(err) {
		return s.showBeginPlace(c, was, f)
	}
	return s.Finish(c, "/begin/bed", r, err)
}

// BeginBed shows the second step: the first bed.
func (s *Handler) BeginBed(c *gin.Context) error {
	v, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	f := form.Asked(c)
	usual := form.Form{Values: map[string]string{}, Faults: garden.Faults{}}
	bedformpage.UsualBed(usual, v.Beds, u)
	for _, name := range []string{"w", "h", "depth", "worked"} {
		if f.Values[name] == "" {
			f.Values[name] = usual.Values[name]
		}
	}
	if f.Values["name"] == "" {
		f.Values["name"] = "Bed " + strconv.Itoa(len(v.Beds)+1)
	}
	return s.showBeginBed(c, &v, f)
}

func (s *Handler) showBeginBed(c *gin.Context, p *bedstate.View, f form.Form) error {
	v := beginView{Form: f, N: 2, Back: "/begin", Crops: named(present.CropOptions(p.Library))}
	for _, w := range []soil.Worked{soil.Dug, soil.Surface, soil.Established} {
		v.Worked = append(v.Worked, view.Choice{Value: string(w), Text: text.Capital(text.Name(w))})
	}
	v.Feels, v.Whens = f.Tiles("feel", "feel", present.Handfuls()), f.Tiles("when", "when", bedformpage.Whens())
	v.Worked = f.Tiles("worked", "worked", v.Worked)
	v.RestSays = f.Value("depth") + " " + p.Garden.Units().Depths().Name + ", " + text.Short(soil.Worked(f.Value("worked")))
	title := "Your first bed"
	if len(p.Beds) > 0 {
		title = "Another bed"
	}
	return s.showBegin(c, p.Garden, v, title)
}

// named returns the crops by their names alone: the text before a first dose is kept short.
func named(crops []view.Option) []view.Option {
	for i := range crops {
		crops[i].Text, _, _ = strings.Cut(crops[i].Text, ", ")
	}
	return crops
}

// AddBeginBed saves the first bed and goes on to its reading.
func (s *Handler) AddBeginBed(c *gin.Context) error {
	f := form.Posted(c)
	today := s.Clock.Today()
	v, err := s.App(c).BedState.View(c.Request.Context(), today)
	if err != nil {
		return err
	}
	u := v.Garden.Units()
	full := form.Form{Values: map[string]string{}, Faults: f.Faults}
	for _, name := range []string{"name", "w", "h", "depth", "worked"} {
		full.Values[name] = f.Values[name]
	}
	bedformpage.UsualBed(full, v.Beds, u)
	for _, name := range []string{"name", "w", "h", "depth"} {
		full.Values[name] = f.Values[name] // cleared fields are asked for again
	}
	b, _ := bedformpage.BedFrom(full, u)
	bedformpage.SoilByFeel(f, &b)
	if f.Value("crop") == "" {
		f.Faults["crop"] = "choose what grows there next"
	}
	sown := bedformpage.SownWhen(f, v.Garden, today)
	if len(f.Faults) > 0 {
		return s.showBeginBed(c, &v, f)
	}
	id, r, err := bedformpage.New(s.Site).AddOne(c, b, layout.First{Crop: f.Value("crop"), Sown: sown})
	if f.Add(err) {
		return s.showBeginBed(c, &v, f)
	}
	return s.Finish(c, "/begin/reading?bed="+strconv.FormatInt(id, 10), r, err)
}

// beginWays are the ways of reading for a beginner, the usual one first.
var beginWays = []struct {
	method soil.Method
	says   string
}{
	{soil.Kit, "Colour kit"}, {soil.Lab, "Lab letter"}, {soil.Meter, "Meter"}, {soil.Fizz, "Vinegar and soda"},
}

// BeginReading shows the third step: what was measured in the first bed.
func (s *Handler) BeginReading(c *gin.Context) error {
	b, g, err := s.bedAsked(c)
	if err != nil {
		return err
	}
	f := form.Asked(c)
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

// bedAsked returns the bed of a step, with its garden.
func (s *Handler) bedAsked(c *gin.Context) (b garden.Bed, g garden.Garden, err error) {
	asked := c.Query("bed")
	if c.Request.Method == http.MethodPost {
		asked = c.PostForm("bed")
	}
	g, beds, err := s.App(c).BedState.Names(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return b, g, err
	}
	at := slices.IndexFunc(beds, func(b garden.Bed) bool { return strconv.FormatInt(b.ID, 10) == asked })
	if at < 0 {
		return b, g, garden.ErrMissing
	}
	return beds[at], g, nil
}

func (s *Handler) showBeginReading(c *gin.Context, g garden.Garden, bed int64, f form.Form, have, chips []string) error {
	v := beginView{Form: f, N: 3, ID: bed, Jars: present.FizzJars(f.Tiles)}
	for _, j := range v.Jars {
		for i := range j.Strengths {
			// The pictures are enough: the text before a first dose is kept short.
			j.Strengths[i].Why = ""
		}
	}
	for _, w := range beginWays {
		v.Methods = append(v.Methods, view.Choice{Value: string(w.method), Text: w.says})
	}
	for _, x := range g.Chips() {
		chip := strconv.FormatFloat(x, 'f', -1, 64)
		v.Chips = append(v.Chips, view.Choice{Value: chip, Text: chip, Drawn: view.DrawnChip, Picture: present.ChipColour(x)})
	}
	for i := range onboarding.Haves {
		h := &onboarding.Haves[i]
		aside := "bucket"
		if bag := h.Bag(g.Units().Weights()); h.Bagged() {
			aside = "bag, " + g.Units().Mass(bag)
		}
		v.Have = append(v.Have, view.Choice{Value: h.ID, Text: h.Name, Aside: aside})
	}
	v.Methods = f.Tiles("method", "way", v.Methods)
	v.Sure = f.Tiles("clean", "clean", []view.Choice{{Value: form.Yes, Text: "Yes"}, {Value: "no", Text: "Not sure"}})
	v.Chips, v.Have = form.Ticks("chips", "chip", v.Chips, chips), form.Ticks("have", "have", v.Have, have)
	day := f.Day("date")
	when := "on " + text.NearDay(day, s.Clock.Today())
	if day == s.Clock.Today() {
		when = "today"
	}
	v.RestSays = when + ", " + f.Value("cores") + " spots"
	return s.showBegin(c, g, v, "Your soil test")
}

// chipOf combines the tapped chips: one, or the gap between two neighbours.
func chipOf(f form.Form, picked []string, chips garden.Figures) {
	var at []int
	for i, x := range chips {
		if slices.Contains(picked, strconv.FormatFloat(x, 'f', -1, 64)) {
			at = append(at, i)
		}
	}
	chip := func(i int) string { return strconv.FormatFloat(chips[i], 'f', -1, 64) }
	switch {
	case len(at) == 1:
		f.Values["chip"] = chip(at[0]) + "-" + chip(at[0])
	case len(at) == 2 && at[1] == at[0]+1:
		f.Values["chip"] = chip(at[0]) + "-" + chip(at[1])
	default:
		f.Faults["chip"] = "tap the chip that it matches, or two that lie beside each other"
	}
}

// AddBeginReading saves the first reading and goes on to the dose.
func (s *Handler) AddBeginReading(c *gin.Context) error {
	b, g, err := s.bedAsked(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	chips, has := c.PostFormArray("chips"), c.PostFormArray("have")
	if f.Is("method", string(soil.Kit)) {
		chipOf(f, chips, g.Chips())
	}
	r := benchpage.ReadingFrom(f, g)
	r.BedID = b.ID
	var have []onboarding.Have
	for _, h := range onboarding.Haves {
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
	got, err := s.App(c).Onboarding.First(c.Request.Context(), s.Actor(c), r, have, f.Is("clean", "yes"))
	if f.Add(err) {
		benchpage.ReadingFaults(f)
		return s.showBeginReading(c, g, b.ID, f, has, chips)
	}
	if err != nil {
		return err
	}
	s.Done(c, site.DoseHref(b.ID)+"?begin=1", got)
	return nil
}
