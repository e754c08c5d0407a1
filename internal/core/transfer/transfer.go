// Package transfer knows the ways to carry a finished line drawing to another
// sheet: what each needs, how often paper is turned over and so whether the
// result is mirrored, what to shade with, and what will not work and why.
//
// It knows papers and hands, and nothing of pictures or pages.
package transfer

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
)

// Tool is something at hand.
type Tool string

// The tools that ways ask for.
const (
	LightTable Tool = "light table"
	Window     Tool = "window"
	Lamp       Tool = "lamp and glass"
	Tracing    Tool = "tracing paper"
	Baking     Tool = "baking paper"
	Tape       Tool = "tape"
	SoftBase   Tool = "soft base"
	Copier     Tool = "copier"
	Ruler      Tool = "ruler"
)

// Tools lists them in the order in which they are asked for.
var Tools = []Tool{LightTable, Window, Lamp, Tracing, Baking, Tape, SoftBase, Copier, Ruler}

// Medium is what the final sheet is finished with.
type Medium string

// The media.
const (
	Graphite   Medium = "graphite"
	Ink        Medium = "ink"
	Coloured   Medium = "coloured pencil"
	Watercolor Medium = "watercolour"
	Pastel     Medium = "pastel or chalk"
	Metallic   Medium = "silver or white pen"
)

// Media lists them.
var Media = []Medium{Graphite, Ink, Coloured, Watercolor, Pastel, Metallic}

// Hands is who does it.
type Hands string

// Who does it.
const (
	Young Hands = "young" // up to ten years or so
	Class Hands = "class"
	Adult Hands = "adult"
)

// Paper is a sheet: its weight in g/m² and its lightness, L* 0 to 100.
type Paper struct {
	GSM, Light float64
}

// Tint is a paper's colour by name, with its lightness (from memory, of usual school papers).
type Tint struct {
	Name  string
	Light float64
}

// Tints lists the colours of papers.
var Tints = []Tint{{"white", 95}, {"cream", 90}, {"grey", 65}, {"brown", 58}, {"dark blue", 28}, {"black", 16}}

// Wish is what is to be carried where, and with what.
type Wish struct {
	Drawing, Final Paper
	Medium         Medium
	Have           []Tool
	Hour           float64 // of the day, 0 to 24, for the window
	Hands          Hands
	Times          float64 // final size ÷ drawing's size
	MirrorFine     bool    // a mirror image will do
	Backing        string  // the Key of what the back is shaded with; empty for what suits
	WholeBack      bool    // shaded all over, not only behind the lines
	Printed        bool    // nothing is drawn yet: the lines are traced from a print, which may be mirrored
}

// Usual is what most rooms have: drawing paper, a window by day, tape (common practice).
var Usual = Wish{Drawing: Paper{GSM: 80, Light: Tints[0].Light}, Final: Paper{GSM: 160, Light: Tints[0].Light}, Medium: Graphite, Hour: 10, Hands: Class, Times: 1,
	Have: []Tool{Window, Tracing, Tape, Ruler, Copier}}

// ErrWish is wrapped by errors about what was asked for.
var ErrWish = errors.New("transfer")

// check says what cannot be of a paper.
func (p Paper) check(what string) error {
	if !(p.GSM >= 10 && p.GSM <= 1000) {
		return fmt.Errorf("%w: the %s weighs 10 to 1000 g/m² (copy paper has 80), got %g", ErrWish, what, p.GSM)
	}
	if !(p.Light >= 0 && p.Light <= 100) {
		return fmt.Errorf("%w: the %s is 0 (black) to 100 (white) light, got %g", ErrWish, what, p.Light)
	}
	return nil
}

