// Package garden holds a garden's records, the use cases that join them with
// agronomy, and the Store that keeps them.
package garden

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Meta is what every record carries: its number, and a version that grows
// with each change, so that a stale window is noticed.
type Meta struct {
	ID      int64 `db:"id" json:"id"`
	Version int64 `db:"version" json:"version"`
}

// Head gives the record's Meta.
func (m *Meta) Head() *Meta { return m }

// JSON is a document kept inside a record.
type JSON []byte

// Scan reads a document kept as text.
func (j *JSON) Scan(src any) error {
	switch v := src.(type) {
	case string:
		*j = JSON(v)
	case []byte:
		*j = bytes.Clone(v)
	default:
		return fmt.Errorf("a document is kept as text, not as %T", src)
	}
	return nil
}

// MarshalJSON writes the document as it is; an empty one is null.
func (j JSON) MarshalJSON() ([]byte, error) {
	if len(j) == 0 {
		return []byte("null"), nil
	}
	return j, nil
}

// UnmarshalJSON keeps a copy of the document.
func (j *JSON) UnmarshalJSON(b []byte) error {
	*j = bytes.Clone(b)
	return nil
}

// Normals are monthly soil temperatures, kept as a JSON list; none is "".
type Normals []quantity.Temperature

// Scan reads what Text wrote.
func (n *Normals) Scan(src any) error { return scanList(src, (*[]quantity.Temperature)(n)) }

// Text is how they are kept.
func (n Normals) Text() string { return listText(n) }

// Figures is a list of plain numbers, kept as JSON; none is "".
type Figures []float64

// Scan reads what Text wrote.
func (f *Figures) Scan(src any) error { return scanList(src, (*[]float64)(f)) }

// Text is how they are kept.
func (f Figures) Text() string { return listText(f) }

// Rows is a short table of plain numbers, kept as JSON; none is "".
type Rows [][]float64

// Scan reads what Text wrote.
func (r *Rows) Scan(src any) error { return scanList(src, (*[][]float64)(r)) }

// Text is how they are kept.
func (r Rows) Text() string {
	if len(r) == 0 {
		return ""
	}
	b, _ := json.Marshal([][]float64(r)) // finite figures always marshal
	return string(b)
}

func scanList[T any](src any, into *[]T) error {
	s, ok := src.(string)
	if !ok {
		return fmt.Errorf("a list is kept as text, not as %T", src)
	}
	*into = nil
	if s == "" {
		return nil
	}
	return json.Unmarshal([]byte(s), into)
}

func listText[T ~float64](list []T) string {
	if len(list) == 0 {
		return ""
	}
	parts := make([]string, len(list))
	for i, x := range list {
		parts[i] = strconv.FormatFloat(float64(x), 'g', -1, 64)
	}
	return "[" + strings.Join(parts, ",") + "]"
}

// Record is a row of one of the garden's tables.
type Record interface{ Head() *Meta }

// Garden is the place with its habits. There is one.
type Garden struct {
	Meta
	Name       string            `db:"name" json:"name"`
	Climate    string            `db:"climate" json:"climate"`
	Hemisphere string            `db:"hemisphere" json:"hemisphere"`
	SoilTable  soil.TableClimate `db:"soil_table" json:"soil_table"`
	Buffering  string            `db:"buffering" json:"buffering"`
	AshSchool  string            `db:"ash_school" json:"ash_school"`
	ActSchool  string            `db:"act_school" json:"act_school"`
	// Choices between rules that growers differ on; "" is the usual one.
	FizzSchool   dose.FizzSchool   `db:"fizz_school" json:"fizz_school"`
	TomatoAsh    dose.TomatoSchool `db:"tomato_ash" json:"tomato_ash"`
	WaterSchool  dose.WaterSchool  `db:"water_school" json:"water_school"`
	RetestRhythm calendar.Rhythm   `db:"retest_rhythm" json:"retest_rhythm"`
	// SoilTemps are the place's own soil temperatures, twelve from January on;
	// empty: the climate's.
	SoilTemps Normals `db:"soil_temp_c" json:"soil_temp_c"`
	// Rain is the place's own rain by month, mm; empty: the climate's.
	Rain Figures `db:"rain_mm" json:"rain_mm"`
	// LastFrost and FirstFrost are the usual days, MM-DD; "": the climate's.
	LastFrost  string `db:"last_frost" json:"last_frost"`
	FirstFrost string `db:"first_frost" json:"first_frost"`
	// The units that the gardener reads; "" is the metric one.
	AreaUnit   string `db:"area_unit" json:"area_unit"`
	DepthUnit  string `db:"depth_unit" json:"depth_unit"`
	WeightUnit string `db:"weight_unit" json:"weight_unit"`
	RateUnit   string `db:"rate_unit" json:"rate_unit"`
	// Currency stands before or after a price as it is written: "€", "kr".
	Currency string `db:"currency" json:"currency"`
	// The water of the tap, as far as it is known; alkalinity and hardness are
	// mg/L CaCO₃.
	WaterPH         *quantity.PH `db:"water_ph" json:"water_ph"`
	WaterAlkalinity *float64     `db:"water_alkalinity_mg_l" json:"water_alkalinity_mg_l"`
	WaterHardness   *float64     `db:"water_hardness_mg_l" json:"water_hardness_mg_l"`
	// KitChips are the pH of each chip of the colour kit, rising.
	KitChips Figures `db:"kit_chips" json:"kit_chips"`
	// Started is the first day of the records; in the demo its own calendar.
	Started quantity.Day `db:"started" json:"started"`
}

