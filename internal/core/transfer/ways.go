package transfer

import "fmt"

// The papers' names on the desk.
const (
	drawing = "the drawing"
	final   = "the final paper"
	base    = "soft base"
	scrap   = "scrap paper"
)

// source returns the look of what is carried.
func source(mirrored bool) Look {
	if mirrored {
		return Mirrored
	}
	return Right
}

// begin puts the drawing and the final paper on a desk.
func begin(mirrored bool) *desk {
	d := newDesk()
	d.paper(drawing, Sheet, source(mirrored))
	d.paper(final, Sheet, Nothing)
	d.paper(base, Soft, Nothing)
	return d
}

// finished reads off a desk what became of the final paper.
func (way *Way) finished(d *desk) {
	way.Steps, way.TurnOvers, way.Result = d.steps, d.turns, d.leaves[final].seen()
}

// checkFirst ends every way that is traced.
const checkFirst = "Lift one side on its hinge and look: is every line of the list there? Only then take the tape off, and the final paper away, before anything is darkened: it dents."

// passes is the weight of both papers together, g/m², that light comes through
// to draw by (ours, from common practice: two sheets of drawing paper on a light
// table, thin ones at a window).
var passes = map[Tool]float64{LightTable: 420, Lamp: 340, Window: 300}

// tooThick is what paper twice as heavy as light passes well costs a way (ours).
const tooThick = 60

// Daylight at a window is bright enough between these hours (ours; the season and the weather decide).
const dayBegins, dayEnds = 8.5, 16.5

// light is tracing by light from below or behind.
func (w Wish) light(by Tool) Way {
	glass := map[Tool]string{LightTable: "light table", Window: "window pane", Lamp: "glass over the lamp"}[by]
	way := Way{Name: "By light: " + string(by), Works: true, Tools: []Tool{by}, Minutes: 15, worth: map[Tool]float64{LightTable: 90, Lamp: 80, Window: 78}[by]}
	way.Good = []string{"Nothing is rubbed off: the final sheet stays clean.", "Not mirrored, and nothing is turned over."}
	both := w.Drawing.GSM + w.Final.GSM
	switch {
	case !w.sameSize():
		way.not("it keeps the size, and a final drawing %.3g times as large is wanted", w.Times)
	case w.Final.Light < darkPaper || w.Drawing.Light < darkPaper:
		way.not("light does not come through dark paper")
	case !w.has(by):
		way.not("there is no %s at hand", by)
	case by == Window && (w.Hour < dayBegins || w.Hour > dayEnds):
		way.not("at %s there is too little daylight behind the window", clock(w.Hour))
	}
	switch {
	case both > passes[by]:
		// Finished drawings are traced onto thick paint paper all the same (common practice).
		way.but(8+tooThick*(both/passes[by]-1), fmt.Sprintf("Hard to see through: both papers together have %.0f g/m², and the %s shines well through about %.0f. Try a sample; darker lines and a dark room help, or trace a thin copy.",
			both, by, passes[by]))
	case both > 0.75*passes[by]:
		way.but(8, "The papers are thick: darken the lines well and keep the room dark.")
	}
	if by == Window {
		way.but(4, "Arms tire at a window: small parts at a time.")
	}
	if by == Lamp && w.Hands == Young {
		way.but(25, "A lamp under glass is for an adult to set up.")
	}
	if !w.has(Tape) {
		way.but(8, "Without tape the papers slip.")
	}
	d := begin(false)
	d.paper(glass, Glass, Nothing)
	d.lay(drawing)
	if !w.Printed { // a print is dark enough
		d.say("Darken the main lines of the drawing, so that they shine through.")
	}
	d.lay(final, drawing, glass)
	d.tape()
	d.say("Lay the drawing face up on the " + glass + " and the final paper on top. Fix both by two corners of one edge.")
	d.carry(drawing, final)
	d.say("Draw the lines that shine through, the important ones first.")
	d.say(checkFirst)
	way.finished(d)
	return way
}

