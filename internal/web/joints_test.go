package web

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"zestysketch/internal/backup"
	"zestysketch/internal/store"
)

// A plan that cannot be read is a card with words on Today; the project is opened,
// planned again and goes on.
func TestPlanThatCannotBeRead(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	pool, err := h.db.Pool()
	if err != nil {
		t.Fatal(err)
	}
	if _, err := pool.Exec(`UPDATE plans SET json = '{"format":"zesty-plan/1","grid":{"columns":-3}}'`); err != nil {
		t.Fatal(err)
	}
	c := h.signIn("owner@quay.example")
	c.get("/").want(http.StatusOK, "Harbour light", "Its plan cannot be read")
	for _, pattern := range []string{"/projects/{project}/wall", "/projects/{project}/print", "/projects/{project}/check", "/projects/{project}/values"} {
		c.get(h.address(pattern)).want(http.StatusUnprocessableEntity, "cannot be read", "keep the plan again")
	}
	c.get("/s/"+h.link).want(http.StatusUnprocessableEntity, "no plan yet")
	c.get(h.address("/projects/{project}")).want(http.StatusOK, "Harbour light")
	c.post(h.address("/projects/{project}/plan"), planForm(h.sample.Plan.Typed, 1)).want(http.StatusOK, "")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Ada")
	if a := c.get("/").want(http.StatusOK, ""); a.says("cannot be read") {
		t.Error("a plan that was kept again is said not to be readable")
	}
}

// Of an installation with several schools no administrator gets the backups, which hold all.
func TestBackupsOfManySchools(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.get("/school/backups/"+backupName).want(http.StatusOK, "a backup")
	if _, err := h.db.AddTeacher(t.Context(), "Mole Road", "c@mole.example", "C.", password); err != nil {
		t.Fatal(err)
	}
	c.get("/school/backups/"+backupName).want(http.StatusNotFound, "")
	c.get("/school/backups").want(http.StatusOK, "Several schools are kept here", "None yet")
	school := h.teacher("owner@quay.example").SchoolID
	for id, words := range map[uint64]string{school: "ours", school + 1: "theirs"} {
		dir := backup.FolderOf(h.backups, id)
		if err := errors.Join(os.MkdirAll(dir, 0o700), os.WriteFile(filepath.Join(dir, words+backup.Ending), []byte(words), 0o600)); err != nil {
			t.Fatal(err)
		}
	}
	c.get("/school/backups").want(http.StatusOK, "ours.backup")
	c.get("/school/backups/ours.backup").want(http.StatusOK, "ours")
	restore := "/school/backups/ours.backup/restore"
	c.get("/school/backups/theirs.backup").want(http.StatusNotFound)
	c.post("/school/backups/theirs.backup/restore", form{"name": "Quay Lane"}).want(http.StatusNotFound)
	c.post(restore, form{"name": "Mole Road"}).want(http.StatusUnprocessableEntity, "Write the school's name, Quay Lane")
	if at := c.post(restore, form{"name": "Quay Lane"}).location(); at != "/signin" || h.back != fmt.Sprint(school, " ours.backup") {
		t.Errorf("leads to %q, and brings back %q", at, h.back)
	}
}

// Backups that could not be told who was forgotten stand on Today until they are, or are
// said to be gone.
func TestUntoldBackups(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx, c := t.Context(), h.signIn("owner@quay.example")
	if err := h.db.AddBackupFolder(ctx, store.BackupFolder{Host: "cupboard", Folder: "/mnt/disk"}); err != nil {
		t.Fatal(err)
	}
	if a := c.get("/").want(http.StatusOK, ""); a.says("/mnt/disk") {
		t.Error("nobody was forgotten, and a folder is said not to know it")
	}
	one := h.class.Students[1]
	c.post(fmt.Sprintf("/students/%d/forget", one.ID), form{"sure": one.Name}).location()
	c.get("/").want(http.StatusOK, "The backups in /mnt/disk on cupboard do not know yet")
	c.get("/school/backups").want(http.StatusOK, "/mnt/disk")
	h.signIn("other@quay.example").post("/school/backups/gone", form{"host": "cupboard", "folder": "/mnt/disk"}).want(http.StatusNotFound, "")
	c.post("/school/backups/gone", form{"host": "cupboard", "folder": "/mnt/disk"}).location()
	if a := c.get("/").want(http.StatusOK, ""); a.says("/mnt/disk") {
		t.Error("a folder that is gone still stands on Today")
	}
}

