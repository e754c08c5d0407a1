// Package mariadb starts and stops a private MariaDB on loopback, with its
// data in one folder and a password that only that folder's owner can read.
package mariadb

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"

	"zestysketch/internal/ports"
	"zestysketch/internal/process"
	"zestysketch/internal/watch"
)

// ErrBusy is the error of a folder in which another copy is running.
var ErrBusy = errors.New("another Zesty Sketch is already running from this folder; use that one, or stop it first")

// ErrMissing is the error of a machine without MariaDB.
var ErrMissing = errors.New("MariaDB is not installed; run: apt-get install -y --no-install-recommends mariadb-server")

// Server is a running MariaDB.
type Server struct {
	dir     string
	port    int
	secret  string
	lock    *os.File
	running *process.Process // the last that was started
}

// database is the one schema that the program uses.
const database = "zesty_sketch"

// stopPatience is how long a server may take to flush and stop.
const stopPatience = 20 * time.Second

// Start runs MariaDB on a free loopback port with its data below dir, which is
// made if need be. A data folder whose making was interrupted is made anew; a
// server left behind by a killed run is stopped first. The error is ErrBusy
// while another copy holds the folder.
func Start(ctx context.Context, dir string) (*Server, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	s := &Server{dir: dir}
	if err := s.hold(); err != nil {
		return nil, err
	}
	if err := s.start(ctx); err != nil {
		s.lock.Close()
		return nil, err
	}
	return s, nil
}

func (s *Server) start(ctx context.Context) error {
	if err := s.stopLeftBehind(); err != nil {
		return err
	}
	if err := s.install(ctx); err != nil {
		return err
	}
	if err := s.keepSecret(); err != nil {
		return err
	}
	if err := s.run(); err != nil {
		return err
	}
	if err := s.await(ctx); err != nil {
		return errors.Join(err, s.terminate())
	}
	return nil
}

// hold takes the folder's lock, which the system releases however we end.
func (s *Server) hold() error {
	f, err := os.OpenFile(filepath.Join(s.dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("opening the lock of the data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return ErrBusy
	}
	s.lock = f
	return nil
}

func (s *Server) data() string    { return filepath.Join(s.dir, "mariadb") }
func (s *Server) pidFile() string { return filepath.Join(s.dir, "mariadb.pid") }
func (s *Server) logFile() string { return filepath.Join(s.dir, "mariadb.log") }

// stopLeftBehind ends a server whose parent was killed: we hold the lock, so
// nobody owns it any more.
func (s *Server) stopLeftBehind() error {
	b, err := os.ReadFile(s.pidFile())
	if err != nil {
		return nil
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(b)))
	if err != nil || !s.isOurs(pid) {
		os.Remove(s.pidFile())
		return nil
	}
	if err := syscall.Kill(pid, syscall.SIGTERM); err != nil {
		return fmt.Errorf("stopping the database left by an earlier run: %w", err)
	}
	for deadline := time.Now().Add(stopPatience); time.Now().Before(deadline); time.Sleep(50 * time.Millisecond) {
		if !s.isOurs(pid) {
			return nil
		}
	}
	return fmt.Errorf("the database of an earlier run (process %d) does not stop; end it and try again", pid)
}

// isOurs reports whether pid is a MariaDB on our data folder, and not a
// stranger that got the number later.
func (s *Server) isOurs(pid int) bool {
	line, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	return err == nil && strings.Contains(string(line), "--datadir="+s.data()+"\x00")
}

// Running returns the address of the database that another copy has running from
// a folder; false where none is.
func Running(dir string) (dsn string, ok bool) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return "", false
	}
	s := &Server{dir: dir}
	b, err1 := os.ReadFile(s.pidFile())
	secret, err2 := os.ReadFile(filepath.Join(dir, "secret"))
	pid, err3 := strconv.Atoi(strings.TrimSpace(string(b)))
	if errors.Join(err1, err2, err3) != nil || !s.isOurs(pid) {
		return "", false
	}
	line, err4 := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	_, after, _ := strings.Cut(string(line), "--port=")
	port, _, _ := strings.Cut(after, "\x00")
	var err5 error
	if s.port, err5 = strconv.Atoi(port); errors.Join(err4, err5) != nil {
		return "", false
	}
	s.secret = string(secret)
	return s.DSN(), true
}