// Kinds of ground.
const (
	KindBed  = "bed"
	KindLawn = "lawn"
	KindTree = "tree"
	KindPots = "pot"
	KindHeap = "heap"
)

// Kinds lists them in the order they are offered.
var Kinds = []string{KindBed, KindLawn, KindTree, KindPots, KindHeap}

// Shapes on the plan: a rectangle, a circle, rings set evenly along a
// rectangle, or a freehand outline.
const (
	ShapeRect    = "rect"
	ShapeCircle  = "circle"
	ShapeRings   = "rings"
	ShapeOutline = "outline"
)

// Shapes lists them in the order they are offered.
var Shapes = []string{ShapeRect, ShapeCircle, ShapeRings, ShapeOutline}

// Bed is a piece of ground. X and Y are the top left corner on the plan, W and
// H its size, all in metres; the plan's north is up.
type Bed struct {
	Meta
	Name  string  `db:"name" json:"name"`
	Kind  string  `db:"kind" json:"kind"`
	Shape string  `db:"shape" json:"shape"`
	X     float64 `db:"x_m" json:"x_m"`
	Y     float64 `db:"y_m" json:"y_m"`
	W     float64 `db:"w_m" json:"w_m"`
	H     float64 `db:"h_m" json:"h_m"`
	Rings int     `db:"rings" json:"rings"`
	// Turn is clockwise, degrees, about the frame's middle; Corners are those of
	// an outline.
	Turn          float64                          `db:"turn_deg" json:"turn_deg"`
	Corners       Corners                          `db:"corners_m" json:"corners_m"`
	Texture       soil.Texture                     `db:"texture" json:"texture"`
	Depth         quantity.Depth                   `db:"depth_m" json:"depth_m"`
	Worked        soil.Worked                      `db:"worked" json:"worked"`
	OrganicMatter *quantity.Percent                `db:"organic_matter_pct" json:"organic_matter_pct"`
	Clay          *quantity.Percent                `db:"clay_pct" json:"clay_pct"`
	CEC           *quantity.CationExchangeCapacity `db:"cec" json:"cec"`
	FreeLime      soil.FreeLime                    `db:"free_lime" json:"free_lime"`
	// Stones is their share of the volume.
	Stones quantity.Percent `db:"stones_pct" json:"stones_pct"`
	// TextureBy is how the texture was found: "" as told, by jar or by feel. Jar
	// is the jar's layers of sand, silt and clay, mm.
	TextureBy string  `db:"texture_by" json:"texture_by"`
	Jar       Figures `db:"jar_mm" json:"jar_mm"`
	// Watered is "tap" where the tap's water goes on, else "".
	Watered string `db:"watered" json:"watered"`
	Note    string `db:"note" json:"note"`
	// NameKey is the name as names are compared; the store keeps it.
	NameKey string `db:"name_key" json:"-"`
	// Retired is the day from which it is no longer on the plan; its history
	// stays.
	Retired quantity.Day `db:"retired" json:"retired"`
}

// SetKeys puts the name in as names are compared.
func (b *Bed) SetKeys() { b.NameKey = Fold(b.Name) }

// Use is how the calculation sees the kind.
func (b Bed) Use() soil.Use {
	switch b.Kind {
	case KindLawn:
		return soil.UseLawn
	case KindTree:
		return soil.UseTree
	case KindPots:
		return soil.UsePot
	}
	return soil.UseBed
}

// Planting is a crop on a bed: sown or planted, and cleared (no day: not yet).
type Planting struct {
	Meta
	BedID   int64        `db:"bed_id" json:"bed_id"`
	Crop    string       `db:"crop" json:"crop"`
	Sown    quantity.Day `db:"sown" json:"sown"`
	Cleared quantity.Day `db:"cleared" json:"cleared"`
	// PlantedOut is set for young plants that were put out, not sown there.
	PlantedOut bool `db:"planted_out" json:"planted_out"`
}

