// Sweep measures drawings of known error under one condition after another and
// prints the tables of docs/measuring.md. With -photos it measures so many photos in
// which hard things come together by chance instead, another night with another -seed,
// and fails where a limit does not hold.
package main

import (
	"flag"
	"fmt"
	"log"
	"math"
	"math/rand/v2"
	"slices"

	"golang.org/x/image/font/gofont/gobolditalic"
	"golang.org/x/image/font/gofont/goregular"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// trial is one condition: how the hand draws and what the camera does.
type trial struct {
	name   string
	size   float64 // of the error, boxes
	pencil float64 // mm
	grey   uint8
	camera demo.Camera
	tilt   float64
}

func plain() trial {
	return trial{"", 0.1, 0.9, 70, demo.Camera{Width: 1200, Height: 1600, Dim: 0.3, Noise: 3}, 0.03}
}

func main() {
	photos := flag.Int("photos", 0, "so many photos of chance, instead of the tables")
	seed := flag.Uint64("seed", 1, "of chance")
	flag.Parse()
	if *photos > 0 {
		if err := nightly(*photos, *seed); err != nil {
			log.Fatalf("%v (seed %d)", err, *seed)
		}
		return
	}
	tables := []struct {
		head   string
		trials []trial
	}{
		{"Size of the error, boxes", vary([]float64{0, 0.05, 0.1, 0.2, 0.3, 0.4}, "%.2f", func(t *trial, v float64) { t.size = v })},
		{"Pencil, mm broad", vary([]float64{0.4, 0.7, 0.9, 1.5, 2.5}, "%.1f", func(t *trial, v float64) { t.pencil = v })},
		{"Pencil's grey, 0 black to 255 paper", vary([]float64{40, 100, 150, 180, 200}, "%.0f", func(t *trial, v float64) { t.grey = uint8(v) })},
		{"Light falls off by", vary([]float64{0, 0.3, 0.5, 0.7}, "%.1f", func(t *trial, v float64) { t.camera.Dim = v })},
		{"A hand's shadow, darker by", vary([]float64{0, 0.3, 0.6}, "%.1f", func(t *trial, v float64) { t.camera.Shadow = v })},
		{"Tilt, corners distortion by a share of the width", vary([]float64{0, 0.04, 0.08, 0.12}, "%.2f", func(t *trial, v float64) { t.tilt = v })},
		{"Blur, sigma in pixels", vary([]float64{0, 1, 2, 4, 6}, "%.0f", func(t *trial, v float64) { t.camera.Blur = v })},
		{"Bend of the lens", vary([]float64{-0.04, 0, 0.04}, "%.2f", func(t *trial, v float64) { t.camera.Bend = v })},
		{"Noise, of 255", vary([]float64{0, 3, 8, 14}, "%.0f", func(t *trial, v float64) { t.camera.Noise = v })},
	}
	for _, table := range tables {
		fmt.Printf("| %s | median error | 90 %% under | boxes told | called wrong rightly |\n|---|---|---|---|---|\n", table.head)
		for _, t := range table.trials {
			row, err := t.run()
			if err != nil {
				log.Fatal(err)
			}
			fmt.Println(row)
		}
		fmt.Println()
	}
}

func vary(values []float64, format string, set func(*trial, float64)) (all []trial) {
	for _, v := range values {
		t := plain()
		t.name = fmt.Sprintf(format, v)
		set(&t, v)
		all = append(all, t)
	}
	return all
}

// run measures two drawings of letters and returns a row of a table.
func (t trial) run() (string, error) {
	var errs []float64
	told, with, right, judged := 0, 0, 0, 0
	for seed := range 2 {
		s, p, err := scene(seed)
		if err != nil {
			return "", err
		}
		distortion := waves(p, t.size, uint64(seed+1))
		r, err := t.measure(s, p, distortion, seed)
		if err != nil {
			return "", err
		}
		for _, c := range r.Cells {
			if c.Lines < 0.15 {
				continue
			}
			if with++; c.Sure == accuracy.None {
				continue
			}
			told++
			errs = append(errs, apart(p, c, distortion)...)
			if c.Sure == accuracy.Both {
				judged++
				x, y := wanted(p, c, distortion)
				if c.Wrong == (math.Hypot(x, y) > accuracy.NormalTolerance) {
					right++
				}
			}
		}
	}
	if len(errs) == 0 {
		return fmt.Sprintf("| %s | not measured, and said so | | | |", t.name), nil
	}
	slices.Sort(errs)
	return fmt.Sprintf("| %s | %.3f | %.3f | %d %% | %d %% |", t.name, errs[len(errs)/2], errs[len(errs)*9/10], 100*told/with, 100*right/max(1, judged)), nil
}

func (t trial) measure(s demo.Scene, p grid.Plan, distortion func(plane.Point) plane.Point, seed int) (accuracy.Report, error) {
	hand := demo.Hand{Size: 1, PencilWeight: t.pencil, Unsteady: 0.2, Distortion: distortion, Pencil: page.Color{R: t.grey, G: t.grey, B: t.grey}}
	shot, err := demo.Photograph(p, s, hand, t.camera, 0, 0, t.tilt, rand.New(rand.NewPCG(5, uint64(seed))))
	if err != nil {
		return accuracy.Report{}, err
	}
	img, err := picture.Decode(shot.Photo)
	if err != nil {
		return accuracy.Report{}, err
	}
	return accuracy.Measure(accuracy.Job{Plan: p, Reference: photo.NewShot(render.Pixels(s.Page, 10, nil)), Photo: photo.NewShot(img), Corners: &shot.Corners})
}

// waves is a shift that changes smoothly over the sheet, up to size boxes.
func waves(p grid.Plan, size float64, seed uint64) func(plane.Point) plane.Point {
	rng := rand.New(rand.NewPCG(seed, 3))
	a, b := rng.Float64()*6, rng.Float64()*6
	cell := p.Grid.SheetCell[0]
	return func(at plane.Point) plane.Point {
		u, v := at.X/cell, at.Y/cell
		return plane.Pt(size*cell*math.Sin(u+a)*math.Cos(v*0.8+b), size*cell*math.Cos(u*0.9-b)*math.Sin(v+a))
	}
}

// scene returns one of the drawings that are measured, and its plan.
func scene(n int) (demo.Scene, grid.Plan, error) {
	if n == 2 {
		return demo.HarbourLight()
	}
	s, err := demo.Letters([][]byte{goregular.TTF, gobolditalic.TTF}[n], []string{"R&g5", "Qk3&"}[n])
	if err != nil {
		return s, grid.Plan{}, err
	}
	p, err := grid.Make(grid.Request{Name: "Letters", Picture: [2]int{1800, 2400}, Reference: "180 mm", Paper: "A3", Method: "parts", Parts: "6 x 8", Margin: "10 mm", Units: "cm"})
	return s, p, err
}

// wanted returns how far off the middle of a box was drawn, in boxes.
func wanted(p grid.Plan, c accuracy.Cell, distortion func(plane.Point) plane.Point) (x, y float64) {
	box, _ := p.Find(c.Label)
	want := distortion(box.Sheet.Min.To(box.Sheet.Max, 0.5))
	return want.X / p.Grid.SheetCell[0], want.Y / p.Grid.SheetCell[1]
}

// apart returns by how much what was told of a box is wrong, along each direction told.
func apart(p grid.Plan, c accuracy.Cell, distortion func(plane.Point) plane.Point) []float64 {
	x, y := wanted(p, c, distortion)
	dx, dy := c.Shift.X-x, c.Shift.Y-y
	if c.Sure == accuracy.Both {
		return []float64{math.Abs(dx), math.Abs(dy)}
	}
	sin, cos := math.Sincos(c.AcrossDeg * math.Pi / 180)
	return []float64{math.Abs(dx*cos + dy*sin)}
}
