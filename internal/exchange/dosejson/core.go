package dosejson

import (
	"fmt"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

func (c OwnCrop) crop(at string) (crop.Crop, error) {
	out := crop.Crop{ID: c.ID, Name: c.Name}
	switch {
	case c.ID == "":
		return out, bad(at+".id", "an id is needed")
	case c.LowPH == nil || !(*c.LowPH >= 3 && *c.LowPH <= 10):
		return out, bad(at+".low_ph", "a pH from 3 to 10 is needed")
	case c.HighPH == nil || !(*c.HighPH >= *c.LowPH+crop.MinRange && *c.HighPH <= 10):
		return out, bad(at+".high_ph", "a pH above low_ph by 0.1 or more, and to 10, is needed")
	case c.AimPH != nil && !(*c.AimPH >= *c.LowPH && *c.AimPH <= *c.HighPH):
		return out, bad(at+".aim_ph", "an aim in the range is needed")
	case c.Removal != nil && !(*c.Removal >= 0 && *c.Removal <= crop.MaxRemoval):
		return out, bad(at+".k2o_removal_g_m2", "from 0 to %d is needed", crop.MaxRemoval)
	}
	if out.Name == "" {
		out.Name = strings.ReplaceAll(c.ID, "-", " ")
	}
	out.Range = crop.Range{Low: quantity.PH(*c.LowPH), High: quantity.PH(*c.HighPH)}
	out.Aim = quantity.PH(quantity.Round(float64(out.Range.Middle()), 2))
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

// fromCrop converts a crop that differs from the library.
func fromCrop(c crop.Crop) OwnCrop {
	return OwnCrop{ID: c.ID, Name: c.Name, LowPH: num(c.Range.Low), HighPH: num(c.Range.High), AimPH: num(c.Aim), Removal: num(c.Removal),
		Flags: strings.Fields(c.Flags.IDs())}
}

// pick looks a word up in a table; an empty one takes the default.
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

// mostMaterials is how many materials one request compares: more than a shed holds. Pairs of them are tried.
const mostMaterials = 60

// Dose converts the request to the core's. Errors are *dose.InputError.
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
	if len(r.Materials) > mostMaterials {
		return q, bad("materials", "at most %d materials are compared at once", mostMaterials)
	}
	for i, m := range r.Materials {
		b, err := m.batch(i)
		if err != nil {
			return q, err
		}
		q.Materials = append(q.Materials, b)
	}
	for i, p := range r.History {
		put, err := p.put("history", i)
		if err != nil {
			return q, err
		}
		q.History = append(q.History, put)
	}
	if err = r.season(&q); err != nil {
		return q, err
	}
	if err = r.learn(&q); err != nil {
		return q, err
	}
	q.Assumed = r.assumed(q)
	return q, nil
}

// season parses the days of sowing, planting and clearing, and past crops.
func (r Request) season(q *dose.Request) (err error) {
	for _, x := range []struct {
		field, text string
		into        *quantity.Day
	}{{"sowing", r.Sowing, &q.Sowing}, {"planted", r.Planted, &q.Planted}, {"cleared", r.Cleared, &q.Cleared}} {
		if *x.into, err = day(x.field, x.text, false); err != nil {
			return err
		}
	}
	for i, x := range r.Sown {
		d, err := day(fmt.Sprintf("sown[%d].date", i), x.Date, true)
		if err != nil {
			return err
		}
		q.Sown = append(q.Sown, calendar.Start{Day: d, Planted: x.Planted, Scab: x.Scab, Cut: quantity.Day(x.HarvestDays),
			Clear: x.HangsClear})
	}
	find := r.crops()
	for i, x := range r.Grown {
		at := func(f string) string { return fmt.Sprintf("grown[%d].%s", i, f) }
		g := ledger.Grown{}
		var ok bool
		if g.Crop, ok = find(x.Crop); !ok {
			return bad(at("crop"), "%q is not in the library", x.Crop)
		}
		if g.From, err = day(at("from"), x.From, true); err != nil {
			return err
		}
		if g.To, err = day(at("to"), x.To, false); err != nil {
			return err
		}
		q.Grown = append(q.Grown, g)
	}
	return r.carried(q)
}

// crops returns a lookup of crops: the request's own, then the library.
func (r Request) crops() func(id string) (crop.Crop, bool) {
	return func(id string) (crop.Crop, bool) {
		for i := len(r.OwnCrops) - 1; i >= 0; i-- {
			if c := r.OwnCrops[i]; c.ID == id {
				x, err := c.crop("")
				return x, err == nil
			}
		}
		return crop.Find(id)
	}
}

// assumed lists the defaults used for omitted fields.
func (r Request) assumed(q dose.Request) (out working.Values) {
	add := func(left bool, v working.Value) {
		if left {
			out = append(out, v)
		}
	}
	p, b, d, s := r.Place, r.Bed, r.Reading, r.Method
	add(p == nil || p.Climate == "" && len(p.SoilTempC) == 0, working.ID("climate", q.Climate.ID))
	add(b.Table == "", working.ID("table", q.Ground.Table))
	add(b.Worked == "", working.ID("worked", q.Record.Worked().Worked))
	add(b.DepthCM == nil, working.Num("depth", working.Depth, q.Ground.Depth))
	add(d.Date == "", working.On("date", q.Reading.Date))
	add(d.Method == "", working.ID("method", q.Reading.Method))
	add(d.Basis == "" && q.Reading.Method != soil.Fizz, working.ID("basis", q.Reading.Basis))
	add(d.Cores == nil, working.Int("cores", working.Count, q.Reading.Cores))
	add(s == nil || s.Buffering == "", working.ID("buffering", q.Methods.Buffering))
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
		// The climate's name stays: it selects the lime table's column.
	}
	q.Climate, err = measured(c, p.SoilMeasured)
	return err
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
		Clay: opt[quantity.Percent](b.ClayPct), CEC: opt[quantity.CationExchangeCapacity](b.CEC)}
	var err error
	if err = b.texture(&g); err != nil {
		return err
	}
	q.Water, q.Begun = b.WaterAlkalinity, b.Begun
	if b.StonesPct != nil {
		g.Stones = quantity.Percent(*b.StonesPct)
	}
	if g.Table, err = pick("bed.table", b.Table, soil.UsualTable(q.Climate.ID),
		[]soil.TableClimate{soil.CoolTable, soil.WarmTable}); err != nil {
		return err
	}
	if g.Use, err = pick("bed.use", b.Use, soil.UseBed, []soil.Use{soil.UseBed, soil.UseLawn, soil.UseTree, soil.UsePot}); err != nil {
		return err
	}
	if g.Worked, err = pick("bed.worked", b.Worked, soil.UsualWorked(g.Use),
		[]soil.Worked{soil.Dug, soil.Surface, soil.Established}); err != nil {
		return err
	}
	if b.Worked != "" && g.Worked == soil.Dug {
		g.Worked = soil.DugAmong // as entered, whatever stands there
	}
	if b.DugUntil != "" {
		if g.DugUntil, err = quantity.ParseDay(b.DugUntil); err != nil {
			return bad("bed.dug_until", "%v", err)
		}
	}
	if g.FreeLime, err = pick("bed.free_lime", b.FreeLime, soil.LimeUnknown,
		[]soil.FreeLime{soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong}); err != nil {
		return err
	}
	if g.State, err = pick("bed.state", b.State, soil.Open,
		[]soil.State{soil.Open, soil.FrozenHard, soil.SnowCovered, soil.Waterlogged}); err != nil {
		return err
	}
	g.Depth = soil.UsualDepth(g.Use, g.Worked)
	if b.DepthCM != nil {
		g.Depth = quantity.Depth(*b.DepthCM) * quantity.Centimetre
	}
	q.Ground = g
	return nil
}

