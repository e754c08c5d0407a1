package picture

import (
	"fmt"
	"image"
)

// Facts are what a teacher wants to know of a picture at once.
type Facts struct {
	Grey     bool
	Mean     float64 // mean lightness, L* 0 to 100
	Drawing  bool    // a line drawing, else a photograph or painting
	Middle   float64 // share of the picture that is neither paper nor line, 0 to 1
	Reason   string  // why it counts as a drawing or a photograph
	ForClass string  // what that means for the class
	Cut      bool    `json:",omitempty"` // its file ended too early, and what there was of it was taken
	Halves   Halves  `json:",omitempty"`
	Inner    [4]int  // x, y, width and height inside a white border, as Trim finds it
}

// Bordered reports whether the picture has a border to trim away.
func (f Facts) Bordered(w, h int) bool { return f.Inner != [4]int{0, 0, w, h} && f.Inner[2] > 0 }

// A drawing is paper and lines: little is of a tone between (thresholds ours,
// tried on the sample pictures of golang.org/x/image).
const (
	paperApart  = 20.0 // L* from the paper's own lightness
	lineApart   = 45.0
	mostMiddle  = 0.12
	leastPaper  = 0.5
	greyApart   = 12 // the largest difference of components that still looks grey
	mostColour  = 0.01
	factsSide   = 800
	darkPicture = 35.0
)

// Look measures a picture; small is the same one shrunk, on which tones are
// measured. Its cost is one pass over at most 800 × 800 pixels,
// and over the borders of img.
func Look(img, small *image.RGBA) Facts {
	inner := Trim(img)
	img = Shrink(small, factsSide)
	var histogram [101]int
	coloured, n, sum := 0, 0, 0.0
	for i := 0; i+3 < len(img.Pix); i += 4 {
		r, g, b := img.Pix[i], img.Pix[i+1], img.Pix[i+2]
		l := LightnessOf(Luminance(r, g, b))
		histogram[int(l+0.5)]++
		sum += l
		n++
		if max(r, g, b)-min(r, g, b) > greyApart {
			coloured++
		}
	}
	f := Facts{Mean: sum / float64(n), Grey: float64(coloured) < mostColour*float64(n)}
	paper, near, middle := paperOf(histogram), 0, 0
	for l, count := range histogram {
		switch apart := abs(float64(l - paper)); {
		case apart < paperApart:
			near += count
		case apart < lineApart:
			middle += count
		}
	}
	f.Middle = float64(middle) / float64(n)
	share := float64(near) / float64(n)
	f.Drawing = share >= leastPaper && f.Middle <= mostMiddle
	f.Inner = [4]int{inner.Min.X, inner.Min.Y, inner.Dx(), inner.Dy()}
	f.Halves = HalvesOf(img)
	f.explain(share)
	return f
}

// lightnessTable holds Lightness for even steps of luminance.
var lightnessTable = func() (table [4097]float64) {
	for i := range table {
		table[i] = Lightness(float64(i) / 4096)
	}
	return table
}()

// LightnessOf is Lightness from the table: near enough to sort tones.
func LightnessOf(y float64) float64 { return lightnessTable[int(y*4096+0.5)] }

// paperOf returns the lightness around which most of the picture lies.
func paperOf(histogram [101]int) int {
	best, most := 0, -1
	for l := range histogram {
		count := 0
		for k := max(0, l-5); k <= min(100, l+5); k++ {
			count += histogram[k]
		}
		if count > most {
			best, most = l, count
		}
	}
	return best
}

func (f *Facts) explain(paper float64) {
	if f.Drawing {
		f.Reason = fmt.Sprintf("Line drawing: %.0f %% is bare paper, and only %.0f %% is of a tone between paper and line.", paper*100, f.Middle*100)
		f.ForClass = "The lines are there to be copied: good for a first project."
		return
	}
	f.Reason = fmt.Sprintf("Photograph or painting: tones everywhere, %.0f %% of them between light and dark.", f.Middle*100)
	f.ForClass = "Students must decide where the lines are. Start with the big shapes, or trace a value map first."
	if !f.Grey {
		f.ForClass += " A grey print is easier than colour."
	}
	if f.Mean < darkPicture {
		f.ForClass += " It is dark: use white or red grid lines."
	}
}

func abs(v float64) float64 { return max(v, -v) }

const minSide = 16

// Trim returns the part of img inside a white or near-white border, the whole
// where there is none. A row or column belongs to the border while hardly any
// of it differs from white; nothing but white has no inside, and is kept whole.
func Trim(img *image.RGBA) image.Rectangle {
	r := img.Rect
	for r.Dy() > 1 && blank(img, image.Rect(r.Min.X, r.Min.Y, r.Max.X, r.Min.Y+1)) {
		r.Min.Y++
	}
	for r.Dy() > 1 && blank(img, image.Rect(r.Min.X, r.Max.Y-1, r.Max.X, r.Max.Y)) {
		r.Max.Y--
	}
	for r.Dx() > 1 && blank(img, image.Rect(r.Min.X, r.Min.Y, r.Min.X+1, r.Max.Y)) {
		r.Min.X++
	}
	for r.Dx() > 1 && blank(img, image.Rect(r.Max.X-1, r.Min.Y, r.Max.X, r.Max.Y)) {
		r.Max.X--
	}
	if r.Dx() < minSide || r.Dy() < minSide {
		return img.Rect
	}
	return r
}

// Near-white is this light in every component; a speck in two hundred is dust.
const (
	nearWhite = 236
	dust      = 200
)

func blank(img *image.RGBA, strip image.Rectangle) bool {
	dark, n := 0, strip.Dx()*strip.Dy()
	for y := strip.Min.Y; y < strip.Max.Y; y++ {
		for x := strip.Min.X; x < strip.Max.X; x++ {
			p := img.Pix[img.PixOffset(x, y):]
			if min(p[0], p[1], p[2]) < nearWhite {
				dark++
			}
		}
	}
	return dark*dust <= n
}
