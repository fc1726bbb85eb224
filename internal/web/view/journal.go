package view

// Journal is a table of changes; Back is the page that it is on.
type Journal struct {
	Rows []JournalRow
	Back string
}

// JournalRow is a change, with its undo if there is one.
type JournalRow struct {
	At, Who, What string
	// Undo is the entry that can be undone, 0 for none; More are those undone with it.
	Undo   int64
	More   string
	Undone bool
	Key    string
}

// Conflict is a field with the typed and the current value.
type Conflict struct{ Name, Yours, Now string }
