package web

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/plans"
)

// A value map as the teacher asks for it, its files, and wishes that cannot be
// met: each is told on the page, with the form as it was filled in.
func TestValueMaps(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := h.address("/projects/{project}/values")
	c.get(at).want(http.StatusOK, "6B")
	c.get(at+"?steps=3&rule=light&least=40&neck=2&style=filled").want(http.StatusOK, "1 area at")
	c.get(at+"/map.svg?steps=3&grid=on").want(http.StatusOK, `<g id="step-3"`)
	c.get(at+"/map.pdf?steps=3").want(http.StatusOK, "%PDF-")
	c.get(at+"/map.png?steps=3").want(http.StatusOK, "PNG")
	for query, say := range map[string]string{
		"steps=9": "Choose 2 to 7 steps", "steps=x": "Choose 2 to 7 steps", "least=big": "square millimetres", "least=-1": "square millimetres", "neck=99": "0 to 50",
		"rule=moon": "how the tones are parted", "style=dots": "Choose outlines",
		"rule=hand&cut=20&cut=x&cut=60":   "between 0 (black) and 100",
		"rule=hand&cut=20&cut=40&cut=100": "between 0 (black) and 100",
	} {
		c.get(at+"?"+query).want(http.StatusUnprocessableEntity, say)
		c.get(at+"/map.svg?"+query).want(http.StatusUnprocessableEntity, say)
	}
	if a := c.get(at+"?steps=9&least=33").want(http.StatusUnprocessableEntity, "Choose 2 to 7 steps"); !a.says(`value="33"`) {
		t.Error("what was typed beside the mistake is lost")
	}
	// Cuts by hand, in any order, and a start where there are too few; over the
	// picture; all of it; and simplified.
	c.get(at+"?steps=4&rule=hand&cut=70&cut=20&cut=50").want(http.StatusOK, `value="20"`)
	c.get(at+"?steps=3&rule=hand&cut=70").want(http.StatusOK, `id="cut-1"`)
	c.get(at+"?steps=3&over=on&part=picture").want(http.StatusOK, "/pictures/")
	c.get(at+"/map.pdf?steps=3&over=on&part=picture&style=figure").want(http.StatusOK, "%PDF-")
	c.get(at+"/map.png?steps=3&over=on").want(http.StatusOK, "PNG")
	c.get(at+"?steps=3").want(http.StatusOK, "it has no tones")
	// Seven steps of a line drawing are more than it has.
	c.get(at+"?steps=7&rule=area&least=400").want(http.StatusOK, "cover nothing")
	bare, _, _ := strings.Cut(c.post("/projects", form{"name": "Bare"}, file{"picture", "light.png", h.sample.Picture}).location(), "?")
	c.get(bare+"/values").want(http.StatusUnprocessableEntity, "Keep the plan first")
	// A mirrored, turned frame is mapped as it will be drawn.
	turned := planForm(h.sample.Plan.Typed, 1)
	size := h.sample.Plan.Frame.Picture
	turned["frame"] = fmt.Sprintf("%d,%d %dx%d 12 mirror", size[0]/2, size[1]/2, size[0]/2, size[1]/2)
	c.post(h.address("/projects/{project}/plan"), turned).want(http.StatusOK, "")
	project, err := h.db.Project(context.Background(), h.project.TeacherID, h.project.ID)
	if err != nil {
		t.Fatal(err)
	}
	if p, err := plans.Kept(context.Background(), h.db, project); err != nil || p == nil || p.Frame == nil || !p.Frame.Mirror || p.Frame.Angle != 12 {
		t.Fatalf("the frame was not kept: %v %+v", err, p)
	}
	c.get(at).want(http.StatusOK, "areas at")
}

// A line sheet, its files, and wishes that cannot be met.
func TestLineSheets(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := h.address("/projects/{project}/lines")
	c.get(at).want(http.StatusOK, "lines at")
	c.get(at+"?detail=1&kind=photo&pen=0.7&part=picture&grid=on&over=on").want(http.StatusOK, "/pictures/")
	c.get(at+"/map.svg?detail=3&over=on").want(http.StatusOK, "data:image/")
	c.get(at+"/map.pdf").want(http.StatusOK, "%PDF-")
	c.get(at+"/map.png").want(http.StatusOK, "PNG")
	for query, say := range map[string]string{"detail=9": "Detail is 1", "detail=much": "Choose how much detail",
		"pen=thick": "pen&#39;s width", "pen=40": "0.1 to 5", "kind=moon": "what the picture is"} {
		c.get(at+"?"+query).want(http.StatusUnprocessableEntity, say)
		c.get(at+"/map.pdf?"+query).want(http.StatusUnprocessableEntity, say)
	}
	if a := c.get(at+"?detail=9&pen=0.7").want(http.StatusUnprocessableEntity, "Detail is 1"); !a.says(`value="0.7"`) {
		t.Error("what was typed beside the mistake is lost")
	}
}

// In the browser: the tones are parted by hand, and a slider moved by the
// keyboard moves its cut on the histogram and in the map.
func TestCutsByHand(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}/values"))
	s.page.MustElement("#rule").MustSelect("by hand")
	slider := s.page.MustElement("#cut-0")
	before := slider.MustEval(`() => +this.value`).Int()
	slider.MustFocus()
	for range 4 {
		s.page.Keyboard.MustType(input.ArrowRight)
	}
	s.see("label.slider", fmt.Sprintf("ends at %d", before+4))
	if at := s.page.MustInfo().URL; !strings.Contains(at, "rule=hand") || !strings.Contains(at, fmt.Sprintf("cut=%d", before+4)) {
		t.Errorf("the address %s does not keep the cut", at)
	}
	if x := s.page.MustEval(`() => document.querySelectorAll("#histogram svg path")[100].getAttribute("d")`).Str(); !strings.HasPrefix(x, fmt.Sprintf("M%d ", before+4)) {
		t.Errorf("the cut is drawn at %q; want %d", x, before+4)
	}
}
