package soil

import (
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// methodRow is a row of the table of lime methods: standard deviation of ln(need), depth of the
// printed layer (0: by soil mass), the function that applies it, with the texture table's curves as
// a starting point, and the function that shows a raising need, without the depth.
type methodRow struct {
	sd      float64
	printed quantity.Depth
	apply   func(b *Buffering, g Ground, r Reading, target quantity.PH) error
	explain func(b *Buffering, from, to quantity.PH) []working.Step
}

var limeMethods = map[LimeMethod]methodRow{
	ByTable:         {0.45, quantity.SevenInches, byTable, explainTable},
	ByOrganicMatter: {0.30, 0, byOrganicMatter, explainOrganicMatter},
	BySMP:           {0.20, eightInches, bySMP, explainSMP},
	ByAdamsEvans:    {0.20, twoMillionLb, byAdamsEvans, explainAdamsEvans},
	ByMehlich:       {0.20, eightInches, byMehlich, explainMehlich},
	ByLabRate:       {0.20, quantity.SevenInches, byLabRate, explainLabRate},
	ByMeasured:      {measuredSD, 0, byMeasured, explainMeasured},
}

// The learned method refers back to the table.
func init() { limeMethods[ByLearned] = methodRow{apply: byLearned} }

// ByMass reports whether the method follows the soil's mass rather than a printed layer.
func (b *Buffering) ByMass() bool { return b.Printed == 0 }

// Working returns the steps behind the need between two pH values.
func (b *Buffering) Working(from, to quantity.PH) []working.Step {
	down, deep := to < from, b.Printed
	var steps []working.Step
	switch {
	case !down && b.Beside != nil:
		return b.learnedWorking(from, to)
	case down && from > SulfurFrom:
		steps = []working.Step{b.tableStep("sulfur-table", "sulfur-table", b.Lower, from, to)}
	case down:
		steps = []working.Step{b.tableStep("texture-table", "soil-survey", b.Lower, from, to)}
	default:
		steps = limeMethods[b.Method].explain(b, from, to)
	}
	if down {
		deep = quantity.SevenInches
	}
	if deep == 0 {
		return steps
	}
	need := b.Curve(from, to).Need(from, to)
	last := steps[len(steps)-1]
	return append(steps, working.Step{ID: "depth", Source: last.Source, Result: working.Num("need", working.Rate, need),
		From: working.Values{last.Result, working.Num("depth", working.Depth, b.Ground.Depth),
			working.Num("table_depth", working.Depth, deep),
			working.Num("stones", working.Percent, b.Ground.Stones)}})
}

// tableStep returns the step of a need over 7 inches, piece by piece.
func (b *Buffering) tableStep(id, source string, c Curve, from, to quantity.PH) working.Step {
	deep := b.Ground.layers(quantity.SevenInches)
	pieces := c.Pieces(from, to)
	step := working.Step{ID: id, Source: source, Result: working.Num("need", working.Rate, float64(c.Need(from, to))/deep),
		From: append(make(working.Values, 0, 4+2*len(pieces)), working.Num("from", working.PH, from), working.Num("to", working.PH, to),
			working.ID("texture", b.Ground.Texture.ID), working.ID("table", b.Ground.Table))}
	for _, p := range pieces {
		if p.To-p.From < 1e-9 {
			continue
		}
		step.From = append(step.From, working.Num("share", working.PH, p.To-p.From),
			working.Num("tons", working.ShortTons, p.Slope/deep/float64(quantity.ShortTonPerAcre)))
	}
	return step
}

func explainTable(b *Buffering, from, to quantity.PH) []working.Step {
	return []working.Step{b.tableStep("texture-table", "soil-survey", b.Raise, from, to)}
}

// bySoilMass returns the step of a need by soil mass.
func (b *Buffering) bySoilMass(source string, from, to quantity.PH) working.Step {
	g, per := &b.Ground, b.Terms.PerSoil
	return working.Step{ID: "by-soil-mass", Source: source, Result: working.Num("need", working.Rate, per*g.SoilMass()*float64(to-from)),
		From: working.Values{working.Num("from", working.PH, from), working.Num("to", working.PH, to),
			working.Num("depth", working.Depth, g.Depth),
			working.Num("per", working.PerSoil, per), working.Num("soil", working.SoilMass, g.SoilMass())}}
}

func explainOrganicMatter(b *Buffering, from, to quantity.PH) []working.Step {
	const source = "aitken-1990"
	return []working.Step{{ID: "organic-matter", Source: source, Result: working.Num("per", working.PerSoil, b.Terms.PerSoil),
		From: working.Values{working.Num("om", working.Percent, *b.Ground.OrganicMatter),
			working.Num("clay", working.Percent, b.Ground.ClayContent())}},
		b.bySoilMass(source, from, to)}
}

func explainSMP(b *Buffering, from, to quantity.PH) []working.Step {
	at := float64(b.Raise.Need(from, to))
	return []working.Step{{ID: "smp", Source: "smp", Result: working.Num("need", working.Rate, at/b.Ground.layers(b.Printed)),
		From: working.Values{working.Num("buffer", working.PH, b.Terms.Buffer),
			working.Num("lti", working.None, 10*float64(b.Terms.Buffer)),
			working.Num("from", working.PH, from), working.Num("to", working.PH, to),
			working.Num("printed", working.ShortTons, at/b.printedScale(quantity.ShortTonPerAcre))}}}
}

func explainAdamsEvans(b *Buffering, from, to quantity.PH) []working.Step {
	h2, _ := exchangeable(float64(to))
	printed := b.adamsEvans(float64(to))
	return []working.Step{{ID: "adams-evans", Source: "adams-evans",
		Result: working.Num("need", working.Rate, printed*PrintedToEffective*float64(quantity.PoundPerAcre)),
		From: working.Values{working.Num("buffer", working.PH, b.Terms.Buffer), working.Num("from", working.PH, from),
			working.Num("to", working.PH, to),
			working.Num("h1", working.None, b.Terms.Hydrogen), working.Num("h2", working.None, h2), working.Num("printed",
				working.PoundsAcre, printed)}}}
}

func explainMehlich(b *Buffering, from, to quantity.PH) []working.Step {
	printed := b.Terms.Acidity * float64(to-from) / (MehlichTop - float64(b.Terms.From))
	return []working.Step{{ID: "mehlich", Source: "mehlich",
		Result: working.Num("need", working.Rate, printed*PrintedToEffective*float64(quantity.ShortTonPerAcre)),
		From: working.Values{working.Num("buffer", working.PH, b.Terms.Buffer), working.Num("ac", working.None, b.Terms.Acidity),
			working.Num("from", working.PH, from), working.Num("to", working.PH, to), working.Num("printed", working.ShortTons, printed)}}}
}

func explainLabRate(b *Buffering, from, to quantity.PH) []working.Step {
	l := &b.Terms.LabRate
	steps := []working.Step{{ID: "lab-rate", Source: "lab", Result: working.Num("need", working.Rate, l.CCE.Of(l.Rate)),
		From: working.Values{working.Num("rate", working.Rate, l.Rate), working.Num("cce", working.Percent, l.CCE),
			working.Num("lab_depth", working.Depth, l.Depth),
			working.Num("from", working.PH, b.Terms.From), working.Num("to", working.PH, l.Target)}}}
	if math.Abs(float64(to-l.Target)) > 1e-9 || math.Abs(float64(from-b.Terms.From)) > 1e-9 {
		steps = append(steps, working.Step{ID: "lab-rate-target", Source: "lab",
			Result: working.Num("need", working.Rate, float64(b.Raise.Need(from, to))/b.Ground.layers(l.Depth)),
			From: working.Values{working.Num("from", working.PH, from), working.Num("to", working.PH, to),
				working.Num("lab_to", working.PH, l.Target)}})
	}
	return steps
}

func explainMeasured(b *Buffering, from, to quantity.PH) []working.Step {
	if b.Terms.Jars == 0 {
		return []working.Step{{ID: "buffer-capacity", Source: "lab", Result: working.Num("per", working.PerSoil, b.Terms.PerSoil)},
			b.bySoilMass("jars", from, to)}
	}
	mass := b.Ground.SoilMass()
	a, z := b.Raise.at(float64(from))/mass, b.Raise.at(float64(to))/mass
	return []working.Step{
		{ID: "jar-series", Source: "jars", Result: working.Num("lime", working.PerKilogram, z-a),
			From: working.Values{working.Int("jars", working.Count, b.Terms.Jars), working.Int("merged", working.Count, b.Terms.Merged),
				working.Num("from", working.PH, from), working.Num("to", working.PH, to), working.Num("at", working.PerKilogram,
					a), working.Num("until", working.PerKilogram, z)}},
		{ID: "jars-by-mass", Source: "jars", Result: working.Num("need", working.Rate, (z-a)*mass),
			From: working.Values{working.Num("lime", working.PerKilogram, z-a), working.Num("soil", working.SoilMass, mass),
				working.Num("depth", working.Depth, b.Ground.Depth)}}}
}
