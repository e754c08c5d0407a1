package accuracy_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gomedium"
	"golang.org/x/image/font/gofont/gomonobolditalic"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// The scenes of this file are outlines of three more of the Go faces of
// golang.org/x/image v0.47.0; no constant was chosen by them.
func hardScenes(t testing.TB) (scenes []demo.Scene, plans []grid.Plan) {
	t.Helper()
	for _, s := range []demo.Scene{letters(t, gobold.TTF, "S&8a"), letters(t, gomedium.TTF, "gQ2k"), letters(t, gomonobolditalic.TTF, "RB%e")} {
		scenes, plans = append(scenes, s), append(plans, planFor(t, s, "6 x 8"))
	}
	return scenes, plans
}

// steady is a hand that is right but for what a test plants.
func steady(change func(*demo.Hand)) demo.Hand {
	h := demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}
	if change != nil {
		change(&h)
	}
	return h
}

// boxAt returns the column and row of a place on the sheet.
func boxAt(p grid.Plan, at plane.Point) (column, row int) {
	return int(at.X / p.Grid.SheetCell[0]), int(at.Y / p.Grid.SheetCell[1])
}

// One box that slipped while its neighbours did not is seen, where its lines say so
// and none of the others is called wrong for it.
func TestSlippedBox(t *testing.T) {
	scenes, plans := hardScenes(t)
	rng := rand.New(rand.NewPCG(5, 6))
	seen, slips, others, false1 := 0, 0, 0, 0
	for i, s := range scenes {
		p := plans[i]
		straight := look(t, s, p, steady(nil), phone, nil).report
		for _, c := range straight.Cells {
			column, row, _ := p.Grid.Labels.Place(c.Label)
			if c.Sure != accuracy.Both || c.Lines < 1.6 || slips >= 4*(i+1) || (column+row)%2 == 0 {
				continue
			}
			size, way := 0.3+0.15*rng.Float64(), 2*math.Pi*rng.Float64()
			slip := plane.Pt(size*math.Cos(way)*p.Grid.SheetCell[0], size*math.Sin(way)*p.Grid.SheetCell[1])
			got := look(t, s, p, steady(func(h *demo.Hand) {
				h.Distortion = func(at plane.Point) plane.Point {
					if c, r := boxAt(p, at); c == column && r == row {
						return slip
					}
					return plane.Point{}
				}
			}), phone, nil).report
			slips++
			for _, b := range got.Cells {
				switch {
				case b.Label == c.Label && b.Wrong:
					seen++
				case b.Label == c.Label:
					t.Logf("%s of scene %d slipped by %.2f and is %s, %v", b.Label, i, size, b.Sure, b.Shift)
				case b.Sure != accuracy.None:
					if others++; b.Wrong {
						false1++
						t.Logf("%s of scene %d is called wrong when %s slipped", b.Label, i, c.Label)
					}
				}
			}
		}
	}
	if slips < 10 || float64(seen) < 0.7*float64(slips) || float64(false1) > 0.003*float64(others) {
		t.Errorf("%d of %d slips seen, %d of %d others called wrong; want 70 %% and 0.3 %%", seen, slips, false1, others)
	}
}

// The error lies within one, two and three of what is said to be uncertain as often as
// a normal one in two directions does, or more often (Rayleigh's distribution: 39, 86
// and 99 %).
func TestUncertainty(t *testing.T) {
	scenes, plans := hardScenes(t)
	var within [3]float64
	n := 0.0
	for i, s := range scenes {
		for seed := range uint64(2) {
			p := plans[i]
			distortion := field(p, 0.08+0.08*float64(seed), 40+seed)
			got := look(t, s, p, steady(func(h *demo.Hand) { h.Distortion, h.Unsteady = distortion, 0.4 }), phone, nil).report
			for _, c := range got.Cells {
				if c.Sure != accuracy.Both {
					continue
				}
				cell, _ := p.Find(c.Label)
				want := distortion(cell.Sheet.Middle())
				off := math.Hypot(c.Shift.X-want.X/p.Grid.SheetCell[0], c.Shift.Y-want.Y/p.Grid.SheetCell[1])
				n++
				for k := range within {
					if off <= float64(k+1)*c.Uncertain {
						within[k]++
					}
				}
			}
		}
	}
	t.Logf("%.0f boxes: %.0f, %.0f and %.0f %% within 1, 2 and 3", n, 100*within[0]/n, 100*within[1]/n, 100*within[2]/n)
	for k, least := range []float64{0.39, 0.86, 0.97} {
		if within[k] < least*n {
			t.Errorf("%.0f %% lie within %d of the uncertainty; want %.0f %%", 100*within[k]/n, k+1, 100*least)
		}
	}
}

