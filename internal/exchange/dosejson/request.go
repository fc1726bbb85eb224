// Package dosejson is the JSON of the command line: requests and answers of dose, forecast and
// ration. It imports neither database nor pages.
package dosejson

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"zephyrfield/agronomy/dose"
)

// Request is a dose request. Fields are SI; docs/dose.md describes each.
type Request struct {
	Date      string         `json:"date"`
	Place     *Place         `json:"place,omitempty"`
	Bed       *Bed           `json:"bed"`
	Reading   *Reading       `json:"reading"`
	Readings  []Reading      `json:"readings,omitempty"`
	Crop      string         `json:"crop,omitempty"`
	Crops     []string       `json:"crops,omitempty"`
	OwnCrops  []OwnCrop      `json:"own_crops,omitempty"`
	TargetPH  *float64       `json:"target_ph,omitempty"`
	Method    *Methods       `json:"school,omitempty"`
	Materials []Material     `json:"materials,omitempty"`
	History   []HistoryEntry `json:"history,omitempty"`
	Grown     []Grown        `json:"grown,omitempty"`
	KCarried  *KCarried      `json:"k_carried,omitempty"`
	Sowing    string         `json:"sowing,omitempty"`
	Planted   string         `json:"planted,omitempty"`
	Cleared   string         `json:"cleared,omitempty"`
	Sown      []Start        `json:"sown,omitempty"`
}

// KCarried is potassium carried forward to the request's day, with its changes since the reading.
type KCarried struct {
	PPM     float64 `json:"k_ppm"`
	Given   float64 `json:"given_k2o_g_m2,omitempty"`
	Carried float64 `json:"carried_off_k2o_g_m2,omitempty"`
	Leached float64 `json:"leached_ppm,omitempty"`
}

// Grown is a crop that removed potassium.
type Grown struct {
	Crop string `json:"crop"`
	From string `json:"from"`
	To   string `json:"to,omitempty"`
}

// Start is a further sowing or planting.
type Start struct {
	Date    string `json:"date"`
	Planted bool   `json:"planted,omitempty"`
	// Scab is set for a crop kept at low pH against scab.
	Scab bool `json:"scab,omitempty"`
	// HarvestDays is the time to the first harvest, 0 for a crop that is not eaten; HangsClear is
	// set when the edible part hangs clear of the soil.
	HarvestDays int  `json:"harvest_days,omitempty"`
	HangsClear  bool `json:"hangs_clear,omitempty"`
}

// OwnCrop is a crop that the library lacks, or has differently.
type OwnCrop struct {
	ID      string   `json:"id"`
	Name    string   `json:"name,omitempty"`
	LowPH   *float64 `json:"low_ph"`
	HighPH  *float64 `json:"high_ph"`
	AimPH   *float64 `json:"aim_ph,omitempty"`
	Removal *float64 `json:"k2o_removal_g_m2,omitempty"`
	Flags   []string `json:"flags,omitempty"`
}

// Place is the bed's place.
type Place struct {
	Climate    string `json:"climate,omitempty"`
	Hemisphere string `json:"hemisphere,omitempty"`
	// SoilTempC are the place's own twelve soil temperatures at 10 cm, January first; they override
	// the climate's.
	SoilTempC []float64 `json:"soil_temp_c,omitempty"`
	// SoilMeasured are measured soil temperatures; they override both.
	SoilMeasured []SoilDay `json:"soil_measured,omitempty"`
}

// SoilDay is the soil temperature at 10 cm on a day.
type SoilDay struct {
	Date  string  `json:"date"`
	SoilC float64 `json:"soil_c"`
}

