package tiles

import (
	"fmt"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// A seed that was read out or printed gives the same map in every later
// version: the maps of some seeds, written down when this was first made.
func TestSeedsStandForGood(t *testing.T) {
	remainder := plan(t, grid.Request{Reference: "110x130mm", Paper: "400x400mm", ReferenceSquare: "20mm", SheetSquare: "40mm", Units: "cm"})
	for _, c := range []struct {
		p    grid.Plan
		seed uint64
		want string
	}{
		{parts(t, "3 x 3"), 5, seed3x3},
		{parts(t, "5 x 4"), 11, seed5x4},
		{remainder, 3, seedRemainder},
	} {
		m, err := Shuffle(c.p, c.seed, true)
		if err != nil {
			t.Fatal(err)
		}
		var all []string
		for _, p := range m.Places {
			s := fmt.Sprintf("%s<%s/%d", p.Label, p.Tile, p.Turn/90)
			if p.Flip {
				s += "f"
			}
			all = append(all, s)
		}
		if got := strings.Join(all, " "); got != c.want {
			t.Errorf("seed %d of %d × %d:\n%s; want\n%s", c.seed, c.p.Grid.Columns, c.p.Grid.Rows, got, c.want)
		}
	}
}

// Only the outer edges are frame, and an end on one needs no closing.
func TestOnlyTheOuterEdgesAreFrame(t *testing.T) {
	p := parts(t, "4 x 4")
	n := newNet(p)
	frame := 0
	for _, j := range n.all {
		if outer := j.at.X == 0 || j.at.Y == 0 || j.at.X == 200 || j.at.Y == 200; outer != j.frame {
			t.Errorf("%v: frame %v", j.at, j.frame)
		} else if outer {
			frame++
		}
	}
	if frame != 16 || len(n.all) != 25 {
		t.Errorf("%d of %d crossings on the frame; want 16 of 25", frame, len(n.all))
	}
	b := BordersOf(p, [][]plane.Point{{plane.Pt(0, 30), plane.Pt(50, 30)}, {plane.Pt(50, 31), plane.Pt(90, 40)}})
	if b.Meet != 2 || len(b.Loose) != 0 {
		t.Errorf("ends just a millimetre apart: %+v; want them to meet", b)
	}
	b = BordersOf(p, [][]plane.Point{{plane.Pt(20, 30), plane.Pt(50, 30)}, {plane.Pt(50, 31.1), plane.Pt(90, 40)}})
	if b.Meet != 0 || len(b.Loose) != 1 || len(b.Loose[0].Along) != 2 {
		t.Errorf("a little more: %+v; want one piece of edge between them", b)
	}
}
