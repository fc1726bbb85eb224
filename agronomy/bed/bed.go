// Package bed judges a bed on a day from its record: crop and range, the pH and potassium
// that its readings come to, what it was given, and the conditions of the calendar.
package bed

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Record is what is known of a bed on a day.
type Record struct {
	// Date is the day that the bed is judged for.
	Date quantity.Day
	// Climate is the place's soil temperatures, by its own months.
	Climate soil.Climate
	Ground  soil.Ground
	// Reading is the zero Reading where there is none.
	Reading soil.Reading
	// More are further readings of the same bed, to be joined with Reading.
	More []soil.Reading
	// Crop is nil when none is named.
	Crop *crop.Crop
	// With are crops that stand in the bed together with Crop.
	With []crop.Crop
	// Ahead is set when Crop is still to be planted. Since is the day on which it was planted, 0
	// when unknown.
	Ahead bool
	Since quantity.Day
	// Water is the alkalinity of what the bed is watered with, mg/L CaCO₃; nil
	// when not known.
	Water *float64
	// History is what was applied to the bed.
	History ledger.Ledger
	// Grown are the crops that carried potassium off.
	Grown []ledger.Grown
	// Carried is the bed's potassium on Date when the caller has a better figure than Grown,
	// History and the readings give; nil: it is carried forward from those.
	Carried *soil.KCarried
	// Sowing and Planted are the days on which a crop is, or was, sown or planted out; Cleared is
	// the day on which the standing crop is off.
	Sowing, Planted, Cleared quantity.Day
	// Sown are further sowings and plantings, for beds with one crop after another.
	Sown []calendar.Start
	// Days are the gardener's own dates for the calendar.
	Days calendar.Days
}

// Readings returns all that were given, the leading one first.
func (r *Record) Readings() []soil.Reading {
	if len(r.More) == 0 {
		return []soil.Reading{r.Reading}
	}
	return append([]soil.Reading{r.Reading}, r.More...)
}

// Starts returns all sowings and plantings.
func (r *Record) Starts() []calendar.Start {
	if r.Sowing == 0 && r.Planted == 0 {
		return r.Sown
	}
	out := slices.Clone(r.Sown)
	if r.Sowing != 0 {
		out = append(out, calendar.StartOf(r.next(), r.Sowing, false))
	}
	if r.Planted != 0 {
		out = append(out, calendar.StartOf(r.next(), r.Planted, true))
	}
	return out
}

// next returns the crop that Sowing and Planted are of.
func (r *Record) next() crop.Crop {
	if r.Crop == nil {
		return crop.Unnamed
	}
	return *r.Crop
}

// stands reports whether a perennial crop stands on the bed on the record's day, and since when, 0
// when unknown.
func (r *Record) stands(c crop.Crop) (stands bool, since quantity.Day) {
	since = r.Since
	for _, day := range []quantity.Day{r.Sowing, r.Planted} {
		if day > r.Date {
			return false, 0
		}
		if since == 0 {
			since = day
		}
	}
	return c.Is(crop.Perennial) && !r.Ahead, since
}

// Worked returns the ground as the bed of the record is worked with the crop that stands there.
func (r *Record) Worked() soil.Ground {
	var s Judgement
	s.plant(r)
	return r.Ground.Resolved(r.stands(s.Crop))
}

// Standing is the verdict on a bed's pH against its crop's range.
type Standing string

// The verdicts.
const (
	Sour     Standing = "sour"
	InRange  Standing = "in-range"
	TooSweet Standing = "too-sweet"
	Untested Standing = "untested"
)

// Standings lists them in the order in which they are reported.
var Standings = []Standing{Sour, TooSweet, Untested, InRange}

// Judgement is the result of Judge: a bed's pH, potassium and calendar conditions on one day.
type Judgement struct {
	Date quantity.Day
	// Ground is the ground with its defaults filled in; FoundMuck is set when its organic matter
	// makes it muck.
	Ground    soil.Ground
	FoundMuck bool
	// Reading is the combined reading, Joined describes how it was combined, SD is its standard
	// deviation, pH units.
	Reading soil.Reading
	Joined  soil.Joined
	SD      float64
	// Crop is the standing or next crop; several are merged into one. The bed is judged by its
	// Range. Conflict is set when the ranges of First and Second do not overlap. Tomatoes is set when
	// tomatoes are among them.
	Crop          crop.Crop
	Conflict      bool
	First, Second crop.Crop
	Tomatoes      bool
	// Profile is the pH by depth. PH is the figure that the bed is judged by, water basis, 0 when
	// unknown; Lands is the pH of the layer that an application meets.
	Profile   soil.Profile
	PH, Lands quantity.PH
	Standing  Standing
	// Off is the distance of PH outside the range, 0 inside it.
	Off quantity.PH
	// K is the potassium status, carried forward to the day.
	K soil.PotassiumNow
	// SinceAsh and SinceLime are days from the last application before the reading to the reading,
	// negative when there was none. UsedAfter is set when something was applied after the reading
	// that was not planned from it.
	SinceAsh, SinceLime quantity.Day
	UsedAfter           bool
	Water               *float64
	Season              calendar.Conditions
}

