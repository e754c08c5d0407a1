package measure

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

func near(a, b Length) bool { return math.Abs(float64(a-b)) < 1e-9 }

func TestParse(t *testing.T) {
	// 1 inch is 25.4 mm: international yard and pound agreement, 1959.
	for _, c := range []struct {
		text string
		unit Unit
		want Length
	}{
		{"1in", Centimetre, 25.4},
		{"9 1/2 in", Centimetre, 241.3},
		{`9.5"`, Centimetre, 241.3},
		{"9½ in", Centimetre, 241.3},
		{"9-1/2 inches", Centimetre, 241.3},
		{"9,5", Inch, 241.3},
		{"3/4", Inch, 19.05},
		{"24 cm", Inch, 240},
		{"24", Centimetre, 240},
		{"240mm", Inch, 240},
		{"1.2 m", Inch, 1200},
		{"1' 6\"", Centimetre, 457.2},
		{"1 ft 6 1/2 in", Centimetre, 469.9},
		{"1 yd", Centimetre, 914.4}, // 0.9144 m, the same agreement
		{"-3 cm", Inch, -30},
		{"0", Inch, 0},
	} {
		got, err := Parse(c.text, c.unit)
		if err != nil || !near(got, c.want) {
			t.Errorf("Parse(%q, %s) = %v, %v; want %v", c.text, c.unit, got, err, c.want)
		}
	}
}

func TestParseRefuses(t *testing.T) {
	for _, text := range []string{"", " ", "wide", "9 1/0 in", "1/2/3", "9 9 in", "in", "9 in 3", "1e999", "NaN", "9 parsecs", "--", "9 5/4 in", strings.Repeat("9", 80)} {
		if got, err := Parse(text, Inch); !errors.Is(err, ErrLength) {
			t.Errorf("Parse(%q) = %v, %v; want ErrLength", text, got, err)
		}
	}
}

func TestText(t *testing.T) {
	for _, c := range []struct {
		l    Length
		unit Unit
		want string
	}{
		{241.3, Inch, "9 1/2 in"},
		{361.95, Inch, "14 1/4 in"},
		{12.7, Inch, "1/2 in"},
		{0, Inch, "0 in"},
		{-12.7, Inch, "-1/2 in"},
		{240, Centimetre, "24 cm"},
		{240.5, Centimetre, "24.05 cm"},
		{240.3, Millimetre, "240.5 mm"},
		{100, Millimetre, "100 mm"},
		{-0.1, Centimetre, "0 cm"},
	} {
		if got := c.l.Text(c.unit); got != c.want {
			t.Errorf("%v mm in %s = %q; want %q", float64(c.l), c.unit, got, c.want)
		}
	}
}

// What is written can be read back: to half of the smallest division.
func FuzzLength(f *testing.F) {
	for _, s := range []string{"9 1/2 in", `9.5"`, "24cm", "1' 6\"", "½", "-3", "9 1/16in", "1,5 m"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		l, err := Parse(s, Inch)
		if err != nil {
			return
		}
		if math.IsNaN(float64(l)) || math.IsInf(float64(l), 0) {
			t.Fatalf("Parse(%q) = %v", s, l)
		}
		if math.Abs(float64(l)) > 1e9 {
			return
		}
		for _, u := range []Unit{Inch, Centimetre, Millimetre} {
			back, err := Parse(l.Text(u), u)
			if err != nil || math.Abs(float64(back-l)) > float64(u.Step())/2+1e-6 {
				t.Fatalf("%q is %v mm, written %q, read back %v, %v", s, float64(l), l.Text(u), float64(back), err)
			}
		}
	})
}

func TestParseSize(t *testing.T) {
	for _, c := range []struct {
		text string
		unit Unit
		want Size
	}{
		{"8x9.5in", Centimetre, Size{203.2, 241.3}},
		{"8 × 9 1/2 in", Centimetre, Size{203.2, 241.3}},
		{"8in x 24cm", Millimetre, Size{203.2, 240}},
		{"8in x 9", Centimetre, Size{203.2, 228.6}},
		{"1 ft 6 in x 24", Centimetre, Size{457.2, 609.6}},
		{"20 by 25", Centimetre, Size{200, 250}},
		// ISO 216
		{"A4", Inch, Size{210, 297}}, {"a3", Inch, Size{297, 420}}, {"A2", Inch, Size{420, 594}},
		{"a4 landscape", Inch, Size{297, 210}},
		// ANSI/ASME Y14.1: A is 8 1/2 × 11 in, B is 11 × 17 in
		{"letter", Centimetre, Size{215.9, 279.4}}, {"Tabloid", Centimetre, Size{279.4, 431.8}},
	} {
		got, err := ParseSize(c.text, c.unit)
		if err != nil || !near(got.W, c.want.W) || !near(got.H, c.want.H) {
			t.Errorf("ParseSize(%q) = %v, %v; want %v", c.text, got, err, c.want)
		}
	}
	for _, text := range []string{"", "A44", "8", "8x", "x", "8xwide", "8x9x10"} {
		if got, err := ParseSize(text, Inch); !errors.Is(err, ErrSize) {
			t.Errorf("ParseSize(%q) = %v, %v; want ErrSize", text, got, err)
		}
	}
}

