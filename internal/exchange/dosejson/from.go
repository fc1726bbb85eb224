package dosejson

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// measuredSpan is how far back measured soil temperatures affect a dose: earlier applications have
// reacted.
const measuredSpan quantity.Day = 800

// FromDose converts a core request, so that a page's dose can be given to the command line.
func FromDose(q dose.Request, climate, hemisphere string) Request {
	g := q.Record.Worked()
	r := Request{
		Date: q.Date.String(), Place: &Place{Climate: climate, Hemisphere: hemisphere},
		Bed: &Bed{AreaM2: num(g.Area), DepthCM: num(quantity.Round(float64(g.Depth)*100, 6)), Texture: string(g.Texture.ID),
			Table: string(g.Table), Worked: string(g.Worked), DugUntil: g.DugUntil.String(), Use: string(g.Use),
			OrganicMatterPct: deref(g.OrganicMatter), ClayPct: deref(g.Clay), CEC: deref(g.CEC),
			FreeLime: string(g.FreeLime), State: string(g.State), WaterAlkalinity: q.Water, StonesPct: positive(g.Stones), Begun: q.Begun},
		TargetPH: deref(q.Target),
		Method: &Methods{Buffering: string(q.Methods.Buffering), Ash: string(q.Methods.Ash), Act: string(q.Methods.Act),
			Fizz: string(q.Methods.Fizz), TomatoAsh: string(q.Methods.TomatoAsh), Water: string(q.Methods.Water), Retest: string(q.Methods.Retest),
			Pace: string(q.Methods.Pace)},
		Sowing: q.Sowing.String(), Planted: q.Planted.String(), Cleared: q.Cleared.String(),
	}
	r.Method.Learned = fromLearned(q)
	for _, x := range q.Sown {
		r.Sown = append(r.Sown, Start{x.Day.String(), x.Planted, x.Scab, int(x.Cut), x.Clear})
	}
	if preset, ok := soil.FindClimate(climate, hemisphere); !ok || preset.Normal != q.Climate.Normal {
		for _, t := range q.Climate.Normal {
			r.Place.SoilTempC = append(r.Place.SoilTempC, float64(t))
		}
	}
	for _, x := range q.Climate.Measured {
		if x.Day > q.Date-measuredSpan {
			r.Place.SoilMeasured = append(r.Place.SoilMeasured, SoilDay{x.Day.String(), float64(x.Soil)})
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
	if r.Crop == "" && r.TargetPH == nil {
		r.TargetPH = num(crop.Unnamed.Aim) // no crop named
	}
	for _, c := range q.With {
		r.Crops = append(r.Crops, c.ID)
	}
	for _, x := range q.Grown {
		r.Grown = append(r.Grown, Grown{x.Crop.ID, x.From.String(), x.To.String()})
	}
	if k := q.Carried; k != nil {
		r.KCarried = &KCarried{float64(k.Now), float64(k.Given), float64(k.Carried), float64(k.Leached)}
	}
	r.OwnCrops = ownCrops(q)
	for _, b := range q.Materials {
		r.Materials = append(r.Materials, fromBatch(b))
	}
	for _, p := range q.History {
		r.History = append(r.History, HistoryEntry{Date: p.Date.String(), Material: string(p.Material.Kind), GM2: num(p.Rate), Planned: p.Planned,
			CCEPct: deref(p.Measured), K2OPct: deref(p.Potash), Condition: string(p.Condition), FinenessPct: figures(p.Fineness)})
	}
	return r
}

// fromLearned converts what the bed has shown, if the request uses it.
func fromLearned(q dose.Request) *Learned {
	l := q.Ground.Learned
	if l == nil || q.Methods.Buffering != soil.ByLearned {
		return nil
	}
	out := &Learned{Beside: string(l.Beside), Factor: &l.Factor, LogSD: &l.LogSD, Tests: &l.Tests}
	if l.Level > 0 && l.Day == q.Reading.Date {
		out.Level, out.LevelSD = num(l.Level), &l.LevelSD
		for _, x := range l.Joint {
			out.Joint = append(out.Joint, Draw{x.Weight, float64(x.Start), x.SD, x.Factor})
		}
	}
	return out
}

// ownCrops returns a request's crops that the library lacks or has differently.
func ownCrops(q dose.Request) (own []OwnCrop) {
	all := q.With
	if q.Crop != nil {
		all = append([]crop.Crop{*q.Crop}, q.With...)
	}
	for _, x := range q.Grown {
		all = append(all, x.Crop)
	}
	seen := map[string]bool{}
	for _, c := range all {
		if seen[c.ID] || c.ID == "" {
			continue
		}
		seen[c.ID] = true
		if book, ok := crop.Find(c.ID); !ok || book != c {
			own = append(own, fromCrop(c))
		}
	}
	return own
}

func cm(d quantity.Depth) float64 { return quantity.Round(float64(d)*100, 6) }

func fromReading(d soil.Reading) Reading {
	r := Reading{Date: d.Date.String(), Basis: string(d.Basis), Method: string(d.Method), Cores: &d.Cores,
		KPPM: deref(d.Potassium), MgPPM: deref(d.Magnesium), CaPPM: deref(d.Calcium), KExtractant: string(d.Extractant)}
	if d.Method == soil.Fizz {
		r.Fizz = &Fizz{string(d.Fizz.Vinegar), string(d.Fizz.Soda)}
	} else {
		r.PH = num(d.PH)
	}
	if d.PotassiumDate != 0 && d.PotassiumDate != d.Date {
		r.KDate = d.PotassiumDate.String()
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
		PriceKG: b.Price, Crushed: b.Crushed}
	if b.Family == material.Ash {
		m.Condition, m.Source = string(b.Condition), string(b.Source)
		m.Burnt, m.BlackWalnut, m.Embers = b.Burnt.String(), b.Walnut, b.Embers
	}
	if b.OnHand != nil {
		m.KG = num(float64(*b.OnHand) / 1000)
	} else if b.Held != nil {
		m.HeldKG = num(float64(*b.Held) / 1000)
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
	m.FinenessPct = figures(b.Fineness)
	return m
}

// figures converts the shares of a fineness; nil if there are none.
func figures(shares *[4]quantity.Percent) (out []float64) {
	if shares == nil {
		return nil
	}
	for _, p := range shares {
		out = append(out, float64(p))
	}
	return out
}

// positive returns nil for 0.
func positive(p quantity.Percent) *float64 {
	if p == 0 {
		return nil
	}
	return num(p)
}

func num[T ~float64](v T) *float64 { f := float64(v); return &f }

func deref[T ~float64](p *T) *float64 {
	if p == nil {
		return nil
	}
	return num(*p)
}
