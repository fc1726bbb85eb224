package garden

import (
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
	// Now and Next are the crop that stands and the one that follows; nil when
	// there is none.
	Now, Next *Planting
	// Crop is the one that the soil is judged for: the next, or the one that
	// stands for years.
	Crop crop.Crop
	// Reading is the last with a pH, Potassium the last with a potassium, nil
	// when there is none. Fizz is the last jar test that is newer.
	Reading, Potassium *Reading
	Standing           Standing
	// PH is on the water basis; Off how far it lies outside the band.
	PH, Off quantity.PH
	// Expected is set when PH was not measured but is to be hoped for.
	Expected bool
}

// crops finds what stands on a bed on a day and what follows.
func crops(ps []Planting, day quantity.Day) (now, next *Planting) {
	for i := range ps {
		p := &ps[i]
		switch {
		case p.Sown > day:
			if next == nil {
				next = p
			}
		case p.Cleared == 0 || p.Cleared > day:
			now = p
		}
	}
	return now, next
}

// cropOf picks the crop that a bed is judged for.
func cropOf(now, next *Planting) crop.Crop {
	if now != nil {
		if c, ok := crop.Find(now.Crop); ok && (c.Is(crop.Perennial) || next == nil) {
			return c
		}
	}
	if next != nil {
		if c, ok := crop.Find(next.Crop); ok {
			return c
		}
	}
	return crop.Unnamed
}

// newPlot judges a bed on a day; plantings and readings are the bed's own, in
// the order of their days.
func newPlot(b Bed, ps []Planting, rs []Reading, day quantity.Day) Plot {
	p := Plot{Bed: b, Standing: Untested}
	p.Now, p.Next = crops(ps, day)
	p.Crop = cropOf(p.Now, p.Next)
	for i := range rs {
		r := &rs[i]
		if r.Date > day {
			break
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
