package garden

// Table describes a table of records: its name in the file and in archives, one record's name, and
// the largest number of records. Storage, archives, undo and export all follow it: a new record is
// its own file with its Table, a line in Tables and a migration.
type Table struct {
	Name, One string
	New       func() Record
	Most      int
	// Order is the sort order of its list; "" is by number.
	Order string
	// Alone are unique columns, Agrees are references that must be consistent.
	Alone  []Alone
	Agrees []Agree
}

// Alone is a unique column: the field of its message, the message, and its remedy.
type Alone struct{ Column, Field, Says, Instead string }

// Agree is a column that refers to a record of another table: a column of both must be equal.
type Agree struct{ Points, Table, Column, Says string }

// Tables are the garden's tables, in the order of restoring: what is referred to comes first.
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
