package reading_test

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// Of random boxes the best part is the one that trying every rectangle by hand finds, within
// the time; none is offered where all fits, or nothing does.
func TestBestPart(t *testing.T) {
	p := plan(t)
	for seed := range uint64(12) {
		rng := rand.New(rand.NewPCG(seed, 31))
		var r reading.Reading
		minutes, detail, right, below := map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]float64{}
		for _, c := range p.Cells() {
			b := reading.Box{Label: c.Label, Difficulty: 4 * rng.Float64()}
			for range rng.IntN(3) {
				b.Crossings = append(b.Crossings, reading.Crossing{Side: reading.Right})
				right[c.Label]++
			}
			if rng.IntN(2) == 0 {
				b.Crossings = append(b.Crossings, reading.Crossing{Side: reading.Bottom}, reading.Crossing{Side: reading.Top})
				below[c.Label]++
			}
			detail[c.Label], minutes[c.Label] = b.Difficulty, float64(rng.IntN(4))
			r.Boxes = append(r.Boxes, b, reading.Box{Label: c.Label, Part: 1, Difficulty: 99}) // a divided box's parts are not counted twice
		}
		at := plane.Pt(p.Reference.Width*rng.Float64(), p.Reference.Height*rng.Float64())
		pins := []reading.Pin{{At: at, Weight: 3}, {At: plane.Pt(-5, 10), Weight: 3}}
		marked := p.CellAt(p.ToSheet(at)).Label
		limit := 20 + 60*rng.Float64()
		got, ok := r.BestPart(p, pins, func(l string) float64 { return minutes[l] }, limit)
		best, worth := "", math.Inf(-1)
		for x := range p.Grid.Columns {
			for y := range p.Grid.Rows {
				for x2 := x + 1; x2 < p.Grid.Columns; x2++ {
					for y2 := y + 1; y2 < p.Grid.Rows; y2++ {
						w, time := 0.0, 0.0
						for _, c := range p.Cells() {
							in := c.Column >= x && c.Column <= x2 && c.Row >= y && c.Row <= y2
							onRight := c.Row >= y && c.Row <= y2 && (c.Column == x2 && x2+1 < p.Grid.Columns || c.Column == x-1)
							onBelow := c.Column >= x && c.Column <= x2 && (c.Row == y2 && y2+1 < p.Grid.Rows || c.Row == y-1)
							if in {
								w, time = w+detail[c.Label], time+minutes[c.Label]
								if c.Label == marked {
									w += 9
								}
							}
							if onRight {
								w -= 0.5 * right[c.Label]
							}
							if onBelow {
								w -= 0.5 * below[c.Label]
							}
						}
						if time <= limit && w > worth+1e-9 {
							best, worth = p.Cell(x, y).Label+":"+p.Cell(x2, y2).Label, w
						}
					}
				}
			}
		}
		if !ok || got.String() != best {
			t.Errorf("seed %d, %.0f minutes: %s, %v; want %s", seed, limit, got, ok, best)
		}
		if _, ok := r.BestPart(p, pins, func(l string) float64 { return minutes[l] }, 1e6); ok {
			t.Error("all of it fits, and a part is offered")
		}
		if _, ok := r.BestPart(p, pins, func(string) float64 { return 10 }, 39); ok {
			t.Error("three boxes fit, and a part is offered")
		}
	}
}

// A few lines are easy, a page of hatching is hard, the same lines as a photograph are harder
// than as a drawing, and a smaller rendering of a picture is as hard as it.
func TestLookHard(t *testing.T) {
	draws := func(n int, k int) *image.RGBA {
		img := image.NewRGBA(image.Rect(0, 0, 600*k, 450*k))
		draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
		for i := range n {
			y := (20 + i*420/max(n, 1)) * k
			for x := 20 * k; x < 580*k; x++ {
				for d := range 2 * k {
					img.Set(x, min(y+d+int(8*float64(k)*math.Sin(float64(x)/float64(17*k))), 450*k-1), color.Black)
				}
			}
		}
		return img
	}
	look := func(img *image.RGBA, drawing bool) reading.Hard {
		h, err := reading.LookHard(img, drawing)
		if err != nil {
			t.Fatal(err)
		}
		if h.ForWhom() == "" || len(h.Reasons()) < 3 {
			t.Errorf("%+v gives no reasons", h)
		}
		return h
	}
	few, many, photo := look(draws(3, 2), true), look(draws(24, 2), true), look(draws(3, 2), false)
	if few.Level != 1 || many.Level != 3 || many.Minutes < 2*few.Minutes {
		t.Errorf("three lines are %+v, twenty-four %+v", few, many)
	}
	if photo.Minutes <= few.Minutes {
		t.Errorf("as a photograph it takes %.0f minutes, as a drawing %.0f", photo.Minutes, few.Minutes)
	}
	if half := look(draws(24, 1), true); half.Level != many.Level {
		t.Errorf("at half the pixels the level is %d, not %d", half.Level, many.Level)
	}
	if empty := look(draws(0, 2), true); empty.Level != 1 || empty.Bare != 1 {
		t.Errorf("an empty page is %+v", empty)
	}
}

// A yellow as light as paper is drawn as any other line; where there is but a breath of colour the box is told so, and
// only bare paper is empty.
func TestPaleIsNotNothing(t *testing.T) {
	p := plan(t)
	img := image.NewRGBA(image.Rect(0, 0, p.Frame.Picture[0], p.Frame.Picture[1]))
	draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
	fill := func(label string, x0, y0, x1, y1 float64, c color.RGBA) { // parts of a box
		cell, _ := p.Find(label)
		at := func(x, y float64) plane.Point {
			return p.ToPicture(plane.Pt(cell.Reference.Min.X+x*cell.Reference.Width(), cell.Reference.Min.Y+y*cell.Reference.Height()))
		}
		a, b := at(x0, y0), at(x1, y1)
		draw.Draw(img, image.Rect(int(a.X), int(a.Y), int(b.X), int(b.Y)), image.NewUniform(c), image.Point{}, draw.Src)
	}
	fill("B2", 0.2, 0.2, 0.8, 0.8, color.RGBA{255, 240, 150, 255})
	fill("D3", 0.7, 0.7, 0.95, 0.95, color.RGBA{255, 255, 236, 255})
	r, err := reading.Picture(p, img, true, reading.Lines, reading.Thirds)
	if err != nil {
		t.Fatal(err)
	}
	for label, want := range map[string]string{"B2": "closed shape|square|rectangle", "D3": "Only a touch of tone or colour, at the bottom right.", "A1": "Nothing is drawn here"} {
		i := slices.IndexFunc(r.Boxes, func(b reading.Box) bool { return b.Label == label })
		if say := strings.Join(r.Boxes[i].Say, " "); !regexp.MustCompile(want).MatchString(say) {
			t.Errorf("%s says %q; want %q", label, say, want)
		}
	}
}
