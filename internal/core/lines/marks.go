package lines

import (
	"cmp"
	"image"
	"math"
	"slices"
)

// Mark is a point on a line or on an edge between tones: its place in pixels
// (the centre of the top left pixel is (0.5, 0.5)), the unit vector across it,
// and its strength: a change of tone, 0 to 1.
type Mark struct {
	X, Y   float32
	NX, NY float32
	Weight float32
	Ridge  bool // a thin dark line; else an edge
}

// Search says what is looked for.
type Search struct {
	Sigma    float64 // of the Gaussian, in pixels: about half the line's width, at least 1
	Wide     float64 // a second, larger sigma for broad lines; 0 for none
	Least    float64 // the weakest strength that is a line
	Shortest int     // marks in the shortest run kept
	Edges    bool    // edges between tones too, not only dark lines
	Grain    float64 // how far above the grain of its calmer parts all must be; 0 for as far as on paper
}

// Find returns the marks of a picture in which lines are dark. Lines are
// ridges after Steger (1998), IEEE PAMI 20(2), section 3: the first derivative
// across the line vanishes within the pixel. Edges are the maxima of the
// gradient across them after Canny (1986), IEEE PAMI 8(6). Both are followed
// from strong to weak and short runs are dropped. What is no stronger than the
// picture's own grain is not found.
func Find(p Plane, s Search) []Mark {
	fine := p.Blur(s.Sigma)
	marks := ridges(fine, s.Sigma, s)
	if s.Edges {
		marks = append(marks, apart(edges(fine, s.Sigma, s), marks, p.W, p.H, 2.4*s.Sigma+1)...)
	}
	if s.Wide > 0 {
		broad := ridges(p.Blur(s.Wide), s.Wide, s)
		var lines []Mark
		for _, m := range marks {
			if m.Ridge {
				lines = append(lines, m)
			}
		}
		marks = append(marks, apart(broad, lines, p.W, p.H, s.Wide)...)
	}
	return marks
}

// FindInColour returns the marks of a picture's luma, and where none of those is near the
// edges between colours that are about as light as one another.
func FindInColour(img *image.RGBA, s Search) []Mark {
	marks := Find(Grey(img), s)
	return append(marks, edgesOfHues(img, s, marks)...)
}

// edgesOfHues returns the edges between colours that are about as light as one another, where none of the marks
// given is near.
func edgesOfHues(img *image.RGBA, s Search, marks []Mark) (all []Mark) {
	for _, hue := range Hues(img) {
		if slices.Max(hue.Pix)-slices.Min(hue.Pix) > float32(s.Least) {
			all = append(all, apart(edges(hue.Blur(s.Sigma), s.Sigma, s), slices.Concat(marks, all), hue.W, hue.H, 2.4*s.Sigma+1)...)
		}
	}
	return all
}

// ridges returns the dark ridges of a plane blurred by sigma. The strength is
// the second derivative across times sigma squared, which is about the depth
// of a line as broad as sigma.
func ridges(p Plane, sigma float64, s Search) []Mark {
	k := float32(sigma * sigma)
	found := newField(p.W, p.H)
	grain := newGrain(p.W, p.H)
	for y := 1; y < p.H-1; y++ {
		up, row, down := p.Row(y-1), p.Row(y), p.Row(y+1)
		for x := 1; x < p.W-1; x++ {
			xx := row[x+1] - 2*row[x] + row[x-1]
			yy := down[x] - 2*row[x] + up[x]
			xy := (down[x+1] - down[x-1] - up[x+1] + up[x-1]) / 4
			if (x+y*7)%61 == 0 {
				grain.add(x, y, absf(xx+yy)*k)
			}
			trace := xx + yy
			if trace <= 0 {
				continue
			}
			root := sqrtf((xx-yy)*(xx-yy)/4 + xy*xy)
			across := trace/2 + root
			if across*k < float32(s.Least)/2 || absf(trace/2-root) > 0.75*across {
				continue
			}
			nx, ny := eigenvector(xx, xy, yy, across)
			gx, gy := (row[x+1]-row[x-1])/2, (down[x]-up[x])/2
			t := -(gx*nx + gy*ny) / across
			dx, dy := t*nx, t*ny
			if absf(dx) > 0.6 || absf(dy) > 0.6 {
				continue
			}
			found.add(x, y, Mark{float32(x) + 0.5 + dx, float32(y) + 0.5 + dy, nx, ny, across * k, true})
		}
	}
	return found.runs(s, grain.calm())
}

// edges returns the places of steepest change of a plane blurred by sigma.
// The strength is the gradient times sigma and √(2π): the height of a step.
func edges(p Plane, sigma float64, s Search) []Mark {
	k := float32(sigma * math.Sqrt(2*math.Pi))
	size := NewPlane(p.W, p.H)
	grain := newGrain(p.W, p.H)
	for y := 1; y < p.H-1; y++ {
		up, row, down, out := p.Row(y-1), p.Row(y), p.Row(y+1), size.Row(y)
		for x := 1; x < p.W-1; x++ {
			gx, gy := (row[x+1]-row[x-1])/2, (down[x]-up[x])/2
			out[x] = sqrtf(gx*gx+gy*gy) * k
			if (x+y*7)%61 == 0 {
				grain.add(x, y, out[x])
			}
		}
	}
	found := newField(p.W, p.H)
	for y := 2; y < p.H-2; y++ {
		for x := 2; x < p.W-2; x++ {
			here := size.Pix[y*p.W+x]
			if here < float32(s.Least)/2 {
				continue
			}
			gx, gy := p.At(x+1, y)-p.At(x-1, y), p.At(x, y+1)-p.At(x, y-1)
			n := sqrtf(gx*gx + gy*gy)
			nx, ny := gx/n, gy/n
			before, after := size.bilinear(float32(x)-nx, float32(y)-ny), size.bilinear(float32(x)+nx, float32(y)+ny)
			if here < before || here <= after {
				continue
			}
			t := (before - after) / (2 * (before - 2*here + after)) // the parabola's top
			t = max(-0.5, min(0.5, t))
			found.add(x, y, Mark{float32(x) + 0.5 + t*nx, float32(y) + 0.5 + t*ny, nx, ny, here, false})
		}
	}
	return found.runs(s, grain.calm())
}

