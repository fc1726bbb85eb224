package help

import (
	"strings"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// task is a thing that a gardener wants to do: how, and the page for it.
type task struct{ Ask, Says, Href string }

// tasks are in the order of a year.
var tasks = []task{
	{"test the soil of my beds", "Walk says which beds are due, how many cores to take and which beds may share a sample.", "/walk"},
	{"enter a reading", "Choose the bed on the Bench and how it was tested. It says at once what the reading means.", "/bench"},
	{"enter a lab’s report", "Import its table as CSV or XLSX; each line is shown before it is saved.", "/bench/lab"},
	{"find out what to put on a bed", "Dose opens on the amount and the day. Change assumptions shows what is assumed.", "/dose"},
	{"plan lime or ash for several beds", "Tick the beds; one press plans them all.", "/dose/many"},
	{"use up a bucket of ash", "Choose what is in it: the beds that may have it today are listed with their amounts.", "/bucket"},
	{"share out all the ash and lime I have", "The beds get what helps most at the least cost. You can adjust it by hand.", "/shed/share"},
	{"test how strong my ash is", "Add the bin in the Shed; the vinegar test is under its strength.", "/shed"},
	{"see what to do today", "The Day sheet has today’s work, bed by bed. Print it, or tick it on the phone.", "/sheet"},
	{"put a task on another day", "Press Later on the Day sheet, or drag its stake. It says which days are suitable.", "/sheet"},
	{"keep work to my own days", "Choose the days of the week, and when you are away.", "/days"},
	{"note what I put on without a plan", "Add it to the Log, also for years ago. It counts in every dose from then on.", "/log"},
	{"correct a mistake", "Every message has Undo. Older changes are undone in the journal.", "/keep#journal"},
	{"add many beds at once", "Paste a table: one bed a line.", "/beds#table"},
	{"draw paths and walls", "They are marks to find the beds by.", "/marks"},
	{"plan the crops of the coming years", "Year by year shows where lime has to come first, and where it must stay off.", "/years"},
	{"see how a bed has done", "Seasons shows its pH and potassium over the years, what moved them, and what comes next.", "/seasons"},
	{"print a report of a season", "One page for each bed, as print, CSV or XLSX.", "/seasons/report"},
	{"see my tasks in a diary", "Make a private address for it; the diary then follows every change.", "/keep#diary"},
	{"keep a copy, or move to another computer", "Download everything; restore it into an empty garden there.", "/keep"},
	{"change units, climate or methods", "They are in Garden settings, with tap water, frosts and money.", "/place"},
	{"work without a signal", "Open the Day sheet or a round once. What you tick is kept on the phone and sent later.", "/sheet"},
}

// find returns the tasks and terms that hold every word of a question.
func find(asked string) (found []task, terms []text.Term) {
	words := strings.Fields(garden.Fold(asked))
	holds := func(parts ...string) bool {
		says := garden.Fold(strings.Join(parts, " "))
		for _, w := range words {
			if !strings.Contains(says, w) {
				return false
			}
		}
		return true
	}
	for _, t := range tasks {
		if holds(t.Ask, t.Says) {
			found = append(found, t)
		}
	}
	for _, list := range [][]text.Term{text.House, text.Field} {
		for _, t := range list {
			if len(words) > 0 && holds(t.Word, t.Says) {
				terms = append(terms, t)
			}
		}
	}
	return found, terms
}
