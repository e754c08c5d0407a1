package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"zestysketch/internal/cluster/galera"
	"zestysketch/internal/trial"
)

// house is the nodes, the copies and what stands before them.
type house struct {
	dir, binary string
	first       string // what the copies are to begin with
	nodes       *galera.Cluster
	copies      []*trial.Copy
	proxy       *trial.Proxy
	addr        string
}

func build(ctx context.Context, from string) (h *house, err error) {
	dir, err := os.MkdirTemp("", "cluster")
	if err != nil {
		return nil, err
	}
	h = &house{dir: dir}
	defer func() {
		if err != nil {
			err = errors.Join(err, h.close())
		}
	}()
	if h.binary, err = trial.Build(dir); err != nil {
		return h, err
	}
	if h.first = h.binary; from != "" {
		if h.first, err = trial.BuildAt(dir, from); err != nil {
			return h, err
		}
	}
	if h.nodes, err = galera.Start(ctx, dir, 3); err != nil {
		return h, err
	}
	for i := range 3 {
		c, err := trial.NewCopy(dir, fmt.Sprint("copy", i))
		if err != nil {
			return h, err
		}
		h.copies = append(h.copies, c)
		if err := c.Start(h.first, filepath.Join(h.dir, "data"), h.nodes.DSN(i)); err != nil {
			return h, err
		}
	}
	for _, c := range h.copies {
		if err := c.Ready(); err != nil {
			return h, err
		}
	}
	if h.proxy, err = trial.NewProxy(dir, h.copies); err == nil {
		h.addr = h.proxy.Addr
	}
	return h, err
}

// start starts a copy, each with a node of its own before the others.
func (h *house) start(i int) error {
	return h.copies[i].Start(h.binary, filepath.Join(h.dir, "data"), h.nodes.DSN(i))
}

func (h *house) close() error {
	if h.proxy != nil {
		h.proxy.Stop()
	}
	for _, c := range h.copies {
		c.Stop()
	}
	if h.nodes != nil {
		h.nodes.Stop()
	}
	return os.RemoveAll(h.dir)
}
