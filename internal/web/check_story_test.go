package web

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/store"
)

// photographed returns a photo of a student's drawing of the house's project,
// with its corner tags.
func (h *house) photographed(student int, project uint64, hand demo.Hand) []byte {
	h.t.Helper()
	sc, plan, err := demo.HarbourLight()
	if err != nil {
		h.t.Fatal(err)
	}
	who := uint64(999999)
	if student >= 0 {
		who = h.class.Students[student].ID
	}
	hand.PencilWeight, hand.Unsteady = 1, 0.25
	shot, err := demo.Photograph(plan, sc, hand, demo.Camera{Width: 1350, Height: 1800, Dim: 0.3, Noise: 3}, project, who, 0.02, rand.New(rand.NewPCG(3, who)))
	if err != nil {
		h.t.Fatal(err)
	}
	return shot.Photo
}

// A teacher drops a batch: tagged drawings are measured without a click, one
// of an unknown student waits in the tray, and a file that is no picture stops
// none. Then boxes are ticked from a photo, drawing and picture are compared by
// keys, a second photo shows what was mended, and the student reads the advice.
func TestBatchWithTags(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	s := h.open(1280, 800)
	s.signIn()
	cell := 38.1
	high := func(at plane.Point) plane.Point { // the boat is drawn too high
		if at.X < 2.4*cell && at.Y > 4.2*cell && at.Y < 6.3*cell {
			return plane.Point{Y: -0.34 * cell}
		}
		return plane.Point{}
	}
	files := []string{
		s.save("ada.jpg", h.photographed(0, h.project.ID, demo.Hand{Size: 1, Distortion: high})),
		s.save("notes.jpg", []byte("not a photo at all")),
		s.save("who.jpg", h.photographed(-1, h.project.ID, demo.Hand{Size: 1})),
		s.save("bryn.jpg", h.photographed(1, h.project.ID, demo.Hand{Size: 1.03})),
	}
	s.visit(s.address("/projects/{project}/check"))
	s.page.MustElement("#photo").MustSetFiles(files...)
	s.press("button", "Take them in")
	s.see("#queue-words", "3 of 4 taken in, 1 not")
	for _, want := range []string{"Ada: ", "notes: this is not a picture we can read", "who: Its corner tags name a project or a student that is not here", "Bryn: No single box"} {
		s.see("#queue-lines", want)
	}
	s.follow(s.page.MustElement("#queue-done"))
	s.see(".stray", "Whose drawing?")
	s.see("main", "The whole drawing is too large")

	// The tray: a name is said, and the photo is measured by its tags all the same.
	s.page.MustElement(fmt.Sprintf("#stray-%d", s.waiting()[1].ID)).MustSelect("Bryn")
	s.follow(s.page.MustElementR(".stray:nth-of-type(2) button", "It is theirs"))
	s.see("#result", "Found by its corner tags")
	s.see(".checkhead", "Bryn")

	// Ada's boat, in words, with arrows; ticks with one tap.
	s.visit(s.address("/projects/{project}/check"))
	s.follow(s.page.MustElementR("h2 a", "Ada"))
	s.see(".nextthings", "too high")
	s.see("#result", "Found by its corner tags")
	s.follow(s.page.MustElementR("button", "boxes that look drawn"))
	ticks, err := h.db.StudentTicks(context.Background(), h.project.ID, h.class.Students[0].ID)
	if err != nil || len(ticks) < 40 || !ticks["E5"] || ticks["A1"] {
		t.Errorf("%d boxes ticked, %v; want those that are drawn, E5 but not the blank A1", len(ticks), err)
	}
	if s.page.MustElement("#result").MustHas(`form[action$="/ticks"]`) {
		t.Error("ticks are offered again")
	}
	s.looks()

	// A week later the boat is mended.
	s.visit(s.address("/projects/{project}/check"))
	s.page.MustElement("#photo").MustSetFiles(s.save("again.jpg", h.photographed(0, h.project.ID, demo.Hand{Size: 1})))
	s.press("button", "Take them in")
	s.see("#queue-words", "1 of 1 taken in")
	s.follow(s.page.MustElement("#queue-lines a"))
	s.see(".since", "mended")
	s.see(".since", "B6")

	// The student's own page says so in the same words.
	s.visit("/s/" + h.link + "?box=A1")
	s.see(".own-say", "From your photo of")
	s.see(".own-say", "boxes (with lines )?are in their places")
}

