package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"zestysketch/internal/browser"
	"zestysketch/internal/store"
)

// screen is a real browser at work on the house.
type screen struct {
	*house
	page    *rod.Page // ends in four minutes; each visit begins them anew
	whole   *rod.Page // without an end
	presses int       // what was pressed by its words; a story adds its fields
}

// chromium is the browser in which stories have windows of their own, as strangers to each other.
var chromium struct {
	once sync.Once
	*rod.Browser
	err error
}

// open opens a window; one with flags is in a browser of its own.
func (h *house) open(width, height int, flags ...string) *screen {
	h.t.Helper()
	chromium.once.Do(func() { chromium.Browser, chromium.err = browser.Open() })
	b, err := chromium.Browser, chromium.err
	if err == nil && len(flags) > 0 {
		b, err = browser.OpenAt("", flags...)
	} else if err == nil {
		b, err = b.Incognito()
	}
	if err != nil {
		h.t.Fatal(err)
	}
	h.t.Cleanup(func() { b.Close() })
	whole := b.MustPage()
	s := &screen{house: h, page: whole.Timeout(patience), whole: whole}
	s.page.MustSetViewport(width, height, 1, false)
	if err := (proto.EmulationSetFocusEmulationEnabled{Enabled: true}).Call(s.page); err != nil {
		h.t.Fatal(err)
	}
	return s
}

// patience is for what a story does on one page, on a starved machine; what hangs is still ended.
const patience = 4 * time.Minute

// visit opens a page and waits for its scripts: what is pressed before they
// run is the plain form, another story.
func (s *screen) visit(path string) {
	s.t.Helper()
	s.page = s.whole.Timeout(patience)
	s.page.MustNavigate(s.url + path).MustWaitLoad()
}

func (s *screen) signIn() {
	s.visit("/signin")
	s.page.MustElement("#email").MustInput("owner@quay.example")
	s.page.MustElement("#password").MustInput(password)
	s.press("button", "Sign in")
	s.page.MustElement(".projects")
}

// save puts a file on the disk, for the browser to choose.
func (s *screen) save(name string, b []byte) string {
	s.t.Helper()
	path := filepath.Join(s.t.TempDir(), name)
	if err := os.WriteFile(path, b, 0o600); err != nil {
		s.t.Fatal(err)
	}
	return path
}

// see waits until an element says something, also over a change of pages, in
// the middle of which there is nothing to be asked.
func (s *screen) see(selector, say string) *rod.Element {
	s.t.Helper()
	e, err := s.page.ElementR(selector, say)
	for try := 0; err != nil && !errors.Is(err, context.DeadlineExceeded) && try < 20; try++ {
		time.Sleep(100 * time.Millisecond)
		e, err = s.page.ElementR(selector, say)
	}
	if err != nil {
		s.t.Fatalf("%s never says %q: %v", selector, say, err)
	}
	return e
}

// press presses what says some words; where it was drawn anew between being found and being
// pressed, as a hand would, once more.
func (s *screen) press(selector, words string) {
	s.t.Helper()
	for try := 0; ; try++ {
		// An answer may put another in its place meanwhile; the old one is waited for, for nothing.
		err := s.page.MustElementR(selector, words).Timeout(4*time.Second).Click(proto.InputMouseButtonLeft, 1)
		if err == nil {
			s.presses++
			return
		}
		if try == 20 || !strings.Contains(err.Error(), "detached") && !errors.Is(err, context.DeadlineExceeded) {
			s.t.Fatalf("%s that says %q cannot be pressed: %v", selector, words, err)
		}
		time.Sleep(50 * time.Millisecond)
	}
}

