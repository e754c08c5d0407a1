package reach

import (
	"bytes"
	"context"
	"crypto/tls"
	"crypto/x509"
	"encoding/binary"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"golang.org/x/crypto/acme/autocert"
	"golang.org/x/net/dns/dnsmessage"

	"zestysketch/internal/ports"
)

func quiet() *slog.Logger { return slog.New(slog.DiscardHandler) }

// The school's own root is believed for the school's names and its own networks, and
// for nothing else, as crypto/x509 and OpenSSL check it (RFC 5280, 4.2.1.10).
func TestAuthority(t *testing.T) {
	dir := t.TempDir()
	hosts := []string{"draw.quay.example", "192.168.1.20"}
	a, err := OpenAuthority(dir, hosts)
	if err != nil {
		t.Fatal(err)
	}
	cert, key, err := a.Certificate(hosts)
	if err != nil {
		t.Fatal(err)
	}
	first, _ := os.ReadFile(cert)
	if _, _, err := a.Certificate(hosts[:1]); err != nil {
		t.Error(err)
	}
	if again, _ := os.ReadFile(cert); !bytes.Equal(first, again) {
		t.Error("a good certificate was made anew")
	}
	if info, err := os.Stat(key); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the key can be read by others: %v, %v", info.Mode(), err)
	}
	if _, _, err := a.Certificate([]string{"bank.example"}); err == nil || !strings.Contains(err.Error(), "not made for bank.example") {
		t.Errorf("the root speaks for a name it was not made for: %v", err)
	}
	if _, _, err := a.Certificate([]string{"203.0.113.9"}); err == nil {
		t.Error("the root speaks for an address outside the school's networks")
	}
	if again, err := OpenAuthority(dir, nil); err != nil || !again.root.Equal(a.root) {
		t.Errorf("opened again it has another root: %v", err)
	}
	out, err := exec.Command("openssl", "verify", "-CAfile", filepath.Join(dir, rootFile), "-verify_hostname", "draw.quay.example", cert).CombinedOutput()
	if err != nil || !strings.Contains(string(out), "OK") {
		t.Errorf("openssl says %s, %v", out, err)
	}
	byAddress := t.TempDir()
	alone, _ := pair(t, byAddress, "192.168.1.20")
	out, err = exec.Command("openssl", "verify", "-CAfile", filepath.Join(byAddress, rootFile), "-verify_ip", "192.168.1.20", alone).CombinedOutput()
	if err != nil || !strings.Contains(string(out), "OK") {
		t.Errorf("by an address alone openssl says %s, %v", out, err)
	}
	if os.WriteFile(filepath.Join(dir, rootFile), []byte("x"), 0o600) != nil {
		t.Fatal("cannot write")
	}
	if _, err := OpenAuthority(dir, nil); err == nil || !strings.Contains(err.Error(), "PEM") {
		t.Errorf("a damaged root: %v", err)
	}
}

// pair writes a certificate of its own making and returns its files.
func pair(t *testing.T, dir string, hosts ...string) (cert, key string) {
	t.Helper()
	a, err := OpenAuthority(dir, hosts)
	if err != nil {
		t.Fatal(err)
	}
	if cert, key, err = a.Certificate(hosts); err != nil {
		t.Fatal(err)
	}
	return cert, key
}

// What is wrong with a certificate is said, with what to do; renewed files are taken,
// half written ones are not.
func TestFiles(t *testing.T) {
	dir := t.TempDir()
	cert, key := pair(t, dir, "draw.quay.example")
	f, err := OpenFiles(cert, key, quiet())
	if err != nil {
		t.Fatal(err)
	}
	now := time.Now()
	for _, c := range []struct {
		host string
		at   time.Time
		want string
	}{
		{"draw.quay.example", now, ""},
		{"draw.quay.example:8443", now, ""},
		{"192.168.1.20:8443", now, "not for 192.168.1.20"},
		{"[fd00::1]:8443", now, "not for fd00::1"},
		{"draw.quay.example", now.AddDate(2, 0, 0), "ended on"},
		{"draw.quay.example", now.Add(-2 * time.Hour), "this machine's clock"},
		{"draw.quay.example", now.AddDate(0, 0, certDays-5), "Renew it in time"},
	} {
		if got := f.Trouble(c.host, c.at); got != c.want && (c.want == "" || !strings.Contains(got, c.want)) {
			t.Errorf("%s at %v: %q; want %q", c.host, c.at, got, c.want)
		}
	}
	before, _ := f.Get(nil)
	later := func() {
		f.mu.Lock()
		f.looked = time.Time{}
		f.mu.Unlock()
	}
	touch := func(path string, at time.Time) {
		if err := os.Chtimes(path, at, at); err != nil {
			t.Fatal(err)
		}
	}
	good, _ := os.ReadFile(cert)
	if err := os.WriteFile(cert, good[:len(good)/2], 0o600); err != nil {
		t.Fatal(err)
	}
	touch(cert, now.Add(time.Minute))
	later()
	if got, err := f.Get(nil); err != nil || got != before {
		t.Errorf("half a file was taken: %v", err)
	}
	os.Remove(cert)
	fresh, freshKey := pair(t, dir, "draw.quay.example")
	touch(fresh, now.Add(2*time.Minute))
	touch(freshKey, now.Add(2*time.Minute))
	later()
	if got, err := f.Get(nil); err != nil || got == before {
		t.Errorf("a renewed certificate was not taken: %v", err)
	}
	other, _ := pair(t, t.TempDir(), "x.example")
	if _, err := OpenFiles(other, key, quiet()); err == nil || !strings.Contains(err.Error(), "wanted both as PEM") {
		t.Errorf("another's key: %v", err)
	}
	if _, err := OpenFiles(filepath.Join(dir, "no"), key, quiet()); err == nil {
		t.Error("no file is a certificate")
	}
}

