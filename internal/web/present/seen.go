package present

import (
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/seen"
	"zephyrfield/internal/web/form"
)

// SeenRow is something that was seen.
type SeenRow struct {
	ID, Version              int64
	Day, Name, Says, Note    string
	Photo, Key, Asks, Forget string
}

// SeenRows are the things seen as a table shows them.
func SeenRows(all []seen.Seen) (out []SeenRow) {
	for _, x := range all {
		id := "/sights/" + strconv.FormatInt(x.ID, 10)
		row := SeenRow{ID: x.ID, Version: x.Version, Day: words.DayYear(x.Day), Name: words.SignName(x.Sign), Says: words.SignSays(x.Sign),
			Note: x.Note, Key: form.NewKey(), Forget: id + "/forget"}
		if x.Pictured {
			row.Photo = id + "/photo"
		}
		if x.Open {
			row.Asks = words.Capital(words.SignAsks(x.Sign))
		}
		out = append(out, row)
	}
	return out
}

// seenAsk is the newest question that a sight on a bed leaves open; "" for none.
func seenAsk(all []seen.Seen, today quantity.Day) string {
	for _, x := range all {
		if x.Open {
			return "Seen " + words.NearDay(x.Day, today) + ": " + words.Lower(words.SignName(x.Sign)) + ". " +
				strings.TrimSpace(words.SignSays(x.Sign))
		}
	}
	return ""
}
