package exchange

import (
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// shelfColumn is a column of the shelf's table: how it is written and read.
type shelfColumn struct {
	name  string
	write func(*garden.Stock) string
	read  func(*garden.Stock, string) error
}

// shelfColumns are the columns of the shelf's table, SI units, empty if unknown.
var shelfColumns = []shelfColumn{
	{"name", func(s *garden.Stock) string { return s.Name }, textOf(func(s *garden.Stock) *string { return &s.Name })},
	{"kind", func(s *garden.Stock) string { return string(s.Kind) }, func(s *garden.Stock, v string) error {
		if _, ok := material.Find(material.Kind(v)); !ok {
			return fmt.Errorf("%q is no material that is known here", v)
		}
		s.Kind = material.Kind(v)
		return nil
	}},
	{"left_kg", func(s *garden.Stock) string { return kilos(s.Left) }, kilo(func(s *garden.Stock) **quantity.Mass { return &s.Left })},
	figureOf("cce_pct", func(s *garden.Stock) **quantity.Percent { return &s.CCE }),
	figureOf("effective_pct", func(s *garden.Stock) **quantity.Percent { return &s.Effective }),
	figureOf("k2o_pct", func(s *garden.Stock) **quantity.Percent { return &s.K2O }),
	listOf("fineness_pct", func(s *garden.Stock) *garden.Figures { return &s.Fineness }),
	{"crushed", func(s *garden.Stock) string { return yes(s.Crushed) }, flag(func(s *garden.Stock) *bool { return &s.Crushed })},
	{"moisture_pct", func(s *garden.Stock) string { return some(float64(s.Moisture)) },
		share(func(s *garden.Stock) *quantity.Percent { return &s.Moisture })},
	figureOf("price_kg", func(s *garden.Stock) **float64 { return &s.Price }),
	{"bag_kg", func(s *garden.Stock) string { return kilos(s.Bag) }, kilo(func(s *garden.Stock) **quantity.Mass { return &s.Bag })},
	{"scoop_g", func(s *garden.Stock) string { return opt(s.Scoop, 1) },
		number(func(s *garden.Stock) **quantity.Mass { return &s.Scoop })},
	{"scoop_name", func(s *garden.Stock) string { return s.ScoopName }, textOf(func(s *garden.Stock) *string { return &s.ScoopName })},
	{"condition", func(s *garden.Stock) string { return string(s.Condition) }, func(s *garden.Stock, v string) error {
		s.Condition = material.Condition(v)
		return nil
	}},
	{"source", func(s *garden.Stock) string { return string(s.Source) }, func(s *garden.Stock, v string) error {
		s.Source = material.Source(v)
		return nil
	}},
	{"fire", func(s *garden.Stock) string { return s.Fire }, textOf(func(s *garden.Stock) *string { return &s.Fire })},
	{"woods", func(s *garden.Stock) string { return s.Woods }, textOf(func(s *garden.Stock) *string { return &s.Woods })},
	{"burnt", func(s *garden.Stock) string { return s.Burnt.String() }, func(s *garden.Stock, v string) (err error) {
		if s.Burnt = 0; v != "" {
			s.Burnt, err = quantity.ParseDay(v)
		}
		return err
	}},
	{"embers", func(s *garden.Stock) string { return yes(s.Embers) }, flag(func(s *garden.Stock) *bool { return &s.Embers })},
	{"walnut", func(s *garden.Stock) string { return yes(s.Walnut) }, flag(func(s *garden.Stock) *bool { return &s.Walnut })},
	{"charcoal_pct", func(s *garden.Stock) string { return some(float64(s.Charcoal)) },
		share(func(s *garden.Stock) *quantity.Percent { return &s.Charcoal })},
	listOf("vinegar_ml", func(s *garden.Stock) *garden.Figures { return &s.Vinegar }),
	figureOf("vinegar_pct", func(s *garden.Stock) **quantity.Percent { return &s.VinegarPct }),
	{"keeping", func(s *garden.Stock) string { return s.Keeping }, textOf(func(s *garden.Stock) *string { return &s.Keeping })},
	{"note", func(s *garden.Stock) string { return s.Note }, textOf(func(s *garden.Stock) *string { return &s.Note })},
}

func textOf(at func(*garden.Stock) *string) func(*garden.Stock, string) error {
	return func(s *garden.Stock, v string) error { *at(s) = strings.TrimPrefix(v, "'"); return nil }
}

// parsed parses a figure; ok is false for an empty or invalid one.
func parsed(v string) (x float64, ok bool, err error) {
	if v == "" {
		return 0, false, nil
	}
	x, err = strconv.ParseFloat(strings.ReplaceAll(v, ",", "."), 64)
	if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
		return 0, false, fmt.Errorf("%q is not a number", v)
	}
	return x, true, nil
}

func number[T ~float64](at func(*garden.Stock) **T) func(*garden.Stock, string) error {
	return func(s *garden.Stock, v string) error {
		x, ok, err := parsed(v)
		if *at(s) = nil; err != nil || !ok {
			return err
		}
		t := T(x)
		*at(s) = &t
		return nil
	}
}

