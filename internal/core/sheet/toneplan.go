package sheet

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// beneathMarks is how far a picture is faded under marks (ours).
const beneathMarks = 0.72

// ToneMap returns the grid with the strokes that fit each box, as a student
// would make them.
func ToneMap(t finish.Tone, p grid.Plan) page.Page {
	pg := page.Page{Title: "Marks, box by box", Size: p.SheetSize()}
	if t.LineDrawing {
		drawRule(&pg, plane.Point{}, SheetNet(p))
	} else if p.Frame != nil { // the picture, under the marks
		pg.Add(page.Picture{Box: page.Box(0, 0, p.Sheet.Width, p.Sheet.Height), Name: FramePicture, Part: p.Frame, Fade: beneathMarks})
	}
	for _, k := range t.Marks {
		if c, ok := p.Find(k.Box); ok {
			pg.Add(page.BoxPath(c.Sheet, 0.2, page.Faint))
			drawStrokes(&pg, c.Sheet, k)
			pg.Add(page.Text{At: plane.Pt(c.Sheet.Min.X+1, c.Sheet.Min.Y+4), Size: 3.4, Words: c.Label, Bold: true, Color: page.Ink, Halo: true})
		}
	}
	return pg
}

// drawStrokes fills a box with a sample of its marks.
func drawStrokes(pg *page.Page, r plane.Rect, k finish.Mark) {
	side := min(r.Width(), r.Height())
	every := max(1.5, side/11)
	hatch := func(deg, every, long float64) { hatchBox(pg, r, deg, every, long) }
	switch k.Kind {
	case finish.LeavePaper, finish.PointAlong:
	case finish.Even:
		hatch(-45, every*0.8, side*2)
	case finish.Blend:
		for i := range 12 {
			x := r.Min.X + 2 + (r.Width()-4)*math.Pow(float64(i)/11, 1.6)
			pg.Line(x, r.Min.Y+2, x, r.Max.Y-2, 0.25, shadeInk)
		}
	case finish.CrossHatch:
		hatch(-45, every*0.7, side*2)
		hatch(45, every*0.7, side*2)
	case finish.LongStrokes:
		hatch(k.Along, every, side*0.8)
	case finish.Hatch:
		hatch(k.Along, every, side*0.35)
	case finish.ShortStrokes:
		hatch(k.Along, every, side*0.13)
	case finish.Stipple:
		drawDots(pg, r, every)
	case finish.Scribble:
		drawScribble(pg, r, every)
	}
}

// hatchBox fills a box with lines at an angle, so far from each other and so long.
func hatchBox(pg *page.Page, r plane.Rect, deg, every, long float64) {
	sin, cos := math.Sincos(deg * math.Pi / 180)
	mid, reach := r.Middle(), math.Hypot(r.Width(), r.Height())/2
	room := plane.Rect{Min: plane.Pt(r.Min.X+1.5, r.Min.Y+1.5), Max: plane.Pt(r.Max.X-1.5, r.Max.Y-1.5)}
	for across := -reach; across <= reach; across += every {
		for from := -reach; from < reach; from += long * 1.4 {
			at := func(t float64) plane.Point {
				return plane.Pt(mid.X+t*cos-across*sin, mid.Y+t*sin+across*cos)
			}
			if a, b, ok := room.Cut(at(from), at(from+long)); ok {
				pg.Add(page.Path{Points: []plane.Point{a, b}, Width: 0.25, Stroke: shadeInk})
			}
		}
	}
}

func drawDots(pg *page.Page, r plane.Rect, every float64) {
	for i, y := 0, r.Min.Y+every; y < r.Max.Y-1; i, y = i+1, y+every*0.8 {
		for x := r.Min.X + every*(1+0.5*float64(i%2)); x < r.Max.X-1; x += every {
			pg.Line(x, y, x+0.2, y, 0.5, shadeInk)
		}
	}
}

