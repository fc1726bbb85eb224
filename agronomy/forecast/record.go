package forecast

import (
	"slices"
	"strconv"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Record is a bed's record: the one source from which pH, potassium and pulls are modelled.
type Record struct {
	Ground  soil.Ground
	Climate soil.Climate
	// Day is the day of the record; planned work lies after it.
	Day quantity.Day
	// Readings are in order of day, at least one.
	Readings []soil.Reading
	// Grown are the past and standing crops that remove potassium, Coming those planned after Day.
	Grown, Coming []ledger.Grown
	// Applied are past, Plan planned applications, in any order.
	Applied, Plan []Application
	Water         Water
}

// Application is a past or planned application of a batch, which others may share; "": a batch of
// its own.
type Application struct {
	ledger.Application
	Batch string
}

func (r *Record) first() quantity.Day { return r.Readings[0].Date }

// years returns the length of the record, at least one year.
func (r *Record) years() float64 { return max(1, float64(r.Day-r.first())/float64(ledger.YearDays)) }

// removal returns the yearly removal by crops; without a recorded crop, the default.
func (r *Record) removal() quantity.Rate {
	if len(r.Grown) == 0 {
		return crop.Unnamed.Removal
	}
	var sum quantity.Rate
	for i := range r.Grown {
		sum += r.Grown[i].Carried(r.first(), max(r.Day, r.first()+ledger.YearDays), r.Day)
	}
	return quantity.Rate(float64(sum) / r.years())
}

// Pulls returns the causes of drift: rain by climate, removal by crops, water, feeds and manure.
func (r *Record) Pulls() []Pull {
	away, ok := rain[r.Climate.ID]
	if !ok {
		away = temperateRain
	}
	out := []Pull{{PullRain, away}}
	water, fed := float64(ledger.WaterLime(quantity.Rate(r.Water.Litres*1000), r.Water.Alkalinity)), 0.0
	for i := range r.Applied {
		a := &r.Applied[i]
		switch {
		case a.Date <= r.first() || a.Date > r.Day:
		case a.Material.Kind == material.TapWater:
			water += float64(ledger.WaterLime(a.Rate, r.Water.Alkalinity)) / r.years()
		default:
			fed += float64(a.Drift()) / r.years()
		}
	}
	for _, p := range []Pull{{PullCrop, RemovalPull(r.removal())}, {PullWater, water}, {PullFeed, fed}} {
		if p.Rate != 0 {
			out = append(out, p)
		}
	}
	return out
}

// aside is the distance beyond the last reading for which a method is applied, past which the labs'
// methods are not printed; only some methods use it.
const (
	aside       quantity.PH = 0.5
	mostPrinted quantity.PH = 6.5
)

// Method applies a lime method to the ground at the last reading. Errors are *soil.MissingError.
func (r *Record) Method(s soil.LimeMethod) (soil.Buffering, error) {
	last := r.Readings[len(r.Readings)-1]
	return soil.Buffer(s, r.Ground, last, min(last.Water()+aside, mostPrinted))
}

// Model returns the model of the record under a lime method, with or without planned work.
func (r *Record) Model(method soil.Buffering, plan bool) Model {
	var additions []Addition
	for i, x := range r.applications(plan) {
		if x.MovesPH() {
			if x.Batch == "" {
				x.Batch = "alone " + strconv.Itoa(i)
			}
			additions = append(additions, AdditionOf(&x.Application, x.Batch, method.Stone))
		}
	}
	return ModelOf(r.Ground, &r.Climate, method, r.Readings, additions, r.Pulls())
}

// applications returns past applications, and planned ones if wanted, in order of day.
func (r *Record) applications(plan bool) []Application {
	out := slices.Clone(r.Applied)
	if plan {
		out = append(out, r.Plan...)
	}
	slices.SortStableFunc(out, func(x, y Application) int { return int(x.Date - y.Date) })
	return out
}

// Potassium returns the potassium model of the record up to a day.
func (r *Record) Potassium(plan bool, until quantity.Day) PotassiumModel {
	applications := make([]ledger.Application, 0, len(r.Applied)+len(r.Plan))
	for i := range r.Applied {
		applications = append(applications, r.Applied[i].Application)
	}
	for i := range r.Plan {
		if plan {
			applications = append(applications, r.Plan[i].Application)
			p := &applications[len(applications)-1]
			p.Date = max(p.Date, r.Day+1) // today's figure does not include today's planned application
		}
	}
	grown := r.Grown
	if len(r.Coming) > 0 {
		grown = append(slices.Clone(grown), r.Coming...)
	}
	return PotassiumModelOf(r.Ground, r.Readings, applications, grown, r.Day, until)
}

// PotassiumModelOf builds a bed's potassium model from its record as of the day recorded, up to
// until. Only readings by the newest one's extractant count, since extractants do not compare.
func PotassiumModelOf(g soil.Ground, readings []soil.Reading, applied []ledger.Application, grown []ledger.Grown, recorded,
	until quantity.Day) PotassiumModel {
	k := PotassiumModel{Rise: float64(soil.PotassiumRise(g, 1)), Leached: g.Texture.Leaching}
	read := slices.DeleteFunc(slices.Clone(readings), func(x soil.Reading) bool { return x.Potassium == nil })
	if len(read) == 0 {
		return k
	}
	slices.SortStableFunc(read, func(x, y soil.Reading) int { return int(x.KDate() - y.KDate()) })
	newest := &read[len(read)-1]
	scale, _ := soil.PotassiumRanges(g, newest.Extractant, newest.KRange)
	k.Half = float64(scale.Critical) / 2
	for i := range read {
		// Other extractants have other scales; one figure may be shared by several readings.
		x := PotassiumReading{Date: read[i].KDate(), PPM: float64(*read[i].Potassium)}
		if read[i].Extractant == newest.Extractant && !slices.Contains(k.Reads, x) {
			k.Reads = append(k.Reads, x)
		}
	}
	first := k.Reads[0].Date
	for i := range applied {
		if k2o := float64(applied[i].K2O()); k2o > 0 && applied[i].Date > first {
			k.Moves = append(k.Moves, PotassiumMove{Date: applied[i].Date, K2O: k2o})
		}
	}
	for i := range grown {
		x := &grown[i]
		if to := x.Until(until, recorded); to > first {
			k.Moves = append(k.Moves, PotassiumMove{After: max(x.From, first), Date: to, K2O: -float64(x.Carried(first, to, recorded))})
		}
	}
	return k
}
