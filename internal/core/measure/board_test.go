package measure

import (
	"math/big"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"
)

var (
	sumOnBoard   = regexp.MustCompile(`^([\d ./]+) ([×÷]) ([\d ./]+) ([=≈]) ([\d ./]+)$`)
	ratioOnBoard = regexp.MustCompile(`^([\d ./]+) : ([\d ./]+) ([=≈]) ([\d ./]+) : x$`)
	rulerOnBoard = regexp.MustCompile(`^([\d ./]+) ≈ ([\d ./]+) on the ruler(?:, ([\d.]+) (?:in|cm|mm) (?:more|less))?$`)
)

// rat reads a figure as a child does: 9, 9 1/2, 1/3 or 9.25.
func rat(t *testing.T, text string) *big.Rat {
	t.Helper()
	sum := new(big.Rat)
	for part := range strings.FieldsSeq(text) {
		r, ok := new(big.Rat).SetString(part)
		if !ok {
			t.Fatalf("%q is no figure", text)
		}
		sum.Add(sum, r)
	}
	return sum
}

// about is what a figure after ≈ may be off: half of its third decimal place.
var about = big.NewRat(1, 2000)

// trueLine fails where a line of the board does not come out with its own figures.
func trueLine(t *testing.T, line string, u Unit) {
	t.Helper()
	off := func(got, want *big.Rat) *big.Rat { d := new(big.Rat).Sub(got, want); return d.Abs(d) }
	if m := sumOnBoard.FindStringSubmatch(line); m != nil {
		a, b, want := rat(t, m[1]), rat(t, m[3]), rat(t, m[5])
		got := new(big.Rat).Mul(a, b)
		if m[2] == "÷" {
			got.Quo(a, b)
		}
		if d := off(got, want); m[4] == "=" && d.Sign() != 0 || d.Cmp(about) > 0 {
			t.Errorf("%q: the figures make %s", line, got.FloatString(6))
		}
		return
	}
	if m := rulerOnBoard.FindStringSubmatch(line); m != nil {
		d := off(rat(t, m[1]), rat(t, m[2]))
		if d.Cmp(big.NewRat(1, map[Unit]int64{Inch: 32, Centimetre: 40, Millimetre: 4}[u])) > 0 || off(d, rat(t, "0 "+m[3])).Cmp(about) > 0 {
			t.Errorf("%q: it is off by %s", line, d.FloatString(6))
		}
		return
	}
	if ratioOnBoard.FindString(line) == "" {
		t.Errorf("%q is no line of a sum", line)
	}
}

// Every line of working is true of the figures that stand in it, for sizes as
// rulers and as cameras make them, and the last figure is the sheet's own side.
func TestBoardsAreTrue(t *testing.T) {
	dice := rand.New(rand.NewPCG(7, 14))
	for range 20_000 {
		u := []Unit{Inch, Centimetre, Millimetre}[dice.IntN(3)]
		side := func() Length { return Length(1+dice.IntN(400)) * u.Step() * 4 }
		frame, width := Size{side(), side()}, side()
		if dice.IntN(2) == 0 { // a picture of so many pixels, printed so wide
			frame.H = frame.W * Length(200+dice.IntN(5000)) / Length(200+dice.IntN(5000))
		}
		p := SolveHeight(frame, width, u)
		if dice.IntN(2) == 0 {
			p = SolveWidth(frame, width, u)
		}
		for _, line := range p.Working {
			trueLine(t, line, u)
		}
	}
}

