package main

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// window is daylight from the upper left, soft at the edges of shadows.
func window(power float64) light {
	return light{at: at(-70, 34, 34), across: at(14, 0, 22), down: at(0, 34, 0), power: r3.Scale(power, at(1, 0.98, 0.93))}
}

// table is what most things stand on: a board before a wall.
func table() []solid {
	return []solid{
		solid{distance: ground(0)}.of(0.42, 0.33, 0.25, 0.01),
		solid{distance: wall(-22)}.of(0.27, 0.29, 0.30, 0),
	}
}

func standing(name string, things ...solid) still {
	return still{name: name, things: append(table(), things...), light: window(19), room: 0.05,
		eye: at(4, 22, 62), target: at(0.5, 5.4, 0), lens: 0.52, width: 1200, height: 960}
}

// stills are the pictures in tone, easy ones first.
func stills() []still {
	return []still{solids(), stair(), bowls(), jug(), lamp(), cloth()}
}

func solids() still {
	cone := turned(at(8.5, 0, -3), 0, 0, [][2]float64{{0, 0}, {0, 0}, {4.6, 0}, {4.6, 0}, {0, 12.5}, {0, 12.5}})
	s := standing("solids",
		block(at(-6.5, 4, -2), at(4, 4, 4), 33, 0.08).of(0.74, 0.72, 0.68, 0.01),
		cone.of(0.70, 0.70, 0.70, 0.01),
		ballAt(at(2.2, 3.4, 5), 3.4).of(0.76, 0.75, 0.72, 0.02))
	s.lens = 0.44
	return s
}

func stair() still {
	s := still{name: "stair", light: light{at: at(-150, 170, 18), across: at(9, 0, 9), down: at(0, 10, 0), power: r3.Scale(1250, at(1, 0.95, 0.85))},
		room: 0.07, eye: at(24, 27, 70), target: at(1, 14, -4), lens: 0.60, width: 960, height: 1200}
	s.things = []solid{
		solid{distance: ground(0)}.of(0.50, 0.47, 0.42, 0),
		solid{distance: wall(-26)}.of(0.58, 0.55, 0.50, 0),
	}
	for i := range 8 {
		k := float64(i)
		s.things = append(s.things, block(at(0, (k*3.4+3.4)/2, 14-k*5-0.5), at(11, (k*3.4+3.4)/2, 3), 0, 0.1).of(0.66, 0.64, 0.60, 0))
	}
	for i := range 4 { // the rail and its posts, on the right
		k := float64(i)
		x, y, z := 9.8, 3.4+k*6.8, 13.5-k*10
		s.things = append(s.things, tube(0.35, at(x, y-3, z), at(x, y+9.4, z)).of(0.12, 0.13, 0.14, 0.03))
	}
	s.things = append(s.things, tube(0.5, at(9.8, 12.8, 13.5), at(9.8, 33.2, -16.5)).of(0.12, 0.13, 0.14, 0.03))
	return s
}

func bowl(foot r3.Vec, k float64) solid {
	return turned(foot, 0, 0, [][2]float64{{0, 0.3 * k}, {0, 0.3 * k}, {2.2 * k, 0}, {2.2 * k, 0}, {2.5 * k, 0.5 * k}, {4.6 * k, 2.2 * k}, {5.6 * k, 4.6 * k},
		{5.7 * k, 4.75 * k}, {5.4 * k, 4.7 * k}, {4.3 * k, 2.5 * k}, {2.2 * k, 1 * k}, {0, 0.8 * k}, {0, 0.8 * k}})
}

func bowls() still {
	cup := turned(at(10.5, 0, 3.5), 0, 0, [][2]float64{{0, 0}, {0, 0}, {2.6, 0}, {2.8, 0.3}, {2.9, 5.6}, {3.05, 6.1}, {2.85, 6.1}, {2.6, 5.6}, {2.5, 0.8}, {0, 0.6}, {0, 0.6}})
	handle := tube(0.42, arch(at(13.3, 5, 3.9), at(16, 5.4, 4.3), at(16, 1.4, 4.3), at(13.2, 1.6, 3.9))...)
	return standing("bowls",
		bowl(at(-5, 0, -2), 1.5).of(0.72, 0.70, 0.66, 0.04),
		bowl(at(-4.6, 1.5, -1.9), 1.08).of(0.22, 0.34, 0.40, 0.05),
		bowl(at(-1, 0, 9.5), 0.62).of(0.62, 0.36, 0.20, 0.04),
		cup.of(0.80, 0.76, 0.66, 0.05), handle.of(0.80, 0.76, 0.66, 0.05))
}

func lemon(middle r3.Vec, size, lean, towards float64) solid {
	k := size
	return turned(middle, lean, towards, [][2]float64{{0, -3.9 * k}, {0, -3.9 * k}, {0.5 * k, -3.6 * k}, {1.0 * k, -3.0 * k}, {2.2 * k, -2 * k}, {2.75 * k, 0}, {2.2 * k, 2 * k}, {0.9 * k, 3.1 * k},
		{0.45 * k, 3.8 * k}, {0, 4 * k}, {0, 4 * k}})
}

