package lesson

import (
	"slices"
	"strings"
	"testing"
)

// Every caution defers to the school, whichever tools are asked for.
func TestCautions(t *testing.T) {
	for tool := range cautions {
		words := Cautions(tool)
		if len(words) != 2 || words[1] != Defer {
			t.Errorf("%s: %q; want its caution and the school's rules", tool, words)
		}
	}
	both := Cautions(Knife, "feather", Fixative)
	if len(both) != 3 || !strings.Contains(both[0], "on a mat") || !strings.Contains(both[1], "adults") {
		t.Errorf("knife and fixative: %q", both)
	}
	if none := Cautions(); none != nil {
		t.Errorf("no tools: %q", none)
	}
}

func TestBeforeTapeOff(t *testing.T) {
	list := BeforeTapeOff([]string{"Tip of the mast", "Top of the door"})
	if i, j := slices.Index(list, "Tip of the mast"), slices.Index(list, "Top of the door"); i != 1 || j != 2 || len(list) != 5 {
		t.Errorf("%q", list)
	}
}
