// Package static ships styles, scripts, fonts and pictures of the interface.
package static

import (
	"bytes"
	"embed"
	"io/fs"
	"net/http"
	"time"

	"zestysketch/internal/core/page"
)

//go:embed css *.js *.svg vendor
var files embed.FS

// faces are the letters of printed pages, so that the screen shows them alike.
var faces = map[string][]byte{"/static/fonts/go-regular.ttf": page.Regular, "/static/fonts/go-bold.ttf": page.Bold}

// Handler serves the files below /static/. They are part of the program, so a
// browser asks again after an hour at the latest.
func Handler() http.Handler {
	serve := http.StripPrefix("/static/", http.FileServerFS(noFolders{files}))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "public, max-age=3600")
		made, ok := faces[r.URL.Path]
		switch r.URL.Path {
		case "/static/zest.css":
			made, ok = styles, true
		case "/static/viewfinder.wasm":
			viewfinder(w, r)
			return
		}
		if ok {
			http.ServeContent(w, r, r.URL.Path, time.Time{}, bytes.NewReader(made))
			return
		}
		serve.ServeHTTP(w, r)
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
