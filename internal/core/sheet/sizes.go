package sheet

import (
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// How large the drawing of a plan's sizes is, in millimetres.
const sizesWide, sizesHigh, sizesGap, sizesEdge = 110.0, 58.0, 8.0, 2.0

// almostAll of a picture is in a frame that is only trimmed (ours).
const almostAll = 0.85

// Sizes draws a plan's picture beside its drawing on the paper, both gridded and
// to one scale: what is enlarged, what divides and what is left over is seen.
func Sizes(p grid.Plan) page.Page {
	stock := p.StockSize()
	k := min((sizesWide-sizesGap)/(p.Reference.Width+float64(stock.W)), sizesHigh/max(p.Reference.Height, float64(stock.H)))
	w, h := (p.Reference.Width+float64(stock.W))*k+sizesGap, max(p.Reference.Height, float64(stock.H))*k
	pg := page.Page{Title: titled(p), Size: measure.Size{W: measure.Length(w + 2*sizesEdge), H: measure.Length(h + 2*sizesEdge)}}
	at := plane.Pt(sizesEdge, sizesEdge+h-p.Reference.Height*k)
	if f := p.Frame; f != nil && f.Angle == 0 && !f.Mirror && f.Size[0]*f.Size[1] > almostAll*float64(f.Picture[0]*f.Picture[1]) { // what is trimmed away, faded
		px := p.Reference.Width * k / f.Size[0]
		pg.Add(page.Picture{Box: page.Box(at.X-(f.Centre.X-f.Size[0]/2)*px, at.Y-(f.Centre.Y-f.Size[1]/2)*px, float64(f.Picture[0])*px, float64(f.Picture[1])*px), Name: FramePicture, Fade: 0.65})
	}
	pg.Add(framed(p, page.Box(at.X, at.Y, p.Reference.Width*k, p.Reference.Height*k)))
	drawLines(&pg, at, p.Marks.ReferenceX, p.Marks.ReferenceY, k, ReferenceNet(p).Color)
	at = plane.Pt(sizesEdge+p.Reference.Width*k+sizesGap, sizesEdge+h-float64(stock.H)*k)
	paper := page.BoxPath(page.Box(at.X, at.Y, float64(stock.W)*k, float64(stock.H)*k), 0.3, page.Ink)
	paper.Fill = &page.White
	pg.Add(paper)
	drawLines(&pg, at.Add(p.Sheet.Origin.Mul(k)), p.Marks.SheetX, p.Marks.SheetY, k, page.Faint)
	return pg
}

// drawLines rules a grid, reduced k times, from a corner.
func drawLines(pg *page.Page, at plane.Point, xs, ys []float64, k float64, c page.Color) {
	for _, x := range xs {
		pg.Line(at.X+x*k, at.Y, at.X+x*k, at.Y+ys[len(ys)-1]*k, 0.35, c)
	}
	for _, y := range ys {
		pg.Line(at.X, at.Y+y*k, at.X+xs[len(xs)-1]*k, at.Y+y*k, 0.35, c)
	}
}
