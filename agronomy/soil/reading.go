package soil

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// Method is how a pH was read.
type Method string

// Methods.
const (
	Lab        Method = "lab"
	Meter      Method = "meter"
	MeterStale Method = "meter-stale"
	Probe      Method = "probe"
	Kit        Method = "kit"
	Fizz       Method = "fizz"
)

// Basis is the liquid that the soil was stirred in.
type Basis string

// Bases.
const (
	Water Basis = "water"
	CaCl2 Basis = "cacl2"
	KCl   Basis = "kcl"
)

// Doses says whether a method's reading may carry a rate.
type Doses int

// Answers to "may it dose?".
const (
	Never Doses = iota
	HalfFirst
	WithCaution
	Freely
)

// Trust is a row of the table of methods.
type Trust struct {
	Method Method
	// SD is that of one reading, pH units, water basis.
	SD   float64
	Dose Doses
}

// Methods is the table of trust, the surest first.
var Methods = []Trust{
	{Lab, 0.10, Freely},
	{Meter, 0.15, Freely},
	{MeterStale, 0.35, WithCaution},
	{Kit, 0.35, HalfFirst},
	{Probe, 0.50, HalfFirst},
	{Fizz, 0, Never},
}

// FindMethod returns the row of a method.
func FindMethod(m Method) (Trust, bool) {
	for _, t := range Methods {
		if t.Method == m {
			return t, true
		}
	}
	return Trust{}, false
}

// BasisRow is how far a basis reads below water, and how sure a lab is of the
// water pH behind it: the step differs by soil and season.
type BasisRow struct {
	Basis Basis
	Shift quantity.PH
	LabSD float64
}

// Bases is the table of bases.
var Bases = []BasisRow{
	{Water, 0, 0.10},
	{CaCl2, 0.6, 0.20},
	{KCl, 0.9, 0.20},
}

// stepVariance returns the doubt that the step to water adds to any method's.
func (b BasisRow) stepVariance() float64 { return b.LabSD*b.LabSD - Bases[0].LabSD*Bases[0].LabSD }

// FindBasis returns the row of a basis.
func FindBasis(b Basis) (BasisRow, bool) {
	for _, r := range Bases {
		if r.Basis == b {
			return r, true
		}
	}
	return BasisRow{}, false
}

// FizzTest is the answer of two jars.
type FizzTest struct{ Vinegar, Soda FreeLime }

// Over reports whether a jar test goes before another of the same day: one that fizzed with vinegar before one that did not.
func (t FizzTest) Over(o FizzTest) bool { return t.Vinegar.Share() > o.Vinegar.Share() }

// Reading is one reading of one sample.
type Reading struct {
	Date   quantity.Day
	Method Method
	Basis  Basis
	// PH is as read, in the basis; 0 with Fizz.
	PH    quantity.PH
	Cores int
	Fizz  FizzTest
	// Potassium and Magnesium are nil when not tested.
	Potassium *quantity.Concentration
	Magnesium *quantity.Concentration
	// Calcium is nil when not tested.
	Calcium *quantity.Concentration
	// Buffer, LabRate, Jars and BufferCapacity (mg CaCO₃/kg per pH) tell how
	// hard to shift the soil is; each may be missing.
	Buffer         *BufferPH
	LabRate        *LabRate
	Jars           []Jar
	BufferCapacity float64
	// Layers are pH values of depths, in the reading's own basis; a depth without
	// one takes PH.
	Layers []Layer
	// PotassiumDate is the day of the potassium figure, no day for Date.
	PotassiumDate quantity.Day
	// Doubt overrides the table's sd, for readings that were joined; 0: none.
	Doubt float64
	// Extractant and KRange are the lab's own for potassium.
	Extractant Extractant
	KRange     *KRange
}

// Water returns the pH on the water basis.
func (r Reading) Water() quantity.PH {
	row, _ := FindBasis(r.Basis)
	return r.PH + row.Shift
}

// FullSample is the number of cores from which on more leave no less doubt.
const FullSample = 10

// SamplingSD returns the standard deviation that the number of cores leaves, pH units.
func SamplingSD(cores int) float64 {
	switch {
	case cores >= FullSample:
		return 0.10
	case cores >= 5:
		return 0.20
	default:
		return 0.30
	}
}

// SD returns the whole doubt of a reading: method and sampling together.
func (r Reading) SD() float64 {
	if r.Doubt > 0 {
		return r.Doubt
	}
	t, _ := FindMethod(r.Method)
	sd := t.SD
	if row, ok := FindBasis(r.Basis); ok {
		sd = math.Sqrt(sd*sd + row.stepVariance())
	}
	return WithSampling(sd, r.Cores)
}

// WithSampling adds to a method's standard deviation that of a sample of so many cores.
func WithSampling(sd float64, cores int) float64 { return math.Hypot(sd, SamplingSD(cores)) }

// UsualSD returns the standard deviation of a reading by a method in water, of a mixed sample of
// FullSample cores: what is said of the method wherever no reading is at hand.
func UsualSD(m Method) float64 { return Reading{Method: m, Basis: Water, Cores: FullSample}.SD() }

// Readings beyond these ask another question than lime: sulfides in a mineral
// soil that reads so low, sodium in one that reads so high.
const (
	SulfidePH quantity.PH = 3.9
	SodiumPH  quantity.PH = 8.5
)

// KDate returns the day of the potassium figure.
func (r Reading) KDate() quantity.Day {
	if r.PotassiumDate != 0 {
		return r.PotassiumDate
	}
	return r.Date
}

// StaleAfter returns how long a reading is good for, in months.
func StaleAfter(t Texture) int {
	if t == Sand || t == LoamySand {
		return 12
	}
	return 24
}

// Reaction is what two jars can tell.
type Reaction string

// Reactions.
const (
	Alkaline    Reaction = "alkaline"
	NearNeutral Reaction = "near-neutral"
	Acid        Reaction = "acid"
)

// Judge reads the two jars; weak is set when both fizz alike, which is poor
// evidence of anything.
func (f FizzTest) Judge() (r Reaction, weak bool) {
	v, s := fizzes(f.Vinegar), fizzes(f.Soda)
	switch {
	case v && !s:
		return Alkaline, false
	case s && !v:
		return Acid, false
	default:
		return NearNeutral, v && s
	}
}

func fizzes(f FreeLime) bool { return f == LimeFaint || f == LimeClear || f == LimeStrong }
