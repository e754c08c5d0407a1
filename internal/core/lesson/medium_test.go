package lesson

import (
	"slices"
	"strings"
	"testing"
)

// Every medium makes a road that can be gone, with materials that read as they are written;
// what is wet has a brush, water and something under it, and black paper its own pens.
func TestMediums(t *testing.T) {
	names := map[string]bool{}
	for _, m := range Mediums() {
		r, err := NewRoad().In(m).Check()
		if err != nil {
			t.Fatalf("%s: %v", m.Name(), err)
		}
		i := slices.IndexFunc(r.Stages, func(s Stage) bool { return s.Kind == Tone })
		tone := r.Stages[i]
		if names[m.Name()] || len(tone.Materials()) < 3 || len(tone.Cautions()) == 0 || tone.Board() == "" {
			t.Errorf("%s: %+v", m.Name(), tone)
		}
		names[m.Name()] = true
		all := ""
		for _, one := range tone.Materials() {
			all += one.Name + " "
			if again, err := ParseMaterial(one.String()); err != nil || again != one {
				t.Errorf("%s: %q reads as %+v, %v", m.Name(), one, again, err)
			}
		}
		if slices.Contains(tone.Tools(), Paint) && (!strings.Contains(all, "brush") || !strings.Contains(all, "water jar")) {
			t.Errorf("%s: wet without brush or water: %s", m.Name(), all)
		}
		for n, s := range r.Supplies(24) {
			if s.Need < 1 {
				t.Errorf("%s: %d of %q for 24 (%d)", m.Name(), s.Need, s.Name, n)
			}
		}
	}
	before := NewRoad()
	before.In(OnBlack)
	if b, a := before.Supplies(10), NewRoad().Supplies(10); len(b) != len(a) {
		t.Error("choosing a medium changes the road it was asked of")
	}
}
