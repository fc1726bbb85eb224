package present

import (
	"strconv"
	"strings"
	"time"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

// JournalRowOf returns a journal entry for a page.
func JournalRowOf(l garden.Line) view.JournalRow {
	row := view.JournalRow{At: MomentWords(l.At), Who: l.Who, What: l.What, Undone: l.UndoneBy != nil, Key: form.NewKey()}
	if l.CanUndo() {
		row.Undo = l.ID
	}
	more := make([]string, len(l.More))
	for i, id := range l.More {
		more[i] = strconv.FormatInt(id, 10)
	}
	row.More = strings.Join(more, ",")
	return row
}

// MomentWords formats a stored timestamp.
func MomentWords(at string) string {
	t, err := time.Parse(time.RFC3339, at)
	if err != nil {
		return ""
	}
	return t.UTC().Format("2 Jan 2006 15:04")
}
