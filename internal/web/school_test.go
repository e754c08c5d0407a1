package web

import (
	"context"
	"errors"
	"fmt"
	"html"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/pquerna/otp/totp"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// teacher returns a teacher of the house by their address.
func (h *house) teacher(email string) store.Teacher {
	h.t.Helper()
	t, err := h.db.TeacherByAddress(context.Background(), email)
	if err != nil {
		h.t.Fatal(err)
	}
	return t
}

// share lets the other teacher at the project, or at the class where one is named.
func (h *house) share(level store.Level, class *uint64) {
	h.t.Helper()
	s := store.Share{ProjectID: &h.project.ID, ClassID: class, TeacherID: h.teacher("other@quay.example").ID, Level: level}
	if class != nil {
		s.ProjectID = nil
	}
	if err := h.db.Share(context.Background(), h.project.TeacherID, s); err != nil {
		h.t.Fatal(err)
	}
}

// What covering a lesson takes, and what only an owner does, as colleagues were
// told; all else that changes something is for owning together.
var (
	toCover = regexp.MustCompile(`^POST (/projects/{project}/(students/{student}/(ticks|stage|verdict|seat|notes|helper)|log|check|check/ticks|call|print/jobs)|/notes/{note}|/strays/{stray}/(claim|remove)|/checkins/{checkin}/(places|ticks)|/projects/{project}/(links/code|demonstration|handin|stage)|/jobs/{job}/cancel)$|^GET (/projects/{project}/print.*|/projects/{project}/links/screen|/jobs/{job}/set.pdf)$`)
	toOwn   = regexp.MustCompile(`^GET (/projects/{project}/(links|project.zip)|/students/{student}/export.zip)$`)
	inPlace = regexp.MustCompile(`^POST /students/{student}/forget$`)
	owners  = regexp.MustCompile(`^(GET|POST) (/projects/{project}/shares|/classes/{class}/shares)$|^POST (/projects/{project}/(away|back|delete|hand|class(/drop)?|road/(keep|drop))|/classes/{class}/away|/students/{student}/move|/library/{picture}.*)$`)
	ofOne   = regexp.MustCompile(`{(project|class|student|note|checkin|stray|job)}|/pictures/{picture}/`)
)

// needs is how far something has to be shared for a route.
func needs(route string) store.Level {
	switch {
	case owners.MatchString(route):
		return store.Owns
	case inPlace.MatchString(route):
		return store.InPlace
	case toCover.MatchString(route):
		return store.ToCover
	case toOwn.MatchString(route) || strings.HasPrefix(route, "POST"):
		return store.ToOwn
	}
	return store.ToLook
}

// An administrator opens the class of a colleague who is away, for a reason that stands in who did what and on the
// colleague's Today: a parent's demand is answered, and nothing is shared on. Others cannot, nor without a reason,
// nor another school's class; the colleague ends it.
func TestActingForAColleague(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx := context.Background()
	other, owner := h.signIn("other@quay.example"), h.signIn("owner@quay.example")
	me, err := h.db.TeacherByAddress(ctx, "other@quay.example")
	if err != nil {
		t.Fatal(err)
	}
	open := fmt.Sprintf("/school/people/%d/open", h.project.TeacherID)
	asked := form{"class": fmt.Sprint(h.class.ID), "reason": "A parent asks for what is kept of Ada."}
	other.post(open, asked).want(http.StatusNotFound, "") // no administrator
	if err := h.db.SetAdmin(ctx, me.SchoolID, me.ID, true); err != nil {
		t.Fatal(err)
	}
	export, forget := fmt.Sprintf("/students/%d/export.zip", h.class.Students[0].ID), fmt.Sprintf("/students/%d/forget", h.class.Students[0].ID)
	other.get(export).want(http.StatusNotFound, "")
	other.post(open, form{"class": fmt.Sprint(h.class.ID), "reason": "because"}).want(http.StatusUnprocessableEntity, "Write why")
	other.post(open, form{"class": "x", "reason": asked["reason"]}).want(http.StatusUnprocessableEntity, "Choose a class")
	other.post(open, asked).location()
	other.get("/classes").want(http.StatusOK, "shares this with you in their place")
	other.get(export).want(http.StatusOK, "")
	other.post(fmt.Sprintf("/classes/%d/shares", h.class.ID), form{"with": fmt.Sprint(me.ID), "level": "1"}).want(http.StatusForbidden, "in their place")
	owner.get("/").want(http.StatusOK, "opened "+h.class.Name+" in your place").want(http.StatusOK, "A parent asks for what is kept of Ada.")
	if a := owner.get("/school/deeds"); a.status == http.StatusOK && !a.says("A parent asks for what is kept of Ada.") {
		t.Error("who did what has no reason")
	}
	other.get("/school/deeds").want(http.StatusOK, "A parent asks for what is kept of Ada.")
	other.post(forget, form{"sure": h.class.Students[0].Name}).location()
	list, err := h.db.ClassShares(ctx, h.class.ID)
	if err != nil || len(list) != 1 {
		t.Fatal(list, err)
	}
	owner.get(fmt.Sprintf("/classes/%d/shares", h.class.ID)).want(http.StatusOK, "A parent asks for what is kept of Ada.")
	owner.post(fmt.Sprintf("/classes/%d/shares", h.class.ID), form{"end": fmt.Sprint(list[0].ID)}).location()
	other.get(fmt.Sprintf("/students/%d/export.zip", h.class.Students[1].ID)).want(http.StatusNotFound, "")
	if owner.get("/").says("in your place") {
		t.Error("what was ended stands on Today still")
	}
	if _, err := h.db.OpenClass(ctx, me, h.class.ID+999, "A reason long enough.", time.Now()); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a class that is not there: %v", err)
	}
}