// Every ISO A size is the one above it halved, rounded down to the millimetre (ISO 216).
func TestISOPaperHalves(t *testing.T) {
	for n := 1; n <= 6; n++ {
		big, _ := PaperNamed(fmt.Sprintf("A%d", n-1))
		small, _ := PaperNamed(fmt.Sprintf("A%d", n))
		if want := (Size{Length(math.Floor(float64(big.Size.H) / 2)), big.Size.W}); small.Size != want {
			t.Errorf("A%d is %v; want %v", n, small.Size, want)
		}
	}
}

// The worked proportion, common practice: 8 : 9 1/2 = 12 : x gives 14 1/4;
// cut at 14 it is squashed by 1.75 per cent.
func TestSolveHeight(t *testing.T) {
	frame := inches(8, 9.5)
	p := SolveHeight(frame, 12*MillimetresPerInch, Inch)
	if want := inches(12, 14.25); !near(p.Sheet.W, want.W) || !near(p.Sheet.H, want.H) {
		t.Errorf("sheet %v; want %v", p.Sheet, want)
	}
	if want := []string{"8 : 9 1/2 = 12 : x", "12 × 9 1/2 = 114", "114 ÷ 8 = 14 1/4"}; !slices.Equal(p.Working, want) {
		t.Errorf("working %q; want %q", p.Working, want)
	}
	if got := Squash(frame, inches(12, 14)); math.Abs(got+1.754) > 0.001 {
		t.Errorf("squash %.4f %%; want -1.754 %%", got)
	}
}

func TestSolveWidth(t *testing.T) {
	// Common practice: the box of 18 × 24 paper that is 60 mm wide is 80 mm high.
	p := SolveWidth(inches(18, 24), 80, Millimetre)
	if !near(p.Sheet.W, 60) {
		t.Errorf("width %v; want 60 mm", p.Sheet.W)
	}
	p = SolveWidth(Size{70, 90}, 200, Centimetre)
	if want := []string{"9 : 7 = 20 : x", "20 × 7 = 140", "140 ÷ 9 ≈ 15.556", "15.556 ≈ 15.55 on the ruler, 0.006 cm less"}; !slices.Equal(p.Working, want) {
		t.Errorf("working %q; want %q", p.Working, want)
	}
}

// The diagonals of the square check, common practice: 12 × 14 gives 18.44, 16 × 20 gives 25.61.
func TestDiagonal(t *testing.T) {
	for _, c := range []struct{ w, h, want float64 }{{12, 14, 18.44}, {16, 20, 25.61}} {
		if got := (Size{Length(c.w), Length(c.h)}).Diagonal(); math.Abs(float64(got)-c.want) > 0.005 {
			t.Errorf("diagonal of %v × %v is %v; want %v", c.w, c.h, got, c.want)
		}
	}
}

func ExampleParse() {
	l, _ := Parse("9 1/2 in", Centimetre)
	fmt.Println(l.Text(Inch), "is", l.Text(Centimetre))
	// Output: 9 1/2 in is 24.15 cm
}

// Many inches that are whole feet are told in feet beside; what no ruler shows is about.
func TestLong(t *testing.T) {
	for _, c := range []struct {
		l    Length
		u    Unit
		want string
	}{{600 * MillimetresPerInch, Inch, "600 in (50 ft)"}, {96 * MillimetresPerInch, Inch, "96 in"}, {125 * MillimetresPerInch, Inch, "125 in"},
		{26.25, Centimetre, "≈ 2.65 cm"}, {26.5, Centimetre, "2.65 cm"}} {
		if got := c.l.Long(c.u); got != c.want {
			t.Errorf("%v in %s: %q; want %q", c.l, c.u, got, c.want)
		}
	}
}
