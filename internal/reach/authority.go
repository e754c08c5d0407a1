package reach

import (
	"crypto"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// Authority is a school's own small authority: a root that its tablets are told to
// trust, which can speak for the school's names alone, and a certificate by it.
type Authority struct {
	dir  string
	root *x509.Certificate
	key  crypto.Signer
}

// The files of an authority's folder.
const (
	rootFile, rootKeyFile = "root.crt", "root.key"
	certFile, keyFile     = "server.crt", "server.key"
)

// How long the root and a certificate last: browsers take none for servers that
// last longer than 398 days (CA/Browser Forum, Baseline Requirements 6.3.2).
const (
	rootYears = 10
	certDays  = 390
	renewDays = 30
)

// home are the networks of schools and houses (RFC 1918; RFC 4193), whose addresses a
// root may speak for beside the names that it was made for.
var home = []string{"10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "127.0.0.0/8", "fc00::/7"}

// OpenAuthority opens the authority in a folder, or makes it there for some hosts:
// names, or addresses of the school's own network.
func OpenAuthority(dir string, hosts []string) (*Authority, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	a := &Authority{dir: dir}
	err := a.read()
	if errors.Is(err, fs.ErrNotExist) {
		err = a.make(hosts)
	}
	return a, err
}

func (a *Authority) path(name string) string { return filepath.Join(a.dir, name) }

func (a *Authority) read() error {
	cert, err := os.ReadFile(a.path(rootFile))
	if err != nil {
		return err
	}
	key, err := os.ReadFile(a.path(rootKeyFile))
	if err != nil {
		return err
	}
	c, _ := pem.Decode(cert)
	k, _ := pem.Decode(key)
	if c == nil || k == nil {
		return fmt.Errorf("%w: %s and %s are not PEM; remove both to have them made anew", ErrCertificate, a.path(rootFile), a.path(rootKeyFile))
	}
	if a.root, err = x509.ParseCertificate(c.Bytes); err != nil {
		return fmt.Errorf("%w: %s: %w", ErrCertificate, a.path(rootFile), err)
	}
	made, err := x509.ParsePKCS8PrivateKey(k.Bytes)
	if err != nil {
		return fmt.Errorf("%w: %s: %w", ErrCertificate, a.path(rootKeyFile), err)
	}
	signer, ok := made.(crypto.Signer)
	if !ok {
		return fmt.Errorf("%w: %s holds no key to sign with", ErrCertificate, a.path(rootKeyFile))
	}
	a.key = signer
	return nil
}

// make makes the root.
func (a *Authority) make(hosts []string) error {
	names, ips := parted(hosts)
	now := time.Now()
	t := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: "Zesty Sketch, this school's own root"},
		NotBefore: now.Add(-time.Hour), NotAfter: now.AddDate(rootYears, 0, 0),
		IsCA: true, BasicConstraintsValid: true, MaxPathLenZero: true, KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageCRLSign,
		// What it may speak for (RFC 5280, 4.2.1.10): a stolen one is of no use elsewhere.
		PermittedDNSDomainsCritical: true, PermittedDNSDomains: names,
	}
	if len(names) == 0 {
		t.PermittedDNSDomains = []string{"invalid"} // none at all (RFC 6761, 6.4)
	}
	for _, network := range home {
		_, in, _ := net.ParseCIDR(network) // constants
		t.PermittedIPRanges = append(t.PermittedIPRanges, in)
	}
	for _, ip := range ips {
		if !ip.IsPrivate() && !ip.IsLoopback() {
			bits := 8 * len(ip)
			t.PermittedIPRanges = append(t.PermittedIPRanges, &net.IPNet{IP: ip, Mask: net.CIDRMask(bits, bits)})
		}
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return err
	}
	made, err := x509.CreateCertificate(rand.Reader, t, t, key.Public(), key)
	if err != nil {
		return err
	}
	if err := writeKey(a.path(rootKeyFile), key); err != nil {
		return err
	}
	if err := writeWhole(a.path(rootFile), "CERTIFICATE", made, 0o644); err != nil {
		return err
	}
	return a.read()
}