// unfold opens the fold whose summary says some words. A page that moves while the mouse is on its
// way is pressed beside it: as a person does, look, and press again.
func (s *screen) unfold(selector, words string) {
	s.t.Helper()
	for try := 0; try < 20; try++ {
		s.press(selector, words)
		open := false
		for look := 0; look < 10 && !open; look++ {
			time.Sleep(30 * time.Millisecond)
			open = s.page.MustElementR(selector, words).MustEval(`() => this.closest("details").open`).Bool()
		}
		if open {
			return
		}
	}
	s.t.Fatalf("%s that says %q does not open", selector, words)
}

// drag moves a handle by its middle so that its point lands on photo pixel x, y.
func (s *screen) drag(selector string, x, y float64) {
	s.t.Helper()
	s.page.MustElement(selector).MustScrollIntoView()
	// Where the handle's grip is now, and where the point has to go, on the screen.
	at := s.page.MustEval(`(selector, x, y) => {
		const g = document.querySelector(selector), svg = g.ownerSVGElement, m = svg.getScreenCTM();
		const on = (px, py) => new DOMPoint(px, py).matrixTransform(m);
		const grip = g.querySelector(".grip").getBoundingClientRect(), from = on(+g.dataset.x, +g.dataset.y), to = on(x, y);
		const gx = grip.x + grip.width / 2, gy = grip.y + grip.height / 2;
		return [gx, gy, gx + to.x - from.x, gy + to.y - from.y];
	}`, selector, x, y)
	var p [4]float64
	if err := at.Unmarshal(&p); err != nil {
		s.t.Fatal(err)
	}
	saved := s.page.MustWaitRequestIdle()
	mouse := s.page.Mouse
	mouse.MustMoveTo(p[0], p[1]).MustDown(proto.InputMouseButtonLeft)
	if err := mouse.MoveLinear(proto.NewPoint(p[2], p[3]), 6); err != nil {
		s.t.Fatal(err)
	}
	mouse.MustUp(proto.InputMouseButtonLeft)
	saved()
}

// The whole job once, as a teacher does it: picture, plan, print, tick, check.
func TestTheWholeJob(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{1280, 800}, {390, 844}} {
		t.Run(fmt.Sprintf("%d×%d", size[0], size[1]), func(t *testing.T) {
			t.Parallel()
			h := newHouse(t)
			h.work()
			s := h.open(size[0], size[1])
			s.signIn()
			s.startProject()
			s.plan()
			s.download()
			s.tick()
			s.check()
			if wide := s.page.MustEval(`() => document.documentElement.scrollWidth - innerWidth`).Int(); wide > 0 {
				t.Errorf("the page is %d pixels wider than the screen", wide)
			}
		})
	}
}

func (s *screen) startProject() {
	s.press("a", "New project")
	s.page.MustElement("#picture").MustSetFiles(s.save("light.png", s.sample.Picture))
	s.page.MustElement("#name").MustInput("Story")
	s.page.MustElement("#class").MustSelect("7 Quay · 2 students")
	s.press("button", "Start the project")
	s.see(".railname", "Story")
}

func (s *screen) plan() {
	s.t.Helper()
	// It opens on the best of the sizes that come out even; another is a press away,
	// and what is typed is taken.
	s.step("Size")
	s.see(".size.here", "4 × 5 boxes of 1 1/2 → 3 in")
	s.page.MustElement(".size:nth-of-type(2) button").MustClick()
	s.see(".facts", "12 × 16 in")
	s.see(".size.here", "In use")
	s.step("Compose")
	s.press("button", "All of it")
	s.step("Size")
	s.page.MustElement("#f-reference").MustSelectAllText().MustInput("7 x 9 in")
	s.see(".facts", "7 × 9 in")
	s.step("Grid")
	lines := func() int { return len(s.page.MustElements(".bench-picture svg path")) }
	before := lines()
	// The grid follows every change, before anything is kept.
	s.page.MustElement("#f-reference_square").MustSelectAllText().MustInput("1 in")
	s.see(".bigcount", `7\s*×\s*9`)
	if after := lines(); after == before || after < 8+10 {
		s.t.Errorf("%d lines over the picture, %d before; want the new grid", after, before)
	}
	s.page.MustElement("#f-sheet_square").MustSelectAllText().MustInput("huge")
	s.see("#p-sheet_square", "wanted a length")
	s.page.MustElement("#f-sheet_square").MustSelectAllText().MustInput("1 1/2 in")
	s.see(".facts", `10 1/2 × 13 1/2 in`)
	s.page.MustWaitRequestIdle()() // the crowded boxes come late, and on a phone what lies below moves down
	s.press("button", "Keep this plan")
	s.see(".kept", "Kept")
}

