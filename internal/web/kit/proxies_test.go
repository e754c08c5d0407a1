package kit

import (
	"crypto/tls"
	"net/http/httptest"
	"testing"
)

// Only a proxy that is named is believed, and only about what stands before it.
func TestFrom(t *testing.T) {
	trusted, err := ParseProxies("10.0.0.0/8, 192.0.2.7")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		remote, forwarded, want string
		proxies                 Proxies
	}{
		{"203.0.113.5:1000", "198.51.100.1", "203.0.113.5", trusted},
		{"10.1.2.3:1000", "198.51.100.1", "198.51.100.1", trusted},
		{"10.1.2.3:1000", "8.8.8.8, 198.51.100.1, 10.9.9.9", "198.51.100.1", trusted},
		{"192.0.2.7:1000", "", "192.0.2.7", trusted},
		{"192.0.2.7:1000", "nonsense", "192.0.2.7", trusted},
		{"10.1.2.3:1000", "198.51.100.1", "10.1.2.3", nil},
		{"[2001:db8::1]:1000", "198.51.100.1", "2001:db8::1", trusted},
	} {
		r := httptest.NewRequest("GET", "/", nil)
		r.RemoteAddr = c.remote
		r.Header.Set("X-Forwarded-For", c.forwarded)
		if got := c.proxies.From(r); got != c.want {
			t.Errorf("%s handed on by %q: %s; want %s", c.remote, c.forwarded, got, c.want)
		}
	}
	if _, err := ParseProxies("the proxy"); err == nil {
		t.Error("nonsense is a proxy")
	}
}

// Whether a browser came by https is believed of a trusted proxy alone: anybody can
// write the header.
func TestHTTPS(t *testing.T) {
	trusted, err := ParseProxies("10.0.0.0/8")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		remote, says string
		direct, want bool
	}{
		{"10.1.2.3:1000", "https", false, true},
		{"10.1.2.3:1000", "http", false, false},
		{"10.1.2.3:1000", "", false, false},
		{"203.0.113.5:1000", "https", false, false},
		{"203.0.113.5:1000", "", true, true},
	} {
		r := httptest.NewRequest("GET", "/", nil)
		r.RemoteAddr = c.remote
		r.Header.Set("X-Forwarded-Proto", c.says)
		if c.direct {
			r.TLS = &tls.ConnectionState{}
		}
		if got := trusted.HTTPS(r); got != c.want {
			t.Errorf("%s that says %q, direct %v: %v; want %v", c.remote, c.says, c.direct, got, c.want)
		}
	}
}
