package main

import (
	"context"
	"crypto/x509"
	"encoding/pem"
	"errors"
	"flag"
	"fmt"
	"io"
	"net"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"zestysketch/internal/backup"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/notices"
	"zestysketch/internal/store"
	"zestysketch/internal/watch"
)

// versionCommand says which program this is, and which tables it works with.
func versionCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("version", flag.ContinueOnError)
	f.StringVar(&s.data, "data", "", "folder of a private database that runs, to say its version too")
	s.addDatabase(f)
	if err := parse(f, args, std); err != nil {
		return err
	}
	fmt.Fprintf(std.out, "zesty-sketch %s\ntables up to %s\n", notices.This(), store.Tables())
	if s.data == "" && s.dsn == "" {
		return nil
	}
	db, stop, err := s.open(ctx, true)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	is, err := db.Database(ctx)
	if err == nil {
		fmt.Fprintf(std.out, "MariaDB %s, its tables up to %s\n", is.Version, is.Tables)
	}
	return err
}

// finding is one thing that the doctor looked at: well, to be looked at soon, or wrong, with what to do.
type finding struct {
	level, what, say string
}

// The levels, as they are printed. Trouble makes the exit status 1.
const (
	well    = "ok     "
	soon    = "look   "
	trouble = "TROUBLE"
)

// doctorCommand looks at what usually goes wrong on a school's machine.
func doctorCommand(ctx context.Context, args []string, std streams) error {
	var s serveFlags
	f := flag.NewFlagSet("doctor", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	s.https.add(f)
	s.nightly.add(f)
	whole := f.Bool("whole", false, "read the newest backup to its end, as a restore would first; minutes where it is large")
	if err := parse(f, args, std); err != nil {
		return err
	}
	now := time.Now()
	all := []finding{memory(), zone(now)}
	for _, folder := range s.folders() {
		all = append(all, roomOn(folder))
	}
	all = append(all, s.databaseIs(ctx, now)...)
	all = append(all, s.https.certificateIs(now), backupIs(s.nightly.dir, now, *whole), s.nightly.second(ctx, now, *whole))
	if s.nightly.dir != "" {
		all = append(all, trialIs(s.nightly.dir, now))
	}
	all = append(all, addresses(s.addr, s.https.here() || s.https.before)...)
	all = append(all, finding{well, "mail", "none is sent: links are handed over by people"})
	wrong := 0
	for _, one := range all {
		fmt.Fprintf(std.out, "%s  %-12s %s\n", one.level, one.what, one.say)
		if one.level == trouble {
			wrong++
		}
	}
	if wrong > 0 {
		return fmt.Errorf("%d of %d things need mending, see above", wrong, len(all))
	}
	return nil
}

func megabytes(n uint64) string {
	if n >= 10<<30 {
		return fmt.Sprintf("%d GB", n>>30)
	}
	return fmt.Sprintf("%d MB", n>>20)
}

func roomOn(folder string) finding {
	d := watch.Look(folder)
	say := fmt.Sprintf("%s free of %s for %s", megabytes(d.Free), megabytes(d.Total), folder)
	switch {
	case d.Total == 0:
		return finding{trouble, "disk", folder + " is not there; is its disk plugged in?"}
	case d.NearlyFull():
		return finding{trouble, "disk", say + ": make room, photos take most of it"}
	}
	return finding{well, "disk", say}
}

// leastMemory is what a class at work needs beside the system's own.
const leastMemory = 400 << 20

func memory() finding {
	free, all := watch.Meminfo("MemAvailable"), watch.Memory()
	say := fmt.Sprintf("%s free of %s", megabytes(free), megabytes(all))
	switch {
	case all == 0:
		return finding{soon, "memory", "cannot be read on this machine"}
	case free < leastMemory:
		return finding{soon, "memory", say + ": a class at work takes " + megabytes(leastMemory) + ", close what else runs"}
	}
	return finding{well, "memory", say}
}

func zone(now time.Time) finding {
	name, _ := now.Zone()
	say := fmt.Sprintf("it is %s (%s); lessons and the nights' backups go by it", now.Format("Monday 2006-01-02 15:04"), name)
	if now.Year() < 2026 {
		return finding{trouble, "clock", say + ". That is before this program was made: set the clock"}
	}
	return finding{well, "clock", say}
}

// farClock is by how much the database's clock may differ from this machine's.
const farClock = 5 * time.Second

// databaseIs looks at the database as it runs: the doctor starts none.
func (s serveFlags) databaseIs(ctx context.Context, now time.Time) []finding {
	dsn := s.dsn
	if dsn == "" {
		running := false
		if dsn, running = mariadb.Running(s.data); !running {
			return []finding{{trouble, "database", "does not run in " + s.data + ": is the server started, and is that its --data?"}}
		}
	}
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return []finding{{trouble, "database", err.Error()}}
	}
	defer db.Close()
	is, err := db.Database(ctx)
	if err != nil {
		return []finding{{trouble, "database", err.Error()}}
	}
	all := []finding{{well, "database", "MariaDB " + is.Version + ", its tables up to " + is.Tables}}
	if is.Tables != store.Tables() {
		all[0] = finding{trouble, "database", fmt.Sprintf("its tables are up to %s, this program knows %s: start the newer program", is.Tables, store.Tables())}
	}
	if off := is.Now.Sub(now).Abs(); off > farClock {
		all = append(all, finding{trouble, "clock", fmt.Sprintf("the database's differs by %s: set both by the network's time", off.Round(time.Second))})
	}
	return all
}