func TestToHTTPS(t *testing.T) {
	open := http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { io.WriteString(w, "open") })
	for _, c := range []struct {
		port            int
		host, at, leads string
	}{
		{8443, "draw.quay.example:8080", "/s/abc?box=A1", "https://draw.quay.example:8443/s/abc?box=A1"},
		{443, "draw.quay.example", "/", "https://draw.quay.example/"},
		{443, "[fd00::1]:80", "/", "https://[fd00::1]/"},
		{8443, "draw.quay.example", "/trust/root.crt", ""},
	} {
		w := httptest.NewRecorder()
		r := httptest.NewRequest("POST", c.at, nil)
		r.Host = c.host
		ToHTTPS(c.port, open).ServeHTTP(w, r)
		if got := w.Header().Get("Location"); got != c.leads || c.leads != "" && w.Code != http.StatusPermanentRedirect {
			t.Errorf("%s%s leads to %q, %d; want %q", c.host, c.at, got, w.Code, c.leads)
		}
	}
}

func TestAddresses(t *testing.T) {
	at := func(s string) net.Addr {
		a, err := net.ResolveTCPAddr("tcp", s)
		if err != nil {
			t.Fatal(err)
		}
		return a
	}
	for _, c := range []struct {
		at    string
		https bool
		want  string
	}{{"192.168.1.20:8080", false, "http://192.168.1.20:8080"}, {"192.168.1.20:443", true, "https://192.168.1.20"}, {"[fd00::1]:80", false, "http://[fd00::1]"}} {
		if got := Addresses(at(c.at), c.https); len(got) != 1 || got[0] != c.want {
			t.Errorf("%s: %q; want %q", c.at, got, c.want)
		}
	}
	all := Addresses(at(":8080"), false)
	if len(all) == 0 {
		t.Fatal("a machine without an address")
	}
	for _, a := range all {
		if strings.Contains(a, "0.0.0.0") || strings.Contains(a, "[::]") {
			t.Errorf("%s is no address that others reach", a)
		}
	}
}

// memory is a cache of certificates.
type memory struct{ sync.Map }

func (m *memory) Get(_ context.Context, key string) ([]byte, error) {
	if b, ok := m.Load(key); ok {
		return b.([]byte), nil
	}
	return nil, autocert.ErrCacheMiss
}
func (m *memory) Put(_ context.Context, key string, b []byte) error { m.Store(key, b); return nil }
func (m *memory) Delete(_ context.Context, key string) error        { m.Map.Delete(key); return nil }

