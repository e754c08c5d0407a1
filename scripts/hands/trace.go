package main

import (
	"image"
	"image/color"
	"math"

	"zestysketch/internal/core/plane"
)

// How edges are found: steps of grey levels a pixel from which they begin and go on, and the shortest
// that is kept, pixels. The way is Canny's (1986, IEEE PAMI 8(6)), written apart from the program's own.
const (
	edgeBegins, edgeGoesOn = 18.0, 9.0
	shortestEdge           = 25
)

// trace returns the lines that a hand may draw of a picture: its edges, each a run of pixels.
func trace(img *image.RGBA) [][]plane.Point {
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	size, across := gradient(img, w, h)
	thin := make([]bool, w*h)
	for y := 2; y < h-2; y++ {
		for x := 2; x < w-2; x++ {
			i := y*w + x
			dx, dy := int(math.Round(across[i].X)), int(math.Round(across[i].Y))
			thin[i] = size[i] > edgeGoesOn && size[i] >= size[i+dy*w+dx] && size[i] > size[i-dy*w-dx]
		}
	}
	var out [][]plane.Point
	for i := range thin {
		if !thin[i] || size[i] < edgeBegins {
			continue
		}
		line := follow(thin, w, i)
		thin[i] = true
		back := follow(thin, w, i)
		thin[i] = false
		for j := 1; j < len(back); j++ {
			line = append([]int{back[j]}, line...)
		}
		if len(line) >= shortestEdge {
			out = append(out, smoothed(line, w))
		}
	}
	return out
}

// follow walks along thin pixels from one on, and takes them away.
func follow(thin []bool, w, at int) (line []int) {
	for {
		line, thin[at] = append(line, at), false
		next := -1
		for _, step := range []int{1, -1, w, -w, w + 1, w - 1, -w + 1, -w - 1} {
			if thin[at+step] {
				next = at + step
				break
			}
		}
		if next < 0 {
			return line
		}
		at = next
	}
}

// smoothed returns every third place of a run of pixels, each the mean of its neighbours.
func smoothed(line []int, w int) (out []plane.Point) {
	for i := 0; i < len(line); i += 3 {
		var sum plane.Point
		n := 0.0
		for j := max(0, i-3); j <= min(len(line)-1, i+3); j++ {
			sum, n = sum.Add(plane.Pt(float64(line[j]%w)+0.5, float64(line[j]/w)+0.5)), n+1
		}
		out = append(out, sum.Mul(1/n))
	}
	return out
}

// gradient returns how steep a blurred picture is at each pixel, and which way.
func gradient(img *image.RGBA, w, h int) (size []float64, across []plane.Point) {
	grey := make([]float64, w*h)
	for i := range grey {
		c := img.RGBAAt(i%w, i/w)
		grey[i] = light(c)
	}
	grey = blurred(blurred(grey, 1, w, h), w, w, h)
	size, across = make([]float64, w*h), make([]plane.Point, w*h)
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			i := y*w + x
			d := plane.Pt(grey[i+1]-grey[i-1], grey[i+w]-grey[i-w])
			if size[i] = d.Len(); size[i] > 0 {
				across[i] = d.Mul(1 / size[i])
			}
		}
	}
	return size, across
}

func light(c color.RGBA) float64 {
	return 0.3*float64(c.R) + 0.55*float64(c.G) + 0.15*float64(c.B)
}

// blurred returns values blurred along one direction, step apart.
func blurred(v []float64, step, w, h int) []float64 {
	const sigma, reach = 1.6, 5
	out := make([]float64, len(v))
	for i := range v {
		sum, n := 0.0, 0.0
		for k := -reach; k <= reach; k++ {
			j := i + k*step
			if j < 0 || j >= len(v) || step == 1 && j/w != i/w {
				continue
			}
			g := math.Exp(-float64(k*k) / (2 * sigma * sigma))
			sum, n = sum+g*v[j], n+g
		}
		out[i] = sum / n
	}
	return out
}
