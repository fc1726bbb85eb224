package soil

import (
	"fmt"
	"math"

	"zephyrfield/agronomy/quantity"
)

// Standard deviations of ln(need) of a measured curve: rising from jar to jar, and with merged
// jars.
const (
	measuredSD = 0.12
	mergedSD   = 0.20
)

// fewestJars is the least number of jars in a series.
const fewestJars = 4

// Fit is a jar series made monotonic, linear from point to point.
type Fit struct {
	// Points are the jars; a jar that fell below the one before is merged with it.
	Points []Jar
	// Merged is the number of jars that were merged with a neighbour.
	Merged int
	// PerSoil is g CaCO₃ per kg of soil and pH unit between the first and the last point.
	PerSoil float64
	// LeftOut is the root mean square distance in pH of each inner jar from the line between its
	// neighbours.
	LeftOut float64
}

// FitJars checks a jar series and makes it rise: a jar that does not read above the one before is
// merged with it at their mean lime and mean pH. It fails with fewer than four jars, or when lime
// does not rise.
func FitJars(jars []Jar) (Fit, error) {
	if len(jars) < fewestJars {
		return Fit{}, missing("reading.jars", "a series needs %d jars or more", fewestJars)
	}
	for i, j := range jars {
		switch {
		case !(j.PH >= 3 && j.PH <= 10):
			return Fit{}, missing(fmt.Sprintf("reading.jars[%d].ph", i), "a pH from 3 to 10 is needed")
		case !(j.Lime >= 0 && j.Lime <= 100):
			return Fit{}, missing(fmt.Sprintf("reading.jars[%d].caco3_g_kg", i), "from 0 to 100 g/kg")
		case i > 0 && j.Lime <= jars[i-1].Lime:
			return Fit{}, missing(fmt.Sprintf("reading.jars[%d].caco3_g_kg", i), "each jar gets more lime than the one before")
		}
	}
	f := Fit{Points: rising(jars)}
	f.Merged = len(jars) - len(f.Points)
	n := len(f.Points)
	if n < 2 {
		return Fit{}, missing("reading.jars", "the pH does not rise with the lime")
	}
	first, last := f.Points[0], f.Points[n-1]
	f.PerSoil = (last.Lime - first.Lime) / float64(last.PH-first.PH)
	sum := 0.0
	for i := 1; i < len(jars)-1; i++ {
		a, b, c := jars[i-1], jars[i], jars[i+1]
		between := float64(a.PH) + float64(c.PH-a.PH)*(b.Lime-a.Lime)/(c.Lime-a.Lime)
		sum += (float64(b.PH) - between) * (float64(b.PH) - between)
	}
	f.LeftOut = math.Sqrt(sum / float64(len(jars)-2))
	return f, nil
}

// rising merges neighbours until each jar reads above the one before.
func rising(jars []Jar) []Jar {
	type pool struct {
		Jar
		n float64
	}
	var out []pool
	for _, j := range jars {
		out = append(out, pool{j, 1})
		for k := len(out) - 1; k > 0 && out[k].PH <= out[k-1].PH; k-- {
			a, b := out[k-1], out[k]
			n := a.n + b.n
			out[k-1] = pool{Jar{(a.Lime*a.n + b.Lime*b.n) / n, (a.PH*quantity.PH(a.n) + b.PH*quantity.PH(b.n)) / quantity.PH(n)}, n}
			out = out[:k]
		}
	}
	points := make([]Jar, len(out))
	for i, p := range out {
		points[i] = p.Jar
	}
	return points
}

// At returns the pH after an amount of lime, linear from point to point.
func (f Fit) At(lime float64) quantity.PH {
	i := 1
	for i < len(f.Points)-1 && lime > f.Points[i].Lime {
		i++
	}
	a, b := f.Points[i-1], f.Points[i]
	return a.PH + (b.PH-a.PH)*quantity.PH((lime-a.Lime)/(b.Lime-a.Lime))
}

// over returns the series as a curve on a ground.
func (f Fit) over(g Ground) (ph, sum []float64) {
	for _, j := range f.Points {
		ph, sum = append(ph, float64(j.PH)), append(sum, j.Lime*g.SoilMass())
	}
	return ph, sum
}

func byMeasured(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	if len(r.Jars) > 0 {
		return byJars(b, g, r, target)
	}
	if r.BufferCapacity <= 0 {
		return missing("reading.jars", "this method needs a jar series, or the lab’s lime buffer capacity")
	}
	per := r.BufferCapacity / 1000
	slope := per * g.SoilMass()
	b.Raise = NewCurve([]float64{3.5, 6.5}, []float64{slope})
	b.Lower = lowering([]float64{3.5, 6.5}, []float64{slope}, g.Texture, g.layers(quantity.SevenInches))
	b.Terms.PerSoil = per
	return nil
}

// byJars follows the jars from point to point. Beyond the last jar nothing is known, so no target
// may lie there.
func byJars(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	fit, err := FitJars(r.Jars)
	if err != nil {
		return err
	}
	last := fit.Points[len(fit.Points)-1]
	if target > last.PH+1e-9 && target > r.Water() {
		return missing("target_ph", "the jars end at pH %.2f; what lies beyond was not measured", float64(last.PH))
	}
	if fit.Merged > 0 {
		b.LogSD = mergedSD
	}
	ph, sum := fit.over(g)
	b.Raise = curveThrough(ph, sum)
	// Lowering follows the jars back below 6.5, and the printed sulfur table above.
	down, slopes := []float64{}, []float64{}
	for i := range ph {
		if ph[i] < SulfurFrom-1e-9 {
			down = append(down, ph[i])
		}
	}
	if len(down) == 0 {
		down = []float64{SulfurFrom - 1}
	}
	down = append(down, SulfurFrom)
	for i := 1; i < len(down); i++ {
		slopes = append(slopes, (b.Raise.at(down[i])-b.Raise.at(down[i-1]))/(down[i]-down[i-1]))
	}
	b.Lower = lowering(down, slopes, g.Texture, g.layers(quantity.SevenInches))
	b.Terms.Jars, b.Terms.Merged = len(r.Jars), fit.Merged
	return nil
}

// SulfurFrom is where the printed sulfur table begins.
const SulfurFrom = 6.5