// OwnCrop is a crop of the gardener's own, or a row of the book that was
// changed; Code is what plantings call it.
type OwnCrop struct {
	Meta
	Code    string        `db:"code" json:"code"`
	Name    string        `db:"name" json:"name"`
	Low     quantity.PH   `db:"low_ph" json:"low_ph"`
	High    quantity.PH   `db:"high_ph" json:"high_ph"`
	Aim     quantity.PH   `db:"aim_ph" json:"aim_ph"`
	Removal quantity.Rate `db:"removal_g_m2" json:"removal_g_m2"`
	// Flags are ids of crop.FlagNames, with spaces between.
	Flags string `db:"flags" json:"flags"`
}

// Kinds of mark.
const (
	MarkPath = "path"
	MarkWall = "wall"
)

// Mark is a path or a wall on the plan: a line of some width.
type Mark struct {
	Meta
	Name  string  `db:"name" json:"name"`
	Kind  string  `db:"kind" json:"kind"`
	Width float64 `db:"width_m" json:"width_m"`
	// Points are metres from the plan's corner.
	Points Corners `db:"points_m" json:"points_m"`
}

// Batch is something on the shelf.
type Batch struct {
	Meta
	Name      string             `db:"name" json:"name"`
	Kind      material.Kind      `db:"kind" json:"kind"`
	CCE       *quantity.Percent  `db:"cce_pct" json:"cce_pct"`
	Effective *quantity.Percent  `db:"effective_pct" json:"effective_pct"`
	K2O       *quantity.Percent  `db:"k2o_pct" json:"k2o_pct"`
	Condition material.Condition `db:"condition" json:"condition"`
	Source    material.Source    `db:"source" json:"source"`
	OnHand    *quantity.Mass     `db:"on_hand_g" json:"on_hand_g"`
	// Scoop is what a level scoop of it weighs, once weighed.
	Scoop *quantity.Mass `db:"scoop_g" json:"scoop_g"`
	// Price is for a kilogram, in the place's currency.
	Price *float64 `db:"price_kg" json:"price_kg"`
	Note  string   `db:"note" json:"note"`
}

// Reading is one reading of one bed.
type Reading struct {
	Meta
	BedID     int64                   `db:"bed_id" json:"bed_id"`
	Date      quantity.Day            `db:"date" json:"date"`
	Method    soil.Method             `db:"method" json:"method"`
	Basis     soil.Basis              `db:"basis" json:"basis"`
	PH        *quantity.PH            `db:"ph" json:"ph"`
	Cores     int                     `db:"cores" json:"cores"`
	Depth     quantity.Depth          `db:"depth_m" json:"depth_m"`
	Potassium *quantity.Concentration `db:"k_ppm" json:"k_ppm"`
	Magnesium *quantity.Concentration `db:"mg_ppm" json:"mg_ppm"`
	Vinegar   soil.FreeLime           `db:"vinegar" json:"vinegar"`
	Soda      soil.FreeLime           `db:"soda" json:"soda"`
	Note      string                  `db:"note" json:"note"`
	// SampleID is the mixed sample of a round that it was read from.
	SampleID *int64 `db:"sample_id" json:"sample_id"`
	// The rest of a lab's report, as far as it goes.
	Calcium        *quantity.Concentration          `db:"ca_ppm" json:"ca_ppm"`
	Phosphorus     *quantity.Concentration          `db:"p_ppm" json:"p_ppm"`
	Extractant     soil.Extractant                  `db:"k_extractant" json:"k_extractant"`
	KFrom          *quantity.Concentration          `db:"k_from_ppm" json:"k_from_ppm"`
	KTo            *quantity.Concentration          `db:"k_to_ppm" json:"k_to_ppm"`
	OrganicMatter  *quantity.Percent                `db:"organic_matter_pct" json:"organic_matter_pct"`
	CEC            *quantity.CationExchangeCapacity `db:"cec" json:"cec"`
	BufferKind     soil.BufferKind                  `db:"buffer_kind" json:"buffer_kind"`
	BufferPH       *quantity.PH                     `db:"buffer_ph" json:"buffer_ph"`
	BufferCapacity *float64                         `db:"buffer_capacity_mg_kg" json:"buffer_capacity_mg_kg"`
	LabRate        *quantity.Rate                   `db:"lab_rate_g_m2" json:"lab_rate_g_m2"`
	LabDepth       *quantity.Depth                  `db:"lab_rate_depth_m" json:"lab_rate_depth_m"`
	LabCCE         *quantity.Percent                `db:"lab_rate_cce_pct" json:"lab_rate_cce_pct"`
	LabTarget      *quantity.PH                     `db:"lab_rate_target_ph" json:"lab_rate_target_ph"`
	// Layers are [from m, to m, pH], Jars [g CaCO₃ a kg, pH].
	Layers Rows `db:"layers" json:"layers"`
	Jars   Rows `db:"jars" json:"jars"`
	// Doubt is that of a kit by its chips; nil: the method's own.
	Doubt *float64 `db:"doubt_ph" json:"doubt_ph"`
	// Struck is the day on which it was struck out, no day while it stands. It
	// stays in the history.
	Struck    quantity.Day `db:"struck" json:"struck"`
	StruckWhy string       `db:"struck_why" json:"struck_why"`
}