// A helper's link ends with what it hangs on.
func TestHelpersLinksEnd(t *testing.T) {
	t.Parallel()
	for name, end := range map[string]func(h *house) error{
		"the student left": func(h *house) error {
			return h.db.LeaveClass(h.t.Context(), h.project.TeacherID, h.class.Students[0].ID, true)
		},
		"their links revoked": func(h *house) error {
			return h.db.RevokeLinks(h.t.Context(), h.project.TeacherID, h.class.Students[0].ID)
		},
		"all links ended":     func(h *house) error { return h.db.EndLinks(h.t.Context(), h.project.TeacherID, h.project.ID) },
		"the project deleted": func(h *house) error { return h.db.DeleteProject(h.t.Context(), h.project.TeacherID, h.project.ID) },
		"the last day is over": func(h *house) error {
			day := time.Now().AddDate(0, 0, -2)
			return h.db.LinksUntil(h.t.Context(), h.project.TeacherID, h.project.ID, &day)
		},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			h := newHouse(t)
			link, err := h.db.AddHelperLink(t.Context(), h.project.TeacherID, h.project.ID, h.class.Students[0].ID, "draw")
			if err != nil {
				t.Fatal(err)
			}
			h.nobody().get("/h/"+link).want(http.StatusOK, "Ada")
			if err := end(h); err != nil {
				t.Fatal(err)
			}
			h.nobody().get("/h/"+link).want(http.StatusNotFound, "")
			h.nobody().get("/s/"+h.link).want(http.StatusNotFound, "")
		})
	}
}

// A calendar's feed is its owner's alone, and ends with them.
func TestFeedsEnd(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx, page := t.Context(), h.address("/classes/{class}/calendar")
	other, err := h.db.TeacherByAddress(ctx, "other@quay.example")
	if err != nil {
		t.Fatal(err)
	}
	h.signIn("owner@quay.example").get(page).want(http.StatusOK, h.feed)
	for _, level := range []store.Level{store.ToLook, store.ToCover, store.ToOwn} {
		if err := h.db.Share(ctx, h.project.TeacherID, store.Share{ClassID: &h.class.ID, TeacherID: other.ID, Level: level}); err != nil {
			t.Fatal(err)
		}
		c := h.signIn("other@quay.example")
		if a := c.get(page).want(http.StatusOK, "Quay"); a.says(h.feed) {
			t.Errorf("level %d shows the feed", level)
		}
		c.post(page+"/feed", nil).want(http.StatusForbidden, "")
	}
	second, err := h.db.AddClass(ctx, h.project.TeacherID, "9 Secret")
	if err != nil {
		t.Fatal(err)
	}
	if a := h.signIn("other@quay.example").get(h.address("/students/{student}")).want(http.StatusOK, "Ada"); a.says(second.Name) {
		t.Error("a colleague sees the owner's other classes")
	}
	h.nobody().get("/feed/"+h.feed+".ics").want(http.StatusOK, "VCALENDAR")
	if err := h.db.HandOn(ctx, other.SchoolID, h.project.TeacherID, other.ID, h.class.ID); err != nil {
		t.Fatal(err)
	}
	h.nobody().get("/feed/"+h.feed+".ics").want(http.StatusNotFound, "")
}

