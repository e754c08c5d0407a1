package kit

import (
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/realclientip/realclientip-go"
)

// Proxies are the networks whose word is believed on where a request comes from
// and whether it came by https. Nobody else's is.
type Proxies []net.IPNet

// ParseProxies reads networks such as 10.0.0.0/8, or single addresses, with commas.
func ParseProxies(words string) (Proxies, error) {
	if words == "" {
		return nil, nil
	}
	nets, err := realclientip.AddressesAndRangesToIPNets(strings.FieldsFunc(words, func(c rune) bool { return c == ',' || c == ' ' })...)
	if err != nil {
		return nil, fmt.Errorf("wanted addresses or networks such as 10.0.0.0/8, with commas, got %q", words)
	}
	return nets, nil
}

// host returns the address at the other end of a request's connection, and whether
// it is a trusted proxy's.
func (p Proxies) host(r *http.Request) (host string, trusted bool) {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		host = r.RemoteAddr
	}
	ip := net.ParseIP(host)
	for _, network := range p {
		if ip != nil && network.Contains(ip) {
			return host, true
		}
	}
	return host, false
}

// From returns the address that a request comes from: of the connection, or
// where that is a trusted proxy's, the last one that it was not handed on by.
func (p Proxies) From(r *http.Request) string {
	host, trusted := p.host(r)
	if !trusted {
		return host
	}
	strategy, err := realclientip.NewRightmostTrustedRangeStrategy("X-Forwarded-For", p)
	if err != nil {
		return host
	}
	if real := strategy.ClientIP(r.Header, r.RemoteAddr); real != "" {
		return real
	}
	return host
}

// HTTPS reports whether the browser came by https: to this server, or to a trusted
// proxy before it, which says so.
func (p Proxies) HTTPS(r *http.Request) bool {
	if r.TLS != nil {
		return true
	}
	_, trusted := p.host(r)
	return trusted && r.Header.Get("X-Forwarded-Proto") == "https"
}

// strictFor is how long a browser comes by https alone after it was told so.
const strictFor = 180 * 24 * time.Hour

// Strict tells browsers that came by https to do so from now on (HSTS, RFC 6797),
// while all is well with the certificate: who is told so and then finds an expired
// one is shut out.
func (k *Kit) Strict(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if k.Proxies.HTTPS(r) && k.CertificateTrouble(r.Host, time.Now()) == "" {
			w.Header().Set("Strict-Transport-Security", fmt.Sprintf("max-age=%.0f", strictFor.Seconds()))
		}
		next.ServeHTTP(w, r)
	})
}

// CertificateTrouble says what is wrong with the certificate, empty for nothing.
func (k *Kit) CertificateTrouble(host string, now time.Time) string {
	if k.Certificate == nil {
		return ""
	}
	return k.Certificate(host, now)
}
