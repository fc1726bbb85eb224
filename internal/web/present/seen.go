package present

import (
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/observation"
	"zephyrfield/internal/web/form"
)

// SeenRow is an observation as a row of a table.
type SeenRow struct {
	ID, Version              int64
	Day, Name, Says, Note    string
	Photo, Key, Asks, Forget string
}

// SeenRows returns observations as rows.
func SeenRows(all []observation.Observed) (out []SeenRow) {
	for _, x := range all {
		id := "/sights/" + strconv.FormatInt(x.ID, 10)
		row := SeenRow{ID: x.ID, Version: x.Version, Day: text.DayYear(x.Day), Name: text.SymptomName(x.Sign), Says: text.SymptomSays(x.Sign),
			Note: x.Note, Key: form.NewKey(), Forget: id + "/forget"}
		if x.Pictured {
			row.Photo = id + "/photo"
		}
		if x.Open {
			row.Asks = text.Capital(text.SymptomAsks(x.Sign))
		}
		out = append(out, row)
	}
	return out
}

// seenAsk returns the question of the newest open observation of a bed; "" for none.
func seenAsk(all []observation.Observed, today quantity.Day) string {
	for _, x := range all {
		if x.Open {
			return "Seen " + text.NearDay(x.Day, today) + ": " + text.Lower(text.SymptomName(x.Sign)) + ". " +
				strings.TrimSpace(text.SymptomSays(x.Sign))
		}
	}
	return ""
}
