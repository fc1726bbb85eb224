// Package wire is the dose request and answer as JSON: the contract that the
// command line and other programs speak. It knows no database and no page.
package wire

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Request is a dose request. Fields are SI; docs/dose.md tells each.
type Request struct {
	Date      string     `json:"date"`
	Place     *Place     `json:"place,omitempty"`
	Bed       *Bed       `json:"bed"`
	Reading   *Reading   `json:"reading"`
	Readings  []Reading  `json:"readings,omitempty"`
	Crop      string     `json:"crop,omitempty"`
	Crops     []string   `json:"crops,omitempty"`
	OwnCrops  []OwnCrop  `json:"own_crops,omitempty"`
	TargetPH  *float64   `json:"target_ph,omitempty"`
	School    *School    `json:"school,omitempty"`
	Materials []Material `json:"materials,omitempty"`
	History   []Put      `json:"history,omitempty"`
	Sowing    string     `json:"sowing,omitempty"`
	Cleared   string     `json:"cleared,omitempty"`
}

// OwnCrop is a crop that the library lacks, or has otherwise.
type OwnCrop struct {
	ID      string   `json:"id"`
	Name    string   `json:"name,omitempty"`
	LowPH   *float64 `json:"low_ph"`
	HighPH  *float64 `json:"high_ph"`
	AimPH   *float64 `json:"aim_ph,omitempty"`
	Removal *float64 `json:"k2o_removal_g_m2,omitempty"`
	Flags   []string `json:"flags,omitempty"`
}

// mostRemoval is the most K₂O that a crop may be said to carry off, g/m².
const mostRemoval = 100

func (c OwnCrop) crop(at string) (crop.Crop, error) {
	out := crop.Crop{ID: c.ID, Name: c.Name}
	switch {
	case c.ID == "":
		return out, bad(at+".id", "an id is needed")
	case c.LowPH == nil || !(*c.LowPH >= 3 && *c.LowPH <= 10):
		return out, bad(at+".low_ph", "a pH from 3 to 10 is needed")
	case c.HighPH == nil || !(*c.HighPH >= *c.LowPH+0.1 && *c.HighPH <= 10):
		return out, bad(at+".high_ph", "a pH above low_ph by 0.1 or more, and to 10, is needed")
	case c.AimPH != nil && !(*c.AimPH >= *c.LowPH && *c.AimPH <= *c.HighPH):
		return out, bad(at+".aim_ph", "an aim in the band is needed")
	case c.Removal != nil && !(*c.Removal >= 0 && *c.Removal <= mostRemoval):
		return out, bad(at+".k2o_removal_g_m2", "from 0 to %d is needed", mostRemoval)
	}
	if out.Name == "" {
		out.Name = strings.ReplaceAll(c.ID, "-", " ")
	}
	out.Band = crop.Band{Low: quantity.PH(*c.LowPH), High: quantity.PH(*c.HighPH)}
	out.Aim = quantity.PH(quantity.Round(float64(out.Band.Middle()), 2))
	if c.AimPH != nil {
		out.Aim = quantity.PH(*c.AimPH)
	}
	out.Removal = crop.Unnamed.Removal
	if c.Removal != nil {
		out.Removal = quantity.Rate(*c.Removal)
	}
	flags, ok := crop.ParseFlags(strings.Join(c.Flags, " "))
	if !ok {
		return out, bad(at+".flags", "one of these is not known")
	}
	out.Flags = flags
	return out, nil
}

// fromCrop writes a crop that is not as the library has it.
func fromCrop(c crop.Crop) OwnCrop {
	return OwnCrop{ID: c.ID, Name: c.Name, LowPH: num(c.Band.Low), HighPH: num(c.Band.High), AimPH: num(c.Aim), Removal: num(c.Removal), Flags: strings.Fields(c.Flags.IDs())}
}

// Place is where the bed lies.
type Place struct {
	Climate    string `json:"climate,omitempty"`
	Hemisphere string `json:"hemisphere,omitempty"`
	// SoilTempC are twelve soil temperatures at 10 cm, January on, as they are
	// at the place; they go before the climate's.
	SoilTempC []float64 `json:"soil_temp_c,omitempty"`
}

