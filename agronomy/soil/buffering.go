package soil

import (
	"fmt"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// LimeMethod is the id of a way to compute a soil's buffering.
type LimeMethod string

// Methods of buffering.
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

// HabitMethods are those that a bed's own facts can feed; the others want figures of
// a lab's.
var HabitMethods = []LimeMethod{ByTable, ByOrganicMatter}

// Offered is a method that may be chosen for a ground and its reading.
type Offered struct {
	Method LimeMethod
	// Lacks is set where a fact of the bed is missing.
	Lacks bool
}

// OnOffer lists the methods that have what they need, those that only lack a fact of
// the bed, and the one that was chosen whatever it lacks.
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

// BufferKind is the buffer that a lab stirred the soil in.
type BufferKind string

// Kinds of buffer. Sikora reads as SMP, Moore–Sikora as Adams–Evans.
const (
	SMP         BufferKind = "smp"
	Sikora      BufferKind = "sikora"
	AdamsEvans  BufferKind = "adams-evans"
	MooreSikora BufferKind = "moore-sikora"
	Mehlich     BufferKind = "mehlich"
)

// BufferKinds lists them.
var BufferKinds = []BufferKind{SMP, Sikora, AdamsEvans, MooreSikora, Mehlich}

// BufferPH is a lab's buffer pH.
type BufferPH struct {
	Kind BufferKind
	PH   quantity.PH
}

// LabRate is a lab's own figure: so much limestone of a CCE over a depth to
// bring the sample to a pH.
type LabRate struct {
	Rate   quantity.Rate
	Depth  quantity.Depth
	CCE    quantity.Percent
	Target quantity.PH
}

// Jar is one jar of a series: lime stirred in, g CaCO₃ per kg of soil, and the
// pH after two to four weeks.
type Jar struct {
	Lime float64
	PH   quantity.PH
}

// Buffering is a method applied to a ground.
type Buffering struct {
	Method LimeMethod
	// Raise and Lower differ: lime tables and sulfur tables are printed apart.
	Raise, Lower Curve
	// LogSD is the method's doubt, in the logarithm of the need.
	LogSD float64
	// Stone is the fineness weight of the limestone that the method's figures are
	// printed in: a limestone counts by its own weight beside this, at most 1.
	Stone float64
	// Beyond is set where the target lies past what the method is printed for,
	// and the last piece was carried on.
	Beyond bool
	// Gives is false where a buffer's formula gives nothing on the way to the
	// target, though it is half a unit off.
	Gives bool
	// Printed is the layer that the figures for raising are printed for; 0 where
	// they follow the soil's weight.
	Printed quantity.Depth
	// Terms are what the method's formula used, Ground the ground that it was
	// applied to.
	Terms  Terms
	Ground Ground
	// Beside is the method that what was learned stands beside; nil where it is a method of its own.
	Beside *Buffering
}

// Terms are the figures in a method's formula; those that it has none of are 0.
type Terms struct {
	// From is the reading on the water basis, Buffer the lab's buffer pH.
	From, Buffer quantity.PH
	// PerSoil is g CaCO₃ per kg of soil and pH unit.
	PerSoil float64
	// Hydrogen is that of the reading, 0 to 1; Acidity is in cmol/kg.
	Hydrogen, Acidity float64
	// LabRate is the lab's own figure.
	LabRate LabRate
	// Jars is how many there were in a series, Merged how many of them were made
	// one with another.
	Jars, Merged int
}

// Scaled is the buffering with every raising need times f: ground that is so much
// more stubborn than its method has it.
func (b Buffering) Scaled(f float64) Buffering {
	b.Raise, b.Lower = b.Raise.Scaled(f), b.Lower.Scaled(f)
	return b
}

// Curve picks the one for a direction.
func (b Buffering) Curve(from, to quantity.PH) Curve {
	if to < from {
		return b.Lower
	}
	return b.Raise
}

// SulfurGram is what 1 g of sulfur cancels, g CaCO₃.
const SulfurGram = 3.12

// PrintedToEffective turns a printed rate of ordinary field limestone (about
// 90 % CCE, 0.83 efficient) into effective CaCO₃.
const PrintedToEffective = 0.75

// Depths that the labs' methods are printed for.
const (
	eightInches  quantity.Depth = 0.2032
	twoMillionLb quantity.Depth = 0.1693
)

// MissingError names the value that a method needs and does not have, or
// cannot use.
type MissingError struct{ Field, Why string }

func (e *MissingError) Error() string { return e.Field + ": " + e.Why }

func missing(field, format string, args ...any) error {
	return &MissingError{field, fmt.Sprintf(format, args...)}
}

// ordinaryStone is the fineness weight of the texture table's limestone: all
// under 2 mm, half of it under 0.15 mm.
const ordinaryStone = 0.80

// givesNothing is the need below which a formula gives nothing, g CaCO₃/m², and
// wantsMuch how far below the target that is odd.
const (
	givesNothing quantity.Rate = 0.5
	wantsMuch    quantity.PH   = 0.5
)

// Buffer applies a method to a ground and its reading. target is where the
// soil is to be brought; only methods that are bound to a stretch look at it.
// Errors are *MissingError.
//
// Sources: the texture table is that of soil surveys of the 1950s; organic
// matter and clay from Aitken, Moody & McKinley 1990 with OC = OM/1.72; the
// labs' methods as their handbooks print them.
func Buffer(s LimeMethod, g Ground, r Reading, target quantity.PH) (Buffering, error) {
	row, ok := limeMethods[s]
	if !ok {
		return Buffering{}, missing("school.buffering", "%q is not a school that this version reckons by", string(s))
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
	// The small margin keeps half a unit at half a unit.
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
	// Lowering takes the cool column everywhere: it is the one that the printed
	// berry table agrees with.
	b.Lower = lowering(tableKnots, down[:], g.Texture, deep)
	return nil
}

func tons(steps [3]float64, deep float64) (out [3]float64) {
	for i, t := range steps {
		out[i] = t * float64(quantity.ShortTonPerAcre) * deep
	}
	return out
}

// lowering puts the printed sulfur table on top of a curve that ends at 6.5.
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

// What organic matter and clay hold, g CaCO₃ per kg of soil, pH unit and per cent.
const (
	PerOM   = 0.555
	PerClay = 0.011
)

func byOrganicMatter(b *Buffering, g Ground, _ Reading, _ quantity.PH) error {
	if g.OrganicMatter == nil {
		return missing("bed.organic_matter_pct", "the organic matter school needs it")
	}
	per := PerOM*float64(*g.OrganicMatter) + PerClay*float64(g.ClayContent())
	slope := per * g.SoilMass()
	if slope <= 0 {
		return missing("bed.organic_matter_pct", "with no organic matter and no clay this school gives nothing")
	}
	b.Raise = NewCurve([]float64{3.5, 6.5}, []float64{slope})
	b.Lower = lowering([]float64{3.5, 6.5}, []float64{slope}, g.Texture, g.layers(quantity.SevenInches))
	b.Terms.PerSoil = per
	return nil
}

// bufferOf finds the buffer pH that a method needs.
func bufferOf(r Reading, kinds ...BufferKind) (quantity.PH, error) {
	if r.Buffer == nil {
		return 0, missing("reading.buffer", "this school needs a lab’s buffer pH (%s)", kinds[0])
	}
	for _, k := range kinds {
		if r.Buffer.Kind == k {
			return r.Buffer.PH, nil
		}
	}
	return 0, missing("reading.buffer.kind", "%q is not the buffer of this school (%s)", string(r.Buffer.Kind), kinds[0])
}

// smpLines are the printed lines, short tons an acre for 8 in against LTI =
// 10 × buffer pH.
var smpLines = []struct{ target, constant, slope float64 }{{6.0, 49.3, 0.71}, {6.5, 60.4, 0.87}, {6.8, 71.4, 1.03}}

// SMPTop is the last target that a line is printed for.
var SMPTop = quantity.PH(smpLines[len(smpLines)-1].target)

// flat keeps a curve rising by a hair where a formula gives nothing, g/m² a pH.
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
		// The printed lines cross above buffer 6.87: never less for a higher
		// target, never below 0.
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

// printedScale turns a printed rate into effective CaCO₃ over the bed's depth.
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

// The Adams–Evans formula, and the targets and capacities that it is made for.
const (
	AdamsEvansRate                                   = 8000
	AdamsEvansEnd                                    = 8.00
	AdamsEvansFactor                                 = 1.5
	AdamsEvansTop    quantity.PH                     = 6.5
	AdamsEvansCEC    quantity.CationExchangeCapacity = 10
)

// adamsEvans is the printed rate to a pH, lb/acre.
func (b *Buffering) adamsEvans(to float64) float64 {
	h2, _ := exchangeable(to)
	return max(0, AdamsEvansRate*(AdamsEvansEnd-float64(b.Terms.Buffer))/b.Terms.Hydrogen*(b.Terms.Hydrogen-h2)*AdamsEvansFactor)
}

// adamsEvansStep is how finely the curved line is cut, pH.
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

// MehlichTop is the pH that the method ends at.
const MehlichTop = 6.6

// MehlichStep is the buffer pH that a unit of acidity takes.
const MehlichStep = 0.25

func byMehlich(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	buffer, err := bufferOf(r, Mehlich)
	if err != nil {
		return err
	}
	from := float64(r.Water())
	switch {
	case from >= MehlichTop:
		return missing("reading.ph", "the Mehlich method serves only below 6.6")
	case float64(target) >= MehlichTop:
		return missing("target_ph", "the Mehlich method serves only for targets below 6.6")
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
		return missing("reading.lab_rate", "this school needs the lab’s own rate")
	}
	from := r.Water()
	if l.Target <= from {
		return missing("reading.lab_rate.target_ph", "it must lie above the reading, %.2f", float64(from))
	}
	need := float64(l.CCE.Of(l.Rate)) * g.layers(l.Depth)
	table := float64(b.Raise.Need(from, l.Target))
	// One number says how stubborn, the texture's curve in what shape.
	b.Raise, b.Printed, b.Terms.LabRate = b.Raise.Scaled(need/table), l.Depth, *l
	return nil
}
