package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// BurnDown draws how many boxes a class has left, lesson by lesson, against
// the line that would be done in time; lessons counts all there are.
func BurnDown(left []int, lessons int) page.Page {
	const w, h, room = 150.0, 80.0, 14.0
	pg := page.Page{Title: "Boxes left, lesson by lesson", Size: measure.Size{W: w + 2*room, H: h + 2*room}}
	all := max(1, left[0])
	steps := max(1, lessons, len(left)-1)
	at := func(lesson int, boxes float64) plane.Point {
		return plane.Pt(room+w*float64(lesson)/float64(steps), room+h*(1-boxes/float64(all)))
	}
	pg.Line(room, room+h, room+w, room+h, 0.4, page.Ink)
	pg.Line(room, room, room, room+h, 0.4, page.Ink)
	for i := range 5 {
		boxes := float64(all) * float64(i) / 4
		p := at(0, boxes)
		pg.Line(room-1.5, p.Y, room, p.Y, 0.3, page.Ink)
		pg.Add(page.Text{At: plane.Pt(room-2, p.Y+1.2), Size: 3.4, Words: fmt.Sprintf("%.0f", boxes), Anchor: page.End, Color: page.Ink})
	}
	for i := range steps + 1 {
		if p := at(i, 0); steps <= 20 || i%5 == 0 {
			pg.Line(p.X, p.Y, p.X, p.Y+1.5, 0.3, page.Ink)
			pg.Add(page.Text{At: plane.Pt(p.X, p.Y+5), Size: 3.4, Words: fmt.Sprint(i), Anchor: page.Middle, Color: page.Ink})
		}
	}
	pg.Add(page.Path{Points: []plane.Point{at(0, float64(all)), at(steps, 0)}, Width: 0.35, Stroke: page.Faint, Dash: 2},
		page.Text{At: plane.Pt(room+w/2, room+h+10), Size: 3.6, Words: "lessons", Anchor: page.Middle, Color: page.Ink},
		page.Text{At: plane.Pt(room, room-4), Size: 3.6, Words: "boxes left", Color: page.Ink})
	var points []plane.Point
	for i, n := range left {
		points = append(points, at(i, float64(n)))
	}
	pg.Add(page.Path{Points: points, Width: 0.9, Stroke: page.Color{R: 0x2b, G: 0x63, B: 0x40}})
	for _, p := range points {
		fill := page.Color{R: 0xf4, G: 0xb4, B: 0x1a}
		dot := page.BoxPath(page.Box(p.X-1.1, p.Y-1.1, 2.2, 2.2), 0.3, page.Ink)
		dot.Fill = &fill
		pg.Add(dot)
	}
	return pg
}

// Report returns a student's report on one page: a map of boxes done, entries
// in words, and the last photo where there is one, named and of the given
// shape (width ÷ height). The error wraps ErrPaper.
func Report(w Wish, done map[string]bool, entries []Entry, photo string, shape float64) (page.Page, error) {
	l, err := page.Free(w.Printer, "the report")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Report"), l.Inner()
	side := in.Width() * 0.3
	k := side / max(w.Plan.Reference.Width, w.Plan.Reference.Height)
	corner := plane.Pt(in.Max.X-side, in.Min.Y+4)
	for _, c := range w.Plan.Cells() {
		b := page.BoxPath(page.Box(corner.X+c.Reference.Min.X*k, corner.Y+c.Reference.Min.Y*k, c.Reference.Width()*k, c.Reference.Height()*k), 0.15, page.Faint)
		if done[c.Label] {
			b.Fill = &page.Color{R: 0x2b, G: 0x63, B: 0x40}
		}
		pg.Add(b)
	}
	below := corner.Y + w.Plan.Reference.Height*k + 6
	if photo != "" && shape > 0 {
		wide := min(side, (in.Max.Y-below-4)*shape)
		pg.Add(page.Picture{Box: page.Box(in.Max.X-wide, below, wide, wide/shape), Name: photo})
	}
	y := in.Min.Y + 14
	pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: 9, Words: page.Cut(w.Who.Name, 9, in.Width()-side-8, true), Bold: true, Color: page.Ink})
	y += 9
	for _, e := range entries {
		if y > in.Max.Y-14 {
			break // one page: the rest is on the screen
		}
		y = drawEntry(&pg, plane.Rect{Min: plane.Pt(in.Min.X, y), Max: plane.Pt(in.Max.X-side-8, in.Max.Y)}, e)
	}
	return pg, nil
}