// Soil gives the reading as agronomy has it.
func (r Reading) Soil() soil.Reading {
	s := soil.Reading{Date: r.Date, Method: r.Method, Basis: r.Basis, Cores: r.Cores,
		Potassium: r.Potassium, Magnesium: r.Magnesium, Fizz: soil.FizzTest{Vinegar: r.Vinegar, Soda: r.Soda}}
	if r.PH != nil {
		s.PH = *r.PH
	}
	if r.Doubt != nil {
		s.Doubt = math.Hypot(*r.Doubt, soil.SamplingSD(r.Cores))
	}
	s.Extractant = r.Extractant
	if r.KFrom != nil && r.KTo != nil {
		s.KRange = &soil.KRange{From: *r.KFrom, To: *r.KTo}
	}
	if r.BufferKind != "" && r.BufferPH != nil {
		s.Buffer = &soil.BufferPH{Kind: r.BufferKind, PH: *r.BufferPH}
	}
	if r.BufferCapacity != nil {
		s.BufferCapacity = *r.BufferCapacity
	}
	if r.LabRate != nil && r.LabDepth != nil && r.LabCCE != nil && r.LabTarget != nil {
		s.LabRate = &soil.LabRate{Rate: *r.LabRate, Depth: *r.LabDepth, CCE: *r.LabCCE, Target: *r.LabTarget}
	}
	for _, l := range r.Layers {
		if len(l) == 3 {
			s.Layers = append(s.Layers, soil.Layer{From: quantity.Depth(l[0]), To: quantity.Depth(l[1]), PH: quantity.PH(l[2])})
		}
	}
	for _, j := range r.Jars {
		if len(j) == 2 {
			s.Jars = append(s.Jars, soil.Jar{Lime: j[0], PH: quantity.PH(j[1])})
		}
	}
	return s
}

// Stands tells whether a reading has not been struck out.
func (r Reading) Stands() bool { return r.Struck == 0 }

// Round is a walk through the garden to take samples.
type Round struct {
	Meta
	Made quantity.Day `db:"made" json:"made"`
	// Corer is the corer's inside diameter, Wanted what the lab needs of a
	// sample; Layered keeps the layers of ground that is not dug apart.
	Corer   quantity.Depth `db:"corer_m" json:"corer_m"`
	Wanted  quantity.Mass  `db:"wanted_g" json:"wanted_g"`
	Layered bool           `db:"layered" json:"layered"`
	// Walk is how long its way is, m.
	Walk  float64      `db:"walk_m" json:"walk_m"`
	Ended quantity.Day `db:"ended" json:"ended"`
}

// States of a sample.
const (
	SamplePlanned = "planned"
	SampleTaken   = "taken"
	SampleAtLab   = "at-lab"
	SampleRead    = "read"
)

// Sample is one mixed sample of a round; Code is what its label says.
type Sample struct {
	Meta
	RoundID int64          `db:"round_id" json:"round_id"`
	Code    string         `db:"code" json:"code"`
	Depth   quantity.Depth `db:"depth_m" json:"depth_m"`
	// Overruled says what is lost where the gardener put beds together that the
	// rules keep apart.
	Overruled string       `db:"overruled" json:"overruled"`
	State     string       `db:"state" json:"state"`
	Taken     quantity.Day `db:"taken" json:"taken"`
	Sent      quantity.Day `db:"sent" json:"sent"`
	Read      quantity.Day `db:"read" json:"read"`
}

// SampleBed is a bed of a sample, with how many cores it gives and its place on
// the way.
type SampleBed struct {
	Meta
	SampleID int64  `db:"sample_id" json:"sample_id"`
	BedID    int64  `db:"bed_id" json:"bed_id"`
	Cores    int    `db:"cores" json:"cores"`
	Place    int    `db:"place" json:"place"`
	Note     string `db:"note" json:"note"`
}

