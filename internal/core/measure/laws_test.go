package measure

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// sheetPart is a rectangle of paper while it is cut.
type sheetPart struct{ x, y, w, h float64 }

// cutApart does the cuts one after the other, as a trimmer would: a cut goes right
// through parts that lie side by side, from end to end, and along no edge.
func cutApart(t *testing.T, c Cutting) []sheetPart {
	t.Helper()
	parts := []sheetPart{{0, 0, float64(c.Stock.W), float64(c.Stock.H)}}
	for i, cut := range c.Cuts {
		at, from, to, through := float64(cut.At), float64(cut.From), float64(cut.To), 0.0
		var next []sheetPart
		for _, p := range parts {
			along, across, start, begin := p.h, p.w, p.x, p.y
			if !cut.Upright {
				along, across, start, begin = p.w, p.h, p.y, p.x
			}
			if at <= start+1e-6 || at >= start+across-1e-6 || begin < from-1e-6 || begin+along > to+1e-6 {
				next = append(next, p)
				continue
			}
			a, b := p, p
			if cut.Upright {
				a.w, b.x, b.w = at-p.x, at, p.x+p.w-at
			} else {
				a.h, b.y, b.h = at-p.y, at, p.y+p.h-at
			}
			next, through = append(next, a, b), through+along
		}
		if math.Abs(through-(to-from)) > 1e-6 {
			t.Fatalf("cut %d of %d, %+v, goes through %g mm of %v", i+1, len(c.Cuts), cut, through, parts)
		}
		parts = next
	}
	return parts
}

// Done one after the other, the cuts leave the pieces and the offcuts, and
// nothing else: whatever the sizes, and where they divide the stock exactly.
func TestCutsLeavePiecesAndOffcuts(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 8))
	try := func(stock, piece Size) {
		t.Helper()
		c, ok := Cut(Paper{Size: stock}, piece, 1)
		if !ok {
			return
		}
		var got, want []float64 // areas and sides, sorted: what is left
		for _, p := range cutApart(t, c) {
			got = append(got, p.w*1e4+p.h)
		}
		for _, p := range c.Pieces {
			want = append(want, float64(p.Size.W)*1e4+float64(p.Size.H))
		}
		for _, o := range c.Offcuts {
			want = append(want, float64(o.W)*1e4+float64(o.H))
		}
		slices.Sort(got)
		slices.Sort(want)
		if len(got) != len(want) {
			t.Fatalf("%v from %v: the cuts leave %d parts; want %d pieces and %d offcuts", piece, stock, len(got), len(c.Pieces), len(c.Offcuts))
		}
		for i := range got {
			if math.Abs(got[i]-want[i]) > 0.05 {
				t.Fatalf("%v from %v: the cuts leave %v; want %v", piece, stock, got, want)
			}
		}
	}
	for range 300 {
		try(Size{Length(300 + rng.Float64()*700), Length(300 + rng.Float64()*700)}, Size{Length(60 + rng.Float64()*500), Length(60 + rng.Float64()*500)})
	}
	for _, whole := range []float64{1, 2, 3, 4, 5} {
		for _, high := range []float64{1, 2, 3} {
			try(Size{Length(100 * whole), Length(70 * high)}, Size{100, 70})
			try(Size{Length(100*whole) + 30, Length(70 * high)}, Size{100, 70})
			try(Size{Length(100 * whole), Length(70*high) + 100}, Size{100, 70})
		}
	}
	// 400 pieces are the most; one more way round and none is cut.
	if c, ok := Cut(Paper{Size: Size{200, 200}}, Size{10, 10}, 1); !ok || c.PerSheet() != 400 {
		t.Errorf("20 × 20: %d pieces, %v; want 400", c.PerSheet(), ok)
	}
	if c, ok := Cut(Paper{Size: Size{210, 200}}, Size{10, 10}, 1); ok {
		t.Errorf("21 × 20: %d pieces; want none", c.PerSheet())
	}
}