// Every route is tried by a colleague at every level: what was not shared is
// refused in words, what was is answered as it is to the owner.
func TestSharingLevels(t *testing.T) {
	t.Parallel()
	for _, level := range []store.Level{store.ToLook, store.ToCover, store.ToOwn} {
		h := newHouse(t)
		h.share(level, nil)
		h.share(level, &h.class.ID)
		h.signIn("other@quay.example").get("/classes").want(http.StatusOK, "Owner shares this with you "+kit.LevelWords(level))
		owner, c, tried := h.signIn("owner@quay.example"), h.signIn("other@quay.example"), map[bool]int{}
		err := chi.Walk(h.routes, func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
			route := method + " " + pattern
			if !ofOne.MatchString(pattern) || strings.HasSuffix(pattern, "/live") || needs(route) <= level && method == http.MethodPost {
				return nil // what is allowed to change something is tried in stories
			}
			var a answer
			if method == http.MethodGet {
				a = c.get(h.address(pattern))
			} else {
				a = c.post(h.address(pattern), nil)
			}
			allowed, want := needs(route) <= level, http.StatusForbidden
			if tried[allowed]++; allowed {
				want = owner.get(h.address(pattern)).status
			}
			if a.status != want {
				t.Errorf("%s, shared %s: %d; want %d", route, kit.LevelWords(level), a.status, want)
			}
			return nil
		})
		if err != nil || tried[true] < 30 || tried[false] < 10 {
			t.Errorf("level %d: tried %v, %v", level, tried, err)
		}
		h.errors.Reset() // the job's set is not made yet
	}
}

