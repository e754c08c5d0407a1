package main

import (
	"context"
	"crypto/tls"
	"errors"
	"flag"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"path/filepath"
	"strings"
	"time"

	"zestysketch/internal/reach"
	"zestysketch/internal/store"
	"zestysketch/internal/watch"
	"zestysketch/internal/web/trust"
)

// https is how browsers come by https: to a proxy before this program, or here with a
// certificate from files, by ACME, or of the school's own authority.
type https struct {
	before                        bool
	cert, key                     string
	acme, email, directory, roots string
	authority, names              string
	redirect                      string
}

func (h *https) add(f *flag.FlagSet) {
	f.BoolVar(&h.before, "https", false, "browsers come by https, through a proxy: send cookies over it only")
	f.StringVar(&h.cert, "cert", "", "certificate with those between it and its root, PEM; read again when it is renewed")
	f.StringVar(&h.key, "key", "", "its key, PEM")
	f.StringVar(&h.acme, "acme", "", "fetch and renew certificates for these names by ACME, with commas; the authority must reach this machine")
	f.StringVar(&h.email, "acme-email", "", "whom the authority tells of trouble")
	f.StringVar(&h.directory, "acme-directory", "", "address of another authority's ACME directory")
	f.StringVar(&h.roots, "acme-roots", "", "PEM file of roots by which that authority is believed")
	f.StringVar(&h.authority, "authority", "", "folder of the school's own small authority, made where it is missing: tablets get its root at /trust")
	f.StringVar(&h.names, "names", "", "what --authority speaks for, with commas; this machine's addresses if empty")
	f.StringVar(&h.redirect, "http", "", "address on which http is sent on to https, such as :80; also where an ACME authority asks")
}

// here reports whether this program itself answers by https.
func (h https) here() bool { return h.cert != "" || h.acme != "" || h.authority != "" }

// safe is what https needs; empty for http.
type safe struct {
	config  *tls.Config
	trouble func(host string, now time.Time) string
	asked   func(http.Handler) http.Handler // answers an authority's questions; nil for none
	root    trust.Root
}

// open reads, makes or gets ready to fetch the certificate.
func (h https) open(db *store.Store, log *slog.Logger) (s safe, err error) {
	ways := 0
	for _, way := range []string{h.cert, h.acme, h.authority} {
		if way != "" {
			ways++
		}
	}
	switch {
	case ways > 1:
		return s, fmt.Errorf("%w: wanted one of --cert, --acme and --authority", errUsage)
	case (h.cert == "") != (h.key == ""):
		return s, fmt.Errorf("%w: --cert and --key belong together", errUsage)
	case h.redirect != "" && ways == 0:
		return s, fmt.Errorf("%w: --http sends on to https: it wants --cert, --acme or --authority beside it", errUsage)
	case ways == 0:
		return s, nil
	}
	var get func(*tls.ClientHelloInfo) (*tls.Certificate, error)
	protocols := []string{"h2", "http/1.1"}
	switch {
	case h.acme != "":
		a, err := reach.NewACME(listed(h.acme), h.email, h.directory, h.roots, db.Certificates(), log)
		if err != nil {
			return s, err
		}
		get, s.trouble, s.asked, protocols = a.Get, a.Trouble, a.HTTP, reach.Protocols
	default:
		f, root, err := h.files(log)
		if err != nil {
			return s, err
		}
		if words := f.Trouble("", time.Now()); words != "" {
			log.Warn(words)
		}
		get, s.trouble, s.root = f.Get, f.Trouble, root
	}
	s.config = &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: get, NextProtos: protocols}
	return s, nil
}

// files returns the certificate's files: those that were given, or of the authority.
func (h https) files(log *slog.Logger) (*reach.Files, trust.Root, error) {
	if h.authority == "" {
		f, err := reach.OpenFiles(h.cert, h.key, log)
		return f, trust.Root{}, err
	}
	a, cert, key, err := authority(h.authority, listed(h.names))
	if err != nil {
		return nil, trust.Root{}, err
	}
	file, sum := a.Root()
	log.Info("the school's own root, to compare on tablets at /trust", "sum", sum)
	f, err := reach.OpenFiles(cert, key, log)
	return f, trust.Root{File: file, Sum: sum}, err
}

