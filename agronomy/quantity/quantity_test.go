package quantity_test

import (
	"fmt"
	"testing"
	"testing/quick"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
)

func TestPublishedUnits(t *testing.T) {
	// From the definitions: pounds, short tons, acres of 4046.856 m².
	assert.InEpsilon(t, 2000*453.59237/4046.8564224, float64(quantity.ShortTonPerAcre), 1e-4)
	assert.InEpsilon(t, 453.59237/4046.8564224, float64(quantity.PoundPerAcre), 1e-4)
	assert.InEpsilon(t, 453.59237/92.90304, float64(quantity.PoundPer1000SqFt), 1e-4)
	assert.InEpsilon(t, 1e6/1e4, float64(quantity.TonnePerHectare), 1e-12)
	assert.InDelta(t, 202.5, quantity.SoilMass(1350, 0.15), 1e-9)
}

func TestRateAndMassAreInverse(t *testing.T) {
	assert.NoError(t, quick.Check(func(r uint16, a uint16) bool {
		rate, area := quantity.Rate(r)/7, quantity.Area(a)/13+0.1
		back := rate.Over(area).Per(area)
		return back-rate < 1e-9 && rate-back < 1e-9
	}, &quick.Config{MaxCount: 10000}))
	assert.Zero(t, quantity.Mass(5).Per(0))
}

func TestWeighable(t *testing.T) {
	for in, want := range map[quantity.Mass]quantity.Mass{
		12.4: 12, 62: 60, 63: 65, 347: 350, 994: 990, 1049: 1000, 2546: 2500, 4321: 4300, 0.4: 0,
	} {
		assert.Equal(t, want, in.Weighable(), "%v", in)
	}
}

func TestRoundAsWritten(t *testing.T) {
	assert.Equal(t, 225.1, quantity.Round(225.05, 1))
	assert.Equal(t, -225.1, quantity.Round(-225.05, 1))
	assert.Equal(t, 6.28, quantity.Round(6.2776, 2))
}

func TestDaysFollowCalendar(t *testing.T) {
	d, err := quantity.ParseDay("2026-11-24")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-24", d.String())
	assert.Equal(t, "2027-01-19", d.AddWeeks(8).String())
	assert.Equal(t, quantity.Day(1), quantity.Date(1, 1, 1))
	assert.Equal(t, "2028-02-29", quantity.Date(2027, 12, 31).AddMonths(2).String())
	assert.Equal(t, "2027-02-28", quantity.Date(2028, 2, 29).AddMonths(-12).String())
	for _, bad := range []string{"2026-02-30", "24.11.2026", "2026-13-01", "", "0000-01-01"} {
		_, err := quantity.ParseDay(bad)
		assert.Error(t, err, bad)
	}
	assert.True(t, quantity.Day(0).IsZero())
	assert.Empty(t, quantity.Day(0).String())
}

func TestDaysRoundTrip(t *testing.T) {
	assert.NoError(t, quick.Check(func(n uint32) bool {
		d := quantity.Day(n%1_000_000 + 1)
		text, _ := d.MarshalText()
		var back quantity.Day
		return back.UnmarshalText(text) == nil && back == d && (d+1).Time().Sub(d.Time()) == 24*time.Hour
	}, &quick.Config{MaxCount: 10000}))
}

func TestAddMonths(t *testing.T) {
	assert.NoError(t, quick.Check(func(n uint32, months uint16) bool {
		d := quantity.Day(n%900_000 + 1)
		by := int(months%600) - 200
		if by < 0 && d.Year() < 40 {
			by = -by
		}
		y, m, day := d.Time().Date()
		last := time.Date(y, m+time.Month(by)+1, 0, 0, 0, 0, 0, time.UTC)
		want := quantity.DayOf(time.Date(last.Year(), last.Month(), min(day, last.Day()), 0, 0, 0, 0, time.UTC))
		return d.AddMonths(by) == want
	}, &quick.Config{MaxCount: 20000}))
}

func TestDayScan(t *testing.T) {
	var d quantity.Day
	require.NoError(t, d.Scan("2027-03-06"))
	assert.Equal(t, quantity.Date(2027, 3, 6), d)
	require.NoError(t, d.Scan(nil))
	assert.True(t, d.IsZero())
	assert.Error(t, d.Scan(7))
	assert.Error(t, d.Scan("soon"))
}

func ExampleRate_Over() {
	fmt.Println(quantity.Rate(500).Over(10).Weighable() / quantity.Kilogram)
	// Output: 5
}
