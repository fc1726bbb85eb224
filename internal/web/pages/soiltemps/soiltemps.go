package soiltemps

import (
	"bytes"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type warmthView struct {
	view.Page
	Says    string
	Form    form.Form
	Fields  map[string]view.Field
	Picture svg.Warmth
	Rows    []warmthRow
	More    string
}

type warmthRow struct {
	ID, Version               int64
	Day, Soil, Beside, Source string
	Key                       string
}

// mostWarmthRows is the largest number of days listed.
const mostWarmthRows = 60

// warmthTable returns the fields of one day, and of a station's file.
func warmthTable(today quantity.Day) form.Table {
	return form.Table{{Name: "soil_c", Label: "Soil, °C", Mode: form.Decimal},
		{Name: "day", Label: "On", Mode: form.Date, Max: today.String()},
		{Name: "file", Label: "The file", Mode: form.File, Accept: form.CSV},
		{Name: "csv", Label: "or its lines", Mode: form.Lines, Lines: 3, Group: "file"}}
}

// Warmth shows the year's soil temperature, measured and usual.
func (s *Handler) Warmth(c *gin.Context) error { return s.showWarmth(c, http.StatusOK, form.NoForm()) }

func (s *Handler) showWarmth(c *gin.Context, status int, f form.Form) error {
	today := s.Clock.Today()
	x, err := s.App(c).Layout.Soil(c.Request.Context())
	if err != nil {
		return err
	}
	climate := x.Garden.Warmth()
	v := warmthView{Form: f, Fields: f.Fields(warmthTable(today)),
		Picture: svg.WarmthOf(climate, today.AddMonths(-11), today.AddMonths(2), 560)}
	for i, d := range x.Days {
		if i == mostWarmthRows {
			v.More = text.Count(len(x.Days)-i, "day", "days") + " before them."
			break
		}
		row := warmthRow{d.ID, d.Version, text.DayYear(d.Day), text.Temperature(d.Soil), besideUsual(d.Soil - climate.Usual(d.Day)), d.Source,
			form.NewKey()}
		v.Rows = append(v.Rows, row)
	}
	v.Page = s.Page(c, x.Garden, site.SettingsTab, warmthTitle(x, climate.At(today), today))
	v.Says = "Your readings override the averages: for which days are suitable, and for how fast lime, ash and sulfur act. Days between two " +
		"measured ones are filled in between; after the last one the usual temperature returns within weeks."
	f.Sentences()
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "warmth", v)
	return nil
}

// besideUsual returns a deviation from the usual in words.
func besideUsual(off quantity.Temperature) string {
	switch {
	case off >= 0.5:
		return text.Temperature(off) + " above"
	case off <= -0.5:
		return text.Temperature(-off) + " below"
	}
	return "as usual"
}

func warmthTitle(x layout.Soil, now quantity.Temperature, today quantity.Day) string {
	if len(x.Days) == 0 {
		return "No soil temperature was measured yet"
	}
	last := x.Days[0]
	if last.Day == today {
		return "Soil " + text.Temperature(last.Soil) + " today"
	}
	return "Soil " + text.Temperature(last.Soil) + " on " + text.NearDay(last.Day, today) + ", about " + text.Temperature(now) + " now"
}

// NoteWarmth saves a soil temperature.
func (s *Handler) NoteWarmth(c *gin.Context) error {
	f := form.Posted(c)
	x := garden.SoilDay{Day: f.Day("day")}
	if f.Value("day") == "" {
		x.Day = s.Clock.Today()
	}
	x.Soil = quantity.Temperature(f.Needed("soil_c", "How warm is it, in °C?"))
	if len(f.Faults) > 0 {
		return s.showWarmth(c, http.StatusUnprocessableEntity, f)
	}
	return s.saveTemperatures(c, f, []garden.SoilDay{x})
}

// saveTemperatures saves soil temperatures and redirects; also if all were known.
func (s *Handler) saveTemperatures(c *gin.Context, f form.Form, days []garden.SoilDay) error {
	n, r, err := s.App(c).Layout.ImportSoil(c.Request.Context(), s.Actor(c), days)
	if f.Add(err) {
		return s.showWarmth(c, http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	if n == 0 && !r.Repeated {
		c.Redirect(http.StatusSeeOther, "/warmth")
		return nil
	}
	s.Done(c, "/warmth", r)
	return nil
}

// TakeWarmth imports the soil temperatures of a weather file, up to today.
func (s *Handler) TakeWarmth(c *gin.Context) error {
	f := form.Posted(c)
	name, data, err := present.UploadedOr(c, "soil.csv", f.Value("csv"))
	if err == nil {
		var skies calendar.Skies
		if skies, err = instrument.ReadSkies(bytes.NewReader(data)); err != nil {
			err = garden.Faults{"file": err.Error()}
		} else if days := SoilOf(skies, name, s.Clock.Today()); len(days) > 0 {
			return s.saveTemperatures(c, f, days)
		} else {
			err = garden.Faults{"file": "no day up to today has a figure in soil_c or soil_f"}
		}
	}
	if f.Add(err) {
		return s.showWarmth(c, http.StatusUnprocessableEntity, f)
	}
	return err
}

// clippedName returns a file's name, shortened to the limit.
func clippedName(name string) string {
	if r := []rune(name); len(r) > garden.LongestName {
		return string(r[:garden.LongestName])
	}
	return name
}

// SoilOf returns the soil temperatures in a weather table up to a day.
func SoilOf(skies calendar.Skies, source string, upTo quantity.Day) (out []garden.SoilDay) {
	for _, x := range skies {
		if x.Soil != nil && x.Day <= upTo {
			out = append(out, garden.SoilDay{Day: x.Day, Soil: *x.Soil, Source: clippedName(source)})
		}
	}
	return out
}

// DropWarmth deletes a soil temperature.
func (s *Handler) DropWarmth(c *gin.Context) error {
	return s.Press(c, "/warmth", s.App(c).Layout.DropSoil)
}
