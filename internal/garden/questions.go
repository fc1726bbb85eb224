package garden

import (
	"fmt"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
)

// Found is the measured values of a reading.
type Found struct {
	BedID     int64        `db:"bed_id"`
	Date      quantity.Day `db:"date"`
	PH        bool         `db:"ph"`
	Potassium bool         `db:"potassium"`
}

// ReadingKey identifies a reading by content.
type ReadingKey struct {
	BedID  int64        `db:"bed_id"`
	Code   string       `db:"code"`
	Date   quantity.Day `db:"date"`
	Method soil.Method  `db:"method"`
	Basis  soil.Basis   `db:"basis"`
	PH     *quantity.PH `db:"ph"`
}

func (k ReadingKey) Text(byCode bool) string {
	whose := fmt.Sprint(k.BedID)
	if byCode {
		whose = k.Code
	}
	ph := ""
	if k.PH != nil {
		ph = fmt.Sprintf("%.2f", float64(*k.PH))
	}
	return strings.Join([]string{whose, k.Date.String(), string(k.Method), string(k.Basis), ph}, " ")
}

// LayersOf returns the layers that a round keeps apart in a bed.
func LayersOf(r Round, b Bed) []sampling.Stretch {
	if !r.Layered {
		return nil
	}
	if all := sampling.Layers(b.Ground(soil.CoolTable)); len(all) > 1 {
		return all
	}
	return nil
}

// SampleCode is a sample's code with the codes of its layers.
type SampleCode struct {
	Code    string         `db:"code"`
	BedID   int64          `db:"bed_id"`
	Layered bool           `db:"layered"`
	Kind    string         `db:"kind"`
	Worked  soil.Worked    `db:"worked"`
	Depth   quantity.Depth `db:"depth_m"`
}

// Waiting is a sample that was taken and not read yet, with its beds' names.
type Waiting struct {
	Code  string `db:"code"`
	State string `db:"state"`
	Beds  string `db:"beds"`
}
