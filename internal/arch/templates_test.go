package arch_test

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// inlineElements may share a line with words and with each other; every other element has a line of its own.
var inlineElements = []string{"a", "b", "i", "em", "strong", "span", "small", "kbd", "code", "sup", "sub", "br",
	"input", "button", "label", "title"}

// voidElements are never closed.
var voidElements = []string{"input", "meta", "link", "br", "hr", "img", "!doctype"}

// longestInline is how long a condition may be, in signs, that stands within a line of words.
const longestInline = 80

// piece is a tag, an action or text of a template, with its lines.
type piece struct {
	kind, text string
	line, last int
}

const (
	tagPiece    = "tag"
	actionPiece = "action"
	wordPiece   = "words"
)

// pieces splits a template; actions within a tag belong to the tag.
func pieces(text string) (out []piece) {
	line := 1
	for len(text) > 0 {
		p := piece{kind: wordPiece, line: line}
		n := 0
		switch {
		case strings.HasPrefix(text, "{{"):
			p.kind, n = actionPiece, strings.Index(text, "}}")+2
			if comment := strings.Index(text, "*/}}"); strings.HasPrefix(text, "{{/*") {
				n = comment + 4
			}
		case tagStart.MatchString(text):
			p.kind, n = tagPiece, tagLength(text)
		default:
			for n = 1; n < len(text) && !strings.HasPrefix(text[n:], "{{") && !tagStart.MatchString(text[n:]); n++ {
			}
		}
		p.text, text = text[:n], text[n:]
		p.last = p.line + strings.Count(p.text, "\n")
		line = p.last
		out = append(out, p)
	}
	return out
}

var tagStart = regexp.MustCompile(`^</?[a-zA-Z!]`)

// tagLength returns how far a tag goes: > within quotes or actions does not end it.
func tagLength(text string) int {
	quote := byte(0)
	for i := 1; i < len(text); i++ {
		switch c := text[i]; {
		case strings.HasPrefix(text[i:], "{{"):
			i += strings.Index(text[i:], "}}") + 1
		case quote != 0:
			if c == quote {
				quote = 0
			}
		case c == '"' || c == '\'':
			quote = c
		case c == '>':
			return i + 1
		}
	}
	return len(text)
}

// opens names what a piece opens, closes what it closes: an element, or a block of actions; "" for neither.
func (p piece) opens() string {
	if p.kind == tagPiece && !strings.HasPrefix(p.text, "</") && !strings.HasSuffix(p.text, "/>") {
		if name := p.name(); !slices.Contains(voidElements, name) {
			return name
		}
	}
	if p.kind == actionPiece && slices.Contains([]string{"if", "range", "with", "define", "block"}, p.name()) {
		return "{{" + p.name() + "}}"
	}
	return ""
}

func (p piece) closes() bool {
	return p.kind == tagPiece && strings.HasPrefix(p.text, "</") || p.kind == actionPiece && p.name() == "end"
}

// name returns the element's, or the action's first word.
func (p piece) name() string {
	return strings.ToLower(regexp.MustCompile(`^(?:</?|\{\{-? *)([a-zA-Z!0-9]*)`).FindStringSubmatch(p.text)[1])
}

// squeezed returns where a template breaks the layout rules: one block element per line, indented
// in its parent, longer conditions on their own lines, one attribute per line in a broken tag.
func squeezed(text string) (faults []string) {
	var open []piece
	fault := func(p piece, says string) {
		faults = append(faults, fmt.Sprintf("%d: %s: %.40q", p.line, says, p.text))
	}
	all := pieces(text)
	for i, p := range all {
		first := i == 0 || startsLine(all[:i])
		if p.closes() {
			if len(open) == 0 {
				fault(p, "closes nothing")
				continue
			}
			was := open[len(open)-1]
			open = open[:len(open)-1]
			if own := was.line != p.line; own && !first && p.name() != "textarea" {
				fault(p, "closes on a line that it does not begin")
			}
		}
		isElse := p.kind == actionPiece && p.name() == "else"
		block := p.kind == tagPiece && !slices.Contains(inlineElements, p.name())
		switch depth := len(open); {
		case isElse && first:
			checkIndent(p, indent(text, p.line), depth-1, fault)
		case first && p.kind != wordPiece:
			checkIndent(p, indent(text, p.line), depth, fault)
		case block && !p.closes() && !first:
			fault(p, "a block element within a line")
		}
		if p.kind == tagPiece && p.last > p.line {
			checkBroken(p, fault)
		}
		if p.opens() != "" {
			if p.kind == actionPiece {
				checkInline(p, all[i:], fault)
			}
			open = append(open, p)
		}
	}
	return faults
}

