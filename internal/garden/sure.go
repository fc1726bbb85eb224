package garden

import (
	"fmt"
	"math"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// SureField holds, beside the questions at their fields, what Act.Sure must say for
// them to be passed over.
const SureField = "sure"

// sure passes questions that were asked before and answered by the same post
// again; others are asked.
func (a Act) sure(questions Faults) error {
	if len(questions) == 0 {
		return nil
	}
	asked := questions.Error()
	if a.Sure == asked {
		return nil
	}
	questions[SureField] = asked
	return questions
}

// What is far off is asked about once: a pH this far from the last within a year, a
// day this long ago, an amount this many times the usual.
const (
	farPH                = 1.5
	farBack quantity.Day = 730
	farOver              = 10
)

// askReading asks about a reading that is far from the bed's last, or years old.
func askReading(tx Tx, a Act, r Reading) error {
	if checkReading(r, a.Today) != nil {
		return nil // what cannot be is told first
	}
	f := Faults{}
	if a.Today-r.Date > farBack {
		f["date"] = fmt.Sprintf("that is %s ago. Sure? Save it once more if it is", words.Count(int((a.Today-r.Date)/yearDays), "year", "years"))
	}
	all, err := Where[Reading](tx, "bed_id", r.BedID)
	if err != nil {
		return err
	}
	var last *Reading
	for i := range all {
		if x := &all[i]; x.Stands() && x.PH != nil && x.Date <= r.Date && r.Date-x.Date <= yearDays {
			last = x
		}
	}
	if r.PH != nil && r.Method != soil.Fizz && last != nil {
		is, was := r.Soil().Water(), last.Soil().Water()
		if math.Abs(float64(is-was)) > farPH+1e-9 {
			f["ph"] = fmt.Sprintf("that is %s from the %s of %s. Sure? Save it once more if it is", words.PH(quantity.PH(math.Abs(float64(is-was)))), words.PH(was), words.DayYear(last.Date))
		}
	}
	return a.sure(f)
}

// askSample asks about the reading of a sample, against its first bed.
func askSample(tx Tx, a Act, code string, r Reading) error {
	s, err := One[Sample](tx, "code", code)
	if err != nil {
		return err
	}
	in, err := Where[SampleBed](tx, "sample_id", s.ID)
	if err != nil || len(in) == 0 {
		return err
	}
	r.BedID = in[0].BedID
	return askReading(tx, a, r)
}

// askLog asks about a note of what went on that is years old, or far more than is
// usual: of the family before, or than a year may have.
func askLog(rec BedRecord, g Garden, a Act, x Application) error {
	f := Faults{}
	if a.Today-x.Date > farBack {
		f["put_date"] = fmt.Sprintf("that is %s ago. Sure? Note it once more if it is", words.Count(int((a.Today-x.Date)/yearDays), "year", "years"))
	}
	m, _ := material.Find(x.What)
	usual, n := quantity.Rate(0), 0
	for _, old := range rec.Applications {
		if o, ok := material.Find(old.What); ok && o.Family == m.Family {
			usual, n = usual+old.Rate, n+1
		}
	}
	u := g.Units()
	caps, ok := material.CapsFor(m.Family, rec.Bed.Ground(g.SoilTable))
	switch {
	case n > 0 && x.Rate >= farOver*usual/quantity.Rate(n):
		f["put_amount"] = fmt.Sprintf("%s is ten times what went on before or more. Sure? Note it once more if it is", u.Rate(x.Rate))
	case ok && caps.Offered() && x.Rate > caps.Year*(1+1e-6):
		f["put_amount"] = fmt.Sprintf("%s is more than the %s of a year. Sure? Note it once more if it is", u.Rate(x.Rate), u.Rate(caps.Year))
	}
	return a.sure(f)
}
