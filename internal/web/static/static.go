// Package static ships styles, scripts, fonts and pictures of the interface.
package static

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"fmt"
	"io/fs"
	"net/http"
	"regexp"
	"strings"
	"time"

	"zestysketch/internal/core/page"
)

//go:embed css *.js *.svg vendor
var files embed.FS

// faces are the letters of printed pages, so that the screen shows them alike.
var faces = map[string][]byte{"fonts/go-regular.ttf": page.Regular, "fonts/go-bold.ttf": page.Bold}

// root is the folder in which this version's files are served: it names them all by what is in them, so that a browser
// keeps them for a year, and after an upgrade runs no script of yesterday's against today's pages. Scripts name one
// another by relative addresses, and stay in their folder.
var root = func() string {
	sum := sha256.New()
	err := fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		_, err = fmt.Fprintf(sum, "%s %d %s", name, len(read(name)), read(name))
		return err
	})
	if err != nil {
		panic(err) // they are compiled in
	}
	return fmt.Sprintf("/static/v-%x/", sum.Sum(nil)[:6])
}()

// Path returns the address of a file.
func Path(name string) string { return root + name }

// version is the folder of this or of another version.
var version = regexp.MustCompile(`^/static/(v-[0-9a-f]{12}/)?`)

// Handler serves the files below /static/: in this version's folder for a year. In another's, whose page may be
// answered by this program while a school's copies are upgraded one by one, or in none, they are not kept.
func Handler() http.Handler {
	serve := http.FileServerFS(noFolders{files})
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		in := version.FindString(r.URL.Path)
		name, kept := strings.TrimPrefix(r.URL.Path, in), "no-cache"
		if in == root {
			kept = "public, max-age=31536000, immutable"
		}
		w.Header().Set("Cache-Control", kept)
		made, ok := faces[name]
		switch name {
		case "zest.css":
			made, ok = styles, true
		case "viewfinder.wasm":
			viewfinder(w, r)
			return
		}
		if ok {
			http.ServeContent(w, r, name, time.Time{}, bytes.NewReader(made))
			return
		}
		http.StripPrefix(in, serve).ServeHTTP(w, r)
	})
}

// viewfinder serves the core's look at a camera's picture, which is kept compressed; every
// browser that runs it reads that.
func viewfinder(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Content-Type", "application/wasm")
	w.Header().Set("Content-Encoding", "gzip")
	http.ServeFileFS(w, r, files, "vendor/go/viewfinder.wasm.gz")
}

// Worker serves the service worker of students' pages, from where it may keep them.
func Worker(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-cache")
	http.ServeFileFS(w, r, files, "worker.js")
}

// noFolders keeps listings of folders to ourselves.
type noFolders struct{ fs.FS }

func (n noFolders) Open(name string) (fs.File, error) {
	f, err := n.FS.Open(name)
	if err != nil {
		return nil, err
	}
	if info, err := f.Stat(); err != nil || info.IsDir() {
		f.Close()
		return nil, fs.ErrNotExist
	}
	return f, nil
}