// startsLine reports whether nothing but space stands on a line so far.
func startsLine(before []piece) bool {
	last := before[len(before)-1]
	if last.kind != wordPiece {
		return false
	}
	at := strings.LastIndexByte(last.text, '\n')
	return at >= 0 && strings.TrimSpace(last.text[at:]) == "" || len(before) == 1 && strings.TrimSpace(last.text) == ""
}

func indent(text string, line int) int {
	l := strings.Split(text, "\n")[line-1]
	return len(l) - len(strings.TrimLeft(l, " "))
}

func checkIndent(p piece, has, depth int, fault func(piece, string)) {
	if has != 2*depth {
		fault(p, fmt.Sprintf("set in by %d, not %d", has, 2*depth))
	}
}

// checkBroken sees that a tag that goes over lines has one attribute on each.
func checkBroken(p piece, fault func(piece, string)) {
	lines := strings.Split(p.text, "\n")
	for _, l := range lines[1 : len(lines)-1] {
		l = strings.TrimSpace(l)
		if !strings.HasPrefix(l, "{{") && len(attribute.FindAllString(actions.ReplaceAllString(l, "x"), -1)) != 1 {
			fault(p, "not one attribute a line")
		}
	}
	if strings.Contains(strings.TrimSpace(lines[0]), " ") || !slices.Contains([]string{">", "/>"},
		strings.TrimSpace(lines[len(lines)-1])) {
		fault(p, "a tag that is broken within a line")
	}
}

// attribute is one of a tag, once the actions in it are taken out.
var (
	attribute = regexp.MustCompile(`[a-zA-Z:-]+(="[^"]*")?`)
	actions   = regexp.MustCompile(`\{\{.*?\}\}`)
)

// checkInline sees that a condition within a line is a short one, without elements.
func checkInline(p piece, rest []piece, fault func(piece, string)) {
	depth, long := 0, 0
	for _, x := range rest {
		if x.line != p.line {
			return // it goes over lines: its parts begin them
		}
		long += len(x.text)
		switch {
		case x.kind == tagPiece && x.opens() != "" && depth == 1:
			fault(p, "an element in a condition within a line")
			return
		case x.opens() != "" && x.kind == actionPiece:
			depth++
		case x.closes() && x.kind == actionPiece:
			if depth--; depth == 0 {
				if long > longestInline {
					fault(p, "a long condition within a line")
				}
				return
			}
		}
	}
}

func TestTemplatesHaveOneElementPerLine(t *testing.T) {
	n := 0
	for _, dir := range []string{"components", "site", "server", "pages/*"} {
		files, err := filepath.Glob(filepath.Join("..", "web", dir, "*.html"))
		require.NoError(t, err)
		for _, f := range files {
			text, err := os.ReadFile(f)
			require.NoError(t, err)
			n++
			assert.Empty(t, squeezed(string(text)), f)
		}
	}
	assert.Greater(t, n, 40, "the templates were found")
}

func TestTemplateLayoutCheck(t *testing.T) {
	for _, good := range []string{
		"{{define \"x\"}}\n  <p>{{.A}}{{if .B}}, {{.B}}{{end}} <b>{{.C}}</b></p>\n{{end}}\n",
		"{{define \"x\"}}\n  <input\n    id=\"a\"\n    {{if .On}}checked{{end}}\n  >\n{{end}}\n",
		"{{define \"x\"}}\n  {{if .A}}\n    <p>{{.A}}</p>\n  {{else}}\n    <p>none</p>\n  {{end}}\n{{end}}\n",
	} {
		assert.Empty(t, squeezed(good), good)
	}
	for why, bad := range map[string]string{
		"two blocks on a line":        "{{define \"x\"}}\n  <p>a</p><p>b</p>\n{{end}}\n",
		"a block within a block":      "{{define \"x\"}}\n  <div><p>a</p></div>\n{{end}}\n",
		"not set in":                  "{{define \"x\"}}\n<p>a</p>\n{{end}}\n",
		"a condition with an element": "{{define \"x\"}}\n  <p>a{{if .B}} <b>{{.B}}</b>{{end}}</p>\n{{end}}\n",
		"a block in a condition":      "{{define \"x\"}}\n  {{if .B}}<p>{{.B}}</p>{{end}}\n{{end}}\n",
		"a tag broken anywhere":       "{{define \"x\"}}\n  <input id=\"a\"\n    name=\"a\" value=\"b\">\n{{end}}\n",
		"two attributes a line":       "{{define \"x\"}}\n  <input\n    id=\"a\" name=\"a\"\n  >\n{{end}}\n",
		"an end amid a line":          "{{define \"x\"}}\n  {{if .A}}\n    <p>a</p>{{end}}\n{{end}}\n",
	} {
		assert.NotEmpty(t, squeezed(bad), why)
	}
}
