package garden

import (
	"slices"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Standing is how a bed stands against its crop's band.
type Standing string

// Standings.
const (
	Sour     Standing = "sour"
	InBand   Standing = "in-band"
	TooSweet Standing = "too-sweet"
	Untested Standing = "untested"
)

// Standings lists them in the order in which they are told.
var Standings = []Standing{Sour, TooSweet, Untested, InBand}

// Plot is a bed as it stands on a day.
type Plot struct {
	Bed Bed
	// Now are the crops that stand, Next those that are sown next and what then
	// stands with them.
	Now, Next []Planting
	// Crop is what the soil is judged for: what is next, or what stands for
	// years; several crops as one. Crops are the several.
	Crop  crop.Crop
	Crops []crop.Crop
	// Clash is the pair of crops whose bands do not meet; nil when all is well.
	// Crop is then the first of them.
	Clash *[2]crop.Crop
	// Reading is the last with a pH, Potassium the last with a potassium, nil
	// when there is none. Fizz is the last jar test that is newer.
	Reading, Potassium *Reading
	Standing           Standing
	// PH is on the water basis; Off how far it lies outside the band.
	PH, Off quantity.PH
	// Expected is set when PH was not measured but is to be hoped for.
	Expected bool
}

// standing are the crops on a bed on a day.
func standing(ps []Planting, day quantity.Day) (out []Planting) {
	for _, p := range ps {
		if p.Sown <= day && (p.Cleared == 0 || p.Cleared > day) {
			out = append(out, p)
		}
	}
	return out
}

// plant finds what stands on a bed on a day and what follows, and judges for
// which of them the soil is meant: those that stand for years, else the next.
func (p *Plot) plant(ps []Planting, l Library, day quantity.Day) {
	p.Now = standing(ps, day)
	for _, x := range ps {
		if x.Sown > day {
			p.Next = standing(ps, x.Sown)
			break
		}
	}
	judged := p.Next
	if len(p.Next) == 0 || slices.ContainsFunc(p.Now, func(x Planting) bool { c, _ := l.Find(x.Crop); return c.Is(crop.Perennial) }) {
		judged = p.Now
	}
	p.Crop = crop.Unnamed
	for _, x := range judged {
		c, ok := l.Find(x.Crop)
		if ok && !slices.ContainsFunc(p.Crops, func(y crop.Crop) bool { return y.ID == c.ID }) {
			p.Crops = append(p.Crops, c)
		}
	}
	if len(p.Crops) == 0 {
		return
	}
	together, a, b, ok := crop.Together(p.Crops)
	if !ok {
		p.Crop, p.Clash = p.Crops[0], &[2]crop.Crop{a, b}
		return
	}
	p.Crop = together
}

// newPlot judges a bed on a day; plantings and readings are the bed's own, in
// the order of their days.
func newPlot(b Bed, ps []Planting, l Library, rs []Reading, day quantity.Day) Plot {
	p := Plot{Bed: b, Standing: Untested}
	p.plant(ps, l, day)
	for i := range rs {
		r := &rs[i]
		if r.Date > day {
			break
		}
		if !r.Stands() {
			continue
		}
		if r.PH != nil {
			p.Reading = r
		}
		if r.Potassium != nil {
			p.Potassium = r
		}
	}
	if p.Reading == nil {
		return p
	}
	p.stand(p.Reading.Soil().Water())
	return p
}

// Stand sets what the plot is expected to read.
func (p *Plot) Stand(ph quantity.PH) {
	p.stand(ph)
	p.Expected = true
}

// stand puts the plot's pH against its crop's band.
func (p *Plot) stand(ph quantity.PH) {
	p.PH, p.Off = ph, 0
	switch band := p.Crop.Band; {
	case ph < band.Low:
		p.Standing, p.Off = Sour, band.Low-ph
	case ph > band.High:
		p.Standing, p.Off = TooSweet, ph-band.High
	default:
		p.Standing = InBand
	}
}

// Ground is the bed as agronomy has it.
func (b Bed) Ground(table soil.TableClimate) soil.Ground {
	t, _ := soil.FindTexture(b.Texture)
	return soil.Ground{Area: b.Area(), Depth: b.Depth, Texture: t, Table: table, Worked: b.Worked, Use: b.Use(),
		OrganicMatter: b.OrganicMatter, ClayShare: b.Clay, CEC: b.CEC, FreeLime: b.FreeLime}
}

// Supply judges the plot's potassium.
func (p Plot) Supply() (soil.Supply, soil.PotassiumScale) {
	scale := soil.PotassiumBands(p.Bed.Ground(soil.CoolTable))
	if p.Potassium == nil {
		return soil.Unknown, scale
	}
	return scale.Judge(p.Potassium.Potassium), scale
}

// byBed groups rows by their bed, order kept.
func byBed[T any](rows []T, bed func(T) int64) map[int64][]T {
	m := make(map[int64][]T)
	for _, r := range rows {
		m[bed(r)] = append(m[bed(r)], r)
	}
	return m
}
