package svg

// Table is a picture's content as text: every picture of figures also reads as a table.
type Table struct {
	// Says is its accessible name.
	Says  string
	Heads []string
	Rows  [][]string
	// Figures is the first numeric column, 0 for none.
	Figures int
	// facts name figures for data-fact.
	facts map[place]string
}

// place is a cell of a table.
type place struct{ row, column int }

// Fact returns what a cell's figure is called in data-fact; "" for none.
func (t Table) Fact(row, column int) string { return t.facts[place{row, column}] }

// add adds a row whose figure in a column has a name, or none.
func (t *Table) add(fact string, column int, cells ...string) {
	t.name(len(t.Rows), column, fact)
	t.Rows = append(t.Rows, cells)
}

// name names a figure; "" leaves it without a name.
func (t *Table) name(row, column int, fact string) {
	if fact == "" {
		return
	}
	if t.facts == nil {
		t.facts = map[place]string{}
	}
	t.facts[place{row, column}] = fact
}

// Figure reports whether a column is numeric.
func (t Table) Figure(column int) bool { return t.Figures > 0 && column >= t.Figures }

// Table returns the chart's content by day.
func (c Chart) Table() Table {
	t := Table{Says: c.Title + ", as a table", Heads: []string{"Day", "What", "Figure"}}
	for _, r := range c.Rows {
		t.add(r.Fact, 2, r.Day, r.What, r.Value)
	}
	return t
}

// Table returns the year's windows and tasks by day.
func (r Ribbon) Table() Table {
	t := Table{Says: "The year as a table", Heads: []string{"When", "What"}}
	for _, l := range r.Lines {
		t.add(l.DayFacts, 0, l.When, l.What)
		t.name(len(t.Rows)-1, 1, l.WhyFacts)
	}
	return t
}

// Table returns the course by half years.
func (c Course) Table() Table {
	t := Table{Says: "pH with its doubt", Heads: []string{"Day", "Level", "90 % range"}, Figures: 1}
	for _, r := range c.Rows {
		t.Rows = append(t.Rows, []string{r.Day, r.Level, r.Range})
	}
	return t
}

// Table returns a bed's years by half years.
func (s OutlookChart) Table() Table {
	t := Table{Says: "pH and potassium by half years", Figures: 1,
		Heads: []string{"Day", "pH, level", "90 % range", "Nothing more put on", "Potassium, ppm"}}
	for _, r := range s.Rows {
		t.add(r.Fact, 1, r.Day, r.Level, r.Range, r.Idle, r.K)
		t.name(len(t.Rows)-1, 4, r.KFact)
	}
	return t
}
