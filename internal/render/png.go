package render

import (
	"image"
	"image/color"
	"image/draw"
	"math"

	"golang.org/x/image/font"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/f64"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"

	xdraw "golang.org/x/image/draw"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Pixels returns a page as pixels on white, perMM of them a millimetre.
// Pictures are given decoded, by name; one that is missing is left white.
func Pixels(pg page.Page, perMM float64, pictures map[string]image.Image) *image.RGBA {
	w, h := int(math.Round(float64(pg.Size.W)*perMM)), int(math.Round(float64(pg.Size.H)*perMM))
	c := canvas{image.NewRGBA(image.Rect(0, 0, w, h)), perMM}
	draw.Draw(c.img, c.img.Rect, image.White, image.Point{}, draw.Src)
	for _, item := range pg.Items {
		switch v := item.(type) {
		case page.Path:
			c.path(v)
		case page.Text:
			c.text(v)
		case page.Picture:
			c.picture(v, pictures[v.Name])
		}
	}
	return c.img
}

type canvas struct {
	img *image.RGBA
	k   float64 // pixels a millimetre
}

func (c canvas) path(p page.Path) {
	points := make([]plane.Point, len(p.Points))
	for i, q := range p.Points {
		points[i] = plane.Pt(q.X*c.k, q.Y*c.k)
	}
	if p.Fill != nil {
		c.fill([][]plane.Point{points}, *p.Fill)
	}
	if p.Width > 0 {
		if p.Closed && len(points) > 0 {
			points = append(points, points[0])
		}
		var pieces [][]plane.Point
		for _, run := range dashed(points, p.Dash*c.k) {
			pieces = append(pieces, strokes(run, p.Width*c.k/2)...)
		}
		c.fill(pieces, p.Stroke)
	}
}

// strokes returns the outline of a run of lines with round ends and joins, as
// overlapping pieces that all turn the same way, so that they fill as one.
func strokes(points []plane.Point, half float64) (pieces [][]plane.Point) {
	corners := max(8, int(math.Ceil(half*4)))
	for i, p := range points {
		round := make([]plane.Point, corners)
		for j := range round {
			sin, cos := math.Sincos(2 * math.Pi * float64(j) / float64(corners))
			round[j] = plane.Pt(p.X+half*cos, p.Y+half*sin)
		}
		pieces = append(pieces, round)
		if i == 0 {
			continue
		}
		q := points[i-1]
		length := p.Sub(q).Len()
		if length == 0 {
			continue
		}
		nx, ny := (q.Y-p.Y)/length*half, (p.X-q.X)/length*half
		pieces = append(pieces, []plane.Point{plane.Pt(q.X-nx, q.Y-ny), plane.Pt(p.X-nx, p.Y-ny), plane.Pt(p.X+nx, p.Y+ny), plane.Pt(q.X+nx, q.Y+ny)})
	}
	return pieces
}

// dashed cuts a run of lines into dashes as long as the gaps; 0 leaves it whole.
func dashed(points []plane.Point, dash float64) (runs [][]plane.Point) {
	if dash <= 0 {
		return [][]plane.Point{points}
	}
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		length := b.Sub(a).Len()
		at := func(t float64) plane.Point {
			t = math.Min(t/length, 1)
			return plane.Pt(a.X+(b.X-a.X)*t, a.Y+(b.Y-a.Y)*t)
		}
		for t := 0.0; t < length; t += 2 * dash {
			runs = append(runs, []plane.Point{at(t), at(t + dash)})
		}
	}
	return runs
}

// fill fills closed pieces by the winding rule, rasterizing only their bounds.
func (c canvas) fill(pieces [][]plane.Point, ink page.Color) {
	minX, minY, maxX, maxY := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, piece := range pieces {
		for _, p := range piece {
			minX, minY = math.Min(minX, p.X), math.Min(minY, p.Y)
			maxX, maxY = math.Max(maxX, p.X), math.Max(maxY, p.Y)
		}
	}
	bounds := image.Rect(int(math.Floor(minX)), int(math.Floor(minY)), int(math.Ceil(maxX))+1, int(math.Ceil(maxY))+1).Intersect(c.img.Rect)
	if bounds.Empty() {
		return
	}
	r := vector.NewRasterizer(bounds.Dx(), bounds.Dy())
	dx, dy := float64(bounds.Min.X), float64(bounds.Min.Y)
	for _, piece := range pieces {
		for i, p := range piece {
			x, y := float32(p.X-dx), float32(p.Y-dy)
			if i == 0 {
				r.MoveTo(x, y)
			} else {
				r.LineTo(x, y)
			}
		}
		r.ClosePath()
	}
	r.Draw(c.img, bounds, image.NewUniform(rgba(ink)), image.Point{})
}

func (c canvas) text(t page.Text) {
	ttf := page.Regular
	if t.Bold {
		ttf = page.Bold
	}
	parsed, err := opentype.Parse(ttf)
	if err != nil {
		return // the face is compiled in and parses
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: t.Size * c.k, DPI: 72})
	if err != nil {
		return
	}
	defer face.Close()
	write := func(dx, dy float64, ink page.Color) {
		d := font.Drawer{Dst: c.img, Src: image.NewUniform(rgba(ink)), Face: face,
			Dot: fixed.Point26_6{X: fixed.Int26_6((anchored(t)*c.k + dx) * 64), Y: fixed.Int26_6((t.At.Y*c.k + dy) * 64)}}
		d.DrawString(t.Words)
	}
	if t.Halo {
		for i := range 12 {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / 12)
			write(cos*t.Size*c.k*0.11, sin*t.Size*c.k*0.11, page.White)
		}
	}
	write(0, 0, t.Color)
}

func (c canvas) picture(p page.Picture, img image.Image) {
	if img == nil {
		return
	}
	px := func(v float64) int { return int(math.Round(v * c.k)) }
	box := image.Rect(px(p.Box.Min.X), px(p.Box.Min.Y), px(p.Box.Max.X), px(p.Box.Max.Y))
	if p.Fade > 0 {
		defer draw.Draw(c.img, box, image.NewUniform(color.NRGBA{255, 255, 255, uint8(p.Fade * 255)}), image.Point{}, draw.Over)
	}
	if p.Part == nil {
		xdraw.BiLinear.Scale(c.img, box, img, img.Bounds(), xdraw.Over, nil)
		return
	}
	m := p.Placed(float64(img.Bounds().Dx()), float64(img.Bounds().Dy()))
	on := c.img.SubImage(box).(*image.RGBA) // what is outside the box is cut off
	xdraw.BiLinear.Transform(on, f64.Aff3{m.A * c.k, m.C * c.k, m.E * c.k, m.B * c.k, m.D * c.k, m.F * c.k}, img, img.Bounds(), xdraw.Over, nil)
}

func rgba(c page.Color) color.RGBA { return color.RGBA{c.R, c.G, c.B, 255} }
