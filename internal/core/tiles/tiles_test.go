package tiles

import (
	"errors"
	"reflect"
	"testing"

	"zestysketch/internal/core/grid"
)

func plan(t testing.TB, r grid.Request) grid.Plan {
	t.Helper()
	p, err := grid.Make(r)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func parts(t testing.TB, n string) grid.Plan {
	return plan(t, grid.Request{Reference: "200x200mm", Paper: "500x500mm", Method: "parts", Parts: n, Scale: "2", Units: "cm"})
}

// The rules, for thousands of seeds: every tile is set once, none at home, no
// two former neighbours side by side, each where it fits, turned as it may be.
func TestRulesForThousandsOfSeeds(t *testing.T) {
	for name, p := range map[string]grid.Plan{"4 x 4": parts(t, "4 x 4"), "5 x 7": parts(t, "5 x 7"), "8 x 6": parts(t, "8 x 6"),
		"oblong": plan(t, grid.Request{Reference: "180x240mm", Paper: "500x500mm", Method: "parts", Parts: "4 x 6", Scale: "1.5", Units: "cm"})} {
		for seed := range uint64(800) {
			m, err := Shuffle(p, seed, seed%2 == 0)
			if err != nil {
				t.Fatal(err)
			}
			if bad := broken(p, m, seed%2 == 0); bad != "" || len(m.Stay) > 0 || len(m.Touch) > 0 || m.Message != "" {
				t.Fatalf("%s, seed %d: %s stay %v touch %v %q", name, seed, bad, m.Stay, m.Touch, m.Message)
			}
		}
	}
}

// broken returns which rule a map breaks, reckoned from the labels alone.
func broken(p grid.Plan, m Map, flips bool) string {
	if len(m.Places) != p.Count() {
		return "not every place"
	}
	at := map[string]grid.Cell{}
	for _, place := range m.Places {
		to, ok1 := p.Find(place.Label)
		from, ok2 := p.Find(place.Tile)
		if _, twice := at[place.Tile]; twice || !ok1 || !ok2 {
			return place.Tile + " twice or nowhere"
		}
		at[place.Tile] = to
		w, h := from.Sheet.Width(), from.Sheet.Height()
		if place.Turn%180 != 0 {
			w, h = h, w
		}
		if dw, dh := w-to.Sheet.Width(), h-to.Sheet.Height(); dw > 0.01 || dw < -0.01 || dh > 0.01 || dh < -0.01 {
			return place.Tile + " does not fit " + place.Label
		}
		if place.Flip && !flips {
			return place.Tile + " is flipped"
		}
	}
	touch := 0
	for a, x := range at {
		home, _ := p.Find(a)
		for b, y := range at {
			other, _ := p.Find(b)
			if beside(home, other) && beside(x, y) {
				touch++
			}
		}
	}
	if touch != 2*len(m.Touch) {
		return "neighbours touch that are not named"
	}
	return ""
}

func beside(a, b grid.Cell) bool {
	dx, dy := a.Column-b.Column, a.Row-b.Row
	return dx*dx+dy*dy == 1
}

// Tiles of the remainder go only to places of their size; the one in the corner
// fits nowhere else, stays, and is named.
func TestRemainderTiles(t *testing.T) {
	p := plan(t, grid.Request{Reference: "110x130mm", Paper: "400x400mm", ReferenceSquare: "20mm", SheetSquare: "40mm", Units: "cm"})
	for seed := range uint64(200) {
		m, err := Shuffle(p, seed, true)
		if err != nil {
			t.Fatal(err)
		}
		if bad := broken(p, m, true); bad != "" || len(m.Stay) > 1 {
			t.Fatalf("seed %d: %s, stay %v", seed, bad, m.Stay)
		}
		if len(m.Stay) == 1 && m.Message == "" {
			t.Fatal("a tile stays and nothing is said")
		}
	}
}

// One seed, one map; another seed, another.
func TestSeeds(t *testing.T) {
	p := parts(t, "6 x 6")
	a, err1 := Shuffle(p, 7, true)
	b, err2 := Shuffle(p, 7, true)
	c, err3 := Shuffle(p, 8, true)
	if err := errors.Join(err1, err2, err3); err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(a, b) || reflect.DeepEqual(a.Places, c.Places) {
		t.Error("the seed does not decide the map")
	}
}

// Grids too small for the rules get the best there is and a reason; one box none.
func TestSmallGrids(t *testing.T) {
	if _, err := Shuffle(parts(t, "1 x 1"), 1, true); !errors.Is(err, ErrGrid) {
		t.Errorf("one box: %v; want ErrGrid", err)
	}
	for _, n := range []string{"1 x 2", "2 x 2", "2 x 3"} {
		p := parts(t, n)
		m, err := Shuffle(p, 3, false)
		if err != nil {
			t.Fatal(err)
		}
		if bad := broken(p, m, false); bad != "" || m.Message == "" || len(m.Stay) > 0 {
			t.Errorf("%s: %s %+v; want all moved and a word on what touches", n, bad, m)
		}
	}
}

func BenchmarkShuffle(b *testing.B) {
	p := parts(b, "8 x 10")
	for i := uint64(0); b.Loop(); i++ {
		if _, err := Shuffle(p, i, true); err != nil {
			b.Fatal(err)
		}
	}
}
