package main

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

func at(x, y, z float64) r3.Vec { return r3.Vec{X: x, Y: y, Z: z} }

// ground is what lies below a height; wall what lies behind a depth.
func ground(y float64) func(r3.Vec) float64 { return func(p r3.Vec) float64 { return p.Y - y } }
func wall(z float64) func(r3.Vec) float64   { return func(p r3.Vec) float64 { return p.Z - z } }

// block is a box about its middle with rounded edges, turned about the upright by some degrees.
func block(middle, half r3.Vec, turn, round float64) solid {
	sin, cos := math.Sincos(turn * math.Pi / 180)
	distance := func(p r3.Vec) float64 {
		q := r3.Sub(p, middle)
		q = at(math.Abs(cos*q.X+sin*q.Z)-half.X+round, math.Abs(q.Y)-half.Y+round, math.Abs(cos*q.Z-sin*q.X)-half.Z+round)
		out := at(max(q.X, 0), max(q.Y, 0), max(q.Z, 0))
		return r3.Norm(out) + min(max(q.X, q.Y, q.Z), 0) - round
	}
	return solid{distance: distance, middle: middle, reach: r3.Norm(half)}
}

// ballAt is a ball.
func ballAt(middle r3.Vec, radius float64) solid {
	return solid{distance: func(p r3.Vec) float64 { return r3.Norm(r3.Sub(p, middle)) - radius }, middle: middle, reach: radius}
}

// turned is a thing made on a wheel: an outline of radius and height, closed, turned about an upright
// axis that stands at a foot, then leant by some degrees about the foot, towards a compass direction.
func turned(foot r3.Vec, lean, towards float64, outline [][2]float64) solid {
	line := smooth(outline)
	low, high, wide := math.Inf(1), math.Inf(-1), 0.0
	for _, p := range line {
		low, high, wide = min(low, p[1]), max(high, p[1]), max(wide, p[0])
	}
	const fine = 700
	pad := 0.8
	w, h := wide+pad, high-low+2*pad
	step := max(w, h) / fine
	columns, rows := int(w/step)+2, int(h/step)+2
	grid := make([]float64, columns*rows) // how far each place is from the outline, reckoned once
	for y := range rows {
		for x := range columns {
			grid[y*columns+x] = fromOutline(line, float64(x)*step, low-pad+float64(y)*step)
		}
	}
	sin, cos := math.Sincos(lean * math.Pi / 180)
	tz, tx := math.Sincos(towards * math.Pi / 180)
	distance := func(p r3.Vec) float64 {
		q := r3.Sub(p, foot)
		along, beside := tx*q.X+tz*q.Z, tx*q.Z-tz*q.X
		along, q.Y = cos*along-sin*q.Y, cos*q.Y+sin*along
		r := math.Hypot(along, beside)
		fx, fy := r/step, (q.Y-low+pad)/step
		cx, cy := max(0, min(float64(columns)-1.001, fx)), max(0, min(float64(rows)-1.001, fy))
		i, j := int(cx), int(cy)
		a, b := cx-float64(i), cy-float64(j)
		g := grid[j*columns+i:]
		near := (g[0]*(1-a)+g[1]*a)*(1-b) + (g[columns]*(1-a)+g[columns+1]*a)*b
		return near + 0.9*step*math.Hypot(fx-cx, fy-cy)
	}
	mid := (low + high) / 2
	middle := r3.Add(foot, at(mid*sin*tx, mid*cos, mid*sin*tz))
	return solid{distance: distance, middle: middle, reach: math.Hypot(wide, (high-low)/2) + 0.1}
}

// smooth returns an outline with seven points between any two (Catmull and Rom's spline). A point given twice stays a corner.
func smooth(p [][2]float64) (out [][2]float64) {
	n := len(p)
	for i := range n {
		a, b, c, d := p[(i+n-1)%n], p[i], p[(i+1)%n], p[(i+2)%n]
		if b == c {
			continue
		}
		for _, t := range []float64{0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875} {
			var q [2]float64
			for k := range q {
				q[k] = 0.5 * (2*b[k] + (c[k]-a[k])*t + (2*a[k]-5*b[k]+4*c[k]-d[k])*t*t + (3*b[k]-a[k]-3*c[k]+d[k])*t*t*t)
			}
			q[0] = max(q[0], 0)
			out = append(out, q)
		}
	}
	return out
}

// fromOutline returns how far a point is from a closed outline, negative inside. The axis is no edge.
func fromOutline(line [][2]float64, x, y float64) float64 {
	best, inside := math.Inf(1), false
	for i, b := range line {
		a := line[(i+len(line)-1)%len(line)]
		if (a[1] > y) != (b[1] > y) && x < (b[0]-a[0])*(y-a[1])/(b[1]-a[1])+a[0] {
			inside = !inside
		}
		if a[0] == 0 && b[0] == 0 {
			continue
		}
		dx, dy := b[0]-a[0], b[1]-a[1]
		t := 0.0
		if l := dx*dx + dy*dy; l > 0 {
			t = max(0, min(1, ((x-a[0])*dx+(y-a[1])*dy)/l))
		}
		best = min(best, math.Hypot(x-a[0]-t*dx, y-a[1]-t*dy))
	}
	if inside {
		return -best
	}
	return best
}

// tube is a bent rod through some points, of a radius.
func tube(radius float64, points ...r3.Vec) solid {
	middle := r3.Vec{}
	for _, p := range points {
		middle = r3.Add(middle, r3.Scale(1/float64(len(points)), p))
	}
	reach := 0.0
	for _, p := range points {
		reach = max(reach, r3.Norm(r3.Sub(p, middle))+radius)
	}
	distance := func(p r3.Vec) float64 {
		best := math.Inf(1)
		for i := 1; i < len(points); i++ {
			a, side := points[i-1], r3.Sub(points[i], points[i-1])
			t := max(0, min(1, r3.Dot(r3.Sub(p, a), side)/r3.Norm2(side)))
			best = min(best, r3.Norm(r3.Sub(p, r3.Add(a, r3.Scale(t, side)))))
		}
		return best - radius
	}
	return solid{distance: distance, middle: middle, reach: reach}
}

// arch returns points of a cubic curve.
func arch(a, b, c, d r3.Vec) (points []r3.Vec) {
	const n = 14
	for i := range n + 1 {
		t := float64(i) / n
		u := 1 - t
		points = append(points, r3.Add(r3.Add(r3.Scale(u*u*u, a), r3.Scale(3*u*u*t, b)), r3.Add(r3.Scale(3*u*t*t, c), r3.Scale(t*t*t, d))))
	}
	return points
}

func (o solid) of(r, g, b, gloss float64) solid {
	o.colour, o.gloss = at(r, g, b), gloss
	return o
}
