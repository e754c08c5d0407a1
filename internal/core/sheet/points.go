package sheet

import (
	"fmt"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sighting"
)

// Measured is where a pin is found without a grid, on the picture and on the drawing, in
// millimetres: how far down from the top and in from the plumb line through the middle, left
// is minus; and from the fixed point in the middle by a turn, in degrees clockwise from
// straight up, and a distance out.
type Measured struct {
	Name                     string
	Down, In, DrawDown, Draw float64
	Turn, Out, DrawOut       float64
}

// MeasurePins returns what pins measure on the picture and on a plan's drawing, by the rules
// of sight-size and of angle and distance. Where the plan squashes, its two scales are used
// for heights and breadths, and their mean for distances.
func MeasurePins(p grid.Plan, pins []reading.Pin) ([]Measured, error) {
	mid := plane.Pt(p.Reference.Width/2, p.Reference.Height/2)
	out := make([]Measured, len(pins))
	carried, pointed := make([]sighting.Carried, len(pins)), make([]sighting.Pointing, len(pins))
	for i, pin := range pins {
		v := pin.At.Sub(mid)
		turn := 0.0 // of the middle itself as of straight up
		if v.Len() > 0 {
			turn = math.Mod(math.Atan2(v.X, -v.Y)*180/math.Pi+360, 360)
		}
		out[i] = Measured{Name: pin.Name, Down: pin.At.Y, In: v.X, Turn: turn, Out: v.Len()}
		carried[i] = sighting.Carried{Name: pin.Name, Height: measure.Length(pin.At.Y), In: measure.Length(v.X)}
		pointed[i] = sighting.Pointing{Name: pin.Name, Turn: turn, Out: measure.Length(v.Len())}
	}
	down, err := sighting.SightSize(carried, p.Scale[1])
	if err != nil {
		return nil, err
	}
	in, err := sighting.SightSize(carried, p.Scale[0])
	if err != nil {
		return nil, err
	}
	far, err := sighting.Point(pointed, (p.Scale[0]+p.Scale[1])/2)
	if err != nil {
		return nil, err
	}
	for i := range out {
		out[i].DrawDown, out[i].Draw, out[i].DrawOut = float64(down[i].Height), float64(in[i].In), float64(far[i].Out)
	}
	return out, nil
}

// Say says in words where a pin is on the drawing.
func (m Measured) Say(p grid.Plan) string {
	return fmt.Sprintf("%s: %s down, %s; or turn %.0f°, %s out", m.Name, p.Text(m.DrawDown), aside(p, m.Draw), m.Turn, p.Text(m.DrawOut))
}

// aside says how far left or right of the plumb line something is.
func aside(p grid.Plan, mm float64) string {
	switch {
	case math.Abs(mm) < 0.05:
		return "middle"
	case mm < 0:
		return p.Text(-mm) + " left"
	}
	return p.Text(mm) + " right"
}

// Points returns the pages of the wish's pins: the picture with their numbers, its plumb line
// and its fixed point, and a table of what they measure. The error wraps ErrPaper, or ErrEmpty
// where no points were pressed.
func Points(w Wish) ([]page.Page, error) {
	if len(w.Pins) == 0 {
		return nil, fmt.Errorf("the table of points: %w; press points as landmarks under Check first", page.ErrEmpty)
	}
	rows, err := MeasurePins(w.Plan, w.Pins)
	if err != nil {
		return nil, err
	}
	l, err := page.Free(w.Printer, "the table of points")
	if err != nil {
		return nil, err
	}
	var pages []page.Page
	for done := 0; done < len(rows); {
		pg, in := l.Begin(w.titled(), "Points of the picture"), l.Inner()
		y := in.Min.Y + 6
		if done == 0 {
			// The picture is as large as the rows of the table leave it.
			high := max(in.Height()*0.35, in.Height()-float64(len(rows))*rowHigh-48)
			y = w.pinned(&pg, plane.Rect{Min: in.Min.Add(plane.Pt(3, 4)), Max: plane.Pt(in.Max.X-9, in.Min.Y+high)}) + 7
			y = pg.Paragraph(plane.Pt(in.Min.X, y), page.Body, in.Width(), false, w.pointSum(rows[0])) + 2
		}
		y = tableHead(&pg, in, y)
		for ; done < len(rows) && y < in.Max.Y-2; done++ {
			y = w.pointRow(&pg, in, y, done, rows[done])
		}
		pages = append(pages, pg)
	}
	return pages, nil
}