// pressed is the copy's back shaded, and its lines pressed through.
func (w Wish) pressed(b Backing) Way {
	way := Way{Name: "Back shaded and pressed through", Works: true, Minutes: 25, worth: 72, shades: true}
	way.Good = []string{"Works on thick and on dark paper.", "Not mirrored: the copy is turned over twice."}
	if !w.sameSize() {
		way.not("it keeps the size, and a final drawing %.3g times as large is wanted", w.Times)
	}
	if w.has(Copier) {
		way.Tools = append(way.Tools, Copier)
		way.Good = append(way.Good, "With a copy the drawing itself stays clean.")
	} else if !w.Printed {
		way.but(10, "Without a copier the back of the drawing itself is shaded: its own back gets dirty, and its lines are pressed in.")
	}
	if w.Drawing.GSM > 200 {
		way.but(25, "The drawing's sheet is stiff: pressing hardly comes through. A copy on thin paper does better.")
	}
	if apart(b, w.Final) < shows {
		way.but(20, "The shading hardly shows on this paper"+sheen(b, w.Final)+".")
	}
	if w.WholeBack {
		way.but(2, "A whole back shaded leaves smudges wherever a hand rests.")
	}
	way.common(w)
	d := begin(false)
	d.lay(drawing)
	if !w.Printed {
		d.say("Darken the main lines first. Held to a window or a lamp, the sheet then shows them from behind.")
	}
	d.turn(drawing)
	d.shade(drawing)
	d.say("Turn the copy over and shade " + where(w.WholeBack) + " with " + b.Name + ". Never shade the new sheet.")
	d.turn(drawing)
	d.lay(drawing, final, base)
	d.tape()
	d.say("Turn it right way up and lay it on the final paper, shaded side down. Fix two corners of one edge.")
	d.carry(drawing, final)
	d.say("Follow the lines with a pen of a second colour, so that you see what is done. " + pressure(b))
	d.say("Lift early and look whether it comes through. " + checkFirst)
	way.finished(d)
	return way
}

// where says how much of the back is shaded: both are schools (common practice).
func where(whole bool) string {
	if whole {
		return "the whole of its back"
	}
	return "its back, only behind the lines,"
}

// rubbed is tracing paper turned over and rubbed, from the drawing or from a mirrored print.
func (w Wish) rubbed(b Backing, mirrored bool) Way {
	thin, ok := w.thin()
	way := Way{Name: capital(thin) + ", turned over and rubbed", Works: true, MirrorIt: mirrored, Minutes: 12, worth: 60, shades: true}
	from := drawing
	if mirrored {
		way.Name, from = way.Name+", from a mirrored print", "the mirrored print"
		way.worth += 2
	}
	if ok {
		way.Tools = append(way.Tools, Tool(thin))
	}
	d := begin(mirrored)
	d.leaves[drawing].Name = from
	d.paper(thin, Thin, Nothing)
	d.lay(thin, drawing)
	d.tape()
	d.carry(drawing, thin)
	d.say("Lay the " + thin + " on " + from + " and trace the lines with " + b.Name + ".")
	d.turn(thin)
	d.lay(thin, final, base)
	d.tape()
	d.say("Turn the tracing over, its drawn side down on the final paper. Fix two corners of one edge.")
	d.carry(thin, final)
	d.say("Rub the back of the lines with a spoon or a fingernail. " + pressure(b))
	d.say(checkFirst)
	way.finished(d)

	way.Good = []string{"The quickest way: one tracing, then rub."}
	switch {
	case !w.sameSize():
		way.not("it keeps the size, and a final drawing %.3g times as large is wanted", w.Times)
	case mirrored && !w.Printed:
		way.not("the drawing stands already; only a print can be mirrored before it is traced")
	case way.Result == Mirrored && !w.MirrorFine:
		way.not("one turn-over: it comes out mirrored. It is for where a mirror image is fine, or for a tracing from a mirrored print")
	case !ok:
		way.not("there is no tracing paper and no baking paper at hand")
	}
	if mirrored {
		way.Good = append(way.Good, "The print is mirrored and the turn-over mirrors again: it comes out right.")
	} else {
		way.But = append(way.But, "It comes out mirrored.")
	}
	way.thinPaper(w)
	way.common(w)
	return way
}