// Who owns a project together with a colleague sees nothing else of theirs, and cannot
// bring it in.
func TestOwnedTogetherIsNotTheRest(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	owner := h.signIn("owner@quay.example")
	owner.post("/library", nil, file{"picture", "private.png", h.sample.Picture}).location()
	owner.post("/classes", form{"name": "9 Hidden", "students": "Xenia"}).location()
	list, err := h.db.Library(context.Background(), h.project.TeacherID, "private")
	if err != nil || len(list) != 1 {
		t.Fatal(list, err)
	}
	h.share(store.ToOwn, nil)
	c, project := h.signIn("other@quay.example"), h.address("/projects/{project}")
	for _, page := range []string{"?step=picture", "?step=compose", "/wall", "/print", "/check", "/report", "/finish"} {
		if a := c.get(project+page).want(http.StatusOK, ""); a.says("private") || a.says("9 Hidden") {
			t.Errorf("%s shows what was not shared", page)
		}
	}
	c.post(project+"/picture", form{"from": fmt.Sprint(list[0].ID), "use": "1"}).want(http.StatusNotFound, "")
	c.post(fmt.Sprintf("%s/pictures/%d", project, list[0].ID), nil).want(http.StatusNotFound, "")
	c.post(fmt.Sprintf("%s/pictures/%d/withdraw", project, list[0].ID), nil).want(http.StatusNotFound, "")
	c.get(fmt.Sprintf("/pictures/%d/thumb", list[0].ID)).want(http.StatusNotFound, "")
	c.post(project+"/comparing", form{"looseness": "loose"}).location() // this much is theirs too
}

// Whatever changes something is written down, once it was done, and says who may.
func TestEveryChangeIsAudited(t *testing.T) {
	t.Parallel()
	files, err := filepath.Glob("*/*.go")
	if err != nil || len(files) < 50 {
		t.Fatalf("%d files, %v", len(files), err)
	}
	for _, name := range files {
		b, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		for _, line := range regexp.MustCompile(`r\.Post\("([^"]+)", store\.\w+, kit\.NoAudit`).FindAllStringSubmatch(string(b), -1) {
			if !slices.Contains(lastsNot, line[1]) {
				t.Errorf("POST %s leaves nothing in who did what", line[1])
			}
		}
	}
	defer func() {
		if recover() == nil {
			t.Error("a route that lets nobody in is taken in")
		}
	}()
	(&kit.Kit{}).Routes(chi.NewRouter()).Get("/new", store.Nothing, kit.NoAudit, nil)
}

// lastsNot are the routes that are posted to and change nothing that lasts.
var lastsNot = []string{"/classes/{class}/roster", "/tiles"}

// linkIn finds the link that a page shows once.
var linkIn = regexp.MustCompile(`value="(http[^"]*/join/[a-z0-9]+)"`)

func (a answer) link() string {
	a.t.Helper()
	m := linkIn.FindStringSubmatch(a.body)
	if a.status != http.StatusOK || m == nil {
		a.t.Fatalf("%s: %d without a link:\n%.1500s", a.what, a.status, a.body)
	}
	return html.UnescapeString(m[1])[len("http://"):]
}

