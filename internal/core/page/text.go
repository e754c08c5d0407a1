package page

import (
	"strings"
	"sync"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
)

// The faces of every page: Latin, Greek and Cyrillic, shipped with the program.
var (
	Regular = goregular.TTF
	Bold    = gobold.TTF
)

var faces = sync.OnceValue(func() [2]*sfnt.Font {
	var both [2]*sfnt.Font
	for i, ttf := range [][]byte{Regular, Bold} {
		both[i], _ = sfnt.Parse(ttf) // the bytes are compiled in and known to parse
	}
	return both
})

// TextWidth returns the width in millimetres of words set at size millimetres an em.
func TextWidth(words string, size float64, bold bool) float64 {
	face := 0
	if bold {
		face = 1
	}
	total := 0.0
	for _, r := range words {
		total += advance(face, r)
	}
	return total * size
}

// common is how many of the first letters have their widths worked out once:
// Latin, Greek and Cyrillic.
const common = 0x530

var advances = sync.OnceValue(func() *[2][common]float64 {
	var table [2][common]float64
	for face := range table {
		for r := range table[face] {
			table[face][r] = measured(face, rune(r))
		}
	}
	return &table
})

// advance returns a letter's width in ems.
func advance(face int, r rune) float64 {
	if r >= 0 && r < common {
		return advances()[face][r]
	}
	return measured(face, r)
}

func measured(face int, r rune) float64 {
	const em = 1000
	var buf sfnt.Buffer
	glyph, err := faces()[face].GlyphIndex(&buf, r)
	if err != nil {
		return 0
	}
	width, err := faces()[face].GlyphAdvance(&buf, glyph, fixed.I(em), font.HintingNone)
	if err != nil {
		return 0
	}
	return float64(width) / 64 / em
}

// missing stands for a letter that the faces do not have: a name in any script
// is printed as far as it can be.
const missing = '□'

// Printable returns words as our faces can write them, missing letters as □.
func Printable(words string) string {
	var buf sfnt.Buffer
	return strings.Map(func(r rune) rune {
		if glyph, err := faces()[0].GlyphIndex(&buf, r); err != nil || glyph == 0 {
			return missing
		}
		return r
	}, words)
}

// Wrap breaks words into lines no wider than width millimetres; a single word
// wider than that stands alone.
func Wrap(words string, size, width float64, bold bool) []string {
	var lines []string
	line := ""
	for _, word := range together(strings.Fields(words)) {
		longer := strings.TrimSpace(line + " " + word)
		if line != "" && TextWidth(longer, size, bold) > width {
			lines = append(lines, line)
			longer = word
		}
		line = longer
	}
	if line != "" {
		lines = append(lines, line)
	}
	return lines
}

// together joins what must not be parted at a line's end: a whole number and its fraction,
// as in 7 1/2.
func together(words []string) (joined []string) {
	digit := func(s string, i int) bool { return s[i] >= '0' && s[i] <= '9' }
	for _, w := range words {
		n := len(joined)
		if n > 0 && strings.Contains(w, "/") && digit(w, 0) && digit(joined[n-1], len(joined[n-1])-1) {
			joined[n-1] += " " + w
		} else {
			joined = append(joined, w)
		}
	}
	return joined
}

// Fitting returns the first of several ways to say something that fits a width,
// the last where none does: a label on paper is not cut off.
func Fitting(size, width float64, bold bool, ways ...string) string {
	for _, words := range ways {
		if TextWidth(words, size, bold) <= width {
			return words
		}
	}
	return ways[len(ways)-1]
}

// Cut shortens words to width millimetres, with an ellipsis where something is lost.
func Cut(words string, size, width float64, bold bool) string {
	if TextWidth(words, size, bold) <= width {
		return words
	}
	runes := []rune(words)
	for len(runes) > 0 && TextWidth(string(runes)+"…", size, bold) > width {
		runes = runes[:len(runes)-1]
	}
	return string(runes) + "…"
}
