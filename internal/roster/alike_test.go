package roster

import "testing"

func TestNearlyAlike(t *testing.T) {
	for _, c := range []struct {
		a, b string
		want bool
	}{
		{"Émile", "emile", true}, {"Anne-Marie", "Annemarie", true}, {"Li Na", "Lina", true}, {"Straße", "STRASSE", true},
		{"Ada B", "Ada C", false}, {"Maria", "Marie", false}, {"Mika", "Mika 2", false},
	} {
		if got := NearlyAlike(c.a, c.b); got != c.want {
			t.Errorf("%q and %q: %v; want %v", c.a, c.b, got, c.want)
		}
	}
}