// An administrator invites, resets, makes another one, hands a leaver's classes on,
// and sees who did what; never is nobody left to do that.
func TestPeopleOfTheSchool(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, owner := h.signIn("owner@quay.example"), h.project.TeacherID
	path := func(link string) string { return link[strings.Index(link, "/"):] }
	c.post("/school/people", form{"name": "Reed", "email": "other@quay.example"}).want(http.StatusUnprocessableEntity, "signs in with this address already")
	link := path(c.post("/school/people", form{"name": "Ms Reed", "email": "reed@quay.example"}).link())
	c.get("/school/people").want(http.StatusOK, "reed@quay.example")
	guest := h.nobody()
	guest.get(link).want(http.StatusOK, "reed@quay.example")
	guest.post(link, form{"name": "Ms Reed", "password": "short", "again": "short"}).want(http.StatusUnprocessableEntity, "at least 10 letters")
	if at := guest.post(link, form{"name": "Ms Reed", "password": password, "again": password}).location(); at != "/" {
		t.Errorf("joining leads to %q", at)
	}
	guest.get("/").want(http.StatusOK, "First steps")
	guest.get("/school/people").want(http.StatusNotFound, "")
	h.nobody().get(link).want(http.StatusNotFound, "was used already")
	reed := h.teacher("reed@quay.example")
	person := fmt.Sprintf("/school/people/%d", reed.ID)
	c.post("/school/people", form{"name": "X", "email": "x@quay.example"}).link()
	c.post("/school/people/withdraw", form{"email": "x@quay.example"}).location()
	if c.get("/school/people").says("x@quay.example") {
		t.Error("a withdrawn invitation is listed")
	}

	reset := path(c.post(person+"/reset", nil).link())
	h.nobody().get(reset).want(http.StatusOK, "A new password")
	if at := h.nobody().post(reset, form{"password": "harbour kettle lantern", "again": "harbour kettle lantern"}).location(); at != "/signin" {
		t.Errorf("leads to %q", at)
	}
	if at := guest.get("/").location(); !strings.HasPrefix(at, "/signin") {
		t.Errorf("after the reset the old session leads to %q", at)
	}
	me := fmt.Sprintf("/school/people/%d", owner)
	c.post(me+"/admin", form{"on": "0"}).want(http.StatusUnprocessableEntity, "omebody has to look after the school")
	c.post(me+"/disable", form{"on": "1"}).want(http.StatusUnprocessableEntity, "omebody has to look after the school")
	c.post(person+"/admin", form{"on": "1"}).location()
	c.post(me+"/hand", form{"class": "0", "to": fmt.Sprint(reed.ID)}).location()
	c.get(h.address("/projects/{project}")).want(http.StatusNotFound, "")
	c.post(me+"/disable", form{"on": "1"}).location()
	if at := c.get("/").location(); !strings.HasPrefix(at, "/signin") {
		t.Errorf("who may sign in no more is led to %q", at)
	}
	h.nobody().post("/signin", form{"email": "owner@quay.example", "password": password}).want(http.StatusUnprocessableEntity, "do not go together")
	heir := h.nobody()
	heir.post("/signin", form{"email": "reed@quay.example", "password": "harbour kettle lantern"}).location()
	heir.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Ada")
	h.nobody().get("/s/"+h.link).want(http.StatusOK, "Ada") // tablets go on
	heir.get("/school/deeds").want(http.StatusOK, "handed classes on")
	heir.get("/school/deeds?q=invited").want(http.StatusOK, "invited a colleague")
	heir.get("/school/deeds.csv").want(http.StatusOK, "Owner,127.0.0.1,handed classes on")
}

// Backups are listed and handed out by the names of the list alone.
func TestBackupsPage(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	if err := os.WriteFile(filepath.Join(h.backups, "secret.txt"), []byte("x"), 0o600); err != nil {
		t.Fatal(err)
	}
	c.get("/school/backups").want(http.StatusOK, backupName)
	if a := c.get("/school/backups/"+backupName).want(http.StatusOK, ""); a.body != "a backup" || !strings.Contains(a.header.Get("Content-Disposition"), "attachment") {
		t.Errorf("handed out as %q, %v", a.body, a.header)
	}
	for _, bad := range []string{"secret.txt", "..%2Fsecret.txt", "none.zesty-backup", "%2e%2e"} {
		c.get("/school/backups/"+bad).want(http.StatusNotFound, "")
	}
	old := time.Now().AddDate(0, 0, -4)
	if err := os.Chtimes(filepath.Join(h.backups, backupName), old, old); err != nil {
		t.Fatal(err)
	}
	c.get("/school/backups").want(http.StatusOK, "No backup was made for two days")
	// A new school has no nights behind it, and no alarm; one is made when it is asked for.
	if err := errors.Join(os.Remove(filepath.Join(h.backups, backupName)), os.Remove(filepath.Join(h.backups, "secret.txt"))); err != nil {
		t.Fatal(err)
	}
	if page := c.get("/school/backups").want(http.StatusOK, "None yet"); page.says("for two days") || !page.says("Back up now") {
		t.Error("an alarm on the first day, or no way to ask for one")
	}
	asked := h.asked.Load()
	c.post("/school/backups/now", nil).location()
	if h.asked.Load() != asked+1 {
		t.Error("nobody was asked for a backup")
	}
	c.get("/school/backups?asked=1").want(http.StatusOK, "A backup is being made")
}

// keyIn finds the key that the page of the second step shows.
var keyIn = regexp.MustCompile(`name="secret" value="([A-Z2-7]+)"`)

