package garden

// Table is a list of records: its name in the file and in archives, what one of
// them is called, and how many there may be. Keeping, archives, undo and export all
// follow it: a new record is its own file with its Table, a line in Tables and a
// migration.
type Table struct {
	Name, One string
	New       func() Record
	Most      int
	// Order is how a list of them is read; "" is by their numbers.
	Order string
	// Alone are what no two may have alike, Agrees what must be the same where it
	// points to.
	Alone  []Alone
	Agrees []Agree
}

// Alone is a column that no two records may have alike: the field of the form where
// it is reported, what is said of one that does, and what to do instead.
type Alone struct{ Column, Field, Says, Instead string }

// Agree is a column that points to a record of another list: a column of both must
// say the same.
type Agree struct{ Points, Table, Column, Says string }

// Tables are the garden's records, in the order in which they can be put back: what
// is referred to comes first.
var Tables = []Table{
	gardenTable, bedTable, plantingTable, cropTable, markTable, batchTable, roundTable, sampleTable, sampleBedTable, coreTable,
	soilDayTable, readingTable, planTable, preparationTable, wayTable, taskTable, restTable, applicationTable, movementTable, observationTable,
	photoTable, entryTable,
}

// FindTable finds a list by its name.
func FindTable(name string) (Table, bool) {
	for _, t := range Tables {
		if t.Name == name {
			return t, true
		}
	}
	return Table{}, false
}
