package garden

// Table is a list of records: its name in the file and in archives, what one of
// them is called, and how many there may be.
type Table struct {
	Name, One string
	New       func() Record
	Most      int
}

// Tables are the garden's records, in the order in which they can be put back:
// what is referred to comes first. Keeping, archives and undo all go by it.
var Tables = []Table{
	{"garden", "the garden", func() Record { return &Garden{} }, 1},
	{"beds", "bed", func() Record { return &Bed{} }, mostBeds},
	{"plantings", "crop on a bed", func() Record { return &Planting{} }, 200_000},
	{"crops", "crop of the library", func() Record { return &OwnCrop{} }, 2000},
	{"marks", "path or wall", func() Record { return &Mark{} }, mostBeds},
	{"batches", "batch on the shelf", func() Record { return &Batch{} }, mostBeds},
	{"rounds", "round", func() Record { return &Round{} }, 20_000},
	{"samples", "sample", func() Record { return &Sample{} }, 200_000},
	{"sample_beds", "bed of a sample", func() Record { return &SampleBed{} }, 400_000},
	{"cores", "core", func() Record { return &Core{} }, 2_000_000},
	{"readings", "reading", func() Record { return &Reading{} }, 500_000},
	{"plans", "plan", func() Record { return &Plan{} }, 200_000},
	{"tasks", "task", func() Record { return &Task{} }, 500_000},
	{"applications", "application", func() Record { return &Application{} }, 500_000},
	{JournalTable, "line of the journal", func() Record { return &Entry{} }, 2_000_000},
}

// JournalTable is the name of the journal's own list.
const JournalTable = "journal"

// FindTable finds a list by its name.
func FindTable(name string) (Table, bool) {
	for _, t := range Tables {
		if t.Name == name {
			return t, true
		}
	}
	return Table{}, false
}