// Drawings that are not this picture's, or not by this plan, are not measured as if
// they were: it is said what they look like.
func TestWrongDrawings(t *testing.T) {
	scenes, plans := hardScenes(t)
	for i, s := range scenes[:2] {
		p := plans[i]
		high := p.Grid.SheetCell[1]
		rows := func(at plane.Point) plane.Point { // the fourth row where the fifth belongs, and the other way round
			switch _, r := boxAt(p, at); r {
			case 3:
				return plane.Pt(0, high)
			case 4:
				return plane.Pt(0, -high)
			}
			return plane.Point{}
		}
		other, err := grid.Make(grid.Request{Name: "Other", Picture: [2]int{int(s.Page.Size.W) * perMM, int(s.Page.Size.H) * perMM},
			Reference: "180 mm", Paper: "A3", Method: "parts", Parts: "7 x 9", Margin: "10 mm", Units: "cm"})
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range []struct {
			name string
			hand demo.Hand
			say  string
		}{
			{"rows exchanged", steady(func(h *demo.Hand) { h.Distortion = rows }), "lines are there, but not the picture’s"},
			{"in a mirror", steady(func(h *demo.Hand) {
				h.Distortion = func(at plane.Point) plane.Point { return plane.Pt(p.Sheet.Width-2*at.X, 0) }
			}), "in a mirror"},
			{"another crop", steady(func(h *demo.Hand) {
				h.Distortion = func(at plane.Point) plane.Point {
					return at.Sub(plane.Pt(p.Sheet.Width*0.6, p.Sheet.Height*0.4)).Mul(0.35)
				}
			}), ""},
			{"another grid", steady(func(h *demo.Hand) { h.Grid = other.Marks }), "The grid on the sheet has 7 columns and 9 rows, the plan has 6 and 8."},
		} {
			got := look(t, s, p, c.hand, phone, nil).report
			said := strings.Join(got.Say, " ")
			if c.name == "another crop" { // refused, or most of it named
				if got.Measured && !strings.Contains(said, "more: lines are there, but not") {
					t.Errorf("scene %d, %s: said %q", i, c.name, said)
				}
			} else if !strings.Contains(said, c.say) {
				t.Errorf("scene %d, %s: said %q; want %q", i, c.name, said, c.say)
			}
			if got.Tone.Judged && !got.Measured {
				t.Errorf("scene %d, %s: tone is judged of what is not measured", i, c.name)
			}
		}
	}
}

// located photographs a drawing without tags and lets the program find it.
func located(t *testing.T, s demo.Scene, p grid.Plan, h demo.Hand, c demo.Camera) (accuracy.Report, float64) {
	t.Helper()
	got := look(t, s, p, h, c, func(j *accuracy.Job) { j.Corners = nil })
	worst := 0.0
	for i, q := range got.report.Corners {
		worst = max(worst, q.Sub(got.shot.Corners[i]).Len()/photo.PixelsPerCell(p, got.shot.Corners))
	}
	return got.report, worst
}

