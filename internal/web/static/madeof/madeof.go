// Package madeof tells from which sources the viewfinder for browsers was built.
package madeof

import (
	"crypto/sha256"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// sources are the folders that go into it, besides the modules.
var sources = []string{"cmd/viewfinder", "internal/core/accuracy", "internal/core/grid", "internal/core/lines", "internal/core/measure", "internal/core/photo", "internal/core/picture", "internal/core/plane",
	"internal/core/reading", "internal/core/training", "internal/core/values"}

// Sum returns a sum of the sources below a folder, without their tests.
func Sum(root string) (string, error) {
	var names []string
	for _, dir := range sources {
		found, err := filepath.Glob(filepath.Join(root, dir, "*.go"))
		if err != nil {
			return "", err
		}
		names = append(names, found...)
	}
	slices.Sort(names)
	sum := sha256.New()
	for _, name := range names {
		if strings.HasSuffix(name, "_test.go") {
			continue
		}
		b, err := os.ReadFile(name)
		if err != nil {
			return "", err
		}
		fmt.Fprintln(sum, filepath.Base(name), len(b))
		sum.Write(b)
	}
	return fmt.Sprintf("%x", sum.Sum(nil)), nil
}
