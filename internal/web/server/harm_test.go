package server_test

import (
	"context"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// change keeps records as they are given.
func (s *harness) change(put func(tx garden.Tx) error) {
	s.t.Helper()
	_, err := s.store.Change(context.Background(), garden.Change{}, func(tx garden.Tx) (string, error) { return "changed", put(tx) })
	require.NoError(s.t, err)
}

// Nothing is dug into a lawn, nor in among what stands for years, whatever the bed's own setting says.
func TestWhatIsNotDugIsNotToldToBe(t *testing.T) {
	for name, digs := range map[string]bool{"Top lawn": false, "Blueberry pocket": false, "Middle ledge": true} {
		s := newSite(t, true)
		b := s.bed(name).Bed
		b.Worked = soil.Dug
		s.change(func(tx garden.Tx) error {
			if err := tx.Update(&b); err != nil {
				return err
			}
			return tx.Insert(&garden.Task{BedID: b.ID, Kind: garden.TaskApplication, State: garden.Open, Due: s.today,
				What: material.PotassiumSulfate,
				Rate: 10, Total: 100, Depth: 0.1})
		})
		page := s.get("/sheet").Body.String()
		jobs := regexp.MustCompile(`(?s)<section class="job.*?</section>`).FindAllString(page, -1)
		found := false
		for _, job := range jobs {
			if regexp.MustCompile("potassium sulfate").MatchString(job) {
				found = true
				assert.Equal(t, digs, regexp.MustCompile("dig in to").MatchString(job), name)
			}
		}
		assert.True(t, found, name)
	}
}

// The log's forms stand on today; where nothing on the shelf will do, Dose says that it is to be bought, and what becomes of the ash.
func TestTheLogStandsOnTodayAndTheDoseSaysWhatToBuy(t *testing.T) {
	s := newSite(t, true)
	day := regexp.MustCompile(`name="put_date"[^>]*value="2026-11-24"|value="2026-11-24"[^>]*name="put_date"`)
	assert.Regexp(t, day, s.get("/log").Body.String())
	assert.Regexp(t, day, s.get("/beds/2").Body.String())
	assert.NotContains(t, s.get("/beds/2/dose").Body.String(), `id="buy"`, "lime is on the shelf")
	s.change(func(tx garden.Tx) error {
		for _, id := range []int64{1, 2, 3, 4, 5, 6} {
			b, err := garden.Get[garden.Batch](tx, id)
			if err != nil {
				return err
			}
			if m, _ := material.Find(b.Kind); m.Family == material.Ash {
				b.Source = material.Coal
			} else {
				b.Gone = s.today - 1
			}
			if err := tx.Update(&b); err != nil {
				return err
			}
		}
		return nil
	})
	page := s.get("/beds/2/dose").Body.String()
	assert.Contains(t, page, "What stands on your shelf does not do it: this is to buy.")
	assert.Contains(t, page, "goes on no bed: take it where the local collection has it.")
}

// A heap asks for no reading and gives no dose, with a reading or without.
func TestAHeapHasNoDose(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Compost heap").Bed
	at := "/beds/" + vers(b.ID) + "/dose"
	page := s.get(at).Body.String()
	assert.Contains(t, page, "A heap gets no dose")
	assert.NotContains(t, page, "Add a reading</a>")
	ph := quantity.PH(7.6)
	s.change(func(tx garden.Tx) error {
		return tx.Insert(&garden.Reading{BedID: b.ID, Date: s.today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: b.Depth})
	})
	page = s.get(at).Body.String()
	assert.Contains(t, page, "A heap gets no dose")
	assert.NotContains(t, page, `id="put"`)
}

// Low magnesium has its answer where pH wants nothing; the lab's calcium is told where it is short.
func TestMagnesiumAndCalciumOfALabAreAnswered(t *testing.T) {
	s := newSite(t, true)
	b := s.bed("Upper ledge").Bed
	ph, mg, ca := quantity.PH(6.8), quantity.Concentration(50), quantity.Concentration(300)
	s.change(func(tx garden.Tx) error {
		return tx.Insert(&garden.Reading{BedID: b.ID, Date: s.today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: b.Depth,
			Magnesium: &mg, Calcium: &ca})
	})
	page := s.get("/beds/1/dose").Body.String()
	assert.Regexp(t, `Magnesium is low, 50 ppm: [0-9.]+ (g|kg) of kieserite, or [0-9.]+ (g|kg) of Epsom salt`, page)
	assert.Contains(t, page, "Calcium is short: 300 ppm.")
}
