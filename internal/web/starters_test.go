package web

import (
	"context"
	"fmt"
	"net/http"
	"regexp"
	"testing"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/starters"
)

// A teacher with no picture begins with one of ours: the way is proposed with its reason as soon as it is
// chosen, and the project has a plan and points to get right at once. Taken twice, it lies in Pictures once.
func TestBeginWithAStarter(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit("/projects/new")
	s.see("#way-chosen", "is proposed once")
	s.unfold("summary", "Begin with one of these")
	s.press(".from-starters label", "Cube, ball and cone")
	s.see("#way-chosen", "Quarter marks, loose: it is a few large shapes")
	s.press(".from-starters label", "Street to the harbour")
	s.see("#way-chosen", "Box by box: it has much detail")
	s.unfold("summary", "Another way")
	s.press(".wayof", "Sight-size")
	s.see("#way-chosen", "Sight-size: proportion")
	s.press(".from-starters label", "Sailing boat") // what was chosen by hand stays
	s.see("#way-chosen", "Sight-size")
	s.press(".wayof", "As suits the picture")
	s.see("#way-chosen", "Box by box: its lines are there")
	s.press("button", "Start the project")
	s.see(".bench-facts h2", "Sailing boat")
	s.see(".bench-facts", "Box by box: its lines are there to be copied")

	c := h.signIn("owner@quay.example")
	for range 2 {
		c.post("/projects", form{"from": "starter-boat", "road": "proposed"}).location()
	}
	c.post("/projects", form{"from": "starter-cloth", "road": "proposed"}).location()
	c.post("/projects", form{"from": "starter-cat", "road": "proposed"}).want(http.StatusUnprocessableEntity, "not there any more")
	ctx, boats := context.Background(), 0
	list, err := h.db.Projects(ctx, h.project.TeacherID)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range list {
		one, ok := map[string]string{"Sailing boat": "boat", "Cloth on two pegs": "cloth"}[p.Name]
		if !ok {
			continue
		}
		plan, err := h.db.CurrentPlan(ctx, p)
		if err != nil {
			t.Fatalf("%s: %v", p.Name, err)
		}
		pic, _ := starters.Find(one)
		marks, err := h.db.Landmarks(ctx, p.ID, p.PictureID)
		if err != nil || len(marks) != len(pic.Landmarks) {
			t.Errorf("%s: %d landmarks, %v; want %d", p.Name, len(marks), err, len(pic.Landmarks))
		}
		way := lesson.ByBox
		if one == "cloth" {
			way = lesson.ByTracing
		} else if boats++; !regexp.MustCompile(`"columns": *5,\s*"rows": *6`).MatchString(plan.JSON) || !regexp.MustCompile(`"size_px": *\[\s*1620,\s*1800\s*\]`).MatchString(plan.JSON) {
			t.Errorf("the boat's plan is %.300s; want 5 × 6 boxes", plan.JSON)
		}
		if got := p.EffectiveRoad().Way; got != way {
			t.Errorf("%s goes %q; want %q", p.Name, got, way)
		}
	}
	if boats != 3 {
		t.Errorf("%d boats; want 3", boats)
	}
	library, err := h.db.Library(ctx, h.project.TeacherID, "Sailing boat")
	if err != nil || len(library) != 1 {
		t.Errorf("the boat lies %d times in Pictures, %v; want once", len(library), err)
	}
	c.get("/starters/boat").want(http.StatusOK, "")
	c.get("/starters/..%2fstarters.go").want(http.StatusNotFound, "")
	c.get("/projects/new/way?from=99999999").want(http.StatusNotFound, "")
	c.get("/projects/new/way?from="+fmt.Sprint(*h.project.PictureID)+"&road=proposed").want(http.StatusOK, "Box by box")
}
