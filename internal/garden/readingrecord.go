package garden

import (
	"fmt"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Reading is one reading of one bed.
type Reading struct {
	Meta
	BedID     int64                   `db:"bed_id" json:"bed_id"`
	Date      quantity.Day            `db:"date" json:"date"`
	Method    soil.Method             `db:"method" json:"method"`
	Basis     soil.Basis              `db:"basis" json:"basis"`
	PH        *quantity.PH            `db:"ph" json:"ph"`
	Cores     int                     `db:"cores" json:"cores"`
	Depth     quantity.Depth          `db:"depth_m" json:"depth_m"`
	Potassium *quantity.Concentration `db:"k_ppm" json:"k_ppm"`
	Magnesium *quantity.Concentration `db:"mg_ppm" json:"mg_ppm"`
	Vinegar   soil.FreeLime           `db:"vinegar" json:"vinegar"`
	Soda      soil.FreeLime           `db:"soda" json:"soda"`
	Note      string                  `db:"note" json:"note"`
	// SampleID is the mixed sample that it was read from.
	SampleID *int64 `db:"sample_id" json:"sample_id"`
	// Further values of a lab report.
	Calcium        *quantity.Concentration          `db:"ca_ppm" json:"ca_ppm"`
	Phosphorus     *quantity.Concentration          `db:"p_ppm" json:"p_ppm"`
	Extractant     soil.Extractant                  `db:"k_extractant" json:"k_extractant"`
	KFrom          *quantity.Concentration          `db:"k_from_ppm" json:"k_from_ppm"`
	KTo            *quantity.Concentration          `db:"k_to_ppm" json:"k_to_ppm"`
	OrganicMatter  *quantity.Percent                `db:"organic_matter_pct" json:"organic_matter_pct"`
	CEC            *quantity.CationExchangeCapacity `db:"cec" json:"cec"`
	BufferKind     soil.BufferKind                  `db:"buffer_kind" json:"buffer_kind"`
	BufferPH       *quantity.PH                     `db:"buffer_ph" json:"buffer_ph"`
	BufferCapacity *float64                         `db:"buffer_capacity_mg_kg" json:"buffer_capacity_mg_kg"`
	LabRate        *quantity.Rate                   `db:"lab_rate_g_m2" json:"lab_rate_g_m2"`
	LabDepth       *quantity.Depth                  `db:"lab_rate_depth_m" json:"lab_rate_depth_m"`
	LabCCE         *quantity.Percent                `db:"lab_rate_cce_pct" json:"lab_rate_cce_pct"`
	LabTarget      *quantity.PH                     `db:"lab_rate_target_ph" json:"lab_rate_target_ph"`
	// Layers are [from m, to m, pH], Jars [g CaCO₃ a kg, pH].
	Layers Rows `db:"layers" json:"layers"`
	Jars   Rows `db:"jars" json:"jars"`
	// Doubt is a kit's standard deviation by its chips; nil: the method's.
	Doubt *float64 `db:"doubt_ph" json:"doubt_ph"`
	// Struck is the day on which it was struck out, 0 while valid. It stays in the history.
	Struck    quantity.Day `db:"struck" json:"struck"`
	StruckWhy string       `db:"struck_why" json:"struck_why"`
}

// Soil converts the reading for package soil.
func (r Reading) Soil() soil.Reading {
	s := soil.Reading{Date: r.Date, Method: r.Method, Basis: r.Basis, Cores: r.Cores,
		Potassium: r.Potassium, Magnesium: r.Magnesium, Calcium: r.Calcium, Fizz: soil.FizzTest{Vinegar: r.Vinegar, Soda: r.Soda}}
	if r.PH != nil {
		s.PH = *r.PH
	}
	if r.Doubt != nil {
		s.Doubt = soil.WithSampling(*r.Doubt, r.Cores)
	}
	s.Extractant = r.Extractant
	if r.KFrom != nil && r.KTo != nil {
		s.KRange = &soil.KRange{From: *r.KFrom, To: *r.KTo}
	}
	if r.BufferKind != "" && r.BufferPH != nil {
		s.Buffer = &soil.BufferPH{Kind: r.BufferKind, PH: *r.BufferPH}
	}
	if r.BufferCapacity != nil {
		s.BufferCapacity = *r.BufferCapacity
	}
	if r.LabRate != nil && r.LabDepth != nil && r.LabCCE != nil && r.LabTarget != nil {
		s.LabRate = &soil.LabRate{Rate: *r.LabRate, Depth: *r.LabDepth, CCE: *r.LabCCE, Target: *r.LabTarget}
	}
	for _, l := range r.Layers {
		if len(l) == 3 {
			s.Layers = append(s.Layers, soil.Layer{From: quantity.Depth(l[0]), To: quantity.Depth(l[1]), PH: quantity.PH(l[2])})
		}
	}
	for _, j := range r.Jars {
		if len(j) == 2 {
			s.Jars = append(s.Jars, soil.Jar{Lime: j[0], PH: quantity.PH(j[1])})
		}
	}
	return s
}

// MeanOfLayers returns the mean pH of its layers by thickness, in the reading's basis, to a
// hundredth; there must be layers.
func (r Reading) MeanOfLayers() quantity.PH {
	sum, thick := 0.0, 0.0
	for _, l := range r.Layers {
		d := l[1] - l[0]
		sum, thick = sum+l[2]*d, thick+d
	}
	return quantity.PH(quantity.Round(sum/thick, 2))
}

// Stands reports whether a reading is valid, not struck out.
func (r Reading) Stands() bool { return r.Struck == 0 }

// checkKept applies the form's checks to a stored reading, ignoring the day of entry.
func (r Reading) checkKept() error {
	f := Faults{}
	if r.Method != soil.Fizz && r.PH == nil {
		f["ph"] = "a pH is needed, from 3 to 10"
		return f
	}
	if err := r.checkSoil(); err != nil {
		return err
	}
	r.checkFigures(f)
	return f.OrNil()
}

var readingTable = Table{Name: "readings", Order: "date, id", One: "reading", New: func() Record { return &Reading{} }, Most: 500_000}

func (r *Reading) check(f Faults) { f.join(r.checkKept()) }

// OfBed returns its bed.
func (r *Reading) OfBed() int64 { return r.BedID }

// Held is an open application that must not be applied: its plan is based on a reading that was
// struck out on a day.
type Held struct {
	Task   int64        `db:"id"`
	BedID  int64        `db:"bed_id"`
	Struck quantity.Day `db:"struck"`
}

// Overtaken is an open application based on an older reading than the bed's last, which has Date
// and PH.
type Overtaken struct {
	Task int64        `db:"id"`
	Date quantity.Day `db:"date"`
	PH   quantity.PH  `db:"ph"`
}

// Twin reports whether two readings have the same values for their sample.
func (r Reading) Twin(o Reading) bool {
	ph := func(x Reading) quantity.PH {
		if x.PH == nil {
			return 0
		}
		return *x.PH
	}
	return r.Date == o.Date && r.Method == o.Method && r.Basis == o.Basis && ph(r) == ph(o)
}

// checkSoil applies package dose's own checks of a reading.
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
	if err := dose.CheckReading("reading", r.Soil()); err != nil {
		return FaultOf(err)
	}
	return nil
}

// CheckReading validates a reading, by field.
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

// checkFigures validates a reading's fields other than pH and day.
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

// MostJars is the largest number of jars in a series.
const MostJars = 8

// checkReport validates the further lab values: bounds, and fields that belong together.
func (r Reading) checkReport(f Faults) {
	holdOpt(LimitPPM, f, "p", r.Phosphorus)
	holdOpt(LimitPercent, f, "om", r.OrganicMatter)
	holdOpt(LimitCEC, f, "cec", r.CEC)
	if (r.BufferKind == "") != (r.BufferPH == nil) {
		f["buffer_ph"] = "a buffer pH and its kind belong together"
	}
	if (r.KFrom == nil) != (r.KTo == nil) {
		f["k_to"] = "the lab’s range of potassium has a beginning and an end"
	}
	if (r.KFrom != nil || r.Extractant != "") && r.Potassium == nil {
		f["k"] = "a figure is needed to go with its extractant or range"
	}
	if n := given(r.LabRate != nil, r.LabDepth != nil, r.LabCCE != nil, r.LabTarget != nil); n != 0 && n != 4 {
		f["lab_rate"] = "the lab’s rate goes with its depth, its CCE and its target"
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
			f["jars"] = "give the jars or the lab’s buffer capacity, not both"
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
