package demo

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
)

// Desk is a table with papers on it, in millimetres.
type Desk struct {
	page page.Page
}

var (
	wood  = page.Color{R: 148, G: 128, B: 104}
	paper = page.White
	board = page.Color{R: 34, G: 34, B: 38}
)

// NewDesk returns an empty table of the given size.
func NewDesk(size measure.Size) *Desk {
	d := &Desk{page.Page{Size: size}}
	d.rect(plane.Point{}, float64(size.W), float64(size.H), wood)
	return d
}

func (d *Desk) rect(at plane.Point, w, h float64, c page.Color) {
	points := []plane.Point{at, pt(at.X+w, at.Y), pt(at.X+w, at.Y+h), pt(at.X, at.Y+h)}
	d.page.Items = append(d.page.Items, page.Path{Points: points, Closed: true, Fill: &c})
}

// Lay puts a drawing on its plan's paper, the paper's top left at a place, and
// returns where the drawing's grid begins. The paper is black for dark drawings.
func (d *Desk) Lay(p grid.Plan, drawing page.Page, at plane.Point, dark bool) (home plane.Point) {
	ground := paper
	if dark {
		ground = board
	}
	stock := p.StockSize()
	d.rect(at, float64(stock.W), float64(stock.H), ground)
	home = pt(at.X+p.Sheet.Origin.X, at.Y+p.Sheet.Origin.Y)
	for _, item := range drawing.Items {
		d.page.Items = append(d.page.Items, page.Moved(item, func(q plane.Point) plane.Point { return pt(home.X+q.X, home.Y+q.Y) }))
	}
	return home
}

// Tag lays the four corner tags of a drawing whose grid begins at home, each
// turned a little about its tip, as hands lay them.
func (d *Desk) Tag(p grid.Plan, project, student uint64, home plane.Point, rng *rand.Rand) error {
	for corner, c := range plane.Box(p.Sheet.Width, p.Sheet.Height) {
		pg, err := sheet.TagPage(photo.Tag{Project: project, Student: student, Corner: corner})
		if err != nil {
			return fmt.Errorf("laying a tag: %w", err)
		}
		tip, _ := photo.TagTip(corner)
		sin, cos := math.Sincos(rng.NormFloat64() * 0.03)
		for _, item := range pg.Items {
			d.page.Items = append(d.page.Items, page.Moved(item, func(q plane.Point) plane.Point {
				x, y := q.X-tip.X, q.Y-tip.Y
				return pt(home.X+c.X+x*cos-y*sin, home.Y+c.Y+x*sin+y*cos)
			}))
		}
	}
	return nil
}

// Camera is a pretend camera above a desk. It knows the truth: where the
// desk's places are in its photo.
type Camera struct {
	Width, Height int
	From          plane.Quad // the part of the desk, mm, that fills the photo's four corners
	Bend          float64    // of the lens, as photo.Lens has it
	Dim           float64    // how much darker the far corner is, 0 to 1
	Shadow        float64    // how much darker a hand's shadow is that falls across the left, 0 to 1
	Glare         float64    // how far a lamp's reflection reaches, as a share of the width
	Blur          float64    // sigma, pixels
	Noise         float64    // standard deviation, 0 to 255
	Quality       int        // of the JPEG; 0 is 88
	Sharpen       float64    // how much of what differs from its neighbourhood the phone adds once more
	Denoise       bool       // the phone smooths what hardly differs from its neighbours
	Lie           Lie        // of the paper
	Worn          Worn       // what is on the paper beside the drawing
	Company       bool       // another sheet lies beside, and a hand holds this one
}

// lens returns the camera's own.
func (c Camera) lens() photo.Lens { return photo.NewLens(c.Width, c.Height, c.Bend) }

// Sees returns the pixel at which a place on the desk, or on the paper that lies there, is seen.
func (c Camera) Sees(at plane.Point) (plane.Point, error) {
	e, err := c.eye()
	if err != nil {
		return plane.Point{}, err
	}
	return c.seesBy(e, at), nil
}

func (c Camera) seesBy(e eye, at plane.Point) plane.Point {
	if c.Lie.flat() || !c.Lie.holds(at) {
		return e.sees(at, 0)
	}
	return e.sees(c.Lie.at(at))
}

// shows returns what undoes Sees: where on the desk, or on the paper as if it lay flat,
// a pixel looks.
func (c Camera) shows() (func(plane.Point) plane.Point, error) {
	toDesk, err := picture.NewHomography(plane.Box(float64(c.Width), float64(c.Height)), c.From)
	if err != nil {
		return nil, err
	}
	e, err := c.eye()
	if err != nil {
		return nil, err
	}
	lens := c.lens()
	return func(q plane.Point) plane.Point {
		flat := toDesk.Apply(lens.Straighten(q))
		if c.Lie.flat() {
			return flat
		}
		at := flat
		for range 8 { // what stands up is seen a little aside of where it would lie
			at = at.Add(flat.Sub(toDesk.Apply(lens.Straighten(e.sees(c.Lie.at(at))))))
		}
		if !c.Lie.holds(at) {
			return flat
		}
		return at
	}, nil
}

