package transfer

import "math"

// Backing is what the back of a copy is shaded with.
type Backing struct {
	Name  string
	Light float64 // of its line on the paper, L* (ours, tried on a scrap first)
	Soft  bool    // comes off at a touch
	Why   string
}

// shows is how far a line's lightness must be from the paper's to be followed
// with ease (ours).
const shows = 25

var (
	softPencil = Backing{Name: "a soft pencil, 4B or 6B", Light: 35}
	tint       = Backing{Name: "a coloured pencil, a light tint of the colour to come", Light: 68}
	greyPastel = Backing{Name: "grey pastel", Light: 60, Soft: true}
	whiteChalk = Backing{Name: "white chalk or pastel", Light: 94, Soft: true}
)

// backing chooses by the medium, and then by lightness against the paper: grey
// for black-and-white work, a light tint of the colour for coloured work, white
// on dark (common practice); the first that shows, else what shows most.
func backing(w Wish) Backing {
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
		best.Why = "Nothing shows well on this paper; this shows best. Try it on a scrap first, or choose a lighter or a darker paper."
	}
	return best
}

func apart(b Backing, p Paper) float64 { return math.Abs(b.Light - p.Light) }

// pressure says how hard to press (common practice).
func pressure(b Backing) string {
	if b.Soft {
		return "Press lightly: pastel and chalk come off at a touch, and pressing dents the paper."
	}
	return "Press firmly, with a ball point or a hard pencil."
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
