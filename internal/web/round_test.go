package web

import (
	"context"
	"fmt"
	"html"
	"maps"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/demo"
	"zestysketch/internal/store"
)

// What is done for one is done for many: a stage for everybody in one request, taken back
// by one more; those to whom it is closed are left out and counted.
func TestStageForMany(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.post(h.address("/projects/{project}/begins"), form{"stage": "pick"}).location() // what the teacher does usually
	c.fragment = true
	all, n := h.address("/projects/{project}/stage"), len(h.class.Students)
	c.post(all, form{"stage": "compose"}).want(http.StatusOK, fmt.Sprintf("%d left out", n)) // nobody has a picture yet
	said := c.post(all, form{"stage": "pick"}).want(http.StatusOK, fmt.Sprintf("is done for %d.", n)).body
	c.post(all, form{"stage": "pick"}).want(http.StatusOK, "is done for 0.")
	if got := strings.Count(said, `name="student"`); got != n {
		t.Errorf("%d students can be taken back; want %d", got, n)
	}
	one := fmt.Sprint(h.class.Students[0].ID)
	c.post(all, form{"stage": "pick", "on": "0", "student": one}).want(http.StatusOK, "is not done after all for 1.")
	state, err := h.db.RoadState(context.Background(), h.project.ID, 0)
	if err != nil || state.Done[h.class.Students[0].ID]["pick"] || !state.Done[h.class.Students[1].ID]["pick"] {
		t.Errorf("done are %v, %v", state.Done, err)
	}
	for _, wrong := range []form{{"stage": "none"}, {"stage": "pick", "team": "nowhere"}, {"stage": "pick", "student": "999999"}} {
		c.post(all, wrong).want(http.StatusUnprocessableEntity, "Choose")
	}
	h.grow(0, 32-n)
	c.post(all, form{"stage": "pick", "on": "0"}).want(http.StatusOK, "")
	began := time.Now()
	c.post(all, form{"stage": "pick"}).want(http.StatusOK, "is done for 32.")
	t.Logf("one request for 32: %s", time.Since(began))
}

// Two presses say where a class begins: what comes before is done and looked at for everybody, and for
// who comes after; nothing that somebody did is lost by it.
func TestWhereAClassBegins(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := func(want string) {
		t.Helper()
		class, err := h.db.Class(t.Context(), h.project.TeacherID, h.class.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range class.Students {
			c.get(fmt.Sprintf("%s?student=%d", h.address("/projects/{project}/wall"), s.ID)).want(http.StatusOK, ": "+want+"</b>")
		}
	}
	at("Mark up the sheet") // the teacher picked and composed
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}/wall"))
	s.unfold("summary", "For many at once")
	if stage := s.page.MustEval(`() => document.querySelector("#many-stage").selectedOptions[0].textContent`).Str(); stage != "Draw box by box" {
		t.Errorf("%q is chosen; want what comes next for a class that has not begun", stage)
	}
	s.press("button", "The class begins here")
	s.page.MustWaitRequestIdle()()
	s.see(".tiles", "Draw box by box")
	at("Draw box by box")
	h.grow(0, 1)
	at("Draw box by box")
	c.post(h.address("/projects/{project}/begins"), form{"stage": "none"}).want(http.StatusUnprocessableEntity, "Choose a stage")
	c.post(h.address("/projects/{project}/begins"), form{"stage": "pick"}).location()
	at("Mark up the sheet") // they have drawn, and nobody looked at the grid
}

