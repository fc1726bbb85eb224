package svg

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
)

// Flow is what goes from the shelf to the beds: blocks at the left as high as what is
// used of them, a ribbon to each bed as thick as what it gets.
type Flow struct {
	W, H    Px
	Sources []FlowSource
	Ribbons []FlowRibbon
	Beds    []FlowBed
}

// FlowSource is a bin or a bag.
type FlowSource struct {
	Name, Says, Class string
	Y, H, NameY       Px
	SaysY             Px
}

// FlowRibbon is what goes from one to another.
type FlowRibbon struct {
	Path         Path
	Class, Title string
}

// FlowBed is a row: its band, where it stands and where it settles, and its potassium.
type FlowBed struct {
	Name, Says, Href, Potassium string
	Y, NameY, SaysY, RuleY      Px
	BandX, BandW                Px
	FromX, ToX                  Px
	Standing                    string
	Line                        Px
	// HasK draws the bar of potassium: what is there, what is added, and the ceiling.
	HasK             bool
	KX, KNow, KAdded Px
	KTop             Px
}

// Shipment is a bed as it is drawn, with kilograms of each source.
type Shipment struct {
	FlowBed
	Band     crop.Band
	From, To quantity.PH
	Kilos    []float64
	// K is the potassium there and with what it gets, Ceiling what it may not pass; nil
	// where it is not known.
	K, KAfter *quantity.Concentration
	Ceiling   quantity.Concentration
}

// The flow in its own units: blocks, ribbons, then the rows of the beds.
const (
	flowWide   = 644
	flowBlock  = 130
	flowBeds   = 262
	flowRow    = 64
	flowLeast  = 30 // a block is at least so high that its name stands in it
	flowThin   = 2  // a ribbon is at least so thick
	flowRuleX  = 470
	flowRuleW  = 90
	flowKX     = 570
	flowKW     = 74
	flowKPast  = 1.25 // the bar reaches so far past the ceiling
	flowLowPH  = 4.0
	flowHighPH = 8.5
)

func flowX(ph quantity.PH) Px {
	at := (float64(ph) - flowLowPH) / (flowHighPH - flowLowPH)
	return Px(flowRuleX + flowRuleW*min(1, max(0, at)))
}

// FlowOf lays out what goes where. Sources have their names and classes.
func FlowOf(sources []FlowSource, beds []Shipment) Flow {
	f := Flow{W: flowWide, H: Px(flowRow * max(len(beds), 1))}
	used := make([]float64, len(sources))
	most := 0.0
	for _, b := range beds {
		row := 0.0
		for m, kg := range b.Kilos {
			used[m] += kg
			row += kg
		}
		most = max(most, row)
	}
	total := 0.0
	for _, kg := range used {
		total += kg
	}
	// A kilogram is as thick as lets the fullest bed stand in its row, and all blocks in
	// the picture.
	each := 0.0
	if most > 0 {
		each = min((flowRow-14)/most, max(float64(f.H)-flowLeast*float64(len(sources)), flowLeast)/total)
	}
	tops := make([]float64, len(sources))
	y := 10.0
	for m, s := range sources {
		h := max(flowLeast, used[m]*each)
		s.Y, s.H, s.NameY, s.SaysY = Px(y), Px(h), Px(y+14), Px(y+27)
		f.Sources = append(f.Sources, s)
		tops[m] = y
		y += h + 12
	}
	f.H = max(f.H, Px(y))
	for i, b := range beds {
		top := float64(i * flowRow)
		at := top + 8
		for m, kg := range b.Kilos {
			if kg <= 0 {
				continue
			}
			thick := max(flowThin, kg*each)
			f.Ribbons = append(f.Ribbons, FlowRibbon{Class: sources[m].Class, Title: sources[m].Name + " to " + b.Name,
				Path: ribbonPath(Px(tops[m]), Px(at), Px(thick))})
			tops[m] += kg * each
			at += thick + 1
		}
		row := b.FlowBed
		row.Y, row.NameY, row.SaysY, row.RuleY, row.Line = Px(top), Px(top+24), Px(top+42), Px(top+32), Px(top+flowRow-2)
		row.BandX = flowX(b.Band.Low)
		row.BandW = flowX(b.Band.High) - row.BandX
		row.FromX, row.ToX = flowX(b.From), flowX(b.To)
		row.potassium(b)
		f.Beds = append(f.Beds, row)
	}
	return f
}

// potassium lays out the bar of a bed's potassium.
func (row *FlowBed) potassium(b Shipment) {
	if b.K == nil || b.Ceiling <= 0 {
		return
	}
	at := func(k quantity.Concentration) Px {
		return Px(flowKW * min(1, max(0, float64(k)/(flowKPast*float64(b.Ceiling)))))
	}
	row.HasK, row.KX, row.KNow, row.KTop = true, flowKX, at(*b.K), flowKX+at(b.Ceiling)
	if b.KAfter != nil && *b.KAfter > *b.K {
		row.KAdded = at(*b.KAfter) - row.KNow
	}
}

// ribbonPath returns a band from one height to another.
func ribbonPath(from, to, thick Px) Path {
	const x1, x2 = flowBlock, flowBeds
	return moveTo(x1, from).swingTo(x1, from, x2, to).downTo(to+thick).swingTo(x2, to+thick, x1, from+thick).closed()
}
