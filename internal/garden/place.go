package garden

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// Tap is the Watered value for tap water.
const Tap = "tap"

// The sources of a texture besides being entered.
const (
	ByJar  = "jar"
	ByFeel = "feel"
)

// Units returns the gardener's units.
func (g Garden) Units() text.Units {
	return text.Units{AreaIn: g.AreaUnit, DepthIn: g.DepthUnit, WeightIn: g.WeightUnit, RateIn: g.RateUnit}
}

// Days returns the gardener's working days.
func (g Garden) Days() (d calendar.Days) {
	for _, n := range g.WorkDays {
		if n >= 0 && n < 7 {
			d.Week[int(n)] = true
		}
	}
	d.Away = g.Away
	return d
}

// mostAway is the largest number of stretches without work.
const mostAway = 40

// CheckDays validates the working days, by field.
func CheckDays(g Garden, f Faults) {
	for i, n := range g.WorkDays {
		if n != float64(int(n)) || n < 0 || n > 6 || slices.Contains(g.WorkDays[:i], n) {
			f["work_days"] = "choose days of the week, each once"
		}
	}
	if len(g.Away) > mostAway {
		f["away"] = fmt.Sprintf("at most %d stretches", mostAway)
	}
	for _, x := range g.Away {
		switch {
		case x.From.IsZero() || x.To.IsZero():
			f["away"] = "a stretch away wants its first and its last day"
		case x.To < x.From:
			f["away"] = "the last day comes after the first"
		case DayFault(x.From) != "":
			f["away"] = DayFault(x.From)
		case DayFault(x.To) != "":
			f["away"] = DayFault(x.To)
		}
	}
}

// Methods returns the garden's default methods. Those added later may be empty for the program's
// default.
func (g Garden) Methods() dose.Methods {
	s := dose.Methods{Retest: g.RetestRhythm, Water: g.WaterApproach, TomatoAsh: g.TomatoAsh, Fizz: g.FizzApproach,
		Pace: g.Pace}.Or(dose.Methods{})
	s.Buffering, s.Ash, s.Act = soil.LimeMethod(g.Buffering), material.AshApproach(g.AshApproach), crop.Trigger(g.Trigger)
	return s
}

// SetMethods sets them.
func (g *Garden) SetMethods(s dose.Methods) {
	g.Buffering, g.AshApproach, g.Trigger = string(s.Buffering), string(s.Ash), string(s.Act)
	g.RetestRhythm, g.WaterApproach, g.TomatoAsh, g.FizzApproach, g.Pace = s.Retest, s.Water, s.TomatoAsh, s.Fizz, s.Pace
}

// Alkalinity returns that of tap water, mg/L CaCO₃; nil if nothing is known.
func (g Garden) Alkalinity() *float64 {
	mg, ok := soil.Alkalinity(g.WaterAlkalinity, g.WaterHardness, g.WaterPH)
	if !ok {
		return nil
	}
	return &mg
}

// Weather returns the place's rain and frost: its own if entered, else the climate's.
func (g Garden) Weather() soil.Weather {
	w := soil.FindWeather(g.Climate, g.Hemisphere)
	if len(g.Rain) == len(w.Rain) {
		copy(w.Rain[:], g.Rain)
	}
	if d, err := soil.ParseMonthDay(g.LastFrost); err == nil && d.Month != 0 {
		w.LastFrost = d
	}
	if d, err := soil.ParseMonthDay(g.FirstFrost); err == nil && d.Month != 0 {
		w.FirstFrost = d
	}
	return w
}

// usualChips are those of a common colour kit.
var usualChips = Figures{4, 4.5, 5, 5.5, 6, 6.5, 7, 7.5, 8}

// Chips returns the colour kit's chips: the gardener's own, else a common kit's.
func (g Garden) Chips() Figures {
	if len(g.KitChips) < 2 {
		return usualChips
	}
	return g.KitChips
}

// autumns are the months in which a season usually begins: one winter's lime then lies in one season.
var autumns = map[string]time.Month{soil.North: time.September, soil.South: time.March}

// SeasonStart returns the month in which a season begins.
func (g Garden) SeasonStart() time.Month {
	if g.SeasonFrom != 0 {
		return time.Month(g.SeasonFrom)
	}
	return autumns[g.Hemisphere]
}

// SeasonOf returns the name of the season of a day: the year, or the two that it spans.
func (g Garden) SeasonOf(d quantity.Day) string {
	start, from := g.SeasonStart(), d.Year()
	if d.Month() < start {
		from--
	}
	if start <= time.January {
		return strconv.Itoa(d.Year())
	}
	return fmt.Sprintf("%d/%02d", from, (from+1)%100)
}

