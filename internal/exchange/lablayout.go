package exchange

import (
	"slices"
	"strings"

	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// HeadLine returns the index of the heading: of the first lines the one in which most fields are
// recognised. Lines above it are titles.
func HeadLine(cells [][]string) int {
	at, most := 0, 0
	for i, row := range cells[:min(len(cells)-1, titleLines+1)] {
		n := 0
		for _, id := range guessColumns(row) {
			if id != "" {
				n++
			}
		}
		if n > most {
			at, most = i, n
		}
	}
	return at
}

// guessColumns matches columns by heading: an exact name first, then a match of the first word,
// then a prefix. Each field is used once.
func guessColumns(head []string) []string {
	out := make([]string, len(head))
	taken := map[string]bool{}
	for closeness := range 3 {
		for i, h := range head {
			h = strings.ToLower(strings.ReplaceAll(strings.TrimSpace(h), "_", " "))
			word, _, _ := strings.Cut(strings.NewReplacer("_", " ", ",", " ", "(", " ", "[", " ", ":", " ").Replace(h), " ")
			for _, f := range LabFields {
				if out[i] != "" || taken[f.ID] || h == "" {
					continue
				}
				for _, own := range f.Heads {
					if h == own || closeness > 0 && word == own || closeness > 1 && strings.HasPrefix(h, own) && len(own) > 2 {
						out[i], taken[f.ID] = f.ID, true
						break
					}
				}
			}
		}
	}
	return out
}

// GuessLayout determines a table's layout: fields and units by heading, the order of dates and the
// meaning of a comma by the cells.
func GuessLayout(cells [][]string) LabLayout {
	at := HeadLine(cells)
	l := LabLayout{Columns: guessColumns(cells[at]), Basis: string(soil.Water), Buffer: string(soil.SMP)}
	l.Refit(cells)
	var days, figures []string
	for _, row := range cells[at+1:] {
		for i, id := range l.Columns {
			if f, ok := FindLabField(id); ok && f.figure {
				figures = append(figures, row[i])
			} else if id == "date" {
				days = append(days, row[i])
			}
		}
	}
	l.Dates, l.Comma = guessDates(days), guessComma(figures)
	return l
}

// Refit sets each column's unit to one that its field allows: the chosen one, else the heading's,
// else the default.
func (l *LabLayout) Refit(cells [][]string) {
	head := cells[HeadLine(cells)]
	chosen := l.Units
	l.Units = make([]string, len(l.Columns))
	for i, id := range l.Columns {
		f, ok := FindLabField(id)
		if !ok || len(f.units) == 0 {
			continue
		}
		if i < len(chosen) && slices.Contains(f.units, chosen[i]) {
			l.Units[i] = chosen[i]
		} else if l.Units[i] = f.unitOf(head[i]); l.Units[i] == "" {
			l.Units[i] = f.usual
		}
	}
}

// sampledLines is how many lines are looked at to find the column of the beds.
const sampledLines = 2000

// FindBeds gives the field of the bed to the column in which most cells are names of beds, where no
// column is named for it, or the named one holds none.
func (l *LabLayout) FindBeds(cells [][]string, beds map[string]garden.Bed) {
	if len(l.Columns) == 0 {
		return
	}
	lines := cells[HeadLine(cells)+1:]
	lines = lines[:min(len(lines), sampledLines)]
	names := func(row []string, i int) bool {
		if i >= len(row) {
			return false
		}
		_, ok := beds[garden.Fold(row[i])]
		return ok
	}
	named := slices.Index(l.Columns, "bed")
	if named >= 0 && slices.ContainsFunc(lines, func(row []string) bool { return names(row, named) }) {
		return
	}
	holds := make([]int, len(l.Columns))
	for _, row := range lines {
		for i := range holds {
			if names(row, i) {
				holds[i]++
			}
		}
	}
	best := 0
	for i, n := range holds {
		if n > holds[best] {
			best = i
		}
	}
	if holds[best] == 0 {
		return
	}
	if named >= 0 {
		l.Columns[named] = ""
	}
	l.Columns[best] = "bed"
	l.Refit(cells)
}
