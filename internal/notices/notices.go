// Package notices ships the licences of everything that is in the program. Its
// texts.txt and NOTICES.md are made by scripts/notices.
package notices

import (
	_ "embed"
	"strings"
)

//go:embed texts.txt
var texts string

// Rule begins a part's line in texts.txt; name, version and licence follow.
const Rule = "=== "

// Part is something of others that ships with the program.
type Part struct {
	Name, Version, Licence string
	Text                   string // of its licences and notices
}

// Parts returns everything that ships, in the order of names.
func Parts() (all []Part) { return Read(texts) }

// Read reads parts as String writes them.
func Read(texts string) (all []Part) {
	for block := range strings.SplitSeq("\n"+texts, "\n"+Rule) {
		head, text, _ := strings.Cut(block, "\n")
		if fields := strings.Split(head, " | "); len(fields) == 3 {
			all = append(all, Part{fields[0], fields[1], fields[2], strings.TrimSpace(text)})
		}
	}
	return all
}

// String writes a part into texts.txt.
func (p Part) String() string {
	return Rule + p.Name + " | " + p.Version + " | " + p.Licence + "\n" + p.Text + "\n\n"
}