// Whoever has passed the password, and not yet the second step, begins again where the
// password is another since; so does whoever holds an older link for a new password. An
// address is changed with the password alone.
func TestOldProofsEnd(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx := t.Context()
	me, err := h.db.TeacherByAddress(ctx, "other@quay.example")
	if err != nil {
		t.Fatal(err)
	}
	c := h.signIn("other@quay.example")
	c.post("/account", form{"name": "Other", "email": "thief@quay.example"}).want(http.StatusUnprocessableEntity, "not the password of now")
	c.post("/account", form{"name": "Another Name", "email": "other@quay.example"}).location()
	c.post("/account", form{"name": "Other", "email": "mine@quay.example", "old": password}).location()

	key, err := store.NewSecond(me)
	if err != nil {
		t.Fatal(err)
	}
	code := func(at time.Time) string {
		letters, err := totp.GenerateCode(key.Secret(), at)
		if err != nil {
			t.Fatal(err)
		}
		return letters
	}
	now := time.Now()
	if _, err := h.db.SetSecond(ctx, me.ID, key.Secret(), code(now.Add(-30*time.Second)), now); err != nil {
		t.Fatal(err)
	}
	half := h.nobody()
	if at := half.post("/signin", form{"email": "mine@quay.example", "password": password}).location(); !strings.HasPrefix(at, "/signin/second") {
		t.Fatalf("the password leads to %q; want the second step", at)
	}
	if err := h.db.SetPassword(ctx, me.ID, "tide table chalk"); err != nil {
		t.Fatal(err)
	}
	if at := half.post("/signin/second", form{"code": code(now)}).location(); at != "/signin" {
		t.Errorf("the code after a new password leads to %q; want to begin again", at)
	}

	owner, err := h.db.TeacherByAddress(ctx, "owner@quay.example")
	if err != nil {
		t.Fatal(err)
	}
	invite := func(inv store.Invitation) string {
		inv.ByID = &owner.ID
		letters, err := h.db.Invite(ctx, inv)
		if err != nil {
			t.Fatal(err)
		}
		return letters
	}
	older, newer := invite(store.Invitation{Kind: store.ToReset, TeacherID: &me.ID}), invite(store.Invitation{Kind: store.ToReset, TeacherID: &me.ID})
	if err := h.db.Reset(ctx, newer, "lantern rope kettle"); err != nil {
		t.Fatal(err)
	}
	if err := h.db.Reset(ctx, older, "thief thief thief"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("an older link after a newer one was used: %v; want ErrNotFound", err)
	}
	older = invite(store.Invitation{Kind: store.ToReset, TeacherID: &me.ID})
	if err := h.db.SetPassword(ctx, me.ID, "tide table chalk"); err != nil {
		t.Fatal(err)
	}
	if err := h.db.Reset(ctx, older, "thief thief thief"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a link of before a new password: %v; want ErrNotFound", err)
	}

	// An administrator's invitation ends with their being one.
	admin := invite(store.Invitation{Kind: store.ToJoin, SchoolID: &owner.SchoolID, Name: "New", Email: "n@quay.example", Admin: true})
	if err := errors.Join(h.db.SetAdmin(ctx, owner.SchoolID, me.ID, true), h.db.SetAdmin(ctx, owner.SchoolID, owner.ID, false)); err != nil {
		t.Fatal(err)
	}
	h.nobody().get("/join/"+admin).want(http.StatusNotFound, "")
	if _, err := h.db.Join(ctx, admin, "New", "lantern rope kettle"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the invitation of somebody who is no administrator any more: %v; want ErrNotFound", err)
	}
}

// Where a link is revoked, a tablet whose page stands open forgets all that it opened.
func TestTabletForgets(t *testing.T) {
	h := newHouse(t)
	s := h.open(800, 1100)
	s.visit("/s/" + h.link + "?box=A1")
	s.page.MustEval(`() => navigator.serviceWorker.ready.then(() => true)`)
	for range 2 {
		s.page.MustReload().MustWaitLoad()
	}
	s.visit("/s/" + h.link + "/photo")
	kept := `async () => (await (await caches.open("zesty-own-2")).keys()).filter((k) => new URL(k.url).pathname.startsWith("/s/")).length`
	if n := s.page.MustEval(kept).Int(); n < 2 {
		t.Fatalf("%d of the link's addresses are kept; want some", n)
	}
	if err := h.db.RevokeLinks(t.Context(), h.project.TeacherID, h.class.Students[0].ID); err != nil {
		t.Fatal(err)
	}
	s.page.MustEval(`(at) => fetch(at).then(() => true)`, "/s/"+h.link+"/photo/now")
	left := -1
	for until := time.Now().Add(5 * time.Second); left != 0 && time.Now().Before(until); time.Sleep(20 * time.Millisecond) {
		left = s.page.MustEval(kept).Int()
	}
	if left != 0 {
		t.Errorf("%d addresses of a link that was revoked are kept still", left)
	}
}

// Nothing red appears that nobody pressed: every page of a project in its first states, each
// link on them, and every fragment that loads by itself, answers below 400 without an alarm.
func TestNothingRedUnpressed(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	empty, err := h.db.AddClass(t.Context(), h.project.TeacherID, "Empty")
	if err != nil {
		t.Fatal(err)
	}
	light := file{"picture", "l.png", h.sample.Picture}
	bare := store.Project{TeacherID: h.project.TeacherID, ClassID: &h.class.ID, Name: "Bare"}
	if err := h.db.AddProject(t.Context(), &bare); err != nil {
		t.Fatal(err)
	}
	states := map[string]string{
		"fresh":                  c.post("/projects", form{"name": "Fresh"}, light).location(),
		"with a class":           c.post("/projects", form{"name": "Classed", "class": fmt.Sprint(h.class.ID)}, light).location(),
		"with an empty class":    c.post("/projects", form{"name": "Emptied", "class": fmt.Sprint(empty.ID)}, light).location(),
		"without a picture":      fmt.Sprintf("/projects/%d", bare.ID),
		"planned and unprinted":  h.address("/projects/{project}"),
		"planned, without class": c.post("/projects", form{"name": "Alone"}, light).location(),
	}
	for state, base := range states {
		states[state], _, _ = strings.Cut(base, "?")
	}
	c.post(states["planned, without class"]+"/plan", planForm(h.sample.Plan.Typed, 0)).want(http.StatusOK, "")
	for state, base := range states {
		if n := c.loadAll(base); n < 6 {
			t.Errorf("%s: only %d pages were opened", state, n)
		}
	}
}