// Bed is the ground.
type Bed struct {
	AreaM2           *float64 `json:"area_m2"`
	DepthCM          *float64 `json:"depth_cm,omitempty"`
	Texture          string   `json:"texture"`
	Table            string   `json:"table,omitempty"`
	Worked           string   `json:"worked,omitempty"`
	Use              string   `json:"use,omitempty"`
	OrganicMatterPct *float64 `json:"organic_matter_pct,omitempty"`
	ClayPct          *float64 `json:"clay_pct,omitempty"`
	CEC              *float64 `json:"cec,omitempty"`
	FreeLime         string   `json:"free_lime,omitempty"`
	State            string   `json:"state,omitempty"`
	TextureJar       *JarTest `json:"texture_jar,omitempty"`
	TextureFeel      *Feel    `json:"texture_feel,omitempty"`
	WaterAlkalinity  *float64 `json:"water_alkalinity_mg_l,omitempty"`
}

// JarTest is the settled layers of a jar, instead of a texture.
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

// Reading is the reading that the dose rests on.
type Reading struct {
	Date   string   `json:"date"`
	PH     *float64 `json:"ph,omitempty"`
	Basis  string   `json:"basis,omitempty"`
	Method string   `json:"method,omitempty"`
	Cores  *int     `json:"cores,omitempty"`
	KPPM   *float64 `json:"k_ppm,omitempty"`
	MgPPM  *float64 `json:"mg_ppm,omitempty"`
	Fizz   *Fizz    `json:"fizz,omitempty"`

	Layers         []Layer  `json:"layers,omitempty"`
	Buffer         *Buffer  `json:"buffer,omitempty"`
	LabRate        *LabRate `json:"lab_rate,omitempty"`
	Jars           []Jar    `json:"jars,omitempty"`
	BufferCapacity *float64 `json:"buffer_capacity_mg_kg,omitempty"`
	KExtractant    string   `json:"k_extractant,omitempty"`
	KRange         *KRange  `json:"k_range,omitempty"`
}

// Layer is the pH of a stretch of depth, water basis.
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

// LabRate is the lab's own figure.
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

// Fizz is the answer of two jars.
type Fizz struct {
	Vinegar string `json:"vinegar"`
	Soda    string `json:"soda"`
}

// School names the published rules to go by.
type School struct {
	Buffering string `json:"buffering,omitempty"`
	Ash       string `json:"ash,omitempty"`
	Act       string `json:"act,omitempty"`
}

// Material is something that may be used.
type Material struct {
	Kind         string   `json:"kind"`
	CCEPct       *float64 `json:"cce_pct,omitempty"`
	EffectivePct *float64 `json:"effective_pct,omitempty"`
	K2OPct       *float64 `json:"k2o_pct,omitempty"`
	Condition    string   `json:"condition,omitempty"`
	Source       string   `json:"source,omitempty"`
	KG           *float64 `json:"kg,omitempty"`

	// FinenessPct are the shares coarser than 2.36 mm, to 0.85, to 0.25, finer.
	FinenessPct []float64 `json:"fineness_pct,omitempty"`
	MoisturePct *float64  `json:"moisture_pct,omitempty"`
	CharcoalPct *float64  `json:"charcoal_pct,omitempty"`
	VinegarML   *float64  `json:"vinegar_ml,omitempty"`
	VinegarPct  *float64  `json:"vinegar_pct,omitempty"`
	Burnt       string    `json:"burnt,omitempty"`
	BlackWalnut bool      `json:"black_walnut,omitempty"`
	PriceKG     *float64  `json:"price_kg,omitempty"`
}

// Put is something that went on before.
type Put struct {
	Date     string   `json:"date"`
	Material string   `json:"material"`
	GM2      *float64 `json:"g_m2"`
	// Planned tells that it was planned from the reading.
	Planned bool `json:"planned,omitempty"`
}

// Error is what goes out when a request is refused.
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

// named turns an error of encoding/json into one that names the field.
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

// pick checks a word against a table; an empty one becomes the default.
func pick[T ~string](field, word string, def T, table []T) (T, error) {
	if word == "" {
		return def, nil
	}
	for _, t := range table {
		if string(t) == word {
			return t, nil
		}
	}
	all := make([]string, len(table))
	for i, t := range table {
		all[i] = string(t)
	}
	return def, bad(field, "%q is not one of %s", word, strings.Join(all, ", "))
}

func day(field, s string, needed bool) (quantity.Day, error) {
	if s == "" {
		if needed {
			return 0, bad(field, "a day is needed")
		}
		return 0, nil
	}
	d, err := quantity.ParseDay(s)
	if err != nil {
		return 0, bad(field, "%v", err)
	}
	return d, nil
}

