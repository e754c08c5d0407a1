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
	pem, certFile, keyFile := certificate(t, dir)
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
		plain, safe := freePort(t), freePort(t)
		file := write(t, c.sample, []byte(c.fill(strings.ReplaceAll(sample(t, c.sample), "127.0.0.1:8080", at), plain, safe)))
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

func sample(t *testing.T, name string) string {
	t.Helper()
	text, err := os.ReadFile(filepath.Join("..", "..", "packaging", "proxy", name))
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// certificate makes one in a folder and returns its files: both parts together, and each.
func certificate(t *testing.T, dir string) (both, cert, key string) {
	t.Helper()
	if code, _, stderr := call("certificate", "--dir", dir, "--names", "draw.school.example"); code != 0 {
		t.Fatal(stderr)
	}
	both, cert, key = filepath.Join(dir, "both.pem"), filepath.Join(dir, "server.crt"), filepath.Join(dir, "server.key")
	open, err1 := os.ReadFile(cert)
	secret, err2 := os.ReadFile(key)
	if err := errors.Join(err1, err2, os.WriteFile(both, append(open, secret...), 0o600)); err != nil {
		t.Fatal(err)
	}
	return both, cert, key
}

// ask asks an address in a host's name, whose certificate is the test's own.
func ask(t *testing.T, method, address, host string, body io.Reader) (*http.Response, string) {
	t.Helper()
	door := &http.Client{Timeout: 20 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }, Transport: &http.Transport{
		TLSClientConfig: &tls.Config{InsecureSkipVerify: true, ServerName: host},
	}}
	defer door.CloseIdleConnections()
	r, err := http.NewRequest(method, address, body)
	if err != nil {
		t.Fatal(err)
	}
	r.Host = host
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	res, err := door.Do(r)
	if err != nil {
		return &http.Response{Header: http.Header{}}, err.Error()
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(res.Body)
	return res, string(text)
}

func throughProxy(t *testing.T, name, plain, safe string) {
	t.Helper()
	get := func(method, scheme, port, path string, body io.Reader) (*http.Response, string) {
		return ask(t, method, scheme+"://127.0.0.1:"+port+path, "draw.school.example", body)
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

// Schools of two clusters behind one haproxy: each host's school is where the table says; while one moves it is
// read and not written; and where it went it is found at once, with its old cluster gone.
func TestSampleOfClusters(t *testing.T) {
	word, dir := regexp.MustCompile(`asks for is`), t.TempDir()
	pem, _, _ := certificate(t, dir)
	text, stops := sample(t, "clusters.cfg"), map[string]func() int{}
	for name, addr := range map[string]string{"one": "10.0.1", "two": "10.0.2"} {
		at := "127.0.0.1:" + freePort(t)
		_, stops[name] = start(t, word, "serve", "--data", t.TempDir(), "--addr", at, "--https", "--proxy", "127.0.0.1")
		text = strings.ReplaceAll(text, addr+".11:8080 check inter 2s", at+" check inter 200ms")
	}
	defer stops["one"]()
	table, socket := filepath.Join(dir, "schools.map"), filepath.Join(dir, "admin.sock")
	if err := os.WriteFile(table, []byte("quay.draw.example one\nmole.draw.example two:moving\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	safe := freePort(t)
	text = regexp.MustCompile(`(?m)^ +server .*-b .*\n`).ReplaceAllString(text, "")
	text = strings.NewReplacer("bind :443", "bind 127.0.0.1:"+safe, "bind :80", "bind 127.0.0.1:"+freePort(t), "/etc/haproxy/draw.pem", pem,
		"/etc/haproxy/schools.map", table, "/run/haproxy/admin.sock", socket).Replace(text)
	proxy := exec.Command("haproxy", "-db", "-f", write(t, "clusters.cfg", []byte(text)))
	proxy.Stderr = os.Stderr
	if err := proxy.Start(); err != nil {
		t.Fatal(err)
	}
	defer func() { _ = proxy.Process.Kill(); _ = proxy.Wait() }()

	answers := func(host, method string, want int, says string) {
		t.Helper()
		for until := time.Now().Add(15 * time.Second); ; time.Sleep(100 * time.Millisecond) {
			res, text := ask(t, method, "https://127.0.0.1:"+safe+"/about", host, strings.NewReader(""))
			if res.StatusCode == want && strings.Contains(text, says) {
				return
			}
			if time.Now().After(until) {
				t.Fatalf("%s %s: %d %.200s; want %d, %q", method, host, res.StatusCode, text, want, says)
			}
		}
	}
	const ours = "Zesty Sketch"
	answers("quay.draw.example", "GET", http.StatusOK, ours)
	answers("QUAY.draw.example:443", "POST", http.StatusNotFound, ours)
	answers("nowhere.draw.example", "GET", http.StatusNotFound, "no school at this address")
	answers("mole.draw.example", "GET", http.StatusOK, ours)
	answers("mole.draw.example", "POST", http.StatusServiceUnavailable, "moves to another machine")
	stops["two"]()
	answers("mole.draw.example", "GET", http.StatusServiceUnavailable, "")
	line, err := net.Dial("unix", socket)
	if err != nil {
		t.Fatal(err)
	}
	defer line.Close()
	fmt.Fprintf(line, "set map %s mole.draw.example one\n", table)
	answers("mole.draw.example", "GET", http.StatusOK, ours)
	answers("mole.draw.example", "POST", http.StatusNotFound, ours)
	answers("quay.draw.example", "GET", http.StatusOK, ours)
}
