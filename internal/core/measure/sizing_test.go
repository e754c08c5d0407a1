package measure

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// Common practice: 14 1/4 is rounded to 14 from an 18-inch sheet, which leaves
// a 4-inch strip and a squash of −1.75 per cent.
func TestRoundings(t *testing.T) {
	frame := inches(8, 9.5)
	list := Roundings(frame, inches(12, 14.25), inches(12, 18), true, Inch)
	if len(list) < 3 || math.Abs(list[0].Squash) > 1e-9 {
		t.Fatalf("roundings %+v; want 14 1/4 itself first", list)
	}
	found := false
	for i, r := range list {
		if near(r.Sheet.H, 14*25.4) {
			found = true
			if math.Abs(r.Squash+1.754) > 0.001 || !near(r.Offcut, 4*25.4) || !near(r.Step, 25.4) {
				t.Errorf("14 in: %+v; want −1.754 %%, a 4 in strip, a step of 1 in", r)
			}
		}
		if i > 0 && math.Abs(r.Squash) < math.Abs(list[i-1].Squash)-1e-9 {
			t.Errorf("squash falls from %v to %v", list[i-1].Squash, r.Squash)
		}
		if r.Sheet.H > 18*25.4 {
			t.Errorf("%v is larger than the stock", r.Sheet)
		}
	}
	if !found {
		t.Errorf("14 in is not offered: %+v", list)
	}
}

func TestISOBPaperHalves(t *testing.T) {
	// ISO 216: each B size is the one above it halved, to the millimetre.
	for _, pair := range [][2]string{{"B1", "B2"}, {"B2", "B3"}, {"B3", "B4"}, {"B4", "B5"}} {
		big, _ := PaperNamed(pair[0])
		small, _ := PaperNamed(pair[1])
		if want := (Size{Length(math.Floor(float64(big.Size.H) / 2)), big.Size.W}); small.Size != want {
			t.Errorf("%s is %v; want %v", pair[1], small.Size, want)
		}
	}
}

func TestCutByHand(t *testing.T) {
	for _, c := range []struct {
		stock, piece Size
		per          int
	}{
		{inches(18, 24), inches(12, 18), 2},    // worked by hand: one across, and one turned
		{inches(18, 24), inches(9, 12), 4},     // quarters
		{inches(12, 18), inches(12, 14.25), 1}, // leaves a strip of 3 3/4
		{Size{420, 594}, Size{297, 420}, 2},    // A2 gives two A3
		{Size{297, 420}, Size{210, 297}, 2},    // A3 gives two A4
		{Size{500, 700}, Size{501, 701}, 0},
	} {
		got, ok := Cut(Paper{Size: c.stock}, c.piece, 24)
		if ok != (c.per > 0) || got.PerSheet() != c.per {
			t.Errorf("%v from %v: %d pieces, %v; want %d", c.piece, c.stock, got.PerSheet(), ok, c.per)
		}
	}
	c, _ := Cut(Paper{Size: inches(12, 18)}, inches(12, 14.25), 30)
	if c.Sheets != 30 || len(c.Offcuts) != 1 || !near(c.Offcuts[0].H, 3.75*25.4) || len(c.Cuts) != 1 {
		t.Errorf("30 of 12 × 14 1/4: %+v; want 30 sheets, one cut, a 3 3/4 strip", c)
	}
}