// loadAll opens every page below an address, and what each loads by itself.
func (c *client) loadAll(base string) int {
	c.t.Helper()
	part := c.nobody()
	part.http, part.fragment = c.http, true
	seen, next := map[string]bool{base: true}, []string{base}
	for _, step := range []string{"picture", "compose", "size", "grid", "marks"} {
		next = append(next, base+"?step="+step)
	}
	loaded := 0
	for ; len(next) > 0; next = next[1:] {
		d, status := c.read(next[0])
		loaded++
		if status >= http.StatusBadRequest {
			c.t.Errorf("%s: %d; pressed on a page of %s", next[0], status, base)
			continue
		}
		if alarm := regexp.MustCompile(`role="alert"[^>]*>[^<]*\S`).FindString(d.body); alarm != "" {
			c.t.Errorf("%s: an alarm that nobody caused: %s", next[0], alarm)
		}
		for n := range d.root.Descendants() {
			at, by := attr(n, "hx-get"), attr(n, "hx-trigger")
			if at == "" || !regexp.MustCompile(`\b(load|revealed|every)\b`).MatchString(by) {
				continue
			}
			if a := part.get(at); a.status >= http.StatusBadRequest {
				c.t.Errorf("%s on %s: %d", at, next[0], a.status)
			}
		}
		for _, a := range nodes(d.root, "a") {
			at, _, _ := strings.Cut(attr(a, "href"), "#")
			path, _, _ := strings.Cut(at, "?")
			if strings.HasPrefix(path+"/", base+"/") && !seen[path] && !regexp.MustCompile(`\.\w+$`).MatchString(path) {
				seen[path] = true
				next = append(next, at)
			}
		}
	}
	return loaded
}

// A form has so many parts at most, each with a name: twenty thousand hold no files open.
func TestFormsOfManyParts(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	send := func(name func(int) string, n int) answer {
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		for i := range n {
			part, err := w.CreateFormFile(name(i), "p.jpg")
			if err != nil {
				t.Fatal(err)
			}
			part.Write([]byte("x"))
		}
		w.Close()
		return h.nobody().do(http.MethodPost, "/s/"+h.link+"/photo", w.FormDataContentType(), &body)
	}
	open := func() int {
		list, err := os.ReadDir("/proc/self/fd")
		if err != nil {
			t.Fatal(err)
		}
		return len(list)
	}
	before := open()
	send(func(i int) string { return fmt.Sprintf("f%d", i) }, 20_000).want(http.StatusUnprocessableEntity, "64 files and fields at most")
	send(func(int) string { return "" }, 20_000).want(http.StatusUnprocessableEntity, "")
	if more := open() - before; more > 200 {
		t.Errorf("%d files are open more", more)
	}
	owner := h.signIn("owner@quay.example")
	owner.post(h.address("/projects/{project}/check"), form{"student": fmt.Sprint(h.class.Students[0].ID)}, file{"photo", "p.jpg", h.sample.Photo}).location()
}

// Hundreds that send slowly by a link hold a few requests, and nobody else up.
func TestSlowBodies(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	at := strings.TrimPrefix(h.url, "http://")
	refused, waiting := 0, 0
	for range 200 {
		conn, err := net.Dial("tcp", at)
		if err != nil {
			t.Fatal(err)
		}
		defer conn.Close()
		fmt.Fprintf(conn, "POST /s/%s/photo HTTP/1.1\r\nHost: %s\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 10000000\r\n\r\n--x\r\n", h.link, at)
		conn.SetReadDeadline(time.Now().Add(300 * time.Millisecond))
		if b, _ := io.ReadAll(io.LimitReader(conn, 64)); strings.Contains(string(b), " 429 ") {
			refused++
		} else if len(b) == 0 {
			waiting++
		}
	}
	if waiting > 6 || refused < 190 {
		t.Errorf("of 200 slow bodies by one link %d are read and %d refused; want 6 read", waiting, refused)
	}
	h.nobody().get("/s/"+h.link).want(http.StatusOK, "Ada")
}

