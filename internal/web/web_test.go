package web

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"html"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/backup"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/demo"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/web/school"
)

func TestMain(m *testing.M) {
	if program := os.Getenv(envProvider); program != "" {
		provide(program)
		return
	}
	code := mariadbtest.Run(m)
	if chromium.Browser != nil {
		chromium.Close()
	}
	os.Exit(code)
}

// house is a running site with two teachers, the first of whom has a class, a
// planned project with a picture, a landmark and a check-in.
type house struct {
	t       testing.TB
	url     string
	db      *store.Store
	routes  chi.Router
	sample  demo.Sample
	backups string        // the folder of backups, with one in it
	errors  *bytes.Buffer // what the site logged
	log     *slog.Logger
	down    atomic.Bool  // every connection breaks
	asked   atomic.Int32 // how often a backup was wanted now
	back    string       // which school was to be brought back from which file
	things
}

// things are what is in a house.
type things struct {
	class   store.Class
	project store.Project
	mark    store.Landmark
	checkIn store.CheckIn
	stray   store.Stray
	note    store.Note
	frame   store.Frame
	view    store.PressedView
	set     store.PrintSet
	job     store.Job
	printer store.Printer
	link    string
	feed    string
	letters string // of an invitation
}

// furnished is the house of which the others are copies.
var furnished struct {
	mariadbtest.Template
	things
}

// sample is made once: painting and photographing takes a second.
var sample = sync.OnceValues(demo.NewSample)

const password = "a long password"

// backupName is a night's backup in the house's folder.
const backupName = "night-2026-11-25" + backup.Ending

func newHouse(t testing.TB) *house {
	t.Helper()
	h := serve(t, furnished.Copy(t, func(dsn string) error {
		first := serve(t, dsn)
		first.furnish()
		furnished.things = first.things
		return nil
	}))
	h.things = furnished.things
	return h
}

// serve serves the site on a database.
func serve(t testing.TB, dsn string) *house {
	t.Helper()
	h := &house{t: t, errors: &bytes.Buffer{}}
	var err error
	if h.db, err = store.Open(context.Background(), dsn); err != nil {
		t.Fatal(err)
	}
	if h.sample, err = sample(); err != nil {
		t.Fatal(err)
	}
	h.log = slog.New(slog.NewTextHandler(h.errors, nil))
	h.backups = t.TempDir()
	if err := os.WriteFile(filepath.Join(h.backups, backupName), []byte("a backup"), 0o600); err != nil {
		t.Fatal(err)
	}
	if h.routes, err = New(h.db, h.log, Options{Backups: school.Backups{Folder: h.backups, Now: func(uint64) { h.asked.Add(1) },
		Back: func(_ context.Context, school uint64, name string) error {
			h.back = fmt.Sprint(school, " ", name)
			return nil
		}}}); err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if h.down.Load() {
			panic(http.ErrAbortHandler)
		}
		h.routes.ServeHTTP(w, r)
	}))
	h.url = server.URL
	t.Cleanup(func() {
		server.Close()
		h.db.Close()
		if h.errors.Len() > 0 {
			t.Errorf("the site logged:\n%s", h.errors)
		}
	})
	return h
}