// texture resolves exactly one of name, jar and feel.
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
		if g.Clay == nil {
			g.Clay = &clay
		}
	case b.TextureFeel != nil:
		f := b.TextureFeel
		if !(f.RibbonCM >= 0 && f.RibbonCM <= 30) || f.Gritty && f.Smooth {
			return bad("bed.texture_feel", "a ribbon from 0 to 30 cm, and gritty or smooth but not both")
		}
		g.Texture = soil.Feel{Ball: f.Ball, Ribbon: quantity.Depth(f.RibbonCM) * quantity.Centimetre, Gritty: f.Gritty,
			Smooth: f.Smooth}.Class()
	default:
		if g.Texture, ok = soil.FindTexture(soil.Texture(b.Texture)); !ok {
			return bad("bed.texture", "%q is not a texture", b.Texture)
		}
	}
	return nil
}

var fizzes = []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong}

// usualCores is the default number of cores.
const usualCores = soil.FullSample

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

// soil parses one reading; at is its name in the request, usual its default day.
func (d *Reading) soil(at, usual string) (soil.Reading, error) {
	out := soil.Reading{Cores: usualCores, Potassium: opt[quantity.Concentration](d.KPPM), Magnesium: opt[quantity.Concentration](d.MgPPM),
		Calcium: opt[quantity.Concentration](d.CaPPM)}
	var err error
	// A reading without a day has that of the dose.
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
	if f := d.Fizz; f != nil {
		if out.Method != soil.Fizz {
			return out, bad(at+".fizz", "it goes with the method fizz only")
		}
		if out.Fizz.Vinegar, err = pick(at+".fizz.vinegar", f.Vinegar, "", fizzes); err != nil {
			return out, err
		}
		if out.Fizz.Soda, err = pick(at+".fizz.soda", f.Soda, "", fizzes); err != nil {
			return out, err
		}
	}
	switch {
	case d.PH != nil:
		out.PH = quantity.PH(*d.PH)
	case out.Method != soil.Fizz:
		return out, bad(at+".ph", "a pH is needed")
	}
	return out, d.buffering(at, &out)
}

