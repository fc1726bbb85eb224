package app_test

import (
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// look holds what was told of since the last look against all that was told of before it.
func (h *harm) look() {
	h.T.Helper()
	v, err := h.App.BedState.View(Ctx, h.day)
	require.NoError(h.T, err)
	all := h.entries()
	for i := range all {
		a := &all[i]
		if a.ID <= h.seen || h.facts[a.ID] {
			continue
		}
		p, _ := v.Bed(a.BedID)
		why := h.breaks(a, all[:i], p.Ground, len(p.Preparations) > 0)
		require.Empty(h.T, why, "%s, %v g/m² on %s on %s (told on %s)", a.What, float64(a.Rate), p.Bed.Name, a.Date, h.day)
	}
	if n := len(all); n > 0 {
		h.seen = all[n-1].ID
	}
	for _, t := range v.Tasks {
		m, ok := material.Find(t.What)
		if _, held := v.Held[t.ID]; held || !ok || t.Kind != garden.TaskApplication || v.Moved[t.ID].Unmet {
			continue
		}
		p, _ := v.Bed(t.BedID)
		if p.Bed.Kind == garden.KindHeap {
			require.False(h.T, material.ByDoseOnly(m.Family), "a dose of %s is planned on a heap", t.What)
		}
		x := garden.Application{BedID: t.BedID, What: t.What, Rate: t.Rate, Total: t.Total, Date: max(t.Due, h.day)}
		if why := h.kept(&x, &m, all); why != "" && t.Due > h.day {
			require.Empty(h.T, why, "%s is planned on %s for %s", t.What, p.Bed.Name, t.Due)
		}
	}
}

// breaks is the rule that an entry broke when it was told, by all that was told before it.
func (h *harm) breaks(a *garden.Application, before []garden.Application, g soil.Ground, turned bool) string {
	m, _ := material.Find(a.What)
	bed := h.bedOf(a.BedID)
	if why := h.stop(&m, bed, g); why != "" {
		return why
	}
	if caps, ok := m.CapsOn(g); ok && g.Use != soil.UseHeap {
		if a.Rate > caps.Go*(1+1e-6) {
			return "over the cap on one application"
		}
		for end := a.Date; end < a.Date+365; end++ {
			year := a.Rate
			for i := range before {
				if x := &before[i]; x.BedID == a.BedID && x.Date <= end && x.Date > end-365 {
					o, _ := material.Find(x.What)
					year += x.Rate * quantity.Rate(caps.Counts(m.Family, &o))
				}
			}
			if year > caps.Year*(1+1e-6) {
				return "over the year's cap"
			}
		}
	}
	if why := h.kept(a, &m, before); why != "" {
		return why
	}
	if turned || bed.Kind == garden.KindHeap {
		return "" // its planting waits for what went on
	}
	return h.beforeCrop(a, &m, bed)
}

func (h *harm) bedOf(id int64) *plotted {
	for i := range h.beds {
		if h.beds[i].ID == id {
			return &h.beds[i]
		}
	}
	return nil
}

// stop is what the bed and its crop forbid at any time.
func (h *harm) stop(m *material.Material, bed *plotted, g soil.Ground) string {
	switch acid := bed.crop.Is(crop.AcidLover); {
	case bed.Kind == garden.KindHeap:
	case m.Family == material.Ash && (acid || bed.crop.Is(crop.NoAsh)):
		return "ash for a crop that it does not suit"
	case m.Chalky && acid:
		return "chalk for an acid lover"
	case m.Manure() && g.Use == soil.UsePot:
		return "manure in pots"
	case m.Manure() && g.Use == soil.UseLawn:
		return "manure on a lawn"
	}
	return ""
}

// kept is the distance that something does not keep from what is on its bed.
func (h *harm) kept(a *garden.Application, m *material.Material, others []garden.Application) string {
	for i := range others {
		x := &others[i]
		o, ok := material.Find(x.What)
		if x.BedID != a.BedID || !ok {
			continue
		}
		apart := max(a.Date-x.Date, x.Date-a.Date)
		switch {
		case apart < 21 && (m.Raises() && o.GivesAmmonia() || o.Raises() && m.GivesAmmonia()):
			return "lime or ash with what gives off ammonia: " + x.Date.String()
		case h.bedOf(a.BedID).Kind == garden.KindHeap: // only ammonia is kept from one
		case apart < 182 && (m.Raises() && o.Family == material.Sulfur || o.Raises() && m.Family == material.Sulfur):
			return "lime or ash and sulfur in one season: " + x.Date.String()
		case apart < 84 && m.Manure() && o.Manure():
			return "manure on manure: " + x.Date.String()
		}
	}
	if h.bedOf(a.BedID).Kind == garden.KindHeap {
		return ""
	}
	if day := int(a.Date.Month())*100 + a.Date.Time().Day(); m.Manure() && (day > 1105 || day < 325) {
		return "manure in winter"
	}
	return ""
}

// beforeCrop is the distance that something does not keep from the planting or the harvest that comes.
func (h *harm) beforeCrop(a *garden.Application, m *material.Material, bed *plotted) string {
	p := bed.planting
	ahead := p.Sown - a.Date
	if bed.crop.Is(crop.Perennial) {
		return ""
	}
	harvest, eaten := bed.crop.Harvest()
	switch {
	case m.Family == material.Ash && ahead >= 0 && ahead < bed.crop.SowingGap():
		return "ash too near the sowing"
	case m.Family == material.Ash && ahead <= 0 && -ahead < 21:
		return "ash on seedlings"
	case m.Family == material.FreshManure && ahead >= 0 && ahead < 60:
		return "fresh manure too near the planting"
	case m.Family == material.RottedManure && ahead >= 0 && ahead < 14:
		return "rotted manure too near the planting"
	case m.Family == material.FreshManure && eaten && harvest.After > 0:
		if to := p.Sown + harvest.After - a.Date; to >= 0 && to < harvest.Gap() {
			return "fresh manure too near the harvest"
		}
	}
	return ""
}
