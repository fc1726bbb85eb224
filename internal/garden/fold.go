package garden

import (
	"strings"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// Fold returns a name as names are compared: without regard to capitals, to how accents are put
// together, or to how many spaces stand between. Ärmel and ärmel are one bed.
func Fold(name string) string {
	return strings.Join(strings.Fields(norm.NFKC.String(cases.Fold().String(norm.NFKC.String(name)))), " ")
}