func drawScribble(pg *page.Page, r plane.Rect, every float64) {
	for y := r.Min.Y + 3; y < r.Max.Y-3; y += every {
		path := page.Path{Width: 0.25, Stroke: shadeInk}
		for x, lift := r.Min.X+2, 0.0; x < r.Max.X-2; x, lift = x+every*0.6, every-lift {
			path.Points = append(path.Points, plane.Pt(x, y+lift))
		}
		pg.Add(path)
	}
}

// ToneLists returns the tone plan in words.
func ToneLists(t finish.Tone) []Entry {
	if t.LineDrawing {
		return []Entry{{Head: "This is a line drawing", Lines: []string{"It has paper and lines, and no tones to copy. Plan tones of your own: try three on a scrap, darkest first, and leave the paper white where the light falls."}}}
	}
	order := Entry{Head: "In which order"}
	for _, s := range t.Steps {
		line := fmt.Sprintf("%d · %s, %.0f %% of the picture", s.Number, s.Grade, 100*s.Share)
		if len(s.Boxes) > 0 {
			line += ": " + boxesOf(s.Boxes, len(t.Marks))
		}
		order.say(filled(greyOf(s.Light)), line)
	}
	marks := Entry{Head: "Marks that fit"}
	for _, of := range alikeIn(t.Marks, func(k finish.Mark) (mark, box string) { return k.Mark, k.Box }) {
		marks.say(func(pg *page.Page, in plane.Rect) {
			pg.Add(page.BoxPath(in, 0.2, page.Faint))
			drawStrokes(pg, in, of.first)
		}, capital(of.first.Mark)+": "+boxesOf(of.boxes, len(t.Marks)))
	}
	marks.say(drawnForm, "Strokes follow the form: round a round thing, along a flat one. Lift lights out with the corner of an eraser.")
	lists := []Entry{order, marks}
	if edges := (Entry{Head: "Edges"}); len(t.Edges.Hard)+len(t.Edges.Soft) > 0 {
		if len(t.Edges.Hard) > 0 {
			edges.say(drawnHard, "Hard, as a cut: "+strings.Join(t.Edges.Hard, ", ")+". Draw them sharp.")
		}
		if len(t.Edges.Soft) > 0 {
			edges.say(drawnSoft, "Soft, as on a round form: "+strings.Join(t.Edges.Soft, ", ")+". Blend them; never ink them.")
		}
		lists = append(lists, edges)
	}
	if white := (Entry{Head: "Keep white"}); len(t.Whites) > 0 {
		white.say(filled(page.White), boxesOf(t.Whites, len(t.Marks))+". Lay scrap paper under the hand, and clean the whites at the end.")
		lists = append(lists, white)
	}
	return lists
}

// drawnForm, drawnHard and drawnSoft are signs: strokes that follow a ball, and edges as they should look.
func drawnForm(pg *page.Page, in plane.Rect) {
	mid, r := in.Middle(), in.Height()/2
	pg.Ring(mid, r, page.Faint)
	for _, bulge := range []float64{0.3, 0.55, 0.8} { // meridians, on the side away from the light
		stroke := page.Path{Width: 0.25, Stroke: shadeInk}
		for a := -0.9; a <= 0.9; a += 0.15 {
			stroke.Points = append(stroke.Points, mid.Add(plane.Pt(r*bulge*math.Cos(a), r*math.Sin(a)*0.95)))
		}
		pg.Add(stroke)
	}
}

func drawnHard(pg *page.Page, in plane.Rect) {
	filled(shadeInk)(pg, plane.Rect{Min: in.Min, Max: plane.Pt(in.Middle().X, in.Max.Y)})
}

func drawnSoft(pg *page.Page, in plane.Rect) {
	const steps = 8
	for k := range steps {
		from := in.Min.X + in.Width()*float64(k)/steps
		g := uint8(60 + 190*k/steps)
		bar := page.BoxPath(page.Box(from, in.Min.Y, in.Width()/steps+0.1, in.Height()), 0, page.White)
		bar.Fill = &page.Color{R: g, G: g, B: g}
		pg.Add(bar)
	}
}