// A page that a classmate opened by the lesson's code says so to both, and on the wall.
func TestOpenOnTwoTablets(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ada, mate, teacher := h.nobody(), h.nobody(), h.signIn("owner@quay.example")
	now := "/s/" + h.link + "/now"
	ada.get("/s/"+h.link).want(http.StatusOK, "Ada")
	for range 3 {
		ada.get(now).want(http.StatusOK, `"twice":false`)
	}
	wall := h.address("/projects/{project}/wall")
	if a := teacher.get(wall); a.says("open on two tablets") {
		t.Error("one tablet is said to be two")
	}
	mate.get("/s/"+h.link).want(http.StatusOK, "Ada")
	mate.get(now).want(http.StatusOK, `"twice":true`)
	ada.get(now).want(http.StatusOK, `"twice":true`)
	teacher.get(wall).want(http.StatusOK, "open on two tablets")
	s := h.open(390, 844)
	s.visit("/s/" + h.link + "?box=A1")
	s.see("#own-twice", "open on another tablet")
}

// A code is guarded before it is known whether it is right: the right one among many
// wrong ones, tried at once, is slowed as they are.
func TestGuessingCodes(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.post(h.address("/projects/{project}/links/code"), form{"do": "make"}).location()
	page := c.get(h.address("/projects/{project}/links/screen"))
	right := regexp.MustCompile(`The code: ([A-Z]{3} [A-Z]{3})"`).FindStringSubmatch(page.body)[1]
	var all sync.WaitGroup
	var judged, told atomic.Int32
	for i := range 200 {
		all.Go(func() {
			switch a := h.nobody().post("/go", form{"code": fmt.Sprintf("ZZZ%03d", i)}); a.status {
			case http.StatusUnprocessableEntity:
				judged.Add(1)
			case http.StatusTooManyRequests:
				told.Add(1)
			default:
				t.Errorf("a wrong code: %d", a.status)
			}
		})
	}
	all.Wait()
	if judged.Load() > 75 || told.Load() < 100 {
		t.Errorf("of 200 at once %d were judged, %d told to wait", judged.Load(), told.Load())
	}
	began := time.Now()
	h.nobody().post("/go", form{"code": right}).want(http.StatusOK, "Bryn")
	if took := time.Since(began); took < 900*time.Millisecond {
		t.Errorf("the right code among wrong ones is answered after %v; want late", took)
	}
}

// Five wrong codes a minute of an account's second step, however many come at once; the
// browser that its teacher signed in on before has its own.
func TestGuessingSecondSteps(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx := t.Context()
	known := h.signIn("other@quay.example")
	me, err := h.db.TeacherByAddress(ctx, "other@quay.example")
	if err != nil {
		t.Fatal(err)
	}
	key, err := store.NewSecond(me)
	if err != nil {
		t.Fatal(err)
	}
	now := time.Now()
	code := func(at time.Time) string {
		letters, err := totp.GenerateCode(key.Secret(), at)
		if err != nil {
			t.Fatal(err)
		}
		return letters
	}
	if _, err := h.db.SetSecond(ctx, me.ID, key.Secret(), code(now.Add(-30*time.Second)), now); err != nil {
		t.Fatal(err)
	}
	first := func(c *client) *client {
		c.post("/signin", form{"email": "other@quay.example", "password": password}).location()
		return c
	}
	thief := first(h.nobody())
	var all sync.WaitGroup
	var judged atomic.Int32
	for i := range 60 {
		all.Go(func() {
			mine := h.nobody()
			mine.http.Jar = thief.http.Jar
			if a := mine.post("/signin/second", form{"code": fmt.Sprintf("%06d", i)}); a.status == http.StatusUnprocessableEntity {
				judged.Add(1)
			} else if a.status != http.StatusTooManyRequests {
				t.Errorf("a wrong code: %d", a.status)
			}
		})
	}
	all.Wait()
	if n := judged.Load(); n > 5 {
		t.Errorf("%d of 60 wrong codes at once were judged; want 5 at most", n)
	}
	known.post("/signout", nil)
	if at := first(known).post("/signin/second", form{"code": code(now)}).location(); at != "/" {
		t.Errorf("the teacher's own browser is led to %q", at)
	}
}
