package bedstate

import (
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// potassium returns a bed's potassium record up to a day, the source of its figure on a day, its
// chart and its dose; nil without a reading by then.
func (n noted) potassium(b garden.Bed, g garden.Garden, l garden.Library, day quantity.Day) *forecast.Record {
	if n.k != nil {
		return n.k.rec
	}
	var reads []soil.Reading
	for i := range n.readings {
		if x := &n.readings[i]; x.Potassium != nil && x.Date <= day && x.Stands() {
			reads = append(reads, x.Soil())
		}
	}
	if len(reads) == 0 {
		return nil
	}
	out := &forecast.Record{Climate: g.Warmth(), Day: day, Readings: reads, Grown: n.grown(l, 0, day)}
	out.Ground, _ = n.ground(b, g.SoilTable, day).AsFound()
	for i := range n.applications {
		if a := &n.applications[i]; a.Date <= day {
			out.Applied = AppendPut(out.Applied, a)
		}
	}
	for _, p := range n.plantings {
		if c, ok := l.Find(p.Crop); ok && p.Sown > day {
			out.Coming = append(out.Coming, ledger.Grown{Crop: c, From: p.Sown, To: p.Cleared})
		}
	}
	return out
}

// carried returns the potassium carried forward to a day; nil without a reading by then.
func (n noted) carried(b garden.Bed, g garden.Garden, l garden.Library, day quantity.Day) *soil.KCarried {
	if n.k != nil {
		return &n.k.carried
	}
	rec := n.potassium(b, g, l, day)
	if rec == nil {
		return nil
	}
	k := rec.Potassium(false, day)
	c := k.Carry(day)
	return &c
}

// PotassiumRecord returns the bed's potassium record up to a day; nil without a reading by then.
func (rec *Record) PotassiumRecord(g garden.Garden, day quantity.Day) *forecast.Record {
	return rec.noted().potassium(rec.Bed, g, rec.Library, day)
}

// Potassium returns the bed's expected potassium on a day, with planned work; ok is false if it was
// never tested.
func (c Coming) Potassium(day quantity.Day) (k soil.PotassiumNow, ok bool) {
	rec := c.noted.potassium(c.State.Bed, c.Garden, c.Library, c.Today)
	if rec == nil || c.State.K.Read == nil {
		return k, false
	}
	with := *rec
	with.Plan = c.Plan()
	b := with.Potassium(true, day)
	return soil.JudgePotassium(c.State.Ground, c.State.Judgement.Reading, b.Carry(day), day), true
}

// potassium is a bed's potassium record with its value on a day.
type potassium struct {
	rec     *forecast.Record
	carried soil.KCarried
}

// potassiumLists caches all beds' potassium on a day, carriedOn each bed's.
var (
	potassiumLists = cache.Kind{Name: "potassium", Room: 8}
	carriedOn      = cache.Kind{Name: "carried", Room: 1000}
)

// potassiumOn is their cache key.
type potassiumOn [2]quantity.Day

// potassiumOf returns all beds' potassium as of a day, or today for a day to come; each figure is
// cached by what it depends on.
func potassiumOf(r Reader, preparations map[int64][]Preparation, day, today quantity.Day) (map[int64]*potassium, error) {
	return garden.CachedOfBeds(r, potassiumLists, potassiumOn{day, today}, func() (map[int64]*potassium, error) {
		rows, err := teachersOf(r)
		if err != nil {
			return nil, err
		}
		versions, err := versionsOf(r, rows.beds)
		if err != nil {
			return nil, err
		}
		all := make([]*potassium, len(rows.beds))
		forecast.Each(len(all), func(i int) {
			b := rows.beds[i]
			all[i], _ = cache.Get(r.Cache(), carriedOn, lessonOn{b.ID, day, today}, versions[i], func() (*potassium, error) {
				n := rows.of(b.ID, preparations, today)
				rec := n.potassium(b, rows.garden, rows.library, min(day, today))
				if rec == nil {
					return nil, nil
				}
				k := rec.Potassium(false, day)
				return &potassium{rec, k.Carry(day)}, nil
			})
		})
		out := make(map[int64]*potassium, len(all))
		for i, k := range all {
			if k != nil {
				out[rows.beds[i].ID] = k
			}
		}
		return out, nil
	})
}

// versionsOf returns the versions of beds, in their order.
func versionsOf(r Reader, beds []garden.Bed) (out []string, err error) {
	out = make([]string, len(beds))
	for i := range beds {
		if out[i], err = r.BedVersion(beds[i].ID); err != nil {
			return nil, err
		}
	}
	return out, nil
}