// Bed is the ground.
type Bed struct {
	AreaM2           *float64 `json:"area_m2"`
	DepthCM          *float64 `json:"depth_cm,omitempty"`
	Texture          string   `json:"texture"`
	Table            string   `json:"table,omitempty"`
	Worked           string   `json:"worked,omitempty"`
	DugUntil         string   `json:"dug_until,omitempty"`
	Use              string   `json:"use,omitempty"`
	OrganicMatterPct *float64 `json:"organic_matter_pct,omitempty"`
	ClayPct          *float64 `json:"clay_pct,omitempty"`
	CEC              *float64 `json:"cec,omitempty"`
	FreeLime         string   `json:"free_lime,omitempty"`
	State            string   `json:"state,omitempty"`
	TextureJar       *JarTest `json:"texture_jar,omitempty"`
	TextureFeel      *Feel    `json:"texture_feel,omitempty"`
	WaterAlkalinity  *float64 `json:"water_alkalinity_mg_l,omitempty"`
	StonesPct        *float64 `json:"stones_pct,omitempty"`
	// Begun is true when a correction has begun: the bed is brought to its aim.
	Begun bool `json:"begun,omitempty"`
}

// JarTest is a jar's settled layers, instead of a texture.
type JarTest struct {
	SandMM float64 `json:"sand_mm"`
	SiltMM float64 `json:"silt_mm"`
	ClayMM float64 `json:"clay_mm"`
}

// Feel is the four questions, instead of a texture.
type Feel struct {
	Ball     bool    `json:"ball"`
	RibbonCM float64 `json:"ribbon_cm"`
	Gritty   bool    `json:"gritty"`
	Smooth   bool    `json:"smooth"`
}

// Reading is a soil reading.
type Reading struct {
	Date   string   `json:"date"`
	PH     *float64 `json:"ph,omitempty"`
	Basis  string   `json:"basis,omitempty"`
	Method string   `json:"method,omitempty"`
	Cores  *int     `json:"cores,omitempty"`
	KPPM   *float64 `json:"k_ppm,omitempty"`
	MgPPM  *float64 `json:"mg_ppm,omitempty"`
	CaPPM  *float64 `json:"ca_ppm,omitempty"`
	Fizz   *Fizz    `json:"fizz,omitempty"`

	Layers         []Layer  `json:"layers,omitempty"`
	Buffer         *Buffer  `json:"buffer,omitempty"`
	LabRate        *LabRate `json:"lab_rate,omitempty"`
	Jars           []Jar    `json:"jars,omitempty"`
	BufferCapacity *float64 `json:"buffer_capacity_mg_kg,omitempty"`
	KDate          string   `json:"k_date,omitempty"`
	KExtractant    string   `json:"k_extractant,omitempty"`
	KRange         *KRange  `json:"k_range,omitempty"`
}

// Layer is the pH of a depth range, in the reading's basis.
type Layer struct {
	FromCM float64 `json:"from_cm"`
	ToCM   float64 `json:"to_cm"`
	PH     float64 `json:"ph"`
}

// Buffer is a lab's buffer pH.
type Buffer struct {
	Kind string  `json:"kind"`
	PH   float64 `json:"ph"`
}

// LabRate is the lab's own recommendation.
type LabRate struct {
	GM2      float64 `json:"g_m2"`
	DepthCM  float64 `json:"depth_cm"`
	CCEPct   float64 `json:"cce_pct"`
	TargetPH float64 `json:"target_ph"`
}

// Jar is one jar of a series.
type Jar struct {
	CaCO3GKG float64 `json:"caco3_g_kg"`
	PH       float64 `json:"ph"`
}

// KRange is the lab's own optimum of potassium, ppm.
type KRange struct {
	From float64 `json:"from_ppm"`
	To   float64 `json:"to_ppm"`
}

// Fizz is the result of two jars.
type Fizz struct {
	Vinegar string `json:"vinegar"`
	Soda    string `json:"soda"`
}

// Methods are the ids of the published rules to follow.
type Methods struct {
	Buffering string `json:"buffering,omitempty"`
	Ash       string `json:"ash,omitempty"`
	Act       string `json:"act,omitempty"`
	Fizz      string `json:"fizz,omitempty"`
	TomatoAsh string `json:"tomato_ash,omitempty"`
	Water     string `json:"water,omitempty"`
	Retest    string `json:"retest,omitempty"`
	Pace      string `json:"pace,omitempty"`
	// Learned is what the bed has shown, for the learned buffering; its figures left out: from the
	// request's own record.
	Learned *Learned `json:"learned,omitempty"`
}