// The worked examples, the first common practice; the others are sums that came
// out wrong on the board once, done again by hand.
func TestWorkedBoards(t *testing.T) {
	third := Size{inches(7, 28.0/3).W, inches(7, 28.0/3).H}
	for _, c := range []struct {
		got  []string
		want []string
	}{
		{SolveHeight(inches(8, 9.5), 12*MillimetresPerInch, Inch).Working, []string{"8 : 9 1/2 = 12 : x", "12 × 9 1/2 = 114", "114 ÷ 8 = 14 1/4"}},
		{SolveHeight(third, 12*MillimetresPerInch, Inch).Working, []string{"7 : 9 1/3 = 12 : x", "12 × 9 1/3 = 112", "112 ÷ 7 = 16"}},
		{SolveHeight(inches(7, 14.0/3), 12*MillimetresPerInch, Inch).Working, []string{"7 : 4 2/3 = 12 : x", "12 × 4 2/3 = 56", "56 ÷ 7 = 8"}},
		{SolveHeight(Size{180, 101.25}, 420, Centimetre).Working, []string{"16 : 9 = 42 : x", "42 × 9 = 378", "378 ÷ 16 = 23.625", "23.625 ≈ 23.65 on the ruler, 0.025 cm more"}},
		{SolveWidth(inches(6, 9), 8*MillimetresPerInch, Inch).Working, []string{"9 : 6 = 8 : x", "8 × 6 = 48", "48 ÷ 9 = 5 1/3", "5 1/3 ≈ 5 5/16 on the ruler, 0.021 in less"}},
	} {
		if !slices.Equal(c.got, c.want) {
			t.Errorf("%q; want %q", c.got, c.want)
		}
	}
}

// A side within half a division of another is the other; a length that the ruler
// does not show says that it is about so long.
func TestNearAndAbout(t *testing.T) {
	half := Inch.Step() / 2
	to := inches(8, 10)
	for _, c := range []struct{ off, want Length }{{0, 0}, {half * 0.99, 0}, {-half * 0.99, 0}, {half * 1.01, half * 1.01}, {-half * 1.01, -half * 1.01}} {
		if got := (Size{to.W + c.off, to.H}).Near(to, Inch); !near(got.W, to.W+c.want) || got.H != to.H {
			t.Errorf("%v off: %v; want %v off", c.off, got, c.want)
		}
		if got := (Size{to.W, to.H + c.off}).Near(to, Inch); got.W != to.W || !near(got.H, to.H+c.want) {
			t.Errorf("%v off in height: %v; want %v off", c.off, got, c.want)
		}
	}
	for l, want := range map[Length]string{inches(8, 10).Diagonal(): "≈ 12 13/16 in", inches(3, 4).Diagonal(): "5 in"} {
		if got := l.About(Inch); got != want {
			t.Errorf("%v: %q; want %q", l, got, want)
		}
	}
	for v, want := range map[float64]string{0.75: "3/4", 1.75: "1 3/4", 1: "1", 2.0 / 3: "2/3", 1.0 / 16: "1/16", 1.0 / 32: "0.031"} {
		if got := FigureOf(v, Inch).String(); got != want {
			t.Errorf("%g: %q; want %q", v, got, want)
		}
	}
}

// Four places are written where they are exact; what a ruler shows is not odd; a
// ratio is said up to 20, in its least numbers.
func TestFiguresAtTheirBounds(t *testing.T) {
	if line, f := Divide(FigureOf(1, Centimetre), FigureOf(16, Centimetre), Centimetre); line != "1 ÷ 16 = 0.0625" || f.about {
		t.Errorf("%q, about %v", line, f.about)
	}
	for v, odd := range map[float64]bool{24.05: false, 24.03: true, 24: false} {
		if got := FigureOf(v, Centimetre).odd(Centimetre); got != odd {
			t.Errorf("%g cm is odd: %v; want %v", v, got, odd)
		}
	}
	for _, c := range []struct {
		w, h Length
		a, b int64
		ok   bool
	}{{19, 20, 19, 20, true}, {20, 1, 20, 1, true}, {1, 20, 1, 20, true}, {1, 2, 1, 2, true}, {6, 4, 3, 2, true}, {21, 1, 0, 0, false}, {1, 21, 0, 0, false}} {
		if a, b, ok := RatioOf(c.w, c.h); a != c.a || b != c.b || ok != c.ok {
			t.Errorf("%g : %g is %d : %d, %v; want %d : %d, %v", float64(c.w), float64(c.h), a, b, ok, c.a, c.b, c.ok)
		}
	}
}
