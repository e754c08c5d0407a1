package reach

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"log/slog"
	"net/http"
	"os"
	"time"

	"golang.org/x/crypto/acme"
	"golang.org/x/crypto/acme/autocert"
)

// ACME is a certificate from an authority by ACME (RFC 8555), renewed by itself.
type ACME struct {
	manager *autocert.Manager
	log     *slog.Logger
}

// NewACME returns the certificates of some names, kept in a cache. directory is the
// authority's address, empty for the usual public one; roots is a file of the roots
// by which the authority itself is believed, empty for the machine's.
func NewACME(names []string, email, directory, roots string, cache autocert.Cache, log *slog.Logger) (*ACME, error) {
	client := &acme.Client{DirectoryURL: directory}
	if roots != "" {
		b, err := os.ReadFile(roots)
		if err != nil {
			return nil, err
		}
		pool := x509.NewCertPool()
		if !pool.AppendCertsFromPEM(b) {
			return nil, fmt.Errorf("%w: no PEM certificate in %s", ErrCertificate, roots)
		}
		client.HTTPClient = &http.Client{Timeout: time.Minute, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool}}}
	}
	return &ACME{&autocert.Manager{Prompt: autocert.AcceptTOS, Cache: cache, HostPolicy: autocert.HostWhitelist(names...), Email: email, Client: client}, log}, nil
}

// Get returns the certificate for who says hello, fetched first where there is none.
func (a *ACME) Get(hello *tls.ClientHelloInfo) (*tls.Certificate, error) {
	c, err := a.manager.GetCertificate(hello)
	if err != nil && a.manager.HostPolicy(hello.Context(), hello.ServerName) == nil {
		a.log.Error("fetching a certificate", "name", hello.ServerName, "error", err)
	}
	return c, err
}

// HTTP answers the authority's questions over http, and next all others.
func (a *ACME) HTTP(next http.Handler) http.Handler { return a.manager.HTTPHandler(next) }

// Trouble says what is wrong with the certificate for a host; empty where all is well.
func (a *ACME) Trouble(host string, now time.Time) string {
	host = bare(host)
	if err := a.manager.HostPolicy(context.Background(), host); err != nil {
		return "This program has no certificate for " + host + ". Call it by one of the names that it was started with."
	}
	pair, err := a.manager.GetCertificate(&tls.ClientHelloInfo{ServerName: host, CipherSuites: []uint16{tls.TLS_ECDHE_ECDSA_WITH_AES_128_GCM_SHA256},
		SignatureSchemes: []tls.SignatureScheme{tls.ECDSAWithP256AndSHA256}, SupportedCurves: []tls.CurveID{tls.CurveP256}})
	if err != nil {
		return "The certificate could not be fetched or renewed: " + err.Error()
	}
	return trouble(pair.Leaf, host, now)
}

// Protocols are what a server offers that answers the authority's questions over TLS.
var Protocols = []string{"h2", "http/1.1", acme.ALPNProto}