func opt[T ~float64](p *float64) *T {
	if p == nil {
		return nil
	}
	v := T(*p)
	return &v
}

// Dose turns the request into the core's. Errors are *dose.InputError.
func (r Request) Dose() (dose.Request, error) {
	var q dose.Request
	var err error
	if q.Date, err = day("date", r.Date, true); err != nil {
		return q, err
	}
	if err = r.place(&q); err != nil {
		return q, err
	}
	if err = r.bed(&q); err != nil {
		return q, err
	}
	if err = r.reading(&q); err != nil {
		return q, err
	}
	if err = r.aims(&q); err != nil {
		return q, err
	}
	for i, m := range r.Materials {
		b, err := m.batch(i)
		if err != nil {
			return q, err
		}
		q.Materials = append(q.Materials, b)
	}
	for i, p := range r.History {
		put, err := p.put(i)
		if err != nil {
			return q, err
		}
		q.History = append(q.History, put)
	}
	if q.Sowing, err = day("sowing", r.Sowing, false); err != nil {
		return q, err
	}
	q.Cleared, err = day("cleared", r.Cleared, false)
	q.Assumed = r.assumed(q)
	return q, err
}

// assumed lists what the request left out and the guide's defaults filled in.
func (r Request) assumed(q dose.Request) (out working.Values) {
	add := func(left bool, v working.Value) {
		if left {
			out = append(out, v)
		}
	}
	p, b, d, s := r.Place, r.Bed, r.Reading, r.School
	add(p == nil || p.Climate == "" && len(p.SoilTempC) == 0, working.ID("climate", q.Climate.ID))
	add(b.Table == "", working.ID("table", q.Ground.Table))
	add(b.Worked == "", working.ID("worked", q.Ground.Worked))
	add(b.DepthCM == nil, working.Num("depth", working.Depth, q.Ground.Depth))
	add(d.Date == "", working.On("date", q.Reading.Date))
	add(d.Method == "", working.ID("method", q.Reading.Method))
	add(d.Basis == "" && q.Reading.Method != soil.Fizz, working.ID("basis", q.Reading.Basis))
	add(d.Cores == nil, working.Int("cores", working.Count, q.Reading.Cores))
	add(s == nil || s.Buffering == "", working.ID("buffering", q.Schools.Buffering))
	add(r.Crop == "", working.Num("crop", working.Rate, crop.Unnamed.Removal))
	return out
}

func (r Request) place(q *dose.Request) error {
	p := Place{}
	if r.Place != nil {
		p = *r.Place
	}
	side, err := pick("place.hemisphere", p.Hemisphere, soil.North, []string{soil.North, soil.South})
	if err != nil {
		return err
	}
	c, ok := soil.FindClimate(cmpOr(p.Climate, soil.Climates[0].ID), side)
	if !ok {
		return bad("place.climate", "%q is not a climate", p.Climate)
	}
	if n := len(p.SoilTempC); n > 0 {
		if n != len(c.Normal) {
			return bad("place.soil_temp_c", "twelve months are needed, not %d", n)
		}
		for m, t := range p.SoilTempC {
			if !(t >= -40 && t <= 50) {
				return bad("place.soil_temp_c", "month %d: a temperature from -40 to 50 is needed", m+1)
			}
			c.Normal[m] = quantity.Temperature(t)
		}
		c.ID = "own"
	}
	q.Climate = c
	return nil
}