// buffering parses the fields on buffering, layers and the lab's potassium.
func (d *Reading) buffering(at string, out *soil.Reading) error {
	for _, l := range d.Layers {
		out.Layers = append(out.Layers, soil.Layer{From: quantity.Depth(l.FromCM) * quantity.Centimetre,
			To: quantity.Depth(l.ToCM) * quantity.Centimetre, PH: quantity.PH(l.PH)})
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
		out.LabRate = &soil.LabRate{Rate: quantity.Rate(l.GM2), Depth: quantity.Depth(l.DepthCM) * quantity.Centimetre,
			CCE: quantity.Percent(l.CCEPct), Target: quantity.PH(l.TargetPH)}
	}
	for _, j := range d.Jars {
		out.Jars = append(out.Jars, soil.Jar{Lime: j.CaCO3GKG, PH: quantity.PH(j.PH)})
	}
	if c := d.BufferCapacity; c != nil {
		if len(d.Jars) > 0 {
			return bad(at+".buffer_capacity_mg_kg", "give the jars or the lab’s figure, not both")
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
	if d.KDate != "" && d.KPPM == nil {
		return bad(at+".k_ppm", "a figure is needed to go with its day")
	}
	var err error
	if out.PotassiumDate, err = day(at+".k_date", d.KDate, false); err != nil {
		return err
	}
	out.Extractant, err = pick(at+".k_extractant", d.KExtractant, "", soil.Extractants)
	return err
}

func (r Request) aims(q *dose.Request) error {
	for i, c := range r.OwnCrops {
		if _, err := c.crop(fmt.Sprintf("own_crops[%d]", i)); err != nil {
			return err
		}
	}
	find := r.crops()
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
	s := Methods{}
	if r.Method != nil {
		s = *r.Method
	}
	given := map[string]string{"buffering": s.Buffering, "ash": s.Ash, "act": s.Act, "fizz": s.Fizz, "tomato_ash": s.TomatoAsh,
		"water": s.Water, "retest": s.Retest, "pace": s.Pace}
	for i := range dose.Questions {
		x := &dose.Questions[i]
		id, err := pick("school."+x.Name, given[x.Name], x.IDs[0], x.IDs)
		if err != nil {
			return err
		}
		x.Choose(&q.Methods, id)
	}
	return nil
}

// usualVinegar is the default strength of vinegar, per cent.
const usualVinegar = 5
