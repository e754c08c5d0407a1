package static

import (
	"io/fs"
	"regexp"
	"strings"
	"testing"
)

var (
	spaces = regexp.MustCompile(`\b(margin|padding|gap|row-gap|column-gap)(-[a-z-]+)?: ([^;{}]+);`)
	onGaps = regexp.MustCompile(`^(0|auto|inherit|var\(--gap(-[a-z]+)?\)|calc\(-1 \* var\(--gap(-[a-z]+)?\)\)|[\d.]+v[hw])$`)
	types  = regexp.MustCompile(`font-size: ([^;{}]+);`)
	onType = regexp.MustCompile(`^(inherit|0|var\(--(small|body|lead|head|title)\)|.*\d+v[hw].*|[\d.]+px)$`)
	gaps   = regexp.MustCompile(`--gap(-[a-z]+)?: ([\d.]+rem);`)
)

// Spaces are of six sizes and letters of five, by name; letters of the projector follow its screen, and those
// within a drawing are in its own units. All styles together stay short.
func TestStylesKeepToTheScale(t *testing.T) {
	names, err := fs.Glob(files, "css/*.css")
	if err != nil || len(names) < 10 {
		t.Fatalf("%v, %v", names, err)
	}
	lines := 0
	for _, name := range names {
		b, err := fs.ReadFile(files, name)
		if err != nil {
			t.Fatal(err)
		}
		lines += strings.Count(string(b), "\n")
		if name == "css/tokens.css" {
			if got := len(gaps.FindAllString(string(b), -1)); got != 6 {
				t.Errorf("%d sizes of space; want six", got)
			}
			continue
		}
		for _, m := range spaces.FindAllStringSubmatch(string(b), -1) {
			for _, v := range strings.Fields(strings.ReplaceAll(m[3], "calc(-1 * ", "calc(-1*")) {
				if v = strings.ReplaceAll(v, "calc(-1*", "calc(-1 * "); !onGaps.MatchString(v) {
					t.Errorf("%s: %s is not on the scale of spaces", name, m[0])
				}
			}
		}
		for _, m := range types.FindAllStringSubmatch(string(b), -1) {
			if !onType.MatchString(m[1]) {
				t.Errorf("%s: %s is not on the scale of type", name, m[0])
			}
		}
	}
	if lines > 2400 {
		t.Errorf("%d lines of styles; want 2,400 at most", lines)
	}
}
