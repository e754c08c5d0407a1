package trial

import (
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"zestysketch/internal/ports"
	"zestysketch/internal/process"
)

// Copy is one copy of the program.
type Copy struct {
	Addr string
	Log  string // its file
	*process.Process
}

// Build builds the program into a folder and returns its path.
func Build(dir string) (string, error) {
	binary := filepath.Join(dir, "zesty-sketch")
	if out, err := exec.Command("go", "build", "-o", binary, "zestysketch/cmd/zesty-sketch").CombinedOutput(); err != nil {
		return "", fmt.Errorf("building: %w: %s", err, out)
	}
	return binary, nil
}

// BuildAt builds the program of an earlier commit of this repository, with what it is built with.
func BuildAt(dir, commit string) (string, error) {
	tree, binary := filepath.Join(dir, "tree"), filepath.Join(dir, "zesty-sketch-"+commit)
	for _, words := range [][]string{{"git", "worktree", "add", "--detach", tree, commit}, {"make", "-C", tree, "build"},
		{"cp", filepath.Join(tree, "bin", "zesty-sketch"), binary}, {"git", "worktree", "remove", "--force", tree}} {
		if out, err := exec.Command(words[0], words[1:]...).CombinedOutput(); err != nil {
			return "", fmt.Errorf("%v: %w: %s", words, err, out)
		}
	}
	return binary, nil
}

// NewCopy returns a copy that is not started yet, on a free port.
func NewCopy(dir, name string) (*Copy, error) {
	addr, err := ports.Address()
	return &Copy{Addr: addr, Log: filepath.Join(dir, name+".log")}, err
}

// Start starts the copy from a binary, believing the proxy before it; dsn is empty for
// a private database in the folder data.
func (c *Copy) Start(binary, data, dsn string) error {
	logged, err := os.OpenFile(c.Log, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer logged.Close()
	cmd := exec.Command(binary, "serve", "--addr", c.Addr, "--proxy", "127.0.0.1", "--data", data)
	cmd.Env = append(os.Environ(), "ZESTY_DSN="+dsn)
	cmd.Stdout, cmd.Stderr = logged, logged
	c.Process, err = process.Start(cmd)
	return err
}

// Ready waits until the copy answers that all is well, a minute at most. The error has
// the end of its log: a copy that could not start says there why.
func (c *Copy) Ready() error {
	if err := ready("http://"+c.Addr+"/readyz", c.Ended()); err != nil {
		text, _ := os.ReadFile(c.Log) // whatever there is
		return fmt.Errorf("%w; its log ends: %s", err, text[max(0, len(text)-2000):])
	}
	return nil
}

// Kill ends the copy at once, as a machine dies.
func (c *Copy) Kill() error { return c.End(syscall.SIGKILL) }

// Stop ends the copy in order.
func (c *Copy) Stop() { c.End(syscall.SIGTERM) }

// Proxy is haproxy before copies of the program.
type Proxy struct {
	Addr string
	*process.Process
}

// NewProxy starts haproxy before copies. A request that reached a copy is not sent to
// another: only whoever sent it knows whether twice is once.
func NewProxy(dir string, copies []*Copy) (*Proxy, error) {
	addr, err := ports.Address()
	if err != nil {
		return nil, err
	}
	// One copy alone stays in use however slow: taken out, everybody would be turned away.
	check := ""
	if len(copies) > 1 {
		check = " check inter 500ms fall 2 rise 2 on-marked-down shutdown-sessions"
	}
	var servers strings.Builder
	for i, c := range copies {
		fmt.Fprintf(&servers, "  server copy%d %s%s\n", i, c.Addr, check)
	}
	config := fmt.Sprintf(`global
  maxconn 6000
defaults
  mode http
  timeout connect 1s
  timeout client 60s
  timeout server 60s
  timeout check 1s
  option redispatch 1
  retries 2
  retry-on conn-failure
frontend school
  bind %s
  default_backend copies
backend copies
  balance leastconn
  option httpchk GET /readyz
  http-request set-header X-Forwarded-For %%[src]
  http-request set-header X-Forwarded-Proto http
%s`, addr, servers.String())
	path := filepath.Join(dir, "haproxy.cfg")
	if err := os.WriteFile(path, []byte(config), 0o644); err != nil {
		return nil, err
	}
	started, err := process.Start(exec.Command("/usr/sbin/haproxy", "-db", "-f", path))
	if err != nil {
		return nil, err
	}
	return &Proxy{addr, started}, ready("http://"+addr+"/readyz", started.Ended())
}

// Stop ends haproxy.
func (p *Proxy) Stop() { p.End(syscall.SIGKILL) }

// ready waits until an address answers that all is well, a minute at most, or until who
// should answer has ended.
func ready(at string, ended <-chan struct{}) error {
	c := &http.Client{Timeout: 2 * time.Second}
	for until := time.Now().Add(time.Minute); time.Now().Before(until); {
		if res, err := c.Get(at); err == nil {
			res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return nil
			}
		}
		select {
		case <-ended:
			return fmt.Errorf("%s ended before it was ready", at)
		case <-time.After(100 * time.Millisecond):
		}
	}
	return fmt.Errorf("%s is not ready within a minute", at)
}