// What a person is told of the cuts: which go right through, and which through one piece.
func TestCutWords(t *testing.T) {
	c, _ := Cut(Paper{Size: inches(12, 18)}, inches(12, 14.25), 1)
	if got := strings.Join(c.Words(Inch), " "); got != "Cut 1: 14 1/4 in from the top, right across. Left over: 12 × 3 3/4 in." {
		t.Errorf("said %q", got)
	}
	c, _ = Cut(Paper{Size: inches(18, 24)}, inches(12, 18), 1)
	for i, cut := range c.Cuts {
		whole := c.Stock.W
		if cut.Upright {
			whole = c.Stock.H
		}
		if through := strings.Contains(c.Words(Inch)[i], "through that piece only"); through != (cut.To-cut.From < whole-0.01) {
			t.Errorf("cut %+v of %v: %q", cut, c.Stock, c.Words(Inch)[i])
		}
	}
}

// Of papers that waste alike the one with fewer sheets comes first, and less
// waste before either.
func TestRankStockOrder(t *testing.T) {
	papers := []Paper{{Name: "one", Size: Size{100, 200}}, {Name: "four", Size: Size{200, 400}}, {Name: "wasteful", Size: Size{100, 390}}}
	var names []string
	for _, c := range RankStock(Size{100, 200}, 8, papers) {
		names = append(names, c.Paper.Name)
	}
	if got := strings.Join(names, " "); got != "four one wasteful" {
		t.Errorf("ranked %s; want four one wasteful", got)
	}
}

// The roundings are those that a plain search over every multiple of every step
// finds, in rising order of squash, each with the coarsest step that makes it.
func TestRoundingsBySearch(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 1))
	for i := range 400 {
		u := []Unit{Inch, Centimetre}[i%2]
		frame := Size{Length(80 + rng.Float64()*200), Length(80 + rng.Float64()*200)}
		stock := Size{Length(200 + rng.Float64()*300), Length(200 + rng.Float64()*300)}
		sheet := frame.Scale(1 + rng.Float64()*1.2)
		if i%5 == 0 { // a side that is a multiple already
			sheet.H = 4 * RoundSteps(u)[1]
		}
		if i%7 == 0 { // and a stock that holds it to the hair
			stock.H = sheet.H
		}
		byHeight := i%3 > 0
		side, whole := sheet.W, stock.W
		if byHeight {
			side, whole = sheet.H, stock.H
		}
		want := map[int]Length{} // hundredths of a millimetre to the coarsest step
		for _, step := range RoundSteps(u) {
			below, above := -1.0, math.Inf(1)
			for n := 0.0; n*float64(step) <= float64(whole)+0.01; n++ {
				v := n * float64(step)
				if v <= float64(side)+1e-6 {
					below = v
				} else if v < above {
					above = v
				}
			}
			if below > 0 && float64(side)-below < float64(step) {
				want[int(math.Round(below*100))] = step
			}
			if !math.IsInf(above, 1) && float64(side)-below >= 0.01 {
				want[int(math.Round(above*100))] = max(want[int(math.Round(above*100))], step)
			}
		}
		got := Roundings(frame, sheet, stock, byHeight, u)
		last := 0.0
		for _, r := range got {
			to, kept := r.Sheet.W, r.Sheet.H == sheet.H
			if byHeight {
				to, kept = r.Sheet.H, r.Sheet.W == sheet.W
			}
			if step, ok := want[int(math.Round(float64(to)*100))]; !ok || step != r.Step || !kept || !near(r.Offcut, whole-to) || math.Abs(r.Squash-Squash(frame, r.Sheet)) > 1e-12 {
				t.Fatalf("%v in %v, by height %v: %+v is not among %v", sheet, stock, byHeight, r, want)
			}
			if math.Abs(r.Squash) < last-1e-9 {
				t.Fatalf("%v in %v: %+v is out of order", sheet, stock, got)
			}
			last = math.Abs(r.Squash)
		}
		if len(got) != len(want) {
			t.Fatalf("%v in %v, by height %v: %d roundings, %+v; a search finds %v", sheet, stock, byHeight, len(got), got, want)
		}
	}
}

