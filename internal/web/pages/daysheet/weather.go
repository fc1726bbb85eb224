package daysheet

import (
	"context"
	"errors"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/web/form"
)

// skyView is the weather strip of the sheet.
type skyView struct {
	Days []skyDay
	// Says is the finding, Source the source of the weather.
	Says, Source string
	Simulated    bool
	// To is the next good day for applications that the weather blocks today; "" is none.
	To, Button string
	Fault      string
}

type skyDay struct {
	Name, Word, Says string
	Fair, Today      bool
}

// skies returns the next ten days, and those before that soak the ground.
func (s *Handler) skies(ctx context.Context, g garden.Garden, from quantity.Day) (calendar.Skies, error) {
	if s.Weather == nil {
		return nil, nil
	}
	spot := instrument.Spot{Climate: g.ClimateNormals(), Usual: g.Weather()}
	return s.Weather.Days(ctx, spot, from-calendar.SoakingDays, from+instrument.ForecastDays-1, s.Clock.Today())
}

// workOf returns a task's application; ok is false if it applies nothing.
func workOf(sh *schedule.Sheet, t *garden.Task) (w calendar.Work, ok bool) {
	m, ok := material.Find(t.What)
	if !ok || t.Kind != garden.TaskApplication {
		return w, false
	}
	if p, there := sh.States[t.BedID]; there {
		return calendar.WorkOn(m.Family, &p.Ground), true
	}
	return calendar.Work{Family: m.Family}, true
}

// dueWork returns the due applications; ash if there are none.
func dueWork(sh *schedule.Sheet) (out []calendar.Work) {
	for i := range sh.Due {
		if w, ok := workOf(sh, &sh.Due[i]); ok && !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	if len(out) == 0 {
		return []calendar.Work{{Family: material.Ash}}
	}
	return out
}

// sky returns the weather strip; nil without weather.
func (s *Handler) sky(ctx context.Context, sh schedule.Sheet) (*skyView, string) {
	skies, err := s.skies(ctx, sh.Garden, sh.Today)
	if s.Weather == nil || err == nil && len(skies) == 0 {
		return nil, ""
	}
	v := &skyView{Source: s.Weather.Name() + ".", Simulated: s.Weather.Simulated()}
	if err != nil {
		v.Says = "The weather could not be read: " + err.Error() + "."
		return v, ""
	}
	work, warmth := dueWork(&sh), sh.Garden.Warmth()
	for d := sh.Today; d < sh.Today+instrument.ForecastDays; d++ {
		why := skies.Against(d, work...)
		x := skyDay{Name: d.Time().Format("Mon")[:2], Word: text.SkyWord(why), Fair: why == calendar.Fair, Today: d == sh.Today}
		x.Says = text.Weekday(d) + ": " + x.Word
		if sky, ok := skies.On(d); ok {
			x.Says += ", " + skySays(sky, warmth)
		}
		v.Days = append(v.Days, x)
	}
	v.Says = text.SkyAhead(skies, sh.Today, instrument.ForecastDays, work)
	if to := skies.NextFair(sh.Today, work...); len(weatherHeld(sh, skies)) > 0 && to != 0 && sh.Today == s.Clock.Today() {
		v.To, v.Button = to.String(), "Move what waits to "+text.Weekday(to)
	}
	now := ""
	if sky, ok := skies.On(sh.Today); ok {
		now = text.Capital(skySays(sky, warmth)) + "."
	}
	return v, now
}

// skySays formats a day's weather with the soil temperature that everything else is computed with:
// what a station says of past days is imported into it, what a stand-in says is not, and days to
// come are the usual ones. The rules also look at the source's own figure.
func skySays(sky calendar.Sky, warmth soil.Climate) string {
	if sky.Soil != nil {
		at := warmth.At(sky.Day)
		sky.Soil = &at
	}
	return text.SkySays(sky)
}

// weatherHeld returns the due applications that the day's weather blocks.
func weatherHeld(sh schedule.Sheet, skies calendar.Skies) (out []garden.Task) {
	for i := range sh.Due {
		t := sh.Due[i]
		w, ok := workOf(&sh, &t)
		if _, held := sh.Held[t.ID]; !ok || held {
			continue
		}
		if why := skies.Against(sh.Today, w); why != calendar.Fair && why != calendar.Unknown {
			out = append(out, t)
		}
	}
	return out
}

// WaitForWeather moves blocked applications to the next good day.
func (s *Handler) WaitForWeather(c *gin.Context) error {
	today := s.Clock.Today()
	sh, err := s.App(c).Schedule.Sheet(c.Request.Context(), today, today)
	if err != nil {
		return err
	}
	skies, err := s.skies(c.Request.Context(), sh.Garden, today)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	to := f.Day("to")
	if len(f.Faults) > 0 || to <= today {
		return garden.ErrStale
	}
	r, err := s.App(c).Schedule.Wait(c.Request.Context(), s.Actor(c), weatherHeld(sh, skies), to)
	var faults garden.Faults
	if errors.As(err, &faults) {
		f.Add(err)
		f.Sentences()
		return s.ShowSheet(c, http.StatusUnprocessableEntity, 0, f)
	}
	return s.Finish(c, "/sheet", r, err)
}
