package main

import (
	"image"
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/render"
)

// drawn is a picture and the lines that a hand draws of it, in the picture's pixels.
type drawn struct {
	name  string
	img   *image.RGBA
	tonal bool
	lines [][]plane.Point
}

// cartoonMM is the size of a cartoon, cartoonPixels its pixels a mm, cartoonPen its line's breadth.
const (
	cartoonWidth, cartoonHeight = 180.0, 240.0
	cartoonPixels               = 6
	cartoonPen                  = 1.2
)

// cartoon returns shapes of chance: a large one, some round it that touch it or not, small ones inside
// and open lines.
func cartoon(rng *rand.Rand) drawn {
	var lines [][]plane.Point
	middle := plane.Pt(cartoonWidth*(0.4+0.2*rng.Float64()), cartoonHeight*(0.4+0.2*rng.Float64()))
	lines = append(lines, blob(rng, middle, 45+20*rng.Float64()))
	for range 2 + rng.IntN(3) {
		lines = append(lines, blob(rng, somewhere(rng, 35), 12+18*rng.Float64()))
	}
	for range 4 + rng.IntN(5) {
		at, size := middle.Add(plane.Pt(45*rng.NormFloat64()/2, 45*rng.NormFloat64()/2)), 4+8*rng.Float64()
		lines = append(lines, [](func(*rand.Rand, plane.Point, float64) []plane.Point){blob, corners, star}[rng.IntN(3)](rng, at, size))
	}
	for range 3 + rng.IntN(4) {
		lines = append(lines, sweep(rng, somewhere(rng, 25), 15+40*rng.Float64()))
	}
	pg := page.Page{Size: measure.Size{W: cartoonWidth, H: cartoonHeight}}
	for i, line := range lines {
		pg.Add(page.Path{Points: line, Width: cartoonPen, Stroke: page.Ink})
		lines[i] = scaled(line, cartoonPixels)
	}
	return drawn{"cartoon", render.Pixels(pg, cartoonPixels, nil), false, lines}
}

func somewhere(rng *rand.Rand, edge float64) plane.Point {
	return plane.Pt(edge+rng.Float64()*(cartoonWidth-2*edge), edge+rng.Float64()*(cartoonHeight-2*edge))
}

func scaled(line []plane.Point, by float64) []plane.Point {
	out := make([]plane.Point, len(line))
	for i, q := range line {
		out[i] = q.Mul(by)
	}
	return out
}

// blob returns a closed round shape that is no circle.
func blob(rng *rand.Rand, middle plane.Point, size float64) (line []plane.Point) {
	aspect, a, b, c := 0.6+0.4*rng.Float64(), 6*rng.Float64(), 6*rng.Float64(), 6*rng.Float64()
	for i := range 73 {
		t := float64(i) / 72 * 2 * math.Pi
		r := size * (1 + 0.12*math.Sin(2*t+a) + 0.08*math.Sin(3*t+b))
		sin, cos := math.Sincos(t + c)
		line = append(line, middle.Add(plane.Pt(r*cos, aspect*r*sin)))
	}
	return line
}

// corners returns a closed shape of three to six sides.
func corners(rng *rand.Rand, middle plane.Point, size float64) (line []plane.Point) {
	n, turn := 3+rng.IntN(4), 6*rng.Float64()
	for i := range n {
		sin, cos := math.Sincos(turn + float64(i)/float64(n)*2*math.Pi)
		line = append(line, middle.Add(plane.Pt(cos, sin).Mul(size*(0.8+0.4*rng.Float64()))))
	}
	return append(line, line[0])
}

// star returns a closed shape with points.
func star(rng *rand.Rand, middle plane.Point, size float64) (line []plane.Point) {
	n, turn := 2*(4+rng.IntN(4)), 6*rng.Float64()
	for i := range n {
		sin, cos := math.Sincos(turn + float64(i)/float64(n)*2*math.Pi)
		line = append(line, middle.Add(plane.Pt(cos, sin).Mul(size*(0.6+0.5*float64(i%2)))))
	}
	return append(line, line[0])
}

// sweep returns an open line that bends.
func sweep(rng *rand.Rand, from plane.Point, long float64) (line []plane.Point) {
	turn, bend, more := 6*rng.Float64(), rng.NormFloat64()*0.03, rng.NormFloat64()*0.002
	at := from
	for range int(long) {
		line = append(line, at)
		sin, cos := math.Sincos(turn)
		at, turn, bend = at.Add(plane.Pt(cos, sin)), turn+bend, bend+more
		at.X, at.Y = min(cartoonWidth-4, max(4, at.X)), min(cartoonHeight-4, max(4, at.Y))
	}
	return line
}