// Certificate returns the files of a certificate for hosts, made anew where there is
// none for all of them, or it ends within a month.
func (a *Authority) Certificate(hosts []string) (cert, key string, err error) {
	cert, key = a.path(certFile), a.path(keyFile)
	if a.good(cert, hosts) {
		return cert, key, nil
	}
	names, ips := parted(hosts)
	now := time.Now()
	// Its own name is no host's: OpenSSL would take it for one that the root must allow.
	t := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: "Zesty Sketch in this school"}, DNSNames: names, IPAddresses: ips,
		NotBefore: now.Add(-time.Hour), NotAfter: now.AddDate(0, 0, certDays),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	own, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return "", "", err
	}
	made, err := x509.CreateCertificate(rand.Reader, t, a.root, own.Public(), a.key)
	if err != nil {
		return "", "", err
	}
	leaf, err := x509.ParseCertificate(made)
	if err != nil {
		return "", "", err
	}
	roots := x509.NewCertPool()
	roots.AddCert(a.root)
	for _, host := range hosts {
		if _, err := leaf.Verify(x509.VerifyOptions{Roots: roots, DNSName: host}); err != nil {
			return "", "", fmt.Errorf("%w: the root in %s was not made for %s: %w; remove the folder's files to have a new one made, and give it to the tablets again",
				ErrCertificate, a.dir, host, err)
		}
	}
	if err := writeKey(key, own); err != nil {
		return "", "", err
	}
	return cert, key, writeWhole(cert, "CERTIFICATE", made, 0o644)
}

// good reports whether a certificate is for all hosts, by this root, for a while.
func (a *Authority) good(path string, hosts []string) bool {
	b, err := os.ReadFile(path)
	if err != nil {
		return false
	}
	block, _ := pem.Decode(b)
	if block == nil {
		return false
	}
	c, err := x509.ParseCertificate(block.Bytes)
	if err != nil || c.CheckSignatureFrom(a.root) != nil || time.Now().AddDate(0, 0, renewDays).After(c.NotAfter) {
		return false
	}
	for _, host := range hosts {
		if c.VerifyHostname(host) != nil {
			return false
		}
	}
	return true
}

// Root returns the root, PEM, and its SHA-256 as people compare it.
func (a *Authority) Root() (file []byte, sum string) {
	s := sha256.Sum256(a.root.Raw)
	groups := make([]string, 0, len(s)/2)
	for i := 0; i < len(s); i += 2 {
		groups = append(groups, fmt.Sprintf("%02X%02X", s[i], s[i+1]))
	}
	return pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: a.root.Raw}), strings.Join(groups, " ")
}

// parted parts hosts into names and addresses.
func parted(hosts []string) (names []string, ips []net.IP) {
	for _, h := range hosts {
		if ip := net.ParseIP(h); ip != nil {
			if four := ip.To4(); four != nil {
				ip = four
			}
			ips = append(ips, ip)
		} else {
			names = append(names, h)
		}
	}
	return names, ips
}

func serial() *big.Int {
	b := make([]byte, 16)
	rand.Read(b) // never fails
	b[0] &= 0x7f
	return new(big.Int).SetBytes(b)
}

func writeKey(path string, key *ecdsa.PrivateKey) error {
	b, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return err
	}
	return writeWhole(path, "PRIVATE KEY", b, 0o600)
}

// writeWhole writes a PEM file that is never seen half.
func writeWhole(path, kind string, b []byte, mode fs.FileMode) error {
	if err := os.WriteFile(path+".new", pem.EncodeToMemory(&pem.Block{Type: kind, Bytes: b}), mode); err != nil {
		return err
	}
	return os.Rename(path+".new", path)
}
