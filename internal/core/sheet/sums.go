package sheet

import (
	"math"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sighting"
)

// A drawing of a sum is so large, in millimetres, with room for words round it.
const sumWide, sumHigh, sumEdge, sumWords = 130.0, 70.0, 8.0, 3.6

// sum begins the drawing of a sum whose things reach over a box, and returns
// what carries a point of it onto the page.
func sum(title string, reach plane.Rect) (pg page.Page, at func(x, y float64) plane.Point, k float64) {
	pg = page.Page{Title: title, Size: measure.Size{W: sumWide, H: sumHigh}}
	k = min((sumWide-2*sumEdge)/max(reach.Width(), 1e-9), (sumHigh-2*sumEdge)/max(reach.Height(), 1e-9))
	left, top := (sumWide-reach.Width()*k)/2, (sumHigh-reach.Height()*k)/2
	return pg, func(x, y float64) plane.Point {
		return plane.Pt(left+(x-reach.Min.X)*k, top+(y-reach.Min.Y)*k)
	}, k
}

func say(pg *page.Page, at plane.Point, words string, anchor page.Anchor) {
	pg.Add(page.Text{At: at, Size: sumWords, Words: words, Anchor: anchor, Color: page.Ink, Halo: true})
}

func box(at func(x, y float64) plane.Point, x, y float64, s measure.Size, width float64, c page.Color) page.Path {
	p, q := at(x, y), at(x+float64(s.W), y+float64(s.H))
	return page.BoxPath(plane.Rect{Min: p, Max: q}, width, c)
}

func dashed(p, q plane.Point, width float64, c page.Color) page.Path {
	return page.Path{Points: []plane.Point{p, q}, Width: width, Stroke: c, Dash: 1.5}
}

// guide is a line of construction.
func guide(p, q plane.Point) page.Path { return dashed(p, q, 0.3, page.Faint) }

// Ratio draws a picture beside its drawing on the stock it is cut from, to one scale.
func Ratio(picture, drawing, stock measure.Size, u measure.Unit) page.Page {
	if !stock.Holds(drawing) && stock.Turned().Holds(drawing) {
		stock = stock.Turned()
	}
	gap, high := float64(picture.W+drawing.W)/8, float64(max(picture.H, drawing.H, stock.H))
	pg, at, _ := sum("Proportion", plane.Rect{Max: plane.Pt(float64(picture.W+max(drawing.W, stock.W))+gap, high)})
	left := float64(picture.W) + gap
	pg.Add(box(at, left, high-float64(stock.H), stock, 0.3, page.Faint), box(at, 0, high-float64(picture.H), picture, 0.5, page.Ink), box(at, left, high-float64(drawing.H), drawing, 0.5, page.Ink))
	pg.Add(guide(at(0, high), at(float64(picture.W), high-float64(picture.H))), guide(at(left, high), at(left+float64(drawing.W), high-float64(drawing.H))))
	say(&pg, at(float64(picture.W)/2, high).Add(plane.Pt(0, 4.5)), picture.Text(u), page.Middle)
	say(&pg, at(left+float64(drawing.W)/2, high).Add(plane.Pt(0, 4.5)), drawing.Text(u), page.Middle)
	return pg
}

// Lengths draws two lengths of the same part above each other.
func Lengths(on, to measure.Length, u measure.Unit) page.Page {
	longest := float64(max(on, to))
	pg, at, _ := sum("Scale", plane.Rect{Max: plane.Pt(longest, longest/2)})
	for i, l := range []measure.Length{on, to} {
		y := longest * (0.12 + 0.26*float64(i))
		p, q := at(0, y), at(float64(l), y)
		pg.Line(p.X, p.Y, q.X, q.Y, 0.6, page.Ink)
		for _, end := range []plane.Point{p, q} {
			pg.Line(end.X, end.Y-1.8, end.X, end.Y+1.8, 0.5, page.Ink)
		}
		say(&pg, p.Add(plane.Pt(0, -3)), []string{"on the picture ", "on the sheet "}[i]+l.Text(u), page.Start)
	}
	return pg
}

