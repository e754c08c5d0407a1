package lesson

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
)

// Every way of working has a road that can be gone, without a finding, with words on each
// card; and a road that is written down reads as it was.
func TestWays(t *testing.T) {
	names := map[string]bool{}
	for _, w := range Ways() {
		r, err := w.Road().Check()
		if err != nil {
			t.Fatalf("%s: %v", w.Name(), err)
		}
		if found := r.Findings(); len(found) > 0 {
			t.Errorf("%s: %v", w.Name(), found)
		}
		if names[w.Name()] || w.Good() == "" || w.Unit().One == "" || w.Unit().Many == "" {
			t.Errorf("%s is not told from the others", w.Name())
		}
		names[w.Name()] = true
		if _, draws := r.Drawing(); !draws {
			t.Errorf("%s: nothing is drawn", w.Name())
		}
		ids := map[StageID]bool{}
		for _, s := range r.Stages {
			if s.Name() == "" || s.Board() == "" || ids[s.ID] {
				t.Errorf("%s: stage %q has no words, or another's name", w.Name(), s.ID)
			}
			ids[s.ID] = true
		}
		b, err := json.Marshal(r)
		if err != nil {
			t.Fatal(err)
		}
		var again Road
		if err := json.Unmarshal(b, &again); err != nil {
			t.Fatal(err)
		}
		if c, _ := json.Marshal(again); string(c) != string(b) {
			t.Errorf("%s reads otherwise than it was written", w.Name())
		}
	}
}

// A road of before stages had names keeps what was done; a second stage of a kind is one of
// its own (erase inside, ink, erase outside: common practice), and opens by itself.
func TestStagesTwice(t *testing.T) {
	r := Road{Outline: "first", Darks: "first", Stages: []Stage{
		{Kind: Draw, On: true, Minutes: 60}, step(Erase, "Erase inside", "", 10, ""), step(Ink, "", "", 20, ""), step(Erase, "Erase outside", "", 5, "Clean all round.")}}
	r, err := r.Check()
	if err != nil {
		t.Fatal(err)
	}
	if want := []StageID{"draw", "erase", "ink", "erase-2"}; !slices.EqualFunc(r.Stages, want, func(s Stage, id StageID) bool { return s.ID == id }) {
		t.Fatalf("stages are named %v", r.Stages)
	}
	done := map[StageID]bool{"draw": true, "erase": true}
	if p := r.Where(done, nil); p.Stage.Kind != Ink {
		t.Errorf("after erasing inside somebody is at %q", p.Stage.Name())
	}
	done["ink"] = true
	if p := r.Where(done, nil); p.Stage.Name() != "Erase outside" || p.Waiting {
		t.Errorf("after ink somebody is at %q", p.Stage.Name())
	}
	if !r.HasCheckpoint("erase-2") || r.HasCheckpoint("erase") || r.HasCheckpoint("nowhere") {
		t.Error("the checkpoint is not the second erasing's alone")
	}
	moved := r
	moved.Stages = []Stage{r.Stages[0], r.Stages[2], r.Stages[3], r.Stages[1]}
	if p := moved.Named().Where(done, map[StageID]Verdict{"erase-2": Passed}); p.Number != 3 {
		t.Errorf("moved, what was done is forgotten: %+v", p)
	}
}

// An odd order is told and gone all the same: ink before any line, marking up at the end,
// nobody looking before ink, nothing drawn.
func TestFindings(t *testing.T) {
	for _, c := range []struct {
		name   string
		stages []Stage
		want   []string
	}{
		{"ink first", []Stage{NewStage(Ink), NewStage(Draw)}, []string{"“Ink” comes before any line is drawn. Move it behind “Draw box by box”."}},
		{"marked up at the end", []Stage{NewStage(Draw), NewStage(MarkUp)}, []string{"“Mark up the sheet” comes when the drawing has begun. Move it before “Draw box by box”."}},
		{"nobody looks", []Stage{NewStage(Draw), NewStage(Ink)}, []string{"Nobody looks before “Ink”. Ink cannot be rubbed out: give a stage before it a checkpoint."}},
		{"nothing is drawn", []Stage{NewStage(Pick), NewStage(Tone)}, []string{"Nothing is drawn on this road. Switch a stage on in which lines come onto paper, or add one."}},
		{"three layers of wash", []Stage{NewStage(Draw), NewStage(Check), NewStage(Tone), NewStage(Tone), NewStage(Tone), NewStage(Reflect)}, nil},
		{"a final sheet marked up", []Stage{NewStage(Draw), NewStage(MarkUp), NewStage(Draw)}, nil},
	} {
		r, err := Road{Stages: c.stages, Outline: "first", Darks: "last"}.Check()
		if err != nil {
			t.Errorf("%s is refused: %v", c.name, err)
		}
		if got := r.Findings(); !slices.Equal(got, c.want) {
			t.Errorf("%s: %q; want %q", c.name, got, c.want)
		}
	}
}

