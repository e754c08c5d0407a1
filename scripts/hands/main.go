// Hands draws pictures as hands do, each with one thing wrong or none, photographs the sheets, measures
// them, and prints how often what is wrong was named. Pictures are cartoons of its own, or those of a
// folder: then their edges are drawn.
package main

import (
	"flag"
	"fmt"
	"image/draw"
	"log"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"

	"image"
)

func main() {
	n := flag.Int("n", 24, "how many drawings")
	seed := flag.Uint64("seed", 1, "of chance")
	folder := flag.String("pictures", "", "a folder of pictures, PNG or JPEG; empty for cartoons")
	tonal := flag.Bool("tonal", false, "the pictures are photographs")
	say := flag.Bool("v", false, "print what was said of each that was not named, or untrue")
	keep := flag.String("keep", "", "a folder for photos")
	only := flag.String("only", "", "one kind of fault")
	from := flag.Int("from", 0, "the first drawing")
	flag.Parse()
	var pictures []drawn
	if *folder != "" {
		var err error
		if pictures, err = load(*folder, *tonal); err != nil {
			log.Fatal(err)
		}
	}
	results := make([]result, *n)
	var wait sync.WaitGroup
	next := make(chan int)
	for range runtime.NumCPU() {
		wait.Go(func() {
			for i := range next {
				rng := rand.New(rand.NewPCG(*seed, uint64(i)))
				d := cartoon(rng)
				if pictures != nil {
					d = pictures[i%len(pictures)]
				}
				what := faults[i%len(faults)]
				if pictures != nil {
					what = faults[rng.IntN(len(faults))]
				}
				if *only != "" {
					what = *only
				}
				results[i] = try(d, what, rng)
				if *keep != "" && results[i].photo != nil {
					_ = os.WriteFile(filepath.Join(*keep, fmt.Sprintf("%d.jpg", i)), results[i].photo, 0o600)
				}
			}
		})
	}
	for i := range *n {
		if i >= *from {
			next <- i
		}
	}
	close(next)
	wait.Wait()
	table(results, *say)
}

// result is what came of one drawing.
type result struct {
	verdict
	fault
	name   string
	done   bool
	photo  []byte
	report accuracy.Report
}

// load reads the pictures of a folder, at most 1200 pixels, and traces them.
func load(folder string, tonal bool) (all []drawn, err error) {
	names, err := filepath.Glob(filepath.Join(folder, "*.*"))
	if err != nil {
		return nil, err
	}
	for _, name := range names {
		raw, err := os.ReadFile(name)
		if err != nil {
			return nil, err
		}
		img, err := picture.Decode(raw)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
		flat := image.NewRGBA(image.Rect(0, 0, img.Bounds().Dx(), img.Bounds().Dy()))
		draw.Draw(flat, flat.Bounds(), image.White, image.Point{}, draw.Src)
		draw.Draw(flat, flat.Bounds(), img, img.Bounds().Min, draw.Over)
		if lines := trace(flat); len(lines) > 2 {
			all = append(all, drawn{strings.TrimSuffix(filepath.Base(name), filepath.Ext(name)), flat, tonal, lines})
		}
	}
	return all, nil
}

// try draws a picture with a fault, photographs and measures it.
func try(d drawn, what string, rng *rand.Rand) (r result) {
	r.name = d.name
	w, h := d.img.Bounds().Dx(), d.img.Bounds().Dy()
	across := 4 + rng.IntN(4)
	p, err := grid.Make(grid.Request{Name: "Hands", Picture: [2]int{w, h}, Reference: "180 mm", Paper: "A3", Method: "parts",
		Parts: fmt.Sprintf("%d x %d", across, max(2, int(math.Round(float64(across*h)/float64(w))))), Margin: "10 mm", Units: "cm"})
	if err != nil {
		return r
	}
	lines := make([][]plane.Point, len(d.lines))
	for i, line := range d.lines {
		for _, q := range line {
			lines[i] = append(lines[i], p.ToSheet(p.FromPicture(q)))
		}
	}
	var all [][]plane.Point
	for range 20 {
		if all, r.fault, r.done = spoil(what, lines, p, rng); r.done {
			break
		}
	}
	if !r.done {
		return r
	}
	shot, corners, err := photograph(p, all, rng)
	if err != nil {
		log.Fatal(err)
	}
	r.photo = shot
	img, err := picture.Decode(shot)
	if err != nil {
		log.Fatal(err)
	}
	if r.report, err = accuracy.Measure(accuracy.Job{Plan: p, Reference: photo.NewShot(d.img), Tonal: d.tonal, Photo: photo.NewShot(img), Corners: &corners, FoundBy: photo.ByTags}); err != nil {
		log.Fatal(err)
	}
	r.verdict = r.judge(r.report, p)
	return r
}