// furnish puts teachers, a class and a project into a house that is empty.
func (h *house) furnish() {
	ctx := context.Background()
	must := func(err error) {
		h.t.Helper()
		if err != nil {
			h.t.Fatal(err)
		}
	}
	owner, err := h.db.AddTeacher(ctx, "Quay Lane", "owner@quay.example", "Owner", password)
	must(err)
	_, err = h.db.AddTeacher(ctx, "Quay Lane", "other@quay.example", "Other", password)
	must(err)
	h.class, err = h.db.AddClass(ctx, owner.ID, "7 Quay")
	must(err)
	err = h.db.AddStudents(ctx, owner.ID, h.class.ID, []string{"Ada", "Bryn"})
	must(err)
	h.class, err = h.db.Class(ctx, owner.ID, h.class.ID)
	must(err)

	c := h.signIn("owner@quay.example")
	at := c.post("/projects", form{"name": "Harbour light", "class": fmt.Sprint(h.class.ID)}, file{"picture", "light.png", h.sample.Picture}).location()
	var id uint64
	_, err = fmt.Sscanf(at, "/projects/%d", &id)
	must(err)
	h.project, err = h.db.Project(ctx, owner.ID, id)
	must(err)
	c.post(h.address("/projects/{project}/plan"), planForm(h.sample.Plan.Typed, 0)).want(http.StatusOK, "")
	h.mark = store.Landmark{ProjectID: id, PictureID: h.project.PictureID, Name: "Tip", Weight: 1, X: 100, Y: 100}
	must(h.db.AddLandmark(ctx, &h.mark))
	h.checkIn = store.CheckIn{ProjectID: id, StudentID: h.class.Students[0].ID, PictureID: *h.project.PictureID}
	must(h.db.AddCheckIn(ctx, owner.ID, &h.checkIn))
	h.note = store.Note{ProjectID: id, StudentID: &h.class.Students[0].ID, Words: "Found the ellipse."}
	must(h.db.AddNote(ctx, owner.ID, &h.note))
	h.stray = store.Stray{ProjectID: id, PictureID: *h.project.PictureID, Words: "No tags."}
	must(h.db.AddStray(ctx, &h.stray))
	h.frame = store.Frame{ProjectID: id, PictureID: *h.project.PictureID, Name: "The lamp", Frame: "875,600 700x900 5"}
	must(h.db.AddFrame(ctx, owner.ID, &h.frame))
	h.view = store.PressedView{ProjectID: id, PictureID: *h.project.PictureID, Name: "Front", TopX: 800, TopY: 300, BottomX: 800, BottomY: 2000}
	must(h.db.KeepPressed(ctx, &h.view))
	h.set = store.PrintSet{TeacherID: owner.ID, Name: "Lesson two", Spec: `{"kinds":["clean"]}`}
	must(h.db.AddPrintSet(ctx, &h.set))
	h.job = store.Job{ProjectID: id, Kind: store.SetJob, Spec: `{"kinds":["clean"],"paper":"Letter","everyone":true}`}
	must(h.db.AddJob(ctx, owner.ID, &h.job))
	h.printer = store.Printer{TeacherID: owner.ID, Name: "Staff room", Margin: 4}
	must(h.db.AddPrinter(ctx, &h.printer))
	h.link, err = h.db.Link(ctx, h.project, h.class.Students[0].ID)
	must(err)
	today := lesson.Day(time.Now().Unix() / 86400)
	// Lessons from tomorrow on, four to come whatever the hour at which the tests run.
	must(h.db.SetCalendar(ctx, owner.ID, h.class.ID, lesson.Calendar{From: today - 7, Until: today + 22, Setup: 5, Clear: 5,
		Weekly: []lesson.Weekly{{Weekday: (today + 1).Weekday(), Start: 540, Minutes: 50}}}))
	kept, err := h.db.Calendar(ctx, owner.ID, h.class.ID)
	must(err)
	h.feed = kept.Feed
	h.letters, err = h.db.Invite(ctx, store.Invitation{Kind: store.ToJoin, SchoolID: &owner.SchoolID, ByID: &owner.ID, Name: "New", Email: "new@quay.example"})
	must(err)
}

func planForm(ask grid.Request, seen int) form {
	return form{"name": ask.Name, "units": "in", "reference": ask.Reference, "paper": ask.Paper,
		"reference_square": ask.ReferenceSquare, "sheet_square": ask.SheetSquare, "method": "squares", "seen": fmt.Sprint(seen)}
}

type (
	form map[string]string
	file struct {
		field, name string
		bytes       []byte
	}
)

// client is a browser without a screen.
type client struct {
	*house
	http     *http.Client
	fragment bool           // asks as htmx does
	foreign  bool           // asks from another site's page
	drawings int            // that were compared with files
	onSheets map[string]int // the drawings found on a file's larger sheets, by its address
	looks    map[[sha256.Size]byte]seen
}

