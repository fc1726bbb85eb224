package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Layer is the pH of a stretch of depth, in its reading's own basis.
type Layer struct {
	From, To quantity.Depth
	PH       quantity.PH
}

// KRange is the lab's own optimum of potassium.
type KRange struct{ From, To quantity.Concentration }

// Limits of joining readings, pH units: how far from the median one reading is
// flagged, and how far apart two methods are when they disagree.
const (
	Outlier  = 0.4
	Disagree = 0.5
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
	// N is how many readings with a pH were joined, Left how many were too far in
	// time, or from before an application that came between.
	N, Left int
}

// JoinWithin is how near in time to the newest reading that can carry a dose
// others tell of the same soil.
const JoinWithin quantity.Day = 42

// methodValue is what the readings by one method come to.
type methodValue struct {
	trust Trust
	ph    float64
	sd    float64
	n     int
	last  Reading
}

// strong reports whether a method outranks kits, probes and stale meters.
func (m methodValue) strong() bool { return m.trust.Dose == Freely }

// Join makes one reading of several: by method the mean, or of three and more
// the median; across methods the mean weighted by their sureness, strong
// methods outranking weak ones that differ by more than 0.5. Only those count
// that lie within JoinWithin of the newest that can carry a dose, none from
// before a day in moved, on which something that moves pH went on between. Jar
// fizz gives no figure and no date; it only raises a question.
func Join(rs []Reading, moved []quantity.Day) Joined {
	var j Joined
	var fizz *Reading
	newest := -1
	for i := range rs {
		switch r := &rs[i]; {
		case r.Method == Fizz:
			if fizz == nil || r.Date > fizz.Date || r.Date == fizz.Date && !fizz.Fizz.Over(r.Fizz) {
				fizz = r
			}
		case newest < 0 || r.Date > rs[newest].Date:
			newest = i
		}
	}
	if fizz != nil {
		j.FreeLime = fizz.Fizz.Vinegar
	}
	if newest < 0 {
		j.Reading = *fizz
		return j
	}
	near := rs[:0:0]
	for _, r := range rs {
		switch {
		case r.Method == Fizz:
		case !SameSoil(r.Date, rs[newest].Date, moved):
			j.Left++
		default:
			near = append(near, r)
		}
	}
	j.N = len(near)
	j.Reading = near[0]
	if len(near) > 1 {
		j.join(near)
	}
	fill(&j.Reading, near, rs)
	if fizz != nil {
		r, weak := fizz.Fizz.Judge()
		j.Doubted = !weak && (r == Alkaline && j.Water() < 6.5 || r == Acid && j.Water() > 7.0)
	}
	return j
}

// SameSoil reports whether readings of two days tell of the same soil: near in time,
// with nothing put on between that moves pH.
func SameSoil(a, b quantity.Day, moved []quantity.Day) bool {
	from, to := min(a, b), max(a, b)
	if to-from > JoinWithin {
		return false
	}
	for _, m := range moved {
		if m >= from && m < to {
			return false
		}
	}
	return true
}

// depthSlack is how far two depths may differ and still be the same, m.
const depthSlack quantity.Depth = 0.021

// SameDepth reports whether two readings were taken about as deep.
func SameDepth(a, b quantity.Depth) bool { return a-b <= depthSlack && b-a <= depthSlack }

// join makes one reading of those that are near.
func (j *Joined) join(near []Reading) {
	used := outrank(byMethod(near, j), j)
	var weights, sum float64
	for _, v := range used {
		w := 1 / (v.sd * v.sd)
		weights, sum = weights+w, sum+w*v.ph
	}
	first := used[0].last
	// Layers are in their own reading's basis; the joined one is in water.
	if row, _ := FindBasis(first.Basis); row.Shift != 0 {
		first.Layers = slices.Clone(first.Layers)
		for i := range first.Layers {
			first.Layers[i].PH += row.Shift
		}
	}
	j.Reading = first
	j.PH, j.Basis = quantity.PH(sum/weights), Water
	j.Doubt = 1 / math.Sqrt(weights)
	for _, r := range near {
		j.Date = max(j.Date, r.Date)
	}
}

// byMethod gathers the values by method, the surest first.
func byMethod(rs []Reading, j *Joined) (values []methodValue) {
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
	return values
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
		if values[0].strong() && !v.strong() && math.Abs(v.ph-values[0].ph) > Disagree {
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
			if d := math.Abs(v.ph - w.ph); d > Disagree+1e-9 && v.strong() == w.strong() && !settled {
				j.Disagree, j.A, j.B, j.Apart = true, w.trust.Method, v.trust.Method, quantity.PH(d)
			}
		}
	}
	return used
}

// fill takes what the leading reading lacks from the others, the newest first.
// What changes with every application, the buffer pH, the lab's rate and the layers, comes
// from those near it only; potassium keeps its own day, and what tells of the
// soil itself may be older.
func fill(r *Reading, near, all []Reading) {
	newest := slices.Clone(all)
	slices.SortStableFunc(newest, func(a, b Reading) int { return int(b.Date - a.Date) })
	if r.Potassium != nil && r.PotassiumDate == 0 {
		r.PotassiumDate = r.Date
	}
	for i := range newest {
		o := &newest[i]
		if o.Potassium != nil && (r.Potassium == nil || o.KDate() > r.KDate()) {
			r.Potassium, r.Extractant, r.KRange, r.PotassiumDate = o.Potassium, o.Extractant, o.KRange, o.KDate()
		}
		if r.Magnesium == nil {
			r.Magnesium = o.Magnesium
		}
		if r.Calcium == nil {
			r.Calcium = o.Calcium
		}
		if len(r.Jars) == 0 && r.BufferCapacity == 0 {
			r.Jars, r.BufferCapacity = o.Jars, o.BufferCapacity
		}
	}
	for i := range near {
		o := &near[i]
		if r.Buffer == nil {
			r.Buffer = o.Buffer
		}
		if r.LabRate == nil {
			r.LabRate = o.LabRate
		}
		if len(r.Layers) == 0 && o.Basis == r.Basis {
			r.Layers = o.Layers
		}
	}
}
