package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Layer is the pH of a depth range, in its reading's basis.
type Layer struct {
	From, To quantity.Depth
	PH       quantity.PH
}

// KRange is the lab's own optimum range of potassium.
type KRange struct{ From, To quantity.Concentration }

// Limits of combining readings in pH units: distance from the median at which a reading is flagged,
// and difference at which two methods disagree.
const (
	Outlier  = 0.4
	Disagree = 0.5
)

// Joined is the result of combining several readings.
type Joined struct {
	Reading
	// Disagree is set when two methods of equal rank differ by more than 0.5: nothing is dosed
	// until a third reading.
	Disagree bool
	A, B     Method
	// Apart is the difference of the two methods.
	Apart quantity.PH
	// Outranked is set when a lab or calibrated meter overruled weaker methods.
	Outranked bool
	// Outliers is the number of readings further than 0.4 from the median.
	Outliers int
	// FreeLime is the class from the vinegar jar, "" without one.
	FreeLime FreeLime
	// Doubted is set when the jar test contradicts the figure.
	Doubted bool
	// N is the number of readings with a pH that were combined, Left how many were too far away in
	// time or from before an intervening application.
	N, Left int
}

// JoinWithin is how many days from the newest dosable reading others count as of the same soil.
const JoinWithin quantity.Day = 42

// methodValue is the combined value of the readings by one method.
type methodValue struct {
	trust Trust
	ph    float64
	sd    float64
	n     int
	last  Reading
}

// strong reports whether a method outranks kits, probes and stale meters.
func (m methodValue) strong() bool { return m.trust.Dose == Freely }

// Join combines several readings. Within a method it takes the mean, or with three or more the
// median; across methods the mean weighted by 1/variance, with strong methods overruling weak ones
// that differ by more than 0.5. Readings count within JoinWithin of the newest dosable one, and
// none from before a day in moved, on which something that moves pH was applied. A jar test has no
// figure and no date of its own; it can only raise Doubted.
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

// SameSoil reports whether readings of two days describe the same soil: near in time, with no
// application in between that moves pH.
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

// depthSlack is the largest difference of depths that counts as the same, m.
const depthSlack quantity.Depth = 0.021

// SameDepth reports whether two readings were taken at about the same depth.
func SameDepth(a, b quantity.Depth) bool { return a-b <= depthSlack && b-a <= depthSlack }

// join combines the readings that are near.
func (j *Joined) join(near []Reading) {
	used := outrank(byMethod(near, j), j)
	var weights, sum float64
	for _, v := range used {
		w := 1 / (v.sd * v.sd)
		weights, sum = weights+w, sum+w*v.ph
	}
	first := used[0].last
	// Layers are in the basis of their own reading; the combined reading is in water.
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

// byMethod groups the values by method, most accurate first.
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
		// Readings of one sample share its sampling error.
		sampling := SamplingSD(v.last.Cores)
		one := v.last.SD()
		v.sd = math.Sqrt((one*one-sampling*sampling)/float64(v.n) + sampling*sampling)
		values = append(values, v)
	}
	return values
}

// middle returns the mean of one or two, the median of more.
func middle(ph []float64) float64 {
	s := slices.Clone(ph)
	slices.Sort(s)
	n := len(s)
	return (s[(n-1)/2] + s[n/2]) / 2
}

// outrank drops overruled methods and records disagreements.
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
			// A lab or a calibrated meter settles a disagreement of weaker methods.
			settled := !v.strong() && values[0].strong()
			// The small margin lets readings to a tenth differ by exactly 0.5.
			if d := math.Abs(v.ph - w.ph); d > Disagree+1e-9 && v.strong() == w.strong() && !settled {
				j.Disagree, j.A, j.B, j.Apart = true, w.trust.Method, v.trust.Method, quantity.PH(d)
			}
		}
	}
	return used
}

// fill completes the leading reading from the others, newest first. Values that every application
// changes (buffer pH, lab rate, layers) come only from those near it; potassium keeps its own day;
// values of the soil itself may be older.
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