// longestCurrency is the longest currency sign, letters.
const longestCurrency = 5

// checkHabits validates a place's units, currency, water and weather.
func checkHabits(g Garden, f Faults) {
	if !g.Units().Known() {
		f["units"] = "choose units of the lists"
	}
	if g.SeasonFrom < 0 || g.SeasonFrom > 12 {
		f["season_from"] = "choose a month of the list"
	}
	if TextFault(g.Currency, longestCurrency, false) != "" || strings.ContainsAny(g.Currency, "0123456789<>") {
		f["currency"] = fmt.Sprintf("a sign or at most %d letters", longestCurrency)
	}
	holdOpt(LimitWaterPH, f, "water_ph", g.WaterPH)
	holdOpt(LimitWater, f, "alkalinity", g.WaterAlkalinity)
	holdOpt(LimitWater, f, "hardness", g.WaterHardness)
	if len(g.KitChips) > mostChips {
		f["kit_chips"] = fmt.Sprintf("at most %d chips", mostChips)
	}
	for i, c := range g.KitChips {
		if !LimitChips.Holds(c) || i > 0 && c <= g.KitChips[i-1] {
			f["kit_chips"] = "the chips are pH values from 3 to 10, each above the one before"
		}
	}
	if n := len(g.Rain); n != 0 && n != 12 {
		f["rain"] = "fill in all twelve months, or none"
	}
	for m, mm := range g.Rain {
		if !LimitRain.Holds(mm) {
			f["rain"] = fmt.Sprintf("month %d: %s", m+1, LimitRain.Says())
		}
	}
	for field, s := range map[string]string{"last_frost": g.LastFrost, "first_frost": g.FirstFrost} {
		if _, err := soil.ParseMonthDay(s); err != nil {
			f[field] = err.Error()
		}
	}
}

// checkSoil validates a bed's soil.
func checkSoil(b Bed, f Faults) {
	holdOpt(LimitPercent, f, "clay", b.Clay)
	LimitStones.hold(f, "stones", float64(b.Stones))
	holdOpt(LimitCEC, f, "cec", b.CEC)
	for _, mm := range b.Jar {
		LimitJar.hold(f, "jar", mm)
	}
	if b.TextureBy != "" && b.TextureBy != ByJar && b.TextureBy != ByFeel {
		f["texture_by"] = "choose how the texture was found"
	}
	if b.TextureBy == ByJar {
		if len(b.Jar) != 3 {
			f["jar"] = "the jar has three layers: sand, silt and clay"
		} else if _, _, _, ok := (soil.JarTest{Sand: b.Jar[0], Silt: b.Jar[1], Clay: b.Jar[2]}).Class(); !ok {
			f["jar"] = "the layers are 0 mm or more, and not all 0"
		}
	}
	if b.Watered != "" && b.Watered != Tap {
		f["watered"] = "choose rain or the tap"
	}
}

// CheckPlace validates a place, by field.
func CheckPlace(g Garden) error {
	f := Faults{}
	if why := nameFault(g.Name, "give the garden a name"); why != "" {
		f["name"] = why
	}
	if _, ok := soil.FindClimate(g.Climate, g.Hemisphere); !ok {
		f["climate"] = "choose the climate that is nearest"
	}
	if g.Hemisphere != soil.North && g.Hemisphere != soil.South {
		f["hemisphere"] = "choose north or south"
	}
	if g.SoilTable != soil.CoolTable && g.SoilTable != soil.WarmTable {
		f["table"] = "choose cool or warm"
	}
	for i := range dose.Questions {
		q, methods := &dose.Questions[i], g.Methods()
		if !slices.Contains(q.Habits, q.Of(&methods)) {
			f[q.Name] = "choose an approach"
		}
	}
	if n := len(g.SoilTemps); n != 0 && n != 12 {
		f["temps"] = "fill in all twelve months, or none"
	}
	for m, t := range g.SoilTemps {
		if !LimitSoilTemp.Holds(float64(t)) {
			f["temps"] = fmt.Sprintf("month %d: %s", m+1, LimitSoilTemp.Says())
		}
	}
	checkHabits(g, f)
	CheckDays(g, f)
	return f.OrNil()
}

// Place returns the garden record.
func (svc Service) Place(ctx context.Context) (g Garden, err error) {
	err = svc.Store.Read(ctx, func(r Reader) error { g, err = r.Garden(); return err })
	return g, err
}