// With a code asked for, the password alone opens nothing; none is taken twice.
func TestAtTheDoor(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	m := keyIn.FindStringSubmatch(c.get("/account/second").want(http.StatusOK, "<svg").body)
	if m == nil {
		t.Fatal("no key")
	}
	now := func() string {
		code, err := totp.GenerateCode(m[1], time.Now())
		if err != nil {
			t.Fatal(err)
		}
		return code
	}
	c.post("/account/second/keep", form{"secret": m[1], "code": now(), "old": "wrong"}).want(http.StatusUnprocessableEntity, "not the password of now")
	c.post("/account/second/keep", form{"secret": m[1], "code": "000000", "old": password}).want(http.StatusUnprocessableEntity, "not the code of now")
	code := now() // the next half minute may begin meanwhile
	words := regexp.MustCompile(`<code>([a-z0-9]+)</code>`).FindAllStringSubmatch(c.post("/account/second/keep",
		form{"secret": m[1], "code": code, "old": password}).want(http.StatusOK, "Recovery words").body, -1)
	if len(words) < 8 {
		t.Fatalf("%d recovery words", len(words))
	}
	enter := func() *client {
		n := h.nobody()
		if at := n.post("/signin", form{"email": "owner@quay.example", "password": password, "next": "/classes"}).location(); at != "/signin/second?next=%2Fclasses" {
			t.Errorf("the password alone leads to %q", at)
		}
		if at := n.get("/classes").location(); !strings.HasPrefix(at, "/signin") {
			t.Errorf("without the code /classes leads to %q", at)
		}
		return n
	}
	half := enter()
	half.get("/signin/second?next=/classes").want(http.StatusOK, "six digits")
	half.post("/signin/second", form{"code": code}).want(http.StatusUnprocessableEntity, "used already") // it set the key up
	if at := half.post("/signin/second", form{"code": words[0][1], "next": "/classes"}).location(); at != "/classes" {
		t.Errorf("a recovery word leads to %q", at)
	}
	enter().post("/signin/second", form{"code": words[0][1]}).want(http.StatusUnprocessableEntity, "used already")
	if at := h.nobody().post("/signin/second", form{"code": words[1][1]}).location(); at != "/signin" {
		t.Errorf("without a password a word leads to %q", at)
	}
	c.get("/account").want(http.StatusOK, "7 recovery words are left")
	c.post("/account/second/end", form{"old": password}).location()
	if at := h.nobody().post("/signin", form{"email": "owner@quay.example", "password": password}).location(); at != "/" {
		t.Errorf("with no code asked for, the password leads to %q", at)
	}
	c.get("/first").location() // there is somebody already
	c.post("/first", form{"school": "X", "units": "in", "dates": "en_GB", "name": "X", "email": "x@x.example",
		"password": password, "again": password, "word": "abcd-efgh-jkmn"}).want(http.StatusUnprocessableEntity,
		"That is not the word")
	h.nobody().get("/join/abcdefghjkmnpqrstuvwxyz23456789a").want(http.StatusNotFound, "was used already")
}

// A project goes to a colleague as a copy, and anywhere as a file; a file that is
// none is refused at its field.
func TestHandingAProjectOn(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, other := h.signIn("owner@quay.example"), h.signIn("other@quay.example")
	whole := c.get(h.address("/projects/{project}/project.zip")).want(http.StatusOK, "")
	at := other.post("/projects/file", nil, file{"file", "light.zip", []byte(whole.body)}).location()
	other.get(at+"?step=grid").want(http.StatusOK, "boxes")
	other.post("/projects/file", nil, file{"file", "light.zip", []byte("no zip")}).want(http.StatusUnprocessableEntity, "Nothing was taken in")
	other.post("/projects/file", nil).want(http.StatusUnprocessableEntity, "Choose a file")
	mate := fmt.Sprint(h.teacher("other@quay.example").ID)
	c.post(h.address("/projects/{project}/hand"), form{"to": "0"}).want(http.StatusUnprocessableEntity, "Choose a colleague")
	given := c.post(h.address("/projects/{project}/hand"), form{"to": mate}).location()
	c.get(given).want(http.StatusOK, "has a copy of their own")
	list, err := h.db.Projects(context.Background(), h.teacher("other@quay.example").ID)
	if err != nil || len(list) != 2 {
		t.Errorf("%d projects, %v", len(list), err)
	}
}