// A certificate is fetched from a real ACME server on loopback, which looks whether
// the name is ours: pebble, by the people who keep the largest public authority.
func TestACME(t *testing.T) {
	const name = "draw.quay.example"
	dir := t.TempDir()
	bin := filepath.Join(dir, "pebble")
	build := exec.Command("go", "install", "github.com/letsencrypt/pebble/v2/cmd/pebble@v2.10.1")
	build.Env = append(os.Environ(), "GOBIN="+dir, "GOFLAGS=")
	if out, err := build.CombinedOutput(); err != nil {
		t.Fatalf("building pebble: %v: %s", err, out)
	}
	site, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	// Its own certificate, by an authority of the machine's own names.
	own, err := OpenAuthority(filepath.Join(dir, "own"), []string{"127.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	cert, key, err := own.Certificate([]string{"127.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	api, manage := freePort(t), freePort(t)
	config := fmt.Sprintf(`{"pebble": {"listenAddress": "127.0.0.1:%d", "managementListenAddress": "127.0.0.1:%d", "certificate": %q, "privateKey": %q,
		"httpPort": %d, "tlsPort": %d, "ocspResponderURL": "", "externalAccountBindingRequired": false}}`, api, manage, cert, key, freePort(t), site.Addr().(*net.TCPAddr).Port)
	file := filepath.Join(dir, "pebble.json")
	if err := os.WriteFile(file, []byte(config), 0o600); err != nil {
		t.Fatal(err)
	}
	pebble := exec.Command(bin, "-config", file, "-dnsserver", nameserver(t))
	pebble.Env = append(os.Environ(), "PEBBLE_VA_NOSLEEP=1", "PEBBLE_WFE_NONCEREJECT=0")
	var said bytes.Buffer
	pebble.Stdout, pebble.Stderr = &said, &said
	if err := pebble.Start(); err != nil {
		t.Fatal(err)
	}
	defer func() { pebble.Process.Kill(); pebble.Wait() }()

	for until := time.Now().Add(20 * time.Second); ; time.Sleep(50 * time.Millisecond) {
		if c, err := net.Dial("tcp", fmt.Sprintf("127.0.0.1:%d", api)); err == nil {
			c.Close()
			break
		}
		if time.Now().After(until) {
			t.Fatalf("pebble does not listen: %s", &said)
		}
	}
	kept, failed := &memory{}, bytes.Buffer{}
	a, err := NewACME([]string{name}, "", fmt.Sprintf("https://127.0.0.1:%d/dir", api), filepath.Join(dir, "own", rootFile), kept, slog.New(slog.NewTextHandler(&failed, nil)))
	if err != nil {
		t.Fatal(err)
	}
	server := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { io.WriteString(w, "drawn") }),
		TLSConfig: &tls.Config{GetCertificate: a.Get, NextProtos: Protocols}, ErrorLog: slog.NewLogLogger(slog.DiscardHandler, 0)}
	go server.ServeTLS(site, "", "")
	defer server.Close()
	ask := func(host string) (*x509.Certificate, error) {
		c, err := tls.Dial("tcp", site.Addr().String(), &tls.Config{ServerName: host, InsecureSkipVerify: true})
		if err != nil {
			return nil, err
		}
		defer c.Close()
		return c.ConnectionState().PeerCertificates[0], nil
	}
	var got *x509.Certificate
	for until := time.Now().Add(20 * time.Second); time.Now().Before(until); time.Sleep(200 * time.Millisecond) {
		if got, err = ask(name); err == nil {
			break
		}
	}
	if err != nil || got.VerifyHostname(name) != nil || !strings.Contains(got.Issuer.CommonName, "Pebble") {
		t.Fatalf("%v, %v; %s; pebble said %s", got, err, &failed, &said)
	}
	if words := a.Trouble(name+":8443", time.Now()); words != "" {
		t.Errorf("of a fresh certificate is said %q", words)
	}
	if words := a.Trouble("192.168.1.20", time.Now()); !strings.Contains(words, "no certificate for 192.168.1.20") {
		t.Errorf("of another name is said %q", words)
	}
	if _, err := ask("other.example"); err == nil {
		t.Error("a certificate was fetched for a name that nobody asked for")
	}
	if _, err := kept.Get(context.Background(), name); err != nil {
		t.Errorf("it is not kept for other copies: %v", err)
	}
}

func freePort(t *testing.T) int {
	t.Helper()
	found, err := ports.Free(1)
	if err != nil {
		t.Fatal(err)
	}
	return found[0]
}

// nameserver answers over TCP that every name is this machine (RFC 1035, 4.2.2), and
// returns where.
func nameserver(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { l.Close() })
	go func() {
		for {
			conn, err := l.Accept()
			if err != nil {
				return
			}
			go name(conn)
		}
	}()
	return l.Addr().String()
}

func name(conn net.Conn) {
	defer conn.Close()
	for {
		var length [2]byte
		if _, err := io.ReadFull(conn, length[:]); err != nil {
			return
		}
		asked := make([]byte, binary.BigEndian.Uint16(length[:]))
		var m dnsmessage.Message
		if _, err := io.ReadFull(conn, asked); err != nil || m.Unpack(asked) != nil || len(m.Questions) != 1 {
			return
		}
		m.Response, m.RecursionAvailable, m.Additionals = true, true, nil
		if q := m.Questions[0]; q.Type == dnsmessage.TypeA {
			m.Answers = []dnsmessage.Resource{{Header: dnsmessage.ResourceHeader{Name: q.Name, Type: q.Type, Class: q.Class, TTL: 1}, Body: &dnsmessage.AResource{A: [4]byte{127, 0, 0, 1}}}}
		}
		out, err := m.Pack()
		if err != nil {
			return
		}
		conn.Write(append(binary.BigEndian.AppendUint16(nil, uint16(len(out))), out...))
	}
}
