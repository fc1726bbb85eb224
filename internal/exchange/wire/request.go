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
)

// Request is a dose request. Fields are SI; docs/dose.md tells each.
type Request struct {
	Date      string     `json:"date"`
	Place     *Place     `json:"place,omitempty"`
	Bed       *Bed       `json:"bed"`
	Reading   *Reading   `json:"reading"`
	Crop      string     `json:"crop,omitempty"`
	TargetPH  *float64   `json:"target_ph,omitempty"`
	School    *School    `json:"school,omitempty"`
	Materials []Material `json:"materials,omitempty"`
	History   []Put      `json:"history,omitempty"`
	Sowing    string     `json:"sowing,omitempty"`
	Cleared   string     `json:"cleared,omitempty"`
}

// Place is where the bed lies.
type Place struct {
	Climate    string `json:"climate,omitempty"`
	Hemisphere string `json:"hemisphere,omitempty"`
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
}

// Put is something that went on before.
type Put struct {
	Date     string   `json:"date"`
	Material string   `json:"material"`
	GM2      *float64 `json:"g_m2"`
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
		return bad(strings.TrimSuffix(name, `"`), "this version knows no such field")
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
	return q, err
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
	if b.Texture == "" {
		return bad("bed.texture", "a texture is needed")
	}
	var ok bool
	if g.Texture, ok = soil.FindTexture(soil.Texture(b.Texture)); !ok {
		return bad("bed.texture", "%q is not a texture", b.Texture)
	}
	var err error
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
	g.Depth = soil.UsualDepth(g.Use, g.Worked)
	if b.DepthCM != nil {
		g.Depth = quantity.Depth(*b.DepthCM) * quantity.Centimetre
	}
	q.Ground = g
	return nil
}

var fizzes = []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong}

// usualCores is reckoned with when a request does not say.
const usualCores = 10

func (r Request) reading(q *dose.Request) error {
	d := r.Reading
	if d == nil {
		return bad("reading", "a reading is needed")
	}
	out := soil.Reading{Cores: usualCores, Potassium: opt[quantity.Concentration](d.KPPM), Magnesium: opt[quantity.Concentration](d.MgPPM)}
	var err error
	// A reading without a day counts as that of the dose.
	if out.Date, err = day("reading.date", cmpOr(d.Date, r.Date), true); err != nil {
		return err
	}
	methods := make([]soil.Method, len(soil.Methods))
	for i, m := range soil.Methods {
		methods[i] = m.Method
	}
	if out.Method, err = pick("reading.method", d.Method, soil.Lab, methods); err != nil {
		return err
	}
	if out.Basis, err = pick("reading.basis", d.Basis, soil.Water, []soil.Basis{soil.Water, soil.CaCl2, soil.KCl}); err != nil {
		return err
	}
	if d.Cores != nil {
		out.Cores = *d.Cores
	}
	if out.Method == soil.Fizz {
		switch {
		case d.PH != nil:
			return bad("reading.ph", "jar fizz gives no figure")
		case d.Fizz == nil:
			return bad("reading.fizz", "both jars are needed")
		}
		if out.Fizz.Vinegar, err = pick("reading.fizz.vinegar", d.Fizz.Vinegar, "", fizzes); err != nil {
			return err
		}
		if out.Fizz.Soda, err = pick("reading.fizz.soda", d.Fizz.Soda, "", fizzes); err != nil {
			return err
		}
	} else {
		switch {
		case d.Fizz != nil:
			return bad("reading.fizz", "it goes with the method fizz only")
		case d.PH == nil:
			return bad("reading.ph", "a pH is needed")
		}
		out.PH = quantity.PH(*d.PH)
	}
	q.Reading = out
	return nil
}

func (r Request) aims(q *dose.Request) error {
	if r.Crop != "" {
		c, ok := crop.Find(r.Crop)
		if !ok {
			return bad("crop", "%q is not in the library", r.Crop)
		}
		q.Crop = &c
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
	} {
		if f.set && !f.fits {
			return b, bad(at(f.name), "it means nothing for %s", m.Kind)
		}
	}
	var err error
	if b.Condition, err = pick(at("condition"), m.Condition, material.Dry, []material.Condition{material.Dry, material.Wet}); err != nil {
		return b, err
	}
	if b.Source, err = pick(at("source"), m.Source, material.Clean, material.Sources); err != nil {
		return b, err
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
	return calendar.Put{Date: d, Material: m, Rate: quantity.Rate(*p.GM2)}, nil
}

// FromDose writes a core request as the contract has it, so that a page's
// dose can be handed to the command line.
func FromDose(q dose.Request, climate, hemisphere string) Request {
	g, d := q.Ground, q.Reading
	r := Request{
		Date: q.Date.String(), Place: &Place{climate, hemisphere},
		Bed: &Bed{AreaM2: num(g.Area), DepthCM: num(quantity.Round(float64(g.Depth)*100, 6)), Texture: string(g.Texture.ID), Table: string(g.Table),
			Worked: string(g.Worked), Use: string(g.Use), OrganicMatterPct: deref(g.OrganicMatter), ClayPct: deref(g.ClayShare),
			CEC: deref(g.CEC), FreeLime: string(g.FreeLime)},
		Reading: &Reading{Date: d.Date.String(), Basis: string(d.Basis), Method: string(d.Method), Cores: &d.Cores,
			KPPM: deref(d.Potassium), MgPPM: deref(d.Magnesium)},
		TargetPH: deref(q.Target),
		School:   &School{string(q.Schools.Buffering), string(q.Schools.Ash), string(q.Schools.Act)},
		Sowing:   q.Sowing.String(), Cleared: q.Cleared.String(),
	}
	if d.Method == soil.Fizz {
		r.Reading.Fizz = &Fizz{string(d.Fizz.Vinegar), string(d.Fizz.Soda)}
	} else {
		r.Reading.PH = num(d.PH)
	}
	if q.Crop != nil {
		r.Crop = q.Crop.ID
	}
	for _, b := range q.Materials {
		m := Material{Kind: string(b.Kind), CCEPct: deref(b.Measured), EffectivePct: deref(b.Effective), K2OPct: deref(b.Potash)}
		if b.Family == material.Ash {
			m.Condition, m.Source = string(b.Condition), string(b.Source)
		}
		if b.OnHand != nil {
			m.KG = num(float64(*b.OnHand) / 1000)
		}
		r.Materials = append(r.Materials, m)
	}
	for _, p := range q.History {
		r.History = append(r.History, Put{p.Date.String(), string(p.Material.Kind), num(p.Rate)})
	}
	return r
}

func num[T ~float64](v T) *float64 { f := float64(v); return &f }

func deref[T ~float64](p *T) *float64 {
	if p == nil {
		return nil
	}
	return num(*p)
}