// A round through the class on a phone: one press a student, the next one's turn comes by
// itself.
func TestRound(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	for _, stage := range []string{"pick", "compose", "markup"} {
		c.post(h.address("/projects/{project}/stage"), form{"stage": stage}).location()
	}
	s := h.open(390, 844)
	s.signIn()
	s.visit(h.address("/projects/{project}/round"))
	for i, student := range h.class.Students {
		s.see("h1", student.Name)
		verdict := s.page.MustElement(`[name="verdict"][value="passed"]`)
		if high := verdict.MustShape().Box().Height; high < 48 {
			t.Errorf("“Passed” is %.0f pixels high", high)
		}
		if i == 0 {
			verdict = s.page.MustElement(`[value="again"]`)
		}
		verdict.MustClick()
	}
	s.see(".round", "Draw box by box") // the last one's stage is passed
	state, err := h.db.RoadState(context.Background(), h.project.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	for i, student := range h.class.Students {
		if want, got := map[bool]string{true: "again", false: "passed"}[i == 0], state.VerdictsOf(student.ID)["markup"]; string(got) != want {
			t.Errorf("%s hears %q; want %q", student.Name, got, want)
		}
	}
}

// What a teacher calls is on the wall, on the projector and on the class's tablets, until it
// is taken back or its time has long run out; a colleague who covers may call, a student not.
func TestCallToTheClass(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, tablet := h.signIn("owner@quay.example"), h.nobody()
	call, now := h.address("/projects/{project}/call"), "/s/"+h.link+"/now"
	tablet.get(now).want(http.StatusOK, `{"plan":1,"call":{"words":""},"twice":false}`)
	c.post(call, form{"words": "Ten minutes for this row", "minutes": "10"}).location()
	tablet.get(now).want(http.StatusOK, "Ten minutes for this row", `"until":"20`)
	c.get(h.address("/projects/{project}/projector")).want(http.StatusOK, "Ten minutes for this row", "data-until=")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Ten minutes for this row", "Say now:")
	c.post(call, form{"words": "Pencils down. Look up."}).location()
	tablet.get(now).want(http.StatusOK, `{"plan":1,"call":{"words":"Pencils down. Look up."},"twice":false}`)
	for field, bad := range map[string]string{"words": strings.Repeat("long ", 20), "minutes": "-3"} {
		c.post(call, form{field: bad}).want(http.StatusUnprocessableEntity)
	}
	c.post(call, form{"minutes": "soon"}).want(http.StatusUnprocessableEntity, "such as 10")
	c.post(call, form{"words": ""}).location()
	tablet.get(now).want(http.StatusOK, `{"plan":1,"call":{"words":""},"twice":false}`)
	past := time.Now().UTC().Add(-time.Hour)
	if err := h.db.SetCall(context.Background(), store.Call{ProjectID: h.project.ID, ClassID: h.class.ID, Words: "Yesterday's", Until: &past}); err != nil {
		t.Fatal(err)
	}
	tablet.get(now).want(http.StatusOK, `{"plan":1,"call":{"words":""},"twice":false}`)
}

// The photos of a whole stack tick in one press what they show as drawn, for each student the
// latest alone, and all of it is taken back by one more; what was ticked before stays.
func TestTicksOfAStack(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	h.work()
	check := h.address("/projects/{project}/check")
	for _, student := range []int{0, 0, 1} { // of the first an earlier photo, which counts no more
		c.post(check, form{"student": ""}, file{"photo", "p.jpg", h.photographed(student, h.project.ID, demo.Hand{Size: 1})}).location()
	}
	if err := h.db.Tick(ctx, h.project.TeacherID, h.project.ID, h.class.Students[1].ID, "A1", true, time.Now()); err != nil {
		t.Fatal(err)
	}
	checkIns, err := h.db.CheckIns(ctx, h.project)
	if err != nil {
		t.Fatal(err)
	}
	drawn := map[uint64]map[string]bool{}
	for _, c := range checkIns {
		if drawn[c.StudentID] == nil && c.Gist != nil {
			drawn[c.StudentID] = map[string]bool{}
			for _, l := range c.Gist.Drawn {
				drawn[c.StudentID][l] = true
			}
		}
	}
	at := h.address("/projects/{project}/check/ticks")
	c.fragment = true
	first, second := h.class.Students[0].ID, h.class.Students[1].ID
	drawn[second]["A1"] = true
	news := len(drawn[first]) + len(drawn[second]) - 1
	a := c.post(at, nil).want(http.StatusOK, fmt.Sprintf("%d boxes of 2 students are ticked.", news), "Undo")
	ticks := func(student uint64) map[string]bool {
		all, err := h.db.Ticks(ctx, h.project.ID)
		if err != nil {
			t.Fatal(err)
		}
		return all[student]
	}
	if a, b := ticks(first), ticks(second); !maps.Equal(a, drawn[first]) || !maps.Equal(b, drawn[second]) || len(a) < 20 {
		t.Errorf("ticked %v and %v; want %v and %v", a, b, drawn[first], drawn[second])
	}
	c.post(at, nil).want(http.StatusOK, "nothing that is not ticked already")
	for _, m := range regexp.MustCompile(`name="undo" value="([^"]*)"`).FindAllStringSubmatch(a.body, -1) {
		c.post(at, form{"undo": html.UnescapeString(m[1])}).want(http.StatusOK, "taken back")
	}
	if a, b := ticks(first), ticks(second); len(a) != 0 || len(b) != 1 {
		t.Errorf("taken back, %v and %v are ticked", a, b)
	}
	slides := h.address("/projects/{project}/finish/slides")
	c.fragment = false
	show := fmt.Sprintf("?show=%d&show=%d", first, second)
	if a := c.get(slides+show).want(http.StatusOK, "/straight.jpg", "/wanted.jpg", "2 of 2"); a.says("Ada") || a.says("Bryn") {
		t.Error("the slide show names who was not ticked as having agreed")
	}
	c.get(slides+show+fmt.Sprintf("&name=%d", second)).want(http.StatusOK, "by Bryn")
	c.get(slides).want(http.StatusUnprocessableEntity, "Tick at least one student")
	// What students say of being shown is theirs: who refuses is left out of slides, labels and
	// exhibition, and nobody is named who did not agree to that.
	link, err := h.db.Link(t.Context(), h.project, second)
	if err != nil {
		t.Fatal(err)
	}
	own := h.nobody()
	own.post("/s/"+link+"/own", form{"what": "show", "value": "anything"}).want(http.StatusUnprocessableEntity, "Choose whether")
	own.post("/s/"+link+"/own", form{"what": "show", "value": "no"}).location()
	own.post("/s/"+h.link+"/own", form{"what": "show", "value": "unnamed"}).location()
	c.get(slides+show).want(http.StatusOK, "1 of 1")
	c.get(h.address("/projects/{project}/finish/show")).want(http.StatusOK, "1 of 2 said yes", "1 would rather not", "yes, without my name")
	if words := c.get(h.address("/projects/{project}/finish/labels.pdf")).text(); strings.Contains(words, "Bryn") || strings.Contains(words, "Ada") || !strings.Contains(words, "A student") {
		t.Errorf("the labels say %q", words)
	}
	c.fragment = true
	c.post(at, form{"undo": "x:A1"}).want(http.StatusUnprocessableEntity, "did not arrive whole")
	c.post(at, form{"undo": "999999:A1"}).want(http.StatusNotFound)
}

// A student who will not finish is offered the part to do well, and draws it with one press:
// their count, their page and the wall know the part alone; a new grid gives all boxes back.
func TestOnePartDoneWell(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	student := h.class.Students[0].ID
	at := time.Now().Add(-20 * time.Minute)
	for i, label := range []string{"A1", "B1", "C1", "D1", "E1", "F1"} { // three and a half minutes a box; too slow
		if err := h.db.Tick(ctx, h.project.TeacherID, h.project.ID, student, label, true, at.Add(time.Duration(i)*12*time.Minute-time.Hour)); err != nil {
			t.Fatal(err)
		}
	}
	if err := h.db.SetCalendar(ctx, h.project.TeacherID, h.class.ID, lesson.Calendar{From: lesson.Day(time.Now().Unix()/86400) + 1, Until: lesson.Day(time.Now().Unix()/86400) + 7, Setup: 5, Clear: 5,
		Weekly: []lesson.Weekly{{Weekday: (lesson.Day(time.Now().Unix()/86400) + 1).Weekday(), Start: 540, Minutes: 150}}}); err != nil {
		t.Fatal(err)
	}
	desk := h.address("/projects/{project}/students/{student}/desk")
	c.fragment = true
	said := c.get(desk).want(http.StatusOK, "One part done well:", "Give them this part").body
	part := regexp.MustCompile(`name="part" value="([A-G]\d:[A-G]\d)"`).FindStringSubmatch(said)
	if part == nil {
		t.Fatal("no part is offered")
	}
	give := h.address("/projects/{project}/students/{student}/part")
	c.post(give, form{"part": "A1:Z99"}).want(http.StatusUnprocessableEntity, "such as B2:E6")
	c.post(give, form{"part": "B2:C3"}).want(http.StatusOK, "Draws B2:C3", "0</b> of 4 boxes done", "not of their part")
	own := h.nobody().get("/s/"+h.link).want(http.StatusOK, "of 4 boxes done", `data-label="C3"`)
	if own.says(`data-label="A1"`) {
		t.Error("the student's page shows boxes that are not of the part")
	}
	// A tablet that was open before ticks another box: it is kept, and counts when all boxes do.
	h.nobody().post("/s/"+h.link+"/ticks", form{"label": "G9", "on": "1", "plan": "1"}).location()
	h.nobody().post("/s/"+h.link+"/ticks", form{"label": "B2", "on": "1", "plan": "1"}).location()
	c.get(desk).want(http.StatusOK, "1</b> of 4 boxes done")
	other := planForm(h.sample.Plan.Typed, 1)
	other["method"], other["parts"], other["sure"] = "parts", "4x4", "1"
	c.post(h.address("/projects/{project}/plan"), other).want(http.StatusOK, "Kept")
	c.get(desk).want(http.StatusOK, "of 16 boxes done")
}

// A class gets three kinds of sets in one press, by the pace that is known of each; what was
// ticked comes over, the print room says who gets what, and the pages are theirs.
func TestSetsByPace(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	press := h.address("/classes/{class}/bypace")
	c.post(press, nil).want(http.StatusUnprocessableEntity, "Nobody in this class is marked")
	for i, pace := range []string{"slow", "quick"} {
		if err := h.db.DescribeStudent(ctx, h.project.TeacherID, h.class.Students[i].ID, store.Traits{Hand: "right", Pace: pace, Needs: store.NeedContrast}); err != nil {
			t.Fatal(err)
		}
	}
	for _, label := range []string{"A1", "B1", "A2", "B2"} { // one large box of four small ones
		if err := h.db.Tick(ctx, h.project.TeacherID, h.project.ID, h.class.Students[0].ID, label, true, time.Now()); err != nil {
			t.Fatal(err)
		}
	}
	c.post(press, nil).location()
	c.post(press, nil).location() // once more is the same
	several, both := h.address("/classes/{class}/several"), form{"student": fmt.Sprint(h.class.Students[0].ID)}
	for _, what := range []string{"hand:left", "team:", "without:high contrast"} {
		both["what"], both["team"] = what, "Window table"
		c.post(several, both).location()
	}
	c.get("/classes").want(http.StatusOK, "left hand · slow · Window table · fewer and larger boxes, dot sheet")
	for _, what := range []string{"hand:right", "with:high contrast"} {
		both["what"] = what
		c.post(several, both).location()
	}
	c.post(several, form{"what": "pace:slow"}).want(http.StatusUnprocessableEntity, "Tick at least one name")
	c.post(several, form{"what": "moon", "student": fmt.Sprint(h.class.Students[0].ID)}).want(http.StatusUnprocessableEntity, "choose what to change")
	c.post(several, form{"what": "hand:third", "student": fmt.Sprint(h.class.Students[0].ID)}).want(http.StatusUnprocessableEntity, "right or left hand")
	c.get("/classes").want(http.StatusOK, "fewer and larger boxes, high contrast, dot sheet", "more and smaller boxes, high contrast")
	desk := h.address("/projects/{project}/students/{student}/desk")
	c.fragment = true
	c.get(desk).want(http.StatusOK, "1</b> of 20 boxes done")
	c.fragment = false
	print := h.address("/projects/{project}/print")
	c.get(print).want(http.StatusOK, "Who gets something else", "fewer and larger boxes")
	pages := func(student int) int {
		pdf := c.get(fmt.Sprintf("%s/set.pdf?chosen=1&kind=reference&kind=sheet&paper=Tabloid&who=some&student=%d", print, h.class.Students[student].ID)).want(http.StatusOK)
		return strings.Count(pdf.body, "/Type /Page\n") + strings.Count(pdf.body, "/Type /Page ") + strings.Count(pdf.body, "/Type /Page/")
	}
	if slow, quick := pages(0), pages(1); slow == 0 || quick == 0 {
		t.Errorf("sets of %d and %d pages", slow, quick)
	}
}

// A class gets its seats by numbers, or by dragging and keys, which write the numbers; the wall
// and the round go by them. Two on one seat, and seats outside the room, are told.
func TestSeats(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	seats := h.address("/classes/{class}/seats")
	first, second := h.class.Students[0].ID, h.class.Students[1].ID
	at := func(row1, column1, row2, column2 string) form {
		return form{fmt.Sprintf("row_%d", first): row1, fmt.Sprintf("column_%d", first): column1, fmt.Sprintf("row_%d", second): row2, fmt.Sprintf("column_%d", second): column2}
	}
	c.post(seats, at("1", "2", "1", "2")).want(http.StatusUnprocessableEntity, "have the same seat")
	c.post(seats, at("99", "2", "", "")).want(http.StatusUnprocessableEntity, "a row of 1 to 10")
	c.post(seats, at("1", "", "", "")).want(http.StatusUnprocessableEntity, "or both empty")
	c.post(seats, at("2", "3", "1", "4")).location()
	wall := h.address("/projects/{project}/wall")
	c.get(wall).want(http.StatusOK, "By seat")
	c.get(wall+"?order=seats").want(http.StatusOK, "data-seated", `data-row="2" data-column="3"`)
	if round := c.get(h.address("/projects/{project}/round")).body; !strings.Contains(round, ">"+h.class.Students[1].Name+"</h1>") && !strings.Contains(round, ">"+h.class.Students[1].Name+"</h2>") {
		t.Error("the round does not begin with who sits in front")
	}
	c.post(seats, at("2", "3", "", "")).location() // who is not named sits nowhere
	kept, err := h.db.Class(t.Context(), h.project.TeacherID, h.class.ID)
	if err != nil || *kept.Students[0].SeatRow != 2 || kept.Students[1].SeatRow != nil || kept.Students[0].Name != "Ada" {
		t.Errorf("kept %+v, %v", kept.Students, err)
	}

	s := h.open(1280, 800)
	s.signIn()
	s.visit(seats)
	chip := s.page.MustElementR(".chip", "Bryn")
	chip.MustFocus()
	s.page.Keyboard.MustType(input.ArrowRight) // without a seat: the first free one
	s.page.Keyboard.MustType(input.ArrowRight)
	s.page.Keyboard.MustType(input.ArrowDown)
	if at := chip.MustAttribute("aria-label"); *at != "Bryn, row 2, column 2" {
		t.Errorf("by keys: %s", *at)
	}
	box := s.page.MustElementR(".chip", "Ada").MustShape().Box()
	s.page.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2).MustDown("left")
	s.page.Mouse.MustMoveTo(box.X+box.Width/2+5, box.Y+box.Height+20)
	s.page.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height+52)
	s.page.Mouse.MustUp("left")
	if at := s.page.MustElementR(".chip", "Ada").MustAttribute("aria-label"); *at == "Ada, row 2, column 3" {
		t.Errorf("dragged down: %s", *at)
	}
	s.press("button", "Keep the seats")
	s.page.MustWaitRequestIdle()()
	s.visit(seats)
	s.page.MustElementR(".chip", "Bryn")
	if kept, err = h.db.Class(t.Context(), h.project.TeacherID, h.class.ID); err != nil || kept.Students[1].SeatRow == nil || *kept.Students[1].SeatRow != 2 || *kept.Students[0].SeatRow < 3 {
		t.Errorf("dragged and kept: %+v, %v", kept.Students, err)
	}
}