// Without tags the corners found lie within a twentieth of a box, or somebody is asked:
// also without a ruled grid, in a hand's shadow, on black paper and on toned drawings.
func TestCornersWithoutTags(t *testing.T) {
	scenes, plans := hardScenes(t)
	shaded := phone
	shaded.Shadow, shaded.Blur = 0.5, 1
	asked, tries := 0, 0
	for i, s := range scenes[:2] {
		for name, h := range map[string]demo.Hand{
			"ruled": steady(nil), "erased": steady(func(h *demo.Hand) { h.Erased = true }),
			"smaller": steady(func(h *demo.Hand) { h.Erased, h.Size = true, 0.97 }),
			"black":   steady(func(h *demo.Hand) { h.Pencil, h.Dark, h.Erased = page.Color{R: 235, G: 235, B: 230}, true, true }),
		} {
			for light, c := range map[string]demo.Camera{"": phone, " in shadow": shaded} {
				if (len(name)+len(light)+i)%2 == 0 { // half of them: each takes seconds
					continue
				}
				tries++
				got, worst := located(t, s, plans[i], h, c)
				if got.Ask {
					asked++
				} else if worst > 0.05 {
					t.Errorf("scene %d, %s%s: the worst corner is %.2f of a box off, found by %s; said %q", i, name, light, worst, got.FoundBy, got.Say)
				}
			}
		}
	}
	if 5*asked > tries {
		t.Errorf("asked for %d of %d; want a few at most", asked, tries)
	}
}

// A drawing that sits a box off on its sheet is never measured as too small.
func TestOneBoxOff(t *testing.T) {
	scenes, plans := hardScenes(t)
	for i, s := range scenes {
		p := plans[i]
		h := steady(func(h *demo.Hand) { h.Erased, h.Move = true, plane.Pt(p.Grid.SheetCell[0]*0.9, 0) })
		got, _ := located(t, s, p, h, phone)
		if said := strings.Join(got.Say, " "); got.Measured || strings.Contains(said, "too small") {
			t.Errorf("scene %d: found by %s, size %+.1f %%, said %q; want to be asked, or refused", i, got.FoundBy, got.Fit.Scale, said)
		}
	}
}

// A whole that seems a twentieth too small or too large, where the paper alone shows where it
// lies, is rather on a paper that was cut otherwise: somebody is asked.
func TestPaperCutOtherwise(t *testing.T) {
	scenes, plans := hardScenes(t)
	for i, size := range []float64{0.955, 1.045} {
		got, _ := located(t, scenes[i], plans[i], steady(func(h *demo.Hand) { h.Erased, h.Size = true, size }), phone)
		if got.Measured || !got.Ask {
			t.Errorf("scene %d: found by %s, size %+.1f %%, said %q; want to be asked", i, got.FoundBy, got.Fit.Scale, got.Say)
		}
	}
}

// A photo lying on its side, or upside down, is measured as it stands; one that stands
// upright is not turned for nothing.
func TestOwnTop(t *testing.T) {
	scenes, plans := hardScenes(t)
	for i, s := range scenes {
		got, worst := located(t, s, plans[i], steady(func(h *demo.Hand) { h.Rows = 2 }), phone)
		if !got.Ask && worst > 0.5 {
			t.Errorf("scene %d: a drawing of two rows was turned: corners %v", i, got.Corners)
		}
	}
}

// Corners given by a hand, a hundredth of the sheet off, are drawn to the ruled grid.
func TestHandsCorners(t *testing.T) {
	scenes, plans := hardScenes(t)
	for i, s := range scenes[:2] {
		got := look(t, s, plans[i], steady(nil), phone, func(j *accuracy.Job) {
			q := *j.Corners
			for k, way := range []plane.Point{{X: 1, Y: -1}, {X: 1, Y: 1}, {X: -1, Y: 1}, {X: 1, Y: -1}} {
				q[k] = q[k].Add(way.Mul(7))
			}
			j.Corners = &q
		})
		for k, q := range got.report.Corners {
			if d := q.Sub(got.shot.Corners[k]).Len() / got.report.Photo.PixelsPerCell; d > 0.02 {
				t.Errorf("scene %d: corner %d is %.3f of a box off the grid", i, k, d)
			}
		}
	}
}

// The whole is told by enough boxes that are spread; of one row nothing is said.
func TestTheWholeNeedsBoxes(t *testing.T) {
	scenes, plans := hardScenes(t)
	for i, s := range scenes[:2] {
		h := steady(func(h *demo.Hand) { h.Size, h.Turn = 1.03, 1.5 })
		all := look(t, s, plans[i], h, phone, nil).report.Fit
		if all.Of != accuracy.OfLines || math.Abs(all.Scale-3) > 0.5 || math.Abs(all.Rotation-1.5) > 0.3 || all.ScaleUncertain <= 0 || all.ScaleUncertain > 0.6 {
			t.Errorf("scene %d: %+v; want 3 %% and 1.5°", i, all)
		}
		h.Rows = 1
		if row := look(t, s, plans[i], h, phone, nil).report.Fit; row.Of == accuracy.OfLines {
			t.Errorf("scene %d: one row tells the whole: %+v", i, row)
		}
	}
}

