package roster

import (
	"strings"
	"unicode"

	"golang.org/x/text/cases"
	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// NearlyAlike reports whether two names differ by capitals, accents, hyphens or
// spaces alone: one student may stand in a list twice.
func NearlyAlike(a, b string) bool { return lettersOf(a) == lettersOf(b) }

// lettersOf returns a name's letters and digits without their accents, all small.
func lettersOf(name string) string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn))), name)
	if err != nil {
		plain = name
	}
	return cases.Fold().String(strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return r
		}
		return -1
	}, plain))
}