func (h *house) nobody() *client {
	jar, err := cookiejar.New(nil)
	if err != nil {
		h.t.Fatal(err)
	}
	return &client{house: h, onSheets: map[string]int{}, http: &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}
}

func (h *house) signIn(email string) *client {
	h.t.Helper()
	c := h.nobody()
	if at := c.post("/signin", form{"email": email, "password": password}).location(); at != "/" {
		h.t.Fatalf("signing in leads to %q; want /", at)
	}
	return c
}

// answer is what came back.
type answer struct {
	t      testing.TB
	what   string
	status int
	header http.Header
	body   string
}

func (c *client) do(method, path, contentType string, body io.Reader) answer {
	c.t.Helper()
	r, err := http.NewRequest(method, c.url+path, body)
	if err != nil {
		c.t.Fatal(err)
	}
	if contentType != "" {
		r.Header.Set("Content-Type", contentType)
	}
	if c.fragment {
		r.Header.Set("HX-Request", "true")
	}
	if c.foreign {
		r.Header.Set("Sec-Fetch-Site", "cross-site")
		r.Header.Set("Origin", "https://elsewhere.example")
	}
	res, err := c.http.Do(r)
	if err != nil {
		c.t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		c.t.Fatal(err)
	}
	return answer{c.t, method + " " + path, res.StatusCode, res.Header, string(b)}
}

func (c *client) get(path string) answer { c.t.Helper(); return c.do(http.MethodGet, path, "", nil) }

func (c *client) post(path string, values form, files ...file) answer {
	c.t.Helper()
	if len(files) == 0 {
		data := url.Values{}
		for k, v := range values {
			data.Set(k, v)
		}
		return c.do(http.MethodPost, path, "application/x-www-form-urlencoded", strings.NewReader(data.Encode()))
	}
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	for k, v := range values {
		w.WriteField(k, v)
	}
	for _, f := range files {
		part, err := w.CreateFormFile(f.field, f.name)
		if err != nil {
			c.t.Fatal(err)
		}
		part.Write(f.bytes)
	}
	w.Close()
	return c.do(http.MethodPost, path, w.FormDataContentType(), &body)
}

// says reports whether the body says something, as a browser shows it: however
// its lines break, and its letters are escaped.
func (a answer) says(words string) bool {
	body := strings.Join(strings.Fields(a.body), " ")
	words = strings.Join(strings.Fields(words), " ")
	return strings.Contains(body, words) || strings.Contains(html.UnescapeString(body), words)
}

// want checks the status and that the body says something.
func (a answer) want(status int, say ...string) answer {
	a.t.Helper()
	for _, one := range append(say, "") {
		if a.status != status || !a.says(one) {
			a.t.Errorf("%s: %d, want %d saying %q; got\n%.1500s", a.what, a.status, status, one, a.body)
		}
	}
	return a
}

func (a answer) location() string {
	a.t.Helper()
	if a.status != http.StatusSeeOther {
		a.t.Fatalf("%s: %d, want a redirect; got\n%.1500s", a.what, a.status, a.body)
	}
	return a.header.Get("Location")
}

var inBraces = regexp.MustCompile(`\{[a-z]+\}`)