// window is a picture of bars and frames that run beside the grid's lines.
func window() demo.Scene {
	s := demo.Scene{Page: page.Page{Title: "Window", Size: measure.Size{W: 180, H: 240}}}
	dark := page.Color{R: 90, G: 90, B: 90}
	bar := func(x, y, w, h float64) {
		s.Page.Items = append(s.Page.Items, page.Path{Points: []plane.Point{plane.Pt(x, y), plane.Pt(x+w, y),
			plane.Pt(x+w, y+h), plane.Pt(x, y+h)}, Closed: true, Width: 0.9, Stroke: page.Ink, Fill: &dark})
	}
	for i := 1; i < 6; i++ {
		bar(30*float64(i)+2, 8, 3, 224)
	}
	for i := 2; i < 8; i += 2 {
		bar(6, 30*float64(i)+3, 168, 3.5)
	}
	return s
}

// A rightly ruled grid is not blamed for bars and window frames of the picture near it;
// a wrongly ruled one is.
func TestNobodysRulerIsBlamed(t *testing.T) {
	s := window()
	p := planFor(t, s, "6 x 8")
	for _, toned := range []bool{false, true} {
		got := look(t, s, p, steady(func(h *demo.Hand) { h.Toned = toned }), phone, nil).report
		if len(got.Grid.Problems) > 0 {
			t.Errorf("toned %v: %q", toned, got.Grid.Problems)
		}
	}
	scenes, plans := hardScenes(t)
	marks := plans[0].Marks
	marks.SheetX = append([]float64{}, marks.SheetX...)
	marks.SheetX[3] += 4
	got := look(t, scenes[0], plans[0], steady(func(h *demo.Hand) { h.Grid = marks }), phone, nil).report
	if len(got.Grid.Problems) != 1 || !strings.Contains(got.Grid.Problems[0], "column") {
		t.Errorf("a line ruled 4 mm off: %q", got.Grid.Problems)
	}
}

// plaza is a picture with tones: bands of greys beside each other.
func plaza() demo.Scene {
	s := demo.Scene{Page: page.Page{Title: "Plaza", Size: measure.Size{W: 180, H: 240}}}
	for i := range 8 {
		for j := range 6 {
			grey := uint8(40 + 27*((i*5+j*3)%8))
			fill := page.Color{R: grey, G: grey, B: grey}
			x, y, r := 30*float64(j)+3, 30*float64(i)+2, float64((i*5+j*7)%11)
			s.Page.Items = append(s.Page.Items, page.Path{Points: []plane.Point{plane.Pt(x+r, y), plane.Pt(x+25, y+r),
				plane.Pt(x+24-r/2, y+25), plane.Pt(x+2, y+24-r)}, Closed: true, Width: 0.5, Stroke: page.Ink,
				Fill: &fill})
		}
	}
	return s
}

// meadow is a photograph's texture all over, and the outlines of the blades that stand out.
func meadow() (picture, drawn demo.Scene) {
	rng := rand.New(rand.NewPCG(11, 4))
	picture, drawn = demo.Scene{Page: page.Page{Title: "Meadow", Size: measure.Size{W: 180, H: 240}}}, demo.Scene{Page: page.Page{Title: "Meadow", Size: measure.Size{W: 180, H: 240}}}
	ground := page.Color{R: 130, G: 130, B: 130}
	picture.Page.Items = append(picture.Page.Items, page.Path{Points: []plane.Point{{}, plane.Pt(180, 0), plane.Pt(180, 240), plane.Pt(0, 240)}, Closed: true, Fill: &ground})
	for i := range 1400 {
		x, y, l, lean := 180*rng.Float64(), 240*rng.Float64(), 12+10*rng.Float64(), 14*(rng.Float64()-0.5)
		blade := []plane.Point{plane.Pt(x, y), plane.Pt(x+lean, y-l), plane.Pt(x+3.5, y)}
		for j := range blade {
			blade[j] = plane.Pt(max(1, min(179, blade[j].X)), max(1, min(239, blade[j].Y)))
		}
		grey := uint8(112 + 36*rng.Float64())
		if i >= 1250 {
			grey = uint8(100 + 60*(i%2)) // these stand out
		}
		fill := page.Color{R: grey, G: grey, B: grey}
		picture.Page.Items = append(picture.Page.Items, page.Path{Points: blade, Closed: true, Width: 0.1, Stroke: fill, Fill: &fill})
		if i >= 1250 {
			drawn.Page.Items = append(drawn.Page.Items, page.Path{Points: blade, Closed: true, Width: 0.7, Stroke: page.Ink})
		}
	}
	return picture, drawn
}