// step opens one of the bench's steps.
func (s *screen) step(name string) {
	s.t.Helper()
	s.page.MustWaitRequestIdle()()
	for try := range 10 { // an answer under way puts another rail in place of this one
		link, err := s.page.ElementR(".rail a", name)
		if err == nil {
			err = link.Timeout(5*time.Second).Click(proto.InputMouseButtonLeft, 1)
		}
		if err == nil {
			break
		}
		if try == 9 {
			s.t.Fatalf("the step %s cannot be pressed: %v", name, err)
		}
	}
	s.see(".rail [aria-current]", name)
	s.page.MustWaitRequestIdle()()
}

// download fetches the PDF with the browser's own session and asks pdfinfo.
func (s *screen) download() {
	s.t.Helper()
	s.press(".rail a", "Print")
	s.see(".bigcount", "pages a set")
	s.unfold("summary", "Choose pages")
	s.press(".sets a", "Home pack")
	s.see(".bigcount", "4 pages a set")
	s.unfold("summary", "Choose paper")
	s.page.MustElement("#paper").MustSelect("Letter")
	s.page.MustWaitRequestIdle()()
	address := *s.page.MustElement("#sample-pdf").MustAttribute("href")
	r, err := http.NewRequest(http.MethodGet, s.url+address, nil)
	if err != nil {
		s.t.Fatal(err)
	}
	for _, c := range s.page.MustCookies() {
		r.AddCookie(&http.Cookie{Name: c.Name, Value: c.Value})
	}
	res, err := http.DefaultClient.Do(r)
	if err != nil {
		s.t.Fatal(err)
	}
	defer res.Body.Close()
	info := exec.Command("pdfinfo", "-")
	info.Stdin = res.Body
	out, err := info.CombinedOutput()
	if err != nil || !regexp.MustCompile(`Pages:\s+4\n`).Match(out) || !strings.Contains(string(out), "(letter)") {
		s.t.Errorf("pdfinfo says %v\n%s", err, out)
	}
}

func (s *screen) tick() {
	s.t.Helper()
	s.press(".rail a", "Draw")
	s.see(".desk h2", "Ada")
	phone := s.page.MustEval(`() => innerWidth < 640`).Bool()
	if phone { // a student lies on top of the wall once they are pressed
		s.press(".tile-name", "Ada")
		s.see(".desk-open h2", "Ada")
	}
	s.page.MustElement("#box-B2").MustClick()
	s.see(".tile-count", "1/63")
	// The same by keyboard: one to the right, and the next student.
	s.page.MustElement("#box-B2").MustFocus()
	s.page.Keyboard.MustType(input.ArrowRight)
	s.page.Keyboard.MustType(input.Space)
	s.see(".tile-count", "2/63")
	s.page.Keyboard.MustType('n')
	s.see(".desk h2", "Bryn")
	if box := s.page.MustElement(`#tile-` + fmt.Sprint(s.class.Students[1].ID) + ` rect[data-label="A1"]`); phone {
		s.page.MustElement("#box-A1").MustClick()
		s.page.MustElement("#desk-close").MustClick()
	} else {
		box.MustClick()
	}
	s.see(".tile-count", "1/63")
	s.sent()
	s.page.MustReload().MustWaitLoad()
	s.see(".tile-count", "2/63")
	done, err := s.db.Ticks(context.Background(), s.project.ID+1)
	if err != nil || !done[s.class.Students[0].ID]["B2"] || !done[s.class.Students[0].ID]["C2"] || !done[s.class.Students[1].ID]["A1"] {
		s.t.Errorf("ticks kept: %v, %v; want Ada's B2 and C2 and Bryn's A1", done, err)
	}
}

