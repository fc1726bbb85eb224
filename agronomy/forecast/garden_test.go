package forecast_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// shownScore compares beds alone with beds that share evidence.
type shownScore struct {
	alone, shown score
	// in90 is how often the range of a batch's strength holds it, of batches; miss its error, prior that of not knowing.
	in90, batches int
	miss, prior   float64
}

func shownScored(gardens, beds int, doubt float64, seed uint64) (s shownScore) {
	r := rand.New(rand.NewPCG(11, seed))
	until := start.AddMonths(12 * simulated)
	for range gardens {
		all := gardenOf(r, beds, doubt)
		list := make([]forecast.Model, len(all))
		for i := range all {
			list[i] = all[i].bed
			s.alone.add(all[i], forecast.Run(&list[i], until))
		}
		shared := teach(list, nil)
		for i := range all {
			s.shown.add(all[i], forecast.Run(&list[i], until))
		}
		for n, name := range []string{"a", "b"} {
			x, truth := shared.Strength[name], math.Log(all[0].strength[n])
			s.batches++
			if math.Abs(x.Mean-truth) <= 1.645*x.SD {
				s.in90++
			}
			s.miss += sq(x.Mean - truth)
			s.prior += sq(truth)
		}
	}
	return s
}

func (s *shownScore) String() string {
	return fmt.Sprintf("90 %% %.3f, 50 %% %.3f, stubbornness %.3f, error %.2f (alone %.3f, %.2f); batches %.3f, error %.2f",
		share(s.shown.in90, s.shown.months), share(s.shown.in50, s.shown.months), share(s.shown.ell90, s.shown.gardens),
		math.Sqrt(s.shown.ellMiss/s.shown.ellPrior), share(s.alone.ell90, s.alone.gardens),
		math.Sqrt(s.alone.ellMiss/s.alone.ellPrior), share(s.in90, s.batches), math.Sqrt(s.miss/s.prior))
}

// teach shares evidence among the beds of a garden.
func teach(beds []forecast.Model, said []forecast.Evidence) forecast.Shared {
	t := forecast.Gather(beds, said)
	for i := range beds {
		beds[i].Others = t.Others(i)
	}
	return t.Shared()
}

// Beds that share ash and ground know more together, with the same coverage.
func TestBedsShareEvidence(t *testing.T) {
	s := shownScored(60, 5, 0.30, 1)
	t.Log(s.String())
	assert.Less(t, math.Sqrt(s.shown.ellMiss), 0.98*math.Sqrt(s.alone.ellMiss))
	assert.InDelta(t, 0.90, share(s.shown.in90, s.shown.months), 0.05)
	assert.InDelta(t, 0.90, share(s.shown.ell90, s.shown.gardens), 0.09)
	assert.InDelta(t, 0.90, share(s.in90, s.batches), 0.1)
	assert.Less(t, math.Sqrt(s.miss/s.prior), 0.85)
}

// A bed never tested after an application takes its neighbours' buffering, by no more than the
// garden's share, and its own still does not count.
func TestUntestedBedUsesNeighbours(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 1))
	var alone, told float64
	until := start.AddMonths(12 * simulated)
	for range 40 {
		all := gardenOf(r, 6, 0.05)
		list := make([]forecast.Model, len(all))
		for i := range all {
			list[i] = all[i].bed
		}
		list[0].Readings, list[0].Additions = list[0].Readings[:1], nil
		teach(list, nil)
		l := forecast.Run(&list[0], until).Learned
		alone += sq(all[0].ell)
		told += sq(math.Log(l.Buffering.Median) - all[0].ell)
		assert.False(t, l.Counts)
	}
	assert.Less(t, math.Sqrt(told/alone), 0.90)
}

// Shared evidence does not depend on order, and a single bed gets none.
func TestGatherDoesNotDependOnOrder(t *testing.T) {
	all := gardenOf(rand.New(rand.NewPCG(11, 7)), 4, 0.15)
	until := start.AddMonths(12 * simulated)
	there, back := []forecast.Model{}, []forecast.Model{}
	for i := range all {
		there, back = append(there, all[i].bed), append(back, all[len(all)-1-i].bed)
	}
	teach(there, nil)
	teach(back, nil)
	for i := range there {
		a, b := forecast.Run(&there[i], until), forecast.Run(&back[len(back)-1-i], until)
		assert.InDelta(t, a.Learned.Buffering.Median, b.Learned.Buffering.Median, 1e-9)
	}
	one := []forecast.Model{all[0].bed}
	teach(one, nil)
	assert.InDelta(t, forecast.Run(&all[0].bed, until).Learned.Buffering.Median, forecast.Run(&one[0], until).Learned.Buffering.Median, 2e-3)
}

// A kit that reads high is detected by a lab in the same garden, in another bed too.
func TestMethodBiasIsShared(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	line := soil.NewCurve([]float64{3, 9}, []float64{321})
	bed := func(lab bool) forecast.Model {
		b := forecast.Model{Curve: line, Curved: 0.45, Warmth: &climate, Dug: true, DriftSD: 1}
		for i := range 6 {
			d := start.AddMonths(6 * i)
			if lab {
				b.Readings = append(b.Readings, forecast.Read{Date: d, PH: 6, SD: 0.14, Method: soil.Lab})
			}
			b.Readings = append(b.Readings, forecast.Read{Date: d, PH: 6.4, SD: 0.36, Method: soil.Kit})
		}
		return b
	}
	all := []forecast.Model{bed(true), bed(true), bed(false)}
	until := start.AddMonths(40)
	before := forecast.Run(&all[2], until)
	shared := teach(all, nil)
	after := forecast.Run(&all[2], until)
	assert.Greater(t, shared.Bias[soil.Kit].Mean, 0.2)
	level := func(r forecast.Result) float64 { return r.PH[len(r.PH)-1].Median }
	assert.InDelta(t, 6.4, level(before), 0.05)
	assert.InDelta(t, 6.1, level(after), 0.1)
	var width = func(r forecast.Result) float64 { p := r.PH[len(r.PH)-1]; return p.P95 - p.P05 }
	assert.Less(t, width(after), width(before))
	assert.Equal(t, quantity.Day(0), before.Learned.Buffering.Date-after.Learned.Buffering.Date)
}
