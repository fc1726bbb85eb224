package svg

import (
	"bytes"
	"html/template"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEscapingMatchesHTMLTemplate(t *testing.T) {
	for _, says := range []string{"Lower ledge", `a"b`, "a'b", "<script>alert(1)</script>", "ash & lime", "a\x00b", "½ °C",
		`"><svg onload=x>`, ""} {
		var w writer
		w.group().label(says).titled(says).end()
		var want bytes.Buffer
		require.NoError(t, template.Must(template.New("").Parse(`<g aria-label="{{.}}"><title>{{.}}</title></g>`)).Execute(&want, says))
		assert.Equal(t, want.String(), string(w.html()))
	}
}

func TestWriterNesting(t *testing.T) {
	var w writer
	w.group().class("a").circle().centre(1.25, -2, 3).end().text().at(0, 4).says("5").end().end()
	assert.Equal(t, `<g class="a"><circle cx="1.3" cy="-2" r="3"/><text x="0" y="4">5</text></g>`, string(w.html()))
	w.group()
	assert.Panics(t, func() { w.html() }, "not closed")
	w.says("words")
	assert.Panics(t, func() { w.class("late") }, "an attribute after the words")
}

func TestCoordinatesHaveOneDecimal(t *testing.T) {
	for p, want := range map[Px]string{0: "0", 12: "12", 12.34: "12.3", 12.36: "12.4", 11.96: "12", -0.04: "0", -0.06: "-0.1",
		-3.25: "-3.3", 1234567.89: "1234567.9", Px(math.NaN()): "0", Px(math.Inf(-1)): "0", 1e300: "0"} {
		assert.Equal(t, want, p.String())
	}
}

func TestPath(t *testing.T) {
	var p Path
	assert.Equal(t, Path("M1 2L3 4H5V6h7v-8Z"), p.to(1, 2).to(3, 4).acrossTo(5).downTo(6).across(7).down(-8).closed())
	assert.Equal(t, Path("M0 0C5 0 5 8 10 8"), moveTo(0, 0).swingTo(0, 0, 10, 8))
	assert.Equal(t, Transform("translate(1 2) rotate(-30)"), moved(1, 2).turned(-30))
}

func BenchmarkWriter(b *testing.B) {
	for b.Loop() {
		var w writer
		for range 100 {
			w.circle().class("core").centre(12.3, 13, 2).end()
		}
		w.html()
	}
}
