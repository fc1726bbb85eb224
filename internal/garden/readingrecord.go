package garden

import (
	"math"

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
	// SampleID is the mixed sample of a round that it was read from.
	SampleID *int64 `db:"sample_id" json:"sample_id"`
	// The rest of a lab's report, as far as it goes.
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
	// Doubt is that of a kit by its chips; nil: the method's own.
	Doubt *float64 `db:"doubt_ph" json:"doubt_ph"`
	// Struck is the day on which it was struck out, no day while it stands. It
	// stays in the history.
	Struck    quantity.Day `db:"struck" json:"struck"`
	StruckWhy string       `db:"struck_why" json:"struck_why"`
}

// Soil gives the reading as agronomy has it.
func (r Reading) Soil() soil.Reading {
	s := soil.Reading{Date: r.Date, Method: r.Method, Basis: r.Basis, Cores: r.Cores,
		Potassium: r.Potassium, Magnesium: r.Magnesium, Fizz: soil.FizzTest{Vinegar: r.Vinegar, Soda: r.Soda}}
	if r.PH != nil {
		s.PH = *r.PH
	}
	if r.Doubt != nil {
		s.Doubt = math.Hypot(*r.Doubt, soil.SamplingSD(r.Cores))
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

// Stands tells whether a reading has not been struck out.
func (r Reading) Stands() bool { return r.Struck == 0 }

// checkKept is the form's check of a reading that is in the record: on which day
// it was put in no longer matters.
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

// OfBed is the bed that was read.
func (r *Reading) OfBed() int64 { return r.BedID }