// photograph draws lines on a sheet and takes its photo.
func photograph(p grid.Plan, lines [][]plane.Point, rng *rand.Rand) ([]byte, plane.Quad, error) {
	const table = 20.0
	stock := p.StockSize()
	desk := demo.NewDesk(measure.Size{W: stock.W + 4*table, H: stock.H + 4*table})
	home := desk.Lay(p, chanceHand(rng).draw(p, lines, rng), plane.Pt(2*table, 2*table), false)
	c := demo.Camera{Width: 1500, Height: 2000, Dim: 0.4 * rng.Float64(), Noise: 1 + 4*rng.Float64(), Blur: rng.Float64()}
	if stock.W > stock.H {
		c.Width, c.Height = c.Height, c.Width
	}
	sw, sh := float64(stock.W)+3*table, float64(stock.H)+3*table
	if shape := float64(c.Width) / float64(c.Height); sw/sh < shape {
		sw = sh * shape
	} else {
		sh = sw / shape
	}
	for i, corner := range plane.Box(sw, sh) {
		c.From[i] = corner.Add(plane.Pt(table/2, table/2)).Add(plane.Pt(rng.NormFloat64(), rng.NormFloat64()).Mul(0.012 * sw))
	}
	shot, err := c.Shoot(desk, rng)
	if err != nil {
		return nil, plane.Quad{}, err
	}
	corners, err := c.Corners(p, home)
	return shot, corners, err
}

// table prints what came of all drawings.
func table(all []result, say bool) {
	fmt.Println("| what is wrong | drawings | named | move within 0.06 | size within 8 % | among the first three | “nothing needs mending” | untrue sentences |\n|---|---|---|---|---|---|---|---|")
	kinds := slices.Clone(faults)
	slices.Sort(kinds)
	for _, what := range slices.Compact(kinds) {
		n, named, near, size, early, silent, untrue, unmeasured := 0, 0, 0, 0, 0, 0, 0, 0
		for i, r := range all {
			if !r.done || r.what != what {
				continue
			}
			if !r.report.Measured {
				unmeasured++
				continue
			}
			n++
			for _, c := range []struct {
				is    bool
				count *int
			}{{r.named, &named}, {r.off < 0.06, &near}, {r.verdict.size < 0.08, &size}, {r.early, &early}, {r.silent, &silent}, {len(r.untrue) > 0, &untrue}} {
				if c.is {
					*c.count++
				}
			}
			if say && (!r.named && what != right || len(r.untrue) > 0) {
				fmt.Printf("  %d %s %s %.1f boxes long at %.0f, %.0f: move %.2f, %.2f size %.2f turn %.0f: off %.2f size off %.2f in place %.2f untrue %q: %q parts %+v\n", i, r.name, what, r.long, r.middle.X, r.middle.Y, r.move.X, r.move.Y, r.fault.size, r.turn, r.off, r.verdict.size, r.report.InPlace, r.untrue, r.report.Say, r.report.Parts)
			}
		}
		if n+unmeasured > 0 {
			fmt.Printf("| %s | %d | %d | %d | %d | %d | %d | %d | (%d not measured)\n", what, n, named, near, size, early, silent, untrue, unmeasured)
		}
	}
}
