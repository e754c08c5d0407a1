package accuracy

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// Advice is one thing to do next.
type Advice struct {
	Cells  []string    `json:"cells,omitempty"` // the boxes it is about
	Words  string      `json:"words"`
	Effect float64     `json:"effect"`             // on the whole: larger comes first
	Move   plane.Point `json:"off_cell,omitempty"` // what is said to be off, drawn minus wanted
	About  string      `json:"about"`              // AboutGrid and so on
}

// What advice is about.
const (
	AboutPhoto    = "photo"
	AboutGrid     = "grid"
	AboutWhole    = "whole"
	AboutLandmark = "landmark"
	AboutPart     = "part"
	AboutLines    = "lines"
	AboutOther    = "other"
	AboutMissing  = "missing"
	AboutTone     = "tone"
	AboutHalves   = "halves"
	AboutViews    = "views"
)

// mostAdvice is how much one can act on at once: common practice.
const mostAdvice = 3

// halfLike is the likeness below which a person should look too.
const halfLike = 0.45

// What of the whole is worth saying: half as much as the eye sees in a drawing
// laid beside its picture. Ours.
const (
	sizePercent = 1.5
	turnDegrees = 0.8
	partOff     = 0.12 // of a proportion
)

// say fills in the strength, what to do next, and both in sentences.
func (r *Report) say(p grid.Plan) {
	r.Next, r.Say = []Advice{}, nil
	if r.Strength = ""; r.Why != "" {
		r.Next = append(r.Next, Advice{Words: r.Why, Effect: 1, About: AboutPhoto})
		r.Say = []string{r.Why}
		return
	}
	whole := r.aboutWhole()
	off := len(whole) > 0
	all := slices.Concat(r.aboutGrid(), whole, r.aboutParts(), r.aboutLandmarks(off, p), r.aboutLines(off, p), r.aboutOther(), r.aboutTone(), r.aboutHalves(p), r.aboutViews(p))
	slices.SortStableFunc(all, func(a, b Advice) int { return cmp.Compare(b.Effect, a.Effect) })
	for _, a := range all {
		if len(r.Next) < mostAdvice && !r.named(a) {
			r.Next = append(r.Next, a)
		}
	}
	r.Strength = r.strength(off)
	if r.Strength != "" {
		r.Say = append(r.Say, r.Strength)
	}
	for _, a := range r.Next {
		r.Say = append(r.Say, a.Words)
	}
	r.sayOfPhoto()
	r.Say = append(r.Say, r.Photo.Problems...)
}

// nearlyAll is the share of a picture's lines that must be in place for nothing to need mending.
const nearlyAll = 0.9

// Closing returns the sentence that ends a report in which nothing is to be mended: whether that is
// all, or not all is there, or not all could be told; empty where something is to be mended.
func (r Report) Closing() string {
	begun := slices.ContainsFunc(r.Cells, func(c Cell) bool { return c.State != Empty })
	switch {
	case r.Measured && !begun:
		return "No drawn lines were found. Is the sheet still empty, or is the photo too pale?"
	case len(r.Next) > 0 || !r.Measured && len(r.Landmarks) == 0:
		return ""
	case len(r.Parts) > 0:
		return fmt.Sprintf("What is drawn in %s could not be told: look at it with your own eyes.", list(r.Parts[0].Cells))
	case r.mostlyUntold():
		return "Most of this drawing could not be told from the photo: look at it with your own eyes too."
	case r.Measured && r.InPlace > 0 && r.InPlace < nearlyAll:
		return fmt.Sprintf("What is drawn needs no mending now. Go on: about %s of the picture’s lines are not there yet.", ShareInWords(1-r.InPlace))
	}
	return "Nothing needs mending now. Go on."
}

// sayOfPhoto says how far a report may be believed.
func (r *Report) sayOfPhoto() {
	if words := r.Closing(); words != "" {
		r.Say = append(r.Say, words)
	}
	if r.Measured && r.Likeness < halfLike && r.Likeness > 0 {
		r.Say = append(r.Say, "Only some of the picture’s lines were found again here: look with your own eyes too.")
	}
	if len(r.Free) > 0 {
		r.Say = append(r.Say, "Left free: "+several(r.Free)+". Nothing is said of them.")
	}
	if burnt := r.burnt(); len(burnt) > 0 {
		r.Say = append(r.Say, "Light shines back from "+list(burnt)+": nothing is known of what is drawn there.")
	}
}