// A drawing of a photograph that is full of lines everywhere is told by them: its calmer parts
// are no bare paper.
func TestMeadow(t *testing.T) {
	from, drawn := meadow()
	p := planFor(t, from, "6 x 8")
	for seed := uint64(1); seed <= 2; seed++ {
		distortion := field(p, 0.1, seed)
		s := look(t, drawn, p, steady(func(h *demo.Hand) { h.Distortion = distortion }), phone, func(j *accuracy.Job) {
			j.Reference, j.Tonal = photo.NewShot(render.Pixels(from.Page, perMM, nil)), true
		})
		errs, known := s.score(distortion)
		with := 0
		for _, c := range s.report.Cells {
			if c.Lines >= 0.3 {
				with++
			}
		}
		if !s.report.Measured || with < 44 || known < 0.7 || errs[len(errs)*9/10] > 0.06 {
			t.Errorf("seed %d: measured %v (%s), %d of 48 boxes have lines, told %.2f", seed, s.report.Measured, s.report.Why, with, known)
		}
	}
}

// A scribble all over a picture's part finds some of its lines, as it would of any: it is not
// measured as if it were the picture.
func TestScribble(t *testing.T) {
	empty := func() demo.Scene {
		return demo.Scene{Page: page.Page{Title: "Part", Size: measure.Size{W: 180, H: 240}}}
	}
	from := empty()
	for _, item := range plaza().Page.Items {
		if at := item.(page.Path).Points[0]; at.X < 118 && at.Y < 146 {
			from.Page.Items = append(from.Page.Items, item)
		}
	}
	p := planFor(t, from, "6 x 8")
	for seed := range uint64(3) {
		rng, scribble := rand.New(rand.NewPCG(seed, 9)), empty()
		for range 300 {
			at := plane.Pt(120*rng.Float64(), 150*rng.Float64())
			var bent []plane.Point
			for range 3 {
				bent = append(bent, plane.Pt(max(1, min(179, at.X)), max(1, min(239, at.Y))))
				at = at.Add(plane.Pt(24*rng.Float64()-12, 24*rng.Float64()-12))
			}
			scribble.Page.Items = append(scribble.Page.Items, page.Path{Points: bent, Width: 0.7, Stroke: page.Ink})
		}
		s := look(t, scribble, p, steady(nil), phone, func(j *accuracy.Job) {
			j.Reference, j.Tonal = photo.NewShot(render.Pixels(from.Page, perMM, nil)), true
		})
		if s.report.Measured || !strings.HasPrefix(s.report.Why, "This does not look like") {
			t.Errorf("seed %d: measured %v, %q", seed, s.report.Measured, s.report.Say)
		}
	}
}

// pale returns a scene whose darks are so much lighter.
func pale(s demo.Scene, by uint8) demo.Scene {
	out := s
	out.Page.Items = nil
	for _, item := range s.Page.Items {
		path := item.(page.Path)
		light := *path.Fill
		light.R, light.G, light.B = min(250, light.R+by), min(250, light.G+by), min(250, light.B+by)
		path.Fill = &light
		out.Page.Items = append(out.Page.Items, path)
	}
	return out
}

