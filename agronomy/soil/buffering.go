package soil

import (
	"fmt"
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// School is the id of a way to reckon how stubborn a soil is.
type School string

// Schools of buffering.
const (
	ByTable         School = "table"
	ByOrganicMatter School = "organic-matter"
	BySMP           School = "smp"
	ByAdamsEvans    School = "adams-evans"
	ByMehlich       School = "mehlich"
	ByLabRate       School = "lab-rate"
	ByMeasured      School = "measured"
)

// Schools lists them, the default first.
var Schools = []School{ByTable, ByOrganicMatter, BySMP, ByAdamsEvans, ByMehlich, ByLabRate, ByMeasured}

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

// Buffering is a school applied to a ground.
type Buffering struct {
	School School
	// Raise and Lower differ: lime tables and sulfur tables are printed apart.
	Raise, Lower Curve
	// LogSD is the school's doubt, in the logarithm of the need.
	LogSD float64
	// Stone is the fineness weight of the limestone that the school's figures are
	// printed in: a limestone counts by its own weight beside this, at most 1.
	Stone float64
	// Beyond is set where the target lies past what the school is printed for,
	// and the last piece was carried on.
	Beyond bool
	// Gives is false where a buffer's formula gives nothing on the way to the
	// target, though it is half a unit off.
	Gives bool
	// explain shows how the raising need between two pH values comes about, but
	// for the depth.
	explain func(from, to quantity.PH) []working.Step
	ground  Ground
}

// Curve picks the one for a direction.
func (b Buffering) Curve(from, to quantity.PH) Curve {
	if to < from {
		return b.Lower
	}
	return b.Raise
}

// sulfurGram is what 1 g of sulfur cancels, g CaCO₃.
const sulfurGram = 3.12

// printedToEffective turns a printed rate of ordinary field limestone (about
// 90 % CCE, 0.83 efficient) into effective CaCO₃.
const printedToEffective = 0.75

// Depths that the labs' methods are printed for.
const (
	eightInches  quantity.Depth = 0.2032
	twoMillionLb quantity.Depth = 0.1693
)

// MissingError names the value that a school needs and does not have, or
// cannot use.
type MissingError struct{ Field, Why string }

func (e *MissingError) Error() string { return e.Field + ": " + e.Why }

func missing(field, format string, args ...any) error {
	return &MissingError{field, fmt.Sprintf(format, args...)}
}

// school makes a buffering; the texture table's curves are given to lean on.
type school struct {
	sd    float64
	apply func(b *Buffering, g Ground, r Reading, target quantity.PH) error
}

var schools = map[School]school{
	ByTable:         {0.45, byTable},
	ByOrganicMatter: {0.30, byOrganicMatter},
	BySMP:           {0.20, bySMP},
	ByAdamsEvans:    {0.20, byAdamsEvans},
	ByMehlich:       {0.20, byMehlich},
	ByLabRate:       {0.20, byLabRate},
	ByMeasured:      {measuredSD, byMeasured},
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

// Buffer applies a school to a ground and its reading. target is where the
// soil is to be brought; only schools that are bound to a stretch look at it.
// Errors are *MissingError.
//
// Sources: the texture table is that of soil surveys of the 1950s; organic
// matter and clay from Aitken, Moody & McKinley 1990 with OC = OM/1.72; the
// labs' methods as their handbooks print them.
func Buffer(s School, g Ground, r Reading, target quantity.PH) (Buffering, error) {
	row, ok := schools[s]
	if !ok {
		return Buffering{}, missing("school.buffering", "%q is not a school that this version reckons by", string(s))
	}
	b := Buffering{School: s, LogSD: row.sd, Stone: 1, Gives: true, ground: g}
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
	raise := b.Raise
	b.explain = func(from, to quantity.PH) []working.Step {
		return []working.Step{tableStep("texture-table", "soil-survey", raise, g, from, to)}
	}
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
		acid := (lb - last) * float64(quantity.PoundPerAcre) * deep * sulfurGram
		slopes = append(slopes, acid/0.5)
		last = lb
	}
	return NewCurve(ph, slopes)
}

func byOrganicMatter(b *Buffering, g Ground, _ Reading, _ quantity.PH) error {
	if g.OrganicMatter == nil {
		return missing("bed.organic_matter_pct", "the organic matter school needs it")
	}
	per := 0.555*float64(*g.OrganicMatter) + 0.011*float64(g.Clays())
	slope := per * g.SoilMass()
	if slope <= 0 {
		return missing("bed.organic_matter_pct", "with no organic matter and no clay this school gives nothing")
	}
	b.Raise = NewCurve([]float64{3.5, 6.5}, []float64{slope})
	b.Lower = lowering([]float64{3.5, 6.5}, []float64{slope}, g.Texture, g.layers(quantity.SevenInches))
	b.explain = func(from, to quantity.PH) []working.Step {
		return []working.Step{{ID: "organic-matter", Source: "aitken-1990", Result: working.Num("per", working.PerSoil, per),
			From: working.Values{working.Num("om", working.Percent, *g.OrganicMatter), working.Num("clay", working.Percent, g.Clays())}},
			perSoilStep("aitken-1990", per, g, from, to)}
	}
	return nil
}

// perSoilStep shows a need reckoned by the soil's weight.
func perSoilStep(source string, per float64, g Ground, from, to quantity.PH) working.Step {
	return working.Step{ID: "by-soil-mass", Source: source, Result: working.Num("need", working.Rate, per*g.SoilMass()*float64(to-from)),
		From: working.Values{working.Num("from", working.PH, from), working.Num("to", working.PH, to), working.Num("depth", working.Depth, g.Depth),
			working.Num("per", working.PerSoil, per), working.Num("soil", working.SoilMass, g.SoilMass())}}
}

// bufferOf finds the buffer pH that a school needs.
func bufferOf(r Reading, kinds ...BufferKind) (quantity.PH, error) {
	if r.Buffer == nil {
		return 0, missing("reading.buffer", "this school needs a lab's buffer pH (%s)", kinds[0])
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

// smpTop is the last target that a line is printed for.
var smpTop = quantity.PH(smpLines[len(smpLines)-1].target)

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
	scale := printedToEffective * float64(quantity.ShortTonPerAcre) * g.layers(eightInches)
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
	b.Beyond = target > smpTop
	b.Raise = curveThrough(ph, sum)
	b.explain = func(from, to quantity.PH) []working.Step {
		at := b.Raise.Need(from, to)
		return []working.Step{{ID: "smp", Source: "smp", Result: working.Num("need", working.Rate, float64(at)/g.layers(eightInches)),
			From: working.Values{working.Num("buffer", working.PH, buffer), working.Num("lti", working.None, lti), working.Num("from", working.PH, from), working.Num("to", working.PH, to),
				working.Num("printed", working.ShortTons, float64(at)/scale)}}}
	}
	return nil
}

// exchangeable solves pH = 7.79 − 5.55 H + 2.27 H² for H, 0 to 1.
func exchangeable(p float64) (h float64, ok bool) {
	const a, bb, c = 2.27, 5.55, 7.79
	d := bb*bb - 4*a*(c-p)
	if d < 0 {
		return 0, false
	}
	h = (bb - math.Sqrt(d)) / (2 * a)
	return max(0, h), h <= 1
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
	scale := printedToEffective * float64(quantity.PoundPerAcre) * g.layers(twoMillionLb)
	rate := func(p float64) float64 {
		h2, _ := exchangeable(p)
		return max(0, 8000*(8.00-float64(buffer))/h1*(h1-h2)*1.5)
	}
	ph, sum := []float64{from}, []float64{0}
	for i := int(math.Floor(from/adamsEvansStep)) + 1; float64(i)*adamsEvansStep <= 7.75+1e-9; i++ {
		if p := float64(i) * adamsEvansStep; p > from+1e-6 {
			n := len(ph) - 1
			ph, sum = append(ph, p), append(sum, max(rate(p)*scale, sum[n]+flat*(p-ph[n])))
		}
	}
	if len(ph) == 1 {
		return missing("reading.ph", "at 7.75 or above this method gives nothing")
	}
	b.Raise = curveThrough(ph, sum)
	b.explain = func(f, to quantity.PH) []working.Step {
		h2, _ := exchangeable(float64(to))
		printed := rate(float64(to))
		return []working.Step{{ID: "adams-evans", Source: "adams-evans", Result: working.Num("need", working.Rate, printed*printedToEffective*float64(quantity.PoundPerAcre)),
			From: working.Values{working.Num("buffer", working.PH, buffer), working.Num("from", working.PH, f), working.Num("to", working.PH, to),
				working.Num("h1", working.None, h1), working.Num("h2", working.None, h2), working.Num("printed", working.PoundsAcre, printed)}}}
	}
	return nil
}

// mehlichTop is the pH that the method ends at.
const mehlichTop = 6.6

func byMehlich(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	buffer, err := bufferOf(r, Mehlich)
	if err != nil {
		return err
	}
	from := float64(r.Water())
	switch {
	case from >= mehlichTop:
		return missing("reading.ph", "the Mehlich method serves only below 6.6")
	case float64(target) >= mehlichTop:
		return missing("target_ph", "the Mehlich method serves only for targets below 6.6")
	}
	ac := max(0, (mehlichTop-float64(buffer))/0.25)
	scale := printedToEffective * float64(quantity.ShortTonPerAcre) * g.layers(eightInches)
	ac = max(ac, flat/scale)
	b.Raise = curveThrough([]float64{from, mehlichTop}, []float64{0, ac * scale})
	b.explain = func(f, to quantity.PH) []working.Step {
		printed := ac * float64(to-f) / (mehlichTop - from)
		return []working.Step{{ID: "mehlich", Source: "mehlich", Result: working.Num("need", working.Rate, printed*printedToEffective*float64(quantity.ShortTonPerAcre)),
			From: working.Values{working.Num("buffer", working.PH, buffer), working.Num("ac", working.None, ac), working.Num("from", working.PH, f), working.Num("to", working.PH, to),
				working.Num("printed", working.ShortTons, printed)}}}
	}
	return nil
}

func byLabRate(b *Buffering, g Ground, r Reading, _ quantity.PH) error {
	l := r.LabRate
	if l == nil {
		return missing("reading.lab_rate", "this school needs the lab's own rate")
	}
	from := r.Water()
	if l.Target <= from {
		return missing("reading.lab_rate.target_ph", "it must lie above the reading, %.2f", float64(from))
	}
	need := float64(l.CCE.Of(l.Rate)) * g.layers(l.Depth)
	table := float64(b.Raise.Need(from, l.Target))
	// One number says how stubborn, the texture's curve in what shape.
	b.Raise = b.Raise.scaled(need / table)
	b.explain = func(f, to quantity.PH) []working.Step {
		steps := []working.Step{{ID: "lab-rate", Source: "lab", Result: working.Num("need", working.Rate, l.CCE.Of(l.Rate)),
			From: working.Values{working.Num("rate", working.Rate, l.Rate), working.Num("cce", working.Percent, l.CCE), working.Num("lab_depth", working.Depth, l.Depth),
				working.Num("from", working.PH, from), working.Num("to", working.PH, l.Target)}}}
		if math.Abs(float64(to-l.Target)) > 1e-9 || math.Abs(float64(f-from)) > 1e-9 {
			steps = append(steps, working.Step{ID: "lab-rate-target", Source: "lab",
				Result: working.Num("need", working.Rate, float64(b.Raise.Need(f, to))/g.layers(l.Depth)),
				From:   working.Values{working.Num("from", working.PH, f), working.Num("to", working.PH, to), working.Num("lab_to", working.PH, l.Target)}})
		}
		return steps
	}
	return nil
}

// tableStep shows a need over 7 inches piece by piece.
func tableStep(id, source string, c Curve, g Ground, from, to quantity.PH) working.Step {
	deep := g.layers(quantity.SevenInches)
	pieces := c.Pieces(from, to)
	step := working.Step{ID: id, Source: source, Result: working.Num("need", working.Rate, float64(c.Need(from, to))/deep),
		From: append(make(working.Values, 0, 4+2*len(pieces)), working.Num("from", working.PH, from), working.Num("to", working.PH, to),
			working.ID("texture", g.Texture.ID), working.ID("table", g.Table))}
	for _, p := range pieces {
		if p.To-p.From < 1e-9 {
			continue
		}
		step.From = append(step.From, working.Num("share", working.PH, p.To-p.From),
			working.Num("tons", working.ShortTons, p.Slope/deep/float64(quantity.ShortTonPerAcre)))
	}
	return step
}

// printedDepth is the layer that a school's printed figures are for; 0 where
// they go by the soil's weight.
func (b Buffering) printedDepth(r Reading, lowering bool) quantity.Depth {
	if lowering {
		return quantity.SevenInches
	}
	switch b.School {
	case BySMP, ByMehlich:
		return eightInches
	case ByAdamsEvans:
		return twoMillionLb
	case ByLabRate:
		return r.LabRate.Depth
	case ByOrganicMatter, ByMeasured:
		return 0
	}
	return quantity.SevenInches
}

// ByMass tells whether the school goes by the soil's weight, not by a printed
// layer.
func (b Buffering) ByMass() bool { return b.School == ByOrganicMatter || b.School == ByMeasured }

// Working shows how the need between two pH values comes about.
func (b Buffering) Working(r Reading, from, to quantity.PH) []working.Step {
	down := to < from
	var steps []working.Step
	switch {
	case down && from > 6.5:
		steps = []working.Step{tableStep("sulfur-table", "sulfur-table", b.Lower, b.ground, from, to)}
	case down:
		steps = []working.Step{tableStep("texture-table", "soil-survey", b.Lower, b.ground, from, to)}
	default:
		steps = b.explain(from, to)
	}
	deep := b.printedDepth(r, down)
	if deep == 0 {
		return steps
	}
	need := b.Curve(from, to).Need(from, to)
	last := steps[len(steps)-1]
	return append(steps, working.Step{ID: "depth", Source: last.Source, Result: working.Num("need", working.Rate, need),
		From: working.Values{last.Result, working.Num("depth", working.Depth, b.ground.Depth), working.Num("table_depth", working.Depth, deep),
			working.Num("stones", working.Percent, b.ground.Stones)}})
}