// install makes the data folder, under another name until it is whole.
func (s *Server) install(ctx context.Context) error {
	if _, err := os.Stat(s.data()); err == nil {
		return nil
	}
	half := s.data() + ".half"
	if err := os.RemoveAll(half); err != nil {
		return fmt.Errorf("clearing a half-made database: %w", err)
	}
	program, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	temporary, err := s.temporary()
	if err != nil {
		return err
	}
	// --force: a machine whose own name cannot be looked up makes one all the same; only loopback is served.
	args := []string{"--no-defaults", "--force", "--datadir=" + half, "--tmpdir=" + temporary, "--auth-root-authentication-method=normal", "--skip-test-db"}
	out, err := exec.CommandContext(ctx, program, append(args, asRoot()...)...).CombinedOutput()
	if err != nil {
		return fmt.Errorf("making the database in %s: %w: %s; is the disk full, or the folder another's?", s.dir, err, firstLines(string(out)))
	}
	return os.Rename(half, s.data())
}

// temporary makes the folder for the server's temporary files, and returns it. It is its own:
// a server that starts deletes the temporary tables it finds, also those of another that is
// at work in the same folder.
func (s *Server) temporary() (string, error) {
	dir := filepath.Join(s.dir, "temporary")
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", fmt.Errorf("making a folder for MariaDB's temporary files: %w", err)
	}
	return dir, nil
}

// asRoot lets MariaDB run as root where we do, as in a container.
func asRoot() []string {
	if os.Geteuid() == 0 {
		return []string{"--user=root"}
	}
	return nil
}

func find(program string) (string, error) {
	for _, dir := range append(filepath.SplitList(os.Getenv("PATH")), "/usr/sbin", "/usr/bin") {
		path := filepath.Join(dir, program)
		if info, err := os.Stat(path); err == nil && !info.IsDir() && info.Mode()&0o111 != 0 {
			return path, nil
		}
	}
	return "", ErrMissing
}

// keepSecret reads the database password, or makes one.
func (s *Server) keepSecret() error {
	path := filepath.Join(s.dir, "secret")
	if b, err := os.ReadFile(path); err == nil && len(b) >= 20 {
		s.secret = string(b)
		return nil
	}
	s.secret = rand.Text()
	return os.WriteFile(path, []byte(s.secret), 0o600)
}

func (s *Server) run() error {
	program, err := find("mariadbd")
	if err != nil {
		return err
	}
	if s.port == 0 { // else it comes back where its users look for it
		found, err := ports.Free(1)
		if err != nil {
			return err
		}
		s.port = found[0]
	}
	init := filepath.Join(s.dir, "init.sql")
	// Root may come in by the socket of this folder only; the program uses its own account.
	setup := fmt.Sprintf(`SET sql_mode=ANSI_QUOTES;
CREATE DATABASE IF NOT EXISTS %[1]s CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;
DELETE FROM mysql.global_priv WHERE User = '' OR User = 'root' AND Host <> 'localhost';
FLUSH PRIVILEGES;
ALTER USER root@localhost IDENTIFIED BY '%[2]s';
CREATE OR REPLACE USER zesty@'127.0.0.1' IDENTIFIED BY '%[2]s';
GRANT ALL ON "zesty\_sketch%%".* TO zesty@'127.0.0.1';
`, database, s.secret)
	if err := os.WriteFile(init, []byte(setup), 0o600); err != nil {
		return err
	}
	temporary, err := s.temporary()
	if err != nil {
		return err
	}
	socket := filepath.Join(os.TempDir(), fmt.Sprintf("zesty-%d.sock", s.port)) // a path over 107 bytes fails
	cmd := exec.Command(program, append([]string{"--no-defaults",
		"--datadir=" + s.data(), "--tmpdir=" + temporary, "--socket=" + socket, "--pid-file=" + s.pidFile(), "--log-error=" + s.logFile(),
		"--bind-address=127.0.0.1", "--port=" + strconv.Itoa(s.port), "--skip-name-resolve",
		"--init-file=" + init, "--max-allowed-packet=64M", fmt.Sprintf("--innodb-buffer-pool-size=%dM", pool(watch.Memory())>>20),
		"--transaction-isolation=READ-COMMITTED", "--character-set-server=utf8mb4",
	}, asRoot()...)...)
	// Its own process group: a Ctrl-C in the terminal reaches us, and we stop it in order.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	running, err := process.Start(cmd)
	if err != nil {
		return fmt.Errorf("starting MariaDB: %w", err)
	}
	s.running = running
	return nil
}

