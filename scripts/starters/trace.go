package main

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"runtime"
	"sync"

	"gonum.org/v1/gonum/spatial/r3"
)

// A small path tracer: rays are followed from the eye by stepping as far as the nearest surface allows
// (sphere tracing, Hart 1996), and light is gathered along random ways (Kajiya 1986), asking the lamp or
// the window straight at every meeting. Both from memory. Lengths are centimetres, y is up.

// solid is one thing: how far a point is from its surface, negative inside, and what it does with light.
type solid struct {
	distance func(r3.Vec) float64
	middle   r3.Vec  // of a ball that holds all of it
	reach    float64 // that ball's radius, cm; 0 for a thing without an end
	colour   r3.Vec  // share of red, green and blue light that it gives back
	gloss    float64 // share that it mirrors when looked at straight
	glow     float64 // light of its own
}

// light is a window, a parallelogram about a corner, or a ball-shaped bulb where its sides are nought.
type light struct {
	at, across, down r3.Vec
	radius           float64
	power            r3.Vec
}

type still struct {
	name          string
	things        []solid
	light         light
	room          float64 // light from everywhere, the walls of the room
	eye, target   r3.Vec
	lens          float64 // width of what is seen, a unit before the eye
	width, height int
}

const (
	touching = 0.006 // cm: nearer than this a ray has met the surface
	farthest = 400.0 // cm
	bounces  = 3
)

// meet returns how far along a ray the first surface stands, and which; nil where there is none. Every
// thing is asked alone, within the ball that holds it; any one will do for a shadow.
func (s *still) meet(from, way r3.Vec, most float64, shadow bool) (float64, *solid) {
	var first *solid
	for i := range s.things {
		one := &s.things[i]
		begin, end := 0.05, most
		if one.reach > 0 {
			to := r3.Sub(one.middle, from)
			along := r3.Dot(to, way)
			chord := one.reach*one.reach - r3.Norm2(to) + along*along
			if chord <= 0 {
				continue
			}
			chord = math.Sqrt(chord)
			begin, end = max(begin, along-chord), min(end, along+chord)
		} else if fall := one.distance(from) - one.distance(r3.Add(from, way)); fall > 0 {
			begin = max(begin, one.distance(from)/fall-touching) // a level thing is met at once
		} else {
			continue
		}
		for at, step := begin, 0; at < end && step < 200; step++ {
			d := one.distance(r3.Add(from, r3.Scale(at, way)))
			if d < touching {
				if shadow {
					return at, one
				}
				most, first = at, one
				break
			}
			at += d
		}
	}
	return most, first
}

// normal returns which way a surface looks at a point.
func (o *solid) normal(p r3.Vec) r3.Vec {
	const step = 0.04
	var n r3.Vec
	for _, k := range []r3.Vec{{X: 1, Y: -1, Z: -1}, {X: -1, Y: -1, Z: 1}, {X: -1, Y: 1, Z: -1}, {X: 1, Y: 1, Z: 1}} {
		n = r3.Add(n, r3.Scale(o.distance(r3.Add(p, r3.Scale(step, k))), k))
	}
	return r3.Unit(n)
}

// straight returns the light that comes to a point straight from the window or the bulb.
func (s *still) straight(p, n r3.Vec, rng *rand.Rand) r3.Vec {
	l, to, area := s.light, r3.Vec{}, 1.0
	if l.radius > 0 {
		to = r3.Sub(r3.Add(l.at, r3.Scale(l.radius, ball(rng))), p)
	} else {
		to = r3.Sub(r3.Add(l.at, r3.Add(r3.Scale(rng.Float64(), l.across), r3.Scale(rng.Float64(), l.down))), p)
		face := r3.Cross(l.across, l.down)
		area = math.Abs(r3.Dot(face, r3.Unit(to)))
	}
	far := r3.Norm(to)
	way := r3.Scale(1/far, to)
	lit := r3.Dot(n, way)
	if lit <= 0 {
		return r3.Vec{}
	}
	if _, other := s.meet(p, way, far-2*l.radius, true); other != nil {
		return r3.Vec{}
	}
	return r3.Scale(lit*area/(far*far), l.power)
}

// beyond is what a ray sees that meets nothing: the room, and the window where it looks at it.
func (s *still) beyond(from, way r3.Vec) r3.Vec {
	up := 0.5 + 0.5*way.Y
	dim := r3.Scale(s.room*(0.6+0.8*up), r3.Vec{X: 1, Y: 0.98, Z: 0.94})
	l := s.light
	face := r3.Cross(l.across, l.down)
	if size := r3.Norm2(face); l.radius == 0 && size > 0 {
		at := r3.Dot(face, r3.Sub(l.at, from)) / r3.Dot(face, way)
		on := r3.Sub(r3.Add(from, r3.Scale(at, way)), l.at)
		a, b := r3.Dot(on, l.across)/r3.Norm2(l.across), r3.Dot(on, l.down)/r3.Norm2(l.down)
		if at > 0 && a >= 0 && a <= 1 && b >= 0 && b <= 1 {
			return r3.Scale(1.4/math.Pi, l.power)
		}
	}
	return dim
}

