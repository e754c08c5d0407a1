// Command notices gathers the licences of everything that ships in the program: of
// the modules that it is built of, of Go itself, and of what lies in the tree. It
// writes internal/notices/texts.txt and NOTICES.md, or with -check says whether they
// are as they should be.
//
//	go run ./scripts/notices [-check]
package main

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"zestysketch/internal/notices"
)

func main() {
	check := flag.Bool("check", false, "say what is not as it should be, and write nothing")
	flag.Parse()
	texts, table, err := gather()
	if err == nil {
		for path, want := range map[string]string{"internal/notices/texts.txt": texts, "NOTICES.md": table} {
			err = errors.Join(err, put(path, want, *check))
		}
	}
	if err != nil {
		log.Fatal(err)
	}
}

// put writes a file, or says that it is not as it should be.
func put(path, want string, check bool) error {
	if !check {
		return os.WriteFile(path, []byte(want), 0o644)
	}
	got, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	if string(got) != want {
		return fmt.Errorf("%s is not of what ships now: go run ./scripts/notices", path)
	}
	return nil
}

// inTree is what ships and is no module.
var inTree = []struct{ name, version, licence, file string }{
	{"Bootstrap (styles)", "5.3.9", "MIT", "internal/web/static/vendor/bootstrap/LICENSE"},
	{"Go (the script that starts compiled Go in a browser)", "1.26", "BSD-3-Clause", "internal/web/static/vendor/go/LICENSE"},
	{"htmx", "2.0.11", "0BSD", "internal/web/static/vendor/htmx/LICENSE"},
	{"Atkinson Hyperlegible", "5.3.0 (package)", "OFL 1.1", "internal/web/static/vendor/fonts/LICENSE-atkinson-hyperlegible"},
	{"libheif and libde265, in github.com/gen2brain/heic", "as it holds them", "LGPL 3.0", "internal/notices/lgpl-3.txt"},
	{"GNU General Public License, which the LGPL adds to", "3", "GPL 3.0", "internal/notices/gpl-3.txt"},
	{"PDFium, in github.com/klippa-app/go-pdfium", "as it holds it", "BSD 3-clause", "internal/notices/pdfium.txt"},
	{"Fraunces", "5.3.0 (package)", "OFL 1.1", "internal/web/static/vendor/fonts/LICENSE-fraunces"},
}

// passedOn is what the LGPL part asks of whoever passes the program on (LGPL 3, section 4).
const passedOn = `
## To whoever passes the program on
One part, libheif with libde265, which opens HEIC photos, is under the GNU Lesser General Public License 3; all else may be passed on
with its own texts alone. Of the program in which it is, that licence asks four things, and ` + "`make deb`" + ` does them:
1. *Say that it is in there, and under which licence.* This page says it, and About does.
2. *Give the texts of the LGPL and the GPL.* They are in ` + "`licences.txt`" + ` beside this page and on About.
3. *Let it be exchanged.* Pass on ` + "`zesty-sketch_VERSION.source.tar.gz`" + ` too, which ` + "`make deb`" + ` writes beside the package: the program's
   whole source, and in ` + "`heic/`" + ` that part with its own sources named and how it is built. Change it there, then
   ` + "`go mod edit -replace github.com/gen2brain/heic=./heic && make deb`" + `.
4. *Forbid nobody to change it, or to look into the program while mending it.* The MIT licence of the rest forbids neither.
`

