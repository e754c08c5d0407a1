// Command viewfinder builds the core's look at a camera's picture for the browser: the
// compressed program, the script of the Go release that starts it, and a sum of the sources
// by which a test sees that it is not older than they are.
//
//	go run ./scripts/viewfinder
package main

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"

	"zestysketch/internal/web/static/madeof"
)

const to = "internal/web/static/vendor/go"

func main() {
	if err := build(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func build() error {
	dir, err := os.MkdirTemp("", "viewfinder")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	out := filepath.Join(dir, "viewfinder.wasm")
	run := exec.Command("go", "build", "-trimpath", "-buildvcs=false", "-ldflags", "-s -w", "-o", out, "./cmd/viewfinder")
	run.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm", "CGO_ENABLED=0")
	run.Stderr = os.Stderr
	if err := run.Run(); err != nil {
		return err
	}
	program, err := os.ReadFile(out)
	if err != nil {
		return err
	}
	var small bytes.Buffer
	w, err := gzip.NewWriterLevel(&small, gzip.BestCompression)
	if err != nil {
		return err
	}
	if _, err := w.Write(program); err != nil {
		return err
	}
	if err := w.Close(); err != nil {
		return err
	}
	root, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return err
	}
	starter, err := os.ReadFile(filepath.Join(strings.TrimSpace(string(root)), "lib", "wasm", "wasm_exec.js"))
	if err != nil {
		return err
	}
	sum, err := madeof.Sum(".")
	if err != nil {
		return err
	}
	for name, b := range map[string][]byte{"viewfinder.wasm.gz": small.Bytes(), "wasm_exec.js": starter, "made-of": []byte(sum + "\n")} {
		if err := os.WriteFile(filepath.Join(to, name), b, 0o644); err != nil {
			return err
		}
	}
	fmt.Printf("%s: %d bytes compressed, %s\n", to, small.Len(), runtime.Version())
	return nil
}
