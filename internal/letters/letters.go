// Package letters cuts words by letters, never within one, and puts them in order.
package letters

import "strings"

// Cut returns the first letters of some words, most at most, without what is no
// letter of UTF-8.
func Cut(words string, most int) string {
	words = strings.ToValidUTF8(words, "")
	n := 0
	for i := range words {
		if n == most {
			return words[:i]
		}
		n++
	}
	return words
}

// Tidy returns words with single spaces between them and whole letters alone.
func Tidy(words string) string {
	return strings.Join(strings.Fields(strings.ToValidUTF8(words, "")), " ")
}