func (r Request) bed(q *dose.Request) error {
	b := r.Bed
	if b == nil {
		return bad("bed", "a bed is needed")
	}
	if b.AreaM2 == nil {
		return bad("bed.area_m2", "an area is needed")
	}
	g := soil.Ground{Area: quantity.Area(*b.AreaM2), OrganicMatter: opt[quantity.Percent](b.OrganicMatterPct),
		ClayShare: opt[quantity.Percent](b.ClayPct), CEC: opt[quantity.ChargeCapacity](b.CEC)}
	var err error
	if err = b.texture(&g); err != nil {
		return err
	}
	q.Water = b.WaterAlkalinity
	if g.Table, err = pick("bed.table", b.Table, soil.CoolTable, []soil.TableClimate{soil.CoolTable, soil.WarmTable}); err != nil {
		return err
	}
	if g.Worked, err = pick("bed.worked", b.Worked, soil.Dug, []soil.Worked{soil.Dug, soil.Surface, soil.Established}); err != nil {
		return err
	}
	if g.Use, err = pick("bed.use", b.Use, soil.UseBed, []soil.Use{soil.UseBed, soil.UseLawn, soil.UseTree, soil.UsePot}); err != nil {
		return err
	}
	if g.FreeLime, err = pick("bed.free_lime", b.FreeLime, soil.LimeUnknown,
		[]soil.FreeLime{soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong}); err != nil {
		return err
	}
	if g.State, err = pick("bed.state", b.State, soil.Open, []soil.State{soil.Open, soil.FrozenHard, soil.SnowCovered, soil.Waterlogged}); err != nil {
		return err
	}
	g.Depth = soil.UsualDepth(g.Use, g.Worked)
	if b.DepthCM != nil {
		g.Depth = quantity.Depth(*b.DepthCM) * quantity.Centimetre
	}
	q.Ground = g
	return nil
}

// texture takes the name, the jar or the feel; just one of them.
func (b *Bed) texture(g *soil.Ground) error {
	given := 0
	for _, is := range []bool{b.Texture != "", b.TextureJar != nil, b.TextureFeel != nil} {
		if is {
			given++
		}
	}
	var ok bool
	switch {
	case given != 1:
		return bad("bed.texture", "a texture is needed, by name, by jar or by feel: one of them")
	case b.TextureJar != nil:
		j := soil.JarTest{Sand: b.TextureJar.SandMM, Silt: b.TextureJar.SiltMM, Clay: b.TextureJar.ClayMM}
		var clay quantity.Percent
		if _, g.Texture, clay, ok = j.Class(); !ok {
			return bad("bed.texture_jar", "three layers of 0 or more, not all 0, are needed")
		}
		if g.ClayShare == nil {
			g.ClayShare = &clay
		}
	case b.TextureFeel != nil:
		f := b.TextureFeel
		if !(f.RibbonCM >= 0 && f.RibbonCM <= 30) || f.Gritty && f.Smooth {
			return bad("bed.texture_feel", "a ribbon from 0 to 30 cm, and gritty or smooth but not both")
		}
		g.Texture = soil.Feel{Ball: f.Ball, Ribbon: quantity.Depth(f.RibbonCM) * quantity.Centimetre, Gritty: f.Gritty, Smooth: f.Smooth}.Class()
	default:
		if g.Texture, ok = soil.FindTexture(soil.Texture(b.Texture)); !ok {
			return bad("bed.texture", "%q is not a texture", b.Texture)
		}
	}
	return nil
}

var fizzes = []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong}

// usualCores is reckoned with when a request does not say.
const usualCores = 10

func (r Request) reading(q *dose.Request) error {
	if r.Reading == nil {
		return bad("reading", "a reading is needed")
	}
	var err error
	if q.Reading, err = r.Reading.soil("reading", r.Date); err != nil {
		return err
	}
	for i := range r.Readings {
		x, err := r.Readings[i].soil(fmt.Sprintf("readings[%d]", i), r.Date)
		if err != nil {
			return err
		}
		q.More = append(q.More, x)
	}
	return nil
}

// soil reads one reading; at is its name in the request, usual its day when
// none is given.
func (d *Reading) soil(at, usual string) (soil.Reading, error) {
	out := soil.Reading{Cores: usualCores, Potassium: opt[quantity.Concentration](d.KPPM), Magnesium: opt[quantity.Concentration](d.MgPPM)}
	var err error
	// A reading without a day counts as that of the dose.
	if out.Date, err = day(at+".date", cmpOr(d.Date, usual), true); err != nil {
		return out, err
	}
	methods := make([]soil.Method, len(soil.Methods))
	for i, m := range soil.Methods {
		methods[i] = m.Method
	}
	if out.Method, err = pick(at+".method", d.Method, soil.Lab, methods); err != nil {
		return out, err
	}
	if out.Basis, err = pick(at+".basis", d.Basis, soil.Water, []soil.Basis{soil.Water, soil.CaCl2, soil.KCl}); err != nil {
		return out, err
	}
	if d.Cores != nil {
		out.Cores = *d.Cores
	}
	if out.Method == soil.Fizz {
		switch {
		case d.PH != nil:
			return out, bad(at+".ph", "jar fizz gives no figure")
		case d.Fizz == nil:
			return out, bad(at+".fizz", "both jars are needed")
		}
		if out.Fizz.Vinegar, err = pick(at+".fizz.vinegar", d.Fizz.Vinegar, "", fizzes); err != nil {
			return out, err
		}
		if out.Fizz.Soda, err = pick(at+".fizz.soda", d.Fizz.Soda, "", fizzes); err != nil {
			return out, err
		}
	} else {
		switch {
		case d.Fizz != nil:
			return out, bad(at+".fizz", "it goes with the method fizz only")
		case d.PH == nil:
			return out, bad(at+".ph", "a pH is needed")
		}
		out.PH = quantity.PH(*d.PH)
	}
	return out, d.stubborn(at, &out)
}