// greyOf returns the grey of a lightness, CIE L*.
func greyOf(light float64) page.Color {
	g := picture.GreyOf(light)
	return page.Color{R: g, G: g, B: g}
}

// together is what is said of some boxes alike, and the first it is said of.
type together[T any] struct {
	first T
	boxes []string
}

// alikeIn puts together those of which the same is said, in the order in which it first is.
func alikeIn[T any](all []T, says func(T) (words, box string)) (groups []together[T]) {
	at := map[string]int{}
	for _, one := range all {
		words, box := says(one)
		i, there := at[words]
		if !there {
			i, at[words] = len(groups), len(groups)
			groups = append(groups, together[T]{first: one})
		}
		groups[i].boxes = append(groups[i].boxes, box)
	}
	return groups
}

// boxesOf lists boxes, or says that they are all or most of them.
func boxesOf(boxes []string, all int) string {
	switch {
	case len(boxes) == all:
		return "every box"
	case len(boxes) > 12 && 2*len(boxes) > all:
		return fmt.Sprintf("most boxes, %d of %d", len(boxes), all)
	}
	return strings.Join(boxes, ", ")
}

// ToneSheet returns the tone plan with its values strip, of a line drawing with fields to try
// tones of one's own in. The error wraps ErrPaper.
func ToneSheet(w Wish, t finish.Tone) ([]page.Page, error) {
	p := planned{"Tone plan", signs[lesson.Tone], fmt.Sprintf("%s of tone, the darkest first.",
		counted(len(t.Steps), "step")), ToneMap(t, w.Plan), ToneLists(t),
		lesson.Cautions(lesson.Dust, lesson.Fixative), nil}
	p.extra = func(pg *page.Page, room plane.Rect) float64 { return drawToneStrip(pg, room, t.Steps) }
	if t.LineDrawing {
		p.about, p.extra = "Tones of your own, tried before they are drawn.", drawTries
		if w.Plan.Frame != nil { // there are no strokes to show: its lines instead
			lines := w.picture(page.Box(0, 0, w.Plan.Sheet.Width, w.Plan.Sheet.Height))
			p.drawn.Items = append([]page.Item{lines}, p.drawn.Items...)
		}
	}
	return w.planned(p)
}

// drawToneStrip draws the steps of tone side by side, to be cut off and held against the drawing.
func drawToneStrip(pg *page.Page, room plane.Rect, steps []finish.Step) float64 {
	const high = 9.0
	top := room.Min.Y - page.Heading
	each := min(18, room.Width()/float64(max(1, len(steps))))
	for i, s := range steps {
		x := room.Min.X + float64(i)*each
		filled(greyOf(s.Light))(pg, page.Box(x, top, each, high))
		pg.Add(page.Text{At: plane.Pt(x+each/2, top+high+3.8), Size: page.Small, Words: fmt.Sprint(s.Number), Anchor: page.Middle, Color: page.Ink})
	}
	x := room.Min.X + float64(len(steps))*each + 4
	if room.Max.X-x > 40 {
		pg.Paragraph(plane.Pt(x, top+4), page.Small, room.Max.X-x, false, "Cut this strip off, hold it against the drawing and squint.")
	}
	return top + high + 4 + page.Heading + 5
}

// Of the fields to try tones in: how many tries, and of how many tones.
const tries, triedTones = 3, 5

// drawTries draws fields to try tones in, from dark to light, over all of a room.
func drawTries(pg *page.Page, room plane.Rect) float64 {
	const label, gap = 18.0, 4.0
	top := room.Min.Y + 4
	wide, high := (room.Width()-label)/triedTones-gap, (room.Max.Y-top)/tries-gap
	for j, words := range []string{"darkest", "dark", "middle", "light", "the paper"} {
		pg.Add(page.Text{At: plane.Pt(room.Min.X+label+float64(j)*(wide+gap)+wide/2, room.Min.Y+1), Size: page.Small, Words: words, Anchor: page.Middle, Color: page.Ink})
	}
	for i := range tries {
		y := top + float64(i)*(high+gap)
		pg.Add(page.Text{At: plane.Pt(room.Min.X, y+high/2), Size: page.Body, Words: fmt.Sprintf("Try %d", i+1), Bold: true, Color: page.Ink})
		for j := range triedTones {
			pg.Add(page.BoxPath(page.Box(room.Min.X+label+float64(j)*(wide+gap), y, wide, high), 0.3, page.Ink))
		}
	}
	return room.Max.Y
}

