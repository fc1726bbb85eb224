package site

import (
	"maps"
	"net/http"
	"slices"
	"syscall"

	"zephyrfield/internal/garden"
)

// Trouble is an error with its status and its sentence on a page; where Says is "", the error's own text is shown.
type Trouble struct {
	Is     error
	Status int
	Says   string
}

// Troubles are the errors of records, of the file and of the disk; the latter say what is safe and
// what to do.
var Troubles = []Trouble{
	{garden.ErrFull, http.StatusInsufficientStorage,
		"The disk is full, so this was not saved. All that was saved before is safe. Make room on the " +
			"disk that holds the garden’s file, then go back and send this once more."},
	{syscall.ENOSPC, http.StatusInsufficientStorage,
		"The disk has no room for the file that is made here. Nothing was changed. Make room on the disk, then try this again."},
	{garden.ErrReadOnly, http.StatusServiceUnavailable,
		"The garden’s file cannot be written to, so this was not saved. All that was saved before is safe and can be read. " +
			"See that the disk and the file may be written to, then go back and send this once more."},
	{garden.ErrBusy, http.StatusServiceUnavailable,
		"Another program has the garden’s file open, so this was not saved. All that was saved before is safe. " +
			"Close that program, or wait a moment, then go back and send this once more."},
	{garden.ErrDamaged, http.StatusInternalServerError,
		"The garden’s file is damaged. Nothing was changed, and the daily copies are safe. Stop the program and put one in its " +
			"place: zephyrfield restore --data FILE --from COPY. What is there now is kept beside it."},
	{garden.ErrDisk, http.StatusInternalServerError,
		"The disk cannot be read or written, so this was not done. All that was saved before is safe as long as the disk " +
			"holds; look after it first. The daily copies lie in the folder beside the garden’s file."},
	{garden.ErrMissing, http.StatusNotFound, "That is not in this garden."},
	{garden.ErrStale, http.StatusConflict,
		"This was changed in another window meanwhile. Nothing was done here. Go back, look at it as it is now, " +
			"and do it again if it is still wanted."},
	{garden.ErrOtherContent, http.StatusConflict,
		"This form was sent once already, with other content; what was sent first is kept. Open the page again, " +
			"and send it again from there."},
	{garden.ErrUndone, http.StatusConflict, ""},
}

// FirstFault returns one of several faults, always the same.
func FirstFault(f garden.Faults) string {
	first := ""
	for _, field := range slices.Sorted(maps.Keys(f)) {
		if first == "" {
			first = f[field]
		}
	}
	return first
}