// The database's own cache is a sixteenth of the memory there is, within bounds: a class at work fits into the
// least, five years of a school into the most.
const leastPool, mostPool = 48 << 20, 512 << 20

// pool returns how large it is on a machine of so many bytes, 0 where that is not known.
func pool(memory uint64) uint64 {
	if memory == 0 {
		return 128 << 20
	}
	return min(max(memory/16, leastPool), mostPool)
}

// await returns when the server takes connections.
func (s *Server) await(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, 30*time.Second)
	defer cancel()
	for {
		if db, err := mysql.NewConnector(s.config(database)); err == nil {
			if conn, err := db.Connect(ctx); err == nil {
				return conn.Close()
			}
		}
		select {
		case <-s.running.Ended():
			return fmt.Errorf("MariaDB stopped while starting (%v); %s says: %s", s.running.How(), s.logFile(), tailOf(s.logFile()))
		case <-ctx.Done():
			return fmt.Errorf("MariaDB did not answer; see %s", s.logFile())
		case <-time.After(20 * time.Millisecond):
		}
	}
}

func (s *Server) config(name string) *mysql.Config {
	c := mysql.NewConfig()
	c.User, c.Passwd, c.DBName = "zesty", s.secret, name
	c.Net, c.Addr = "tcp", fmt.Sprintf("127.0.0.1:%d", s.port)
	c.ParseTime, c.Loc = true, time.UTC
	c.MaxAllowedPacket = 0   // ask the server: pictures are larger than the driver's usual limit
	c.ClientFoundRows = true // an update to the same value found its row
	c.Collation = "utf8mb4_unicode_520_ci"
	c.Logger = &mysql.NopLogger{}
	return c
}

// DSN returns the address of the program's database.
func (s *Server) DSN() string { return s.config(database).FormatDSN() }

// DSNOf returns the address of another database on the server, which need not exist yet.
func (s *Server) DSNOf(name string) string { return s.config(name).FormatDSN() }

// PID returns the process number of the database server.
func (s *Server) PID() int { return s.running.PID() }

// restPause is how long a server that ended is left before it is started again.
const restPause = 200 * time.Millisecond

// leastFree is how much room MariaDB needs to go on, about.
const leastFree = 16 << 20

// noRoom says that the folder's disk is full, where it is.
func (s *Server) noRoom() string {
	var disk syscall.Statfs_t
	if err := syscall.Statfs(s.dir, &disk); err != nil || disk.Bavail*uint64(disk.Bsize) >= leastFree {
		return ""
	}
	return fmt.Sprintf("; the disk of %s is full: make room there, and it goes on by itself", s.dir)
}

// Keep starts the server again, on its own port, whenever it ends by itself or
// is killed, until ctx ends; say hears of it. It repairs itself from its own
// log: what was committed is there. Call Stop only when Keep has returned.
func (s *Server) Keep(ctx context.Context, say func(error)) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-s.running.Ended():
		}
		if ctx.Err() != nil {
			return
		}
		say(fmt.Errorf("the database ended (%v) and is started again%s", s.running.How(), s.noRoom()))
		time.Sleep(restPause)
		if err := errors.Join(s.run(), s.await(ctx)); err != nil {
			say(err)
		}
	}
}

// Stop ends the server cleanly and frees the folder.
func (s *Server) Stop() error { return errors.Join(s.terminate(), s.lock.Close()) }

func (s *Server) terminate() error {
	if !s.running.EndWithin(stopPatience) {
		return fmt.Errorf("MariaDB did not stop within %s and was killed; it repairs itself at the next start", stopPatience)
	}
	os.Remove(filepath.Join(s.dir, "init.sql"))
	return nil
}

func tailOf(path string) string {
	b, err := os.ReadFile(path)
	if err != nil {
		return err.Error()
	}
	return lastLines(string(b))
}

// firstLines is what mariadb-install-db says of a failure: what follows is advice for its makers.
func firstLines(s string) string {
	lines := strings.Split(strings.TrimSpace(s), "\n")
	return strings.Join(lines[:min(len(lines), 4)], " | ")
}

func lastLines(s string) string {
	lines := strings.Split(strings.TrimSpace(s), "\n")
	return strings.Join(lines[max(0, len(lines)-3):], " | ")
}
