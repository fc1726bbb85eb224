package garden

import (
	"time"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Garden is the place with its defaults. There is one record.
type Garden struct {
	Meta
	Name        string            `db:"name" json:"name"`
	Climate     string            `db:"climate" json:"climate"`
	Hemisphere  string            `db:"hemisphere" json:"hemisphere"`
	SoilTable   soil.TableClimate `db:"soil_table" json:"soil_table"`
	Buffering   string            `db:"buffering" json:"buffering"`
	AshApproach string            `db:"ash_school" json:"ash_school"`
	Trigger     string            `db:"act_school" json:"act_school"`
	// The default methods; "" is the program's default.
	FizzApproach  dose.FizzApproach   `db:"fizz_school" json:"fizz_school"`
	TomatoAsh     dose.TomatoApproach `db:"tomato_ash" json:"tomato_ash"`
	WaterApproach dose.WaterApproach  `db:"water_school" json:"water_school"`
	RetestRhythm  calendar.Rhythm     `db:"retest_rhythm" json:"retest_rhythm"`
	Pace          dose.Pace           `db:"pace_school" json:"pace_school"`
	// SoilTemps are the place's own soil temperatures, twelve from January; empty: the climate's.
	SoilTemps Normals `db:"soil_temp_c" json:"soil_temp_c"`
	// Rain is the place's own rain by month, mm; empty: the climate's.
	Rain Figures `db:"rain_mm" json:"rain_mm"`
	// LastFrost and FirstFrost are the usual days, MM-DD; "": the climate's.
	LastFrost  string `db:"last_frost" json:"last_frost"`
	FirstFrost string `db:"first_frost" json:"first_frost"`
	// The gardener's units; "" is metric.
	AreaUnit   string `db:"area_unit" json:"area_unit"`
	DepthUnit  string `db:"depth_unit" json:"depth_unit"`
	WeightUnit string `db:"weight_unit" json:"weight_unit"`
	RateUnit   string `db:"rate_unit" json:"rate_unit"`
	// Currency is a prefix or suffix of prices: "€", "kr".
	Currency string `db:"currency" json:"currency"`
	// Known properties of tap water; alkalinity and hardness are mg/L CaCO₃.
	WaterPH         *quantity.PH `db:"water_ph" json:"water_ph"`
	WaterAlkalinity *float64     `db:"water_alkalinity_mg_l" json:"water_alkalinity_mg_l"`
	WaterHardness   *float64     `db:"water_hardness_mg_l" json:"water_hardness_mg_l"`
	// KitChips are the pH of each chip of the colour kit, rising.
	KitChips Figures `db:"kit_chips" json:"kit_chips"`
	// WorkDays are the working weekdays, Sunday is 0; empty: all.
	WorkDays Figures `db:"work_days" json:"work_days"`
	// Away are stretches without work.
	Away Stretches `db:"away" json:"away"`
	// Measured are the measured soil temperatures, which are records of their own.
	Measured []soil.Warm10 `db:"-" json:"-"`
	// SeasonFrom is the month in which a season begins, 1 to 12; 0: the autumn of the hemisphere.
	SeasonFrom int `db:"season_from" json:"season_from"`
	// Rehearsal is permanently set on a garden made for trying things out, on a calendar of its
	// own.
	Rehearsal bool `db:"rehearsal" json:"rehearsal"`
	// Started is the first day of the records; in the demo, of its own calendar.
	Started quantity.Day `db:"started" json:"started"`
}

var gardenTable = Table{Name: "garden", One: "the garden", New: func() Record { return &Garden{} }, Most: 1}

func (g *Garden) check(f Faults) {
	if g.ID != 1 {
		f["id"] = "the garden’s own number is 1"
	}
	f.join(CheckPlace(*g))
}

// Service reads the place and its journal, and undoes changes. It has no clock.
type Service struct{ Store Store }

// Actor is who posts a change, when, on which day of the garden's calendar, and with which
// idempotency key.
type Actor struct {
	Who   string
	Key   string
	At    time.Time
	Today quantity.Day
	// Sure is the token of questions that were answered by posting again.
	Sure string
	// Digest is a hash of what was posted under the key.
	Digest string
}

// Change returns the actor's change for the store.
func (a Actor) Change() Change { return Change{Key: a.Key, Digest: a.Digest, Who: a.Who, At: a.At} }

// ClimateNormals returns the place's soil temperatures.
func (g Garden) ClimateNormals() soil.Climate {
	c, ok := soil.FindClimate(g.Climate, g.Hemisphere)
	if !ok {
		c = soil.Climates[0]
	}
	if len(g.SoilTemps) == len(c.Normal) {
		c.ID = "own"
		copy(c.Normal[:], g.SoilTemps)
	}
	return c
}