// pinned draws the picture with its pins into a box, and returns its lower edge.
func (w Wish) pinned(pg *page.Page, room plane.Rect) float64 {
	p := w.Plan
	k := min(room.Width()/p.Reference.Width, room.Height()/p.Reference.Height)
	b := page.Box((room.Min.X+room.Max.X-k*p.Reference.Width)/2, room.Min.Y, k*p.Reference.Width, k*p.Reference.Height)
	if p.Frame != nil {
		pic := w.picture(b)
		pg.Add(pic)
	}
	pg.Add(page.BoxPath(b, 0.3, page.Ink))
	mid := plane.Pt((b.Min.X+b.Max.X)/2, (b.Min.Y+b.Max.Y)/2)
	for _, way := range [][2]plane.Point{{plane.Pt(mid.X, b.Min.Y), plane.Pt(mid.X, b.Max.Y)}} {
		line := page.Path{Points: way[:], Width: 0.35, Stroke: page.Ink, Dash: 1.6}
		pg.Add(white(line, 1), line)
	}
	pg.Ring(mid, 1.4, page.Ink)
	for i, pin := range w.Pins {
		at := plane.Pt(b.Min.X+k*pin.At.X, b.Min.Y+k*pin.At.Y)
		pg.Ring(at, 0.9, page.White)
		pg.Ring(at, 0.6, page.Ink)
		pg.Add(page.Text{At: at.Add(plane.Pt(1.4, 1.2)), Size: page.Body, Words: fmt.Sprint(i + 1), Bold: true, Color: page.Ink, Halo: true})
	}
	return b.Max.Y
}

// pointSum shows the sum of the first point.
func (w Wish) pointSum(m Measured) string {
	p := w.Plan
	return fmt.Sprintf("Carry each height across, then measure in from the dashed plumb line; or turn from straight up at the ring, and measure out. Every length %s, every turn stays: %s from the top of the picture is %s from the top of the drawing.",
		gridTimes(p), p.Text(m.Down), p.Text(m.DrawDown))
}

// rowHigh is how far a row's baseline lies below the one before.
const rowHigh = page.Body * 1.7

// The table's columns, as shares of its width.
var pointColumns = []struct {
	at   float64
	head string
}{{0, "Point"}, {0.3, "Picture"}, {0.3, "down"}, {0.415, "in"}, {0.55, "Drawing"}, {0.55, "down"}, {0.665, "in"}, {0.8, "Turn"}, {0.88, "Out, drawn"}}

func tableHead(pg *page.Page, in plane.Rect, y float64) float64 {
	second := y + page.Body*page.Leading
	for i, c := range pointColumns {
		at := y
		if i == 2 || i == 3 || i == 5 || i == 6 {
			at = second
		}
		pg.Add(page.Text{At: plane.Pt(in.Min.X+c.at*in.Width(), at), Size: page.Body, Words: c.head, Bold: true, Color: page.Ink})
	}
	pg.Line(in.Min.X, second+1.6, in.Max.X, second+1.6, 0.4, page.Ink)
	return second + rowHigh
}

func (w Wish) pointRow(pg *page.Page, in plane.Rect, y float64, i int, m Measured) float64 {
	p := w.Plan
	wide := in.Width()
	for _, c := range []struct {
		at    float64
		words string
		room  float64
	}{{0, fmt.Sprintf("%d  %s", i+1, m.Name), 0.29}, {0.3, p.Text(m.Down), 0.11}, {0.415, aside(p, m.In), 0.13},
		{0.55, p.Text(m.DrawDown), 0.11}, {0.665, aside(p, m.Draw), 0.13}, {0.8, fmt.Sprintf("%.0f°", m.Turn), 0.08},
		{0.88, p.Text(m.DrawOut), 0.12}} {
		pg.Add(page.Text{At: plane.Pt(in.Min.X+c.at*wide, y), Size: page.Body, Words: page.Cut(c.words, page.Body, c.room*wide, false), Color: page.Ink})
	}
	pg.Line(in.Min.X, y+1.6, in.Max.X, y+1.6, 0.15, page.Faint)
	return y + rowHigh
}
