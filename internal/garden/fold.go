package garden

import (
	"strings"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// Fold returns a name for comparison: ignoring case, composition of accents, and repeated spaces.
// Ärmel and ärmel are one bed.
func Fold(name string) string {
	return strings.Join(strings.Fields(norm.NFKC.String(cases.Fold().String(norm.NFKC.String(name)))), " ")
}
