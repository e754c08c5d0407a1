package main

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"zestysketch/internal/cluster/galera"
)

// house is the nodes, the copies and what stands before them.
type house struct {
	dir     string
	nodes   *galera.Cluster
	binary  string
	copies  []*copyOf
	haproxy *exec.Cmd
	addr    string
}

// copyOf is one copy of the program.
type copyOf struct {
	addr string
	cmd  *exec.Cmd
	log  *os.File
}

func build(ctx context.Context) (h *house, err error) {
	dir, err := os.MkdirTemp("", "cluster")
	if err != nil {
		return nil, err
	}
	h = &house{dir: dir, binary: filepath.Join(dir, "zesty-sketch")}
	defer func() {
		if err != nil {
			err = errors.Join(err, h.close())
		}
	}()
	if out, err := exec.Command("go", "build", "-o", h.binary, "zestysketch/cmd/zesty-sketch").CombinedOutput(); err != nil {
		return h, fmt.Errorf("building: %w: %s", err, out)
	}
	if h.nodes, err = galera.Start(ctx, dir, 3); err != nil {
		return h, err
	}
	for i := range 3 {
		addr, err := free()
		if err != nil {
			return h, err
		}
		logged, err := os.Create(filepath.Join(dir, fmt.Sprint("copy", i, ".log")))
		if err != nil {
			return h, err
		}
		h.copies = append(h.copies, &copyOf{addr: addr, log: logged})
		if err := h.start(i); err != nil {
			return h, err
		}
	}
	for _, c := range h.copies {
		if err := ready("http://" + c.addr + "/readyz"); err != nil {
			return h, err
		}
	}
	return h, h.proxy()
}

// start starts a copy, each with a node of its own before the others.
func (h *house) start(i int) error {
	c := h.copies[i]
	c.cmd = exec.Command(h.binary, "serve", "--addr", c.addr, "--proxy", "127.0.0.1", "--data", filepath.Join(h.dir, "data"))
	c.cmd.Env = append(os.Environ(), "ZESTY_DSN="+h.nodes.DSN(i))
	c.cmd.Stdout, c.cmd.Stderr = c.log, c.log
	return c.cmd.Start()
}

// proxy starts haproxy before the copies. A request that reached a copy is not sent
// to another: only whoever sent it knows whether twice is once.
func (h *house) proxy() (err error) {
	if h.addr, err = free(); err != nil {
		return err
	}
	var servers strings.Builder
	for i, c := range h.copies {
		fmt.Fprintf(&servers, "  server copy%d %s check inter 500ms fall 2 rise 2 on-marked-down shutdown-sessions\n", i, c.addr)
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
%s`, h.addr, servers.String())
	path := filepath.Join(h.dir, "haproxy.cfg")
	if err := os.WriteFile(path, []byte(config), 0o644); err != nil {
		return err
	}
	h.haproxy = exec.Command("/usr/sbin/haproxy", "-db", "-f", path)
	logged, err := os.Create(filepath.Join(h.dir, "haproxy.log"))
	if err != nil {
		return err
	}
	h.haproxy.Stdout, h.haproxy.Stderr = logged, logged
	if err := h.haproxy.Start(); err != nil {
		return err
	}
	return ready("http://" + h.addr + "/readyz")
}

// ready waits until an address answers that all is well.
func ready(at string) error {
	c := &http.Client{Timeout: 2 * time.Second}
	for until := time.Now().Add(time.Minute); time.Now().Before(until); time.Sleep(100 * time.Millisecond) {
		if res, err := c.Get(at); err == nil {
			res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return nil
			}
		}
	}
	return fmt.Errorf("%s is not ready within a minute", at)
}

func (h *house) close() error {
	var errs []error
	if h.haproxy != nil && h.haproxy.Process != nil {
		h.haproxy.Process.Kill()
		h.haproxy.Wait()
	}
	for _, c := range h.copies {
		if c.cmd != nil && c.cmd.Process != nil {
			c.cmd.Process.Signal(syscall.SIGTERM)
			c.cmd.Wait() // one that was killed is an error of its own
		}
		c.log.Close()
	}
	if h.nodes != nil {
		errs = append(errs, h.nodes.Stop())
	}
	return errors.Join(append(errs, os.RemoveAll(h.dir))...)
}

func free() (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	defer l.Close()
	return l.Addr().String(), nil
}
