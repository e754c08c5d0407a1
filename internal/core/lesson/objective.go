package lesson

import (
	"fmt"
	"slices"
	"strings"
)

// Measure says by what an objective shows that it is reached.
type Measure string

// The measures of a drawing and its photo; without one the teacher alone judges.
const (
	ByEye    Measure = ""
	ByBoxes  Measure = "boxes"  // nine of ten boxes are off by at most Within of a box
	ByPoints Measure = "points" // at least Within of the landmarks that were found are in their places
	ByTone   Measure = "tone"   // the tones follow one another as in the picture, rank correlation at least Within
	ByParts  Measure = "parts"  // at least Within of all boxes, or parts, are done
	ByReach  Measure = "reach"  // the drawing reaches over at least Within of its sheet, across and down
)

// Measures lists them.
var Measures = []Measure{ByEye, ByBoxes, ByPoints, ByTone, ByParts, ByReach}

// Words says a measure for people; Within goes into it.
func (m Measure) Words() string {
	return map[Measure]string{ByEye: "the teacher's eye", ByBoxes: "9 of 10 boxes are off by at most … of a box", ByPoints: "at least … of the points are in place",
		ByTone: "tones in the picture's order, at least … of 1", ByParts: "at least … of all is done",
		ByReach: "it fills at least … of the sheet, across and down"}[m]
}

// Objective is something a drawing is to reach, on one of two levels or more.
type Objective struct {
	Code    string  `json:"code"`
	Level   string  `json:"level"`
	Words   string  `json:"words"`
	Measure Measure `json:"measure,omitempty"`
	Within  float64 `json:"within,omitempty"` // above 0, at most 1
}

// usualObjectives stand where a teacher chose none, the basic ones first (common practice;
// the measures ours).
var usualObjectives = []Objective{
	{"proportions", "basic", "Proportions are right", ByBoxes, 0.15},
	{"values", "basic", "Light, middle and dark are present", ByEye, 0},
	{"form", "stretch", "Form by gradual tone", ByEye, 0},
	{"detail", "stretch", "Fine detail", ByEye, 0},
}

// Goals returns what the road is to reach, the usual objectives where it names none.
func (r Road) Goals() []Objective {
	if len(r.Objectives) == 0 {
		return usualObjectives
	}
	return r.Objectives
}

func checkObjectives(list []Objective) error {
	if len(list) > mostGoals {
		return fmt.Errorf("%w: wanted at most %d objectives, got %d", ErrRoad, mostGoals, len(list))
	}
	seen := map[string]bool{}
	for i, o := range list {
		switch {
		case o.Words == "" || len([]rune(o.Words)) > longCheck || o.Level == "" || len([]rune(o.Level)) > 20:
			return fmt.Errorf("%w: objective %d needs words of at most %d letters and a level such as basic or stretch", ErrRoad, i+1, longCheck)
		case o.Code == "" || len(o.Code) > 20 || seen[o.Code]:
			return fmt.Errorf("%w: objective %d needs a short code of its own, got %q", ErrRoad, i+1, o.Code)
		case !slices.Contains(Measures, o.Measure):
			return fmt.Errorf("%w: objective %d is measured by nothing that is known: %q", ErrRoad, i+1, o.Measure)
		case o.Measure != ByEye && !(o.Within > 0 && o.Within <= 1):
			return fmt.Errorf("%w: “%s” needs a number above 0 and at most 1, such as 0.1 for a tenth", ErrRoad, o.Words)
		}
		seen[o.Code] = true
	}
	return nil
}

// Coded gives every objective without a code one that no other has.
func Coded(list []Objective) []Objective {
	taken := map[string]bool{}
	for _, o := range list {
		taken[o.Code] = true
	}
	n := 1
	for i := range list {
		for ; list[i].Code == ""; n++ {
			if code := fmt.Sprintf("own-%d", n); !taken[code] {
				list[i].Code = code
			}
		}
	}
	return list
}

// Seen is what is known of one student's drawing, for objectives that are measured. What
// was not measured is nil, or 0 of 0.
type Seen struct {
	Off            *float64 // nine of ten boxes are off by at most so much of a box
	Tone           *float64 // rank correlation
	Within, Points int      // landmarks in their places, of those that were found
	Done, All      int      // boxes or parts
	Reach          *Reach
}

// Reach is how much of its sheet a drawing fills, as shares of it, and which edges it touches.
type Reach struct {
	Across, Down float64
	Touches      []string
}

// Judged is what measuring proposes about an objective.
type Judged struct {
	Known   bool
	Reached bool
	Why     string // with its figures
}

// Judge proposes whether an objective is reached; it is for a person to say so.
func (o Objective) Judge(s Seen) Judged {
	share := func(n, of int, what string) Judged {
		if of == 0 {
			return Judged{}
		}
		return Judged{true, float64(n) >= o.Within*float64(of)-1e-9, fmt.Sprintf("%d of %d %s", n, of, what)}
	}
	switch {
	case o.Measure == ByBoxes && s.Off != nil:
		return Judged{true, *s.Off <= o.Within, fmt.Sprintf("nine of ten boxes are off by at most %.2f of a box, %.2f asked", *s.Off, o.Within)}
	case o.Measure == ByTone && s.Tone != nil:
		return Judged{true, *s.Tone >= o.Within, fmt.Sprintf("tones follow the picture's to %.2f, %.2f asked", *s.Tone, o.Within)}
	case o.Measure == ByReach && s.Reach != nil:
		why := fmt.Sprintf("it fills %.0f %% of the sheet across and %.0f %% down", 100*s.Reach.Across, 100*s.Reach.Down)
		if len(s.Reach.Touches) > 0 {
			why += "; it touches the edge: " + strings.Join(s.Reach.Touches, ", ")
		}
		return Judged{true, min(s.Reach.Across, s.Reach.Down) >= o.Within, why}
	case o.Measure == ByPoints:
		return share(s.Within, s.Points, "points in their places")
	case o.Measure == ByParts:
		return share(s.Done, s.All, "done")
	}
	return Judged{}
}

// ideas returns work for who is early: the teacher's own list, or else what is proposed.
func (r Road) ideas(proposed []string) []string {
	if len(r.Extension) > 0 {
		return r.Extension
	}
	return proposed
}