// follow presses what leads to another page, and waits until that is there.
func (s *screen) follow(e *rod.Element) {
	s.t.Helper()
	// A mark on the old page, not an event: one of a page before may still be on its way.
	s.page.MustEval(`() => { window.before = true }`)
	e.MustClick()
	for range 600 {
		there, err := s.page.Eval(`() => !window.before && document.readyState === "complete"`)
		if err == nil && there.Value.Bool() { // an error: it is between two pages
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	s.t.Fatal("the next page did not come in half a minute")
}

// A batch that loses its connection says so, and goes on where it stopped.
func TestBatchGoesOn(t *testing.T) {
	h := newHouse(t)
	h.work()
	s := h.open(1280, 800)
	s.signIn()
	s.visit(s.address("/projects/{project}/check"))
	s.page.MustElement("#photo").MustSetFiles(s.save("one.jpg", []byte("no photo")), s.save("two.jpg", []byte("none either")))
	s.down.Store(true)
	s.press("button", "Take them in")
	s.see("#queue-lines", "The connection was lost")
	s.see("#queue-words", "Sending 1 of 2")
	s.down.Store(false)
	s.page.MustElement("#queue-again").MustClick()
	s.see("#queue-words", "0 of 2 taken in, 2 not")
	s.see("#queue-lines", "two: this is not a picture")
}

// waiting returns the photos in the house's tray.
func (h *house) waiting() []store.Stray {
	h.t.Helper()
	all, err := h.db.Strays(context.Background(), h.project.ID)
	if err != nil {
		h.t.Fatal(err)
	}
	return all
}

// looks tries every way of looking by its key.
func (s *screen) looks() {
	s.t.Helper()
	looks := s.page.MustElement("#looks")
	for key, mode := range map[rune]string{'2': "over", '3': "blink", '4': "beside", '5': "differ", '6': "place", '1': "drawing"} {
		s.page.Keyboard.MustType(input.Key(key))
		if got := *looks.MustAttribute("data-mode"); got != mode {
			s.t.Errorf("key %c shows %q; want %q", key, got, mode)
		}
	}
	s.page.Keyboard.MustType('1')
	for key, turn := range map[rune]string{'m': "data-mirror", 'u': "data-upside", 'q': "data-squint"} {
		s.page.Keyboard.MustType(input.Key(key))
		if looks.MustAttribute(turn) == nil {
			s.t.Errorf("key %c does not set %s", key, turn)
		}
		s.page.Keyboard.MustType(input.Key(key))
	}
	for _, part := range []string{"drawn", "arrows", "wanted"} {
		s.page.MustWait(fmt.Sprintf(`() => { const i = document.querySelector("#looks img.%s"); return i.complete && i.naturalWidth > 0 }`, part))
	}
	// On a phone the drawing comes first, and most of it is in view without scrolling.
	s.page.MustSetViewport(390, 844, 1, true)
	out := s.page.MustEval(`() => {
		scrollTo(0, 0);
		const drawing = document.querySelector("#looks img.drawn").getBoundingClientRect(), words = document.querySelector(".pane-words").getBoundingClientRect();
		return drawing.top < words.top && drawing.top < 360 ? "" : "the drawing begins at " + drawing.top + ", the words at " + words.top;
	}`).Str()
	if out != "" {
		s.t.Error(out)
	}
	s.page.MustSetViewport(1280, 800, 1, false)
}

// Photos sent without scripts, all in one form: good ones are kept whatever is
// wrong with the rest, several drawings on one photo are each their student's,
// and another teacher's tags open nothing.
func TestBatchWithoutScripts(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	c := h.signIn("owner@quay.example")
	photos, err := demo.Photos(h.project.ID, [4]uint64{h.class.Students[0].ID, h.class.Students[1].ID, h.class.Students[0].ID, h.class.Students[1].ID}, 600)
	if err != nil {
		t.Fatal(err)
	}
	check := h.address("/projects/{project}/check")
	c.post(check, form{"student": ""}, file{"photo", "pair.jpg", photos["two-at-once.jpg"]},
		file{"photo", "list.jpg", photos["not-a-photo.jpg"]}, file{"photo", "cut.jpg", photos["first.jpg"][:5000]}).
		want(200, "not a picture we can read")
	c.await(check, "damaged or cut off")
	kept, err := h.db.CheckIns(context.Background(), h.project)
	if err != nil || len(kept) != 3 { // the house has one already
		t.Fatalf("%d check-ins, %v; want the two of the pair beside the one that was there", len(kept), err)
	}
	for _, k := range kept[:2] {
		if k, err = h.db.CheckIn(context.Background(), h.project.TeacherID, k.ID); err != nil || k.Report == nil || !k.Report.Measured || k.Report.FoundBy != "tags" {
			t.Errorf("%s: %+v, %v; want measured by its tags", k.Student.Name, k.Report, err)
		}
	}
	// The same photo at another teacher's: her tray, and nobody's name.
	other := h.signIn("other@quay.example")
	at, _, _ := strings.Cut(other.post("/projects", form{"name": "Mine"}, file{"picture", "light.png", h.sample.Picture}).location(), "?")
	other.post(at+"/plan", planForm(h.sample.Plan.Typed, 0)).want(200, "")
	other.post(at+"/check", form{}, file{"photo", "pair.jpg", photos["two-at-once.jpg"]}).location()
	a := other.get(at+"/check").want(200, "that is not here")
	if a.says("Ada") || a.says("Bryn") {
		t.Error("another teacher learns a student's name from a photo's tags")
	}
}

// await asks for a page until it says something and no photo waits, half a minute at most.
func (c *client) await(path, want string) {
	c.t.Helper()
	a := c.get(path)
	for until := time.Now().Add(30 * time.Second); time.Now().Before(until); a = c.get(path) {
		if a.says(want) && !a.says("waits to be measured") && !a.says("is being measured") {
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	a.want(http.StatusOK, want)
}

// A batch that is left is found done: the page says how far it is, over the live
// line, and what could not be measured until somebody takes it off the list.
func TestABatchIsLeft(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.fragment = true
	check := h.address("/projects/{project}/check")
	for i := range 2 {
		c.post(check, form{"student": "", "many": "1"}, file{"photo", "p.jpg", h.photographed(i, h.project.ID, demo.Hand{Size: 1})}).want(200, "waits to be measured")
	}
	c.post(check, form{"student": "", "many": "1"}, file{"photo", "cut.jpg", h.photographed(0, h.project.ID, demo.Hand{Size: 1})[:3000]}).want(200, "cut</b>: waits to be measured")
	s := h.open(1280, 800)
	s.signIn()
	s.visit(check)
	s.see(".taken", "waits to be measured")
	h.work()
	s.see(".taken", "damaged or cut off")
	s.see(".taken", "Ada: ")
	s.see(".taken", "Bryn: ")
	s.press(".taken button", "Off the list")
	s.page.MustWait(`() => !document.querySelector(".taken .failed")`)
	s.visit(check)
	if s.page.MustHas("[data-lines] li") {
		t.Error("what is done and what was taken off the list stand there still")
	}
}

// The class's list says which box to teach again, how exact the project is, and
// forgets photos on request; a loose project hears less than an exact one.
func TestClassPictureAndComparing(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	c := h.signIn("owner@quay.example")
	ctx := context.Background()
	if err := h.db.AddStudents(ctx, h.project.TeacherID, h.class.ID, []string{"Cleo"}); err != nil {
		t.Fatal(err)
	}
	class, err := h.db.Class(ctx, h.project.TeacherID, h.class.ID)
	if err != nil {
		t.Fatal(err)
	}
	h.class = class
	right := func(at plane.Point) plane.Point {
		if at.X < 2.4*38.1 && at.Y > 4.2*38.1 && at.Y < 6.3*38.1 {
			return plane.Point{X: 0.3 * 38.1}
		}
		return plane.Point{}
	}
	check := h.address("/projects/{project}/check")
	var last string
	for i := range h.class.Students {
		last = c.post(check, form{"student": ""}, file{"photo", "p.jpg", h.photographed(i, h.project.ID, demo.Hand{Size: 1, Distortion: right})}).location()
	}
	c.get(check).want(200, "B6</b>: 3 of 3 get it wrong")
	c.get(last).want(200, "too far right")
	c.post(h.address("/projects/{project}/comparing"), form{"looseness": "loose", "compare": "views", "free": "a2-A1"}).location()
	if a := c.get(last).want(200, "Nothing needs mending now"); a.says("too far right") {
		t.Error("a loose project hears of a third of a box")
	}
	p, err := h.db.Project(ctx, h.project.TeacherID, h.project.ID)
	if err != nil || p.Compare != accuracy.Views || p.Looseness != accuracy.Loose || p.FreeBoxes != "A1 A2" {
		t.Errorf("kept %q and %q, %v", p.Looseness, p.Compare, err)
	}
	c.get(check).want(200, `value="A1, A2"`)
	c.get(last).want(200, "")
	c.get(last+"/marks.svg").want(200, "<svg")
	c.get(last+"/straight.jpg").want(200, "")
	c.get(last+"/wanted.jpg").want(200, "")
	c.post(last+"/remove", form{}).location()
	c.get(last).want(404, "")
}

// Of a photo that could not be measured nothing is said of what changed since another.
func TestRefusedPhotosCompareNothing(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	c := h.signIn("owner@quay.example")
	check := fmt.Sprintf("/projects/%d/check", h.project.ID)
	mirror := func(at plane.Point) plane.Point { return plane.Pt(7*38.1-2*at.X, 0) }
	var last string
	for _, hand := range []demo.Hand{{Size: 1}, {Size: 1, Distortion: mirror}} {
		last = c.post(check, form{"student": ""}, file{"photo", "p.jpg", h.photographed(0, h.project.ID, hand)}).location()
	}
	page := c.get(last).want(http.StatusOK, "in a mirror")
	if page.says("Nothing has changed") || page.says("Since ") {
		t.Error("a refused photo is compared with an earlier one")
	}
}
