package lab

import (
	"cmp"
	"fmt"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

// upload is an uploaded file with its layout.
type upload struct {
	id    int64
	name  string
	cells [][]string
	// head is the index of the heading.
	head   int
	layout exchange.LabLayout
	// known is set for a layout as remembered.
	known bool
	// edited are the cells that were corrected on the page, by their field's name, corrected their lines.
	edited    map[string]bool
	corrected map[int]bool
	// beds are the garden's by folded name, list in order.
	beds map[string]garden.Bed
	list []garden.Bed
}

// cellName returns the name of the field of a cell: its line as counted in the file and its column from
// 1.
func cellName(line, column int) string { return fmt.Sprintf("e%d-%d", line, column) }

// edit puts what was typed on the page in place of the file's cells: a field that is cleared drops its
// cell.
func (u *upload) edit(get func(string) string) {
	u.edited, u.corrected = map[string]bool{}, map[int]bool{}
	if get("asked") == "" {
		return // it is opened, not sent from the page
	}
	for n := u.head + 1; n < len(u.cells); n++ {
		for i := range u.cells[n] {
			if name := cellName(n+1, i+1); get("x"+name) != "" {
				u.cells[n][i], u.edited[name], u.corrected[n+1] = get(name), true, true
			}
		}
	}
}

// bedsByName returns the garden's beds by folded name, and in order.
func (s *Handler) bedsByName(c *gin.Context) (map[string]garden.Bed, []garden.Bed, error) {
	_, all, err := s.App(c).BedState.Names(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return nil, nil, err
	}
	beds := make(map[string]garden.Bed, len(all))
	for _, b := range all {
		beds[garden.Fold(b.Name)] = b
	}
	return beds, all, nil
}

// cellView returns a cell; one that is wrong, or was, is a field: of a bed the list of beds.
func (u *upload) cellView(line, column int, text, wrong string) labCellView {
	out, name := labCellView{Text: text, Wrong: wrong}, cellName(line, column)
	if wrong == "" && !u.edited[name] {
		return out
	}
	f := form.NoForm()
	f.Values[name] = text
	row := form.Row{Name: name, Called: "Line " + strconv.Itoa(line) + ", " + u.cells[u.head][column-1], Silent: true}
	if u.layout.Columns[column-1] == "bed" {
		row.Options = []view.Option{{Value: text, Text: cmp.Or(text, "none")}}
		for _, b := range u.list {
			if garden.Fold(b.Name) != garden.Fold(text) {
				row.Options = append(row.Options, view.Option{Value: b.Name, Text: b.Name})
			}
		}
	}
	field := f.Resolve(row)
	out.Field = &field
	return out
}
