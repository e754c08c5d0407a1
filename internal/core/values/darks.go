package values

import (
	"cmp"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
)

// Dark shapes inside lighter ones are what a face or a thing is known by: eyes,
// nostrils, a mouth, a keyhole. They are found by what they are darker than: a
// closing by a square fills every dark that is narrower than it (the top-hat of
// Meyer 1979), and each shape is followed from where it is darkest outward for as
// long as it stays by itself. The numbers are ours.
const (
	grey      = 100  // steps of lightness for the closing, which takes 0 to 127
	darkGrain = 0.4  // mm of blur: half of what a sharp pencil draws as a shape
	mostDarks = 12   // the ones that are told first
	oneShape  = 0.4  // of its depth, at which a shape that meets another is one with it
	mostRim   = 0.15 // of a shape's rim may lie in darkness or at the picture's edge
)

// depths, of grey, at which shapes are followed, the deepest first; a shape is
// begun at one of the first few only.
var depths = []uint8{34, 27, 21, 16, 12, 9}

const begins = 4

// kept marks a dark shape among the steps while areas are joined.
const kept = unset - 1

// darks paints the dark shapes of a picture, at least w.Darks large, over its
// settled steps.
func (w Wish) darks(img *image.RGBA, light lines.Plane, steps []uint8) {
	fine, tones := reddened(img, light).Blur(max(0.5, darkGrain*w.PerMM)), make([]uint8, len(steps))
	picture.Bands(light.H, func(from, to int) {
		for i := from * light.W; i < to*light.W; i++ {
			tones[i] = uint8(fine.Pix[i]*grey + 0.5)
		}
	})
	r := max(2, int(math.Sqrt(w.LeastArea)*w.PerMM/2)) // as broad as what would be an area by itself
	depth := darkest(lightest(tones, light.W, light.H, r), light.W, light.H, r)
	for i, filled := range depth {
		depth[i] = filled - tones[i]
	}
	s := search{w: light.W, h: light.H, depth: depth, light: light, mean: mean(light), steps: steps, mark: make([]int32, len(steps)),
		least: max(4, int(w.Darks*w.PerMM*w.PerMM)), most: int(w.LeastArea * w.PerMM * w.PerMM)}
	for i, d := range depths {
		s.follow(d, i < begins)
	}
	s.paint()
}

// reddened returns the lightness less what is redder than grey: lips are known by
// their colour as much as by their tone.
func reddened(img *image.RGBA, light lines.Plane) lines.Plane {
	out := lines.Plane{W: light.W, H: light.H, Pix: slices.Clone(light.Pix)}
	picture.Bands(light.H, func(from, to int) {
		for y := from; y < to; y++ {
			for x := range light.W {
				p := img.Pix[img.PixOffset(img.Rect.Min.X+x, img.Rect.Min.Y+y):]
				if red := (2*float32(p[0]) - float32(p[1]) - float32(p[2])) / 510; red > 0 {
					i := y*light.W + x
					out.Pix[i] = max(0, out.Pix[i]-red)
				}
			}
		}
	})
	return out
}

// mean returns the mean lightness of every pixel.
func mean(p lines.Plane) float32 {
	sum := 0.0
	for b, n := range counted(p) {
		sum += float64(b) * n
	}
	return float32(sum / float64(len(p.Pix)) / (bins - 1))
}

// search is the looking for dark shapes.
type search struct {
	w, h        int
	depth       []uint8 // how much darker than what is round it
	steps       []uint8
	light       lines.Plane
	mean        float32 // its mean: darks inside what is darker than that are no features
	mark        []int32 // the shape of every pixel, 0 for none
	found       []dark
	least, most int // pixels of a shape
}

// dark is one shape, the first in found being number 1.
type dark struct {
	pixels  int
	deepest uint8
}

// blob is a connected piece at one depth while it is judged.
type blob struct {
	pixels, rim, bad, edge int
	round                  float32 // sum of the lightness along the rim
	holds                  []int32 // the shapes in it
	deepest                uint8
}

// blobs returns the shapes that are as deep as that, and which of them each pixel is in.
func (s *search) blobs(depth uint8) (at []int32, blobs []blob) {
	in := make([]uint8, len(s.depth))
	for i, d := range s.depth {
		if d >= depth {
			in[i] = 1
		}
	}
	at, areas := newParts(in, s.w, s.h).numbered()
	blobs = make([]blob, len(areas))
	for i, a := range at {
		if in[i] == 1 {
			s.add(&blobs[a], i, in)
		}
	}
	return at, blobs
}

// follow lets shapes grow to a depth, and begins new ones where it may.
func (s *search) follow(depth uint8, begin bool) {
	at, blobs := s.blobs(depth)
	number := make([]int32, len(blobs))
	for a, b := range blobs {
		if b.pixels < s.least || b.pixels > s.most || float64(b.bad) > mostRim*float64(b.rim) || b.round < s.mean*float32(b.rim-b.edge) {
			continue
		}
		switch {
		case len(b.holds) == 1 || len(b.holds) > 1 && s.near(b.holds, depth):
			number[a] = b.holds[0]
		case len(b.holds) == 0 && begin:
			s.found = append(s.found, dark{})
			number[a] = int32(len(s.found))
		default:
			continue
		}
		s.found[number[a]-1] = dark{b.pixels, max(b.deepest, s.found[number[a]-1].deepest)}
	}
	for i, a := range at {
		if number[a] > 0 {
			s.mark[i] = number[a]
		}
	}
}

// near reports whether shapes meet while each is at least half as deep still: then
// they are one, such as the corners of a mouth.
func (s *search) near(shapes []int32, depth uint8) bool {
	for _, n := range shapes {
		if float64(depth) < oneShape*float64(s.found[n-1].deepest) {
			return false
		}
	}
	return true
}

// add counts a pixel to its blob, and what of its rim is dark or the edge.
func (s *search) add(b *blob, i int, in []uint8) {
	b.pixels++
	b.deepest = max(b.deepest, s.depth[i])
	if m := s.mark[i]; m > 0 && !slices.Contains(b.holds, m) {
		b.holds = append(b.holds, m)
	}
	x, y := i%s.w, i/s.w
	for _, n := range [4][2]int{{x - 1, y}, {x + 1, y}, {x, y - 1}, {x, y + 1}} {
		switch j := n[1]*s.w + n[0]; {
		case n[0] < 0 || n[1] < 0 || n[0] >= s.w || n[1] >= s.h:
			b.rim++
			b.bad++
			b.edge++
		case in[j] == 0:
			b.rim++
			b.round += s.light.Pix[j]
			if s.steps[j] == 0 {
				b.bad++
			}
		}
	}
}

// paint puts the shapes that are told first among the steps.
func (s *search) paint() {
	order := make([]int32, len(s.found))
	for i := range order {
		order[i] = int32(i + 1)
	}
	worth := func(n int32) float64 {
		d := s.found[n-1]
		return float64(d.deepest) * math.Sqrt(float64(d.pixels))
	}
	slices.SortStableFunc(order, func(a, b int32) int { return cmp.Compare(worth(b), worth(a)) })
	paint := make([]bool, len(s.found)+1)
	for _, n := range order[:min(len(order), mostDarks)] {
		paint[n] = true
	}
	for i, m := range s.mark {
		if paint[m] {
			s.steps[i] = kept
		}
	}
}
