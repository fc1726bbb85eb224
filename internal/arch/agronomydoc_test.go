package arch_test

import (
	"bytes"
	"flag"
	"fmt"
	"io"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

var update = flag.Bool("update", false, "write docs/agronomy.md anew from the tables")

const agronomyDoc = "../../docs/agronomy.md"

// TestAgronomyDocMatchesTables compares docs/agronomy.md with the tables of the core. After a change of a table:
// go test ./internal/arch -run AgronomyDoc -update
func TestAgronomyDocMatchesTables(t *testing.T) {
	var b bytes.Buffer
	writeAgronomy(&b)
	if *update {
		require.NoError(t, os.WriteFile(agronomyDoc, b.Bytes(), 0o644))
	}
	now, err := os.ReadFile(agronomyDoc)
	require.NoError(t, err)
	assert.Equal(t, string(now), b.String())
}

// table writes a table of Markdown.
func table(w io.Writer, heads string, rows [][]string) {
	names := strings.Split(heads, " | ")
	_, _ = fmt.Fprintf(w, "| %s |\n|%s\n", heads, strings.Repeat("---|", len(names)))
	for _, r := range rows {
		_, _ = fmt.Fprintf(w, "| %s |\n", strings.Join(r, " | "))
	}
	_, _ = fmt.Fprintln(w)
}

func section(w io.Writer, title, says string) { _, _ = fmt.Fprintf(w, "## %s\n\n%s\n\n", title, says) }

func figure[T ~float64](x T) string {
	if x == 0 {
		return ""
	}
	return plain(float64(x))
}

// plain writes a figure with at most four decimals.
func plain(x float64) string { return strconv.FormatFloat(quantity.Round(x, 4), 'f', -1, 64) }

func figures[T ~float64](xs ...T) string {
	out := make([]string, len(xs))
	for i, x := range xs {
		out[i] = plain(float64(x))
	}
	return strings.Join(out, ", ")
}

func writeAgronomy(w io.Writer) {
	_, _ = fmt.Fprint(w, "# Agronomy: the tables\n\nGenerated from the tables of `agronomy/` by a test, which fails when they differ. "+
		"The methods are described in [dose.md](dose.md), [forecast.md](forecast.md), [pace.md](pace.md) and the package comments; "+
		"terms in [glossary.md](glossary.md).\n\n")
	writeSoil(w)
	writeMaterials(w)
	writeCaps(w)
	writeCrops(w)
	writeRules(w)
}

func writeSoil(w io.Writer) {
	section(w, "Textures", "`agronomy/soil/texture.go`. Lime: effective CaCO₃, short tons an acre over 7 inches, for the steps 3.5 to 4.5, "+
		"4.5 to 5.5 and 5.5 to 6.5, in the cool and the warm column. Sulfur: lb an acre over 7 inches from 7.0, 7.5, 8.0 and 8.5 down to 6.5. "+
		"Leaching: the share of the potassium over half critical that is lost in a year.")
	var rows [][]string
	for _, x := range soil.Textures {
		rows = append(rows, []string{string(x.ID), figure(x.Clay), figure(x.BulkDensity), figure(x.CEC), figures(x.Cool[:]...),
			figures(x.Warm[:]...), figures(x.Sulfur[:]...), figure(x.Leaching)})
	}
	table(w, "Texture | Clay, % | Density, kg/m³ | CEC, cmol₊/kg | Lime, cool | Lime, warm | Sulfur | Leaching", rows)

	section(w, "Climates", "`agronomy/soil/climate.go`. Soil at 10 cm in the middle of each month, °C, in the northern half; six months "+
		"later in the southern.")
	rows = nil
	for _, x := range soil.Climates {
		rows = append(rows, []string{x.ID, figures(x.Normal[:]...)})
	}
	table(w, "Climate | January to December", rows)

	section(w, "Methods of reading", "`agronomy/soil/reading.go`. The standard deviation of one reading on the water basis. Sampling adds "+
		"(variances add) by the cores of the sample.")
	rows = nil
	for _, x := range soil.Methods {
		rows = append(rows, []string{string(x.Method), figure(x.SD)})
	}
	table(w, "Method | SD, pH", rows)
	rows = nil
	for _, cores := range []int{1, 5, 10} {
		rows = append(rows, []string{fmt.Sprintf("from %d", cores), figure(soil.SamplingSD(cores))})
	}
	table(w, "Cores | SD, pH", rows)
}

func writeMaterials(w io.Writer) {
	section(w, "Materials", "`agronomy/material/material.go`. CCE: calcium carbonate equivalent, low, typical and high, % by weight. Acid: "+
		"g CaCO₃ that 100 g cancel. Half-life: weeks at the reference temperature. Retest: weeks after the last application, w: warm weeks.")
	var rows [][]string
	for _, m := range material.Table {
		cce, k := "", ""
		if m.CCE.Typical > 0 {
			cce = figures(m.CCE.Low, m.CCE.Typical, m.CCE.High)
		}
		if m.K2O.Typical > 0 {
			k = figures(m.K2O.Low, m.K2O.Typical, m.K2O.High)
		}
		retest := figure(float64(m.Retest))
		if m.WarmWeeks {
			retest += " w"
		}
		rows = append(rows, []string{string(m.Kind), string(m.Family), cce, figure(m.Acid), k, figure(m.N), figure(m.P2O5), figure(m.Calcium),
			figure(m.Magnesium), figure(m.Reacts.HalfLife), figure(m.Reacts.Reference), retest})
	}
	table(w, "Kind | Family | CCE, % | Acid | K₂O, % | N, % | P₂O₅, % | Ca, % | Mg, % | Half-life | at °C | Retest", rows)
}

func writeCaps(w io.Writer) {
	section(w, "Caps", "`agronomy/material/caps.go`. The most at one time and in any 365 days, g/m², and the weeks that applications of a "+
		"family keep apart. Of manures the figures are of their nitrogen. Empty: not given there.")
	grounds := []soil.Ground{{Use: soil.UseBed, Worked: soil.Dug}, {Use: soil.UseBed, Worked: soil.Surface}, {Use: soil.UseLawn}}
	seen := map[material.Family]bool{}
	var rows [][]string
	for _, m := range material.Table {
		if seen[m.Family] {
			continue
		}
		seen[m.Family] = true
		row := []string{string(m.Family)}
		for _, g := range grounds {
			g.Texture, _ = soil.FindTexture(soil.Loam)
			c, ok := material.CapsFor(m.Family, g)
			if !ok || !c.Offered() {
				row = append(row, "")
				continue
			}
			row = append(row, fmt.Sprintf("%s; %s; %d", figure(c.Once), figure(c.Year), c.Weeks))
		}
		if strings.Join(row[1:], "") != "" {
			rows = append(rows, row)
		}
	}
	table(w, "Family | Dug in | On top | Lawn", rows)
}

func writeCrops(w io.Writer) {
	section(w, "Crops", "`agronomy/crop/crop.go`. Removal: K₂O that a good crop carries off in a season, g/m².")
	var rows [][]string
	for _, c := range crop.Library {
		rows = append(rows, []string{c.ID, fmt.Sprintf("%.1f to %.1f", float64(c.Range.Low), float64(c.Range.High)), figure(c.Aim),
			figure(c.Removal), strings.ReplaceAll(c.Flags.IDs(), " ", ", ")})
	}
	table(w, "Crop | Band, pH | Aim | Removal | Flags", rows)
}

func writeRules(w io.Writer) {
	section(w, "Guards", "`agronomy/guard`. Their sentences stand in `agronomy/text/guards.go`.")
	var rows [][]string
	for _, r := range guard.Rules {
		rows = append(rows, []string{r.ID, fmt.Sprint(r.Level), r.Source})
	}
	table(w, "Guard | Level | Source", rows)

	section(w, "Distances of the calendar", "`agronomy/calendar`, in days.")
	rows = nil
	for _, x := range []struct {
		says string
		days quantity.Day
	}{{"What raises pH from what gives off ammonia", calendar.NitrogenDays}, {"Lime or ash from sulfur", calendar.SeasonDays},
		{"Hydrated lime before a sowing or planting", calendar.HydratedGap}, {"Hydrated lime after one", calendar.HydratedStands},
		{"Fresh manure before a planting", calendar.ManureGap}, {"Rotted manure and compost before a planting", calendar.RottedGap},
		{"The potatoes’ year before they are planted", calendar.PotatoBefore}, {"A sample after ash", calendar.AfterAsh},
		{"A sample after lime", calendar.AfterLime}, {"How far ahead an application is dated", calendar.Horizon}} {
		rows = append(rows, []string{x.says, fmt.Sprint(int(x.days))})
	}
	table(w, "Distance | Days", rows)
}
