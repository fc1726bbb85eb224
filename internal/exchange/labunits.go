package exchange

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// The units in labs' files.
const (
	UnitPPM       = "ppm"
	UnitMgLitre   = "mg-l"
	UnitPoundAcre = "lb-acre"
	UnitKgHectare = "kg-ha"
	UnitCmol      = "cmol"
	UnitOfCEC     = "pct-cec"
	UnitPercent   = "pct"
	UnitGramKilo  = "g-kg"
	UnitCm        = "cm"
	UnitInch      = "in"
	UnitMm        = "mm"
)

// LabUnit is a unit with its forms in headings: lower case without punctuation.
type LabUnit struct {
	ID, Name string
	marks    []string
}

// LabUnits are all units that are recognised.
var LabUnits = []LabUnit{
	{UnitPPM, "ppm (mg/kg)", []string{"ppm", "mgkg"}},
	{UnitMgLitre, "mg/L of soil", []string{"mgl", "mglitre", "mgdm3"}},
	{UnitPoundAcre, "lb/acre", []string{"lbacre", "lbsacre", "lbac", "lbsac", "lba", "lbsa", "poundsacre"}},
	{UnitKgHectare, "kg/ha", []string{"kgha"}},
	{UnitCmol, "cmol/kg (meq/100 g)", []string{"cmolkg", "cmolckg", "cmol", "meq100g", "me100g", "meq"}},
	{UnitOfCEC, "% of CEC", []string{"%", "pct", "percent", "sat", "saturation"}},
	{UnitPercent, "%", []string{"%", "pct", "percent"}},
	{UnitGramKilo, "g/kg", []string{"gkg"}},
	{UnitCm, "cm", []string{"cm"}},
	{UnitInch, "inches", []string{"in", "inch", "inches"}},
	{UnitMm, "mm", []string{"mm"}},
}

// FindUnit returns a unit by its id.
func FindUnit(id string) (LabUnit, bool) {
	for _, u := range LabUnits {
		if u.ID == id {
			return u, true
		}
	}
	return LabUnit{}, false
}

// signs is the punctuation removed from a heading before its unit is looked for.
var signs = strings.NewReplacer("/", "", ".", "", "·", "", "⋅", "", "+", "", "^", "", "−1", "",
	"⁻¹", "", "-1", "", "-3", "3", "-", "")

// unitOf returns the unit named in a heading among the field's own; "" if none.
func (f LabField) unitOf(head string) string {
	words := strings.FieldsFunc(strings.ToLower(strings.ReplaceAll(head, "_", " ")),
		func(r rune) bool { return strings.ContainsRune(" ()[],;:", r) })
	words = slices.DeleteFunc(words, func(w string) bool { return w == "per" || w == "of" })
	if len(words) > 0 {
		words = words[1:] // its own name
	}
	for size := min(3, len(words)); size > 0; size-- {
		for i := 0; i+size <= len(words); i++ {
			said := signs.Replace(strings.Join(words[i:i+size], ""))
			for _, id := range f.units {
				if u, _ := FindUnit(id); slices.Contains(u.marks, said) {
					return id
				}
			}
		}
	}
	return ""
}

// Units returns a field's possible units; none for a field without.
func (f LabField) Units() (out []LabUnit) {
	for _, id := range f.units {
		u, _ := FindUnit(id)
		out = append(out, u)
	}
	return out
}

// chargeMass is mg/kg per cmol/kg of charge: atomic mass ÷ charge × 10.
var chargeMass = map[string]quantity.Concentration{"k": 390.98, "mg": 121.53, "ca": 200.39}

// perKilo converts a nutrient's figure to mg/kg: lb/acre ÷ 2, kg/ha ÷ (soil mass per m² ÷ 100),
// mg/L of soil ÷ bulk density.
func (row *labRow) perKilo(c quantity.Concentration, field, unit string, b garden.Bed) (quantity.Concentration, error) {
	t, ok := soil.FindTexture(b.Texture)
	if !ok {
		t, _ = soil.FindTexture(soil.Loam)
	}
	switch unit {
	case UnitPoundAcre:
		return c / 2, nil
	case UnitKgHectare:
		return c / quantity.Concentration(quantity.SoilMass(t.BulkDensity, row.r.Depth)/100), nil
	case UnitMgLitre:
		return c / quantity.Concentration(t.BulkDensity/1000), nil
	case UnitCmol:
		return c * chargeMass[field], nil
	case UnitOfCEC:
		if row.r.CEC == nil {
			return 0, fmt.Errorf("a share of the CEC needs the CEC in the same line")
		}
		return c / 100 * quantity.Concentration(*row.r.CEC) * chargeMass[field], nil
	}
	return c, nil
}

