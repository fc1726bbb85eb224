package showcase

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/symptom"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/observation"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// componentsView holds an example of each part.
type componentsView struct {
	view.Page
	Form     form.Form
	Fields   []view.Field
	Segments []view.Choice
	Tiles    []view.Choice
	Radios   []view.Choice
	Checks   []view.Choice
	Boxes    []view.Choice
	Taps     []view.Choice
	Ways     []view.Choice
	Small    view.Field
	Notices  []text.Guarded
	Steps    []text.Line
	Journal  view.Journal
	Job      view.Progress
	Rule     svg.Rule
	Mini     svg.Mini
	K        svg.KRule
	Chart    svg.Chart
	Jar      svg.Jar
	Fizz     svg.FizzJar
	Scatter  *svg.Scatter
	Cores    *svg.CorePicture
	Tray     *svg.Tray
	Profile  *svg.Profile
	Stair    svg.Stair
	Strip    svg.Strip
	Days     svg.DayStrip
	Plan     svg.Plan
	Sign     string
	Said     []present.Run
	Surprise *present.Surprise
	// Seen are observations on a bed.
	Seen struct {
		Path string
		Rows []present.SeenRow
	}
}

// ShowComponents shows every component in each of its states.
func (s *Handler) ShowComponents(c *gin.Context) error {
	all, err := s.App(c).BedState.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	v := componentsView{Page: s.Page(c, all.Garden, "Help", "The parts that pages are made of")}
	v.fields()
	v.pictures(v.Today)
	v.drawings(v.Today, all.Garden.Units())
	v.Plan = svg.PlanOf(svg.Scene{Beds: all.Beds, Marks: all.Marks, Layer: svg.Layers(all.Today)[0], Units: all.Garden.Units()}, 760, 520)
	v.Notices = []text.Guarded{{Level: guard.Note, Says: "A note tells what is good to know."},
		{Level: guard.Caution, Says: "A caution tells what may go wrong.", Lifts: "a newer test"},
		{Level: guard.Stop, Says: "A stop tells what is not done.", Lifts: "another crop"}}
	v.Steps = []text.Line{{Label: "what it needs", Value: "265 g/m²", How: "321 × 0.825", Source: "the table of textures"}}
	v.Journal = view.Journal{Back: "/components", Rows: []view.JournalRow{{At: "24 Nov 2026 10:00", Who: "gardener",
		What: "Changed a bed", Undone: true}, {At: "23 Nov 2026 09:00", Who: "gardener", What: "Added a bed"}}}
	v.Message = &view.Message{Text: "What was done is told here, with a way back.", Href: "/", Next: "See it"}
	v.Job = view.Progress{Done: 30, Of: 120, Things: "beds", Percent: 25}
	v.Surprise = &present.Surprise{Says: "7.1 read, 6.4 expected. Test it once more before anything is put on.", Open: true}
	v.Said = []present.Run{{Text: "It is "}, {Text: "sour", Class: "sour"}, {Text: ", by a test of 2 Nov."}}
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "components", &v)
	return nil
}

