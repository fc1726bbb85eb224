package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Layer is the pH of a stretch of depth, water basis.
type Layer struct {
	From, To quantity.Depth
	PH       quantity.PH
}

// Extractant is what a lab drew the potassium out with; they are not
// interchangeable.
type Extractant string

// Extractants.
const (
	Mehlich3        Extractant = "mehlich-3"
	AmmoniumAcetate Extractant = "ammonium-acetate"
	Olsen           Extractant = "olsen"
	Morgan          Extractant = "morgan"
	OtherExtractant Extractant = "other"
)

// Extractants lists them.
var Extractants = []Extractant{Mehlich3, AmmoniumAcetate, Olsen, Morgan, OtherExtractant}

// Comparable tells whether the critical figure of this program holds for it.
func (e Extractant) Comparable() bool {
	return e == "" || e == Mehlich3 || e == AmmoniumAcetate
}

// KRange is the lab's own optimum of potassium.
type KRange struct{ From, To quantity.Concentration }

// Limits of joining readings, pH units: how far from the median one reading is
// flagged, and how far apart two methods disagree.
const (
	Outlier  = 0.4
	disagree = 0.5
)

// Joined is what several readings come to.
type Joined struct {
	Reading
	// Disagree is set when two methods of equal standing differ by more than
	// 0.5: a third is wanted and nothing is dosed.
	Disagree bool
	A, B     Method
	// Apart is how far the two lie from each other.
	Apart quantity.PH
	// Outranked is set when a lab or calibrated meter put weaker methods aside.
	Outranked bool
	// Outliers are how many readings lie further than 0.4 from the median.
	Outliers int
	// FreeLime is the class that the vinegar jar gave, "" when there was none.
	FreeLime FreeLime
	// Doubted is set when jar fizz says otherwise than the figure.
	Doubted bool
}

// methodValue is what the readings by one method come to.
type methodValue struct {
	trust Trust
	ph    float64
	sd    float64
	n     int
	last  Reading
}

// strong tells whether a method outranks kits, probes and stale meters.
func (m methodValue) strong() bool { return m.trust.Dose == Freely }

// Join makes one reading of several: by method the mean, or of three and more
// the median; across methods the mean weighted by their sureness, strong
// methods outranking weak ones that differ by more than 0.5. Jar fizz gives no
// figure; it only raises a question.
func Join(rs []Reading) Joined {
	var j Joined
	for _, r := range rs {
		if r.Method == Fizz {
			j.FreeLime = r.Fizz.Vinegar
		}
	}
	if len(rs) == 1 {
		j.Reading = rs[0]
		return j
	}
	values, fizz := byMethod(rs, &j)
	if len(values) == 0 {
		j.Reading = fizz[len(fizz)-1]
		return j
	}
	used := outrank(values, &j)
	var weights, sum float64
	for _, v := range used {
		w := 1 / (v.sd * v.sd)
		weights, sum = weights+w, sum+w*v.ph
	}
	j.Reading = used[0].last
	j.PH, j.Basis = quantity.PH(sum/weights), Water
	j.Doubt = 1 / math.Sqrt(weights)
	fill(&j.Reading, rs)
	for _, f := range fizz {
		r, weak := f.Fizz.Judge()
		j.Doubted = j.Doubted || !weak && (r == Alkaline && j.PH < 6.5 || r == Acid && j.PH > 7.0)
	}
	return j
}

// byMethod gathers the values by method, the surest first.
func byMethod(rs []Reading, j *Joined) (values []methodValue, fizz []Reading) {
	for _, t := range Methods {
		var own []Reading
		for _, r := range rs {
			if r.Method == t.Method {
				own = append(own, r)
			}
		}
		if len(own) == 0 {
			continue
		}
		if t.Dose == Never {
			fizz = own
			continue
		}
		v := methodValue{trust: t, n: len(own), last: own[0]}
		ph := make([]float64, len(own))
		for i, r := range own {
			ph[i] = float64(r.Water())
			if r.Date > v.last.Date {
				v.last = r
			}
		}
		v.ph = middle(ph)
		if len(ph) >= 3 {
			for _, p := range ph {
				if math.Abs(p-v.ph) > Outlier {
					j.Outliers++
				}
			}
		}
		// Readings of one sample share its sampling doubt.
		sampling := SamplingSD(v.last.Cores)
		one := v.last.SD()
		v.sd = math.Sqrt((one*one-sampling*sampling)/float64(v.n) + sampling*sampling)
		values = append(values, v)
	}
	return values, fizz
}