// Laws of cutting: pieces lie inside, do not overlap, and pieces and offcuts
// together are the stock; waste is what nobody draws on.
func TestCuttingLaws(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 400 {
		stock := Size{Length(300 + rng.Float64()*700), Length(300 + rng.Float64()*700)}
		piece := Size{Length(60 + rng.Float64()*500), Length(60 + rng.Float64()*500)}
		n := 1 + rng.IntN(32)
		c, ok := Cut(Paper{Size: stock}, piece, n)
		if !ok {
			if stock.Holds(piece) || stock.Turned().Holds(piece) {
				t.Fatalf("%v fits %v but was not cut", piece, stock)
			}
			continue
		}
		total := 0.0
		for i, p := range c.Pieces {
			if p.X < -0.01 || p.Y < -0.01 || p.X+p.Size.W > c.Stock.W+0.01 || p.Y+p.Size.H > c.Stock.H+0.01 {
				t.Fatalf("piece %+v lies outside %v", p, c.Stock)
			}
			for _, q := range c.Pieces[:i] {
				if p.X < q.X+q.Size.W-0.01 && q.X < p.X+p.Size.W-0.01 && p.Y < q.Y+q.Size.H-0.01 && q.Y < p.Y+p.Size.H-0.01 {
					t.Fatalf("pieces %+v and %+v overlap", p, q)
				}
			}
			total += area(p.Size)
		}
		for _, o := range c.Offcuts {
			total += area(o)
		}
		if math.Abs(total-area(c.Stock)) > 1 {
			t.Fatalf("pieces and offcuts cover %v mm²; want %v", total, area(c.Stock))
		}
		if c.Sheets*c.PerSheet() < n || (c.Sheets-1)*c.PerSheet() >= n || c.Waste < -1e-9 || c.Waste >= 1 {
			t.Fatalf("%d sheets of %d for %d, waste %v", c.Sheets, c.PerSheet(), n, c.Waste)
		}
	}
}

func TestRankStock(t *testing.T) {
	list := RankStock(inches(9, 12), 24, Papers)
	if len(list) < 5 || list[0].Waste > 1e-9 {
		t.Fatalf("%d ways, the first wastes %v; want none wasted", len(list), list[0].Waste)
	}
	for i, c := range list[1:] {
		if c.Waste < list[i].Waste-1e-9 {
			t.Errorf("%s wastes less than %s before it", c.Paper.Name, list[i].Paper.Name)
		}
	}
}

func TestPlaceOn(t *testing.T) {
	// A head of 4 × 5 in at 3, 1 of a 10 × 14 in picture, enlarged 1.5 on 18 × 24
	// with 1-inch margins and a 1-inch strip, worked by hand: the whole is 15 × 21
	// in 16 × 21, so it starts at 1 1/2, 1, and the head at 6, 2 1/2.
	part := Part{Whole: inches(10, 14), X: 3 * 25.4, Y: 25.4, Size: inches(4, 5)}
	p, err := PlaceOn(inches(18, 24), part, 1.5, 25.4, 25.4, Inch)
	if err != nil || !near(p.X, 6*25.4) || !near(p.Y, 2.5*25.4) || !near(p.Size.W, 6*25.4) {
		t.Errorf("placed at %v, %v size %v, %v; want 6, 2 1/2 in", p.X/25.4, p.Y/25.4, p.Size.Text(Inch), err)
	}
	if _, err := PlaceOn(inches(18, 24), part, 2, 25.4, 25.4, Inch); !errors.Is(err, ErrRoom) {
		t.Errorf("doubled: %v; want ErrRoom", err)
	}
	if _, err := PlaceOn(inches(4, 4), part, 1, 60, 0, Inch); !errors.Is(err, ErrRoom) {
		t.Errorf("margins wider than the sheet: %v; want ErrRoom", err)
	}
}

// What is said of an enlargement, at and beside the scales where it changes
// (common practice, no source).
func TestEnlargementAdvice(t *testing.T) {
	for _, c := range []struct {
		scale float64
		words string
		hard  bool
	}{
		{0.5, "smaller", true}, {0.994, "smaller", true}, {0.996, "Same size", false}, {1, "Same size", false}, {1.004, "Same size", false},
		{1.006, "usual enlargements", false}, {1.5, "One of the two", false}, {1.75, "usual enlargements", false}, {2, "One of the two", false}, {3, "usual enlargements", false},
	} {
		if words, hard := EnlargementAdvice(c.scale); !strings.Contains(words, c.words) || hard != c.hard {
			t.Errorf("× %g: %q, hard %v; want %q, %v", c.scale, words, hard, c.words, c.hard)
		}
	}
}

// Printers hold Letter where people measure in inches, A4 elsewhere (common practice).
func TestOfficePaper(t *testing.T) {
	for u, want := range map[Unit]string{Inch: "Letter", Centimetre: "A4", Millimetre: "A4"} {
		if got := OfficePaper(u); got.Name != want || got.Kind != Office || got.Size.W <= 0 {
			t.Errorf("for %s: %+v; want %s", u, got, want)
		}
	}
}
