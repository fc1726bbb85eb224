package sign_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sign"
)

// Each sign points to a test, and none of them to a dose; what the guide lists is there.
func TestEverySignPointsToATest(t *testing.T) {
	first := map[string]sign.Test{"green-veins": sign.PH, "scorched-edges": sign.Potassium, "purple-leaves": sign.PH, "fruit-ends": sign.Air,
		"scab": sign.PH, "clubbed-roots": sign.PH, "moss": sign.PH, "dying-in-one-place": sign.Apart, "pale-all-over": sign.Nitrogen,
		"rotten-smell": sign.Air}
	require.Len(t, sign.Signs, len(first))
	for _, s := range sign.Signs {
		assert.Equal(t, first[s.ID], s.Tests[0], s.ID)
	}
	_, ok := sign.Find("triffid")
	assert.False(t, ok)
}

// A reading answers what it can tell, on the day itself or later, and nothing else.
func TestAReadingAnswersWhatItCanTell(t *testing.T) {
	veins, _ := sign.Find("green-veins")
	edges, _ := sign.Find("scorched-edges")
	pale, _ := sign.Find("pale-all-over")
	const seen quantity.Day = 20000
	for _, x := range []struct {
		s     sign.Sign
		after quantity.Day
		ph, k bool
		says  string
		want  bool
	}{
		{veins, 0, true, false, "the same day", true}, {veins, -1, true, false, "the day before", false},
		{veins, 30, false, true, "potassium says nothing of it", false}, {edges, 1, false, true, "potassium", true},
		{edges, 1, true, false, "a pH says nothing of it", false}, {pale, 90, true, true, "neither tells of nitrogen", false},
	} {
		assert.Equal(t, x.want, x.s.Answered(seen, seen+x.after, x.ph, x.k), x.says)
	}
}