// What is measured is proposed at the very number that was asked for, and nothing where
// nothing was measured.
func TestJudge(t *testing.T) {
	f := func(v float64) *float64 { return &v }
	for _, c := range []struct {
		o    Objective
		seen Seen
		want Judged
	}{
		{Objective{"a", "basic", "Near", ByBoxes, 0.1}, Seen{Off: f(0.1)}, Judged{true, true, "nine of ten boxes are off by at most 0.10 of a box, 0.10 asked"}},
		{Objective{"a", "basic", "Near", ByBoxes, 0.1}, Seen{Off: f(0.11)}, Judged{true, false, "nine of ten boxes are off by at most 0.11 of a box, 0.10 asked"}},
		{Objective{"a", "basic", "Near", ByBoxes, 0.1}, Seen{}, Judged{}},
		{Objective{"a", "basic", "Points", ByPoints, 0.8}, Seen{Within: 4, Points: 5}, Judged{true, true, "4 of 5 points in their places"}},
		{Objective{"a", "basic", "Points", ByPoints, 0.8}, Seen{}, Judged{}},
		{Objective{"a", "basic", "Tones", ByTone, 0.7}, Seen{Tone: f(0.69)}, Judged{true, false, "tones follow the picture's to 0.69, 0.70 asked"}},
		{Objective{"a", "basic", "All", ByParts, 1}, Seen{Done: 19, All: 20}, Judged{true, false, "19 of 20 done"}},
		{Objective{"a", "basic", "By eye", ByEye, 0}, Seen{Off: f(0), Done: 1, All: 1}, Judged{}},
	} {
		if got := c.o.Judge(c.seen); got != c.want {
			t.Errorf("%s of %+v: %+v; want %+v", c.o.Words, c.seen, got, c.want)
		}
	}
	if len(NewRoad().Goals()) != 4 || (Road{Objectives: []Objective{{Code: "a"}}}).Goals()[0].Code != "a" {
		t.Error("the usual objectives stand only where none are chosen")
	}
	if got := (Road{Extension: []string{"A second frame"}}).ideas([]string{"Values"}); !slices.Equal(got, []string{"A second frame"}) {
		t.Errorf("the teacher's own list is not taken: %v", got)
	}
}

// A material reads as it is written, however it is said.
func TestMaterials(t *testing.T) {
	for said, want := range map[string]Material{
		"soft pencil":                             {"soft pencil", 1, 0, false},
		"2 soft pencils, 10 % spare, used up":     {"soft pencils", 2, 0.1, true},
		"1 for 4 sharpener":                       {"sharpener", 0.25, 0, false},
		" 0.5 broad marker , 12.5% spare":         {"broad marker", 0.5, 0.125, false},
		"3 brushes size 8":                        {"brushes size 8", 3, 0, false},
		"1 fine tip 0.2 mm, used up, 20 % spare ": {"fine tip 0.2 mm", 1, 0.2, true},
	} {
		got, err := ParseMaterial(said)
		if err != nil || got != want {
			t.Errorf("%q reads as %+v, %v; want %+v", said, got, err, want)
		}
		if again, err := ParseMaterial(got.String()); err != nil || again != got {
			t.Errorf("%q is written %q, and reads as %+v, %v", said, got, again, err)
		}
	}
	for _, w := range Ways() {
		for _, s := range w.Road().Stages {
			for _, m := range s.Materials() {
				if again, err := ParseMaterial(m.String()); err != nil || again != m {
					t.Errorf("%s is written %q, and reads as %+v, %v", m.Name, m, again, err)
				}
			}
		}
	}
	for _, bad := range []string{"", "pencil, blue", "1 pencil, ten % spare", "1 pencil,"} {
		if m, err := ParseMaterial(bad); err == nil {
			t.Errorf("%q reads as %+v", bad, m)
		}
	}
	if !strings.Contains(NewStage(Tone).Cautions()[0], "dust") {
		t.Error("tone has lost its cautions")
	}
}

// A road asks for what it uses: no gridded picture where nothing is drawn by boxes, no erasing of a grid that
// nobody ruled, and to mark the sheet with what the plan says.
func TestMaterialsFollowTheRoad(t *testing.T) {
	needs := func(r Road) (names []string) {
		for _, s := range r.Supplies(12) {
			names = append(names, s.Name)
		}
		return names
	}
	for _, way := range []Way{ByOverlay, BySight, ByPointing, ByViews, ByTracing} {
		if r := way.Road(); slices.Contains(needs(r), "gridded picture") || slices.ContainsFunc(r.On(), func(s Stage) bool { return s.Name() == "Erase the grid" }) {
			t.Errorf("%s: %v, %+v", way.Name(), needs(r), r.On())
		}
	}
	for way, want := range map[grid.Way][]string{grid.ByTSquare: {"board", "T-square", "roll of tape"}, grid.ByYardstick: {"yardstick"},
		grid.ByFolding: {}, grid.ByStrip: {"printed strips", "scissors"}, grid.ByRuler: {"ruler"}} {
		r := NewRoad()
		got := needs(r.MarkedBy(way))
		for _, name := range want {
			if !slices.Contains(got, name) {
				t.Errorf("%s: no %s in %v", way, name, got)
			}
		}
		if slices.Contains(got, rulers) || way != grid.ByRuler && slices.Contains(got, "ruler") || !slices.Contains(needs(r), rulers) {
			t.Errorf("%s: %v", way, got)
		}
	}
	for name, want := range map[string]string{"drawing paper": "Paper", "primed canvas": "Paper", "soft pencil": "To draw and paint with",
		"permanent fine pen of 0.2 mm": "To draw and paint with", "gridded picture": "Printed here", "T-square": "Tools", "printed strips": "Printed here"} {
		if got := (Material{Name: name}).Shop(); got != want {
			t.Errorf("%s is bought at %q; want %q", name, got, want)
		}
	}
}