// stubborn reads what tells of buffering, layers and the lab's potassium.
func (d *Reading) stubborn(at string, out *soil.Reading) error {
	for _, l := range d.Layers {
		out.Layers = append(out.Layers, soil.Layer{From: quantity.Depth(l.FromCM) * quantity.Centimetre, To: quantity.Depth(l.ToCM) * quantity.Centimetre, PH: quantity.PH(l.PH)})
	}
	if b := d.Buffer; b != nil {
		kind, err := pick(at+".buffer.kind", b.Kind, "", soil.BufferKinds)
		if err != nil {
			return err
		}
		if kind == "" {
			return bad(at+".buffer.kind", "a kind of buffer is needed")
		}
		out.Buffer = &soil.BufferPH{Kind: kind, PH: quantity.PH(b.PH)}
	}
	if l := d.LabRate; l != nil {
		out.LabRate = &soil.LabRate{Rate: quantity.Rate(l.GM2), Depth: quantity.Depth(l.DepthCM) * quantity.Centimetre, CCE: quantity.Percent(l.CCEPct), Target: quantity.PH(l.TargetPH)}
	}
	for _, j := range d.Jars {
		out.Jars = append(out.Jars, soil.Jar{Lime: j.CaCO3GKG, PH: quantity.PH(j.PH)})
	}
	if c := d.BufferCapacity; c != nil {
		if len(d.Jars) > 0 {
			return bad(at+".buffer_capacity_mg_kg", "give the jars or the lab's figure, not both")
		}
		if !(*c > 0) {
			return bad(at+".buffer_capacity_mg_kg", "a figure above 0 is needed")
		}
		out.BufferCapacity = *c
	}
	if k := d.KRange; k != nil {
		out.KRange = &soil.KRange{From: quantity.Concentration(k.From), To: quantity.Concentration(k.To)}
	}
	if (d.KExtractant != "" || d.KRange != nil) && d.KPPM == nil {
		return bad(at+".k_ppm", "a figure is needed to go with its extractant or range")
	}
	var err error
	out.Extractant, err = pick(at+".k_extractant", d.KExtractant, "", soil.Extractants)
	return err
}

func (r Request) aims(q *dose.Request) error {
	own := map[string]crop.Crop{}
	for i, c := range r.OwnCrops {
		x, err := c.crop(fmt.Sprintf("own_crops[%d]", i))
		if err != nil {
			return err
		}
		own[x.ID] = x
	}
	find := func(id string) (crop.Crop, bool) {
		if c, ok := own[id]; ok {
			return c, true
		}
		return crop.Find(id)
	}
	if r.Crop != "" {
		c, ok := find(r.Crop)
		if !ok {
			return bad("crop", "%q is not in the library", r.Crop)
		}
		q.Crop = &c
	}
	for i, id := range r.Crops {
		c, ok := find(id)
		if !ok {
			return bad(fmt.Sprintf("crops[%d]", i), "%q is not in the library", id)
		}
		q.With = append(q.With, c)
	}
	q.Target = opt[quantity.PH](r.TargetPH)
	s := School{}
	if r.School != nil {
		s = *r.School
	}
	d := dose.DefaultSchools
	var err error
	if q.Schools.Buffering, err = pick("school.buffering", s.Buffering, d.Buffering, soil.Schools); err != nil {
		return err
	}
	if q.Schools.Ash, err = pick("school.ash", s.Ash, d.Ash, material.AshSchools); err != nil {
		return err
	}
	q.Schools.Act, err = pick("school.act", s.Act, d.Act, crop.ActSchools)
	return err
}

// usualVinegar is the strength of vinegar, per cent, when none is given.
const usualVinegar = 5

