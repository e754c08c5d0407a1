package school

import (
	"errors"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/backup"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// backupsView is the page of backups.
type backupsView struct {
	Tabs    kit.Tabs
	On      bool // there is a folder for them
	Backups []backupView
	Late    bool // none was made for two days
}

type backupView struct {
	Name, When, Size string
	Sealed           bool
}

// late is how old the last backup may be before the page says so.
const late = 49 * time.Hour

func (a area) listBackups(w http.ResponseWriter, r *http.Request) error {
	v := backupsView{Tabs: tabs("/school/backups"), On: a.backups != ""}
	if !v.On {
		return pages.Whole(w, r, "backups.html", "Backups", v)
	}
	files, err := os.ReadDir(a.backups)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	var newest time.Time
	for _, f := range slices.Backward(files) {
		info, err := f.Info()
		if err != nil || !info.Mode().IsRegular() || !strings.HasSuffix(f.Name(), backup.Ending) {
			continue
		}
		if info.ModTime().After(newest) {
			newest = info.ModTime()
		}
		v.Backups = append(v.Backups, backupView{f.Name(), kit.Clock(r).Stamp(info.ModTime()), kit.Bytes(info.Size()), sealed(filepath.Join(a.backups, f.Name()))})
	}
	v.Late = time.Since(newest) > late
	return pages.Whole(w, r, "backups.html", "Backups", v)
}

// sealed reports whether a file is encrypted to somebody's key.
func sealed(path string) bool {
	f, err := os.Open(path)
	if err != nil {
		return false
	}
	defer f.Close()
	head := make([]byte, len(backup.Sealed))
	n, _ := f.Read(head)
	return string(head[:n]) == backup.Sealed
}

// backup hands out one of the files of the list, by its name in it.
func (a area) backup(w http.ResponseWriter, r *http.Request) error {
	name := chi.URLParam(r, "backup")
	files, err := os.ReadDir(a.backups)
	if a.backups == "" || errors.Is(err, fs.ErrNotExist) {
		return store.ErrNotFound
	}
	if err != nil {
		return err
	}
	if !strings.HasSuffix(name, backup.Ending) || !slices.ContainsFunc(files, func(f fs.DirEntry) bool { return f.Name() == name && f.Type().IsRegular() }) {
		return store.ErrNotFound
	}
	f, err := os.Open(filepath.Join(a.backups, name))
	if err != nil {
		return err
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/octet-stream")
	w.Header().Set("Content-Disposition", kit.Attachment(strings.TrimSuffix(name, backup.Ending), strings.TrimPrefix(backup.Ending, ".")))
	http.ServeContent(w, r, name, info.ModTime(), f)
	return nil
}