// Threads draws a string frame from the side: the eye, the threads and what they
// cover of the object.
func Threads(f sighting.StringFrame, s sighting.Sight, u measure.Unit) page.Page {
	far, cover := float64(f.Object), float64(s.Covers.H)
	pg, at, _ := sum("String frame", plane.Rect{Min: plane.Pt(0, -cover/2), Max: plane.Pt(far, cover/2)})
	eye, near := at(0, 0), float64(f.Eye)
	pg.Ring(eye, 1.6, page.Ink)
	for _, side := range []float64{-1, 1} {
		q := at(far, side*cover/2)
		pg.Add(guide(eye, q))
	}
	line := func(x, half, width float64) {
		p, q := at(x, -half), at(x, half)
		pg.Line(p.X, p.Y, q.X, q.Y, width, page.Ink)
	}
	line(near, float64(f.Opening.H)/2, 0.6)
	line(far, cover/2, 0.9)
	for y := -float64(f.Opening.H)/2 + float64(f.Spacing); y < float64(f.Opening.H)/2-0.01; y += float64(f.Spacing) {
		p := at(near, y)
		pg.Line(p.X-1.2, p.Y, p.X+1.2, p.Y, 0.4, page.Ink)
	}
	say(&pg, eye.Add(plane.Pt(0, 6)), "eye", page.Middle)
	say(&pg, at(near, float64(f.Opening.H)/2).Add(plane.Pt(0, 4.5)), "threads, "+f.Eye.Text(u), page.Middle)
	say(&pg, at(far, cover/2).Add(plane.Pt(0, 5)), "object, "+f.Object.Text(u), page.End)
	return pg
}

// Pointings draws points measured from a fixed point: each turned from straight
// up and out by its length; of a solid, with the plumb line down from there.
func Pointings(points []sighting.Pointed, solid bool) page.Page {
	reach := plane.Rect{Min: plane.Pt(-1e-6, -1e-6), Max: plane.Pt(1e-6, 1e-6)}
	for _, p := range points {
		low := float64(p.Y)
		if solid {
			low += float64(p.Drop)
		}
		reach = plane.Rect{Min: plane.Pt(min(reach.Min.X, float64(p.X)), min(reach.Min.Y, float64(p.Y), low)), Max: plane.Pt(max(reach.Max.X, float64(p.X)), max(reach.Max.Y, float64(p.Y), low))}
	}
	pg, at, _ := sum("Angle and distance", reach)
	fixed := at(0, 0)
	pg.Add(guide(fixed, fixed.Add(plane.Pt(0, -10))))
	pg.Ring(fixed, 1.4, page.Ink)
	say(&pg, fixed.Add(plane.Pt(2.5, 4)), "fixed point", page.Start)
	for _, p := range points {
		q := at(float64(p.X), float64(p.Y))
		pg.Line(fixed.X, fixed.Y, q.X, q.Y, 0.4, page.Ink)
		if solid && p.Drop > 0 {
			down := at(float64(p.X), float64(p.Y+p.Drop))
			pg.Add(guide(q, down))
			q = down
		}
		pg.Ring(q, 1, page.Ink)
		say(&pg, q.Add(plane.Pt(1.8, -1.2)), p.Name, page.Start)
	}
	return pg
}

// Carried draws heights that go straight across from the picture to the drawing,
// and how far in from the plumb line each point is.
func Carried(points, carried []sighting.Carried) page.Page {
	tall, wide := 1e-6, 1e-6
	for i, p := range points {
		tall, wide = max(tall, float64(p.Height), float64(carried[i].Height)), max(wide, math.Abs(float64(p.In)), math.Abs(float64(carried[i].In)))
	}
	pg, at, _ := sum("Sight-size", plane.Rect{Min: plane.Pt(-3*wide, 0), Max: plane.Pt(3*wide, tall)})
	for side, all := range [][]sighting.Carried{points, carried} {
		plumb := wide * (3.2*float64(side) - 1.6)
		pg.Add(guide(at(plumb, 0), at(plumb, tall)))
		say(&pg, at(plumb, 0).Add(plane.Pt(0, -2)), []string{"picture", "drawing"}[side], page.Middle)
		for i, p := range all {
			q := at(plumb+float64(p.In), float64(p.Height))
			pg.Ring(q, 1, page.Ink)
			say(&pg, q.Add(plane.Pt(1.8, -1.2)), p.Name, page.Start)
			if side == 1 {
				pg.Add(guide(at(-1.6*wide+float64(points[i].In), float64(points[i].Height)), q))
			}
		}
	}
	return pg
}

// Overlaid draws paper with the picture's size cut from it.
func Overlaid(picture, stock measure.Size, u measure.Unit) page.Page {
	pg, at, _ := sum("Same-size overlay", plane.Rect{Max: plane.Pt(float64(stock.W), float64(stock.H))})
	pg.Add(box(at, 0, 0, stock, 0.3, page.Faint), box(at, 0, 0, picture, 0.6, page.Ink))
	pg.Add(guide(at(0, 0), at(float64(picture.W), float64(picture.H))), guide(at(0, float64(picture.H)), at(float64(picture.W), 0)))
	say(&pg, at(float64(picture.W)/2, float64(picture.H)/2).Add(plane.Pt(0, 5)), picture.Text(u), page.Middle)
	return pg
}