// authority opens or makes the school's own authority and a certificate by it.
func authority(dir string, hosts []string) (a *reach.Authority, cert, key string, err error) {
	if len(hosts) == 0 {
		hosts = reach.Hosts()
	}
	if a, err = reach.OpenAuthority(dir, hosts); err != nil {
		return nil, "", "", err
	}
	cert, key, err = a.Certificate(hosts)
	return a, cert, key, err
}

// renew looks every day whether the authority's certificate is to be made anew.
func (h https) renew(ctx context.Context, log *slog.Logger) {
	for h.authority != "" {
		select {
		case <-ctx.Done():
			return
		case <-time.After(24 * time.Hour):
		}
		if _, _, _, err := authority(h.authority, listed(h.names)); err != nil {
			log.Error("renewing the certificate", "error", err)
		}
	}
}

func listed(words string) []string {
	return strings.FieldsFunc(words, func(r rune) bool { return r == ',' || r == ' ' })
}

// certificateCommand makes the school's own authority and a certificate by it, and
// prints what people compare.
func certificateCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("certificate", flag.ContinueOnError)
	dir := f.String("dir", filepath.Join("var", "authority"), "folder of the authority, made where it is missing; keep it safe")
	names := f.String("names", "", "names and addresses of this machine in the school's network, with commas; all of its own if empty")
	if err := parse(f, args, std); err != nil {
		return err
	}
	a, cert, key, err := authority(*dir, listed(*names))
	if err != nil {
		return err
	}
	_, sum := a.Root()
	fmt.Fprintf(std.out, "Certificate  %s\nKey          %s\nRoot         %s\n\nOn each tablet, at /trust, the root is the right one if it says\n%s\n\nStart with  zesty-sketch serve --authority %s\n",
		cert, key, filepath.Join(*dir, "root.crt"), sum, *dir)
	return nil
}

// folders are those whose disks are watched.
func (s serveFlags) folders() []string {
	var all []string
	for _, folder := range []string{s.data, s.nightly.dir, s.nightly.also} {
		if folder != "" {
			all = append(all, folder)
		}
	}
	return all
}

// watched returns what tells how the program is.
func (s serveFlags) watched(db *store.Store) (*watch.Watch, error) {
	pool, err := db.Pool()
	if err != nil {
		return nil, err
	}
	return watch.New(watch.Asked{Ready: db.Reach, Waiting: db.Waiting, Pool: pool, Folders: s.folders()}), nil
}

// beside starts what listens beside the school's own address: the one for those who
// watch, and the one that sends http on to https.
func (s serveFlags) beside(w *watch.Watch, safe safe, routes http.Handler, at net.Addr) (servers []*http.Server, err error) {
	start := func(addr string, h http.Handler) error {
		l, err := net.Listen("tcp", addr)
		if err != nil {
			return fmt.Errorf("cannot listen on %s: %w", addr, err)
		}
		server := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: time.Minute, IdleTimeout: time.Minute}
		servers = append(servers, server)
		go server.Serve(l) // ends when it is closed
		return nil
	}
	if s.watch != "" {
		if !ofThisMachine(s.watch) {
			return nil, fmt.Errorf("%w: --watch: wanted an address of this machine alone, such as 127.0.0.1:9108, got %q", errUsage, s.watch)
		}
		err = start(s.watch, w.Handler())
	}
	if tcp, ok := at.(*net.TCPAddr); ok && s.https.redirect != "" {
		on := reach.ToHTTPS(tcp.Port, routes)
		if safe.asked != nil {
			on = safe.asked(on)
		}
		err = errors.Join(err, start(s.https.redirect, on))
	}
	return servers, err
}

func ofThisMachine(addr string) bool {
	u, err := url.Parse("//" + addr)
	if err != nil {
		return false
	}
	ip := net.ParseIP(u.Hostname())
	return ip != nil && ip.IsLoopback()
}
