package finish

import (
	"errors"
	"image"
	"image/color"
	"math"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// four is a plan of 4 × 4 boxes of 40 mm on a sheet of 160 × 160 mm.
func four(t testing.TB) grid.Plan {
	t.Helper()
	p, err := grid.Make(grid.Request{Reference: "80x80mm", Paper: "160x160mm", Method: "parts", Parts: "4 x 4", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	return p
}

const perMM = 4

// drawn is a picture of the plan's sheet: tone says L-like grey, 0 to 255, at a place in mm.
func drawn(tone func(x, y float64) float64) *image.RGBA {
	const side = 160 * perMM
	img := image.NewRGBA(image.Rect(0, 0, side, side))
	for y := range side {
		for x := range side {
			g := uint8(max(0, min(255, tone((float64(x)+0.5)/perMM, (float64(y)+0.5)/perMM))))
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	return img
}

func inked(t testing.TB, tone func(x, y float64) float64, hand grid.Hand) Ink {
	t.Helper()
	ink, err := NewInk(drawn(tone), InkWish{Plan: four(t), PerMM: perMM, Dark: 40, Hand: hand})
	if err != nil {
		t.Fatal(err)
	}
	return ink
}

// dots are black discs on white, one for each x, y, radius in mm.
func dots(all ...[3]float64) func(x, y float64) float64 {
	return func(x, y float64) float64 {
		for _, d := range all {
			if math.Hypot(x-d[0], y-d[1]) < d[2] {
				return 10
			}
		}
		return 250
	}
}

// Tools by size and thinness: a line and a small dot by the fine tip, a large
// black by the marker, a very large one by the pencil; sizes are those of discs.
func TestToolsBySizeAndThinness(t *testing.T) {
	tone := func(x, y float64) float64 {
		if y > 150 && y < 151.2 && x > 20 && x < 140 {
			return 10 // a line 1.2 mm thick
		}
		return dots([3]float64{20, 20, 2}, [3]float64{60, 20, 10}, [3]float64{110, 90, 35})(x, y)
	}
	ink := inked(t, tone, grid.RightHand)
	if ink.Lines < 100 || ink.Lines > 180 {
		t.Errorf("%.0f mm of lines; want the one of 120", ink.Lines)
	}
	want := map[Tool][]float64{FineTip: {math.Pi * 4}, Marker: {math.Pi * 100}, Pencil: {math.Pi * 35 * 35}}
	for tool, sizes := range want {
		var got []float64
		for _, a := range ink.Areas {
			if a.Tool == tool {
				got = append(got, a.MM2)
			}
		}
		slices.Sort(got)
		if len(got) != len(sizes) {
			t.Errorf("%s: %v; want %v", tool, got, sizes)
			continue
		}
		for i := range got {
			if math.Abs(got[i]/sizes[i]-1) > 0.12 {
				t.Errorf("%s: %.1f mm²; want %.1f", tool, got[i], sizes[i])
			}
		}
	}
	for _, a := range ink.Areas {
		if a.Tool == Marker && (math.Abs(a.Breadth-20) > 1 || math.Abs(a.Round-2*math.Pi*10) > 2) {
			t.Errorf("the disc of 20 mm is %.1f broad, %.1f round", a.Breadth, a.Round)
		}
	}
}

// What the picture's own outlines join are darks of their own, and a dark colour is none.
func TestOutlinesAndColoursAreNoDarks(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 160*perMM, 160*perMM))
	ink, cloth, paper := color.RGBA{20, 20, 20, 255}, color.RGBA{30, 50, 120, 255}, color.RGBA{255, 255, 255, 255}
	for y := range 160 * perMM {
		for x := range 160 * perMM {
			mx, my := (float64(x)+0.5)/perMM, (float64(y)+0.5)/perMM
			c := paper
			if mx > 40 && mx < 120 && my > 60 && my < 120 {
				c = cloth
			}
			edge := max(math.Abs(mx-80)-40, math.Abs(my-90)-30)
			if math.Abs(edge) < 0.8 || math.Hypot(mx-40, my-60) < 9 || math.Hypot(mx-120, my-120) < 9 || math.Abs(my-20) < 0.8 && mx > 20 && mx < 140 {
				c = ink // an outline of 1.6 mm round the cloth, which joins two discs
			}
			img.SetRGBA(x, y, c)
		}
	}
	plan, err := NewInk(img, InkWish{Plan: four(t), PerMM: perMM, Dark: 45})
	if err != nil {
		t.Fatal(err)
	}
	if len(plan.Areas) != 2 || math.Abs(plan.Areas[0].MM2/(math.Pi*81)-1) > 0.15 || plan.Areas[0].Tool == Pencil {
		t.Errorf("%d darks, %+v; want the two discs", len(plan.Areas), plan.Areas)
	}
	if plan.Lines < 300 {
		t.Errorf("%.0f mm of lines; want the outline of 280 and the line of 120", plan.Lines)
	}
}

// Areas add up: dark of the map is dark of the plan, and the minutes are those
// of its parts.
func TestInkAddsUp(t *testing.T) {
	ink := inked(t, dots([3]float64{30, 30, 8}, [3]float64{90, 50, 12}, [3]float64{120, 120, 20}), grid.RightHand)
	sum, minutes := 0.0, ink.Lines/outlinePace/60
	for _, a := range ink.Areas {
		sum, minutes = sum+a.MM2, minutes+a.Minutes
	}
	if want := ink.Map.Levels[0].Share * 160 * 160; math.Abs(sum-want) > 1 || math.Abs(minutes-ink.Minutes) > 1e-9 {
		t.Errorf("%.1f mm² in %.2f minutes; want %.1f and %.2f", sum, ink.Minutes, want, minutes)
	}
	parts := 0
	for _, tool := range []Tool{FineTip, Marker, Pencil} {
		n, _, _ := ink.Sum(tool)
		parts += n
	}
	if parts != len(ink.Areas) {
		t.Errorf("%d areas by tool, %d in all", parts, len(ink.Areas))
	}
}

// A right hand goes down and to the right, a left hand down and to the left.
func TestInkOrderByHand(t *testing.T) {
	tone := dots([3]float64{20, 20, 6}, [3]float64{140, 20, 6}, [3]float64{20, 140, 6}, [3]float64{140, 140, 6})
	for left, want := range map[grid.Hand][]string{grid.RightHand: {"A1", "D1", "A4", "D4"}, grid.LeftHand: {"D1", "A1", "D4", "A4"}} {
		var got []string
		for _, a := range inked(t, tone, left).Areas {
			got = append(got, a.Boxes[0])
		}
		if !slices.Equal(got, want) {
			t.Errorf("%s hand: %v; want %v", left, got, want)
		}
	}
}

// A thin white between two blacks, a small white inside one, and grid lines
// under the dark are named in their boxes and nowhere else.
func TestRisksAndGridUnderInk(t *testing.T) {
	tone := func(x, y float64) float64 {
		switch {
		case y > 10 && y < 30 && x > 5 && x < 35 && math.Abs(x-20) > 0.5: // A1: two blacks 1 mm apart
			return 10
		case math.Hypot(x-100, y-100) < 2: // C3: a white dot
			return 250
		case math.Hypot(x-100, y-100) < 10:
			return 10
		case math.Hypot(x-80, y-140) < 12: // on the line between B4 and C4
			return 10
		}
		return 250
	}
	ink := inked(t, tone, grid.RightHand)
	risk := map[string]string{}
	for _, r := range ink.Risks {
		risk[r.Box] = r.Why
	}
	if len(risk) != 2 || !strings.Contains(risk["A1"], "thin white") || !strings.Contains(risk["C3"], "small white") {
		t.Errorf("risks %v", ink.Risks)
	}
	if !slices.Equal(ink.Erase, []string{"C4"}) {
		t.Errorf("erase in %v; want C4", ink.Erase)
	}
	// The dot of 24 mm on the line has 24 mm of it underneath, from 128 to 152.
	if len(ink.Ruled) != 1 || math.Abs(ink.Ruled[0][0].Y-128) > 0.6 || math.Abs(ink.Ruled[0][1].Y-152) > 0.6 || ink.Ruled[0][0].X != 80 {
		t.Errorf("ruled under ink: %v", ink.Ruled)
	}
}

// Nothing dark, all dark, one pixel and a wish that cannot be.
func TestStrangeInk(t *testing.T) {
	if ink := inked(t, func(x, y float64) float64 { return 250 }, grid.RightHand); len(ink.Areas) != 0 || len(ink.Risks) != 0 {
		t.Errorf("white paper: %d areas, %v", len(ink.Areas), ink.Risks)
	}
	if ink := inked(t, func(x, y float64) float64 { return 0 }, grid.RightHand); len(ink.Areas) != 1 || ink.Areas[0].Tool != Pencil || len(ink.Areas[0].Boxes) != 16 {
		t.Errorf("all black: %+v", ink.Areas)
	}
	if _, err := NewInk(image.NewRGBA(image.Rect(0, 0, 1, 1)), InkWish{Plan: four(t), PerMM: 1, Dark: 40}); err != nil {
		t.Errorf("one pixel: %v", err)
	}
	for _, w := range []InkWish{{Plan: four(t), PerMM: 4}, {Plan: four(t), Dark: 40}, {Plan: four(t), PerMM: 4, Dark: math.NaN()}} {
		if _, err := NewInk(drawn(dots()), w); !errors.Is(err, ErrWish) {
			t.Errorf("%v, %v: %v; want ErrWish", w.Dark, w.PerMM, err)
		}
	}
}

// Marks by texture: each row of boxes has one, made for it.
func TestMarksByTexture(t *testing.T) {
	tone := func(x, y float64) float64 {
		switch int(y/40)*4 + int(x/40) {
		case 0: // even and light
			return 190
		case 1: // rounded
			return 60 + 3.5*(x-40)
		case 2: // an upright grain
			return 150 + 60*math.Sin(x*3)
		case 3: // a grain that falls to the right
			return 150 + 60*math.Sin((x-y)*2.2)
		case 4: // a lying grain
			return 150 + 60*math.Sin(y*3)
		case 5: // rough, light
			return 190 + 50*math.Sin(x*2.5)*math.Sin(y*2.5)
		case 6: // rough, dark
			return 80 + 50*math.Sin(x*2.5)*math.Sin(y*2.5)
		case 7: // even and dark
			return 40
		}
		return 254
	}
	img := drawn(tone)
	m, err := values.New(img, values.Wish{Steps: 3, Rule: values.EvenLight, PerMM: perMM, LeastArea: 400, Neck: 6})
	if err != nil {
		t.Fatal(err)
	}
	plan := NewTone(img, m, ToneWish{Plan: four(t)})
	got := map[string]string{}
	for _, k := range plan.Marks {
		got[k.Box] = k.Mark
	}
	for box, want := range map[string]string{"A1": "side of the lead", "B1": "blend by pressure", "C1": "upright", "D1": "falling to the right by about 45°", "A2": "lying",
		"B2": "stipple", "C2": "scribble", "D2": "cross-hatch", "B3": "leave the paper"} {
		if !strings.Contains(got[box], want) {
			t.Errorf("%s: %q; want %q", box, got[box], want)
		}
	}
	if !slices.Contains(plan.Whites, "B3") || slices.Contains(plan.Whites, "D2") {
		t.Errorf("whites %v", plan.Whites)
	}
}

// The order of tones: the darkest first, or last where the class goes that way;
// shares add up, and a box named for a step has its fifth of it.
func TestOrderOfTones(t *testing.T) {
	img := drawn(func(x, y float64) float64 { return 20 + 230*math.Floor(x/40)/3 })
	m, err := values.New(img, values.Wish{Steps: 4, Rule: values.EvenLight, PerMM: perMM, LeastArea: 50, Neck: 1})
	if err != nil {
		t.Fatal(err)
	}
	first, last := NewTone(img, m, ToneWish{Plan: four(t)}), NewTone(img, m, ToneWish{Plan: four(t), DarksLast: true})
	if len(first.Steps) != 4 || first.Steps[0].Number != 1 || last.Steps[0].Number != 4 {
		t.Fatalf("first %+v, last %+v", first.Steps, last.Steps)
	}
	sum := 0.0
	for i, s := range first.Steps {
		sum += s.Share
		if i > 0 && s.Light <= first.Steps[i-1].Light {
			t.Errorf("step %d is not lighter than the one before", s.Number)
		}
		if len(s.Boxes) != 4 {
			t.Errorf("step %d in %v; want one column", s.Number, s.Boxes)
		}
	}
	if math.Abs(sum-1) > 1e-9 || !slices.Equal(first.Steps[0].Boxes, []string{"A1", "A2", "A3", "A4"}) {
		t.Errorf("shares %v, the darkest in %v", sum, first.Steps[0].Boxes)
	}
}

func BenchmarkInk(b *testing.B) {
	img, w := drawn(dots([3]float64{30, 30, 8}, [3]float64{90, 50, 12}, [3]float64{120, 120, 20})), InkWish{Plan: four(b), PerMM: perMM, Dark: 40}
	for b.Loop() {
		if _, err := NewInk(img, w); err != nil {
			b.Fatal(err)
		}
	}
}

// A picture mirrored and inked by the other hand is inked in the mirrored order;
// its sizes and minutes are the same.
func TestInkMirrored(t *testing.T) {
	tone := dots([3]float64{30, 25, 7}, [3]float64{95, 30, 9}, [3]float64{60, 70, 12}, [3]float64{130, 110, 6}, [3]float64{20, 130, 10})
	right := inked(t, tone, grid.RightHand)
	left := inked(t, func(x, y float64) float64 { return tone(160-x, y) }, grid.LeftHand)
	if len(right.Areas) != len(left.Areas) {
		t.Fatalf("%d and %d areas", len(right.Areas), len(left.Areas))
	}
	for i, a := range right.Areas {
		b := left.Areas[i]
		if math.Abs(a.At.X-(160-b.At.X)) > 1.5 || math.Abs(a.At.Y-b.At.Y) > 1.5 || math.Abs(a.MM2-b.MM2) > 2 || math.Abs(a.Minutes-b.Minutes) > 0.02 || a.Number != i+1 {
			t.Errorf("area %d: %+v; mirrored %+v", i+1, a, b)
		}
	}
}

// A fine tip takes longer over an area than a marker would, and a larger area
// of one tool longer than a smaller one.
func TestMinutesGrow(t *testing.T) {
	last := Area{}
	for r := 0.5; r < 40; r += 0.5 {
		a := Area{MM2: math.Pi * r * r, Breadth: 2 * r, Round: 2 * math.Pi * r}
		a.choose()
		if a.Tool == last.Tool && a.Minutes <= last.Minutes {
			t.Errorf("a disc of %.1f mm takes %.2f minutes, a smaller one %.2f", r, a.Minutes, last.Minutes)
		}
		if fine := (a.Round/outlinePace + a.MM2/fineFill) / 60; a.Tool != FineTip && fine <= a.Minutes {
			t.Errorf("a disc of %.1f mm by %s takes %.2f minutes, by the fine tip %.2f", r, a.Tool, a.Minutes, fine)
		}
		last = a
	}
	if last.Tool != Pencil {
		t.Errorf("the largest disc is for %s", last.Tool)
	}
}

// A bar with sharp sides and a slow shadow on the other side of the sheet: the boxes of the one are named hard, those
// of the other soft, and plain paper neither.
func TestHardAndSoftEdges(t *testing.T) {
	p := four(t) // 4 × 4 boxes of 40 mm
	img := image.NewRGBA(image.Rect(0, 0, int(p.Sheet.Width*perMM), int(p.Sheet.Height*perMM)))
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			mm := plane.Pt(float64(x)/perMM, float64(y)/perMM)
			v := 235.0
			if mm.X > 10 && mm.X < 30 && mm.Y > 10 && mm.Y < 70 { // A1 and A2
				v = 60
			}
			if d := math.Hypot(mm.X-140, mm.Y-140); d < 26 { // a round shadow, 14 mm from dark to light
				v -= 150 * min(1, (26-d)/14)
			}
			img.SetRGBA(x, y, color.RGBA{uint8(v), uint8(v), uint8(v), 255})
		}
	}
	e := NewEdges(img, perMM, p)
	if !slices.Contains(e.Hard, "A1") || !slices.Contains(e.Hard, "A2") || slices.Contains(e.Hard, "D4") || !slices.Contains(e.Soft, "D4") || slices.Contains(e.Soft, "A1") || slices.Contains(e.Soft, "B2") {
		t.Errorf("%+v; want A1 and A2 hard, D4 soft", e)
	}
}

// A dark with a sharp border is for ink, one that fades is for pencil however small; the plan has the outline of a light
// area too.
func TestSoftShadowsBelongToPencil(t *testing.T) {
	p := four(t)
	img := image.NewRGBA(image.Rect(0, 0, int(p.Sheet.Width*perMM), int(p.Sheet.Height*perMM)))
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			mm := plane.Pt(float64(x)/perMM, float64(y)/perMM)
			v := 240.0
			switch {
			case mm.X > 10 && mm.X < 30 && mm.Y > 10 && mm.Y < 30:
				v = 15
			case mm.X > 90 && mm.X < 150 && mm.Y > 15 && mm.Y < 60: // a light area
				v = 170
			}
			if d := math.Hypot(mm.X-50, mm.Y-120); d < 34 {
				v = min(v, 15+225*max(0, (d-6)/28))
			}
			img.SetRGBA(x, y, color.RGBA{uint8(v), uint8(v), uint8(v), 255})
		}
	}
	ink, err := NewInk(img, InkWish{Plan: p, PerMM: perMM, Dark: 30})
	if err != nil || len(ink.Areas) != 2 {
		t.Fatalf("%d areas, %v; want two", len(ink.Areas), err)
	}
	for _, a := range ink.Areas {
		if soft := a.At.Y > 80; a.Soft != soft || (a.Tool == Pencil) != soft {
			t.Errorf("the area at %v is soft %v, for %s", a.At, a.Soft, a.Tool)
		}
	}
	if !slices.ContainsFunc(ink.Outline, func(run []plane.Point) bool {
		return slices.ContainsFunc(run, func(q plane.Point) bool { return math.Abs(q.X-120) < 31 && math.Abs(q.Y-15) < 2 })
	}) {
		t.Error("the light area has no outline in the plan")
	}
}
