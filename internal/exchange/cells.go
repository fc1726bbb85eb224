package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"

	"zephyrfield/internal/bounded"
	"zephyrfield/internal/garden"
)

// Limits of a lab's file.
const (
	MaxLabFile   = 10 << 20
	maxLabRows   = 20000
	maxLabColumn = 60
	maxCell      = 500
	// maxLine holds the widest line of the longest cells, quoted and in letters of several bytes.
	maxLine = maxLabColumn * (4*maxCell + 3)
)

// ReadCells reads a lab's file as a table of strings: CSV, or the first sheet of an XLSX workbook.
// Formulas are not evaluated: a cell is its cached value. Errors are garden.Faults at "file".
func ReadCells(name string, data []byte) ([][]string, error) {
	if len(data) > MaxLabFile {
		return nil, fileFault("that is more than %d MB; a lab’s report is smaller", MaxLabFile>>20)
	}
	var rows [][]string
	var err error
	if bytes.HasPrefix(data, []byte("PK")) {
		rows, err = readXLSX(data)
	} else {
		rows, err = readCSV(data)
	}
	if err != nil {
		return nil, err
	}
	for len(rows) > 0 && blank(rows[len(rows)-1]) {
		rows = rows[:len(rows)-1]
	}
	switch {
	case len(rows) < 2:
		return nil, fileFault("a line of heads and a line of figures are needed at the least")
	case len(rows) > maxLabRows:
		return nil, fileFault("that is more than %d lines", maxLabRows)
	}
	wide := len(rows[0])
	for i, r := range rows {
		wide = max(wide, len(r))
		for j, c := range r {
			if len(c) > maxCell {
				return nil, fileFault("line %d, column %d holds more than %d letters", i+1, j+1, maxCell)
			}
		}
	}
	for i := range rows {
		for len(rows[i]) < wide {
			rows[i] = append(rows[i], "")
		}
	}
	return rows, nil
}

// isFault reports whether an error is already a message for the user.
func isFault(err error) bool {
	var f garden.Faults
	return errors.As(err, &f)
}

func fileFault(format string, a ...any) error {
	return garden.Faults{"file": fmt.Sprintf(format, a...)}
}

func tooWide() error { return fileFault("that is more than %d columns", maxLabColumn) }

func blank(row []string) bool { return strings.TrimSpace(strings.Join(row, "")) == "" }

func readCSV(data []byte) ([][]string, error) {
	data, err := plainText(data)
	if err != nil {
		return nil, fileFault("%v", err)
	}
	r := bounded.NewCSV(bytes.NewReader(data), maxLine)
	r.FieldsPerRecord = -1
	r.Comma = separator(data)
	var out [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if errors.Is(err, bounded.ErrTooLong) {
			return nil, fileFault("line %d is longer than a line of a lab’s report can be", len(out)+1)
		}
		if err != nil {
			line, says := csvWords(err)
			return nil, fileFault("line %d: %s", line, says)
		}
		if len(row) > maxLabColumn {
			return nil, tooWide()
		}
		// Blank lines are kept, so that lines keep their numbers.
		for line, _ := r.FieldPos(0); len(out) < min(line-1, maxLabRows); {
			out = append(out, []string{""})
		}
		if out = append(out, row); len(out) > maxLabRows+1 {
			return out, nil
		}
	}
}

// separator returns the separator that occurs most in any of the first lines; titles above the
// heading have none.
func separator(data []byte) rune {
	best, most := ',', 0
	for i, line := range strings.SplitN(string(data[:min(len(data), maxLine)]), "\n", titleLines+2) {
		if i > titleLines {
			break
		}
		for _, c := range []rune{',', ';', '\t'} {
			if n := strings.Count(line, string(c)); n > most {
				best, most = c, n
			}
		}
	}
	return best
}

// titleLines is the number of lines allowed above the heading.
const titleLines = 20
