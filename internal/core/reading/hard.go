package reading

import (
	"fmt"
	"image"
	"math"

	"zestysketch/internal/core/grid"
)

// Hard is how hard a picture is to copy box by box.
type Hard struct {
	Level    int     `json:"level"`   // 1 easy, 2 middling, 3 hard
	Minutes  float64 `json:"minutes"` // a beginner's, for the lines alone
	PerBox   float64 `json:"per_box"` // mean difficulty of a beginner's boxes
	Crossing float64 `json:"crossing"`
	Bare     float64 `json:"bare"`    // share of boxes with nothing in them
	Crowded  int     `json:"crowded"` // boxes that hold too much for a beginner
	Lines    bool    `json:"lines"`   // a line drawing, whose lines are decided already
}

// What is looked at, and what is hard (ours, by the made-up school's pictures): a
// beginner's grid of some 30 boxes; where the student has to decide where
// lines are, all is half as hard again.
const (
	beginnersBoxes = 30
	undecided      = 1.5
	easyUpTo       = 3.4
	hardFrom       = 5.5
	middlingBox    = 3.0
)

// What is believed of a beginner before anything is timed (ours): minutes for a box of middling
// difficulty, and the share of them that looking and placing take, even where little is drawn.
const (
	UsualMinutes = 3.0
	BareBox      = 0.4
)

// LookHard returns how hard a picture is. What is judged is detail and tones; what it shows is not.
func LookHard(img *image.RGBA, drawing bool) (h Hard, err error) {
	w, ht := float64(img.Rect.Dx()), float64(img.Rect.Dy())
	columns := max(1, math.Round(math.Sqrt(beginnersBoxes*w/ht)))
	rows := max(1, math.Round(beginnersBoxes/columns))
	p, err := grid.Make(grid.Request{Picture: [2]int{img.Rect.Dx(), img.Rect.Dy()}, Reference: "180mm", Units: "mm", Scale: "1", Method: "parts", Parts: fmt.Sprintf("%.0fx%.0f", columns, rows)})
	if err != nil {
		return h, err
	}
	r, err := Picture(p, img, drawing, Lines, Thirds)
	if err != nil {
		return h, err
	}
	h.Lines = drawing
	n := 0.0
	for _, b := range r.Boxes {
		n++
		h.PerBox += b.Difficulty
		h.Crossing += float64(len(b.Crossings))
		if len(b.Pieces) == 0 {
			h.Bare++
		}
		if b.TooMuch {
			h.Crowded++
		}
	}
	h.PerBox, h.Crossing, h.Bare = h.PerBox/n, h.Crossing/n, h.Bare/n
	hard := h.PerBox
	if !drawing {
		hard *= undecided
	}
	h.Level = 2
	switch {
	case hard < easyUpTo:
		h.Level = 1
	case hard >= hardFrom:
		h.Level = 3
	}
	h.Minutes = n * UsualMinutes * (BareBox + (1-BareBox)*hard/middlingBox)
	return h, nil
}

// ForWhom says for which level a picture is.
func (h Hard) ForWhom() string {
	return map[int]string{1: "easy: a first project", 2: "middling: for a class that has gridded before", 3: "hard: for the experienced, or a small part of it"}[h.Level]
}

// Reasons says why.
func (h Hard) Reasons() (why []string) {
	why = append(why, fmt.Sprintf("about %.0f lines cross the sides of a box, in a beginner’s grid", h.Crossing))
	if h.Lines {
		why = append(why, "it is a line drawing: where the lines are is decided")
	} else {
		why = append(why, "it has tones: the student decides where lines are")
	}
	if h.Bare > 0.2 {
		why = append(why, fmt.Sprintf("%.0f %% of the boxes are bare", 100*h.Bare))
	}
	if h.Crowded > 0 {
		why = append(why, fmt.Sprintf("%d boxes hold so much that they are best divided again", h.Crowded))
	}
	return append(why, fmt.Sprintf("its lines take a beginner about %.0f minutes", math.Round(h.Minutes/10)*10))
}

// Balance says how a class's set of pictures lies between easy and hard, by their levels;
// empty for fewer than two.
func Balance(levels []int) string {
	var n [4]int
	for _, l := range levels {
		n[l]++
	}
	if len(levels) < 2 {
		return ""
	}
	say := fmt.Sprintf("%d easy, %d middling, %d hard", n[1], n[2], n[3])
	switch {
	case n[1] == 0:
		return say + ": an easy one is missing, for those who are slow."
	case n[3] == 0 && n[2] == 0:
		return say + ": one with more in it is missing, for those who are quick."
	}
	return say + "."
}
