package sheet

import (
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/transfer"
)

// Colours of the papers in a stack.
var (
	paperFill = page.Color{R: 0xff, G: 0xfd, B: 0xf6}
	thinFill  = page.Color{R: 0xe9, G: 0xf1, B: 0xee}
	glassFill = page.Color{R: 0xfb, G: 0xe9, B: 0xb4}
	softFill  = page.Color{R: 0xdc, G: 0xd2, B: 0xb8}
	shadeInk  = page.Color{R: 0x6b, G: 0x6f, B: 0x6a}
	carried   = page.Color{R: 0xa3, G: 0x26, B: 0x1b}
	tapeFill  = page.Color{R: 0xf4, G: 0xb4, B: 0x1a}
)

// A layer of a stack, as drawn: a sheet seen from the front, leaning away.
const (
	layerWide, layerDeep, layerLean, layerEvery = 46.0, 15.0, 14.0, 19.0
	stackWide                                   = 122.0
)

// Stack draws the papers of a step, from the top down, pulled apart: on each
// the lines that are on its upper side, dashed those on its underside, what is
// shaded, and in words how it lies.
func Stack(s transfer.Step) page.Page {
	pg := page.Page{Title: s.Do, Size: measure.Size{W: stackWide, H: measure.Length(layerEvery*float64(len(s.Stack)) + 6)}}
	// The lowest first: what lies above covers it.
	for i := len(s.Stack) - 1; i >= 0; i-- {
		drawLayer(&pg, s.Stack[i], plane.Pt(3, 3+layerEvery*float64(i)), s.Stack[i].Name == s.Turned)
	}
	return pg
}

// drawLayer draws one layer with its top left corner at a place.
func drawLayer(pg *page.Page, l transfer.Layer, at plane.Point, turned bool) {
	on := func(x, y float64) plane.Point { // of the unit square, y away from the eye
		return plane.Pt(at.X+layerWide*x+layerLean*y, at.Y+layerDeep*(1-y))
	}
	fill := map[transfer.Stuff]page.Color{transfer.Thin: thinFill, transfer.Glass: glassFill, transfer.Soft: softFill}[l.Stuff]
	if fill == (page.Color{}) {
		fill = paperFill
	}
	pg.Add(page.Path{Points: []plane.Point{on(0, 0), on(1, 0), on(1, 1), on(0, 1)}, Closed: true, Width: 0.35, Stroke: page.Ink, Fill: &fill})
	if l.ShadedUp {
		drawHatch(pg, on, 0)
	}
	if l.Shaded {
		drawHatch(pg, on, 1.2)
	}
	if look := l.Above; look != transfer.Nothing {
		drawBoat(pg, on, look, 0)
	} else if l.Below != transfer.Nothing {
		drawBoat(pg, on, l.Below, 0.9)
	}
	if l.Taped {
		for _, x := range []float64{0.12, 0.72} {
			pg.Add(page.Path{Points: []plane.Point{on(x, 0.86), on(x+0.14, 0.86), on(x+0.14, 1.1), on(x, 1.1)}, Closed: true, Width: 0.2, Stroke: page.Ink, Fill: &tapeFill})
		}
	}
	drawLayerWords(pg, l, plane.Pt(at.X+layerWide+layerLean+3, at.Y+4), turned)
}

// drawHatch draws short strokes over a layer, dashed where they are underneath.
func drawHatch(pg *page.Page, on func(x, y float64) plane.Point, dash float64) {
	for x := 0.08; x < 0.9; x += 0.07 {
		pg.Add(page.Path{Points: []plane.Point{on(x, 0.18), on(x+0.06, 0.82)}, Width: 0.3, Stroke: shadeInk, Dash: dash})
	}
}

// drawBoat draws the picture that is carried: a boat that sails to the right, or
// to the left where it is mirrored.
func drawBoat(pg *page.Page, on func(x, y float64) plane.Point, look transfer.Look, dash float64) {
	at := func(x, y float64) plane.Point {
		if look == transfer.Mirrored {
			x = 1 - x
		}
		return on(x, y)
	}
	for _, run := range [][]plane.Point{
		{at(0.2, 0.32), at(0.28, 0.14), at(0.72, 0.14), at(0.86, 0.32), at(0.2, 0.32)},
		{at(0.5, 0.32), at(0.5, 0.92), at(0.8, 0.42), at(0.5, 0.42)},
		{at(0.5, 0.92), at(0.36, 0.85)},
	} {
		pg.Add(page.Path{Points: run, Width: 0.55, Stroke: carried, Dash: dash})
	}
}

func drawLayerWords(pg *page.Page, l transfer.Layer, at plane.Point, turned bool) {
	say := func(words string, bold bool) {
		pg.Add(page.Text{At: at, Size: 3.4, Words: page.Cut(words, 3.4, stackWide-at.X-1, bold), Bold: bold, Color: page.Ink})
		at.Y += 4.1
	}
	say(l.Name, true)
	if turned && l.BackUp {
		say("turned over: its back is up", false)
	} else if turned {
		say("turned back: its front is up", false)
	} else if l.BackUp {
		say("back up", false)
	}
	switch {
	case l.Above == transfer.Mirrored || l.Above == transfer.Nothing && l.Below == transfer.Mirrored:
		say("lines look mirrored", false)
	case l.Above == transfer.Nothing && l.Below == transfer.Right:
		say("lines underneath", false)
	}
	if l.ShadedUp {
		say("shaded on top", false)
	} else if l.Shaded {
		say("shaded underneath", false)
	}
}
