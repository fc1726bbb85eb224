package forecast

import (
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Layers returns a model for each layer, if at least two layered readings have the same layers. The
// layers share the buffering. What is dug in is divided by thickness; what stays on top goes to the
// layers within the top 5 cm. Errors are *soil.MissingError.
func (r *Record) Layers(s soil.LimeMethod, plan bool) (layers []soil.Layer, beds []Model, err error) {
	var readings []soil.Reading
	for i := range r.Readings {
		x := &r.Readings[i]
		switch {
		case len(x.Layers) < 2:
			continue
		case layers == nil:
			layers = x.Layers
		case !slices.EqualFunc(layers, x.Layers, func(a, b soil.Layer) bool { return a.From == b.From && a.To == b.To }):
			return nil, nil, nil
		}
		readings = append(readings, *x)
	}
	if len(layers) == 0 {
		return nil, nil, nil
	}
	whole := layers[len(layers)-1].To - layers[0].From
	top := quantity.Depth(0)
	for _, l := range layers {
		if l.To <= soil.TopLayer+1e-9 {
			top += thick(l)
		}
	}
	for n, l := range layers {
		own := *r
		own.Ground.Depth = thick(l)
		own.Readings = nil
		for _, x := range readings {
			x.PH, x.Layers = x.Layers[n].PH, nil
			own.Readings = append(own.Readings, x)
		}
		method, err := own.Method(s)
		if err != nil {
			return nil, nil, err
		}
		b := own.Model(method, plan)
		share := float64(thick(l) / whole)
		b.Drift, b.DriftSD = b.Drift*share, b.DriftSD*share
		if !b.Dug {
			if share = 0; l.To <= soil.TopLayer+1e-9 {
				share = float64(thick(l) / top)
			}
		}
		for i := range b.Additions {
			b.Additions[i].CaCO3 *= share
		}
		beds = append(beds, b)
	}
	return layers, beds, nil
}

func thick(l soil.Layer) quantity.Depth { return l.To - l.From }

// RunLayers forecasts layers that share the buffering: each uses what the readings of the others
// imply for it.
func RunLayers(beds []Model, until quantity.Day) []Result {
	says := make([][]float64, len(beds))
	Each(len(beds), func(i int) {
		b := beds[i]
		t := b.layOut(b.Readings[len(b.Readings)-1].Date, false)
		t.straighten(&Result{})
		for n, l := range t.filter(&Result{}, nil) {
			says[i] = append(says[i], l.log-b.prior(n))
		}
	})
	out := make([]Result, len(beds))
	Each(len(beds), func(i int) {
		b := beds[i]
		b.lean = make([]float64, gridPoints)
		for j, grid := range says {
			for n, x := range grid {
				if j != i {
					b.lean[n] += x
				}
			}
		}
		out[i] = Run(&b, until)
	})
	return out
}