// certificateIs says for how many days the certificate lasts.
func (h https) certificateIs(now time.Time) finding {
	path := h.cert
	if h.authority != "" {
		path = filepath.Join(h.authority, "server.crt")
	}
	switch {
	case path == "" && h.acme != "":
		return finding{well, "certificate", "fetched and renewed by ACME"}
	case path == "" && h.before:
		return finding{well, "certificate", "the proxy has it"}
	case path == "":
		return finding{soon, "certificate", "no https: tablets cannot go on without a connection; see --authority"}
	}
	text, err := os.ReadFile(path)
	if err != nil {
		return finding{trouble, "certificate", err.Error()}
	}
	block, _ := pem.Decode(text)
	if block == nil {
		return finding{trouble, "certificate", path + " is no PEM file of a certificate"}
	}
	c, err := x509.ParseCertificate(block.Bytes)
	if err != nil {
		return finding{trouble, "certificate", fmt.Sprintf("%s: %v", path, err)}
	}
	days := int(c.NotAfter.Sub(now).Hours() / 24)
	say := fmt.Sprintf("for %s, %d days more", strings.Join(names(c), ", "), days)
	switch {
	case days < 0:
		return finding{trouble, "certificate", fmt.Sprintf("ended on %s: renew it", c.NotAfter.Format(time.DateOnly))}
	case days < 21:
		return finding{soon, "certificate", say + ": renew it"}
	}
	return finding{well, "certificate", say}
}

func names(c *x509.Certificate) []string {
	all := c.DNSNames
	for _, ip := range c.IPAddresses {
		all = append(all, ip.String())
	}
	return all
}

// oldBackup is how old the newest backup may be.
const oldBackup = 26 * time.Hour

