package reach

import (
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"strings"
	"sync"
	"time"
)

// Files is a certificate from two files, which is read again when they are renewed.
type Files struct {
	cert, key string
	log       *slog.Logger

	mu     sync.Mutex
	now    *tls.Certificate // with its leaf
	read   [2]time.Time     // when the files were changed that it is of
	looked time.Time
}

// lookAgain is how often the files are looked at.
const lookAgain = 10 * time.Second

// ErrCertificate is wrapped by errors of certificates that cannot be used.
var ErrCertificate = errors.New("cannot use the certificate")

// OpenFiles reads a certificate, with those between it and its root, and its key,
// both PEM. A certificate that no browser believes, such as an expired one, is used
// all the same: Trouble says what is wrong with it.
func OpenFiles(cert, key string, log *slog.Logger) (*Files, error) {
	f := &Files{cert: cert, key: key, log: log}
	if err := f.load(); err != nil {
		return nil, err
	}
	f.looked = time.Now()
	return f, nil
}

func (f *Files) load() error {
	changed, err := f.changed()
	if err != nil {
		return err
	}
	pair, err := tls.LoadX509KeyPair(f.cert, f.key)
	if err != nil {
		return fmt.Errorf("%w in %s with the key in %s: %w; wanted both as PEM, the key without a password", ErrCertificate, f.cert, f.key, err)
	}
	if pair.Leaf == nil {
		if pair.Leaf, err = x509.ParseCertificate(pair.Certificate[0]); err != nil {
			return fmt.Errorf("%w in %s: %w", ErrCertificate, f.cert, err)
		}
	}
	f.now, f.read = &pair, changed
	return nil
}

func (f *Files) changed() (at [2]time.Time, err error) {
	for i, path := range []string{f.cert, f.key} {
		info, err := os.Stat(path)
		if err != nil {
			return at, fmt.Errorf("%w: %w", ErrCertificate, err)
		}
		at[i] = info.ModTime()
	}
	return at, nil
}

// Get returns the certificate of now. Files that were renewed badly, or are half
// written, are told of and the one before goes on.
func (f *Files) Get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if time.Since(f.looked) < lookAgain {
		return f.now, nil
	}
	f.looked = time.Now()
	if changed, err := f.changed(); err == nil && changed == f.read {
		return f.now, nil
	}
	if err := f.load(); err != nil {
		f.log.Error("the certificate was not renewed: the one before goes on", "error", err)
	} else {
		f.log.Info("the certificate was renewed")
	}
	return f.now, nil
}

// Trouble says what is wrong with the certificate of now for who calls this machine
// by a host's name; empty where all is well.
func (f *Files) Trouble(host string, now time.Time) string {
	f.mu.Lock()
	leaf := f.now.Leaf
	f.mu.Unlock()
	return trouble(leaf, host, now)
}

// soon is how long before its end a certificate is said to end.
const soon = 14 * 24 * time.Hour

func trouble(c *x509.Certificate, host string, now time.Time) string {
	host = bare(host)
	switch {
	case now.After(c.NotAfter):
		return "The certificate of this program ended on " + day(c.NotAfter) + ": browsers warn of it. Renew it; the new file is taken by itself."
	case now.Before(c.NotBefore):
		return "The certificate of this program begins on " + day(c.NotBefore) + " only: browsers warn of it. Look at this machine's clock, or at the certificate."
	case host != "" && c.VerifyHostname(host) != nil:
		return "The certificate of this program is for " + strings.Join(namesOf(c),
			", ") + " and not for " + host + ": browsers warn of it. Call the program by one of those names, or have the certificate made anew."
	case now.Add(soon).After(c.NotAfter):
		return "The certificate of this program ends on " + day(c.NotAfter) + ". Renew it in time; the new file is taken by itself."
	}
	return ""
}

func day(t time.Time) string { return t.UTC().Format("2 January 2006") }

// bare returns a host without its port and brackets.
func bare(host string) string {
	if i := strings.LastIndex(host, ":"); i > strings.LastIndex(host, "]") && strings.Count(host, ":") == 1 || strings.HasPrefix(host, "[") && i > strings.LastIndex(host, "]") {
		host = host[:i]
	}
	return strings.Trim(host, "[]")
}

// namesOf returns what a certificate is for.
func namesOf(c *x509.Certificate) []string {
	names := append([]string{}, c.DNSNames...)
	for _, ip := range c.IPAddresses {
		names = append(names, ip.String())
	}
	return names
}
