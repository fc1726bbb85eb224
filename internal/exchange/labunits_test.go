package exchange_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/exchange"
)

func TestUnitOfHeading(t *testing.T) {
	for head, want := range map[string]string{
		"K (ppm)": exchange.UnitPPM, "Potassium mg/kg": exchange.UnitPPM, "k_ppm": exchange.UnitPPM, "K [mg kg-1]": exchange.UnitPPM,
		"K (mg/L)": exchange.UnitMgLitre, "K lb/acre": exchange.UnitPoundAcre, "Potassium (lbs per acre)": exchange.UnitPoundAcre,
		"K, lb/A": exchange.UnitPoundAcre,
		"K kg/ha": exchange.UnitKgHectare, "K (kg ha⁻¹)": exchange.UnitKgHectare, "K cmol(+)/kg": exchange.UnitCmol,
		"Potassium meq/100 g": exchange.UnitCmol,
		"K % of CEC":          exchange.UnitOfCEC, "K": "", "Potassium, Mehlich-3": "", "K index": "",
	} {
		l := exchange.GuessLayout([][]string{{"Bed", "pH", head}, {"Ledge", "5.8", "184"}})
		assert.Equal(t, []string{"bed", "ph", "k"}, l.Columns, head)
		assert.Equal(t, want, l.Units[2], head)
	}
	l := exchange.GuessLayout([][]string{{"Bed", "pH", "OM g/kg", "Depth (in)", "CEC meq/100g"}, {"Ledge", "5.8", "31", "6", "12"}})
	assert.Equal(t, []string{"", "", exchange.UnitGramKilo, exchange.UnitInch, exchange.UnitCmol}, l.Units)
	l = exchange.GuessLayout([][]string{{"Bed", "pH", "Organic matter", "Depth"}, {"Ledge", "5.8", "3.1", "15"}})
	assert.Equal(t, []string{"", "", exchange.UnitPercent, exchange.UnitCm}, l.Units)
}

func TestColumnUnitsAreConverted(t *testing.T) {
	table := cells(t, "Bed,Date,pH,K lb/acre,Mg ppm,Ca cmol/kg,P kg/ha,OM g/kg,Depth in\nLedge,2026-11-20,5.8,184,90,8,202.5,31,5.906\n")
	lines, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	require.Empty(t, bad)
	r := lines[0].Reading
	assert.InDelta(t, 92, float64(*r.Potassium), 1e-9, "184 lb/acre are 92 ppm")
	assert.InDelta(t, 90, float64(*r.Magnesium), 1e-9)
	assert.InDelta(t, 1603.1, float64(*r.Calcium), 0.1, "8 cmol/kg × 200.39")
	assert.InDelta(t, 100, float64(*r.Phosphorus), 0.05, "202.5 kg/ha in 15 cm of loam")
	assert.InDelta(t, 3.1, float64(*r.OrganicMatter), 1e-9)
	assert.InDelta(t, 0.15, float64(r.Depth), 1e-4)

	table = cells(t, "Bed,pH,K % of CEC,CEC\nLedge,5.8,4,12\n")
	lines, bad = exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	require.Empty(t, bad)
	assert.InDelta(t, 187.67, float64(*lines[0].Reading.Potassium), 0.01, "4 % of 12 cmol/kg × 390.98")
	table = cells(t, "Bed,pH,K % of CEC\nLedge,5.8,4\n")
	_, bad = exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	require.Len(t, bad, 1)
	assert.Equal(t, "a share of the CEC needs the CEC in the same line", bad[0].Says)

	// A sample's figures are turned by the soil of its bed.
	table = cells(t, "Sample,pH,K mg/L\n3A,5.8,135\n")
	lines, bad = exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	require.Empty(t, bad)
	assert.InDelta(t, 100, float64(*lines[0].Reading.Potassium), 0.01, "÷ 1.35 kg/L of loam")
}

