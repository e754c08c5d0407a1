// Package core_test holds the house rule of internal/core: rules of the craft
// only, so no network, no database, no files, no clock, nothing of ours from outside.
package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// order lists the packages of core; one may use those before it.
var order = []string{"measure", "plane", "sighting", "grid", "picture", "colour", "lines", "strokes", "values", "reading",
	"training", "finish", "survey", "lesson", "transfer", "tiles", "photo", "accuracy", "page", "sheet"}

var forbidden = []string{"net", "net/http", "os", "os/exec", "database/sql", "time", "html/template", "text/template", "log", "log/slog", "syscall"}

func TestArrowsGoOneWay(t *testing.T) {
	seen := map[string]bool{}
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		room := filepath.Base(filepath.Dir(path))
		seen[room] = true
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, spec := range file.Imports {
			name, _ := strconv.Unquote(spec.Path.Value)
			used, ours := strings.CutPrefix(name, "zestysketch/internal/core/")
			switch {
			case ours && slices.Index(order, used) < slices.Index(order, room):
			case ours || strings.HasPrefix(name, "zestysketch/") || slices.Contains(forbidden, name) || strings.HasPrefix(name, "gorm.io/"):
				t.Errorf("%s imports %s", path, name)
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	for room := range seen {
		if !slices.Contains(order, room) {
			t.Errorf("package %s has no place in the order", room)
		}
	}
}