// What is shared, until when, and what the days say.
func TestSharingForms(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, mate := h.signIn("owner@quay.example"), fmt.Sprint(h.teacher("other@quay.example").ID)
	path := h.address("/projects/{project}/shares")
	c.get(path).want(http.StatusOK, "With nobody")
	for _, bad := range []struct {
		f   form
		say string
	}{
		{form{"with": "x", "level": "1"}, "Choose a colleague"}, {form{"with": mate, "level": "4"}, "Choose to look"},
		{form{"with": fmt.Sprint(h.project.TeacherID), "level": "1"}, "Choose a colleague"},
		{form{"with": mate, "level": "2", "from": "tomorrow"}, "Write the day"}, {form{"with": mate, "level": "2", "from": "2026-12-03", "until": "2026-12-01"}, "before the first"},
	} {
		c.post(path, bad.f).want(http.StatusUnprocessableEntity, bad.say)
	}
	c.post(path, form{"with": mate, "level": "2", "until": "2031-12-03"}).location()
	page := c.get(path).want(http.StatusOK, "to cover · until 3 Dec 2031")
	other := h.signIn("other@quay.example")
	other.get("/").want(http.StatusOK, "Colleagues share with you")
	other.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Owner shares this with you to cover")
	id := regexp.MustCompile(`name="end" value="([0-9]+)"`).FindStringSubmatch(page.body)
	if id == nil {
		t.Fatal("it cannot be ended")
	}
	c.post(path, form{"end": id[1]}).location()
	other.get(h.address("/projects/{project}/wall")).want(http.StatusNotFound, "")
}

// Search finds by a part of a name, of one's own alone.
func TestSearch(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	for words, want := range map[string]string{"light": "Harbour light", "ADA": "Ada", "quay": "7 Quay", "": "Write a part", "nowhere": "Try fewer letters", "<b>": "&lt;b&gt;",
		"tape": "Before the tape comes off", "fold": "/projects/new?way=fold", "half-turn": "Half-turn sheet", "proportion": "/reckoner/proportion", "MIXING": "/finish/colour"} {
		c.get("/search?q="+words).want(http.StatusOK, want)
	}
	h.signIn("other@quay.example").get("/search?q=Ada").want(http.StatusOK, "Try fewer letters")
	c.get("/help").want(http.StatusOK, "squash")
}

// A name that a year changes is offered.
func TestNewYearsNames(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	for _, name := range []string{"Year 10 Pier", "Evening", "Club 1999"} {
		c.post("/classes", form{"name": name}).location()
	}
	page := c.get("/classes/year").want(http.StatusOK, "")
	for _, next := range []string{"8 Quay", "Year 11 Pier", "Evening", "Club 1999"} {
		if !page.says(`value="` + next + `"`) {
			t.Errorf("%q is not offered", next)
		}
	}
	id := h.address("{class}")
	c.post("/classes/year", form{"then_" + id: "on", "name_" + id: " "}).want(http.StatusUnprocessableEntity, "Write the new name of 7 Quay")
	c.post("/classes/year", form{"then_" + id: "on", "name_" + id: "8 Quay", "away": "x"}).want(http.StatusNotFound, "")
	c.get("/classes").want(http.StatusOK, "7 Quay")
	c.post("/classes/year", form{"then_" + id: "on", "name_" + id: "8 Quay", "away": h.address("{project}")}).location()
	c.get("/classes").want(http.StatusOK, "8 Quay")
	c.get("/shelf").want(http.StatusOK, "Harbour light")
	list, err := h.db.Classes(context.Background(), h.project.TeacherID)
	if err != nil || !slices.ContainsFunc(list, func(c store.Class) bool { return c.Name == "Evening" }) {
		t.Errorf("a class that was not asked about went: %+v, %v", list, err)
	}
}