// middle is the mean of one or two, the median of more.
func middle(ph []float64) float64 {
	s := slices.Clone(ph)
	slices.Sort(s)
	n := len(s)
	return (s[(n-1)/2] + s[n/2]) / 2
}

// outrank keeps the methods that count, and notes where they differ.
func outrank(values []methodValue, j *Joined) []methodValue {
	used := values[:0:0]
	for _, v := range values {
		if values[0].strong() && !v.strong() && math.Abs(v.ph-values[0].ph) > disagree {
			j.Outranked = true
			continue
		}
		used = append(used, v)
	}
	for i, v := range used {
		for _, w := range used[:i] {
			// A lab or a calibrated meter settles what weaker methods differ over.
			settled := !v.strong() && values[0].strong()
			// The small margin lets readings to a tenth differ by just 0.5.
			if d := math.Abs(v.ph - w.ph); d > disagree+1e-9 && v.strong() == w.strong() && !settled {
				j.Disagree, j.A, j.B, j.Apart = true, w.trust.Method, v.trust.Method, quantity.PH(d)
			}
		}
	}
	return used
}

// fill takes what the leading reading lacks from the others, the newest first.
func fill(r *Reading, rs []Reading) {
	newest := slices.Clone(rs)
	slices.SortStableFunc(newest, func(a, b Reading) int { return int(b.Date - a.Date) })
	for _, o := range newest {
		if r.Potassium == nil {
			r.Potassium, r.Extractant, r.KRange = o.Potassium, o.Extractant, o.KRange
		}
		if r.Magnesium == nil {
			r.Magnesium = o.Magnesium
		}
		if r.Buffer == nil {
			r.Buffer = o.Buffer
		}
		if r.LabRate == nil {
			r.LabRate = o.LabRate
		}
		if len(r.Jars) == 0 && r.BufferCapacity == 0 {
			r.Jars, r.BufferCapacity = o.Jars, o.BufferCapacity
		}
		if len(r.Layers) == 0 {
			r.Layers = o.Layers
		}
		r.Date = max(r.Date, o.Date)
	}
}

// Slice is a stretch of the bed's depth with its pH.
type Slice struct {
	Thick quantity.Depth
	PH    quantity.PH
}

// Slices cuts a depth by the reading's layers; what has no layer takes the
// single pH. below is the lowest pH of a layer that begins under the depth, 0
// when there is none.
func (r Reading) Slices(depth quantity.Depth) (in []Slice, below quantity.PH) {
	covered := quantity.Depth(0)
	for _, l := range r.Layers {
		if l.From >= depth-1e-9 {
			if below == 0 || l.PH < below {
				below = l.PH
			}
			continue
		}
		if thick := min(l.To, depth) - l.From; thick > 0 {
			in = append(in, Slice{thick, l.PH})
			covered += thick
		}
	}
	if rest := depth - covered; rest > 1e-9 {
		in = append(in, Slice{rest, r.Water()})
	}
	return in, below
}

// PotassiumUnit is a unit that labs print potassium in.
type PotassiumUnit string

// Units of potassium.
const (
	PPM          PotassiumUnit = "ppm"
	PoundsPerAcr PotassiumUnit = "lb/acre"
	KgPerHectare PotassiumUnit = "kg/ha"
)

// PotassiumIn turns a lab's figure into mg/kg; soilMass is kg/m².
func PotassiumIn(u PotassiumUnit, x, soilMass float64) quantity.Concentration {
	switch u {
	case PoundsPerAcr:
		return quantity.Concentration(x / 2)
	case KgPerHectare:
		return quantity.Concentration(x / (soilMass / 100))
	}
	return quantity.Concentration(x)
}
