package main

import (
	"bytes"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
)

// children returns the processes that one started, by what they were started with.
func children(t *testing.T, parent int) map[string]int {
	t.Helper()
	found := map[string]int{}
	all, err := filepath.Glob("/proc/[0-9]*/stat")
	if err != nil {
		t.Fatal(err)
	}
	for _, path := range all {
		b, err := os.ReadFile(path)
		if err != nil {
			continue // it ended
		}
		after := string(b[bytes.LastIndexByte(b, ')')+1:]) // state, parent, … (proc(5))
		if fields := strings.Fields(after); len(fields) < 2 || fields[1] != strconv.Itoa(parent) || fields[0] == "Z" {
			continue
		}
		pid, _ := strconv.Atoi(filepath.Base(filepath.Dir(path)))
		args, _ := os.ReadFile(filepath.Join(filepath.Dir(path), "cmdline"))
		words := strings.Split(string(args), "\x00")
		found[filepath.Base(words[0])+" "+words[min(1, len(words)-1)]] = pid
	}
	return found
}

// eventually waits until something is so, ten seconds at most.
func eventually(t *testing.T, what string, so func() bool) {
	t.Helper()
	for until := time.Now().Add(10 * time.Second); !so(); time.Sleep(50 * time.Millisecond) {
		if time.Now().After(until) {
			t.Fatalf("never: %s", what)
		}
	}
}

// The worker is a process of its own that stands back, is started again when it is
// killed, and ends with the server, also where that is killed.
func TestWorkerApart(t *testing.T) {
	dir := t.TempDir()
	program := filepath.Join(dir, "zesty-sketch")
	if out, err := exec.Command("go", "build", "-o", program, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	leavesNewerTables(t, program)
	server := exec.Command(program, "serve", "--data", filepath.Join(dir, "data"), "--addr", "127.0.0.1:0", "--watch", "127.0.0.1:0")
	var out bytes.Buffer
	server.Stdout, server.Stderr = &out, &out
	if err := server.Start(); err != nil {
		t.Fatal(err)
	}
	ended := false
	defer func() {
		if !ended {
			server.Process.Kill()
			server.Wait()
		}
	}()
	worker := 0
	eventually(t, "a worker", func() bool { worker = children(t, server.Process.Pid)["zesty-sketch work"]; return worker != 0 })
	eventually(t, "a worker that stands back", func() bool {
		nice, err := syscall.Getpriority(syscall.PRIO_PROCESS, worker)
		return err == nil && 20-nice == workNice // the system call's own numbers
	})
	if err := syscall.Kill(worker, syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	second := 0
	eventually(t, "another worker", func() bool {
		second = children(t, server.Process.Pid)["zesty-sketch work"]
		return second != 0 && second != worker
	})
	database := children(t, server.Process.Pid)["mariadbd --no-defaults"]
	if err := server.Process.Kill(); err != nil {
		t.Fatal(err)
	}
	server.Wait()
	ended = true
	eventually(t, "the worker ends with its server", func() bool { return syscall.Kill(second, 0) != nil })
	if database == 0 {
		t.Fatal("no database")
	}
	syscall.Kill(database, syscall.SIGTERM) // it outlives a kill, for the next start to take over
	eventually(t, "the database ends", func() bool { return syscall.Kill(database, 0) != nil })
}

// The addresses for those who watch are this machine's alone.
func TestWatchAddress(t *testing.T) {
	for addr, want := range map[string]bool{"127.0.0.1:9108": true, "[::1]:9108": true, ":9108": false, "0.0.0.0:9108": false, "192.168.1.20:9108": false, "draw.quay.example:9108": false, "": false} {
		if got := ofThisMachine(addr); got != want {
			t.Errorf("%q: %v; want %v", addr, got, want)
		}
	}
}

// leavesNewerTables has a worker find tables that a newer program has been at: it says so by its exit code, and its
// server does not start it again every second.
func leavesNewerTables(t *testing.T, program string) {
	t.Helper()
	dsn := mariadbtest.DSN(t)
	db, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	pool, err := db.Pool()
	if err != nil {
		t.Fatal(err)
	}
	if _, err := pool.Exec("INSERT INTO migrations (id) VALUES ('9999_later')"); err != nil {
		t.Fatal(err)
	}
	worker := exec.Command(program, "work")
	worker.Env = append(os.Environ(), envDSN+"="+dsn)
	out, err := worker.CombinedOutput()
	var ended *exec.ExitError
	if !errors.As(err, &ended) || ended.ExitCode() != foundNewer {
		t.Errorf("a worker on newer tables: %v, %s; want exit code %d", err, out, foundNewer)
	}
}
