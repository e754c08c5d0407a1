package transfer

import (
	"math"
	"slices"
)

// Backing is what the back of a copy is shaded with.
type Backing struct {
	Key   string // as forms name it
	Name  string
	Light float64 // of its line on the paper, L* (ours, tried on a scrap first)
	Soft  bool    // comes off at a touch
	Why   string
}

// shows is how far a line's lightness must be from the paper's to be followed
// with ease (ours).
const shows = 25

var (
	hbPencil   = Backing{Key: "hb", Name: "an HB pencil", Light: 48}
	softPencil = Backing{Key: "soft", Name: "a soft pencil, 4B or 6B", Light: 35}
	tint       = Backing{Key: "tint", Name: "a coloured pencil, a light tint of the colour to come", Light: 68}
	greyPastel = Backing{Key: "grey", Name: "grey pastel", Light: 60, Soft: true}
	whiteChalk = Backing{Key: "chalk", Name: "white chalk or pastel", Light: 94, Soft: true}
)

// Backings lists what schools shade with; each room has its own way (common practice).
var Backings = []Backing{hbPencil, softPencil, greyPastel, whiteChalk, tint}

// graphite reports whether a backing shines where it is pressed.
func (b Backing) graphite() bool { return b.Key == hbPencil.Key || b.Key == softPencil.Key }

// sheen says what graphite does on dark paper (common practice).
func sheen(b Backing, p Paper) string {
	if b.graphite() && p.Light < darkPaper {
		return ": pressed firmly it is seen as a sheen, from the side"
	}
	return ""
}

// chosen returns the backing that a wish names; ok is false where it leaves the choice.
func chosen(w Wish) (b Backing, ok bool) {
	i := slices.IndexFunc(Backings, func(b Backing) bool { return b.Key == w.Backing })
	if i < 0 {
		return b, false
	}
	b = Backings[i]
	b.Why = "Your own choice. Try it on a scrap of the same paper first."
	if apart(b, w.Final) < shows {
		b.Why = "Your own choice; it hardly shows on this paper" + sheen(b, w.Final) + ". Try it on a scrap first."
	}
	return b, true
}

// backing is what a wish names, or chooses by the medium, and then by lightness against the paper: grey
// for black-and-white work, a light tint of the colour for coloured work, white
// on dark (common practice); the first that shows, else what shows most.
func backing(w Wish) Backing {
	if b, ok := chosen(w); ok {
		return b
	}
	order := []Backing{softPencil, whiteChalk, greyPastel}
	switch w.Medium {
	case Coloured, Watercolor:
		order = []Backing{tint, softPencil, whiteChalk}
	case Pastel:
		order = []Backing{greyPastel, whiteChalk, softPencil}
	case Metallic:
		order = []Backing{whiteChalk, greyPastel, softPencil}
	}
	best := order[0]
	for _, b := range order {
		if apart(b, w.Final) >= shows {
			best = b
			break
		}
		if apart(b, w.Final) > apart(best, w.Final) {
			best = b
		}
	}
	best.Why = "It is "
	if best.Light < w.Final.Light {
		best.Why += "darker"
	} else {
		best.Why += "lighter"
	}
	best.Why += " than the paper by enough to be followed, and goes with the work to come. Try it on a scrap of the same paper first."
	if apart(best, w.Final) < shows {
		best.Why = "Nothing shows well on this paper; this shows best" + sheen(best, w.Final) + ". Try it on a scrap first, or choose a lighter or a darker paper."
	}
	return best
}

func apart(b Backing, p Paper) float64 { return math.Abs(b.Light - p.Light) }

// pressure says how hard to press (common practice).
func pressure(b Backing) string {
	if b.Soft {
		return "Press lightly: pastel and chalk come off at a touch, and pressing dents the paper."
	}
	return "Press firmly, with a blunt point such as a ball point. Faint? The imprint can be gone over again."
}

// beneath says what lies under the final sheet.
func beneath(w Wish) string {
	if w.has(SoftBase) {
		return "The soft base lies under the final sheet, and nothing precious beneath."
	}
	return "A few sheets of newspaper make a soft base under the final sheet. Nothing precious beneath."
}

// taping says where to fix the papers.
func taping(w Wish) string {
	if w.has(Tape) {
		return "Tape two corners of one edge, as a hinge: the paper lifts to look, and falls back into place. Press the tape on your sleeve first, so that it comes off again."
	}
	return "Without tape: two clips or pegs at one edge make the hinge, or a second pair of hands. Make a small mark at two corners on both papers, to lay them back."
}