func (m Material) batch(i int) (material.Batch, error) {
	at := func(f string) string { return fmt.Sprintf("materials[%d].%s", i, f) }
	row, ok := material.Find(material.Kind(m.Kind))
	if !ok {
		return material.Batch{}, bad(at("kind"), "%q is not a material", m.Kind)
	}
	b := material.Batch{Material: row, Measured: opt[quantity.Percent](m.CCEPct),
		Effective: opt[quantity.Percent](m.EffectivePct), Potash: opt[quantity.Percent](m.K2OPct)}
	// A field that has no meaning for the kind is refused, not ignored.
	ash := row.Family == material.Ash
	for _, f := range []struct {
		name string
		set  bool
		fits bool
	}{
		{"cce_pct", m.CCEPct != nil, row.Raises()}, {"effective_pct", m.EffectivePct != nil, row.Raises()},
		{"k2o_pct", m.K2OPct != nil, ash}, {"condition", m.Condition != "", ash}, {"source", m.Source != "", ash},
		{"fineness_pct", m.FinenessPct != nil, row.Family == material.Lime}, {"moisture_pct", m.MoisturePct != nil, row.Raises()},
		{"charcoal_pct", m.CharcoalPct != nil, ash}, {"vinegar_ml", m.VinegarML != nil, ash}, {"vinegar_pct", m.VinegarPct != nil, m.VinegarML != nil},
		{"burnt", m.Burnt != "", ash}, {"black_walnut", m.BlackWalnut, ash},
	} {
		if f.set && !f.fits {
			return b, bad(at(f.name), "it means nothing here for %s", m.Kind)
		}
	}
	var err error
	if b.Condition, err = pick(at("condition"), m.Condition, material.Dry, []material.Condition{material.Dry, material.Wet}); err != nil {
		return b, err
	}
	if b.Source, err = pick(at("source"), m.Source, material.Clean, material.Sources); err != nil {
		return b, err
	}
	if b.Burnt, err = day(at("burnt"), m.Burnt, false); err != nil {
		return b, err
	}
	b.Walnut, b.Price = m.BlackWalnut, m.PriceKG
	if m.MoisturePct != nil {
		b.Moisture = quantity.Percent(*m.MoisturePct)
	}
	if m.CharcoalPct != nil {
		b.Charcoal = quantity.Percent(*m.CharcoalPct)
	}
	if m.VinegarML != nil {
		b.Vinegar = &material.VinegarTest{MilliLitres: *m.VinegarML, Strength: usualVinegar}
		if m.VinegarPct != nil {
			b.Vinegar.Strength = quantity.Percent(*m.VinegarPct)
		}
	}
	if n := len(m.FinenessPct); n > 0 || m.FinenessPct != nil {
		if n != len(material.FinenessWeights) {
			return b, bad(at("fineness_pct"), "four shares are needed, not %d", n)
		}
		b.Fineness = new([4]quantity.Percent)
		for k, p := range m.FinenessPct {
			b.Fineness[k] = quantity.Percent(p)
		}
	}
	if m.KG != nil {
		g := quantity.Mass(*m.KG) * quantity.Kilogram
		b.OnHand = &g
	}
	return b, nil
}

func (p Put) put(i int) (calendar.Put, error) {
	at := func(f string) string { return fmt.Sprintf("history[%d].%s", i, f) }
	d, err := day(at("date"), p.Date, true)
	if err != nil {
		return calendar.Put{}, err
	}
	m, ok := material.Find(material.Kind(p.Material))
	switch {
	case !ok:
		return calendar.Put{}, bad(at("material"), "%q is not a material", p.Material)
	case p.GM2 == nil:
		return calendar.Put{}, bad(at("g_m2"), "an amount is needed")
	}
	return calendar.Put{Date: d, Material: m, Rate: quantity.Rate(*p.GM2), Planned: p.Planned}, nil
}

