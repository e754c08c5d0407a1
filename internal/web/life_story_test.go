package web

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

// From an empty database to the first print: the word that the start command
// printed makes the school and its teacher, who is led on step by step, in at most 25 presses: a field is one.
func TestFirstRunToFirstPrint(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	db, err := store.Open(ctx, storetest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	word, err := db.Invite(ctx, store.Invitation{Kind: store.ToBegin})
	if err != nil {
		t.Fatal(err)
	}
	routes, err := New(db, slog.New(slog.NewTextHandler(io.Discard, nil)), Options{})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(routes)
	t.Cleanup(server.Close)
	made, err := sample()
	if err != nil {
		t.Fatal(err)
	}
	h := &house{t: t, url: server.URL, db: db, sample: made}
	s := h.open(1280, 800)
	s.visit("/")
	s.see("h1", "The first day")
	for field, typed := range map[string]string{"#school": "Quay Lane", "#name": "Ms Venn",
		"#email": "venn@quay.example", "#password": "harbour kettle lantern", "#again": "harbour kettle lantern",
		"#word": "abcd-efgh-jkmn", "#currency": "€"} {
		s.page.MustElement(field).MustInput(typed)
		s.presses++
	}
	s.presses++ // and the units
	s.page.MustElement("#units").MustSelect("centimetres")
	s.press("button", "Make the school")
	s.presses -= 1 // a wrong word is no newcomer's way
	s.see(".problem, #message", "That is not the word")
	if typed := s.page.MustElement("#school").MustProperty("value").Str(); typed != "Quay Lane" {
		t.Errorf("what was typed is %q after the wrong word", typed)
	}
	s.page.MustElement("#word").MustSelectAllText().MustInput(strings.ToUpper(word))
	s.press("button", "Make the school")
	s.see("h2", "First steps")
	ticked := func() int { return len(s.page.MustElements(".steps-drawn .ticked")) }
	if n := ticked(); n != 0 {
		t.Errorf("%d steps are ticked on the first day", n)
	}
	s.press(".steps-drawn a", "class")
	s.page.MustElement("#name").MustInput("7 Quay")
	s.page.MustElement("#students").MustInput("1. Ana Quay\n2. Bo Marsh\nTOTAL 2")
	s.presses += 2
	s.press("button", "Make the class")
	s.see(".note-warn", "“TOTAL 2” is taken for no student") // what is not sure is shown first
	s.press("button", "Take them in")
	s.see("h2", "7 Quay")
	s.visit("/projects/new")
	s.presses += 3 // New project, the file, the class
	s.page.MustElement("#picture").MustSetFiles(s.save("light.png", s.sample.Picture))
	s.page.MustElement("#class").MustSelect("7 Quay · 2 students")
	s.press("button", "Start the project")
	s.see(".railname", "light")
	s.step("Size")
	s.see(".size.here", "cm") // the school's units
	s.press("button", "Keep this plan")
	s.see(".kept", "Kept")
	s.visit("/")
	if n := ticked(); n != 3 {
		t.Errorf("%d steps are ticked before the first print; want 3", n)
	}
	s.press("a", "Print the pages")
	s.see(".bigcount", "pages a set")
	if paper := s.page.MustElement("#paper").MustProperty("value").Str(); paper != "A4" {
		t.Errorf("the paper is %q", paper)
	}
	s.page.MustElement(`button[hx-post$="/print/jobs"]`).MustClick()
	s.see("#jobs", "waiting")
	if s.presses++; s.presses > 25 {
		t.Errorf("%d presses from the first day to the first print; want 25 at most", s.presses)
	}
	t.Logf("%d presses", s.presses)
	s.visit("/")
	s.see("h1", "Today")
	if s.page.MustHas(".steps-drawn") {
		t.Error("the first steps are still listed after the first print")
	}
}

// enter signs a teacher in, whoever was before.
func (s *screen) enter(email string) {
	s.t.Helper()
	s.page.MustSetCookies() // none
	s.visit("/signin")
	s.page.MustElement("#email").MustInput(email)
	s.page.MustElement("#password").MustInput(password)
	s.press("button", "Sign in")
	s.see("h1", "Today")
}

// A lesson is covered: a colleague is let in for two days, ticks and writes, can
// change nothing else, and stands in the log by name.
func TestACoverLesson(t *testing.T) {
	t.Parallel()
	s := newHouse(t).open(1280, 800)
	s.enter("owner@quay.example")
	s.unfold("summary", "More")
	s.press("a", "Share, hand on")
	s.see("h1", "Sharing Harbour light")
	s.page.MustElement("#with").MustSelect("Other")
	s.press(".levels label", "to cover")
	today := time.Now()
	s.page.MustElement("#from").MustInputTime(today.AddDate(0, 0, -1))
	s.page.MustElement("#until").MustInputTime(today.AddDate(0, 0, 1))
	s.page.MustElement("#from").MustEval("() => { this.removeAttribute('min') }") // yesterday by some clock
	s.press("button", "^Share$")
	s.see(".shelflist", "to cover")

	s.enter("other@quay.example")
	s.press(".shared-with a", "Harbour light")
	s.see(".whose", "Owner shares this with you to cover")
	s.page.MustElement("#box-B2").MustClick()
	s.see(".tile-count", "1/63")
	s.sent()
	s.unfold(".wall-menus summary", "Pages of this project")
	s.press(".wall-menus a", "Log")
	s.page.MustElement("#note").MustInput("Row one is done. Bryn was tired.")
	s.press("form.card-drawn button", "Keep")
	s.see("article p", "Row one is done")
	s.visit(s.address("/projects/{project}?step=grid"))
	s.see("#ask .hint", "the plan stays theirs")

	s.enter("owner@quay.example")
	s.visit(s.address("/projects/{project}/log"))
	s.see("article", "Row one is done. Bryn was tired. Other")
	s.see("article li", "Other ticked boxes")
	ticks, err := s.db.Ticks(context.Background(), s.project.ID)
	if err != nil || !ticks[s.class.Students[0].ID]["B2"] {
		t.Errorf("ticks: %v, %v", ticks, err)
	}
}

// A parent asks for everything of their child, then that it be forgotten.
func TestAParentsDemand(t *testing.T) {
	t.Parallel()
	s := newHouse(t).open(1280, 800)
	s.enter("owner@quay.example")
	s.page.Keyboard.MustType('/')
	s.page.MustElement("#find").MustInput("ada").MustType(input.Enter)
	s.press(".found a", "Ada")
	s.see("h1", "Ada")
	address := s.page.MustElementR("a", "Get it all").MustProperty("href").Str()
	r, err := http.NewRequest(http.MethodGet, address, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range s.page.MustCookies() {
		r.AddCookie(&http.Cookie{Name: c.Name, Value: c.Value})
	}
	res, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	if z, err := zip.NewReader(bytes.NewReader(b), int64(len(b))); err != nil || len(z.File) < 2 {
		t.Errorf("%d bytes: %v", len(b), err)
	}
	s.page.MustElement("#sure").MustInput("Ada")
	s.press("button", "Forget all of it")
	s.see("h1", "Classes")
	s.visit("/search?q=ada")
	s.see("main", "Nothing of yours")
	s.visit("/school/deeds")
	s.see(".deeds", "exported everything of a student")
	s.see(".deeds", "forgot a student")
	if regexp.MustCompile(`\bAda\b`).MatchString(s.page.MustElement(".deeds").MustText()) {
		t.Error("who was forgotten stands in who did what")
	}
	s.nobody().get("/s/"+s.link).want(http.StatusNotFound, "")
}

// A year ends: the class goes on under its next name, the project is put away, and
// both are found again.
func TestANewYear(t *testing.T) {
	t.Parallel()
	s := newHouse(t).open(1280, 800)
	s.enter("owner@quay.example")
	s.visit("/classes")
	s.press("a", "A new school year")
	s.see("h1", "A new school year")
	s.press("button", "Begin the year")
	s.see("h2", "8 Quay")
	s.visit("/")
	s.see("h1", "Today")
	if s.page.MustHas(".project") {
		t.Error("last year's project is on Today")
	}
	s.press("a", "Put away")
	s.see(".shelflist", "Harbour light")
	s.press("button", "Bring back")
	s.see(".project h2", "Harbour light")
	s.see(".project", "8 Quay")
	// ? shows what keys there are, on every page.
	s.page.Keyboard.MustType('?')
	s.see("#keys", "search")
	s.press("#keys a", "handbook")
	s.see("h1", "Handbook")
}

// A new school year can be taken back for a week, from the page of classes.
func TestANewYearIsTakenBack(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, class := h.signIn("owner@quay.example"), fmt.Sprint(h.class.ID)
	c.post("/classes/year/undo", nil).want(http.StatusUnprocessableEntity, "no new school year")
	c.post("/classes/year", form{"then_" + class: "on", "name_" + class: "8 Quay", "away": fmt.Sprint(h.project.ID)}).location()
	c.get("/classes").want(http.StatusOK, "8 Quay", "Take it back")
	h.signIn("other@quay.example").post("/classes/year/undo", nil).want(http.StatusUnprocessableEntity, "no new school year")
	c.post("/classes/year/undo", nil).location()
	if page := c.get("/classes").want(http.StatusOK, "7 Quay"); strings.Contains(page.body, "Take it back") {
		t.Error("a year that was taken back is offered once more")
	}
	c.get("/").want(http.StatusOK, "Harbour light")
}

// A project from life begins with nothing but the thing: no picture, and yet a plan, pages, a wall and a page for each
// student, whose own view becomes their picture.
func TestFromLifeWithoutAPicture(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at, _, _ := strings.Cut(c.post("/projects", form{"class": fmt.Sprint(h.class.ID), "road": "way-life"}).location(), "?")
	for _, step := range []string{"picture", "compose", "size", "grid", "marks"} {
		if got := c.get(at + "?step=" + step); got.status != http.StatusOK || strings.Contains(got.body, `role="alert"`) {
			t.Errorf("step %s: %d, %.300s", step, got.status, got.body)
		}
	}
	c.post(at+"/plan", form{"seen": "0", "name": "The lamp on the desk", "units": "in", "reference": "8 x 10 in", "paper": "12 x 18 in", "method": "parts", "parts": "4x5"}).want(http.StatusOK, "Kept")
	c.get(at+"/print").want(http.StatusOK, "pages a set")
	c.get(at+"/print/set.pdf?kind=marks&kind=sheet&paper=A4&who=everyone&chosen=1").want(http.StatusOK, "%PDF")
	c.get(at+"/wall").want(http.StatusOK, "Ada")
	c.get(at+"/materials").want(http.StatusOK, "frame with threads")
	var id uint64
	if _, err := fmt.Sscanf(at, "/projects/%d", &id); err != nil {
		t.Fatal(err)
	}
	p, err := h.db.Project(t.Context(), h.project.TeacherID, id)
	if err != nil || p.PictureID != nil {
		t.Fatalf("%v, picture %v", err, p.PictureID)
	}
	link, err := h.db.Link(t.Context(), p, h.class.Students[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	h.nobody().get("/s/"+link).want(http.StatusOK, "Set up the thing and the frame")
	c.post("/projects", form{"name": "Boxes"}).want(http.StatusUnprocessableEntity, "Choose a picture first")
	c.get("/reckoner/string-frame?opening=16+x+12&spacing=&squares=8&eye=20&object=60&unit=in").want(http.StatusOK, "2 in apart")
}