// The meanings of a comma in figures.
const (
	CommaDecimal   = "decimal"
	CommaThousands = "thousands"
)

var (
	twoWays     = regexp.MustCompile(`^[-+]?\d{1,3},\d{3}$`)
	dotted      = regexp.MustCompile(`^\d{1,3}(\.\d{3})+$`)
	asThousands = regexp.MustCompile(`^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$`)
	asDecimal   = regexp.MustCompile(`^[-+]?(\d+|\d{1,3}(\.\d{3})+),\d+$`)
)

// labFigure parses a figure; comma decides ambiguous ones.
func labFigure(s, comma string) (float64, error) {
	plain := s
	switch {
	case !strings.Contains(s, ","):
		if comma == CommaDecimal && dotted.MatchString(s) {
			plain = strings.ReplaceAll(s, ".", "")
		}
	case twoWays.MatchString(s) && comma == "":
		return 0, fmt.Errorf("“%s” may be %s or %s: say above what the comma means", s, strings.ReplaceAll(s, ",", ""),
			strings.ReplaceAll(s, ",", "."))
	case asThousands.MatchString(s) && (comma != CommaDecimal || !twoWays.MatchString(s)):
		plain = strings.ReplaceAll(s, ",", "")
	case asDecimal.MatchString(s):
		plain = strings.ReplaceAll(strings.ReplaceAll(s, ".", ""), ",", ".")
	}
	x, err := strconv.ParseFloat(plain, 64)
	if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
		return 0, fmt.Errorf("“%s” is not a number: type one, or clear it to leave it out", s)
	}
	return x, nil
}

// guessComma infers the meaning of a comma from unambiguous figures; "" if there are none.
func guessComma(figures []string) string {
	decimal, thousands := false, false
	for _, s := range figures {
		switch s = strings.TrimSpace(s); {
		case twoWays.MatchString(s):
		case asDecimal.MatchString(s):
			decimal = true
		case asThousands.MatchString(s), strings.Contains(s, ".") && !strings.Contains(s, ","):
			thousands = true
		}
	}
	switch {
	case decimal:
		return CommaDecimal
	case thousands:
		return CommaThousands
	}
	return ""
}

// The orders of dates.
const (
	DatesISO = "ymd"
	DatesDMY = "dmy"
	DatesMDY = "mdy"
)

var dayForms = map[string][]string{DatesISO: {"2006-01-02", "2006/01/02", "2006-01-02 15:04:05"},
	DatesDMY: {"2/1/2006", "2.1.2006", "2-1-2006", "2/1/06", "2.1.06"}, DatesMDY: {"1/2/2006", "1-2-2006", "1-2-06", "1/2/06"}}

func dayIn(s, order string) (quantity.Day, bool) {
	for _, f := range dayForms[order] {
		if t, err := time.Parse(f, s); err == nil {
			return quantity.DayOf(t), true
		}
	}
	return 0, false
}

// labDay parses a day in the lab's order, "" if unknown; an empty one is today.
func labDay(s, order string, today quantity.Day) (quantity.Day, error) {
	if s == "" {
		return today, nil
	}
	if order != "" {
		if d, ok := dayIn(s, order); ok {
			return d, nil
		}
		return 0, fmt.Errorf("“%s” is not a day in the order that was chosen", s)
	}
	if d, ok := dayIn(s, DatesISO); ok {
		return d, nil
	}
	a, one := dayIn(s, DatesDMY)
	b, other := dayIn(s, DatesMDY)
	switch {
	case one && (!other || a == b):
		return a, nil
	case other && !one:
		return b, nil
	case one:
		return 0, fmt.Errorf("“%s” may be %s or %s: say above how days are written", s, a.Time().Format("2 January"),
			b.Time().Format("2 January"))
	}
	return 0, fmt.Errorf("“%s” is not a day", s)
}

// guessDates returns the order in which all days parse; "" if several do.
func guessDates(days []string) string {
	var can []string
	for _, order := range []string{DatesISO, DatesDMY, DatesMDY} {
		all := true
		for _, s := range days {
			if s = strings.TrimSpace(s); s != "" {
				_, ok := dayIn(s, order)
				all = all && ok
			}
		}
		if all {
			can = append(can, order)
		}
	}
	if len(can) == 0 || slices.Contains(can, DatesISO) {
		return DatesISO
	}
	if len(can) == 1 {
		return can[0]
	}
	return ""
}
