package symptom_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/symptom"
)

// Each sign points to a test, and none of them to a dose; what the guide lists is there.
func TestEverySymptomNamesTests(t *testing.T) {
	first := map[string]symptom.Test{"green-veins": symptom.PH, "scorched-edges": symptom.Potassium, "purple-leaves": symptom.PH,
		"fruit-ends": symptom.Air,
		"scab":       symptom.PH, "clubbed-roots": symptom.PH, "moss": symptom.PH, "dying-in-one-place": symptom.Apart,
		"pale-all-over": symptom.Nitrogen,
		"rotten-smell":  symptom.Air}
	require.Len(t, symptom.Symptoms, len(first))
	for _, s := range symptom.Symptoms {
		assert.Equal(t, first[s.ID], s.Tests[0], s.ID)
	}
	_, ok := symptom.Find("triffid")
	assert.False(t, ok)
}

// A reading answers what it can tell, on the day itself or later, and nothing else.
func TestAnswered(t *testing.T) {
	veins, _ := symptom.Find("green-veins")
	edges, _ := symptom.Find("scorched-edges")
	pale, _ := symptom.Find("pale-all-over")
	const seen quantity.Day = 20000
	for _, x := range []struct {
		s     symptom.Symptom
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
