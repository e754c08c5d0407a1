package accuracy

import (
	"slices"
	"strings"
	"testing"
	"zestysketch/internal/core/plane"
)

// drawnReport is a report of a whole drawing whose boxes are all in place but
// for those that change says.
func drawnReport(t *testing.T, change func(r *Report)) Report {
	t.Helper()
	p := testPlan(t)
	r := Report{Format: Format, Tolerance: NormalTolerance, Measured: true, Likeness: 0.9, Fit: Fit{Of: OfLines}}
	r.Photo.Usable = true
	for _, c := range p.Cells() {
		r.Cells = append(r.Cells, Cell{Label: c.Label, State: Drawn, Done: 1, Sure: Both, Lines: 1, Uncertain: 0.01})
	}
	change(&r)
	r.say(p)
	return r
}

func (r *Report) off(dx, dy float64, labels ...string) {
	for i := range r.Cells {
		if c := &r.Cells[i]; slices.Contains(labels, c.Label) {
			c.Shift, c.Local = plane.Pt(dx, dy), plane.Pt(dx, dy)
			c.Wrong = c.Size() > r.Tolerance+2*c.Uncertain
		}
	}
}

// What could not be told is named: boxes with lines in them, not empty ones.
func TestUntoldIsNamed(t *testing.T) {
	r := drawnReport(t, func(r *Report) {
		r.Cells[3].Sure, r.Cells[17].Sure, r.Cells[20].Sure, r.Cells[30].Sure = None, None, None, None
		r.Cells[20].State, r.Cells[30].Lines = Empty, 0
	})
	if got, want := r.Untold(), []string{r.Cells[3].Label, r.Cells[17].Label}; !slices.Equal(got, want) {
		t.Errorf("untold are %v; want %v", got, want)
	}
}

// What is said, in which order, and what is left unsaid.
func TestAdvice(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(r *Report)
		say    []string // the beginnings of what is said
	}{
		{"all well", func(r *Report) {}, []string{"All 80 boxes", "Nothing needs mending"}},
		{"one box", func(r *Report) { r.off(0.25, 0, "C4") }, []string{"79 of 80", "C4: the lines sit a quarter of a box too far right."}},
		{"neighbours alike are named together", func(r *Report) { r.off(0.3, 0, "C4", "C5", "D5") }, []string{"77 of 80", "C4, C5 and D5: the lines sit a third"}},
		{"neighbours that differ are not", func(r *Report) { r.off(0.3, 0, "C4"); r.off(-0.5, 0, "D4") }, []string{"78 of 80", "D4: the lines sit half a box too far left", "C4: the lines"}},
		{"three things at most, the largest first", func(r *Report) {
			r.off(0.3, 0, "A1")
			r.off(0.5, 0, "C3")
			r.off(0, 0.7, "E5")
			r.off(0, -0.9, "G7")
		}, []string{"76 of 80", "G7", "E5", "C3"}},
		{"the grid comes before all", func(r *Report) {
			r.off(0.9, 0, "A1")
			r.Grid.Problems = []string{"The boxes are not equal."}
		}, []string{"79 of 80", "The boxes are not equal.", "A1"}},
		{"a small shift of a loose project", func(r *Report) { r.Tolerance = LooseTolerance; r.off(0.3, 0, "C4") }, []string{"All 80 boxes", "Nothing needs mending"}},
		{"lines that tell across only", func(r *Report) { r.off(0.3, 0, "C4"); r.Cells[26].Sure = Across },
			[]string{"79 of 80", "C4: the lines sit a third of a box too far right. Along the line nothing can be told."}},
		{"nothing drawn", func(r *Report) {
			for i := range r.Cells {
				r.Cells[i].State, r.Cells[i].Sure = Empty, None
			}
		}, []string{"The whole has the right size", "No drawn lines were found"}},
		{"darks", func(r *Report) {
			r.Tone = Tone{Judged: true, Rank: 0.9, Darks: 20, Edges: 1, Change: []string{"B2", "C2"}}
		}, []string{"All 80 boxes", "The darks are not dark enough; begin with B2 and C2."}},
		{"whites and edges", func(r *Report) { r.Tone = Tone{Judged: true, Whites: -12, Edges: 0.4} }, []string{"All 80 boxes", "The whites have gone grey", "Edges between tones are softer"}},
		{"halves", func(r *Report) {
			r.Halves = []Cell{{Label: "G3", Sure: Both, Wrong: true, Shift: plane.Pt(0, 0.5)}}
		}, []string{"All 80 boxes", "G3 is not the mirror of B3: its lines sit half a box too low."}},
		{"views", func(r *Report) { r.Views = []Extent{{Top: 10, Bottom: 100}, {Top: 10, Bottom: 94}} }, []string{"All 80 boxes", "View 2 from the left: its bottom is"}},
		{"a photo that shows nothing", func(r *Report) { r.Why = "The photo is blurred." }, []string{"The photo is blurred."}},
		{"more that cannot be told than is right", func(r *Report) {
			for i := range 60 {
				r.Cells[i].Sure = None
			}
		}, []string{"20 of 20 boxes are in their places. 60 more cannot be told.", "Most of this drawing could not be told"}},
		{"light that shines back", func(r *Report) {
			r.Cells[0] = Cell{Label: "A1", State: Empty, Sure: None, Burnt: true}
			r.Photo.Problems = []string{"Light shines back from 3 % of the sheet."}
		}, []string{"All 79 boxes", "Nothing needs mending", "Light shines back from A1", "Light shines back from 3 %"}},
		{"little found again", func(r *Report) { r.Likeness = 0.3 }, []string{"All 80 boxes", "Nothing needs mending", "Only some of the picture’s lines"}},
	} {
		r := drawnReport(t, c.change)
		if len(r.Say) != len(c.say) {
			t.Errorf("%s: said %q; want %q", c.name, r.Say, c.say)
			continue
		}
		for i, want := range c.say {
			if !strings.HasPrefix(r.Say[i], want) {
				t.Errorf("%s: said %q; want it to begin %q", c.name, r.Say[i], want)
			}
		}
	}
}

