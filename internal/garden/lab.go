package garden

import (
	"fmt"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// ReadingKey is what tells one reading from another.
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
