package demo

import (
	"image"
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Worn is what a paper has been through.
type Worn struct {
	Tooth float64 // grey levels by which its grain makes it, and what is drawn on it, uneven
	Smear float64 // share of a pencil's dark that the hand has carried to the right
	Bleed float64 // mm over which wet colour has run
	Fold  bool    // it was folded once, and the crease still shows
}

// smearMM is how far a hand carries graphite.
const smearMM = 12.0

// on changes the painted paper, perMM pixels a millimetre.
func (w Worn) on(desk *image.RGBA, paper plane.Rect, perMM float64, rng *rand.Rand) {
	r := image.Rect(int(paper.Min.X*perMM), int(paper.Min.Y*perMM), int(paper.Max.X*perMM), int(paper.Max.Y*perMM)).Intersect(desk.Rect)
	sheet, _ := desk.SubImage(r).(*image.RGBA)
	if sheet == nil || r.Empty() {
		return
	}
	if w.Bleed > 0 {
		w.bleed(sheet, perMM)
	}
	if w.Smear > 0 {
		w.smear(sheet, perMM)
	}
	if w.Fold {
		crease(sheet, perMM)
	}
	if w.Tooth > 0 {
		w.grain(sheet, perMM, rng)
	}
}

// bleed lets half of every colour run into its neighbourhood.
func (w Worn) bleed(sheet *image.RGBA, perMM float64) {
	soft := copied(sheet)
	blur(soft, w.Bleed*perMM)
	each(sheet, func(x, y int, px []uint8) {
		other := soft.Pix[y*soft.Stride+4*x:]
		for c := range 3 {
			px[c] = uint8((int(px[c]) + int(other[c])) / 2)
		}
	})
}

// smear carries darkness to the right, less the farther.
func (w Worn) smear(sheet *image.RGBA, perMM float64) {
	keep := math.Exp(-1 / (smearMM * perMM))
	for y := range sheet.Rect.Dy() {
		row := sheet.Pix[y*sheet.Stride:]
		carried := 0.0
		for x := range sheet.Rect.Dx() {
			dark := 255 - float64(row[4*x])
			carried = carried*keep + dark*(1-keep)
			less := w.Smear * carried
			for c := range 3 {
				row[4*x+c] = uint8(max(0, float64(row[4*x+c])-less))
			}
		}
	}
}

// crease draws a fold across the middle: light on one side, dark on the other.
func crease(sheet *image.RGBA, perMM float64) {
	mid := sheet.Rect.Dy() / 2
	each(sheet, func(_, y int, px []uint8) {
		away := float64(y-mid) / perMM
		change := 30 * away * math.Exp(-away*away*2)
		for c := range 3 {
			px[c] = uint8(max(0, min(255, float64(px[c])+change)))
		}
	})
}

// grain makes the paper uneven, over about a third of a millimetre; pencil more than paper.
func (w Worn) grain(sheet *image.RGBA, perMM float64, rng *rand.Rand) {
	cell := max(1, int(perMM/3))
	columns := sheet.Rect.Dx()/cell + 1
	tooth := make([]float64, columns*(sheet.Rect.Dy()/cell+1))
	for i := range tooth {
		tooth[i] = rng.NormFloat64()
	}
	each(sheet, func(x, y int, px []uint8) {
		n := w.Tooth * tooth[y/cell*columns+x/cell]
		if px[0] < 200 {
			n *= 2.5
		}
		for c := range 3 {
			px[c] = uint8(max(0, min(255, float64(px[c])+n)))
		}
	})
}

func each(img *image.RGBA, do func(x, y int, px []uint8)) {
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			do(x, y, img.Pix[y*img.Stride+4*x:])
		}
	}
}

func copied(img *image.RGBA) *image.RGBA {
	out := image.NewRGBA(image.Rect(0, 0, img.Rect.Dx(), img.Rect.Dy()))
	for y := range out.Rect.Dy() {
		copy(out.Pix[y*out.Stride:(y+1)*out.Stride], img.Pix[y*img.Stride:])
	}
	return out
}

// skin is of the hand that holds a sheet.
var skin = page.Color{R: 196, G: 150, B: 122}

// accompany lays a printed sheet beside a paper, and a hand on its left edge.
func (d *Desk) accompany(on plane.Rect) {
	size := on.Max.Sub(on.Min)
	other := pt(on.Max.X+15, on.Min.Y+size.Y*0.1)
	d.rect(other, size.X*0.7, size.Y*0.7, paper)
	for i := range 12 {
		d.rect(other.Add(pt(12, 14+float64(i)*size.Y*0.05)), size.X*0.5, 1.5, page.Color{R: 90, G: 90, B: 90})
	}
	at := pt(on.Min.X, on.Min.Y+size.Y*0.55)
	for _, part := range []struct{ x, y, w, h float64 }{{-55, 0, 48, 34}, {-12, -14, 24, 7}, {-20, 24, 18, 8}} {
		points := arc(at.X+part.x, at.Y+part.y, part.w, part.h, 0, 360)
		d.page.Items = append(d.page.Items, page.Path{Points: points, Closed: true, Fill: &skin})
	}
}

// process is what a phone does to a photo before it is kept: noise that hardly differs
// from its neighbours is smoothed, and edges are made sharper.
func (c Camera) process(shot *image.RGBA) {
	if c.Denoise {
		denoise(shot, max(6, 2*c.Noise))
	}
	if c.Sharpen > 0 {
		soft := copied(shot)
		blur(soft, 1.5)
		each(shot, func(x, y int, px []uint8) {
			other := soft.Pix[y*soft.Stride+4*x:]
			for k := range 3 {
				px[k] = uint8(max(0, min(255, float64(px[k])+c.Sharpen*(float64(px[k])-float64(other[k])))))
			}
		})
	}
}

// denoise averages a pixel with those of its eight neighbours that are like it: the sigma
// filter, Lee (1983), Computer Vision, Graphics, and Image Processing 24.
func denoise(shot *image.RGBA, like float64) {
	from := copied(shot)
	w, h := from.Rect.Dx(), from.Rect.Dy()
	each(shot, func(x, y int, px []uint8) {
		for c := range 3 {
			own := float64(px[c])
			sum, n := 0.0, 0.0
			for j := max(0, y-1); j <= min(h-1, y+1); j++ {
				for i := max(0, x-1); i <= min(w-1, x+1); i++ {
					if v := float64(from.Pix[j*from.Stride+4*i+c]); math.Abs(v-own) <= like {
						sum, n = sum+v, n+1
					}
				}
			}
			px[c] = uint8(sum / n)
		}
	})
}
