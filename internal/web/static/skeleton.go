package static

import (
	"bytes"
	"slices"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// studentsUse are the classes of Bootstrap that stand on students' pages.
var studentsUse = []string{"btn", "form-control", "form-range", "form-select", "visually-hidden"}

// skeleton returns those rules of a style sheet that speak of elements and of students'
// classes alone, as they were written.
func skeleton(sheet []byte) []byte {
	var out bytes.Buffer
	p := css.NewParser(parse.NewInputBytes(slices.Clone(sheet)), false)
	keep := true
	for from := 0; ; from = p.Offset() {
		kind, _, _ := p.Next()
		switch kind {
		case css.ErrorGrammar: // the end
			return out.Bytes()
		case css.BeginRulesetGrammar:
			keep = usedByStudents(p.Values())
		}
		if keep {
			out.Write(sheet[from:p.Offset()])
		}
		keep = keep || kind == css.EndRulesetGrammar
	}
}

// usedByStudents reports whether one of a rule's selectors may be on a student's page.
func usedByStudents(selectors []css.Token) bool {
	used := true
	for i, t := range selectors {
		switch {
		case t.TokenType == css.CommaToken && used:
			return true
		case t.TokenType == css.CommaToken:
			used = true
		case t.TokenType == css.LeftBracketToken && bytes.HasPrefix(selectors[i+1].Data, []byte("data-bs-")):
			used = false // a theme, or a part that moves
		case t.TokenType == css.DelimToken && string(t.Data) == ".":
			used = used && slices.Contains(studentsUse, string(selectors[i+1].Data))
		}
	}
	return used
}