// backupIs looks at the newest backup of a folder: its age, and whether it can be read, its beginning or all of it.
func backupIs(dir string, now time.Time, whole bool) finding {
	if dir == "" {
		return finding{soon, "backups", "no folder was named: --backups, as the server has it"}
	}
	files, err := os.ReadDir(dir)
	if err != nil {
		return finding{trouble, "backups", err.Error()}
	}
	var newest os.FileInfo
	for _, f := range files {
		if info, err := f.Info(); err == nil && strings.HasSuffix(f.Name(), backup.Ending) && (newest == nil || info.ModTime().After(newest.ModTime())) {
			newest = info
		}
	}
	if newest == nil {
		return finding{trouble, "backups", "none in " + dir + " yet: the first is made at half past two at night, or by zesty-sketch backup"}
	}
	age := now.Sub(newest.ModTime())
	say := fmt.Sprintf("the newest, %s, is %.0f hours old and %s large", newest.Name(), age.Hours(), megabytes(uint64(newest.Size())))
	if age > oldBackup {
		return finding{trouble, "backups", say + ": what does the log say of the night?"}
	}
	file, err := os.Open(filepath.Join(dir, newest.Name()))
	if err != nil {
		return finding{trouble, "backups", err.Error()}
	}
	defer file.Close()
	if backup.Encrypted(file) {
		return finding{well, "backups", say + ", encrypted: only restore with its key can read it"}
	}
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return finding{trouble, "backups", err.Error()}
	}
	check, read := backup.Begins, "it begins as it should"
	if whole {
		check, read = backup.Check, "it is whole"
	}
	h, err := check(file)
	if err != nil {
		return finding{trouble, "backups", say + "; " + err.Error()}
	}
	return finding{well, "backups", fmt.Sprintf("%s, of %d tables; %s", say, len(h.Of), read)}
}

// trialIs looks at how the last trial of a folder's backups went.
func trialIs(dir string, now time.Time) finding {
	t, err := backup.ReadTrial(dir)
	switch {
	case err != nil:
		return finding{trouble, "trial", err.Error()}
	case t.At.IsZero():
		return finding{soon, "trial", "no backup was brought back for a trial yet: the server does it once a week, at night, where they are not encrypted"}
	case t.Wrong != "":
		return finding{trouble, "trial", fmt.Sprintf("%s could not be brought back: %s", t.Backup, t.Wrong)}
	case now.Sub(t.At) > backup.TrialLate:
		return finding{trouble, "trial", fmt.Sprintf("the last was %.0f days ago: what does the log say of the nights?", now.Sub(t.At).Hours()/24)}
	}
	return finding{well, "trial", fmt.Sprintf("%s was brought back in %.0f s: %d schools, %d teachers, %d projects", t.Backup, t.Seconds, t.Schools, t.Teachers, t.Projects)}
}

// second looks at the second folder of backups: on the same disk it is none.
func (n nightly) second(ctx context.Context, now time.Time, whole bool) finding {
	if n.bucketed() {
		return bucketIs(ctx, n.also, now)
	}
	if n.also == "" {
		return finding{soon, "backups", "all on one disk: --backups-also names a folder on another"}
	}
	f := backupIs(n.also, now, whole)
	var one, two syscall.Stat_t
	if syscall.Stat(n.dir, &one) == nil && syscall.Stat(n.also, &two) == nil && one.Dev == two.Dev {
		return finding{trouble, "backups", n.also + " is on the same disk as " + n.dir + ": a disk that dies takes both"}
	}
	return f
}

// addresses are those by which tablets reach this machine.
func addresses(addr string, https bool) (all []finding) {
	scheme := map[bool]string{true: "https", false: "http"}[https]
	host, port, err := net.SplitHostPort(addr)
	if err != nil {
		return []finding{{trouble, "addresses", fmt.Sprintf("--addr: wanted such as :8080, got %q", addr)}}
	}
	if ip := net.ParseIP(host); ip != nil && ip.IsLoopback() {
		return []finding{{soon, "addresses", "it answers on this machine alone; with --addr :" + port + " tablets reach it"}}
	}
	interfaces, _ := net.InterfaceAddrs()
	for _, a := range interfaces {
		if ip, ok := a.(*net.IPNet); ok && !ip.IP.IsLoopback() && !ip.IP.IsLinkLocalUnicast() {
			all = append(all, finding{well, "addresses", fmt.Sprintf("%s://%s", scheme, net.JoinHostPort(ip.IP.String(), port))})
		}
	}
	if all == nil {
		return []finding{{trouble, "addresses", "this machine is in no network"}}
	}
	return all
}