// ColourFields draws where a colour is: nine fields, the fuller the more of it.
func ColourFields(m colour.Main) page.Page {
	const side = 24.0
	pg := page.Page{Title: "Where it is: " + m.Spread(), Size: measure.Size{W: side, H: side}}
	most := 0.0
	for _, v := range m.Fields {
		most = max(most, v)
	}
	for f, v := range m.Fields {
		x, y := float64(f%3)*side/3, float64(f/3)*side/3
		pg.Add(page.BoxPath(page.Box(x+0.3, y+0.3, side/3-0.6, side/3-0.6), 0.2, page.Faint))
		if k := math.Sqrt(v/max(most, 1e-9)) * (side/3 - 1.2); k > 0.4 {
			dot := page.BoxPath(page.Box(x+(side/3-k)/2, y+(side/3-k)/2, k, k), 0.15, page.Ink)
			dot.Fill = &page.Color{R: m.R, G: m.G, B: m.B}
			pg.Add(dot)
		}
	}
	return pg
}

// ColourSheet returns a picture's main colours on one page: a swatch, its name,
// how much there is and where, and what to begin mixing it from. The error
// wraps ErrPaper.
func ColourSheet(w Wish, mains []colour.Main, with colour.Paint) (page.Page, error) {
	l, err := page.Free(w.Printer, "the colour notes")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Colour notes"), l.Inner()
	in.Max.Y = drawCare(&pg, in, lesson.Cautions(lesson.Paint))
	y := drawHead(&pg, in, signs[lesson.Tone], "Colour notes", "What to begin each main colour from, and an empty box to try it in.") + 2
	high := min(46, (in.Max.Y-y-32)/float64(max(1, len(mains))))
	swatch := min(34, high-5)
	for _, m := range mains {
		filled(page.Color{R: m.R, G: m.G, B: m.B})(&pg, page.Box(in.Min.X, y, swatch, high-5))
		filled(page.White)(&pg, page.Box(in.Min.X+swatch+3, y, swatch, high-5))
		x, k := in.Min.X+2*swatch+8, min(24, high-6)/24
		words := in.Max.X - x - 24*k - 3
		pg.Add(page.Text{At: plane.Pt(x, y+page.Heading*0.8), Size: page.Heading, Words: page.Cut(capital(m.Name), page.Heading, words, true), Bold: true, Color: page.Ink})
		line := y + page.Heading + page.Body*page.Leading
		for _, said := range []string{fmt.Sprintf("%.0f %% of the picture, %s.", 100*m.Share, m.Spread()), m.Begin(with)} {
			for _, part := range page.Wrap(said, page.Body, words, false) {
				if line <= y+high-2 { // else the next colour begins
					pg.Add(page.Text{At: plane.Pt(x, line), Size: page.Body, Words: part, Color: page.Ink})
				}
				line += page.Body * page.Leading
			}
		}
		drawScaled(&pg, ColourFields(m), plane.Pt(in.Max.X-24*k, y), k)
		y += high
	}
	notes := []string{"Try each mixture in the empty box, beside the print. Keep the picture to the very end: colour is studied from it too.",
		"Repeat each colour in several places, for balance; leave some areas; dark beside light gives contrast.",
		"Paint first what must not be lost; what can be painted over, or left, waits."}
	drawEntry(&pg, plane.Rect{Min: plane.Pt(in.Min.X, y+6), Max: in.Max}, Entry{Head: "When you paint", Lines: notes})
	return pg, nil
}