func kilo(at func(*garden.Stock) **quantity.Mass) func(*garden.Stock, string) error {
	return func(s *garden.Stock, v string) error {
		x, ok, err := parsed(v)
		if *at(s) = nil; err != nil || !ok {
			return err
		}
		t := quantity.Mass(x) * quantity.Kilogram
		*at(s) = &t
		return nil
	}
}

func share(at func(*garden.Stock) *quantity.Percent) func(*garden.Stock, string) error {
	return func(s *garden.Stock, v string) error {
		x, _, err := parsed(v)
		*at(s) = quantity.Percent(x)
		return err
	}
}

func flag(at func(*garden.Stock) *bool) func(*garden.Stock, string) error {
	return func(s *garden.Stock, v string) error {
		if *at(s) = v == "yes"; v != "yes" && v != "no" && v != "" {
			return fmt.Errorf("%q is neither yes nor no", v)
		}
		return nil
	}
}

// figureOf returns a column of an optional figure.
func figureOf[T ~float64](name string, at func(*garden.Stock) **T) shelfColumn {
	return shelfColumn{name, func(s *garden.Stock) string {
		if x := *at(s); x != nil {
			return strconv.FormatFloat(float64(*x), 'f', -1, 64)
		}
		return ""
	}, number(at)}
}

// listOf returns a column of figures separated by spaces.
func listOf(name string, at func(*garden.Stock) *garden.Figures) shelfColumn {
	return shelfColumn{name, func(s *garden.Stock) string {
		out := make([]string, len(*at(s)))
		for i, x := range *at(s) {
			out[i] = strconv.FormatFloat(x, 'f', -1, 64)
		}
		return strings.Join(out, " ")
	}, func(s *garden.Stock, v string) error {
		var list garden.Figures
		for _, f := range strings.Fields(v) {
			x, _, err := parsed(f)
			if err != nil {
				return err
			}
			list = append(list, x)
		}
		*at(s) = list
		return nil
	}}
}

func kilos(m *quantity.Mass) string {
	if m == nil {
		return ""
	}
	return strconv.FormatFloat(quantity.Round(float64(*m/quantity.Kilogram), 6), 'f', -1, 64)
}

func some(x float64) string {
	if x == 0 {
		return ""
	}
	return strconv.FormatFloat(x, 'f', -1, 64)
}

func yes(on bool) string {
	if on {
		return "yes"
	}
	return ""
}

// WriteInventory writes the batches in stock as CSV, one per line.
func WriteInventory(w io.Writer, shelf []garden.Stock) error {
	head := make([]string, len(shelfColumns))
	for i, c := range shelfColumns {
		head[i] = c.name
	}
	rows := [][]string{head}
	for i := range shelf {
		if shelf[i].Gone != 0 {
			continue
		}
		row := make([]string, len(shelfColumns))
		for j, c := range shelfColumns {
			row[j] = c.write(&shelf[i])
		}
		rows = append(rows, row)
	}
	return newCSV(w).WriteAll(rows)
}

// InventoryLine is a line of an imported shelf.
type InventoryLine struct {
	// Line is its number in the file, Name the batch's name.
	Line  int
	Name  string
	cells map[string]string
}

// ReadInventory reads the output of WriteInventory; columns may be in any order, and missing ones
// are not changed. Errors are garden.Faults at "file", one sentence.
func ReadInventory(name string, data []byte) ([]InventoryLine, error) {
	cells, err := ReadCells(name, data)
	if err != nil {
		return nil, err
	}
	columns := make([]*shelfColumn, len(cells[0]))
	has := map[string]bool{}
	for j, head := range cells[0] {
		head = strings.ToLower(strings.TrimSpace(head))
		i := slices.IndexFunc(shelfColumns, func(c shelfColumn) bool { return c.name == head })
		if i < 0 {
			return nil, fileFault("%q is no column of a shelf", head)
		}
		columns[j], has[head] = &shelfColumns[i], true
	}
	if !has["name"] || !has["kind"] {
		return nil, fileFault("the columns name and kind are needed")
	}
	var out []InventoryLine
	for i, row := range cells[1:] {
		if blank(row) {
			continue
		}
		l := InventoryLine{Line: i + 2, cells: map[string]string{}}
		for j, v := range row {
			l.cells[columns[j].name] = strings.TrimSpace(v)
		}
		var tried garden.Stock
		if err := l.Onto(&tried); err != nil {
			return nil, fileFault("line %d, %v", l.Line, err)
		}
		l.Name = tried.Name
		out = append(out, l)
	}
	return out, nil
}

// Onto applies the line to a batch, for the columns of the file; an empty cell means unknown.
func (l InventoryLine) Onto(s *garden.Stock) error {
	for i := range shelfColumns {
		c := &shelfColumns[i]
		v, ok := l.cells[c.name]
		if !ok {
			continue
		}
		if err := c.read(s, v); err != nil {
			return fmt.Errorf("%s: %w", c.name, err)
		}
	}
	return nil
}
