package web

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/plans"
)

// A project of every way of working goes from the picture to its first print without a
// field that has to be typed: its road, its plan, its pages and its students' page stand.
func TestEveryWayBegins(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	own := map[lesson.Way]string{lesson.ByViews: "of 4 views done", lesson.ByTracing: "of 4 areas done",
		lesson.ByStrips: "strips done", lesson.ByQuarters: "parts done", lesson.ByTiles: "tiles done"}
	for _, way := range lesson.Ways() {
		at, _, _ := strings.Cut(c.post("/projects", form{"name": way.Name(), "class": fmt.Sprint(h.class.ID),
			"road": "way-" + string(way)}, file{"picture", "light.png", h.sample.Picture}).location(), "?")
		at = strings.TrimSuffix(at, "/views")
		var id uint64
		if _, err := fmt.Sscanf(at, "/projects/%d", &id); err != nil {
			t.Fatal(err)
		}
		p, err := h.db.Project(t.Context(), h.project.TeacherID, id)
		if err != nil {
			t.Fatal(err)
		}
		ask := plans.First(p.Name, p.Picture.Pixels(), measure.Inch, way, 0)
		if way.Plan() != nil && way != lesson.ByViews {
			c.get(at+"?step=grid").want(http.StatusOK, `value="`+ask.Parts+`"`)
		}
		f := form{"seen": "0"}
		for _, field := range ask.Fields() {
			f[field.Name] = *field.Value
		}
		if way != lesson.ByViews { // which has no boxes to be kept first
			c.post(at+"/plan", f).want(http.StatusOK, "Kept")
		}
		c.get(at+"/print").want(http.StatusOK, "pages a set")
		c.get(at+"/wall").want(http.StatusOK, "Ada")
		c.get(at+"/road").want(http.StatusOK, strings.ToLower(way.Unit().Many[:1])+way.Unit().Many[1:])
		link, err := h.db.Link(t.Context(), p, h.class.Students[0].ID)
		if err != nil {
			t.Fatal(err)
		}
		page := h.nobody().get("/s/"+link).want(http.StatusOK, way.Road().Where(nil, nil).Stage.Name())
		if say := own[way]; say != "" && !page.says(say) {
			t.Errorf("%s: the student's page does not say %q", way.Name(), say)
		}
	}
	c.post("/projects", form{"name": "Lost", "road": "own-77"}, file{"picture", "light.png", h.sample.Picture}).want(http.StatusUnprocessableEntity, "not kept any more")
}

// One lesson of three ways of working, run from the front with a phone: the class is called,
// a stage is set for all, a student on top of the wall is approved, and the page of a student
// follows.
func TestALessonFromTheFront(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(390, 844)
	s.signIn()
	passed := 0
	base, name := s.address("/projects/{project}"), h.class.Students[0].Name
	for way, part := range map[lesson.Way]string{lesson.ByStrips: "A1", lesson.ByViews: "p-1", lesson.ByQuarters: "A1"} {
		road := way.Road()
		s.visit(base + "/road?take=way-" + string(way))
		s.press("button", "Take this road")
		s.see(".road-desk h2", "The road: "+way.Name())
		s.visit(base + "/wall")
		s.unfold("summary", "Call to the class")
		s.press("button", "Pencils down")
		s.see("#called", "Pencils down")
		s.press("button", "Go on")
		s.see("#called", "Nothing is called")
		s.unfold("summary", "For many at once")
		looked := false
		for _, stage := range road.On() { // for everybody, up to the checkpoint or the drawing
			if looked = stage.Checkpoint != ""; road.DrawsIn(stage) {
				break
			}
			s.page.MustElement("#many-stage").MustSelect(stage.Name())
			s.press("button", "Mark it")
			s.see("#many", "“"+stage.Name()+"” is done for")
			if looked {
				break
			}
		}
		s.press(".tile-name", name)
		s.see(".desk-open h2", name)
		// What was looked at on the road before stands on this one too.
		if waits, button, err := s.page.HasR(".desk-open button", "Passed"); err != nil {
			t.Fatal(err)
		} else if waits {
			button.MustClick()
			passed++
		}
		drawing, _ := road.Drawing()
		s.see(".desk-open .desk-road", drawing.Name())
		box := s.page.MustElement(`.desk-open [data-label="` + part + `"]`)
		if on := box.MustAttribute("aria-pressed"); *on == "false" { // strips and quarters share a box
			box.MustClick()
		}
		s.page.MustElement(`.desk-open [data-label="` + part + `"][aria-pressed=true]`)
		s.page.MustElement("#desk-close").MustClick()
		s.page.MustWait(`() => !document.querySelector(".desk-open")`)
		s.page.MustWait(`() => !JSON.parse(localStorage.getItem("zesty-ticks") ?? "[]").length`)
		h.nobody().get("/s/"+h.link).want(http.StatusOK, "1</b> of", drawing.Name())
	}
	if passed != 1 {
		t.Errorf("%d looks were passed, one was waited for", passed)
	}
}
