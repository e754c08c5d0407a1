package notices

import (
	"os/exec"
	"strings"
	"testing"
)

// Everything that ships has its licence's text, and the texts are of what ships now.
func TestNotices(t *testing.T) {
	check := exec.Command("go", "run", "./scripts/notices", "-check")
	check.Dir = "../.."
	if out, err := check.CombinedOutput(); err != nil {
		t.Errorf("%v: %s", err, out)
	}
	all := Parts()
	if len(all) < 40 {
		t.Fatalf("%d parts", len(all))
	}
	for _, p := range all {
		if len(p.Text) < 400 || p.Licence == "see its text" || strings.Contains(p.Text, "\n"+Rule) {
			t.Errorf("%s: %q, %d letters of licence", p.Name, p.Licence, len(p.Text))
		}
		if back := Read(p.String()); len(back) != 1 || back[0] != p {
			t.Errorf("%s is read back as %d parts", p.Name, len(back))
		}
	}
}
