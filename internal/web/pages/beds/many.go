package beds

import (
	"strconv"

	"zephyrfield/internal/garden"
)

// BedsOf parses the ticked beds.
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
