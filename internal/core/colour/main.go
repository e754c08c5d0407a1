package colour

import (
	"cmp"
	"image"
	"iter"
	"math"
	"slices"
	"strings"
)

// Main is one of a picture's main colours.
type Main struct {
	Colour  Lab
	Name    string     // in plain words, of its own among the picture's
	more    string     // what tells it from another of the same plain name: a word of ways
	R, G, B uint8      // as shown
	Share   float64    // of the picture, 0 to 1
	Even    float64    // how evenly it is spread: 1 everywhere alike, 0 all in one place
	Fields  [9]float64 // its share of each ninth of the picture, row by row
}

// most is how many colours are looked for; nearer than alike are one; what
// covers less than least is left out (ours).
const (
	most  = 7
	alike = 14.0
	least = 0.012
)

// samples is how many pixels are looked at: the rest would not change a share by a hundredth.
const samples = 24000

// sample is one pixel.
type sample struct {
	Lab
	field   int
	r, g, b uint8
}

// Of a picture, Mains returns the main colours, the largest first: clusters in
// L*a*b* (Lloyd 1982, IEEE Transactions on Information Theory 28(2)), begun
// with colours as far apart as there are.
func Mains(img *image.RGBA) []Main {
	all := sampled(img)
	if len(all) == 0 {
		return nil
	}
	centres := farApart(all)
	at := make([]int, len(all))
	for range 20 {
		if !assign(all, centres, at) {
			break
		}
		centre(all, centres, at)
	}
	centres = joined(all, centres, at)
	return described(all, len(centres), at)
}

func sampled(img *image.RGBA) (all []sample) {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	for at, p := range places(img) {
		all = append(all, sample{Of(p[0], p[1], p[2]), at.Y*3/h*3 + at.X*3/w, p[0], p[1], p[2]})
	}
	return all
}

// places gives the pixels, evenly spread, at which a picture's colours are looked at.
func places(img *image.RGBA) iter.Seq2[image.Point, []uint8] {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	step := max(1, int(math.Sqrt(float64(w)*float64(h)/samples)))
	return func(yield func(image.Point, []uint8) bool) {
		for y := step / 2; y < h; y += step {
			for x := step / 2; x < w; x += step {
				if !yield(image.Pt(x, y), img.Pix[y*img.Stride+4*x:]) {
					return
				}
			}
		}
	}
}

// farApart returns the mean colour's furthest neighbour, then again and again
// the colour furthest from those chosen. One pixel alone may be a fleck: of the
// hundred furthest the last is taken.
func farApart(all []sample) []Lab {
	far := make([]float64, len(all))
	for i := range far {
		far[i] = math.Inf(1)
	}
	order := make([]int, len(all))
	for i := range order {
		order[i] = i
	}
	var centres []Lab
	next := all[len(all)/2].Lab
	for range most {
		centres = append(centres, next)
		for i, s := range all {
			far[i] = min(far[i], s.Apart(next))
		}
		slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(far[b], far[a]), cmp.Compare(a, b)) })
		i := order[min(len(order)-1, len(order)/200)]
		if far[i] < alike/2 {
			break
		}
		next = all[i].Lab
	}
	return centres
}

// assign gives every sample to its nearest centre and reports whether any changed.
func assign(all []sample, centres []Lab, at []int) (changed bool) {
	for i, s := range all {
		if best := nearest(s.Lab, centres); best != at[i] {
			at[i], changed = best, true
		}
	}
	return changed
}

func nearest(c Lab, centres []Lab) (best int) {
	for k := range centres {
		if c.Apart(centres[k]) < c.Apart(centres[best]) {
			best = k
		}
	}
	return best
}

// centre moves every centre to the mean of what it has.
func centre(all []sample, centres []Lab, at []int) {
	n := make([]float64, len(centres))
	sum := make([]Lab, len(centres))
	for i, s := range all {
		k := at[i]
		n[k]++
		sum[k].L, sum[k].A, sum[k].B = sum[k].L+s.L, sum[k].A+s.A, sum[k].B+s.B
	}
	for k := range centres {
		if n[k] > 0 {
			centres[k] = Lab{sum[k].L / n[k], sum[k].A / n[k], sum[k].B / n[k]}
		}
	}
}

// joined makes one of centres that nobody would tell apart.
func joined(all []sample, centres []Lab, at []int) []Lab {
	for again := true; again; {
		again = false
		for a := 0; a < len(centres) && !again; a++ {
			for b := a + 1; b < len(centres) && !again; b++ {
				if centres[a].Apart(centres[b]) < alike {
					centres = slices.Delete(centres, b, b+1)
					assign(all, centres, at)
					centre(all, centres, at)
					again = true
				}
			}
		}
	}
	return centres
}

