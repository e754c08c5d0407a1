package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
)

// student says how a pretend student draws: the whole turned, sized and moved
// about the sheet's middle, single landmarks put in the wrong place, and a hand
// that is not quite steady.
type student struct {
	Turn, Size   float64               // degrees clockwise; 1 is the right size
	Move         sheet.Point           // mm on the sheet
	Slips        map[string]grid.Point // landmark to how far it is off, mm on the sheet
	Rows         int                   // rows of boxes drawn so far; 0 is all
	Unsteady     float64               // mm
	PencilWeight float64               // mm
}

// onSheet returns where a point of a scene belongs on the sheet.
func onSheet(p grid.Plan, at sheet.Point) sheet.Point {
	return p.ToSheet(p.FromPicture(pt(at.X*perMM, at.Y*perMM)))
}

// place returns where the student puts a point of the scene, in mm on the sheet.
func (d student) place(p grid.Plan, s scene, at sheet.Point) sheet.Point {
	to := onSheet(p, at)
	mid := pt(p.Sheet.Width/2, p.Sheet.Height/2)
	sin, cos := math.Sincos(d.Turn * math.Pi / 180)
	x, y := (to.X-mid.X)*d.Size, (to.Y-mid.Y)*d.Size
	out := pt(mid.X+x*cos-y*sin+d.Move.X, mid.Y+x*sin+y*cos+d.Move.Y)
	for _, l := range s.landmarks {
		slip, ok := d.Slips[l.name]
		if !ok {
			continue
		}
		home := onSheet(p, l.at)
		near := math.Exp(-(sq(home.X-to.X) + sq(home.Y-to.Y)) / (2 * sq(p.Grid.SheetCell[0]*0.5)))
		out.X += slip.X * near
		out.Y += slip.Y * near
	}
	return out
}

func sq(v float64) float64 { return v * v }

// draw returns the student's sheet as pixels, perMM a millimetre: the faint
// grid and the pencil lines of the scene, drawn as far as the student got.
func (d student) draw(p grid.Plan, s scene, perMM float64, rng *rand.Rand) *image.RGBA {
	page := sheet.Page{Size: p.SheetSize()}
	faint := sheet.Color{R: 190, G: 192, B: 194}
	for _, x := range p.Marks.SheetX {
		page.Items = append(page.Items, sheet.Path{Points: []sheet.Point{pt(x, 0), pt(x, p.Sheet.Height)}, Width: 0.4, Stroke: faint})
	}
	for _, y := range p.Marks.SheetY {
		page.Items = append(page.Items, sheet.Path{Points: []sheet.Point{pt(0, y), pt(p.Sheet.Width, y)}, Width: 0.4, Stroke: faint})
	}
	end := p.Sheet.Height
	if d.Rows > 0 && d.Rows < len(p.Marks.SheetY) {
		end = p.Marks.SheetY[d.Rows]
	}
	graphite := sheet.Color{R: 70, G: 70, B: 76}
	for _, item := range s.page.Items {
		path, ok := item.(sheet.Path)
		if !ok {
			continue
		}
		points := path.Points
		if path.Closed {
			points = append(append([]sheet.Point{}, points...), points[0])
		}
		for _, run := range d.runs(p, s, dense(points), end, rng) {
			page.Items = append(page.Items, sheet.Path{Points: run, Width: d.PencilWeight, Stroke: graphite})
		}
	}
	return render.Pixels(page, perMM, nil)
}

// dense adds points so that a long straight line can waver too.
func dense(points []sheet.Point) (out []sheet.Point) {
	for i, p := range points {
		if i > 0 {
			q := points[i-1]
			n := int(math.Hypot(p.X-q.X, p.Y-q.Y) / 4)
			for j := 1; j <= n; j++ {
				t := float64(j) / float64(n+1)
				out = append(out, pt(q.X+(p.X-q.X)*t, q.Y+(p.Y-q.Y)*t))
			}
		}
		out = append(out, p)
	}
	return out
}

// runs returns the student's version of a line, cut off where the drawing ends so far.
func (d student) runs(p grid.Plan, s scene, points []sheet.Point, end float64, rng *rand.Rand) (runs [][]sheet.Point) {
	var run []sheet.Point
	for _, q := range points {
		if onSheet(p, q).Y > end {
			runs, run = append(runs, run), nil
			continue
		}
		at := d.place(p, s, q)
		run = append(run, pt(at.X+rng.NormFloat64()*d.Unsteady, at.Y+rng.NormFloat64()*d.Unsteady))
	}
	return append(runs, run)
}

// camera is a pretend camera above a table. It knows the truth: where the
// grid's corners are in its photo.
type camera struct {
	Width, Height int
	Corners       picture.Quad // of the drawn grid, in the photo
	Dim           float64      // how much darker the far corner is, 0 to 1
	Noise         float64      // standard deviation, 0 to 255
}

// shoot returns a JPEG of a drawing lying on a table. The drawing is on the
// paper from its corner; perMM is its pixels a millimetre.
func (c camera) shoot(p grid.Plan, drawing *image.RGBA, perMM float64, rng *rand.Rand) ([]byte, error) {
	const table = 220.0 // mm of table around the paper
	px := func(mm float64) int { return int(mm * perMM) }
	canvas := image.NewRGBA(image.Rect(0, 0, px(p.Sheet.Stock[0]+2*table), px(p.Sheet.Stock[1]+2*table)))
	draw.Draw(canvas, canvas.Rect, image.NewUniform(color.RGBA{148, 128, 104, 255}), image.Point{}, draw.Src)
	corner := image.Pt(px(table), px(table))
	draw.Draw(canvas, image.Rect(0, 0, px(p.Sheet.Stock[0]), px(p.Sheet.Stock[1])).Add(corner), image.White, image.Point{}, draw.Src)
	draw.Draw(canvas, drawing.Rect.Add(corner), drawing, image.Point{}, draw.Src)

	home := picture.Box(p.Sheet.Width*perMM, p.Sheet.Height*perMM)
	for i := range home {
		home[i].X += float64(corner.X)
		home[i].Y += float64(corner.Y)
	}
	toCanvas, err := picture.NewHomography(c.Corners, home)
	if err != nil {
		return nil, err
	}
	photo := picture.Warp(canvas, toCanvas.Apply, c.Width, c.Height, 2)
	c.light(photo, rng)
	var out bytes.Buffer
	err = jpeg.Encode(&out, photo, &jpeg.Options{Quality: 88})
	return out.Bytes(), err
}

// light darkens the photo towards its far corner and adds the sensor's noise.
func (c camera) light(photo *image.RGBA, rng *rand.Rand) {
	for y := range c.Height {
		for x := range c.Width {
			k := 1 - c.Dim*(float64(x)/float64(c.Width)+float64(y)/float64(c.Height))/2
			n := rng.NormFloat64() * c.Noise
			i := photo.PixOffset(x, y)
			for j, warm := range [3]float64{1, 0.985, 0.95} {
				photo.Pix[i+j] = uint8(max(0, min(255, float64(photo.Pix[i+j])*k*warm+n)))
			}
		}
	}
}