// One thing at a time in each box: a landmark in a box that was named is not
// named again.
func TestOneThingABox(t *testing.T) {
	r := drawnReport(t, func(r *Report) {
		r.off(0.6, 0, "C4")
		r.Landmarks = []Offset{{Name: "tip", Cell: "C4", Off: plane.Pt(0.3, 0), Weight: 1, Sure: true}, {Name: "heel", Cell: "F7", Off: plane.Pt(0.3, 0), Weight: 1, Sure: true}}
	})
	if len(r.Next) != 2 || r.Next[0].Cells[0] != "C4" || r.Next[1].Cells[0] != "F7" {
		t.Errorf("next %+v; want C4 once, then F7", r.Next)
	}
}

// Two things in one box are two: a landmark is said beside the part in its box, not beside the box.
func TestTwoThingsInABox(t *testing.T) {
	r := drawnReport(t, func(r *Report) {
		r.Parts = []Part{{Cell: "C4", Cells: []string{"C4"}, State: PartMoved, Move: plane.Pt(0.6, 0), Size: 1, Length: 2}}
		r.Landmarks = []Offset{{Name: "tip", Cell: "C4", Off: plane.Pt(0.3, 0), Weight: 1, Sure: true}}
	})
	if len(r.Next) != 2 || r.Next[0].About != AboutPart || r.Next[1].About != AboutLandmark {
		t.Errorf("next %+v; want the part, then the landmark", r.Next)
	}
}

// Critical landmarks have half the limit, free ones none.
func TestClassesOfLandmarks(t *testing.T) {
	o := Offset{Off: plane.Pt(0.15, 0)}
	for class, want := range map[Class]bool{Usual: true, Critical: false, Free: true} {
		o.Class = class
		if got := o.within(NormalTolerance); got != want {
			t.Errorf("%q at 0.15 of 0.2: %v; want %v", class, got, want)
		}
	}
	o.Off.X = 3
	if o.Class = Free; !o.within(NormalTolerance) {
		t.Error("a free landmark is called wrong")
	}
}

func TestListing(t *testing.T) {
	for want, names := range map[string][]string{"": nil, "A1": {"A1"}, "A1 and B2": {"A1", "B2"}, "A1, B2 and C3": {"A1", "B2", "C3"}} {
		if got := list(names); got != want {
			t.Errorf("%v: %q; want %q", names, got, want)
		}
	}
}

// What is known at least is not said to be more.
func TestAtLeast(t *testing.T) {
	for slipped, want := range map[float64]string{0.42: "a third of a box", 0.49: "half a box", 0.32: "a third of a box", 0.29: "a quarter of a box"} {
		r := drawnReport(t, func(r *Report) {
			c := &r.Cells[9]
			c.Sure, c.Slipped, c.Wrong = Across, slipped, true
		})
		if all := strings.Join(r.Say, " "); !strings.Contains(all, "slipped by itself, by "+want+" or more") {
			t.Errorf("slipped by %v or more: said %q, want %s", slipped, all, want)
		}
	}
}