// The whole picture stands in the middle of what margins and strip leave, and the
// part stays where it is on it; the scale that is named when it does not fit does.
func TestPlaceOnLaws(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 9))
	for range 300 {
		final := Size{Length(300 + rng.Float64()*300), Length(300 + rng.Float64()*300)}
		p := Part{Whole: Size{Length(100 + rng.Float64()*100), Length(100 + rng.Float64()*100)}, X: Length(rng.Float64() * 40), Y: Length(rng.Float64() * 40), Size: Size{50, 40}}
		margin, strip, k := Length(rng.Float64()*20), Length(rng.Float64()*40), 0.5+rng.Float64()
		at, err := PlaceOn(final, p, k, margin, strip, Centimetre)
		if err != nil {
			most := min(float64((final.W-2*margin)/p.Whole.W), float64((final.H-2*margin-strip)/p.Whole.H))
			if k <= most {
				t.Fatalf("× %g of %v on %v: %v, although %g fits", k, p.Whole, final, err, most)
			}
			if _, err := PlaceOn(final, p, most, margin, strip, Centimetre); err != nil {
				t.Fatalf("× %g, the most that fits: %v", most, err)
			}
			continue
		}
		left, right := at.WholeX-margin, final.W-margin-at.WholeX-at.Whole.W
		top, bottom := at.WholeY-margin, final.H-margin-strip-at.WholeY-at.Whole.H
		if !near(left, right) || !near(top, bottom) || left < -0.01 || top < -0.01 {
			t.Fatalf("%v left, %v right, %v above, %v below: not in the middle", left, right, top, bottom)
		}
		if !near(at.X-at.WholeX, p.X*Length(k)) || !near(at.Y-at.WholeY, p.Y*Length(k)) || at.Whole != p.Whole.Scale(k) || at.Size != p.Size.Scale(k) {
			t.Fatalf("the part stands at %v, %v of %+v", at.X, at.Y, at)
		}
	}
	if _, err := PlaceOn(Size{100, 100}, Part{Whole: Size{10, 10}, Size: Size{10, 10}}, 1, 50, 0, Centimetre); err == nil || !strings.Contains(err.Error(), "leave nothing") {
		t.Errorf("margins that meet: %v; want that they leave nothing", err)
	}
	if _, err := PlaceOn(Size{100, 100}, Part{Whole: Size{10, 10}, Size: Size{10, 10}}, 1, 0, 100, Centimetre); err == nil || !strings.Contains(err.Error(), "leave nothing") {
		t.Errorf("a strip as high as the sheet: %v; want that it leaves nothing", err)
	}
}

// Sizes are held to a hundredth of a millimetre.
func TestHolds(t *testing.T) {
	s := Size{100, 200}
	for o, want := range map[Size]bool{{100, 200}: true, {100.009, 200}: true, {100, 200.009}: true, {100.011, 200}: false, {100, 200.011}: false, {99, 201}: false} {
		if s.Holds(o) != want {
			t.Errorf("%v holds %v: %v; want %v", s, o, !want, want)
		}
	}
}

// Products are written as sixteenths where those say it exactly, else as decimals
// that say whether they are.
func TestNumber(t *testing.T) {
	for _, c := range []struct {
		v     float64
		u     Unit
		text  string
		exact bool
	}{
		{114, Inch, "114", true}, {57.0625, Inch, "57 1/16", true}, {0.5, Inch, "1/2", true}, {56.7, Inch, "56.7", true}, {56.70049, Inch, "56.7", false},
		{0.5, Centimetre, "0.5", true}, {1.0 / 3, Centimetre, "1/3", true}, {2.0 / 3, Inch, "2/3", true}, {-2.5, Inch, "-2 1/2", true}, {1.0 / 7, Inch, "0.143", false},
	} {
		if f := FigureOf(c.v, c.u); f.String() != c.text || f.about == c.exact {
			t.Errorf("%g in %s: %q, about %v; want %q, exact %v", c.v, c.u, f, f.about, c.text, c.exact)
		}
	}
}

// What is longer than any length or size that a person writes is refused, and
// what is as long is read.
func TestLongWords(t *testing.T) {
	for zeros, fine := range map[int]bool{20: true, 56: true, 70: false} {
		_, err := Parse(strings.Repeat("0", zeros)+"7 in", Inch)
		if (err == nil) != fine {
			t.Errorf("%d zeros before 7 in: %v; want fine %v", zeros, err, fine)
		}
	}
}

