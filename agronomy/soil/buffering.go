package soil

import (
	"fmt"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// LimeMethod is the id of a method for a soil's buffering.
type LimeMethod string

// The lime methods.
const (
	ByTable         LimeMethod = "table"
	ByOrganicMatter LimeMethod = "organic-matter"
	BySMP           LimeMethod = "smp"
	ByAdamsEvans    LimeMethod = "adams-evans"
	ByMehlich       LimeMethod = "mehlich"
	ByLabRate       LimeMethod = "lab-rate"
	ByMeasured      LimeMethod = "measured"
)

// LimeMethods lists them, the default first.
var LimeMethods = []LimeMethod{ByTable, ByOrganicMatter, BySMP, ByAdamsEvans, ByMehlich, ByLabRate, ByMeasured, ByLearned}

// HabitMethods need only the bed's own facts; the others need a lab's figures.
var HabitMethods = []LimeMethod{ByTable, ByOrganicMatter}

// Offered is a method that can be chosen for a ground and a reading.
type Offered struct {
	Method LimeMethod
	// Lacks is set when a fact of the bed is missing.
	Lacks bool
}

// OnOffer lists the methods whose inputs are present, those that lack only a fact of the bed, and
// the chosen one in any case.
func OnOffer(g Ground, r Reading, target quantity.PH, chosen LimeMethod) (out []Offered) {
	for _, s := range LimeMethods {
		_, err := Buffer(s, g, r, target)
		habit := slices.Contains(HabitMethods, s)
		if err == nil || habit || s == chosen {
			out = append(out, Offered{s, err != nil && habit})
		}
	}
	return out
}

// BufferKind is the buffer solution that a lab uses.
type BufferKind string

// The buffers. Sikora reads as SMP, Moore–Sikora as Adams–Evans.
const (
	SMP         BufferKind = "smp"
	Sikora      BufferKind = "sikora"
	AdamsEvans  BufferKind = "adams-evans"
	MooreSikora BufferKind = "moore-sikora"
	Mehlich     BufferKind = "mehlich"
)

// BufferKinds lists them.
var BufferKinds = []BufferKind{SMP, Sikora, AdamsEvans, MooreSikora, Mehlich}

// BufferPH is a lab's buffer pH with its buffer.
type BufferPH struct {
	Kind BufferKind
	PH   quantity.PH
}

// LabRate is a lab's own lime recommendation: an amount of limestone of a CCE over a depth, to a
// pH.
type LabRate struct {
	Rate   quantity.Rate
	Depth  quantity.Depth
	CCE    quantity.Percent
	Target quantity.PH
}

// Jar is one jar of a titration series: lime added, g CaCO₃ per kg of soil, and the pH after two to
// four weeks.
type Jar struct {
	Lime float64
	PH   quantity.PH
}

// Buffering is the result of applying a lime method to a ground.
type Buffering struct {
	Method LimeMethod
	// Raise and Lower are separate since lime tables and sulfur tables are.
	Raise, Lower Curve
	// LogSD is the method's standard deviation of ln(need).
	LogSD float64
	// Stone is the fineness weight of the limestone that the method's figures are printed in: a
	// limestone counts by its own weight relative to this, at most 1.
	Stone float64
	// Beyond is set when the target is outside the method's printed range and its last piece was
	// extrapolated.
	Beyond bool
	// Gives is false when a buffer formula yields no lime although the target is half a unit away.
	Gives bool
	// Printed is the depth of the layer that the lime figures are printed for; 0 when they follow
	// the soil's mass.
	Printed quantity.Depth
	// Terms are the inputs of a method's formula; those that it does not use are 0.
	Terms  Terms
	Ground Ground
	// Beside is the method that the learned one scales; nil for any other method.
	Beside *Buffering
}

// Terms are the figures in a method's formula; those that it has none of are 0.
type Terms struct {
	// From is the reading on the water basis, Buffer the buffer pH.
	From, Buffer quantity.PH
	// PerSoil is in g CaCO₃ per kg of soil and pH unit.
	PerSoil float64
	// Hydrogen is the exchangeable fraction, 0 to 1; Acidity is in cmol/kg.
	Hydrogen, Acidity float64
	// LabRate is the lab's own recommendation.
	LabRate LabRate
	// Jars is the number of jars in a series, Merged how many of them were merged with a neighbour.
	Jars, Merged int
}

// Scaled returns the buffering with every raising need multiplied by f.
func (b Buffering) Scaled(f float64) Buffering {
	b.Raise, b.Lower = b.Raise.Scaled(f), b.Lower.Scaled(f)
	return b
}

// Curve returns the curve for the direction from → to.
func (b Buffering) Curve(from, to quantity.PH) Curve {
	if to < from {
		return b.Lower
	}
	return b.Raise
}

// SulfurGram is the g CaCO₃ that 1 g of sulfur neutralises.
const SulfurGram = 3.12

// PrintedToEffective converts a printed rate of ordinary agricultural limestone (about 90 % CCE,
// 0.83 efficient) to effective CaCO₃.
const PrintedToEffective = 0.75

// The depths that the labs' methods are printed for.
const (
	eightInches  quantity.Depth = 0.2032
	twoMillionLb quantity.Depth = 0.1693
)

// MissingError names the field that a method needs and that is missing or unusable.
type MissingError struct{ Field, Why string }

func (e *MissingError) Error() string { return e.Field + ": " + e.Why }

func missing(field, format string, args ...any) error {
	return &MissingError{field, fmt.Sprintf(format, args...)}
}

// ordinaryStone is the fineness weight of the texture table's limestone: all under 2 mm, half under
// 0.15 mm.
const ordinaryStone = 0.80

// givesNothing is the need in g CaCO₃/m² below which a formula counts as yielding none; wantsMuch
// is the distance to the target from which that is suspicious.
const (
	givesNothing quantity.Rate = 0.5
	wantsMuch    quantity.PH   = 0.5
)

// Buffer applies a method to a ground and its reading. target is the pH to reach; only methods with
// a limited range use it. Errors are *MissingError.
//
// Sources: the texture table is that of soil surveys of the 1950s; organic matter and clay from
// Aitken, Moody & McKinley 1990 with OC = OM/1.72; the labs' methods as their handbooks print them.
func Buffer(s LimeMethod, g Ground, r Reading, target quantity.PH) (Buffering, error) {
	row, ok := limeMethods[s]
	if !ok {
		return Buffering{}, missing("school.buffering", "%q is not a method of this version", string(s))
	}
	b := Buffering{Method: s, LogSD: row.sd, Stone: 1, Gives: true, Printed: row.printed, Terms: Terms{From: r.Water()}, Ground: g}
	if err := byTable(&b, g, r, target); err != nil {
		return Buffering{}, err
	}
	if s == ByTable {
		b.Stone = ordinaryStone
		return b, nil
	}
	err := row.apply(&b, g, r, target)
	// The small margin keeps an exact half unit at half a unit.
	if err == nil && target-r.Water() >= wantsMuch-1e-9 && b.Raise.Need(r.Water(), target) < givesNothing {
		b.Gives = false
	}
	return b, err
}

var tableKnots = []float64{3.5, 4.5, 5.5, 6.5}

func byTable(b *Buffering, g Ground, _ Reading, _ quantity.PH) error {
	deep := g.layers(quantity.SevenInches)
	row := g.Texture.Cool
	if g.Table == WarmTable {
		row = g.Texture.Warm
	}
	up, down := tons(row, deep), tons(g.Texture.Cool, deep)
	b.Raise = NewCurve(tableKnots, up[:])
	// Lowering uses the cool column everywhere: the printed berry table agrees with that one.
	b.Lower = lowering(tableKnots, down[:], g.Texture, deep)
	return nil
}

func tons(steps [3]float64, deep float64) (out [3]float64) {
	for i, t := range steps {
		out[i] = t * float64(quantity.ShortTonPerAcre) * deep
	}
	return out
}

// lowering appends the printed sulfur table to a curve that ends at 6.5.
func lowering(ph, slopes []float64, t TextureClass, deep float64) Curve {
	ph = append(make([]float64, 0, len(ph)+len(t.Sulfur)), ph...)
	slopes = append(make([]float64, 0, len(ph)+len(t.Sulfur)), slopes...)
	last := 0.0
	for i, lb := range t.Sulfur {
		ph = append(ph, 7.0+0.5*float64(i))
		acid := (lb - last) * float64(quantity.PoundPerAcre) * deep * SulfurGram
		slopes = append(slopes, acid/0.5)
		last = lb
	}
	return NewCurve(ph, slopes)
}

// The buffering of organic matter and clay, g CaCO₃ per kg of soil, pH unit and per cent.
const (
	PerOM   = 0.555
	PerClay = 0.011
)

func byOrganicMatter(b *Buffering, g Ground, _ Reading, _ quantity.PH) error {
	if g.OrganicMatter == nil {
		return missing("bed.organic_matter_pct", "the organic matter method needs it")
	}
	per := PerOM*float64(*g.OrganicMatter) + PerClay*float64(g.ClayContent())
	slope := per * g.SoilMass()
	if slope <= 0 {
		return missing("bed.organic_matter_pct", "with no organic matter and no clay this method gives nothing")
	}
	b.Raise = NewCurve([]float64{3.5, 6.5}, []float64{slope})
	b.Lower = lowering([]float64{3.5, 6.5}, []float64{slope}, g.Texture, g.layers(quantity.SevenInches))
	b.Terms.PerSoil = per
	return nil
}

// bufferOf returns the buffer pH that a method needs.
func bufferOf(r Reading, kinds ...BufferKind) (quantity.PH, error) {
	if r.Buffer == nil {
		return 0, missing("reading.buffer", "this method needs a lab’s buffer pH (%s)", kinds[0])
	}
	for _, k := range kinds {
		if r.Buffer.Kind == k {
			return r.Buffer.PH, nil
		}
	}
	return 0, missing("reading.buffer.kind", "%q is not the buffer of this method (%s)", string(r.Buffer.Kind), kinds[0])
}

// smpLines are the printed lines, short tons per acre for 8 in against LTI = 10 × buffer pH.
var smpLines = []struct{ target, constant, slope float64 }{{6.0, 49.3, 0.71}, {6.5, 60.4, 0.87}, {6.8, 71.4, 1.03}}

// SMPTop is the highest target with a printed line.
var SMPTop = quantity.PH(smpLines[len(smpLines)-1].target)

// flat is the least slope of a curve where a formula yields no lime, g/m² per pH, so that the curve
// still rises.
const flat = 1e-3

func bySMP(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	buffer, err := bufferOf(r, SMP, Sikora)
	if err != nil {
		return err
	}
	lti := 10 * float64(buffer)
	ph, sum := []float64{float64(r.Water())}, []float64{0}
	most := 0.0
	scale := b.printedScale(quantity.ShortTonPerAcre)
	for _, l := range smpLines {
		if l.target <= ph[0]+1e-9 {
			continue
		}
		// The printed lines cross above buffer 6.87; a higher target never gets less, and none gets
		// below 0.
		most = max(most, l.constant-l.slope*lti)
		n := len(ph) - 1
		ph, sum = append(ph, l.target), append(sum, max(most*scale, sum[n]+flat*(l.target-ph[n])))
	}
	if len(ph) == 1 {
		return missing("reading.ph", "at 6.8 or above the SMP lines give nothing")
	}
	b.Beyond = target > SMPTop
	b.Raise, b.Terms.Buffer = curveThrough(ph, sum), buffer
	return nil
}

// printedScale converts a printed rate to effective CaCO₃ over the bed's depth.
func (b *Buffering) printedScale(unit quantity.Rate) float64 {
	return PrintedToEffective * float64(unit) * b.Ground.layers(b.Printed)
}

// pH by exchangeable hydrogen: HydrogenFree − HydrogenSlope H + HydrogenSquare H².
const (
	HydrogenFree   = 7.79
	HydrogenSlope  = 5.55
	HydrogenSquare = 2.27
)

// exchangeable solves pH = 7.79 − 5.55 H + 2.27 H² for H, 0 to 1.
func exchangeable(p float64) (h float64, ok bool) {
	const a, b, c = HydrogenSquare, HydrogenSlope, HydrogenFree
	d := b*b - 4*a*(c-p)
	if d < 0 {
		return 0, false
	}
	h = (b - math.Sqrt(d)) / (2 * a)
	return max(0, h), h <= 1
}

// The Adams–Evans formula with the targets and capacities it is valid for.
const (
	AdamsEvansRate                                   = 8000
	AdamsEvansEnd                                    = 8.00
	AdamsEvansFactor                                 = 1.5
	AdamsEvansTop    quantity.PH                     = 6.5
	AdamsEvansCEC    quantity.CationExchangeCapacity = 10
)

// adamsEvans returns the printed rate to a pH, lb/acre.
func (b *Buffering) adamsEvans(to float64) float64 {
	h2, _ := exchangeable(to)
	return max(0, AdamsEvansRate*(AdamsEvansEnd-float64(b.Terms.Buffer))/b.Terms.Hydrogen*(b.Terms.Hydrogen-h2)*AdamsEvansFactor)
}

// adamsEvansStep is the step in pH by which the curved line is made piecewise linear.
const adamsEvansStep = 0.05

func byAdamsEvans(b *Buffering, g Ground, r Reading, _ quantity.PH) error {
	buffer, err := bufferOf(r, AdamsEvans, MooreSikora)
	if err != nil {
		return err
	}
	from := float64(r.Water())
	h1, ok := exchangeable(from)
	if !ok {
		return missing("reading.ph", "below pH 4.41 this method has no answer")
	}
	if h1 <= 0 {
		return missing("reading.ph", "at 7.79 or above this method gives nothing")
	}
	b.Terms.Buffer, b.Terms.Hydrogen = buffer, h1
	scale := b.printedScale(quantity.PoundPerAcre)
	ph, sum := []float64{from}, []float64{0}
	for i := int(math.Floor(from/adamsEvansStep)) + 1; float64(i)*adamsEvansStep <= 7.75+1e-9; i++ {
		if p := float64(i) * adamsEvansStep; p > from+1e-6 {
			n := len(ph) - 1
			ph, sum = append(ph, p), append(sum, max(b.adamsEvans(p)*scale, sum[n]+flat*(p-ph[n])))
		}
	}
	if len(ph) == 1 {
		return missing("reading.ph", "at 7.75 or above this method gives nothing")
	}
	b.Raise = curveThrough(ph, sum)
	return nil
}

// MehlichTop is the highest target of the method.
const MehlichTop = 6.6

// MehlichStep is the change of buffer pH per unit of acidity.
const MehlichStep = 0.25

func byMehlich(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	buffer, err := bufferOf(r, Mehlich)
	if err != nil {
		return err
	}
	from := float64(r.Water())
	switch {
	case from >= MehlichTop:
		return missing("reading.ph", "the Mehlich method works only below 6.6")
	case float64(target) >= MehlichTop:
		return missing("target_ph", "the Mehlich method works only for targets below 6.6")
	}
	ac := max(0, (MehlichTop-float64(buffer))/MehlichStep)
	scale := b.printedScale(quantity.ShortTonPerAcre)
	ac = max(ac, flat/scale)
	b.Raise = curveThrough([]float64{from, MehlichTop}, []float64{0, ac * scale})
	b.Terms.Buffer, b.Terms.Acidity = buffer, ac
	return nil
}

func byLabRate(b *Buffering, g Ground, r Reading, _ quantity.PH) error {
	l := r.LabRate
	if l == nil {
		return missing("reading.lab_rate", "this method needs the lab’s own rate")
	}
	from := r.Water()
	if l.Target <= from {
		return missing("reading.lab_rate.target_ph", "it must lie above the reading, %.2f", float64(from))
	}
	need := float64(l.CCE.Of(l.Rate)) * g.layers(l.Depth)
	table := float64(b.Raise.Need(from, l.Target))
	// The lab's rate scales the texture's curve and keeps its shape.
	b.Raise, b.Printed, b.Terms.LabRate = b.Raise.Scaled(need/table), l.Depth, *l
	return nil
}
