package garden

import (
	"fmt"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Held is an open go that must not go on: its plan rests on a reading that was
// struck out on a day.
type Held struct {
	Task   int64        `db:"id"`
	BedID  int64        `db:"bed_id"`
	Struck quantity.Day `db:"struck"`
}

// twin tells whether two readings say the same of their sample.
func (r Reading) Twin(o Reading) bool {
	ph := func(x Reading) quantity.PH {
		if x.PH == nil {
			return 0
		}
		return *x.PH
	}
	return r.Date == o.Date && r.Method == o.Method && r.Basis == o.Basis && ph(r) == ph(o)
}

// checkSoil is the calculation's own check of a reading.
func (r Reading) checkSoil() error {
	for i, l := range r.Layers {
		if len(l) != 3 {
			return Faults{"layers": fmt.Sprintf("layer %d is not two depths and a pH", i+1)}
		}
	}
	for i, j := range r.Jars {
		if len(j) != 2 || !LimitJarLime.Holds(j[0]) || !LimitPH.Holds(j[1]) {
			return Faults{"jars": fmt.Sprintf("jar %d is not an amount of lime and a pH", i+1)}
		}
	}
	if err := dose.CheckReading(r.Soil()); err != nil {
		return FaultOf(err)
	}
	return nil
}

// CheckReading says what is wrong with a reading, by field.
func CheckReading(r Reading, today quantity.Day) error {
	if r.Method != soil.Fizz && r.PH == nil {
		return Faults{"ph": "a pH is needed, from 3 to 10"}
	}
	if err := r.checkSoil(); err != nil {
		return err
	}
	f := Faults{}
	switch {
	case r.Date > today:
		f["date"] = "that day is still to come; a reading is dated when the sample was taken"
	case DayFault(r.Date) != "":
		f["date"] = DayFault(r.Date)
	}
	r.checkFigures(f)
	return f.OrNil()
}

// checkFigures says what is wrong with what stands in a reading besides its pH
// and its day.
func (r Reading) checkFigures(f Faults) {
	if !LimitDepth.Holds(float64(r.Depth)) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	if why := TextFault(r.Note, LongestNote, true); why != "" {
		f["note"] = why
	}
	holdOpt(LimitDoubt, f, "doubt", r.Doubt)
	if len(r.Layers) > mostLayers {
		f["layers"] = fmt.Sprintf("at most %d layers", mostLayers)
	}
	r.checkReport(f)
}

// MostJars is how long a jar series may be.
const MostJars = 8

// checkReport says what is wrong with the rest of a lab's report: figures that
// cannot be, and halves of what belongs together.
func (r Reading) checkReport(f Faults) {
	holdOpt(LimitPPM, f, "ca", r.Calcium)
	holdOpt(LimitPPM, f, "p", r.Phosphorus)
	holdOpt(LimitPercent, f, "om", r.OrganicMatter)
	holdOpt(LimitCEC, f, "cec", r.CEC)
	if (r.BufferKind == "") != (r.BufferPH == nil) {
		f["buffer_ph"] = "a buffer pH and its kind belong together"
	}
	if (r.KFrom == nil) != (r.KTo == nil) {
		f["k_to"] = "the lab's range of potassium has a beginning and an end"
	}
	if (r.KFrom != nil || r.Extractant != "") && r.Potassium == nil {
		f["k"] = "a figure is needed to go with its extractant or range"
	}
	if n := given(r.LabRate != nil, r.LabDepth != nil, r.LabCCE != nil, r.LabTarget != nil); n != 0 && n != 4 {
		f["lab_rate"] = "the lab's rate goes with its depth, its CCE and its target"
	}
	if n := len(r.Jars); n > 0 {
		if n < 4 || n > MostJars {
			f["jars"] = fmt.Sprintf("a series has four jars or more, and %d at most", MostJars)
		}
		for i := 1; i < n; i++ {
			if r.Jars[i][0] <= r.Jars[i-1][0] {
				f["jars"] = fmt.Sprintf("jar %d has no more lime than the one before it", i+1)
			}
		}
		if r.BufferCapacity != nil {
			f["jars"] = "give the jars or the lab's buffer capacity, not both"
		}
	}
}

func given(bits ...bool) (n int) {
	for _, b := range bits {
		if b {
			n++
		}
	}
	return n
}