// fields returns one of each kind, valid and invalid.
func (v *componentsView) fields() {
	f := form.NoForm()
	f.Values = map[string]string{"plain": "Upper ledge", "figure": "six", "day": v.Today.String(), "choice": "loam", "text": "Two\nlines"}
	f.Faults["figure"] = "“six” is not a number."
	f.Conflicts = []view.Conflict{{Name: "depth", Yours: "8", Now: "12"}}
	v.Form = f
	v.Fields = f.Rows([]form.Row{{Name: "plain", Label: "Words", Aside: "if any", Suggests: []string{"Upper ledge", "Lower ledge"}},
		{Name: "figure", Label: "A figure", Mode: form.Decimal, Figure: true}, {Name: "day", Label: "A day", Mode: form.Date},
		{Name: "choice", Label: "One of a list", Options: present.TextureOptions()}, {Name: "text", Label: "Lines", Mode: form.Lines,
			Box: form.Wide}})
	list := func(name string) []view.Choice {
		return []view.Choice{{ID: name + "-1", Name: name, Value: "1", Text: "One", Why: "with its reason", On: true},
			{ID: name + "-2", Name: name, Value: "2", Text: "Two", Why: "another"},
			{ID: name + "-3", Name: name, Value: "3", Text: "Three", Why: "not here", Off: "it cannot be chosen here"}}
	}
	v.Tiles = f.Tiles("tile", "tile", []view.Choice{{Value: "words", Text: "Words", Aside: "and an aside"},
		{Value: "feel", Text: "A feel", Drawn: view.DrawnHandful, Picture: present.Feels[0].ID},
		{Value: "jar", Text: "A jar", Why: "with its reason", Drawn: view.DrawnJar, Picture: svg.FizzJarOf(soil.LimeClear)}})
	v.Segments, v.Radios, v.Checks = list("segment"), list("radio"), list("check")
	v.Boxes, v.Taps, v.Ways = list("box"), list("tap"), list("way")
	v.Small = f.Small("small", "A small figure", "12", "figure")
}

func (v *componentsView) pictures(today quantity.Day) {
	span := crop.Range{Low: 6.2, High: 6.8}
	v.Rule = svg.RuleOf(350, span, "a range", "sour", 5.7, 0.14, 6.5, "pH 5.7, to be brought to 6.5")
	v.Mini = svg.MiniOf(span, 6.4, 6.0, 6.8, 5, 7.5)
	k := quantity.Concentration(90)
	v.K = svg.KRuleOf(soil.PotassiumScale{Critical: 105, EnoughTo: 165, Ceiling: 210}, &k, "Potassium 90 ppm")
	read := func(months int, ph quantity.PH) garden.Reading {
		return garden.Reading{Date: today.AddMonths(months), Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15}
	}
	v.Chart = svg.ChartOf(svg.Series{Range: span, Label: "a range", Today: today, From: today.AddMonths(-24), To: today.AddMonths(12),
		Readings: []garden.Reading{read(-20, 5.6), read(-9, 5.9), read(-1, 6.3)}}, 760, 220)
	v.Chart.Title, v.Chart.Says = "A chart says what it found", "A chart says what it found. The same figures stand in the table below."
	v.Scatter = svg.ScatterOf(4.5, 100)
	v.Jar, v.Fizz = svg.JarOf(48, 48, 24), svg.FizzJarOf(soil.LimeClear)
}

// drawings fills in the drawings of field pages.
func (v *componentsView) drawings(today quantity.Day, u text.Units) {
	bed := garden.Bed{Kind: garden.KindBed, Shape: garden.ShapeRect, W: 6, H: 1.2, Texture: soil.Loam, Depth: 0.15, Worked: soil.Surface}
	v.Cores = svg.CoresOf(bed, 12, 1, map[int]bool{1: true})
	layers := sampling.Layers(bed.Ground(soil.CoolTable))
	v.Tray = svg.TrayOf("1A", layers, u)
	v.Profile = svg.ProfileOf(soil.Profile{Layered: true, In: []soil.Slice{{From: 0, To: 0.05, PH: 6.6, Read: true},
		{From: 0.05, To: 0.15, PH: 5.8, Read: true}}}, crop.Range{Low: 6.2, High: 6.8}, u)
	v.Stair = svg.StairOf([]svg.Tread{{Name: "Loosen the soil", Day: today + 7, Rests: 14}, {Name: "Sow or plant", Day: today + 40,
		Last: true}}, today, 560)
	v.Strip = svg.StripOf(265, 180, 350, 400)
	v.Days = svg.DayStripOf([]calendar.Window{{From: today + 30, To: today + 90}}, today, today+calendar.Horizon, today+40, today+50, 360)
	v.Sign = symptom.Symptoms[0].ID
	v.Seen.Path = "/components"
	v.Seen.Rows = present.SeenRows([]observation.Observed{{Observation: garden.Observation{Day: today, Sign: v.Sign}, Open: true}})
}
