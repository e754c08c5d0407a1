package main

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/trial"
)

// A small computer as a school has it in a cupboard: so much memory for the program, its worker and
// its database together, and half of one core (ours, for four slow ones of which the system takes its share).
const (
	smallMemory = 1 << 30
	smallQuota  = 50_000 // of 100,000 microseconds
)

// group is a control group of the kernel's (cgroups(7), version 1) that holds whoever is started in it.
type group struct{ memory, cpu string }

// newGroup makes one; it needs root, and the memory and cpu controllers.
func newGroup() (g group, err error) {
	name := "zesty-small-" + strconv.Itoa(os.Getpid())
	g = group{filepath.Join("/sys/fs/cgroup/memory", name), filepath.Join("/sys/fs/cgroup/cpu", name)}
	for _, dir := range []string{g.memory, g.cpu} {
		if err := os.Mkdir(dir, 0o755); err != nil {
			return g, fmt.Errorf("a control group of version 1 is wanted: %w", err)
		}
	}
	set := func(dir, file string, n int) error {
		return os.WriteFile(filepath.Join(dir, file), []byte(strconv.Itoa(n)), 0o644)
	}
	return g, errors.Join(set(g.memory, "memory.limit_in_bytes", smallMemory), set(g.cpu, "cpu.cfs_period_us", 100_000), set(g.cpu, "cpu.cfs_quota_us", smallQuota))
}

// onSmallComputer makes the small computer, and what starts the program on it.
func onSmallComputer(dir, binary string) (g group, wrapped string, err error) {
	if g, err = newGroup(); err != nil {
		return g, "", err
	}
	wrapped, err = g.wrap(dir, binary)
	return g, wrapped, err
}

// wrap writes a program that starts another within the group, and returns its path.
func (g group) wrap(dir, binary string) (string, error) {
	path := filepath.Join(dir, "zesty-within")
	text := fmt.Sprintf("#!/bin/sh\necho $$ >%s/cgroup.procs\necho $$ >%s/cgroup.procs\nexec %s \"$@\"\n", g.memory, g.cpu, binary)
	return path, os.WriteFile(path, []byte(text), 0o755)
}

func (g group) read(file string) string {
	b, err := os.ReadFile(filepath.Join(g.memory, file))
	if err != nil {
		return err.Error()
	}
	return strings.TrimSpace(string(b))
}

// print says what was used at most, of it what the kernel cannot take back, and whether anybody was killed.
func (g group) print(resident string) {
	most, _ := strconv.Atoi(g.read("memory.max_usage_in_bytes"))
	fmt.Printf("program, worker and database together: at most %d of %d MB with files that the kernel keeps, %s without; %s\n", most>>20, smallMemory>>20, resident, strings.ReplaceAll(g.read("memory.oom_control"), "\n", ", "))
}

// resident is what the group holds now without files.
func (g group) resident() int {
	for line := range strings.Lines(g.read("memory.stat")) {
		if n, ok := strings.CutPrefix(line, "total_rss "); ok {
			b, _ := strconv.Atoi(strings.TrimSpace(n))
			return b >> 20
		}
	}
	return 0
}

// follow watches what the group holds until ctx ends, and returns the most.
func (g group) follow(ctx context.Context) int {
	most := 0
	for wait(ctx, 100*time.Millisecond) {
		most = max(most, g.resident())
	}
	return most
}

// remove takes the group away; whoever was in it has ended.
func (g group) remove() error { return errors.Join(os.Remove(g.memory), os.Remove(g.cpu)) }

// onSmall has the lesson on the small computer, and says what it took.
func (l *lesson) onSmall(ctx context.Context, db *store.Store, g group, classes []trial.Class, shots []shot, binary, data, to string) error {
	fmt.Printf("idle: %d MB\n", g.resident())
	following, stop := context.WithCancel(ctx)
	most := make(chan int, 1)
	go func() { most <- g.follow(following) }()
	besides := make(chan error, 1)
	go func() { besides <- l.besides(ctx, classes[0], binary, data, to) }()
	l.run(ctx, classes, shots)
	l.print()
	err := errors.Join(<-besides, measured(ctx, db, l.photos))
	stop()
	g.print(fmt.Sprint(<-most, " MB"))
	return err
}

// besides has a class set made and a backup written while the class is at work.
func (l *lesson) besides(ctx context.Context, c trial.Class, binary, data, to string) error {
	if !wait(ctx, photosFrom) {
		return nil
	}
	form := url.Values{"kind": {"reference", "sheet", "marks", "clean"}, "who": {"everyone"}, "paper": {"A4"}}
	l.ask(ctx, c.Browser, "a class set asked for", http.MethodPost, fmt.Sprintf("/projects/%d/print/jobs", c.Project), "application/x-www-form-urlencoded", []byte(form.Encode()))
	began := time.Now()
	if out, err := exec.CommandContext(ctx, binary, "backup", "--data", data, "--out", to).CombinedOutput(); err != nil {
		return fmt.Errorf("the backup: %w: %s", err, out)
	}
	fmt.Printf("a backup while the class was at work: %v\n", time.Since(began).Round(100*time.Millisecond))
	return nil
}