// Judge reports how a bed stands on its record's day.
func Judge(r *Record) Judgement {
	s := Judgement{Date: r.Date, Crop: crop.Unnamed, Water: r.Water, Standing: Untested}
	s.Ground, s.FoundMuck = r.Ground.AsFound()
	s.plant(r)
	stands, since := r.stands(s.Crop)
	s.Ground = s.Ground.Resolved(stands, since)
	s.read(r)
	s.K = s.potassium(r)
	s.Season = s.season(r)
	return s
}

// tomato is the crop on which ash methods differ.
const tomato = "tomato"

func (s *Judgement) plant(r *Record) {
	if r.Crop == nil {
		return
	}
	all := make([]crop.Crop, 0, 1+len(r.With))
	all = append(all, r.Crop.ByRule())
	for _, c := range r.With {
		all = append(all, c.ByRule())
	}
	var ok bool
	if s.Crop, s.First, s.Second, ok = crop.Together(all); !ok {
		// Nothing is dosed. The first crop's range is shown meanwhile.
		s.Conflict, s.Crop.Range, s.Crop.Aim = true, all[0].Range, all[0].Aim
	}
	s.Tomatoes = slices.ContainsFunc(all, func(c crop.Crop) bool { return c.ID == tomato })
}

// read combines the readings and fills in the pH verdict.
func (s *Judgement) read(r *Record) {
	s.SinceAsh, s.SinceLime = -1, -1
	s.Reading = r.Reading
	if r.Reading.Date.IsZero() {
		return
	}
	var moved []quantity.Day
	if len(r.More) > 0 {
		moved = r.History.Movers()
	}
	s.Joined = soil.Join(r.Readings(), moved)
	s.Reading = s.Joined.Reading
	if lime := s.Joined.FreeLime; lime != "" && s.Ground.FreeLime == soil.LimeUnknown {
		s.Ground.FreeLime = lime
	}
	s.SD = s.Reading.SD()
	s.Profile = soil.ProfileOf(s.Ground, s.Reading)
	span := s.Crop.Range
	s.PH, s.Lands = s.Profile.Judge(s.Ground.Worked, span.Low, span.High), s.Profile.Lands(s.Ground.Worked)
	if s.PH > 0 {
		s.Standing, s.Off = Against(span, s.PH)
	}
	s.SinceAsh, s.SinceLime = r.History.Since(s.Reading.Date)
	s.UsedAfter = r.History.UsedAfter(s.Reading.Date)
}

// Against compares a pH with a range and returns the verdict and the distance outside the range.
func Against(span crop.Range, ph quantity.PH) (st Standing, off quantity.PH) {
	switch {
	case ph < span.Low:
		return Sour, span.Low - ph
	case ph > span.High:
		return TooSweet, ph - span.High
	}
	return InRange, 0
}

// Single returns the standard deviation of a reading that stands alone, 0 when several were
// combined.
func (s *Judgement) Single() float64 {
	if s.Joined.N == 1 {
		return s.SD
	}
	return 0
}

// Muck reports whether the bed is judged as muck.
func (s *Judgement) Muck() bool {
	return s.Ground.Texture.ID == soil.Muck && !s.Crop.Is(crop.AcidLover)
}

// Spread returns how an application meets the soil: dug in only when nothing on the bed prevents
// it.
func (s *Judgement) Spread() soil.Worked {
	if s.OnTop() && s.Ground.Worked == soil.Dug {
		return soil.Surface
	}
	return s.Ground.Worked
}

// OnTop reports whether what is put on is left on the surface.
func (s *Judgement) OnTop() bool {
	return s.Ground.Worked != soil.Dug || s.Ground.Use == soil.UseLawn
}

// bearing returns the months in which what stands on the bed for years is picked.
func bearing(r *Record) (out []calendar.Bears) {
	if r.Crop == nil {
		return nil
	}
	for _, c := range append([]crop.Crop{*r.Crop}, r.With...) {
		if b, ok := calendar.BearsOf(c, r.Climate.South()); ok {
			out = append(out, b)
		}
	}
	return out
}

// season returns the conditions that the calendar needs.
func (s *Judgement) season(r *Record) calendar.Conditions {
	g := &s.Ground
	kept := g.Use == soil.UseLawn || g.Use == soil.UseTree
	season := calendar.Conditions{
		Weather: &r.Climate, Starts: r.Starts(), Cleared: r.Cleared, SowingGap: s.Crop.SowingGap(),
		Perennial: kept || s.Crop.Is(crop.Perennial), Dug: g.Worked == soil.Dug, History: r.History,
		Days: r.Days, Sandy: g.Texture.ID == soil.Sand || g.Texture.ID == soil.LoamySand,
	}
	season.Bears = bearing(r)
	// Something dug in wants clear ground, so only ash left on top can be a side
	// dressing; what stands for years takes it while dormant, unless it welcomes it.
	wanted := s.Crop.Is(crop.AshWelcome) || s.K.State == soil.Short && !s.Crop.Is(crop.Perennial)
	season.SideDress = !kept && g.Worked != soil.Dug && s.Profile.Top < material.AshTop && wanted
	if s.PH > 0 && s.PH < crop.LockOut {
		season.Starts = slices.Clone(season.Starts)
		for i := range season.Starts {
			season.Starts[i].Scab = false // below this pH potatoes suffer more from acidity than from scab, so lime goes first
		}
	}
	if st := g.State; st != "" && st != soil.Open {
		season.ShutUntil = r.Date + calendar.LookAgain
	}
	return season
}