// Learned is the buffering relative to a method.
type Learned struct {
	Beside string   `json:"beside,omitempty"`
	Factor *float64 `json:"factor,omitempty"`
	LogSD  *float64 `json:"log_sd,omitempty"`
	Tests  *int     `json:"tests,omitempty"`
	// Level is the level estimated from all readings on the day of the reading, LevelSD its
	// standard deviation.
	Level   *float64 `json:"level,omitempty"`
	LevelSD *float64 `json:"level_sd,omitempty"`
	// Joint are weighted samples of level and factor; left out: they are independent.
	Joint []Draw `json:"joint,omitempty"`
}

// Material is a usable material.
type Material struct {
	Kind         string   `json:"kind"`
	CCEPct       *float64 `json:"cce_pct,omitempty"`
	EffectivePct *float64 `json:"effective_pct,omitempty"`
	K2OPct       *float64 `json:"k2o_pct,omitempty"`
	Condition    string   `json:"condition,omitempty"`
	Source       string   `json:"source,omitempty"`
	KG           *float64 `json:"kg,omitempty"`
	HeldKG       *float64 `json:"held_kg,omitempty"`

	// FinenessPct are the shares coarser than 2.36 mm, to 0.85 mm, to 0.25 mm, and finer.
	FinenessPct []float64 `json:"fineness_pct,omitempty"`
	Crushed     bool      `json:"crushed_by_hand,omitempty"`
	MoisturePct *float64  `json:"moisture_pct,omitempty"`
	CharcoalPct *float64  `json:"charcoal_pct,omitempty"`
	VinegarML   *float64  `json:"vinegar_ml,omitempty"`
	VinegarPct  *float64  `json:"vinegar_pct,omitempty"`
	Burnt       string    `json:"burnt,omitempty"`
	Embers      bool      `json:"embers,omitempty"`
	BlackWalnut bool      `json:"black_walnut,omitempty"`
	PriceKG     *float64  `json:"price_kg,omitempty"`
}

// HistoryEntry is an earlier application.
type HistoryEntry struct {
	Date     string   `json:"date"`
	Material string   `json:"material"`
	GM2      *float64 `json:"g_m2"`
	// Planned is set when it was planned from the reading.
	Planned bool `json:"planned,omitempty"`
	// Batch groups applications of the same strength.
	Batch string `json:"batch,omitempty"`
	// The batch's own strength, potash and condition.
	CCEPct    *float64 `json:"cce_pct,omitempty"`
	K2OPct    *float64 `json:"k2o_pct,omitempty"`
	Condition string   `json:"condition,omitempty"`
	// FinenessPct is that of its stone, as in materials.
	FinenessPct []float64 `json:"fineness_pct,omitempty"`
}

// Error is the answer to a refused request.
type Error struct {
	Field string `json:"field"`
	Error string `json:"error"`
}

func bad(field, format string, a ...any) error {
	return &dose.InputError{Field: field, Why: fmt.Sprintf(format, a...)}
}

// Decode reads one request. Unknown fields, wrong types and anything after
// the request are errors that name the field.
func Decode(b []byte) (Request, error) {
	var r Request
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	if err := d.Decode(&r); err != nil {
		return r, named(err)
	}
	if _, err := d.Token(); err != io.EOF {
		return r, bad("request", "there is more after the end of the request")
	}
	return r, nil
}

// named converts an error of encoding/json to one that names the field.
func named(err error) error {
	var wrong *json.UnmarshalTypeError
	if errors.As(err, &wrong) {
		return bad(cmpOr(wrong.Field, "request"), "a %s cannot stand here", wrong.Value)
	}
	if name, ok := strings.CutPrefix(err.Error(), `json: unknown field "`); ok {
		return bad(cmpOr(strings.TrimSuffix(name, `"`), "request"), "this version knows no such field")
	}
	if errors.Is(err, io.EOF) {
		return bad("request", "it is empty")
	}
	return bad("request", "not JSON: %v", err)
}

func cmpOr(a, b string) string {
	if a == "" {
		return b
	}
	return a
}

// Draw is one weighted sample: a level and the buffering that goes with it.
type Draw struct {
	Weight float64 `json:"weight"`
	PH     float64 `json:"ph"`
	SD     float64 `json:"sd"`
	Factor float64 `json:"factor"`
}
