package exchange_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
)

// A table of beds as it is copied out of a spreadsheet: tabs between, feet or metres, decimal commas; what is wrong names its line.
func TestReadBeds(t *testing.T) {
	usual := layout.New{Bed: garden.Bed{Kind: garden.KindBed, Texture: soil.Loam, Depth: 0.15}, Crop: "general-vegetables", Sown: 20000}
	rows, err := exchange.ReadBeds("beds.csv", []byte("Name\tlength_m\twidth_m\ttexture\tcrop\tsown\tpart\n"+
		"East 1\t15\t0,75\tClay loam\tSweet corn\t2027-05-01\tEast field\n\nEast 2\t15\t0.75\t\t\t\t\n"), usual)
	require.NoError(t, err)
	require.Len(t, rows, 2)
	assert.Equal(t, soil.ClayLoam, rows[0].Bed.Texture)
	assert.Equal(t, "Sweet corn", rows[0].Crop, "as it is written")
	assert.Equal(t, "2027-05-01", rows[0].Sown.String())
	assert.Equal(t, "East field", rows[0].Bed.Part)
	assert.InDelta(t, 0.75, rows[0].Bed.H, 1e-9)
	assert.False(t, rows[0].Placed)
	assert.Equal(t, usual.Bed.Texture, rows[1].Bed.Texture)
	assert.Equal(t, usual.Sown, rows[1].Sown)
	rows, err = exchange.ReadBeds("beds.csv", []byte("name,length_ft,width_ft,depth_in,x_m,y_m\nA,50,2.5,6,3,4\n"), usual)
	require.NoError(t, err)
	assert.InDelta(t, 15.24, rows[0].Bed.W, 1e-9)
	assert.InDelta(t, 0.1524, float64(rows[0].Bed.Depth), 1e-9)
	assert.True(t, rows[0].Placed)
	for table, says := range map[string]string{
		"East 1,15,0.75\nEast 2,15,0.75\n":                         "not known",
		"name,length_m\nA,3\n":                                     "width_m are needed",
		"name,length_m,width_m\nA,long,1\n":                        "line 2, length_m",
		"name,length_m,width_m,sown\nA,3,1,2027-02-30\n":           "line 2, sown",
		"name,length_m,width_m\n" + strings.Repeat("A,3,1\n", 401): "at most 400",
	} {
		_, err := exchange.ReadBeds("beds.csv", []byte(table), usual)
		assert.ErrorContains(t, err, says)
	}
}

// All that is wrong is told at once; the labels of the forms, the names of soils and local days are understood.
func TestBedTableTakesItsOwnWords(t *testing.T) {
	usual := layout.New{Bed: garden.Bed{Texture: soil.Loam, Worked: soil.Dug}}
	_, err := exchange.ReadBeds("beds.csv", []byte("name,length_m,width_m,sown\nA,long,1,\nB,3,wide,31.2.2027\nC,3,1,1.5.2027\n"), usual)
	for _, says := range []string{"line 2, length_m: “long” is not a number", "line 3, width_m: “wide” is not a number", "line 3, sown"} {
		assert.ErrorContains(t, err, says)
	}
	rows, err := exchange.ReadBeds("beds.csv", []byte("Bed,\"Length, m\",Width,Depth,Soil,How it is worked,Next crop,Sown or planted on\n"+
		"A,3,1,20,Clay loam,\"left on top, no-dig\",Tomatoes,25/4/2027\n"), usual)
	require.NoError(t, err)
	assert.Equal(t, soil.ClayLoam, rows[0].Bed.Texture)
	assert.Equal(t, soil.Surface, rows[0].Bed.Worked)
	assert.InDelta(t, 0.2, float64(rows[0].Bed.Depth), 1e-9)
	assert.Equal(t, "2027-04-25", rows[0].Sown.String())
	_, err = exchange.ReadBeds("beds.csv", []byte("name,length_m,width_m,sown\nA,3,1,4/5/2027\n"), usual)
	assert.ErrorContains(t, err, "is not a clear day", "a day that may be two is asked about")
}
