package daysheet

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
)

// serves returns the crop that an application serves: the next, or a standing perennial; lime too
// late for it serves the one after.
func serves(p *bedstate.State, l garden.Library, t garden.Task) string {
	m, ok := material.Find(t.What)
	if !ok || !m.MovesPH() && m.K2O.Typical == 0 {
		return ""
	}
	switch {
	case len(p.Next) == 0 && len(p.Now) > 0:
		return "for " + present.CropNames(p.Now, l)
	case len(p.Next) == 0:
		return ""
	}
	sown := p.PlantingDay(p.Next[0])
	if m.Family == material.Lime && sown-t.Due < dose.LimeTime {
		return "late for " + present.CropNames(p.Next, l) + ", from " + text.DayYear(sown) + ": it helps the next crop"
	}
	return "for " + present.CropNames(p.Next, l) + ", from " + text.DayYear(sown)
}