// FromDose writes a core request as the contract has it, so that a page's
// dose can be handed to the command line.
func FromDose(q dose.Request, climate, hemisphere string) Request {
	g := q.Ground
	r := Request{
		Date: q.Date.String(), Place: &Place{Climate: climate, Hemisphere: hemisphere},
		Bed: &Bed{AreaM2: num(g.Area), DepthCM: num(quantity.Round(float64(g.Depth)*100, 6)), Texture: string(g.Texture.ID), Table: string(g.Table),
			Worked: string(g.Worked), Use: string(g.Use), OrganicMatterPct: deref(g.OrganicMatter), ClayPct: deref(g.ClayShare),
			CEC: deref(g.CEC), FreeLime: string(g.FreeLime), State: string(g.State), WaterAlkalinity: q.Water},
		TargetPH: deref(q.Target),
		School:   &School{string(q.Schools.Buffering), string(q.Schools.Ash), string(q.Schools.Act)},
		Sowing:   q.Sowing.String(), Cleared: q.Cleared.String(),
	}
	if preset, ok := soil.FindClimate(climate, hemisphere); !ok || preset.Normal != q.Climate.Normal {
		for _, t := range q.Climate.Normal {
			r.Place.SoilTempC = append(r.Place.SoilTempC, float64(t))
		}
	}
	first := fromReading(q.Reading)
	r.Reading = &first
	for _, x := range q.More {
		r.Readings = append(r.Readings, fromReading(x))
	}
	if q.Crop != nil {
		r.Crop = q.Crop.ID
	}
	for _, c := range q.With {
		r.Crops = append(r.Crops, c.ID)
	}
	all := q.With
	if q.Crop != nil {
		all = append([]crop.Crop{*q.Crop}, q.With...)
	}
	for _, c := range all {
		if book, ok := crop.Find(c.ID); !ok || book != c {
			r.OwnCrops = append(r.OwnCrops, fromCrop(c))
		}
	}
	for _, b := range q.Materials {
		r.Materials = append(r.Materials, fromBatch(b))
	}
	for _, p := range q.History {
		r.History = append(r.History, Put{p.Date.String(), string(p.Material.Kind), num(p.Rate), p.Planned})
	}
	return r
}

func cm(d quantity.Depth) float64 { return quantity.Round(float64(d)*100, 6) }

func fromReading(d soil.Reading) Reading {
	r := Reading{Date: d.Date.String(), Basis: string(d.Basis), Method: string(d.Method), Cores: &d.Cores,
		KPPM: deref(d.Potassium), MgPPM: deref(d.Magnesium), KExtractant: string(d.Extractant)}
	if d.Method == soil.Fizz {
		r.Fizz = &Fizz{string(d.Fizz.Vinegar), string(d.Fizz.Soda)}
	} else {
		r.PH = num(d.PH)
	}
	for _, l := range d.Layers {
		r.Layers = append(r.Layers, Layer{cm(l.From), cm(l.To), float64(l.PH)})
	}
	if b := d.Buffer; b != nil {
		r.Buffer = &Buffer{string(b.Kind), float64(b.PH)}
	}
	if l := d.LabRate; l != nil {
		r.LabRate = &LabRate{float64(l.Rate), cm(l.Depth), float64(l.CCE), float64(l.Target)}
	}
	for _, j := range d.Jars {
		r.Jars = append(r.Jars, Jar{j.Lime, float64(j.PH)})
	}
	if d.BufferCapacity > 0 {
		r.BufferCapacity = &d.BufferCapacity
	}
	if k := d.KRange; k != nil {
		r.KRange = &KRange{float64(k.From), float64(k.To)}
	}
	return r
}

func fromBatch(b material.Batch) Material {
	m := Material{Kind: string(b.Kind), CCEPct: deref(b.Measured), EffectivePct: deref(b.Effective), K2OPct: deref(b.Potash),
		Burnt: b.Burnt.String(), BlackWalnut: b.Walnut, PriceKG: b.Price}
	if b.Family == material.Ash {
		m.Condition, m.Source = string(b.Condition), string(b.Source)
	}
	if b.OnHand != nil {
		m.KG = num(float64(*b.OnHand) / 1000)
	}
	if b.Moisture > 0 {
		m.MoisturePct = num(b.Moisture)
	}
	if b.Charcoal > 0 {
		m.CharcoalPct = num(b.Charcoal)
	}
	if v := b.Vinegar; v != nil {
		m.VinegarML, m.VinegarPct = &v.MilliLitres, num(v.Strength)
	}
	if f := b.Fineness; f != nil {
		for _, p := range f {
			m.FinenessPct = append(m.FinenessPct, float64(p))
		}
	}
	return m
}

func num[T ~float64](v T) *float64 { f := float64(v); return &f }

func deref[T ~float64](p *T) *float64 {
	if p == nil {
		return nil
	}
	return num(*p)
}