// address fills a route's pattern with what the first teacher owns.
func (h *house) address(pattern string) string {
	return inBraces.ReplaceAllStringFunc(pattern, func(name string) string {
		switch name {
		case "{project}":
			return fmt.Sprint(h.project.ID)
		case "{student}":
			return fmt.Sprint(h.class.Students[0].ID)
		case "{class}":
			return fmt.Sprint(h.class.ID)
		case "{picture}":
			return fmt.Sprint(*h.project.PictureID)
		case "{role}":
			return "full"
		case "{landmark}":
			return fmt.Sprint(h.mark.ID)
		case "{frame}":
			return fmt.Sprint(h.frame.ID)
		case "{view}":
			return fmt.Sprint(h.view.ID)
		case "{set}":
			return fmt.Sprint(h.set.ID)
		case "{job}":
			return fmt.Sprint(h.job.ID)
		case "{printer}":
			return fmt.Sprint(h.printer.ID)
		case "{feed}":
			return h.feed
		case "{link}":
			return h.link
		case "{version}":
			return "1"
		case "{sum}":
			return "cut"
		case "{note}":
			return fmt.Sprint(h.note.ID)
		case "{stray}":
			return fmt.Sprint(h.stray.ID)
		case "{checkin}":
			return fmt.Sprint(h.checkIn.ID)
		case "{person}":
			return fmt.Sprint(h.project.TeacherID)
		case "{signin}":
			return "1"
		case "{backup}":
			return backupName
		case "{letters}":
			return h.letters
		case "{provider}":
			return "1"
		case "{starter}":
			return "boat"
		}
		h.t.Fatalf("the route %s has a part that this test does not know", pattern)
		return ""
	})
}

// open are the routes that need no teacher; own those that name nothing of anybody's.
var (
	open = map[string]bool{"GET /signin": true, "POST /signin": true, "POST /signout": true, "GET /static/*": true, "GET /reckoner": true, "GET /reckoner/{sum}": true,
		// By a student's own link: TestStudentLinks.
		"GET /s/{link}": true, "GET /s/{link}/picture": true, "GET /s/{link}/now": true, "POST /s/{link}/ticks": true,
		"POST /s/{link}/hand": true, "GET /s/{link}/boxes": true, "POST /s/{link}/help": true,
		"GET /s/{link}/train": true, "POST /s/{link}/train": true, "GET /s/worker.js": true, "GET /s/away": true,
		"GET /s/{link}/photo": true, "POST /s/{link}/photo": true, "GET /s/{link}/photo/now": true,
		"GET /s/{link}/drawing": true, "GET /s/{link}/wanted": true, "GET /s/{link}/view": true,
		"POST /s/{link}/view": true,
		"POST /s/{link}/own":  true, "POST /s/{link}/stage": true,
		// By a helper's link: TestOwnRoad, TestLinksOfNobody.
		"GET /h/{link}": true, "POST /h/{link}": true,
		// By the code of a lesson: TestCodes.
		"GET /go": true, "POST /go": true,
		// Without anything of anybody's: TestReached.
		"GET /trust": true, "GET /trust/root.crt": true, "GET /healthz": true, "GET /readyz": true, "GET /about": true, "GET /about/licences.txt": true,
		"GET /feed/{feed}.ics": true,
		// By a password, a code, the word of the first day, or somebody's letters: TestAtTheDoor.
		"GET /signin/second": true, "POST /signin/second": true, "GET /first": true, "POST /first": true, "GET /join/{letters}": true, "POST /join/{letters}": true,
		// By an account elsewhere: TestAccountsElsewhere.
		"GET /signin/with/{provider}": true, "GET /signin/back": true}
	own = map[string]bool{"GET /": true, "GET /classes": true, "POST /classes": true, "GET /projects/new": true, "GET /projects/new/way": true, "GET /starters/{starter}": true,
		"POST /projects": true, "GET /library": true, "POST /library": true, "GET /printers": true,
		"POST /printers": true,
		"GET /shelf":     true, "GET /account": true, "POST /account": true, "POST /account/password": true, "POST /account/everywhere": true,
		"POST /account/own": true, "GET /account/second": true, "POST /account/second/keep": true, "POST /account/second/end": true, "POST /account/signins/{signin}/end": true,
		"GET /classes/year": true, "POST /classes/year": true, "POST /classes/year/undo": true, "POST /projects/file": true, "GET /search": true, "GET /help": true, "GET /help/parts": true}
)