func TestAmbiguousUnitIsQueried(t *testing.T) {
	table := cells(t, "Bed,Date,pH,K\nLedge,2026-11-20,5.8,184\n")
	l := exchange.GuessLayout(table)
	lines, bad := exchange.LabReadings(table, l, labKnown, labToday)
	assert.Empty(t, lines)
	require.Len(t, bad, 1)
	assert.Equal(t, exchange.LabProblem{Line: 1, Column: 4, Says: "in what unit is it? Choose it under the head"}, bad[0])
	l.Units[3] = exchange.UnitPoundAcre
	lines, bad = exchange.LabReadings(table, l, labKnown, labToday)
	require.Empty(t, bad)
	assert.InDelta(t, 92, float64(*lines[0].Reading.Potassium), 1e-9)
	l.Columns[3] = "om"
	l.Refit(table)
	assert.Equal(t, exchange.UnitPercent, l.Units[3], "another field, another unit")
}

func TestAmbiguousCommaIsQueried(t *testing.T) {
	read := func(figures, comma string) (float64, string) {
		table := cells(t, "Bed;pH;Ca ppm\nLedge;"+figures+"\n")
		l := exchange.GuessLayout(table)
		if comma != "" {
			l.Comma = comma
		}
		lines, bad := exchange.LabReadings(table, l, labKnown, labToday)
		if len(bad) > 0 {
			return 0, bad[0].Says
		}
		return float64(*lines[0].Reading.Calcium), ""
	}
	for _, c := range []struct {
		figures, comma string
		want           float64
	}{
		{"5.8;1,250", "", 1250}, {"5,8;1,250", "", 1.25}, {"5,8;1.250", "", 1250}, {"6;1,250", exchange.CommaThousands, 1250},
		{"6;1,250", exchange.CommaDecimal, 1.25}, {"6;1,250.5", "", 1250.5}, {"5,8;1.250,5", "", 1250.5}, {"6;12,5", "",
			12.5}, {"6;1250", "", 1250},
	} {
		got, says := read(c.figures, c.comma)
		assert.Empty(t, says, c.figures)
		assert.InDelta(t, c.want, got, 1e-9, c.figures)
	}
	_, says := read("6;1,250", "")
	assert.Equal(t, "“1,250” may be 1250 or 1.250: say above what the comma means", says)
	_, says = read("6;1,25,0", "")
	assert.Contains(t, says, "is not a number")
}

func TestAmbiguousDaysAreQueried(t *testing.T) {
	read := func(days ...string) (order, first, says string) {
		text := "Bed,Date,pH\n"
		for _, d := range days {
			text += "Ledge," + d + ",5.8\n"
		}
		table := cells(t, text)
		l := exchange.GuessLayout(table)
		lines, bad := exchange.LabReadings(table, l, labKnown, labToday)
		if len(bad) > 0 {
			return l.Dates, "", bad[0].Says
		}
		return l.Dates, lines[0].Reading.Date.String(), ""
	}
	for _, c := range []struct {
		days               []string
		order, first, says string
	}{
		{[]string{"03/04/2026", "13/04/2026"}, "dmy", "2026-04-03", ""},
		{[]string{"03/04/2026", "04/13/2026"}, "mdy", "2026-03-04", ""},
		{[]string{"03/04/2026"}, "", "", "“03/04/2026” may be 3 April or 4 March: say above how days are written"},
		{[]string{"04/04/2026"}, "", "2026-04-04", ""},
		{[]string{"3.4.2026"}, "dmy", "2026-04-03", ""},
		{[]string{"2026-04-03"}, "ymd", "2026-04-03", ""},
	} {
		order, first, says := read(c.days...)
		assert.Equal(t, []string{c.order, c.first, c.says}, []string{order, first, says}, c.days)
	}
}

func TestTitlesAreSkipped(t *testing.T) {
	table := cells(t, "Report of the soil laboratory\nfor Hollin Terrace;20 November\n\nBed;Date;pH;K "+
		"lb/acre\nLedge;2026-11-20;5,8;184\nLedge;2026-11-20;58;184\n")
	assert.Equal(t, 3, exchange.HeadLine(table))
	l := exchange.GuessLayout(table)
	assert.Equal(t, []string{"bed", "date", "ph", "k"}, l.Columns)
	lines, bad := exchange.LabReadings(table, l, labKnown, labToday)
	require.Len(t, lines, 1)
	assert.InDelta(t, 92, float64(*lines[0].Reading.Potassium), 1e-9)
	require.Len(t, bad, 1)
	assert.Equal(t, 6, bad[0].Line, "lines keep their numbers")
}