// burnt returns the boxes from which light shines back.
func (r Report) burnt() (labels []string) {
	for _, c := range r.Cells {
		if c.Burnt {
			labels = append(labels, c.Label)
		}
	}
	return labels
}

// Untold names the boxes in which lines are drawn that could not be told.
func (r Report) Untold() (labels []string) {
	for _, c := range r.Cells {
		if !r.told(c) && c.State != Empty && c.Lines >= leastToDraw {
			labels = append(labels, c.Label)
		}
	}
	return labels
}

// mostlyUntold reports whether more boxes with lines cannot be told than are right.
func (r Report) mostlyUntold() bool {
	right := 0
	for _, c := range r.Cells {
		if r.right(c) {
			right++
		}
	}
	return len(r.Untold()) > right
}

// aThing reports whether advice is about something that has a place of its own, not about whole boxes.
func (a Advice) aThing() bool {
	return a.About == AboutPart || a.About == AboutMissing || a.About == AboutLandmark
}

// named reports whether something was said of all boxes of an advice already, or of one of two halves:
// one thing at a time in each, but two things that lie in one box are two.
func (r Report) named(a Advice) bool {
	said := func(cell string) bool {
		return slices.ContainsFunc(r.Next, func(b Advice) bool {
			return b.About != AboutTone && !(a.aThing() && b.aThing()) && slices.Contains(b.Cells, cell)
		})
	}
	if a.About == AboutHalves {
		return slices.ContainsFunc(a.Cells, said)
	}
	return len(a.Cells) > 0 && !slices.ContainsFunc(a.Cells, func(c string) bool { return !said(c) })
}

// wellPlaced names the landmarks that are where they belong.
func (r Report) wellPlaced() (names []string) {
	for _, o := range r.Landmarks {
		if o.Within && o.Sure && o.Class != Free {
			names = append(names, o.Name)
		}
	}
	return names
}

// strength names what is good, the broadest first.
func (r Report) strength(wholeOff bool) string {
	count := func(is func(Cell) bool) (n int) {
		for _, c := range r.Cells {
			if is(c) {
				n++
			}
		}
		return n
	}
	begun := count(func(c Cell) bool { return c.State != Empty })
	withLines := count(func(c Cell) bool { return c.State != Empty && c.Lines >= leastToDraw })
	known, right := count(r.told), count(r.right)
	if known >= 4 && right == known && wholeOff {
		return "No single box is far off."
	}
	if known >= 4 && right == known && known == withLines {
		return fmt.Sprintf("All %d boxes with lines are in their places.", known)
	}
	if known >= 4 && float64(right) >= 0.75*float64(known) {
		return inPlace(right, known, withLines)
	}
	return r.lesserStrength(right, known, withLines, begun, wholeOff)
}

// lesserStrength names what is good where not most boxes are known to be right.
func (r Report) lesserStrength(right, known, withLines, begun int, wholeOff bool) string {
	well := r.wellPlaced()
	switch {
	case len(well) > 0:
		return "Well placed: " + strings.Join(well[:min(4, len(well))], ", ") + "."
	case r.Tone.Judged && r.Tone.Rank > 0.85:
		return "The darks and lights are in the right order."
	case r.Fit.Of != OfNothing && !wholeOff:
		return "The whole has the right size and stands straight."
	case right > 0:
		return inPlace(right, known, withLines)
	case begun > 0:
		return fmt.Sprintf("%d boxes are begun.", begun)
	}
	return ""
}

// inPlace says how many boxes are right of those that tell, and how many do not.
func inPlace(right, known, drawn int) string {
	words := fmt.Sprintf("%d of %d boxes are in their places.", right, known)
	switch more := drawn - known; {
	case more == 1:
		words += " One more cannot be told."
	case more > 1:
		words += fmt.Sprintf(" %d more cannot be told.", more)
	}
	return words
}
