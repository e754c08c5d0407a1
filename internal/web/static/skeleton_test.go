package static

import (
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
)

func TestSkeleton(t *testing.T) {
	in := `:root,[data-bs-theme=light]{--a:1}[data-bs-theme=dark]{--a:2}a:hover{color:red}@media (min-width:9px){.card{a:b}.card,.btn>p{a:b}}.btn.card{a:b}.btn:focus{a:c}`
	want := `:root,[data-bs-theme=light]{--a:1}a:hover{color:red}@media (min-width:9px){.card,.btn>p{a:b}}.btn:focus{a:c}`
	if got := string(skeleton([]byte(in))); got != want {
		t.Errorf("got  %s\nwant %s", got, want)
	}
}

// TestStudentsUse holds the list against the pages: a class of Bootstrap's that somebody puts
// on a student's page has to stand in it.
func TestStudentsUse(t *testing.T) {
	skeletal := map[string]bool{}
	for _, m := range regexp.MustCompile(`\.([a-z][a-z-]*)`).FindAllStringSubmatch(string(read("vendor/bootstrap/bootstrap.min.css")), -1) {
		skeletal[m[1]] = true
	}
	pages, err := filepath.Glob("../student/*.html")
	if err != nil || len(pages) == 0 {
		t.Fatal("no pages of students", err)
	}
	for _, page := range pages {
		b, err := os.ReadFile(page)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range regexp.MustCompile(`class="([^"]*)"`).FindAllStringSubmatch(string(b), -1) {
			for _, class := range strings.FieldsFunc(m[1], func(r rune) bool { return r == ' ' || r == '{' || r == '}' }) {
				own := strings.Contains(string(styles), "."+class)
				if skeletal[class] && !own && !slices.Contains(studentsUse, class) {
					t.Errorf("%s uses Bootstrap's %q: list it in studentsUse", filepath.Base(page), class)
				}
			}
		}
	}
	if whole := len(read("vendor/bootstrap/bootstrap.min.css")); len(lean) > whole/4 {
		t.Errorf("students read %d bytes of styles, Bootstrap alone has %d", len(lean), whole)
	}
}
