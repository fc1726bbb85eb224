package seasons

import (
	"context"
	"encoding/json"
	"slices"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// Outline is a bed's line in short.
type Outline struct {
	Plot plots.Plot
	// Back and Ahead are the year's level by half years, Back up to today and Ahead from today on; none where it was
	// never read.
	Back, Ahead []forecast.Spread
	// Leaves is the month in which its median leaves its band; no day where it stays in it, or is out of it already.
	Leaves quantity.Day
}

// outlineYears are told back and ahead.
const outlineYears = 3

// Outlines are those of all beds on the plan, in the plan's order.
func (k Keeper) Outlines(ctx context.Context, today quantity.Day) (out []Outline, err error) {
	err = garden.Ask(ctx, k.Store, func(r Reader) error {
		out, err = garden.Keep(r.Kept(), r, outlinesOn(today), func() ([]Outline, error) { return outlines(r, today) })
		return err
	})
	return out, err
}

// outlinesOn is what outlines are kept by.
type outlinesOn quantity.Day

func outlines(r Reader, today quantity.Day) (out []Outline, err error) {
	records, g, err := plots.ReadBeds(r, today)
	if err != nil {
		return nil, err
	}
	stocks, err := garden.Shelf(r)
	if err != nil {
		return nil, err
	}
	for _, rec := range records {
		if rec.Bed.Kind == garden.KindHeap {
			continue
		}
		o := Outline{Plot: rec.Plot}
		if rec.Lesson != nil {
			s := Season{BedRecord: rec, Garden: g, Today: today, Stocks: stocks, record: rec.Lesson.Record}
			o.tell(r, &s)
		}
		out = append(out, o)
	}
	return out, nil
}

// tell foretells a bed in short; what it rests on keeps it.
func (o *Outline) tell(r Reader, s *Season) {
	rec := s.record
	rec.Plan = s.plan()
	b := rec.Bed(s.Lesson.Buffer, true)
	b.Others = s.Lesson.Model().Others
	key, err := json.Marshal(b)
	run := func() []forecast.Spread { return forecast.Run(&b, s.Today.AddMonths(12*outlineYears)).PH }
	var ph []forecast.Spread
	if err != nil {
		ph = run()
	} else {
		ph = garden.Lasting(r.Kept(), "outline "+s.Garden.Climate+s.Garden.Hemisphere+s.Today.String()+string(key), run)
	}
	from := max(s.Today.AddMonths(-12*outlineYears), ph[0].Date)
	for d := s.Today; d >= from; d = d.AddMonths(-6) {
		o.Back = append(o.Back, forecast.On(ph, d))
	}
	slices.Reverse(o.Back)
	for m := 0; m <= 12*outlineYears; m += 6 {
		o.Ahead = append(o.Ahead, forecast.On(ph, s.Today.AddMonths(m)))
	}
	band := o.Plot.Crop.Band
	now := quantity.PH(o.Ahead[0].Median)
	if st, _ := bed.Against(band, now); st == bed.InBand {
		o.Leaves, _ = forecast.Leaves(ph, s.Today, band.Low, band.High)
	}
}
