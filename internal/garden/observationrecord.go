package garden

import (
	"encoding/base64"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/symptom"
)

// Observation is a symptom seen on a bed.
type Observation struct {
	Meta
	BedID int64        `db:"bed_id" json:"bed_id"`
	Day   quantity.Day `db:"day" json:"day"`
	// Sign is an id of symptom.Symptoms.
	Sign string `db:"sign" json:"sign"`
	Note string `db:"note" json:"note"`
	// Pictured is set when there is a photograph.
	Pictured bool `db:"pictured" json:"pictured"`
}

var observationTable = Table{Name: "sights", Order: "day, id", One: "sight", New: func() Record { return &Observation{} }, Most: 100_000}

func (s *Observation) check(f Faults) {
	wanted(f, "day", s.Day)
	if _, ok := symptom.Find(s.Sign); !ok {
		f["sign"] = "tap what you see"
	}
	if why := TextFault(s.Note, LongestNote, true); why != "" {
		f["note"] = why
	}
}

// CheckObservation validates an observation, by field.
func CheckObservation(s *Observation) error {
	f := Faults{}
	s.check(f)
	return f.OrNil()
}

// OfBed returns its bed.
func (s *Observation) OfBed() int64 { return s.BedID }

// Photo is an observation's picture, a small JPEG in base64.
type Photo struct {
	Meta
	ObservationID int64   `db:"sight_id" json:"sight_id"`
	JPEG          Encoded `db:"jpeg" json:"jpeg"`
}

// Encoded is bytes as base64, exempt from the limits of texts.
type Encoded string

// Encode returns bytes as base64.
func Encode(raw []byte) Encoded { return Encoded(base64.StdEncoding.EncodeToString(raw)) }

// Bytes decodes them.
func (e Encoded) Bytes() ([]byte, error) { return base64.StdEncoding.DecodeString(string(e)) }

// CheckPhoto validates a picture, by field.
func CheckPhoto(p *Photo) error {
	f := Faults{}
	p.check(f)
	return f.OrNil()
}

// MostPhoto is the largest size of a picture in bytes.
const MostPhoto = 400 << 10

var photoTable = Table{Name: "photos", One: "photograph", New: func() Record { return &Photo{} }, Most: 20_000,
	Alone: []Alone{{"sight_id", "photo", "there is a photograph of it already", "note it anew"}}}

func (p *Photo) check(f Faults) {
	raw, err := p.JPEG.Bytes()
	if err != nil || len(raw) < 4 || raw[0] != 0xff || raw[1] != 0xd8 {
		f["photo"] = "that is no photograph"
	} else if len(raw) > MostPhoto {
		f["photo"] = "the photograph is too large"
	}
}
