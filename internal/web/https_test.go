package web

import (
	"bytes"
	"context"
	"crypto/tls"
	"io"
	"log"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"zestysketch/internal/browser"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/reach"
	"zestysketch/internal/store"
	"zestysketch/internal/watch"
	"zestysketch/internal/web/kit"
	"zestysketch/internal/web/trust"
)

// A tablet that got the school's own root by /trust opens a student's page by https
// without a warning: the context is secure, so that the page goes on without a
// network and camera and clipboard may be used; one that has it not is refused.
func TestReached(t *testing.T) {
	h := newHouse(t)
	dir := t.TempDir()
	own, err := reach.OpenAuthority(filepath.Join(dir, "authority"), []string{"127.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	cert, key, err := own.Certificate([]string{"127.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	files, err := reach.OpenFiles(cert, key, h.log)
	if err != nil {
		t.Fatal(err)
	}
	root, sum := own.Root()
	routes, err := New(h.db, h.log, Options{HTTPS: true, Root: trust.Root{File: root, Sum: sum}, Trouble: files.Trouble})
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	site := &http.Server{Handler: routes, TLSConfig: &tls.Config{GetCertificate: files.Get}, ErrorLog: log.New(io.Discard, "", 0)} // of who does not trust it
	go site.ServeTLS(l, "", "")
	defer site.Close()
	at := "https://" + l.Addr().String()
	// What a tablet fetches by http before it trusts anything.
	plain := httptest.NewServer(reach.ToHTTPS(0, routes))
	defer plain.Close()
	for path, want := range map[string]string{"/trust": "Where it goes", "/trust/root.crt": "BEGIN CERTIFICATE"} {
		res, err := http.Get(plain.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		var got bytes.Buffer
		got.ReadFrom(res.Body)
		res.Body.Close()
		if res.StatusCode != http.StatusOK || !strings.Contains(got.String(), want) {
			t.Errorf("%s by http: %d", path, res.StatusCode)
		}
		if path == "/trust/root.crt" && !bytes.Equal(got.Bytes(), root) {
			t.Error("another root is handed out")
		}
	}

	stranger, err := browser.OpenAt(filepath.Join(dir, "stranger"))
	if err != nil {
		t.Fatal(err)
	}
	defer stranger.Close()
	if err := stranger.MustPage().Timeout(time.Minute).Navigate(at + "/signin"); err == nil || !strings.Contains(err.Error(), "CERT") {
		t.Errorf("who does not trust the root: %v; want refused for its certificate", err)
	}

	home := filepath.Join(dir, "tablet")
	nss := filepath.Join(home, ".pki", "nssdb")
	if err := os.MkdirAll(nss, 0o700); err != nil {
		t.Fatal(err)
	}
	rootFile := filepath.Join(dir, "root.crt")
	if err := os.WriteFile(rootFile, root, 0o600); err != nil {
		t.Fatal(err)
	}
	for _, args := range [][]string{{"-N", "--empty-password"}, {"-A", "-t", "C,,", "-n", "school", "-i", rootFile}} {
		if out, err := exec.Command("certutil", append([]string{"-d", "sql:" + nss}, args...)...).CombinedOutput(); err != nil {
			t.Fatalf("certutil: %v: %s", err, out)
		}
	}
	tablet, err := browser.OpenAt(home)
	if err != nil {
		t.Fatal(err)
	}
	defer tablet.Close()
	page := tablet.MustPage().Timeout(2 * time.Minute)
	page.MustNavigate(at + "/s/" + h.link + "?box=A1").MustWaitLoad()
	page.MustElement("#own")
	for what, ask := range map[string]string{"the context is secure": "() => isSecureContext", "a camera can be asked for": "() => Boolean(navigator.mediaDevices?.getUserMedia)",
		"the clipboard can be used": "() => Boolean(navigator.clipboard)", "the page is kept for times without a network": "() => navigator.serviceWorker.ready.then((r) => Boolean(r.active))"} {
		if got, err := page.Eval(ask); err != nil || !got.Value.Bool() {
			t.Errorf("%s: %v, %v; want true", what, got, err)
		}
	}
	page.MustReload().MustWaitLoad() // now it is kept
	site.Close()
	page.MustReload().MustWaitLoad()
	page.MustElementR("#own h1", "Ada")
}

// Browsers are told to come by https alone while all is well with the certificate,
// and are not while it has ended; a forged word for https is not believed.
func TestStrict(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	trusted, err := kit.ParseProxies("192.0.2.1")
	if err != nil {
		t.Fatal(err)
	}
	trouble := ""
	routes, err := New(h.db, h.log, Options{Proxy: trusted, Trouble: func(string, time.Time) string { return trouble }})
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		from, says, trouble string
		strict              bool
	}{
		{"192.0.2.1:1", "https", "", true},
		{"192.0.2.1:1", "https", "The certificate ended.", false},
		{"192.0.2.1:1", "http", "", false},
		{"203.0.113.5:1", "https", "", false},
	} {
		trouble = c.trouble
		r := httptest.NewRequest("GET", "/signin", nil)
		r.RemoteAddr = c.from
		r.Header.Set("X-Forwarded-Proto", c.says)
		w := httptest.NewRecorder()
		routes.ServeHTTP(w, r)
		if got := w.Header().Get("Strict-Transport-Security"); (got != "") != c.strict {
			t.Errorf("%s says %q, %q: told %q; want told %v", c.from, c.says, c.trouble, got, c.strict)
		}
	}
}

// Administrators read on Today what is wrong with the certificate, and which disk is
// nearly full, once for several folders of it; others do not.
func TestTodayWarns(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	disk := watch.Disk{Folder: "/srv/zesty", Free: 300 << 20, Total: 200 << 30}
	backups := disk
	backups.Folder = "/srv/backups"
	routes, err := New(h.db, h.log, Options{Disks: func() []watch.Disk {
		return []watch.Disk{disk, backups, {Folder: "/large", Free: 90 << 30, Total: 100 << 30}}
	},
		Trouble: func(string, time.Time) string { return "The certificate of this program ended." }})
	if err != nil {
		t.Fatal(err)
	}
	site := httptest.NewServer(routes)
	defer site.Close()
	h.url = site.URL
	page := h.signIn("owner@quay.example").get("/").want(http.StatusOK, "The disk of /srv/zesty has only 300.0 MB left")
	if page.says("/srv/backups") || page.says("/large") || !page.says("certificate of this program ended") {
		t.Error("one disk is told of twice, a good one too, or nothing of the certificate")
	}
	if other := h.signIn("other@quay.example").get("/").want(http.StatusOK, "Today"); other.says("has only") || other.says("certificate") {
		t.Error("who is no administrator is told")
	}
}

// alone returns a house on a database server of its own, which may be stopped.
func alone(t *testing.T) (*house, *mariadb.Server) {
	server, err := mariadb.Start(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	h := &house{t: t, errors: &bytes.Buffer{}}
	h.log = slog.New(slog.NewTextHandler(h.errors, nil))
	if h.db, err = store.Open(t.Context(), server.DSN()); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { h.db.Close() })
	if _, err := h.db.AddTeacher(t.Context(), "Quay Lane", "owner@quay.example", "Owner", password); err != nil {
		t.Fatal(err)
	}
	routes, err := New(h.db, h.log, Options{})
	if err != nil {
		t.Fatal(err)
	}
	site := httptest.NewServer(routes)
	t.Cleanup(site.Close)
	h.url = site.URL
	return h, server
}

// What is kept by a page's script while the database is away is sent again by it, as
// it was written, and is there when the database is back.
func TestAwayPages(t *testing.T) {
	h, server := alone(t)
	s := h.open(1280, 800)
	s.visit("/signin")
	s.page.MustElement("#email").MustInput("owner@quay.example")
	s.page.MustElement("#password").MustInput(password)
	s.press("button", "Sign in")
	s.see("h1", "Today")
	s.visit("/account")
	s.page.MustElement("#name").MustSelectAllText().MustInput("Anna of the quay")
	if err := syscall.Kill(server.PID(), syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	// What is asked while it dies, or by a connection of before, may be answered "unsure": each that stands idle is asked.
	for away := 0; away < 40; time.Sleep(10 * time.Millisecond) {
		if away++; !store.Away(h.db.Reach(t.Context())) {
			away = 0
		}
	}
	s.page.MustElement("form[action='/account'] button").MustClick()
	s.see("body", "away for a moment")
	kept := make(chan struct{})
	ctx, end := context.WithCancel(t.Context())
	go func() { defer close(kept); server.Keep(ctx, func(error) {}) }()
	s.see(".kept", "✓")
	if owner := h.teacher("owner@quay.example"); owner.Name != "Anna of the quay" {
		t.Errorf("kept %q", owner.Name)
	}
	end()
	<-kept
	if err := server.Stop(); err != nil {
		t.Error(err)
	}
}

// While the database is away a form's words stay on the page and are sent again,
// passwords are shown nowhere, and pages ask for themselves again.
func TestAwayForms(t *testing.T) {
	h, server := alone(t)
	c := h.signIn("owner@quay.example")
	if err := server.Stop(); err != nil {
		t.Fatal(err)
	}
	page := c.get("/").want(http.StatusServiceUnavailable, "database is away")
	if page.header.Get("Retry-After") == "" || page.header.Get("Refresh") == "" {
		t.Errorf("the page is not asked for again: %v", page.header)
	}
	kept := c.post("/classes", form{"class_name": "8 <Quay>"}).want(http.StatusServiceUnavailable, "sent again by itself")
	if !kept.says(`value="8 &lt;Quay&gt;"`) || !kept.says(`action="/classes"`) {
		t.Error("what was written is not on the page")
	}
	if door := h.nobody().post("/signin", form{"email": "owner@quay.example", "password": "secret words"}).want(http.StatusServiceUnavailable, ""); door.says("secret words") {
		t.Error("a password is shown")
	}
	h.nobody().get("/readyz").want(http.StatusServiceUnavailable, "")
	h.nobody().get("/healthz").want(http.StatusOK, "")
	if !store.Away(h.db.Reach(t.Context())) {
		t.Error("a stopped database can be reached")
	}
	if logged := h.errors.String(); !strings.Contains(logged, "the database is away") || strings.Contains(logged, "quay.example") || strings.Contains(logged, "secret") {
		t.Errorf("logged: %s", logged)
	}
}
