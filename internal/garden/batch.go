package garden

import (
	"cmp"
	"fmt"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// Batch is a bag or a bin of ash in stock.
type Batch struct {
	Meta
	Name      string             `db:"name" json:"name"`
	Kind      material.Kind      `db:"kind" json:"kind"`
	CCE       *quantity.Percent  `db:"cce_pct" json:"cce_pct"`
	Effective *quantity.Percent  `db:"effective_pct" json:"effective_pct"`
	K2O       *quantity.Percent  `db:"k2o_pct" json:"k2o_pct"`
	Condition material.Condition `db:"condition" json:"condition"`
	Source    material.Source    `db:"source" json:"source"`
	// OnHand is the amount when it was entered; later changes are movements.
	OnHand *quantity.Mass `db:"on_hand_g" json:"on_hand_g"`
	// Scoop is the mass of a level measure, if weighed, and ScoopName the measure: one of Scoops,
	// "" for a scoop.
	Scoop     *quantity.Mass `db:"scoop_g" json:"scoop_g"`
	ScoopName string         `db:"scoop_name" json:"scoop_name"`
	// Price is per kilogram, in the place's currency; Bag is a bag's content, if sold by the bag.
	Price *float64       `db:"price_kg" json:"price_kg"`
	Bag   *quantity.Mass `db:"bag_g" json:"bag_g"`
	Note  string         `db:"note" json:"note"`

	// Fineness is four shares, coarsest first; none: all in the finest class. Crushed is set for
	// shells crushed by hand.
	Fineness Figures          `db:"fineness_pct" json:"fineness_pct"`
	Crushed  bool             `db:"crushed" json:"crushed"`
	Moisture quantity.Percent `db:"moisture_pct" json:"moisture_pct"`

	// The following fields are of ash. Fire is one of Fires; Woods is the gardener's description of
	// the fuel.
	Fire  string       `db:"fire" json:"fire"`
	Woods string       `db:"woods" json:"woods"`
	Burnt quantity.Day `db:"burnt" json:"burnt"`
	// Embers is set while some may glow, Walnut when black walnut was burnt; Charcoal is the share
	// not sifted out.
	Embers   bool             `db:"embers" json:"embers"`
	Walnut   bool             `db:"walnut" json:"walnut"`
	Charcoal quantity.Percent `db:"charcoal_pct" json:"charcoal_pct"`
	// Vinegar are the runs of a home test, mL each, with vinegar of VinegarPct.
	Vinegar    Figures           `db:"vinegar_ml" json:"vinegar_ml"`
	VinegarPct *quantity.Percent `db:"vinegar_pct" json:"vinegar_pct"`
	// Keeping is the gardener's note on storage.
	Keeping string `db:"keeping" json:"keeping"`
	// Gone is the day from which it is out of stock for good; its history stays.
	Gone quantity.Day `db:"gone" json:"gone"`
}

// Scoops are the measures that a material may be counted in, the usual one first.
var Scoops = []string{"scoop", "cup", "bucket", "handful"}

// Fires are the origins of ash.
var Fires = []string{"stove", "oven", "kiln", "fire-pit", "pellet-stove", "leaves"}

// mostRuns is the largest number of runs of a vinegar test.
const mostRuns = 12

// CheckBatch validates a batch, by field.
func CheckBatch(b Batch) error {
	f := Faults{}
	b.check(f)
	return f.OrNil()
}

func (b *Batch) check(f Faults) {
	if why := nameFault(b.Name, "a name is needed"); why != "" {
		f["name"] = why
	}
	knownMaterial(f, "kind", b.Kind)
	holdOpt(LimitStrength, f, "cce_pct", b.CCE)
	holdOpt(LimitStrength, f, "effective_pct", b.Effective)
	holdOpt(LimitPotash, f, "k2o_pct", b.K2O)
	known(f, "condition", append(material.Conditions, ""), b.Condition)
	known(f, "source", append(material.Sources, ""), b.Source)
	holdOpt(LimitOnHand, f, "on_hand_g", b.OnHand)
	holdOpt(LimitScoop, f, "scoop_g", b.Scoop)
	known(f, "scoop_name", append(Scoops, ""), b.ScoopName)
	holdOpt(LimitPrice, f, "price_kg", b.Price)
	holdOpt(LimitScoop, f, "bag_g", b.Bag)
	known(f, "fire", append(Fires, ""), b.Fire)
	for field, typed := range map[string]string{"note": b.Note, "woods": b.Woods, "keeping": b.Keeping} {
		if why := TextFault(typed, LongestNote, true); why != "" {
			f[field] = why
		}
	}
	b.checkCore(f)
}

// shares converts figures to the shares of a fineness; nil if there are none.
func (f Figures) shares() *[len(material.FinenessWeights)]quantity.Percent {
	out := new([len(material.FinenessWeights)]quantity.Percent)
	if len(f) != len(out) {
		return nil
	}
	for i, p := range f {
		out[i] = quantity.Percent(p)
	}
	return out
}

// checkCore applies package dose's own checks of a batch.
func (b *Batch) checkCore(f Faults) {
	for _, ml := range b.Vinegar {
		LimitVinegar.hold(f, "vinegar_ml", ml)
	}
	if len(b.Vinegar) > mostRuns {
		f["vinegar_ml"] = fmt.Sprintf("at most %d runs", mostRuns)
	}
	if n := len(b.Fineness); n > 0 && n != len(material.FinenessWeights) {
		f["fineness_pct"] = fmt.Sprintf("%d shares are needed, coarsest first", len(material.FinenessWeights))
	}
	if m, ok := material.Find(b.Kind); ok && len(f) == 0 {
		f.join(FaultOf(dose.CheckBatch(b.Material(m))))
	}
}

var batchTable = Table{Name: "batches", One: "batch on the shelf", New: func() Record { return &Batch{} }, Most: mostBeds}

// Called returns its name.
func (b *Batch) Called() string { return b.Name }

// Measure returns its measure; nil without one.
func (b Batch) Measure() *text.Scoop {
	if b.Scoop == nil || *b.Scoop <= 0 {
		return nil
	}
	return &text.Scoop{Name: cmp.Or(b.ScoopName, Scoops[0]), Of: *b.Scoop}
}

// usualVinegar is the default strength of vinegar.
const usualVinegar quantity.Percent = 5

// Tested returns the vinegar test as one run; nil without one.
func (b Batch) Tested() *material.VinegarTest {
	if len(b.Vinegar) == 0 {
		return nil
	}
	t := &material.VinegarTest{Strength: usualVinegar}
	t.MilliLitres, _ = material.VinegarRuns(b.Vinegar)
	if b.VinegarPct != nil {
		t.Strength = *b.VinegarPct
	}
	return t
}

// Material converts a batch for package material, ignoring its stock; m is its kind's row.
func (b Batch) Material(m material.Material) material.Batch {
	return material.Batch{Material: m, Measured: b.CCE, Effective: b.Effective, Potash: b.K2O, Condition: b.Condition, Source: b.Source,
		Price: b.Price, Crushed: b.Crushed, Moisture: b.Moisture, Charcoal: b.Charcoal, Vinegar: b.Tested(), Burnt: b.Burnt,
		Embers: b.Embers, Walnut: b.Walnut, Fineness: b.Fineness.shares()}
}

// Called returns a material's name: the batch's own, else its kind's.
func Called(k material.Kind, b *Batch) string {
	if b == nil || b.Name == "" {
		return text.Material(k)
	}
	return text.Lower(b.Name)
}

// BatchIn returns a batch by its number; nil for none.
func BatchIn(batches map[int64]Batch, id *int64) *Batch {
	if id == nil {
		return nil
	}
	b, ok := batches[*id]
	if !ok {
		return nil
	}
	return &b
}