// Every route is tried as nobody, as a student and with a session that has ended,
// who are sent to sign in; as another teacher, who is told that there is no such
// thing; and from another site's page, which is refused whoever is signed in.
func TestEveryRouteIsGuarded(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	nobody, fragment, other := h.nobody(), h.nobody(), h.signIn("other@quay.example")
	fragment.fragment = true
	student := h.nobody()
	student.get("/s/"+h.link).want(http.StatusOK, "Ada")
	ended, last := h.signIn("owner@quay.example"), h.nobody()
	last.http.Jar = ended.http.Jar
	base, _ := url.Parse(h.url)
	kept := ended.http.Jar.Cookies(base)
	last.post("/signout", nil)
	ended.http.Jar, _ = cookiejar.New(nil)
	ended.http.Jar.SetCookies(base, kept)
	foreign := h.signIn("owner@quay.example")
	foreign.foreign = true
	tried := 0
	err := chi.Walk(h.routes, func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if open[method+" "+pattern] {
			return nil
		}
		tried++
		path := h.address(pattern)
		// A full form, so that what refuses is the owner check and not a missing field.
		values := form{"label": "A1", "on": "1", "students": "X", "class": fmt.Sprint(h.class.ID), "student": fmt.Sprint(h.class.Students[0].ID),
			"looseness": "loose", "name": "Mine", "place": "5,5", "version": "0", "seen": "1", "reference": "7in", "paper": "A3", "frame": "500,500 300x300 0", "tags": "x", "difficulty": "1",
			"kind": "clean", "who": "everyone", "set_name": "Mine", "across": "100", "down": "100", "hand": "left",
			"pasted": "Cleo", "entries": `[{"name":"Cleo"}]`, "stage": "pick", "verdict": "passed",
			"what": "hand", "words": "x", "to": fmt.Sprint(h.class.ID),
			"into": fmt.Sprint(h.class.Students[1].ID), "sure": "Ada",
			"from": "2026-11-01", "until": "2026-12-01", "day0": "1", "start0": "9:30", "minutes0": "50", "setup": "5"}
		var files []file
		if method == http.MethodPost && regexp.MustCompile(`(\{project\}/picture|check|projects)$`).MatchString(pattern) {
			files = []file{{"picture", "p.png", h.sample.Picture}, {"photo", "p.jpg", h.sample.Photo}}
		}
		try := func(c *client) answer {
			if method == http.MethodGet {
				return c.get(path)
			}
			return c.post(path, values, files...)
		}
		for who, c := range map[string]*client{"nobody": nobody, "a student": student, "an ended session": ended} {
			if at := try(c).location(); !strings.HasPrefix(at, "/signin?next=") {
				t.Errorf("%s %s as %s leads to %q", method, path, who, at)
			}
		}
		if method != http.MethodGet {
			try(foreign).want(http.StatusForbidden, "")
		}
		try(fragment).want(http.StatusUnauthorized, "")
		if own[method+" "+pattern] && pattern != "/projects" {
			return nil
		}
		try(other).want(http.StatusNotFound, "another teacher") // neither the owner nor an administrator
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	if tried < 20 {
		t.Errorf("only %d routes were tried", tried)
	}
	ticks, err := h.db.Ticks(context.Background(), h.project.ID)
	if err != nil || len(ticks) > 0 {
		t.Errorf("another teacher left ticks: %v, %v", ticks, err)
	}
}

// Every route that a student's link opens is shut by every link that does not
// stand: ended, made up, or of a feed that was given another address; and to
// other sites' pages.
func TestDeadLinksOpenNothing(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	foreign := h.nobody()
	foreign.foreign = true
	foreign.post("/s/"+h.link+"/ticks", form{"label": "A1", "on": "1"}).want(http.StatusForbidden, "")
	foreign.post("/s/"+h.link+"/hand", form{"on": "1"}).want(http.StatusForbidden, "")
	ctx, owner := context.Background(), h.project.TeacherID
	if err := errors.Join(h.db.RevokeLinks(ctx, owner, h.class.Students[0].ID), h.db.RenewFeed(ctx, owner, h.class.ID)); err != nil {
		t.Fatal(err)
	}
	tried, clients := 0, []*client{h.nobody(), h.signIn("owner@quay.example")}
	err := chi.Walk(h.routes, func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if !strings.Contains(pattern, "{link}") && !strings.Contains(pattern, "{feed}") {
			return nil
		}
		links := []string{h.link}
		if pattern == "/s/{link}" || pattern == "/s/{link}/ticks" { // no more, or guessing is slowed
			links = append(links, "abcdefghijklmnopqrstuvwxyz", strings.ToUpper(h.link), "x")
		}
		for _, link := range links {
			path := strings.NewReplacer("{link}", link, "{feed}", h.feed).Replace(pattern)
			for _, c := range clients {
				tried++
				if method == http.MethodGet {
					c.get(path).want(http.StatusNotFound, "")
				} else {
					c.post(path, form{"label": "A1", "on": "1"}).want(http.StatusNotFound, "")
				}
			}
		}
		return nil
	})
	ticks, err2 := h.db.Ticks(ctx, h.project.ID)
	if err != nil || err2 != nil || tried < 40 || len(ticks) > 0 {
		t.Errorf("%d tries, ticks %v; %v, %v", tried, ticks, err, err2)
	}
}