func jug() still {
	body := turned(at(-3, 0, -3), 0, 0, [][2]float64{{0, 0}, {0, 0}, {3.9, 0}, {4.1, 0.25}, {4.7, 1.6}, {5.9, 5}, {5.9, 7.6}, {4.3, 11.2}, {3.1, 13.6}, {3.2, 15.4},
		{4.0, 17.2}, {3.75, 17.3}, {2.9, 15.4}, {2.75, 13.6}, {3.9, 11}, {5.4, 7.5}, {5.4, 5}, {4.2, 1.6}, {0, 0.8}, {0, 0.8}})
	handle := tube(0.62, arch(at(0.2, 15.6, -2.4), at(6.6, 16.6, -1), at(6.2, 7.8, -1), at(2.5, 6.4, -2.2))...)
	glaze := func(o solid) solid { return o.of(0.66, 0.68, 0.66, 0.05) }
	s := standing("jug", glaze(body), glaze(handle),
		lemon(at(6.2, 2.7, 5), 0.96, 88, 20).of(0.82, 0.62, 0.08, 0.02),
		lemon(at(12.4, 2.6, 0.5), 0.92, 86, 118).of(0.84, 0.66, 0.10, 0.02),
		lemon(at(-9, 2.5, 6.5), 0.9, 90, 150).of(0.80, 0.60, 0.07, 0.02))
	s.target, s.lens, s.width, s.height = at(1.4, 7.6, 0), 0.53, 1100, 1050
	return s
}

func lamp() still {
	s := standing("lamp",
		turned(at(-3, 0, -6), 0, 0, [][2]float64{{0, 0}, {0, 0}, {4.4, 0}, {4.6, 0.4}, {4.2, 0.9}, {1.4, 1.5}, {0.8, 3}, {1.7, 5.6}, {2.0, 7.2}, {1.2, 9.2}, {0.5, 10.4},
			{0.45, 14.5}, {0, 14.6}, {0, 14.6}}).of(0.30, 0.36, 0.34, 0.05),
		turned(at(-3, 13.2, -6), 0, 0, [][2]float64{{7.2, 0}, {7.2, 0}, {4.3, 8.6}, {4.3, 8.6}, {4.15, 8.6}, {4.15, 8.6}, {7.05, 0}, {7.05, 0}}).of(0.84, 0.78, 0.62, 0),
		block(at(9, 1.1, 2), at(4.6, 1.1, 3.2), 24, 0.12).of(0.42, 0.16, 0.12, 0.01),
		block(at(9.2, 3, 1.8), at(4.2, 0.8, 2.9), 12, 0.12).of(0.18, 0.28, 0.36, 0.01),
		turned(at(-12, 0, 4), 0, 0, [][2]float64{{0, 0}, {0, 0}, {2.5, 0}, {2.7, 0.3}, {2.8, 5.4}, {2.95, 5.9}, {2.75, 5.9}, {2.5, 5.4}, {2.4, 0.8}, {0, 0.6}, {0, 0.6}}).of(0.74, 0.72, 0.66, 0.04))
	for i := range s.things {
		if s.things[i].middle.Y > 13 && s.things[i].gloss == 0 {
			s.things[i].glow = 0.9 // the shade is lit through
		}
	}
	s.light = light{at: at(-3, 16.4, -6), radius: 1.1, power: r3.Scale(360, at(1, 0.86, 0.64))}
	s.room, s.target, s.width, s.height, s.lens = 0.035, at(0, 9, 0), 1050, 1050, 0.54
	return s
}

// hung is a cloth before the wall, held up by two pegs: its folds run down from them and swing between.
func hung() solid {
	const left, right, top = -9.0, 8.0, 21.0
	fold := func(x, y float64) float64 {
		down := max(0, top-y)
		z := 0.0
		for _, peg := range []float64{left, right} {
			spread := 1.1 + 0.26*down // the folds of a peg grow wider downwards
			u := (x - peg) / spread
			z += (0.4 + 0.07*down) * math.Cos(3.1*u*(1+0.1*math.Sin(peg))) * math.Exp(-u*u*0.2)
		}
		mid := (x + 0.5) / 8.5
		swing := math.Exp(-mid*mid*1.6) * math.Exp(-math.Pow((y-13)/6, 2))
		return z + 0.3*swing*math.Cos((y-14+4.5*(1-mid*mid))*1.5)
	}
	upper := func(x float64) float64 { // it sags between the pegs and falls away beside them
		if x < left {
			return top - 2.6*(left-x)
		}
		if x > right {
			return top - 2.6*(x-right)
		}
		t := (x - left) / (right - left)
		return top - 13*t*(1-t)
	}
	distance := func(p r3.Vec) float64 {
		z := p.Z + 18 - 1.6 - fold(p.X, p.Y)
		hem := 2.2 + 0.5*math.Sin(p.X*0.7)
		edge := max((p.Y-upper(p.X))*0.38, hem-p.Y, math.Abs(p.X+0.5)-13.5)
		return max(math.Abs(z)*0.55-0.06, edge)
	}
	return solid{distance: distance, middle: at(0, 11, -17), reach: 19}
}

func cloth() still {
	s := standing("cloth", hung().of(0.74, 0.72, 0.68, 0),
		tube(0.4, at(-9, 20.8, -22), at(-9, 21.2, -14.6)).of(0.36, 0.26, 0.18, 0.02),
		tube(0.4, at(8, 20.8, -22), at(8, 21.2, -14.6)).of(0.36, 0.26, 0.18, 0.02))
	s.light = light{at: at(-85, 30, -2), across: at(20, 0, 22), down: at(0, 40, 0), power: r3.Scale(19, at(1, 0.97, 0.92))}
	s.eye, s.target, s.width, s.height, s.lens = at(1, 14, 60), at(-0.5, 11.3, -18), 1050, 1050, 0.40
	return s
}
