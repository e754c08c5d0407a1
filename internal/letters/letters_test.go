package letters

import (
	"testing"
	"unicode/utf8"
)

func TestCut(t *testing.T) {
	for _, c := range []struct {
		words string
		most  int
		want  string
	}{{"harbour", 3, "har"}, {"гавань", 3, "гав"}, {"гавань", 6, "гавань"}, {"гавань", 99, "гавань"}, {"", 3, ""}, {"мост", 0, ""}, {"мо\xd1", 3, "мо"}} {
		if got := Cut(c.words, c.most); got != c.want || !utf8.ValidString(got) {
			t.Errorf("%q to %d letters: %q; want %q", c.words, c.most, got, c.want)
		}
	}
}

func TestTidy(t *testing.T) {
	for words, want := range map[string]string{"  Harbour \n light ": "Harbour light", "мо\xd1ст": "мост", "\t": "", "one": "one"} {
		if got := Tidy(words); got != want {
			t.Errorf("%q is %q; want %q", words, got, want)
		}
	}
}