func (p Plane) bilinear(x, y float32) float32 {
	x0, y0 := int(x), int(y)
	tx, ty := x-float32(x0), y-float32(y0)
	a := p.Pix[y0*p.W+x0 : y0*p.W+x0+2]
	b := p.Pix[(y0+1)*p.W+x0 : (y0+1)*p.W+x0+2]
	return (a[0]*(1-tx)+a[1]*tx)*(1-ty) + (b[0]*(1-tx)+b[1]*tx)*ty
}

// field holds marks by pixel while they are followed.
type field struct {
	w, h  int
	at    []int32 // index of the pixel's mark + 1, 0 for none
	marks []Mark
	pixel []int32
}

func newField(w, h int) *field { return &field{w: w, h: h, at: make([]int32, w*h)} }

func (f *field) add(x, y int, m Mark) {
	f.marks = append(f.marks, m)
	f.pixel = append(f.pixel, int32(y*f.w+x))
	f.at[y*f.w+x] = int32(len(f.marks))
}

// strong is how many times stronger than the weakest a run's best mark must be,
// and aboveGrain how far above the grain of paper all must be.
const strong, aboveGrain = 1.5, 6

// grain is what a picture's strength is where nothing is drawn, by tiles of it.
type grain struct {
	w, h  int
	tiles [grainTiles * grainTiles][]float32
}

// grainTiles is how many tiles there are across and down, and calmShare which of them,
// by their medians, stands for the bare paper: a tone's tooth is no paper.
const grainTiles, calmShare = 8, 0.25

func newGrain(w, h int) *grain { return &grain{w: w, h: h} }

func (g *grain) add(x, y int, v float32) {
	t := &g.tiles[y*grainTiles/g.h*grainTiles+x*grainTiles/g.w]
	*t = append(*t, v)
}

// calm returns the median of the calmer tiles.
func (g *grain) calm() float32 {
	var medians []float32
	for _, t := range g.tiles {
		if len(t) > 0 {
			slices.Sort(t)
			medians = append(medians, t[len(t)/2])
		}
	}
	if len(medians) == 0 {
		return 0
	}
	slices.Sort(medians)
	return medians[int(calmShare*float64(len(medians)-1))]
}

// runs returns the marks that hang together with a strong one, in runs of at
// least s.Shortest.
func (f *field) runs(s Search, grain float32) []Mark {
	least := max(float32(s.Least), float32(cmp.Or(s.Grain, aboveGrain))*grain)
	seen := make([]bool, len(f.marks))
	var kept []Mark
	var run []int32
	for i := range f.marks {
		if seen[i] || f.marks[i].Weight < least {
			continue
		}
		run = append(run[:0], int32(i))
		seen[i] = true
		best := float32(0)
		for next := 0; next < len(run); next++ {
			m := f.marks[run[next]]
			best = max(best, m.Weight)
			at := int(f.pixel[run[next]])
			for _, step := range [8]int{-f.w - 1, -f.w, -f.w + 1, -1, 1, f.w - 1, f.w, f.w + 1} {
				j := f.at[at+step] - 1 // marks keep a pixel from the border
				if j < 0 || seen[j] || f.marks[j].Weight < least || absf(m.NX*f.marks[j].NX+m.NY*f.marks[j].NY) < 0.7 {
					continue
				}
				seen[j] = true
				run = append(run, j)
			}
		}
		if len(run) < s.Shortest || best < strong*least {
			continue
		}
		for _, j := range run {
			kept = append(kept, f.marks[j])
		}
	}
	return kept
}

// apart returns the marks that lie further than r from every mark of others of
// about their direction and at least near their strength.
func apart(marks, others []Mark, w, h int, r float64) []Mark {
	near := NewIndex(others, w, h, r)
	var kept []Mark
	for _, m := range marks {
		ok := true
		near.Around(m.X, m.Y, float32(r), func(o Mark) bool {
			ok = absf(o.NX*m.NX+o.NY*m.NY) < 0.8 || o.Weight < 0.5*m.Weight
			return ok
		})
		if ok {
			kept = append(kept, m)
		}
	}
	return kept
}

func eigenvector(xx, xy, yy, value float32) (x, y float32) {
	x, y = xy, value-xx
	if absf(x)+absf(y) < absf(value-yy)+absf(xy) {
		x, y = value-yy, xy
	}
	n := sqrtf(x*x + y*y)
	if n == 0 {
		return 1, 0
	}
	return x / n, y / n
}

func absf(v float32) float32 { return max(v, -v) }

func sqrtf(v float32) float32 { return float32(math.Sqrt(float64(v))) }
