package web_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheDoseIsTheSameInAnyUnits(t *testing.T) {
	s := newSite(t, true)
	ask := func(query string) (request, page string) {
		return s.get("/beds/2/dose.json" + query).Body.String(), s.get("/beds/2/dose" + query).Body.String()
	}
	metric, before := ask("?target=6.4&depth=20")
	require.Contains(t, before, "g/m²")
	s.saved(s.post("/place", s.placeForm("area_unit", "ft2", "depth_unit", "in", "weight_unit", "lb", "rate_unit", "lb-100ft2")))
	imperial, after := ask("?target=6.4&depth=7.874015748")
	require.Contains(t, after, "lb/100 ft²")
	assert.Equal(t, metric, imperial)
}
