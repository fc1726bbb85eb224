package bounded_test

import (
	"encoding/xml"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bounded"
)

// endless repeats a text without an end and counts what was read of it.
type endless struct {
	text string
	read int
}

func (e *endless) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = e.text[(e.read+i)%len(e.text)]
	}
	e.read += len(p)
	return len(p), nil
}

// ahead is what a parser may read beyond its limit.
const ahead = 8192

func TestCSVRecordsAreBounded(t *testing.T) {
	for says, text := range map[string][2]string{"one line": {"", "a,"}, "a quotation that stays open": {`"`, "\n,"},
		"cells over many lines": {"", "\"\n\","}} {
		in := &endless{text: text[1]}
		_, err := bounded.NewCSV(io.MultiReader(strings.NewReader(text[0]), in), 1000).Read()
		require.ErrorIs(t, err, bounded.ErrTooLong, says)
		assert.LessOrEqual(t, in.read, 1000+ahead, says)
	}
	r := bounded.NewCSV(strings.NewReader(strings.Repeat("a,b\n", 10_000)), 10)
	n := 0
	for {
		row, err := r.Read()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		require.Equal(t, []string{"a", "b"}, row)
		n++
	}
	assert.Equal(t, 10_000, n, "each record has the whole limit")
}

func TestXMLTokensAreBounded(t *testing.T) {
	for says, text := range map[string]string{"attributes": " a=''", "text": "x", "a name": "y"} {
		in := &endless{text: text}
		start := map[string]string{"attributes": "<a", "text": "<a>", "a name": "<"}[says]
		d := bounded.NewXML(io.MultiReader(strings.NewReader(start), in), 1000)
		var err error
		for err == nil {
			_, err = d.RawToken()
		}
		require.ErrorIs(t, err, bounded.ErrTooLong, says)
		assert.LessOrEqual(t, in.read, 2*(1000+ahead), says)
	}
	d := bounded.NewXML(strings.NewReader("<r>"+strings.Repeat("<c/>", 10_000)+"</r>"), 10)
	n := 0
	for {
		x, err := d.RawToken()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		if _, ok := x.(xml.StartElement); ok {
			n++
		}
	}
	assert.Equal(t, 10_001, n)
}
