package notices

import (
	"runtime/debug"
)

// release and commit are set by the linker, as the Makefile has it.
var release, commit string

// Program is which program this is.
type Program struct {
	Version string // with the date of its commit in it; "from source" where nobody gave one
	Commit  string // of which it was built, empty for not known
	Changed bool   // files were changed since
}

// This returns which program runs.
func This() Program {
	p := Program{Version: release, Commit: commit}
	if p.Version == "" {
		p.Version = "from source"
	}
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return p
	}
	for _, s := range info.Settings {
		switch s.Key {
		case "vcs.revision":
			p.Commit = s.Value[:min(12, len(s.Value))]
		case "vcs.modified":
			p.Changed = s.Value == "true"
		}
	}
	return p
}

// String says it in a line.
func (p Program) String() string {
	words := p.Version
	if p.Commit != "" {
		words += ", commit " + p.Commit
	}
	if p.Changed {
		words += ", with changes"
	}
	return words
}
