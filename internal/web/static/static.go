// Package static ships styles, scripts, fonts and pictures of the interface.
package static

import (
	"embed"
	"io/fs"
	"net/http"
)

//go:embed *.css *.js *.svg vendor
var files embed.FS

// Handler serves the files below /static/. They are part of the program, so a
// browser asks again after an hour at the latest.
func Handler() http.Handler {
	serve := http.StripPrefix("/static/", http.FileServerFS(noFolders{files}))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "public, max-age=3600")
		serve.ServeHTTP(w, r)
	})
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
