package garden

import (
	"zephyrfield/agronomy/quantity"
)

// OwnCrop is the gardener's own crop, or a changed built-in one; Code is its code in plantings.
type OwnCrop struct {
	Meta
	Code    string        `db:"code" json:"code"`
	Name    string        `db:"name" json:"name"`
	Low     quantity.PH   `db:"low_ph" json:"low_ph"`
	High    quantity.PH   `db:"high_ph" json:"high_ph"`
	Aim     quantity.PH   `db:"aim_ph" json:"aim_ph"`
	Removal quantity.Rate `db:"removal_g_m2" json:"removal_g_m2"`
	// Flags are ids of crop.FlagNames, separated by spaces.
	Flags string `db:"flags" json:"flags"`
}

var cropTable = Table{Name: "crops", One: "crop of the library", New: func() Record { return &OwnCrop{} }, Most: 2000,
	Alone: []Alone{{"code", "name", "there is a crop of that name already", "change that one"}}}

func (c *OwnCrop) check(f Faults) {
	if why := TextFault(c.Code, longestWhat, false); why != "" {
		f["code"] = why
	}
	f.join(CheckCrop(*c).OrNil())
}

// Called returns its name.
func (c *OwnCrop) Called() string { return c.Name }
