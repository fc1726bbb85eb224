package plots

import (
	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// historyDays is how far back what was put on still matters: what ash brings of
// heavy metal is summed over five years.
const HistoryDays = material.MuchAshSpan

// asked makes what agronomy asks for of a bed on a day, but for its materials:
// the one way from the records to a dose, to the outlook and to the plan.
func (p *Plot) asked(g garden.Garden, n noted, l garden.Library, used garden.Reading, beside []garden.Reading, today quantity.Day) dose.Request {
	q := dose.Request{Schools: g.Schools().Or(dose.Schools{}), Record: bed.Record{
		Date: today, Climate: g.ClimateNormals(), Ground: n.ground(p.Bed, g.SoilTable, today), Reading: used.Soil()}}
	for _, r := range beside {
		if r.Date <= today {
			q.More = append(q.More, r.Soil())
		}
	}
	// Potassium has a day of its own: the newest figure is lent to any pH.
	if k := p.Potassium; k != nil {
		lent := k.Soil()
		q.Reading.Potassium, q.Reading.Extractant, q.Reading.KRange, q.Reading.PotassiumDate = lent.Potassium, lent.Extractant, lent.KRange, k.Date
		if q.Reading.Magnesium == nil {
			q.Reading.Magnesium = lent.Magnesium
		}
		q.Grown = n.grown(l, k.Date, today)
	}
	if len(p.Crops) > 0 {
		first := p.Crops[0]
		q.Crop, q.With = &first, p.Crops[1:]
	} else {
		none := crop.Unnamed
		q.Crop = &none
	}
	if p.Bed.Watered == garden.Tap {
		q.Water = g.Alkalinity()
	}
	_, q.Cleared = sowing(*p, n.plantings, today)
	q.Sown = starts(n.plantings, today)
	for _, x := range n.history(today) {
		if x.Date > today-HistoryDays {
			q.History = append(q.History, x)
		}
	}
	return q
}
