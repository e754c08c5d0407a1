package kit

// Tabs is a row of pages that belong together.
type Tabs struct {
	Label string
	All   []Tab
}

// Tab is one of them.
type Tab struct {
	Name, Path string
	Here       bool
}

// NewTabs returns tabs from pairs of name and path; here is the path of the one
// that is shown.
func NewTabs(label, here string, pairs ...string) Tabs {
	t := Tabs{Label: label}
	for i := 0; i+1 < len(pairs); i += 2 {
		t.All = append(t.All, Tab{pairs[i], pairs[i+1], pairs[i+1] == here})
	}
	return t
}
