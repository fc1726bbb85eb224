package view

// Journal is a table of changes; Back is the page that it stands on.
type Journal struct {
	Rows []JournalRow
	Back string
}

// JournalRow is a change, with the way back where there is one.
type JournalRow struct {
	At, Who, What string
	// Undo is the line that can be taken back, 0 for none; More are those that are taken back with it.
	Undo   int64
	More   string
	Undone bool
	Key    string
}

// Conflict is a field with what was typed and what stands now.
type Conflict struct{ Name, Yours, Now string }