// redrawn is tracing paper with its lines redrawn on the back, then pressed.
func (w Wish) redrawn(b Backing) Way {
	thin, ok := w.thin()
	way := Way{Name: capital(thin) + ", redrawn on its back", Works: true, Minutes: 30, worth: 55, shades: true}
	way.Good = []string{"Not mirrored: the tracing is turned over twice.", "The drawing stays clean."}
	switch {
	case !w.sameSize():
		way.not("it keeps the size, and a final drawing %.3g times as large is wanted", w.Times)
	case !ok:
		way.not("there is no tracing paper and no baking paper at hand")
	default:
		way.Tools = append(way.Tools, Tool(thin))
	}
	way.But = append(way.But, "All lines are drawn twice before they are pressed.")
	if w.Hands == Young {
		way.but(12, "Front and back get confused: write “front” on it.")
	}
	way.thinPaper(w)
	way.common(w)
	d := begin(false)
	d.paper(thin, Thin, Nothing)
	d.paper(scrap, Scrap, Nothing)
	d.lay(thin, drawing)
	d.tape()
	d.carry(drawing, thin)
	d.say("Lay the " + thin + " on the drawing, trace the lines with a sharp pencil, and write “front” on it.")
	d.turn(thin)
	d.lay(thin, scrap)
	d.redraw(thin)
	d.say("Turn it over on scrap paper and redraw the lines on its back with " + b.Name + ".")
	d.turn(thin)
	d.lay(thin, final, base)
	d.tape()
	d.say("Turn it right way up, “front” on top, and lay it on the final paper. Fix two corners of one edge.")
	d.carry(thin, final)
	d.say("Follow the lines with a second colour. " + pressure(b))
	d.say(checkFirst)
	way.finished(d)
	return way
}

// measured is drawing it again by the grid.
func (w Wish) measured() Way {
	way := Way{Name: "Measured again with a grid", Works: true, Minutes: 90, worth: 30}
	way.Good = []string{"The only way that changes size.", "Works on any paper, and trains the eye."}
	way.But = []string{"It takes as long as drawing did."}
	if w.has(Ruler) {
		way.Tools = append(way.Tools, Ruler)
	} else {
		way.but(5, "Without a ruler: a strip of paper with the grid's marks copied on it, or the paper folded in halves and halves again.")
	}
	if !w.sameSize() {
		way.worth = 95
	}
	d := begin(false)
	pencil := "a light pencil"
	if w.Final.Light < darkPaper {
		pencil = "a white pencil, lightly"
	}
	d.lay(final)
	d.say("Rule the grid on the final paper with as many boxes as the drawing has, in " + pencil + ".")
	d.carry(drawing, final)
	d.say("Draw box by box: where does the line enter, where does it leave?")
	d.say("Compare box by box with the drawing before the grid is erased.")
	way.finished(d)
	return way
}

// thinPaper says what comes with tracing and baking paper.
func (way *Way) thinPaper(w Wish) {
	if !w.has(Tracing) && w.has(Baking) {
		way.but(3, "Baking paper does instead of tracing paper: its smooth side takes pencil badly, so draw on the dull one.")
	}
}

// common is what all traced and pressed ways have in common.
func (way *Way) common(w Wish) {
	if w.has(Tape) {
		way.Tools = append(way.Tools, Tape)
	} else {
		way.but(6, "Without tape the papers slip: use clips, or a second pair of hands.")
	}
	if w.has(SoftBase) {
		way.Tools = append(way.Tools, SoftBase)
	} else {
		way.but(2, "A folded newspaper does as a soft base.")
	}
	if w.Medium == Watercolor || w.Medium == Coloured {
		way.but(4, "What is rubbed off stays under light colours: keep it faint.")
	}
}

func (way *Way) not(format string, args ...any) {
	if way.Works {
		way.Works, way.Not = false, fmt.Sprintf(format, args...)
	}
}

// but notes something against a way and what it costs.
func (way *Way) but(cost float64, words string) {
	way.But = append(way.But, words)
	way.worth -= cost
}

// clock writes an hour as 16:30.
func clock(hour float64) string {
	m := int(hour*60 + 0.5)
	return fmt.Sprintf("%d:%02d", m/60, m%60)
}