// Core is one core that was taken; At is the moment, RFC 3339.
type Core struct {
	Meta
	SampleBedID int64  `db:"sample_bed_id" json:"sample_bed_id"`
	N           int    `db:"n" json:"n"`
	At          string `db:"at" json:"at"`
}

// Plan is a dose that was put in the year, with the request it came from, so
// that its working can be shown again.
type Plan struct {
	Meta
	BedID     int64        `db:"bed_id" json:"bed_id"`
	Made      quantity.Day `db:"made" json:"made"`
	ReadingID int64        `db:"reading_id" json:"reading_id"`
	Target    quantity.PH  `db:"target_ph" json:"target_ph"`
	Request   JSON         `db:"request" json:"request"`
}

// Kinds of task.
const (
	TaskGo     = "go"
	TaskRetest = "retest"
)

// States of a task.
const (
	Open    = "open"
	Done    = "done"
	Skipped = "skipped"
)

// Task is something to do on a day.
type Task struct {
	Meta
	BedID   int64          `db:"bed_id" json:"bed_id"`
	PlanID  *int64         `db:"plan_id" json:"plan_id"`
	Kind    string         `db:"kind" json:"kind"`
	Due     quantity.Day   `db:"due" json:"due"`
	What    material.Kind  `db:"material" json:"material"`
	BatchID *int64         `db:"batch_id" json:"batch_id"`
	Rate    quantity.Rate  `db:"rate_g_m2" json:"rate_g_m2"`
	Total   quantity.Mass  `db:"total_g" json:"total_g"`
	PHAfter *quantity.PH   `db:"ph_after" json:"ph_after"`
	State   string         `db:"state" json:"state"`
	Settled quantity.Day   `db:"settled" json:"settled"`
	Why     string         `db:"why" json:"why"`
	Method  soil.Method    `db:"method" json:"method"`
	Depth   quantity.Depth `db:"depth_m" json:"depth_m"`
}

// Application is what really went on.
type Application struct {
	Meta
	BedID   int64         `db:"bed_id" json:"bed_id"`
	TaskID  *int64        `db:"task_id" json:"task_id"`
	BatchID *int64        `db:"batch_id" json:"batch_id"`
	Date    quantity.Day  `db:"date" json:"date"`
	What    material.Kind `db:"material" json:"material"`
	Rate    quantity.Rate `db:"rate_g_m2" json:"rate_g_m2"`
	Total   quantity.Mass `db:"total_g" json:"total_g"`
	Note    string        `db:"note" json:"note"`
	// CCE, K2O and Condition are what its batch was taken for on the day; nil or
	// "": its kind's usual.
	CCE       *quantity.Percent  `db:"cce_pct" json:"cce_pct"`
	K2O       *quantity.Percent  `db:"k2o_pct" json:"k2o_pct"`
	Condition material.Condition `db:"condition" json:"condition"`
}

// Put is what went on as agronomy has it; ok is false for a material that is not
// in the table.
func (a Application) Put() (p ledger.Application, ok bool) {
	m, ok := material.Find(a.What)
	return ledger.Application{Date: a.Date, Material: m, Rate: a.Rate, Measured: a.CCE, Potash: a.K2O, Condition: a.Condition}, ok
}

// from takes over what a batch is taken for.
func (a *Application) from(b Batch) {
	a.CCE, a.K2O, a.Condition = b.CCE, b.K2O, b.Condition
	if b.Effective != nil {
		a.CCE = b.Effective
	}
	if m, _ := material.Find(b.Kind); !m.Raises() {
		a.CCE = nil // a purity is no strength of lime
	}
}

// Entry is one line of the journal: one change, with each record before and
// after it.
type Entry struct {
	Meta
	At      string `db:"at" json:"at"`
	Who     string `db:"who" json:"who"`
	What    string `db:"what" json:"what"`
	Changes JSON   `db:"changes" json:"changes"`
	// Undoes is the line that this one took back, UndoneBy the reverse.
	Undoes   *int64 `db:"undoes" json:"undoes"`
	UndoneBy *int64 `db:"undone_by" json:"undone_by"`
}

// RecordChange is one record of a change. Before is null for a new record,
// After for one taken out.
type RecordChange struct {
	Table  string `json:"table"`
	ID     int64  `json:"id"`
	Before JSON   `json:"before"`
	After  JSON   `json:"after"`
}

// The archive's own name and edition.
const (
	ArchiveFormat  = "zephyrfield-archive"
	ArchiveEdition = 2
)
