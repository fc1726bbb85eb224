package garden

import (
	"fmt"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Application is an application as recorded.
type Application struct {
	Meta
	BedID   int64         `db:"bed_id" json:"bed_id"`
	TaskID  *int64        `db:"task_id" json:"task_id"`
	BatchID *int64        `db:"batch_id" json:"batch_id"`
	Date    quantity.Day  `db:"date" json:"date"`
	What    material.Kind `db:"material" json:"material"`
	Rate    quantity.Rate `db:"rate_g_m2" json:"rate_g_m2"`
	Total   quantity.Mass `db:"total_g" json:"total_g"`
	Note    string        `db:"note" json:"note"`
	// Told is the amount as entered: 3 barrows; "" for a weight.
	Told string `db:"told" json:"told"`
	// CCE, K2O and Condition are its batch's on the day; nil or "": the kind's typical.
	CCE       *quantity.Percent  `db:"cce_pct" json:"cce_pct"`
	K2O       *quantity.Percent  `db:"k2o_pct" json:"k2o_pct"`
	Condition material.Condition `db:"condition" json:"condition"`
	// Fineness is that of its stone; none: all in the finest class.
	Fineness Figures `db:"fineness_pct" json:"fineness_pct"`
}

// Put converts it for package ledger; ok is false for an unknown material.
func (a Application) Put() (p ledger.Application, ok bool) {
	m, ok := material.Find(a.What)
	return ledger.Application{Date: a.Date, Material: m, Rate: a.Rate, Measured: a.CCE, Potash: a.K2O, Condition: a.Condition,
		Fineness: a.Fineness.shares()}, ok
}

// From copies a batch's properties: strength and potash corrected for water and charcoal, so that
// the batch may change later.
func (a *Application) From(b Batch) {
	m, _ := material.Find(b.Kind)
	now := b.Material(m)
	now.Condition, now.Fineness, now.Crushed = material.Dry, nil, false
	w := now.Worth()
	less := b.Moisture > 0 || b.Charcoal > 0
	a.CCE, a.K2O, a.Condition, a.Fineness = nil, nil, b.Condition, nil
	if m.Raises() && (!w.Typical || less) { // a purity is not a strength of lime
		cce := quantity.Percent(quantity.Round(100*w.EffectiveCCE, 2))
		a.CCE = &cce
	}
	if b.K2O != nil || less && w.K2O > 0 {
		k := quantity.Percent(quantity.Round(100*w.K2O, 2))
		a.K2O = &k
	}
	if b.Effective != nil {
		return // a label's effective figure includes its fineness
	}
	whole := b.Material(m)
	if shares := whole.Shares(); shares != nil {
		for _, p := range shares {
			a.Fineness = append(a.Fineness, float64(p))
		}
	}
}

func (a *Application) check(f Faults) {
	knownMaterial(f, "material", a.What)
	wanted(f, "date", a.Date)
	LimitRate.hold(f, "rate_g_m2", float64(a.Rate))
	LimitAmount.hold(f, "total_g", float64(a.Total))
	holdOpt(LimitStrength, f, "cce_pct", a.CCE)
	holdOpt(LimitPotash, f, "k2o_pct", a.K2O)
	known(f, "condition", append(material.Conditions, ""), a.Condition)
	if n := len(a.Fineness); n > 0 && n != len(material.FinenessWeights) {
		f["fineness_pct"] = fmt.Sprintf("%d shares are needed, coarsest first", len(material.FinenessWeights))
	}
	if m, ok := material.Find(a.What); ok && len(f) == 0 {
		f.join(FaultOf(dose.CheckBatch(material.Batch{Material: m, Fineness: a.Fineness.shares()})))
	}
}

var applicationTable = Table{Name: "applications", Order: "date, id", One: "application", New: func() Record { return &Application{} },
	Most:   500_000,
	Agrees: []Agree{{"task_id", "tasks", "bed_id", "belongs to a task of another bed"}}}

// OfBed returns its bed.
func (a *Application) OfBed() int64 { return a.BedID }