// Worked by hand: a sheet of 420 × 594 mm less 10 mm all round is 400 × 574. A
// picture of 200 × 300 fits it 574 ÷ 300 = 1.91 times, one of 300 × 200 400 ÷ 300
// = 1.33 times; margins that leave nothing are said as such.
func TestPlacesThatDoNotFit(t *testing.T) {
	final := Size{W: 420, H: 594}
	for whole, want := range map[Size]string{{W: 200, H: 300}: "at most 1.91", {W: 300, H: 200}: "at most 1.33"} {
		if _, err := PlaceOn(final, Part{Whole: whole, Size: whole}, 3, 10, 0, Centimetre); !errors.Is(err, ErrRoom) || !strings.Contains(err.Error(), want) {
			t.Errorf("%v three times: %v; want %s", whole, err, want)
		}
	}
	for _, c := range []struct{ margin, strip Length }{{210, 0}, {10, 574}} {
		if _, err := PlaceOn(final, Part{Whole: Size{W: 1, H: 1}}, 1, c.margin, c.strip, Centimetre); !errors.Is(err, ErrRoom) || !strings.Contains(err.Error(), "leave nothing") {
			t.Errorf("margins of %v and a strip of %v: %v", c.margin, c.strip, err)
		}
	}
}

// Of papers that waste alike the one of which fewer are needed comes first; a
// cut that ends at another says so.
func TestCuttingInWords(t *testing.T) {
	list := RankStock(Size{W: 100, H: 100}, 4, []Paper{{Name: "small", Size: Size{W: 100, H: 125}}, {Name: "large", Size: Size{W: 200, H: 250}}})
	if len(list) != 2 || math.Abs(list[0].Waste-list[1].Waste) > 1e-9 || list[0].Waste < 0.1 || list[0].Sheets > list[1].Sheets {
		t.Errorf("%+v; want the large sheet first", list)
	}
	c := Cutting{Stock: Size{W: 300, H: 400}, Cuts: []CutLine{{At: 50, From: 0, To: 300},
		{At: 80, From: 100, To: 300}, {At: 90, From: 150, To: 400, Upright: true},
		{At: 95, From: 0, To: 400, Upright: true}}}
	for i, want := range []string{"right across", "through that piece only", "through that piece only", "from top to bottom"} {
		if got := c.Words(Centimetre)[i]; !strings.Contains(got, want) {
			t.Errorf("cut %d: %s; want %s", i+1, got, want)
		}
	}
}

// Forty letters of what was typed are shown in full, more are cut.
func TestLongWordsInErrors(t *testing.T) {
	for n, cut := range map[int]bool{40: false, 41: true} {
		if _, err := Parse(strings.Repeat("x", n), Inch); err == nil || strings.Contains(err.Error(), "…") != cut {
			t.Errorf("%d letters: %v", n, err)
		}
	}
}

// The scale that a refusal offers is taken when it is typed, to its last digit.
func TestOfferedScalesFit(t *testing.T) {
	dice := rand.New(rand.NewPCG(6, 14))
	refused := 0
	for range 3000 {
		final := Size{Length(200 + dice.IntN(800)), Length(200 + dice.IntN(800))}
		whole := Size{Length(50 + dice.IntN(300)), Length(50 + dice.IntN(300))}
		part := Part{Whole: whole, Size: whole}
		_, err := PlaceOn(final, part, 20, 10, 5, Centimetre)
		if err == nil {
			continue
		}
		refused++
		_, after, found := strings.Cut(err.Error(), "at most ")
		most, _, _ := strings.Cut(after, " ")
		k, err2 := strconv.ParseFloat(most, 64)
		if _, err := PlaceOn(final, part, k, 10, 5, Centimetre); !found || err2 != nil || err != nil {
			t.Fatalf("%v on %v: %s is offered, and then %v", whole, final, most, err)
		}
	}
	if refused < 1000 {
		t.Errorf("%d were refused", refused)
	}
}
