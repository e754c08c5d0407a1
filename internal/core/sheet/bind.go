package sheet

import "zestysketch/internal/core/page"

// Binding is how the sets of a class are put in order for the printer.
type Binding struct {
	ByPage bool // all of one kind together, else all of one student together
	Duplex bool // printed on both sides: every set, or every kind, begins on a fresh sheet
	Copies int  // of everything; 0 is one
}

// Bind puts the pages of several students in order. Blank pages keep two
// students, or two kinds, from sharing a sheet where both sides are printed.
func Bind(sets [][]page.Page, b Binding) []page.Page {
	var groups [][]page.Page
	if b.ByPage {
		groups = byKind(sets)
	} else {
		groups = sets
	}
	var out []page.Page
	for range max(1, b.Copies) {
		for _, g := range groups {
			out = append(out, g...)
			if b.Duplex && len(g)%2 == 1 {
				last := g[len(g)-1]
				out = append(out, page.Page{Title: "Blank", Size: last.Size, Owner: last.Owner})
			}
		}
	}
	return out
}

// byKind gathers pages of one kind, in the order of Kinds, students in theirs.
func byKind(sets [][]page.Page) (groups [][]page.Page) {
	for _, a := range Kinds {
		var g []page.Page
		for _, set := range sets {
			for _, p := range set {
				if p.Kind == a.Kind {
					g = append(g, p)
				}
			}
		}
		if g != nil {
			groups = append(groups, g)
		}
	}
	return groups
}

// SheetsNeeded returns how many sheets of paper pages take.
func SheetsNeeded(pages int, duplex bool) int {
	if duplex {
		return (pages + 1) / 2
	}
	return pages
}