// Corners returns where the corners of a plan's grid that begins at home are seen.
func (c Camera) Corners(p grid.Plan, home plane.Point) (q plane.Quad, err error) {
	for i, at := range plane.Box(p.Sheet.Width, p.Sheet.Height) {
		px, err := c.Sees(pt(home.X+at.X, home.Y+at.Y))
		if err != nil {
			return q, err
		}
		q[i] = px
	}
	return q, nil
}

// Shoot returns a JPEG of the desk.
func (c Camera) Shoot(d *Desk, rng *rand.Rand) ([]byte, error) {
	// The desk is painted about as finely as the photo shows it.
	perMM := min(12, math.Sqrt(float64(c.Width*c.Height)/c.From.Area()))
	shows, err := c.shows()
	if err != nil {
		return nil, err
	}
	desk := render.Pixels(d.page, perMM, nil)
	c.Worn.on(desk, c.Lie.Paper, perMM, rng)
	from := func(q plane.Point) plane.Point { return shows(q).Mul(perMM) }
	shot := picture.Warp(desk, from, c.Width, c.Height, 2)
	c.shade(shot, shows)
	c.light(shot, rng)
	c.process(shot)
	quality := c.Quality
	if quality == 0 {
		quality = 88
	}
	var out bytes.Buffer
	err = jpeg.Encode(&out, shot, &jpeg.Options{Quality: quality})
	return out.Bytes(), err
}

// light blurs the photo, lets the light fall off and a lamp glare, and adds the
// sensor's noise.
func (c Camera) light(shot *image.RGBA, rng *rand.Rand) {
	blur(shot, c.Blur)
	w, h := float64(c.Width), float64(c.Height)
	for y := range c.Height {
		row := shot.Pix[y*shot.Stride:]
		v := float64(y) / h
		for x := range c.Width {
			u := float64(x) / w
			k := 1 - c.Dim*(u+v)/2
			// The shadow's edge is soft, over a twentieth of the photo.
			k *= 1 - c.Shadow/(1+math.Exp((u-0.3-0.2*v)*80))
			lamp := 0.0
			if c.Glare > 0 {
				away := math.Hypot(u-0.6, (v-0.45)*h/w) / c.Glare
				lamp = 400 * math.Exp(-away*away*2)
			}
			n := rng.NormFloat64() * c.Noise
			for j, warm := range [3]float64{1, 0.985, 0.95} {
				row[4*x+j] = uint8(max(0, min(255, float64(row[4*x+j])*k*warm+lamp+n)))
			}
		}
	}
}

// shadePart is over how many pixels a side the paper's slope is taken as one.
const shadePart = 4

// shade makes a paper that does not lie flat lighter where it leans to the light, which
// comes from the left.
func (c Camera) shade(shot *image.RGBA, shows func(plane.Point) plane.Point) {
	if c.Lie.flat() {
		return
	}
	for y := 0; y < c.Height; y += shadePart {
		for x := 0; x < c.Width; x += shadePart {
			at := shows(plane.Pt(float64(x)+shadePart/2, float64(y)+shadePart/2))
			if !at.In(c.Lie.Paper) {
				continue
			}
			k := 0.9 + 0.5*c.Lie.slope(at)
			for j := y; j < min(y+shadePart, c.Height); j++ {
				row := shot.Pix[j*shot.Stride:]
				for i := 4 * x; i < 4*min(x+shadePart, c.Width); i++ {
					if i%4 != 3 {
						row[i] = uint8(max(0, min(255, k*float64(row[i]))))
					}
				}
			}
		}
	}
}

// blur is three passes of a box, which come near to a Gaussian.
func blur(img *image.RGBA, sigma float64) {
	r := int(math.Round((math.Sqrt(4*sigma*sigma+1) - 1) / 2))
	if r < 1 {
		return
	}
	w, h := img.Rect.Dx(), img.Rect.Dy()
	line := make([]int, max(w, h))
	pass := func(n, start, step int) {
		at := func(i int) int { return int(img.Pix[start+max(0, min(n-1, i))*step]) }
		sum := 0
		for i := -r; i <= r; i++ {
			sum += at(i)
		}
		for i := range n {
			line[i] = sum
			sum += at(i+r+1) - at(i-r)
		}
		for i := range n {
			img.Pix[start+i*step] = uint8((line[i] + r) / (2*r + 1))
		}
	}
	for range 3 {
		for c := range 3 {
			for y := range h {
				pass(w, y*img.Stride+c, 4)
			}
			for x := range w {
				pass(h, 4*x+c, img.Stride)
			}
		}
	}
}