// Check says what in a wish cannot be.
func (w Wish) Check() error {
	if err := errors.Join(w.Drawing.check("drawing's sheet"), w.Final.check("final paper")); err != nil {
		return err
	}
	switch {
	case !(w.Hour >= 0 && w.Hour <= 24):
		return fmt.Errorf("%w: the hour is 0 to 24, got %g", ErrWish, w.Hour)
	case !(w.Times > 0.05 && w.Times < 50):
		return fmt.Errorf("%w: the final drawing is 0.05 to 50 times as large, got %g", ErrWish, w.Times)
	case !slices.Contains(Media, w.Medium):
		return fmt.Errorf("%w: there is no medium %q", ErrWish, w.Medium)
	case w.Backing != "" && !slices.ContainsFunc(Backings, func(b Backing) bool { return b.Key == w.Backing }):
		return fmt.Errorf("%w: nobody shades with %q here; choose from the list", ErrWish, w.Backing)
	case w.Hands != Young && w.Hands != Class && w.Hands != Adult:
		return fmt.Errorf("%w: young, class or adult hands, got %q", ErrWish, w.Hands)
	}
	return nil
}

func (w Wish) has(t Tool) bool { return slices.Contains(w.Have, t) }

// thin returns the see-through paper at hand; ok is false for none.
func (w Wish) thin() (name string, ok bool) {
	switch {
	case w.has(Tracing):
		return string(Tracing), true
	case w.has(Baking):
		return string(Baking), true
	}
	return string(Tracing), false
}

// sameSize reports whether the drawing is carried as large as it is.
func (w Wish) sameSize() bool { return math.Abs(w.Times-1) < 0.005 }

// Way is one way of carrying a drawing over.
type Way struct {
	Name      string
	Works     bool
	Not       string // why it does not work
	Good, But []string
	Steps     []Step
	TurnOvers int
	Result    Look
	MirrorIt  bool // print the reference mirrored first
	Minutes   float64
	Tools     []Tool // that it uses of those at hand

	shades bool    // something is shaded and comes off on the final sheet
	worth  float64 // more is better
}

// Plan is the answer to a wish.
type Plan struct {
	Ways     []Way // that work, the best first
	Not      []Way // that do not, with reasons
	Backing  Backing
	Pressure string
	Beneath  string
	Tape     string
	Notes    []string
}

// New ranks every way by how well it serves a wish. There is always one: with
// no tool at all the drawing is measured again by a folded strip. The error
// wraps ErrWish.
func New(w Wish) (Plan, error) {
	if err := w.Check(); err != nil {
		return Plan{}, err
	}
	p := Plan{Backing: backing(w)}
	p.Pressure, p.Beneath, p.Tape = pressure(p.Backing), beneath(w), taping(w)
	ways := []Way{w.light(LightTable), w.light(Window), w.light(Lamp), w.pressed(p.Backing), w.rubbed(p.Backing, false), w.rubbed(p.Backing, true), w.redrawn(p.Backing), w.measured()}
	for _, way := range ways {
		if way.Works {
			p.Ways = append(p.Ways, way)
		} else {
			p.Not = append(p.Not, way)
		}
	}
	slices.SortStableFunc(p.Ways, func(a, b Way) int { return cmp.Compare(b.worth, a.worth) })
	p.Notes = w.notes()
	return p, nil
}

// notes says what about the papers and the medium is worth a word.
func (w Wish) notes() (notes []string) {
	if w.Final.Light < darkPaper && (w.Medium == Graphite || w.Medium == Ink) {
		how := map[Medium]string{Graphite: "Graphite shows on paper as dark as this only as a sheen, where it is pressed firmly.", Ink: "Ink hardly shows on paper as dark as this."}
		notes = append(notes, how[w.Medium]+" Silver, white or pastel does.")
	}
	if w.Medium == Watercolor {
		notes = append(notes, "Carry the lines faintly: what is under the paint stays. Tape round the edge before it gets wet. Ink goes on before the paint, if it is waterproof.")
		if w.Final.GSM < 190 {
			notes = append(notes, "Paper of less than about 190 g/m² buckles under water.")
		}
	}
	if w.Final.Light >= darkPaper && w.Medium == Metallic {
		notes = append(notes, "Silver and white show on dark paper; on light paper they are lost.")
	}
	if !w.sameSize() {
		notes = append(notes, fmt.Sprintf("The final drawing is %.3g times as large: only measuring changes the size. Or print the drawing at that size first, and trace the print.", w.Times))
	}
	return notes
}

// darkPaper is the lightness below which paper is dark: light does not come
// through it, and graphite is lost on it (ours).
const darkPaper = 45

func capital(s string) string {
	if s == "" {
		return s
	}
	return string(s[0]-'a'+'A') + s[1:]
}
