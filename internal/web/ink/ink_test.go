package ink_test

import (
	"bytes"
	"html/template"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/web/ink"
)

func TestWhatIsWrittenIntoAMarkIsEscaped(t *testing.T) {
	day := quantity.Date(2026, 11, 24)
	for _, says := range []string{"Lower ledge", `a"b`, "a'b", "<script>alert(1)</script>", "ash & lime", "a\x00b",
		"½ °C", `"><svg onload=x>`, ""} {
		var k ink.Ink
		k.Put(`<i title="%">%</i>`, says, says)
		k.Put(`<b class="n%">%</b>`, 12, int64(-3))
		k.Put(`<u>%</u>%`, template.URL("/?on="+day.String()+"&bed=1"), template.HTML("<br>"))
		// The library's own templates are the measure; they mask more than must be.
		var want bytes.Buffer
		require.NoError(t, template.Must(template.New("").Parse(`<i title="{{.}}">{{.}}</i>`)).Execute(&want, says))
		assert.Equal(t, want.String()+`<b class="n12">-3</b><u>/?on=2026-11-24&amp;bed=1</u><br>`, string(k.HTML()))
	}
}

func TestAMarkHasAsManyPartsAsPlaces(t *testing.T) {
	var k ink.Ink
	assert.Panics(t, func() { k.Put(`<i>%</i>`) })
	assert.Panics(t, func() { k.Put(`<i>%</i>`, "a", "b") })
	assert.Panics(t, func() { k.Put(`<i>%</i>`, struct{}{}) })
	assert.NotPanics(t, func() { k.Put(`<i>1</i>`) })
}

func TestACoordinateIsWrittenToATenth(t *testing.T) {
	for p, want := range map[ink.Px]string{0: "0", 12: "12", 12.34: "12.3",
		12.36: "12.4", 11.96: "12", -0.04: "0", -0.06: "-0.1", -3.25: "-3.3",
		1234567.89: "1234567.9", ink.Px(math.NaN()): "0", ink.Px(math.Inf(-1)): "0", 1e300: "0"} {
		assert.Equal(t, want, p.String())
		var k ink.Ink
		k.Put(`<path d="M% 0"/>`, p)
		assert.Equal(t, `<path d="M`+want+` 0"/>`, string(k.HTML()))
	}
}

func BenchmarkPut(b *testing.B) {
	for b.Loop() {
		var k ink.Ink
		for range 100 {
			k.Put(`<circle class="core" cx="%" cy="%" r="%"/>`, ink.Px(12.3), ink.Px(13), 2)
		}
	}
}

func BenchmarkTemplate(b *testing.B) {
	t := template.Must(template.New("").Parse(`{{range .}}<circle class="core" cx="{{.X}}" cy="{{.Y}}" r="{{.R}}"/>{{end}}`))
	at := make([]struct{ X, Y, R int }, 100)
	for b.Loop() {
		var out bytes.Buffer
		if err := t.Execute(&out, at); err != nil {
			b.Fatal(err)
		}
	}
}
