package garden

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Batch is something on the shelf.
type Batch struct {
	Meta
	Name      string             `db:"name" json:"name"`
	Kind      material.Kind      `db:"kind" json:"kind"`
	CCE       *quantity.Percent  `db:"cce_pct" json:"cce_pct"`
	Effective *quantity.Percent  `db:"effective_pct" json:"effective_pct"`
	K2O       *quantity.Percent  `db:"k2o_pct" json:"k2o_pct"`
	Condition material.Condition `db:"condition" json:"condition"`
	Source    material.Source    `db:"source" json:"source"`
	// OnHand is what there was when it was entered; what came and went since is in
	// its movements.
	OnHand *quantity.Mass `db:"on_hand_g" json:"on_hand_g"`
	// Scoop is what a level scoop of it weighs, once weighed.
	Scoop *quantity.Mass `db:"scoop_g" json:"scoop_g"`
	// Price is for a kilogram, in the place's currency.
	Price *float64 `db:"price_kg" json:"price_kg"`
	Note  string   `db:"note" json:"note"`
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
	holdOpt(LimitPrice, f, "price_kg", b.Price)
}

var batchTable = Table{Name: "batches", One: "batch on the shelf", New: func() Record { return &Batch{} }, Most: mostBeds}

// Called is its name.
func (b *Batch) Called() string { return b.Name }

// Material is the batch as agronomy has it, whatever is left of it; m is its kind's
// row.
func (b Batch) Material(m material.Material) material.Batch {
	return material.Batch{Material: m, Measured: b.CCE, Effective: b.Effective, Potash: b.K2O, Condition: b.Condition, Source: b.Source,
		Price: b.Price}
}
