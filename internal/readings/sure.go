package readings

import (
	"fmt"
	"math"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// farPH is the difference from last year's pH from which a reading is queried.
const farPH = 1.5

// askReading asks for confirmation of a reading far from the bed's last, or years old.
func askReading(tx Tx, a garden.Actor, r garden.Reading) error {
	if garden.CheckReading(r, a.Today) != nil {
		return nil // invalid values are reported first
	}
	f := garden.Faults{}
	if a.Today-r.Date > garden.FarBack {
		f["date"] = fmt.Sprintf("that is %s ago. Sure? Save it once more if it is",
			text.Count(int((a.Today-r.Date)/ledger.YearDays), "year", "years"))
	}
	all, err := garden.Where[garden.Reading](tx, "bed_id", r.BedID)
	if err != nil {
		return err
	}
	var last *garden.Reading
	for i := range all {
		if x := &all[i]; x.Stands() && x.PH != nil && x.Date <= r.Date && r.Date-x.Date <= ledger.YearDays {
			last = x
		}
	}
	if r.PH != nil && r.Method != soil.Fizz && last != nil {
		is, was := r.Soil().Water(), last.Soil().Water()
		if math.Abs(float64(is-was)) > farPH+1e-9 {
			f["ph"] = fmt.Sprintf("that is %s from the %s of %s. Sure? Save it once more if it is",
				text.PH(quantity.PH(math.Abs(float64(is-was)))), text.PH(was), text.DayYear(last.Date))
		}
	}
	return a.Ask(f)
}

// askSample is askReading for a sample, compared with its first bed.
func askSample(tx Tx, a garden.Actor, code string, r garden.Reading) error {
	s, err := garden.One[garden.Sample](tx, "code", code)
	if err != nil {
		return err
	}
	in, err := garden.Where[garden.SampleBed](tx, "sample_id", s.ID)
	if err != nil || len(in) == 0 {
		return err
	}
	r.BedID = in[0].BedID
	return askReading(tx, a, r)
}