// What a teacher who knows the truth would say first: drawings with one planted main
// fault of each kind, beside small errors of a hand, are told that first.
func TestThePanel(t *testing.T) {
	scenes, plans := hardScenes(t)
	right, all := 0, 0
	first := func(name string, got accuracy.Report, want string) {
		all++
		about := "nothing"
		if len(got.Next) > 0 {
			about = got.Next[0].About
		}
		if about == want {
			right++
		} else {
			t.Logf("%s: first is %s, want %s: %q", name, about, want, got.Say)
		}
	}
	for i, s := range scenes {
		p := plans[i]
		small := field(p, 0.07, uint64(60+i))
		plus := func(more func(plane.Point) plane.Point) func(plane.Point) plane.Point {
			return func(at plane.Point) plane.Point { return small(at).Add(more(at)) }
		}
		ruled := p.Marks
		ruled.SheetY = append([]float64{}, ruled.SheetY...)
		ruled.SheetY[4] -= 5
		high := p.Grid.SheetCell[1]
		for want, h := range map[string]demo.Hand{
			"nothing":           steady(func(h *demo.Hand) { h.Distortion = small }),
			accuracy.AboutGrid:  steady(func(h *demo.Hand) { h.Distortion, h.Grid = small, ruled }),
			accuracy.AboutWhole: steady(func(h *demo.Hand) { h.Distortion, h.Size, h.Turn = small, 1.04, 1 }),
			accuracy.AboutLines: steady(func(h *demo.Hand) { // a third of the sheet has slid
				h.Distortion = plus(func(at plane.Point) plane.Point {
					return plane.Pt(0.4*p.Grid.SheetCell[0]/(1+math.Exp(-(at.Y-0.7*p.Sheet.Height)/12)), 0)
				})
			}),
			accuracy.AboutOther: steady(func(h *demo.Hand) {
				h.Distortion = plus(func(at plane.Point) plane.Point {
					switch _, r := boxAt(p, at); r {
					case 3:
						return plane.Pt(0, high)
					case 4:
						return plane.Pt(0, -high)
					}
					return plane.Point{}
				})
			}),
		} {
			first(fmt.Sprintf("scene %d", i), look(t, s, p, h, phone, nil).report, want)
		}
	}
	s := plaza()
	p := planFor(t, s, "6 x 8")
	ref := photo.NewShot(render.Pixels(s.Page, perMM, nil))
	tonal := func(j *accuracy.Job) { j.Reference, j.Tonal = ref, true }
	toned := func(change func(*demo.Hand)) demo.Hand {
		return steady(func(h *demo.Hand) {
			h.Toned, h.Distortion = true, field(p, 0.05, 71)
			if change != nil {
				change(h)
			}
		})
	}
	first("tones right", look(t, s, p, toned(nil), phone, tonal).report, "nothing")
	first("timid darks", look(t, pale(s, 70), p, toned(nil), phone, tonal).report, accuracy.AboutTone)
	first("timid darks, and too large", look(t, pale(s, 40), p, toned(func(h *demo.Hand) { h.Size = 1.05 }), phone, tonal).report, accuracy.AboutWhole)
	if float64(right) < 0.9*float64(all) {
		t.Errorf("%d of %d are told the main fault first; want 90 %%", right, all)
	}
}

// A photo in which no box can be told is given no advice on tone.
func TestNoToneOfNothing(t *testing.T) {
	s, other := plaza(), window()
	p := planFor(t, s, "6 x 8")
	shot, err := demo.Photograph(p, other, steady(func(h *demo.Hand) { h.Toned = true }), phone, 0, 0, 0.02, rand.New(rand.NewPCG(3, 3)))
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(shot.Photo)
	if err != nil {
		t.Fatal(err)
	}
	r, err := accuracy.Measure(accuracy.Job{Plan: p, Reference: photo.NewShot(render.Pixels(s.Page, perMM, nil)), Tonal: true, Photo: photo.NewShot(img), Corners: &shot.Corners})
	if err != nil {
		t.Fatal(err)
	}
	known := 0
	for _, c := range r.Cells {
		if c.Sure != accuracy.None {
			known++
		}
	}
	for _, a := range r.Next {
		if a.About == accuracy.AboutTone && known == 0 {
			t.Errorf("no box is told, and of tone is said %q", a.Words)
		}
	}
}
