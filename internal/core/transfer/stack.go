package transfer

// Look is how an image appears to somebody who looks down on it.
type Look string

// An image is not there, as it should be, or mirrored.
const (
	Nothing  Look = ""
	Right    Look = "right"
	Mirrored Look = "mirrored"
)

// turned returns the look of the same lines from the other side of the paper.
func (l Look) turned() Look {
	switch l {
	case Right:
		return Mirrored
	case Mirrored:
		return Right
	}
	return Nothing
}

// Stuff is what a layer of the stack is made of.
type Stuff string

// What lies on the desk.
const (
	Sheet Stuff = "sheet" // ordinary paper
	Thin  Stuff = "thin"  // tracing or baking paper
	Glass Stuff = "glass" // a light table, a window, a pane over a lamp
	Soft  Stuff = "soft"  // something that gives a little
	Scrap Stuff = "scrap"
)

// Layer is one thing in the stack, as it lies.
type Layer struct {
	Name     string
	Stuff    Stuff
	BackUp   bool // its front lies below
	Above    Look // the image on its upper side
	Below    Look // the image on its underside, as it looks from above
	ShadedUp bool // its upper side is shaded
	Shaded   bool // its underside is shaded
	Taped    bool
}

// Step is one thing to do, and the papers as they lie when it is done, from the
// top down.
type Step struct {
	Do     string
	Stack  []Layer
	Turned string // the paper that was turned over for it
}

// leaf is a paper with two sides. An image is kept as it looks on its own side.
type leaf struct {
	Layer
	front, back             Look
	frontShaded, backShaded bool
}

// upper returns the side that lies up.
func (l *leaf) upper() *Look {
	if l.BackUp {
		return &l.back
	}
	return &l.front
}

// lower returns the side that lies down.
func (l *leaf) lower() *Look {
	if l.BackUp {
		return &l.front
	}
	return &l.back
}

// seen returns what one sees of a paper from above: what is on its upper side,
// else what shows through from below.
func (l *leaf) seen() Look {
	if up := *l.upper(); up != Nothing {
		return up
	}
	return (*l.lower()).turned()
}

func (l *leaf) layer(taped bool) Layer {
	out := l.Layer
	out.Above, out.Below = *l.upper(), (*l.lower()).turned()
	out.ShadedUp, out.Shaded = l.frontShaded, l.backShaded
	if l.BackUp {
		out.ShadedUp, out.Shaded = l.backShaded, l.frontShaded
	}
	out.Taped = taped
	return out
}

// desk plays a way through with papers that remember their sides: whether the
// result is mirrored is found out, not written down.
type desk struct {
	leaves map[string]*leaf
	stack  []string // from the top down
	taped  bool
	turned string
	turns  int
	steps  []Step
}

func newDesk() *desk { return &desk{leaves: map[string]*leaf{}} }

// paper puts a new paper on the desk, with an image on its front or none.
func (d *desk) paper(name string, stuff Stuff, front Look) *leaf {
	l := &leaf{Layer: Layer{Name: name, Stuff: stuff}, front: front}
	d.leaves[name] = l
	return l
}

// lay makes a stack of papers, from the top down.
func (d *desk) lay(names ...string) { d.stack, d.taped = names, false }

// tape fixes the stack by two points of one edge.
func (d *desk) tape() { d.taped = true }

// turn turns a paper over. It counts where it carries the image.
func (d *desk) turn(name string) {
	l := d.leaves[name]
	l.BackUp = !l.BackUp
	d.turned = name
	if l.front != Nothing || l.back != Nothing {
		d.turns++
	}
}

// carry puts what is seen of one paper on another's upper side: by drawing on a
// paper above what shines through, or by pressing the lines of a paper above.
// Either way it looks from above as it did.
func (d *desk) carry(from, to string) { *d.leaves[to].upper() = d.leaves[from].seen() }

// redraw draws what shows through a paper on its upper side.
func (d *desk) redraw(name string) {
	l := d.leaves[name]
	*l.upper() = (*l.lower()).turned()
}

// shade shades the side of a paper that lies up.
func (d *desk) shade(name string) {
	l := d.leaves[name]
	if l.BackUp {
		l.backShaded = true
	} else {
		l.frontShaded = true
	}
}

// say keeps the stack as a step of its own.
func (d *desk) say(do string) {
	s := Step{Do: do, Turned: d.turned}
	for _, name := range d.stack {
		s.Stack = append(s.Stack, d.leaves[name].layer(d.taped && d.leaves[name].Stuff != Glass && d.leaves[name].Stuff != Soft))
	}
	d.steps, d.turned = append(d.steps, s), ""
}