// sent waits until nothing waits to be sent.
func (s *screen) sent() {
	s.page.MustWait(`() => Object.keys(localStorage).filter((k) => k.includes("ticks") || k.includes("queue")).every((k) => localStorage[k] === "[]")`)
}

func (s *screen) check() {
	s.t.Helper()
	s.press(".rail a", "Check")
	s.page.MustElement("#student").MustSelect("Ada")
	s.page.MustElement("#photo").MustSetFiles(s.save("photo.jpg", s.sample.Photo))
	s.press("button", "Take them in")
	s.see("#queue-lines", "Ada")
	s.page.MustElement("#queue-lines a").MustClick()
	// Without tags the ruled grid was found; a hand sets the corners all the same.
	s.see("#result", "Found by its ruled grid")
	s.page.MustElement(`[data-mode="place"][aria-pressed]`).MustClick()
	for i, c := range s.sample.Corners {
		s.drag(fmt.Sprintf(`[data-corner="%d"]`, i), c.X, c.Y)
	}
	s.page.MustWaitRequestIdle()()
	for _, m := range s.sample.Landmarks[:6] { // the door is the sixth
		at := s.sample.Plan.ToPicture(m.Reference)
		s.addLandmark(at.X, at.Y)
	}
	marks := s.page.MustElements("#photo [data-mark]")
	if len(marks) != 6 {
		s.t.Fatalf("%d pins on the photo; want 6", len(marks))
	}
	for i := range marks {
		id := *marks[i].MustAttribute("data-mark")
		s.drag(fmt.Sprintf(`[data-mark="%s"]`, id), s.sample.Landmarks[i].Photo.X, s.sample.Landmarks[i].Photo.Y)
	}
	s.see(".words", "Point 6, box E7: it is half a box too far left")
	s.undo()
	s.measured()
}

// addLandmark presses on the reference at a pixel of the picture.
func (s *screen) addLandmark(x, y float64) {
	if strings.Contains(*s.page.MustElement("#check").MustAttribute("class"), "looking") {
		s.page.MustElement(`[data-mode="place"][aria-pressed]`).MustClick()
	}
	before := len(s.page.MustElements("#reference .pin"))
	s.page.MustElement("#reference").MustScrollIntoView()
	var p [2]float64
	at := s.page.MustEval(`(x, y) => { const p = new DOMPoint(x, y).matrixTransform(document.getElementById("reference").getScreenCTM()); return [p.x, p.y]; }`, x, y)
	if err := at.Unmarshal(&p); err != nil {
		s.t.Fatal(err)
	}
	s.page.Mouse.MustMoveTo(p[0], p[1]).MustClick(proto.InputMouseButtonLeft)
	s.page.MustElement(fmt.Sprintf("#reference .pin:nth-of-type(%d)", before+1))
}

// undo takes the last move back with the keyboard and does it again.
func (s *screen) undo() {
	s.t.Helper()
	place := func() string {
		return s.page.MustEval(`() => [...document.querySelectorAll("#photo .pin")].map((p) => p.dataset.x + "," + p.dataset.y).join(" ")`).Str()
	}
	before := place()
	s.page.KeyActions().Press(input.ControlLeft).Type(input.KeyZ).MustDo()
	s.page.MustWaitRequestIdle()()
	if place() == before {
		s.t.Error("ctrl Z moved nothing back")
	}
	s.page.MustElement("#redo").MustClick()
	s.page.MustWaitRequestIdle()()
	s.see(".words", "Point 6, box E7: it is half a box too far left")
}

