package web

import (
	"bufio"
	"bytes"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"os"
	"strings"
	"testing"
	"time"
)

// Nothing of an upload outlives its request: not on any route that takes files,
// not where the client hangs up in the middle, and it never has a name on disk.
func TestUploadsLeaveNothing(t *testing.T) {
	folder := t.TempDir()
	t.Setenv("TMPDIR", folder)
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	large := append(append([]byte{}, h.sample.Picture...), make([]byte, 9<<20)...)
	strange := func() (names []string) {
		files, err := os.ReadDir(folder)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range files {
			if !strings.HasPrefix(f.Name(), "zesty-") || strings.HasPrefix(f.Name(), "zesty-upload") {
				names = append(names, f.Name())
			}
		}
		return names
	}
	left := func(after string) {
		t.Helper()
		// Whoever hung up is still being read for a moment, and not every disk has files without a name.
		for until := time.Now().Add(5 * time.Second); len(strange()) > 0; time.Sleep(20 * time.Millisecond) {
			if time.Now().After(until) {
				t.Fatalf("after %s there is %v", after, strange())
			}
		}
	}
	for path, field := range map[string]string{"/library": "picture", "/projects": "picture", "/projects/{project}/picture": "picture", "/projects/{project}/plan.json": "plan",
		"/projects/{project}/log": "photo", "/projects/{project}/check": "photo", "/projects/{project}/finish/tiles": "photo", "/projects/{project}/thumbnails": "photo", "/classes/{class}/roster": "list"} {
		c.post(h.address(path), form{"words": "A photo."}, file{field, "large.png", large})
		left(path)
	}
	// A client that hangs up: the headers and a part of the body, and no more.
	site, err := url.Parse(h.url)
	if err != nil {
		t.Fatal(err)
	}
	for range 3 {
		conn, err := net.Dial("tcp", site.Host)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(conn, "POST /library HTTP/1.1\r\nHost: %s\r\nCookie: zesty=%s\r\nContent-Type: multipart/form-data; boundary=b\r\nContent-Length: 20000000\r\n\r\n", site.Host, c.cookie(site))
		fmt.Fprint(conn, "--b\r\nContent-Disposition: form-data; name=\"picture\"; filename=\"p.jpg\"\r\n\r\n")
		conn.Write(make([]byte, 2<<20))
		conn.Close()
	}
	c.get("/library").want(http.StatusOK, "Pictures")
	left("hanging up")
}

func (c *client) cookie(site *url.URL) string {
	for _, k := range c.http.Jar.Cookies(site) {
		if k.Name == "zesty" {
			return k.Value
		}
	}
	return ""
}

// Strangers are answered before their body is read: the answer comes although
// only the headers were sent.
func TestStrangersAreNotRead(t *testing.T) {
	h := newHouse(t)
	site, err := url.Parse(h.url)
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range map[string]int{"/s/nobodys/ticks": http.StatusNotFound,
		"/s/nobodys/hand": http.StatusNotFound, "/library": http.StatusSeeOther,
		"/projects/1/check": http.StatusSeeOther, "/nowhere": http.StatusNotFound} {
		conn, err := net.Dial("tcp", site.Host)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(conn, "POST %s HTTP/1.1\r\nHost: %s\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 31000000\r\n\r\n", path, site.Host)
		res, err := http.ReadResponse(bufio.NewReader(conn), nil)
		if err != nil || res.StatusCode != want {
			t.Errorf("%s: %v, %v; want %d at once", path, res, err, want)
		}
		conn.Close()
	}
}

// Every route takes as much as it needs, and says so in words when it is more.
func TestLimits(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	words := func(n int) string { return strings.Repeat("x", n) }
	h.nobody().post("/s/"+h.link+"/ticks", form{"label": "A1", "on": "1", "more": words(2 << 10)}).want(http.StatusUnprocessableEntity, "more than this form takes")
	c.post(h.address("/projects/{project}/students/{student}/ticks"), form{"label": "A1", "on": "1", "more": words(2 << 10)}).want(http.StatusUnprocessableEntity, "more than this form takes")
	c.post(h.address("/classes/{class}/name"), form{"name": words(300 << 10)}).want(http.StatusUnprocessableEntity, "more than this form takes")
	c.post(h.address("/classes/{class}/name"), form{"name": words(300 << 10)}, file{"list", "l.csv", []byte("Ada")}).want(http.StatusUnprocessableEntity, "more than this form takes")
	c.post(h.address("/classes/{class}/roster"), nil, file{"list", "l.csv", bytes.Repeat([]byte("Ada\n"), 3<<20)}).want(http.StatusUnprocessableEntity, "larger than 8 MB")
	c.post("/library", nil, file{"picture", "p.png", make([]byte, 41<<20)}).want(http.StatusUnprocessableEntity, "larger than 40 MB")
}