func described(all []sample, n int, at []int) []Main {
	mains := make([]Main, n)
	var fields [9]float64
	sums := make([][3]float64, n)
	for i, s := range all {
		m := &mains[at[i]]
		m.Share++
		m.Fields[s.field]++
		m.Colour.L, m.Colour.A, m.Colour.B = m.Colour.L+s.L, m.Colour.A+s.A, m.Colour.B+s.B
		sums[at[i]][0] += float64(s.r)
		sums[at[i]][1] += float64(s.g)
		sums[at[i]][2] += float64(s.b)
		fields[s.field]++
	}
	for k := range mains {
		m := &mains[k]
		if m.Share == 0 {
			continue
		}
		m.Colour = Lab{m.Colour.L / m.Share, m.Colour.A / m.Share, m.Colour.B / m.Share}
		m.R, m.G, m.B = uint8(sums[k][0]/m.Share+0.5), uint8(sums[k][1]/m.Share+0.5), uint8(sums[k][2]/m.Share+0.5)
		m.Even = even(m.Fields, fields)
		for f := range m.Fields {
			m.Fields[f] /= max(1, fields[f])
		}
		m.Share /= float64(len(all))
	}
	mains = slices.DeleteFunc(mains, func(m Main) bool { return m.Share < least })
	slices.SortStableFunc(mains, func(a, b Main) int { return cmp.Compare(b.Share, a.Share) })
	nameApart(mains)
	return mains
}

// even compares where a colour is with where the picture is: one less the half
// of all differences of their shares, field by field (the total variation
// distance), stretched so that one field alone is 0.
func even(of, all [9]float64) float64 {
	sum, whole, least := 0.0, 0.0, 1.0
	for f := range all {
		sum, whole = sum+of[f], whole+all[f]
	}
	away := 0.0
	for f := range all {
		away += math.Abs(of[f]/sum-all[f]/whole) / 2
		if all[f] > 0 {
			least = min(least, all[f]/whole)
		}
	}
	if least == 1 {
		return 1 // a picture of one field
	}
	return max(0, 1-away/(1-least))
}

// fieldNames are where the ninths are.
var fieldNames = [9]string{"top left", "top", "top right", "left", "middle", "right", "bottom left", "bottom", "bottom right"}

// Spread says in words how a colour is spread over the picture.
func (m Main) Spread() string {
	switch {
	case m.Even > 0.75:
		return "spread all over"
	case m.Even > 0.5:
		return "in most places"
	}
	var top, rest []string
	best := slices.Max(m.Fields[:])
	for f, v := range m.Fields {
		if v > 0.6*best {
			top = append(top, fieldNames[f])
		} else if v > 0.1*best {
			rest = append(rest, fieldNames[f])
		}
	}
	if len(top) > 3 || len(rest) > 4 {
		return "uneven"
	}
	words := strings.Join(top, " and ")
	for row, name := range []string{"along the top", "across the middle", "along the bottom"} {
		if words == strings.Join(fieldNames[3*row:3*row+3], " and ") {
			words = name
		}
	}
	return "mostly " + words
}

// Found is how much of a picture is nearest to one of given colours, and how
// evenly it lies there.
type Found struct {
	Share, Even float64
	Fields      [9]float64 // its share of each ninth, row by row
}

// Against says in words how a colour in a drawing differs from the picture's. A
// quarter more or less is hardly seen (ours).
func (m Main) Against(f Found) string {
	switch {
	case f.Share < 0.1*m.Share:
		return "hardly there yet"
	case f.Share < 0.6*m.Share:
		return "less than in the picture"
	case f.Share > 1.7*m.Share:
		return "more than in the picture"
	case f.Even < m.Even-0.25:
		return "as much, and less spread: repeat it elsewhere"
	}
	return "much as in the picture"
}

// far is how different a colour may be from every given one and still count as
// one of them.
const far = 32.0

// Look finds colours in another picture, such as the photograph of a drawing:
// each pixel counts for the nearest of them, if it is near enough.
func Look(img *image.RGBA, mains []Main) []Found {
	found := make([]Found, len(mains))
	if len(mains) == 0 {
		return found
	}
	var centres []Lab
	for _, m := range mains {
		centres = append(centres, m.Colour)
	}
	all := sampled(img)
	in := make([][9]float64, len(mains))
	var fields [9]float64
	for _, s := range all {
		fields[s.field]++
		if k := nearest(s.Lab, centres); s.Apart(centres[k]) < far {
			in[k][s.field]++
			found[k].Share++
		}
	}
	for k := range found {
		if found[k].Share > 0 {
			found[k].Even = even(in[k], fields)
			for f := range fields {
				found[k].Fields[f] = in[k][f] / max(1, fields[f])
			}
			found[k].Share /= float64(len(all))
		}
	}
	return found
}