// seen returns the light that comes along a ray.
func (s *still) seen(from, way r3.Vec, depth int, rng *rand.Rand) r3.Vec {
	far, one := s.meet(from, way, farthest, false)
	if one == nil {
		return s.beyond(from, way)
	}
	p := r3.Add(from, r3.Scale(far, way))
	n := one.normal(p)
	if r3.Dot(n, way) > 0 {
		n = r3.Scale(-1, n)
	}
	p = r3.Add(p, r3.Scale(3*touching, n))
	cos := -r3.Dot(n, way)
	mirrored := one.gloss + (1-one.gloss)*math.Pow(1-cos, 5)*min(1, one.gloss*12)
	if depth < bounces && rng.Float64() < mirrored {
		return s.seen(p, r3.Add(way, r3.Scale(2*cos, n)), depth+1, rng)
	}
	sum := s.straight(p, n, rng)
	if depth < bounces {
		round := r3.Unit(r3.Add(n, r3.Scale(0.999, ball(rng)))) // as likely as it counts
		sum = r3.Add(sum, s.seen(p, round, depth+1, rng))
	}
	glow := r3.Scale(one.glow, r3.Vec{X: 1, Y: 0.86, Z: 0.62})
	return r3.Add(glow, r3.Vec{X: sum.X * one.colour.X, Y: sum.Y * one.colour.Y, Z: sum.Z * one.colour.Z})
}

// ball returns a point on a ball of radius one, any as likely as another.
func ball(rng *rand.Rand) r3.Vec {
	z := 2*rng.Float64() - 1
	sin, cos := math.Sincos(2 * math.Pi * rng.Float64())
	r := math.Sqrt(1 - z*z)
	return r3.Vec{X: r * cos, Y: r * sin, Z: z}
}

// spot is what a pixel has: its light, and what stands there and how it is turned.
type spot struct {
	light, normal r3.Vec
	thing         *solid
}

// render follows so many ways through every pixel.
func (s *still) render(ways int) image.Image {
	spots := make([]spot, s.width*s.height)
	ahead := r3.Unit(r3.Sub(s.target, s.eye))
	right := r3.Unit(r3.Cross(ahead, r3.Vec{Y: 1}))
	up := r3.Cross(right, ahead)
	toward := func(x, y float64) r3.Vec {
		u := (x - float64(s.width)/2) / float64(s.width) * s.lens
		v := (float64(s.height)/2 - y) / float64(s.width) * s.lens
		return r3.Unit(r3.Add(ahead, r3.Add(r3.Scale(u, right), r3.Scale(v, up))))
	}
	s.rows(func(y int) {
		rng := rand.New(rand.NewPCG(11, uint64(y)))
		for x := range s.width {
			here := &spots[y*s.width+x]
			for range ways {
				one := s.seen(s.eye, toward(float64(x)+rng.Float64(), float64(y)+rng.Float64()), 0, rng)
				here.light = r3.Add(here.light, r3.Scale(1/float64(ways), r3.Vec{X: min(one.X, 3), Y: min(one.Y, 3), Z: min(one.Z, 3)}))
			}
			way := toward(float64(x)+0.5, float64(y)+0.5)
			far, thing := s.meet(s.eye, way, farthest, false)
			if here.thing = thing; thing != nil {
				here.normal = thing.normal(r3.Add(s.eye, r3.Scale(far, way)))
			}
		}
	})
	img := image.NewRGBA(image.Rect(0, 0, s.width, s.height))
	s.rows(func(y int) {
		for x := range s.width {
			l := s.calm(spots, x, y)
			img.SetRGBA(x, y, color.RGBA{R: shown(l.X), G: shown(l.Y), B: shown(l.Z), A: 255})
		}
	})
	return img
}

// rows does every row of the picture, as many at once as there are cores.
func (s *still) rows(do func(y int)) {
	rows := make(chan int)
	var done sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		done.Go(func() {
			for y := range rows {
				do(y)
			}
		})
	}
	for y := range s.height {
		rows <- y
	}
	close(rows)
	done.Wait()
}

// calm takes the grain away: the mean of the spots round about that show the same thing, turned alike and
// about as light.
func (s *still) calm(spots []spot, x, y int) r3.Vec {
	const around, apart = 4, 0.3
	here := spots[y*s.width+x]
	var sum r3.Vec
	weight := 0.0
	for v := max(0, y-around); v <= min(s.height-1, y+around); v++ {
		for u := max(0, x-around); u <= min(s.width-1, x+around); u++ {
			o := spots[v*s.width+u]
			if o.thing != here.thing || o.thing != nil && r3.Dot(o.normal, here.normal) < 0.96 {
				continue
			}
			d := r3.Norm(r3.Sub(o.light, here.light)) / (apart * (0.05 + r3.Norm(here.light)))
			w := math.Exp(-d * d)
			sum, weight = r3.Add(sum, r3.Scale(w, o.light)), weight+w
		}
	}
	return r3.Scale(1/weight, sum)
}

// shown returns an amount of light as a pixel: strong light is drawn in softly, then the sRGB curve.
func shown(v float64) uint8 {
	v = v * (1 + v/4) / (1 + v)
	if v <= 0.0031308 {
		v *= 12.92
	} else {
		v = 1.055*math.Pow(v, 1/2.4) - 0.055
	}
	return uint8(255*max(0, min(1, v)) + 0.5)
}
