package kit

import (
	"cmp"
	"fmt"
	"html/template"
	"slices"
)

// Term is a word of the trade with what it means here.
type Term struct{ Word, Means string }

// terms are the words that explain themselves where a page says them, and in the
// handbook inside.
var terms = []Term{
	{"reference", "the picture to be copied: a photo, a print, a drawing"},
	{"sheet", "the paper that is drawn on; the final sheet is what a finished drawing is transferred to"},
	{"frame", "the part of the picture that is used, after trimming; it may lie at an angle"},
	{"grid", "the ruled net of boxes, alike on picture and sheet: as many across and down on both"},
	{"mark", "a short tick at the paper's edge, from which a line is ruled"},
	{"remainder", "the narrower strip that is left where a measured square does not divide the side"},
	{"squash", "how much more one way is enlarged than the other, in per cent; under 2 % nobody sees it"},
	{"landmark", "a point worth getting right: a corner, a tip, a crossing"},
	{"road", "the stages of a project in order, from grid to looking again, each with its minutes"},
	{"checkpoint", "a place on the road where the teacher looks before the student goes on"},
	{"check-in", "a photo of a student's drawing, taken to be measured against the picture"},
	{"looseness", "how exact the drawings of a project are meant to be; a loose one is never called wrong"},
	{"values", "how dark the parts of a picture are, in three to five steps"},
	{"transfer", "carrying a finished line drawing to another sheet, by pressure, tracing or light"},
	{"to cover", "taking a colleague's lesson: the wall, ticks, notes, photos and printing, and no more"},
}

// Terms returns the words in order.
func Terms() []Term {
	list := slices.Clone(terms)
	slices.SortFunc(list, func(a, b Term) int { return cmp.Compare(a.Word, b.Word) })
	return list
}

// term writes a word that says what it means when it is pointed at, focused or
// touched; as shown it may be another form of the word, such as its plural.
func term(word string, shown ...string) (template.HTML, error) {
	i := slices.IndexFunc(terms, func(t Term) bool { return t.Word == word })
	if i < 0 {
		return "", fmt.Errorf("no term %q", word)
	}
	as := word
	if len(shown) > 0 {
		as = shown[0]
	}
	as, means := template.HTMLEscapeString(as), template.HTMLEscapeString(terms[i].Means)
	return template.HTML(`<button type="button" class="term" aria-label="` + as + `: ` + means + `">` + as + `<span class="term-says" aria-hidden="true">` + means + `</span></button>`), nil
}
