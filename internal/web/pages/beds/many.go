package beds

import (
	"strconv"

	"zephyrfield/internal/garden"
)

// BedsOf reads the beds that were chosen.
func BedsOf(list []string) (out []int64, err error) {
	for _, s := range list {
		id, err := strconv.ParseInt(s, 10, 64)
		if err != nil {
			return nil, garden.ErrMissing
		}
		out = append(out, id)
	}
	return out, nil
}
