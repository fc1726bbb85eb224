package dosejson

import (
	"fmt"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

func (m Material) batch(i int) (material.Batch, error) {
	at := func(f string) string { return fmt.Sprintf("materials[%d].%s", i, f) }
	row, ok := material.Find(material.Kind(m.Kind))
	if !ok {
		return material.Batch{}, bad(at("kind"), "%q is not a material", m.Kind)
	}
	b := material.Batch{Material: row, Measured: opt[quantity.Percent](m.CCEPct),
		Effective: opt[quantity.Percent](m.EffectivePct), Potash: opt[quantity.Percent](m.K2OPct)}
	if err := m.fits(at, row); err != nil {
		return b, err
	}
	var err error
	if b.Condition, err = pick(at("condition"), m.Condition, material.Dry, []material.Condition{material.Dry, material.Wet}); err != nil {
		return b, err
	}
	if b.Source, err = pick(at("source"), m.Source, material.Clean, material.Sources); err != nil {
		return b, err
	}
	if b.Burnt, err = day(at("burnt"), m.Burnt, false); err != nil {
		return b, err
	}
	b.Walnut, b.Embers, b.Price, b.Crushed = m.BlackWalnut, m.Embers, m.PriceKG, m.Crushed
	if m.MoisturePct != nil {
		b.Moisture = quantity.Percent(*m.MoisturePct)
	}
	if m.CharcoalPct != nil {
		b.Charcoal = quantity.Percent(*m.CharcoalPct)
	}
	if m.VinegarML != nil {
		b.Vinegar = &material.VinegarTest{MilliLitres: *m.VinegarML, Strength: usualVinegar}
		if m.VinegarPct != nil {
			b.Vinegar.Strength = quantity.Percent(*m.VinegarPct)
		}
	}
	if b.Fineness, err = shares(at("fineness_pct"), m.FinenessPct); err != nil {
		return b, err
	}
	if m.KG != nil {
		g := quantity.Mass(*m.KG) * quantity.Kilogram
		b.OnHand = &g
	}
	if m.HeldKG != nil {
		if !(*m.HeldKG >= 0 && *m.HeldKG <= 1e6) {
			return b, bad(at("held_kg"), "an amount of 0 or more is needed")
		}
		g := quantity.Mass(*m.HeldKG) * quantity.Kilogram
		b.Held = &g
	}
	return b, nil
}

// shares parses those of a fineness; nil if none are given.
func shares(field string, given []float64) (*[4]quantity.Percent, error) {
	if given == nil {
		return nil, nil
	}
	if n := len(given); n != len(material.FinenessWeights) {
		return nil, bad(field, "four shares are needed, not %d", n)
	}
	out := new([4]quantity.Percent)
	for k, p := range given {
		out[k] = quantity.Percent(p)
	}
	return out, nil
}

// fits rejects a field that does not apply to the kind; none is ignored.
func (m Material) fits(at func(string) string, row material.Material) error {
	ash := row.Family == material.Ash
	for _, f := range []struct {
		name string
		set  bool
		fits bool
	}{
		{"cce_pct", m.CCEPct != nil, row.Raises()}, {"effective_pct", m.EffectivePct != nil, row.Raises()},
		{"k2o_pct", m.K2OPct != nil, ash}, {"condition", m.Condition != "", ash}, {"source", m.Source != "", ash},
		{"fineness_pct", m.FinenessPct != nil, row.Family == material.Lime}, {"crushed_by_hand", m.Crushed,
			row.Kind == material.ShellMeal}, {"moisture_pct", m.MoisturePct != nil, row.Raises()},
		{"charcoal_pct", m.CharcoalPct != nil, ash}, {"vinegar_ml", m.VinegarML != nil, ash}, {"vinegar_pct", m.VinegarPct != nil,
			m.VinegarML != nil},
		{"burnt", m.Burnt != "", ash}, {"black_walnut", m.BlackWalnut, ash}, {"embers", m.Embers, ash},
	} {
		if f.set && !f.fits {
			return bad(at(f.name), "it means nothing here for %s", m.Kind)
		}
	}
	return nil
}

// put parses an application of a list.
func (p HistoryEntry) put(list string, i int) (ledger.Application, error) {
	at := func(f string) string { return fmt.Sprintf("%s[%d].%s", list, i, f) }
	d, err := day(at("date"), p.Date, true)
	if err != nil {
		return ledger.Application{}, err
	}
	m, ok := material.Find(material.Kind(p.Material))
	switch {
	case !ok:
		return ledger.Application{}, bad(at("material"), "%q is not a material", p.Material)
	case p.GM2 == nil:
		return ledger.Application{}, bad(at("g_m2"), "an amount is needed")
	}
	// A field that does not apply to the material is rejected, not ignored.
	ash := m.Family == material.Ash
	switch {
	case p.CCEPct != nil && !m.Raises():
		return ledger.Application{}, bad(at("cce_pct"), "it means nothing here for %s", p.Material)
	case p.K2OPct != nil && m.K2O.Typical <= 0:
		return ledger.Application{}, bad(at("k2o_pct"), "it means nothing here for %s", p.Material)
	case p.FinenessPct != nil && m.Family != material.Lime:
		return ledger.Application{}, bad(at("fineness_pct"), "it means nothing here for %s", p.Material)
	case p.Condition != "" && !ash:
		return ledger.Application{}, bad(at("condition"), "it means nothing here for %s", p.Material)
	}
	out := ledger.Application{Date: d, Material: m, Rate: quantity.Rate(*p.GM2), Planned: p.Planned,
		Measured: opt[quantity.Percent](p.CCEPct), Potash: opt[quantity.Percent](p.K2OPct)}
	if out.Fineness, err = shares(at("fineness_pct"), p.FinenessPct); err != nil {
		return out, err
	}
	out.Condition, err = pick(at("condition"), p.Condition, "", []material.Condition{material.Dry, material.Wet})
	return out, err
}