// measured compares what the table says with what the pretend student did
// wrong: a hand on a mouse places points to about a photo pixel and a half.
func (s *screen) measured() {
	s.t.Helper()
	checkIns, err := s.db.CheckIns(context.Background(), store.Project{ID: s.project.ID + 1})
	if err != nil || len(checkIns) != 1 || checkIns[0].Corners == nil || len(checkIns[0].Marks) != 6 {
		b, _ := json.Marshal(checkIns)
		s.t.Fatalf("kept %s, %v; want one check-in with corners and six places", b, err)
	}
	for i, c := range *checkIns[0].Corners {
		if d := c.Sub(s.sample.Corners[i]).Len(); d > 1.5*s.photoScale() {
			s.t.Errorf("corner %d was put %.1f pixels away", i, d)
		}
	}
}

// photoScale returns how many photo pixels one pixel of the screen shows.
func (s *screen) photoScale() float64 {
	return s.page.MustEval(`() => 1 / document.getElementById("photo").getScreenCTM().a`).Num()
}

// A lost connection is said, nothing typed is lost, and what is tried again is saved.
func TestLostConnectionAndSession(t *testing.T) {
	t.Parallel()
	s := newHouse(t).open(1280, 800)
	s.signIn()
	s.visit(s.address("/projects/{project}"))
	s.step("Size")
	s.page.MustElement("#f-name").MustSelectAllText().MustInput("Typed by hand")
	s.down.Store(true)
	s.press("button", "Keep this plan")
	s.see("#banner", "nothing was saved just now")
	s.page.MustWaitRequestIdle()() // a press while another answer is under way would be for nothing
	s.down.Store(false)
	s.press("button", "Keep this plan")
	s.see(".railname", "Typed by hand")
	s.page.MustWaitRequestIdle()() // an answer under way would bring the session back

	if err := (proto.NetworkClearBrowserCookies{}).Call(s.page); err != nil {
		t.Fatal(err)
	}
	s.page.MustElement("#f-name").MustInput(" twice")
	s.press("button", "Keep this plan")
	s.see("#banner", "signed out after a break")
	if got := s.page.MustElement("#f-name").MustProperty("value").Str(); got != "Typed by hand twice" {
		t.Errorf("the name typed is now %q", got)
	}
}

// What was typed stays where it is when it cannot be taken: a word for minutes,
// a price that is none, a note that is too long; the page says what it wants.
// Changes of a plan that were not kept are asked about before the page goes.
func TestTypedStays(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	base := s.address("/projects/{project}")
	for _, c := range []struct{ page, field, typed, press, say string }{
		{"/road", "[name=minutes_draw]", "two lessons", "Keep the road", "takes 1 to 3000 minutes"},
		{"/materials", "[name=price0]", "a lot", "Keep", "a price such as 1.20"},
		{"/log", "#note", strings.Repeat("word ", 320), "Keep", "at most 1000 letters"},
	} {
		s.visit(base + c.page)
		field := s.page.MustElement(c.field)
		field.MustEval(`() => this.closest("details")?.setAttribute("open", "")`)
		field.MustEval(`() => { this.removeAttribute("maxlength"); this.value = "" }`)
		field.MustInput(c.typed)
		s.page.MustElementR("main form.card-drawn button", c.press).MustClick()
		s.see("#told", c.say) // beside the field
		if got := s.page.MustElement(c.field).MustProperty("value").String(); got != c.typed {
			t.Errorf("%s: the field holds %.40q; want what was typed", c.page, got)
		}
	}
	s.visit(base + "?step=grid")
	s.page.MustElement("[name=split]").MustClick().MustInput("A1 2")
	wait, handle := s.page.MustHandleDialog()
	go s.press("nav a", "Classes")
	if asked := wait(); asked.Type != proto.PageDialogTypeBeforeunload {
		t.Errorf("leaving asks with %s", asked.Type)
	}
	handle(true, "")
	s.see("h1", "Classes")
}