func TestHeadersAndCrossSite(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	a := c.get("/")
	for name, want := range map[string]string{"Content-Security-Policy": "script-src 'self'", "X-Content-Type-Options": "nosniff", "Cache-Control": "no-store"} {
		if !strings.Contains(a.header.Get(name), want) {
			t.Errorf("%s is %q; want %q in it", name, a.header.Get(name), want)
		}
	}
	if strings.Contains(a.header.Get("Content-Security-Policy"), "unsafe") {
		t.Error("the content security policy allows something unsafe")
	}
	r, err := http.NewRequest(http.MethodPost, h.url+"/classes", strings.NewReader("name=Stolen"))
	if err != nil {
		t.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err := c.http.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	if res.StatusCode != http.StatusForbidden {
		t.Errorf("a form from another site: %d; want 403", res.StatusCode)
	}
	c.get("/static/").want(http.StatusNotFound, "")
	c.get("/static/../web.go").want(http.StatusNotFound, "")
}

func TestSigningIn(t *testing.T) {
	h := newHouse(t)
	c := h.nobody()
	c.post("/signin", form{"email": "owner@quay.example", "password": "wrong"}).want(http.StatusUnprocessableEntity, `value="owner@quay.example"`)
	for next, want := range map[string]string{"/classes": "/classes", "//evil.example": "/", "https://evil.example": "/", `/\evil.example`: "/", "": "/"} {
		if at := h.nobody().post("/signin", form{"email": "owner@quay.example", "password": password, "next": next}).location(); at != want {
			t.Errorf("signing in with next %q leads to %q; want %q", next, at, want)
		}
	}
	c = h.signIn("owner@quay.example")
	c.post("/signout", nil)
	if at := c.get("/classes").location(); at != "/signin?next=%2Fclasses" {
		t.Errorf("after signing out /classes leads to %q", at)
	}
	// Wrong tries elsewhere slow the account and lock nobody out; its teacher is told,
	// once. The browser that signed in before is not slowed by them.
	guesser := h.nobody()
	for range 11 {
		guesser.post("/signin", form{"email": "owner@quay.example", "password": "guess"}).want(http.StatusUnprocessableEntity, "do not go together")
	}
	began := time.Now()
	if at := c.post("/signin", form{"email": "Owner@quay.example ", "password": password}).location(); at != "/" {
		t.Errorf("the right password after wrong ones leads to %q", at)
	}
	known := time.Since(began)
	c.get("/").want(http.StatusOK, "tried to sign in as you 11 times")
	began = time.Now()
	guesser.post("/signin", form{"email": "owner@quay.example", "password": "guess"})
	if slowed := time.Since(began); slowed < time.Second || known > slowed/2 {
		t.Errorf("the known browser is answered after %v, who guesses after %v; want the guesser late alone", known, slowed)
	}
	if c.get("/").says("tried to sign in") {
		t.Error("told twice")
	}
	other := h.nobody()
	if at := other.post("/signin", form{"email": "other@quay.example", "password": password}).location(); at != "/" {
		t.Errorf("another teacher behind the same address: %q", at)
	}
}
