package ink_test

import (
	"bytes"
	"html/template"
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
		k.Put(`<u>%</u>%`, day, template.HTML("<br>"))
		// The library's own templates are the measure; they mask more than must be.
		var want bytes.Buffer
		require.NoError(t, template.Must(template.New("").Parse(`<i title="{{.}}">{{.}}</i>`)).Execute(&want, says))
		assert.Equal(t, want.String()+`<b class="n12">-3</b><u>`+day.String()+`</u><br>`, string(k.HTML()))
	}
}

func TestAMarkHasAsManyPartsAsPlaces(t *testing.T) {
	var k ink.Ink
	assert.Panics(t, func() { k.Put(`<i>%</i>`) })
	assert.Panics(t, func() { k.Put(`<i>%</i>`, "a", "b") })
	assert.Panics(t, func() { k.Put(`<i>%</i>`, struct{}{}) })
	assert.NotPanics(t, func() { k.Put(`<i>1</i>`) })
}

func BenchmarkPut(b *testing.B) {
	for b.Loop() {
		var k ink.Ink
		for range 100 {
			k.Put(`<circle class="core" cx="%" cy="%" r="%"/>`, 12, 13, 2)
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
