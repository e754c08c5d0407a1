package grid

import (
	"strings"
	"testing"
)

func TestBoxes(t *testing.T) {
	p, err := Make(Request{Name: "Boxes", Reference: "8 x 10 in", Paper: "12 x 15 in", ReferenceSquare: "2 in", SheetSquare: "3 in"})
	if err != nil {
		t.Fatal(err)
	}
	for words, want := range map[string]string{
		"": "", " c2 ": "C2", "A1 to B2": "A1 B1 A2 B2", "B2-A1, D5": "A1 B1 A2 B2 D5", "D4:D5;A1, a1": "A1 D4 D5", "A5 – B5,": "A5 B5",
	} {
		got, err := p.Boxes(words)
		if err != nil || strings.Join(got, " ") != want {
			t.Errorf("%q: %q, %v; want %q", words, got, err, want)
		}
	}
	for _, words := range []string{"E1", "A6", "A1 to Z9", "all", "A1 B2"} {
		if got, err := p.Boxes(words); err == nil {
			t.Errorf("%q: %q; want an error", words, got)
		}
	}
}
