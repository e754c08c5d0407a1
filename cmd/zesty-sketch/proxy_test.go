package main

import (
	"bytes"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"
)

// freePort returns a port of this machine that nobody has.
func freePort(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	_, port, _ := net.SplitHostPort(l.Addr().String())
	return port
}

// The samples for proxies are taken by those that Debian has, and the program behind them is reached by https, knows
// that it is, and takes what is large; http is sent on.
func TestProxySamples(t *testing.T) {
	at := "127.0.0.1:" + freePort(t)
	_, stop := start(t, regexp.MustCompile(`asks for is`), "serve", "--data", t.TempDir(), "--addr", at, "--https", "--proxy", "127.0.0.1")
	defer stop()
	dir := t.TempDir()
	if code, _, stderr := call("certificate", "--dir", dir, "--names", "draw.school.example"); code != 0 {
		t.Fatal(stderr)
	}
	cert, err1 := os.ReadFile(filepath.Join(dir, "server.crt"))
	key, err2 := os.ReadFile(filepath.Join(dir, "server.key"))
	pem, certFile, keyFile := filepath.Join(dir, "both.pem"), filepath.Join(dir, "server.crt"), filepath.Join(dir, "server.key")
	if err := errors.Join(err1, err2, os.WriteFile(pem, append(cert, key...), 0o600)); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		sample string
		fill   func(text, http, https string) string
		begin  func(file string) *exec.Cmd
	}{
		{"haproxy.cfg", func(s, http, https string) string {
			return strings.NewReplacer("bind :443", "bind 127.0.0.1:"+https, "bind :80", "bind 127.0.0.1:"+http, "/etc/haproxy/draw.pem", pem).Replace(s)
		}, func(file string) *exec.Cmd { return exec.Command("haproxy", "-db", "-f", file) }},
		{"nginx.conf", func(s, http, https string) string {
			s = strings.NewReplacer("listen 443", "listen 127.0.0.1:"+https, "listen 80", "listen 127.0.0.1:"+http,
				"/etc/nginx/draw.pem", certFile, "/etc/nginx/draw.key", keyFile).Replace(s)
			return fmt.Sprintf("daemon off; pid %s/nginx.pid; error_log stderr; events {}\nhttp { access_log off; client_body_temp_path %s/body; proxy_temp_path %s/proxy;\nfastcgi_temp_path %s/f; uwsgi_temp_path %s/u; scgi_temp_path %s/s;\n%s}\n", dir, dir, dir, dir, dir, dir, s)
		}, func(file string) *exec.Cmd { return exec.Command("nginx", "-c", file, "-p", dir) }},
		{"Caddyfile", func(s, http, https string) string {
			return fmt.Sprintf("{\nadmin off\nhttp_port %s\nhttps_port %s\n}\n", http, https) +
				strings.NewReplacer("/etc/caddy/draw.pem", certFile, "/etc/caddy/draw.key", keyFile).Replace(s)
		}, func(file string) *exec.Cmd {
			c := exec.Command("caddy", "run", "--adapter", "caddyfile", "--config", file)
			c.Env = append(os.Environ(), "HOME="+dir, "XDG_DATA_HOME="+dir, "XDG_CONFIG_HOME="+dir)
			return c
		}},
	} {
		text, err := os.ReadFile(filepath.Join("..", "..", "packaging", "proxy", c.sample))
		if err != nil {
			t.Fatal(err)
		}
		plain, safe := freePort(t), freePort(t)
		file := write(t, c.sample, []byte(c.fill(strings.ReplaceAll(string(text), "127.0.0.1:8080", at), plain, safe)))
		proxy := c.begin(file)
		var said bytes.Buffer
		proxy.Stdout, proxy.Stderr, proxy.WaitDelay = &said, &said, 2*time.Second
		if err := proxy.Start(); err != nil {
			t.Fatalf("%s: %v", c.sample, err)
		}
		throughProxy(t, c.sample, plain, safe)
		_ = proxy.Process.Signal(syscall.SIGTERM) // its own helpers end with it
		_ = proxy.Wait()
		if t.Failed() {
			t.Logf("%s said: %s", c.sample, said.String())
		}
	}
}

func throughProxy(t *testing.T, name, plain, safe string) {
	t.Helper()
	door := &http.Client{Timeout: 20 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }, Transport: &http.Transport{
		TLSClientConfig: &tls.Config{InsecureSkipVerify: true, ServerName: "draw.school.example"}, // the certificate is the test's own
	}}
	get := func(method, scheme, port, path string, body io.Reader) (*http.Response, string) {
		r, err := http.NewRequest(method, scheme+"://127.0.0.1:"+port+path, body)
		if err != nil {
			t.Fatal(err)
		}
		r.Host = "draw.school.example"
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		res, err := door.Do(r)
		if err != nil {
			return &http.Response{Header: http.Header{}}, err.Error()
		}
		defer res.Body.Close()
		text, _ := io.ReadAll(res.Body)
		return res, string(text)
	}
	for until := time.Now().Add(15 * time.Second); ; time.Sleep(100 * time.Millisecond) {
		if res, text := get("GET", "https", safe, "/readyz", nil); res.StatusCode == http.StatusOK {
			break
		} else if time.Now().After(until) {
			t.Errorf("%s: never ready: %d %s", name, res.StatusCode, text)
			return
		}
	}
	if res, text := get("GET", "https", safe, "/about", nil); res.StatusCode != http.StatusOK || res.Header.Get("Strict-Transport-Security") == "" || !strings.Contains(text, "Zesty Sketch") {
		t.Errorf("%s: %d, HSTS %q", name, res.StatusCode, res.Header.Get("Strict-Transport-Security"))
	}
	// Three megabytes are refused by the program in its own words, not by the proxy.
	if res, text := get("POST", "https", safe, "/signin", strings.NewReader("email="+strings.Repeat("x", 3<<20))); res.StatusCode >= 500 || !strings.Contains(text, "Zesty Sketch") {
		t.Errorf("%s: what is large is answered with %d, %.200s", name, res.StatusCode, text)
	}
	if res, _ := get("GET", "http", plain, "/about", nil); res.StatusCode < 301 || res.StatusCode > 308 || !strings.HasPrefix(res.Header.Get("Location"), "https://draw.school.example") {
		t.Errorf("%s: http is answered with %d to %q; want https", name, res.StatusCode, res.Header.Get("Location"))
	}
}
