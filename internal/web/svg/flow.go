package svg

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
)

// Flow is the flow from stocks to beds: blocks at the left as high as the amount used, a ribbon to
// each bed as thick as its share.
type Flow struct {
	W, H Px
	// Block is the width of a block; a bed's row lies from Row to W, its name at NameX, its ruler
	// from RuleX over RuleW.
	Block, Row, NameX, RuleX, RuleW Px

	Sources []FlowSource
	Ribbons []FlowRibbon
	Beds    []FlowBed
}

// FlowSource is a stock.
type FlowSource struct {
	Name, Says, Class string
	Y, H, NameY       Px
	SaysY             Px
}

// FlowRibbon is a stock's flow to a bed.
type FlowRibbon struct {
	Path         Path
	Class, Title string
}

// FlowBed is a row: its range, its current and final pH, and its potassium.
type FlowBed struct {
	Name, Says, Href, Potassium string
	Y, NameY, SaysY, RuleY      Px
	RangeX, RangeW              Px
	FromX, ToX                  Px
	Standing                    string
	Line                        Px
	// HasK is set for the potassium bar: current, added, and the ceiling.
	HasK         bool
	KX, KAll     Px
	KNow, KAdded Px
	KTop         Px
}

// Shipment is a bed with kilograms of each source.
type Shipment struct {
	FlowBed
	Range    crop.Range
	From, To quantity.PH
	Kilos    []float64
	// K is the potassium before and after, Ceiling its limit; nil if unknown.
	K, KAfter *quantity.Concentration
	Ceiling   quantity.Concentration
}

// The layout: blocks, ribbons, then the beds' rows.
const (
	flowWide   = 900
	flowBlock  = 190
	flowBeds   = 370
	flowRow    = 64
	flowLeast  = 30 // least height of a block, for its name
	flowThin   = 2  // least thickness of a ribbon
	flowName   = 12 // the names' distance from the row's beginning
	flowRuleX  = 630
	flowRuleW  = 140
	flowKX     = 790
	flowKW     = 110
	flowKPast  = 1.25 // range of the bar relative to the ceiling
	flowLowPH  = 4.0
	flowHighPH = 8.5
)

func flowX(ph quantity.PH) Px {
	at := (float64(ph) - flowLowPH) / (flowHighPH - flowLowPH)
	return Px(flowRuleX + flowRuleW*min(1, max(0, at)))
}

// FlowOf draws a flow. Sources have names and classes.
func FlowOf(sources []FlowSource, beds []Shipment) Flow {
	f := Flow{W: flowWide, H: Px(flowRow * max(len(beds), 1)), Block: flowBlock, Row: flowBeds, NameX: flowBeds + flowName,
		RuleX: flowRuleX, RuleW: flowRuleW}
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
	// The scale lets the fullest bed fit its row, and all blocks the picture.
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
		row.RangeX = flowX(b.Range.Low)
		row.RangeW = flowX(b.Range.High) - row.RangeX
		row.FromX, row.ToX = flowX(b.From), flowX(b.To)
		row.potassium(b)
		f.Beds = append(f.Beds, row)
	}
	return f
}

// potassium draws a bed's potassium bar.
func (row *FlowBed) potassium(b Shipment) {
	if b.K == nil || b.Ceiling <= 0 {
		return
	}
	at := func(k quantity.Concentration) Px {
		return Px(flowKW * min(1, max(0, float64(k)/(flowKPast*float64(b.Ceiling)))))
	}
	row.HasK, row.KX, row.KAll, row.KNow, row.KTop = true, flowKX, flowKW, at(*b.K), flowKX+at(b.Ceiling)
	if b.KAfter != nil && *b.KAfter > *b.K {
		row.KAdded = at(*b.KAfter) - row.KNow
	}
}

// ribbonPath returns a ribbon from one height to another.
func ribbonPath(from, to, thick Px) Path {
	const x1, x2 = flowBlock, flowBeds
	return moveTo(x1, from).swingTo(x1, from, x2, to).downTo(to+thick).swingTo(x2, to+thick, x1, from+thick).closed()
}