func gather() (texts, table string, err error) {
	parts, err := modules()
	if err != nil {
		return "", "", err
	}
	own, err := goItself()
	if err != nil {
		return "", "", err
	}
	parts = append(parts, own)
	for _, t := range inTree {
		b, err := os.ReadFile(t.file)
		if err != nil {
			return "", "", err
		}
		parts = append(parts, notices.Part{Name: t.name, Version: t.version, Licence: t.licence, Text: tidy(b)})
	}
	slices.SortFunc(parts, func(a, b notices.Part) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	table = "# What ships with Zesty Sketch, and its licences\n\nMade by `go run ./scripts/notices`, which `make test` checks. The texts are on the About page and in `internal/notices/texts.txt`.\n\n| part | version | licence |\n|---|---|---|\n"
	for _, p := range parts {
		texts += p.String()
		table += fmt.Sprintf("| %s | %s | %s |\n", p.Name, p.Version, p.Licence)
	}
	table += passedOn + `
In the tests only: rod (MIT), emersion/go-ical and rrule-go (MIT), gonum (BSD 3-clause), pebble (MPL 2.0, run beside them),
axe-core 4.14.1 (MPL 2.0, ` + "`internal/web/testdata/axe-LICENSE`" + `).
Used beside it, from Debian: MariaDB; in the tests Chromium, poppler-utils, librsvg2-bin, qpdf, zbar-tools, tesseract-ocr, galera-4, rsync, haproxy, libnss3-tools, openssl.
`
	return texts, table, nil
}

// module is what go list says of one.
type module struct {
	Path, Version, Dir string
	Main               bool
}

// modules returns the modules that the program is built of, with their licences.
func modules() (parts []notices.Part, err error) {
	out, err := exec.Command("go", "list", "-deps", "-json=Module", "./cmd/zesty-sketch").Output()
	if err != nil {
		return nil, fmt.Errorf("listing the modules: %w", err)
	}
	seen := map[string]bool{}
	for list := json.NewDecoder(bytes.NewReader(out)); ; {
		var p struct{ Module *module }
		if err := list.Decode(&p); errors.Is(err, io.EOF) {
			return parts, nil
		} else if err != nil {
			return nil, err
		}
		if p.Module == nil || p.Module.Main || seen[p.Module.Path] {
			continue
		}
		seen[p.Module.Path] = true
		text, licence, err := licences(p.Module.Dir)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", p.Module.Path, err)
		}
		parts = append(parts, notices.Part{Name: p.Module.Path, Version: p.Module.Version, Licence: licence, Text: text})
	}
}

// goItself is Go's own library, of which every program holds a part.
func goItself() (notices.Part, error) {
	out, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return notices.Part{}, err
	}
	text, licence, err := licences(strings.TrimSpace(string(out)))
	return notices.Part{Name: "Go", Version: "its standard library", Licence: licence, Text: text}, err
}

var licenceFile = regexp.MustCompile(`(?i)^(licen[cs]e|copying|notice|patents)([-._].*)?$`)

// licences returns the texts in a module's folder, and what they are.
func licences(dir string) (text, kind string, err error) {
	files, err := os.ReadDir(dir)
	if err != nil {
		return "", "", err
	}
	var texts []string
	for _, f := range files {
		if f.IsDir() || !licenceFile.MatchString(f.Name()) || strings.HasSuffix(f.Name(), ".go") {
			continue
		}
		b, err := os.ReadFile(filepath.Join(dir, f.Name()))
		if err != nil {
			return "", "", err
		}
		texts = append(texts, tidy(b))
	}
	if len(texts) == 0 {
		return "", "", errors.New("no licence found in its folder")
	}
	text = strings.Join(texts, "\n\n")
	return text, kindOf(text), nil
}

// tidy returns a text without what ends its lines differently.
func tidy(b []byte) string {
	text := strings.ReplaceAll(string(b), "\r\n", "\n")
	lines := strings.Split(text, "\n")
	for i, l := range lines {
		lines[i] = strings.TrimRight(l, " \t\f")
		if strings.HasPrefix(lines[i], notices.Rule) {
			lines[i] = " " + lines[i]
		}
	}
	return strings.TrimSpace(strings.Join(lines, "\n"))
}

// marks are words that stand in one licence alone.
var marks = []struct{ kind, words string }{
	{"MPL 2.0", "Mozilla Public License"},
	{"Apache 2.0", "Apache License"},
	{"LGPL 3.0", "GNU LESSER GENERAL PUBLIC LICENSE"},
	{"BSD 3-clause", "Neither the name"},
	{"BSD 2-clause", "Redistributions in binary form"},
	{"ISC", "Permission to use, copy, modify, and/or distribute this software for any"},
	{"ISC", "Permission to use, copy, modify, and distribute this software for any"},
	{"MIT", "Permission is hereby granted, free of charge"},
	{"public domain", "released into the public domain"},
}

// kindOf says what licences a text holds.
func kindOf(text string) string {
	flat := strings.Join(strings.Fields(text), " ")
	var kinds []string
	for _, m := range marks {
		if strings.Contains(flat, m.words) && !slices.Contains(kinds, m.kind) && !(m.kind == "BSD 2-clause" && slices.Contains(kinds, "BSD 3-clause")) {
			kinds = append(kinds, m.kind)
		}
	}
	if len(kinds) == 0 {
		return "see its text"
	}
	return strings.Join(kinds, ", ")
}
