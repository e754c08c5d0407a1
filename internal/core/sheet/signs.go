package sheet

import (
	"math"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// A sign is a small drawing that stands for a kind of work: lines in a square whose sides
// are 1 long, y down. They are few and thick, so that a grey copy keeps them.
type sign [][]plane.Point

// run returns points from pairs of numbers.
func run(xy ...float64) (points []plane.Point) {
	for i := 0; i+1 < len(xy); i += 2 {
		points = append(points, plane.Pt(xy[i], xy[i+1]))
	}
	return points
}

// arc returns points of a circle's part, from one angle to another in degrees clockwise from
// the right.
func arc(x, y, r, from, to float64) (points []plane.Point) {
	steps := int(math.Ceil(math.Abs(to-from) / 15))
	for i := range steps + 1 {
		sin, cos := math.Sincos((from + (to-from)*float64(i)/float64(steps)) * math.Pi / 180)
		points = append(points, plane.Pt(x+r*cos, y+r*sin))
	}
	return points
}

// signs are those of the stages, drawn by us.
var signs = map[lesson.StageKind]sign{
	lesson.Pick:     {run(.08, .15, .92, .15, .92, .85, .08, .85, .08, .15), run(.08, .75, .35, .45, .55, .65, .7, .52, .92, .75), arc(.7, .33, .07, 0, 360)},
	lesson.Compose:  {run(.1, .65, .1, .1, .65, .1), run(.9, .35, .9, .9, .35, .9), run(.26, .65, .26, .26, .65, .26), run(.74, .35, .74, .74, .35, .74)},
	lesson.MarkUp:   {run(.05, .35, .95, .35, .95, .65, .05, .65, .05, .35), run(.2, .35, .2, .5), run(.35, .35, .35, .45), run(.5, .35, .5, .5), run(.65, .35, .65, .45), run(.8, .35, .8, .5)},
	lesson.Draw:     {run(.1, .9, .16, .68, .7, .14, .86, .3, .32, .84, .1, .9), run(.16, .68, .32, .84), run(.6, .24, .76, .4)},
	lesson.Check:    {arc(.28, .5, .2, 0, 360), arc(.72, .5, .2, 0, 360), arc(.3, .5, .07, 0, 360), arc(.74, .5, .07, 0, 360)},
	lesson.Transfer: {run(.08, .08, .62, .08, .62, .62, .08, .62, .08, .08), run(.38, .7, .38, .92, .92, .92, .92, .38, .7, .38), run(.3, .34, .74, .72), run(.58, .7, .74, .72, .7, .56)},
	lesson.Ink:      {run(.2, .9, .5, .5), run(.2, .9, .3, .45, .55, .2, .8, .45, .55, .7, .2, .9), run(.55, .2, .75, .06, .94, .25, .8, .45), arc(.52, .48, .05, 0, 360)},
	lesson.Erase:    {run(.08, .62, .5, .2, .9, .45, .48, .87, .08, .62), run(.3, .4, .7, .65), run(.55, .92, .95, .92)},
	lesson.Tone: {run(.08, .2, .92, .2, .92, .8, .08, .8, .08, .2), run(.36, .2, .36, .8), run(.64, .2, .64, .8),
		run(.66, .32, .9, .32), run(.66, .44, .9, .44), run(.66, .56, .9, .56), run(.66, .68, .9, .68),
		run(.38, .4, .62, .4), run(.38, .62, .62, .62)},
	lesson.Reflect: {run(.06, .2, .44, .2, .44, .8, .06, .8, .06, .2), run(.56, .2, .94, .2, .94, .8, .56, .8, .56, .2), run(.14, .65, .25, .4, .36, .65), run(.64, .65, .75, .4, .86, .65)},
	lesson.Other:   {arc(.5, .5, .4, 0, 360), run(.5, .28, .5, .72), run(.28, .5, .72, .5)},
}

// looked is the sign of a checkpoint: an eye.
var looked = sign{arc(.5, .86, .56, 220, 320), arc(.5, .14, .56, 40, 140), arc(.5, .5, .14, 0, 360)}

// cutSign and foldSign are the signs of what is cut out and of what is folded.
var (
	cutSign  = sign{arc(.18, .22, .14, 0, 360), arc(.18, .78, .14, 0, 360), run(.3, .3, .96, .72), run(.3, .7, .96, .28)}
	foldSign = sign{run(.5, .3, .1, .14, .1, .8, .5, .96, .5, .3), run(.5, .3, .9, .14, .9, .8, .5, .96)}
)

// drawCut draws a line round what is cut out, scissors on its upper edge.
func drawCut(pg *page.Page, b plane.Rect) {
	const side = 3.2
	edge := page.BoxPath(b, 0.2, page.Ink)
	edge.Dash = 1.5
	pg.Add(edge)
	drawSign(pg, cutSign, plane.Pt(b.Max.X-side-4, b.Min.Y-side/2), side)
}

// drawSign draws a sign into a square.
func drawSign(pg *page.Page, s sign, at plane.Point, side float64) {
	for _, points := range s {
		line := page.Path{Width: max(0.35, side*0.045), Stroke: page.Ink}
		for _, p := range points {
			line.Points = append(line.Points, at.Add(p.Mul(side)))
		}
		pg.Add(line)
	}
}
