package garden

import (
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Application is what really went on.
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
	// CCE, K2O and Condition are what its batch was taken for on the day; nil or
	// "": its kind's usual.
	CCE       *quantity.Percent  `db:"cce_pct" json:"cce_pct"`
	K2O       *quantity.Percent  `db:"k2o_pct" json:"k2o_pct"`
	Condition material.Condition `db:"condition" json:"condition"`
}

// Put is what went on as agronomy has it; ok is false for a material that is not
// in the table.
func (a Application) Put() (p ledger.Application, ok bool) {
	m, ok := material.Find(a.What)
	return ledger.Application{Date: a.Date, Material: m, Rate: a.Rate, Measured: a.CCE, Potash: a.K2O, Condition: a.Condition}, ok
}

// from takes over what a batch is taken for.
func (a *Application) From(b Batch) {
	a.CCE, a.K2O, a.Condition = b.CCE, b.K2O, b.Condition
	if b.Effective != nil {
		a.CCE = b.Effective
	}
	if m, _ := material.Find(b.Kind); !m.Raises() {
		a.CCE = nil // a purity is no strength of lime
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
}

var applicationTable = Table{Name: "applications", Order: "date, id", One: "application", New: func() Record { return &Application{} },
	Most:   500_000,
	Agrees: []Agree{{"task_id", "tasks", "bed_id", "belongs to a task of another bed"}}}

// OfBed is the bed that it went on.
func (a *Application) OfBed() int64 { return a.BedID }
