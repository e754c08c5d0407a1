package school

import (
	"cmp"
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
	Asked   bool // one is being made
	CanAsk  bool
	Many    bool // there are other schools here: a backup holds theirs too
	Untold  []store.BackupFolder
}

type backupView struct {
	Name, When, Size string
	Sealed           bool
}

// late is how old the last backup may be before the page says so.
const late = 49 * time.Hour

func (a area) listBackups(w http.ResponseWriter, r *http.Request) error {
	v := backupsView{Tabs: tabs("/school/backups"), On: a.backups != "", CanAsk: a.backUp != nil, Asked: r.URL.Query().Has("asked")}
	var err error
	if v.Untold, err = a.Store.Untold(r.Context()); err != nil {
		return err
	}
	if v.Many, err = a.Store.ManySchools(r.Context()); err != nil {
		return err
	}
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
	// A folder of today has no nights behind it yet.
	if folder, err := os.Stat(a.backups); newest.IsZero() && err == nil {
		newest = folder.ModTime()
	}
	v.Late = time.Since(newest) > late
	return pages.Whole(w, r, "backups.html", "Backups", v)
}

// backUpNow has a backup made, which is listed when it is there.
func (a area) backUpNow(w http.ResponseWriter, r *http.Request) error {
	if a.backUp == nil || a.backups == "" {
		return kit.Ask("No backups are made by themselves here: “zesty-sketch backup --out FILE” makes one.")
	}
	a.backUp()
	return kit.Go(w, r, "/school/backups?asked=1")
}

// sealed reports whether a file is encrypted to somebody's key.
func sealed(path string) bool {
	f, err := os.Open(path)
	if err != nil {
		return false
	}
	defer f.Close()
	return backup.Encrypted(f)
}

// backup hands out one of the files of the list, by its name in it.
func (a area) backup(w http.ResponseWriter, r *http.Request) error {
	// A backup holds every school's: where there are several it is handed out by whoever keeps the machine.
	if many, err := a.Store.ManySchools(r.Context()); err != nil || many {
		return cmp.Or(err, error(store.ErrNotFound))
	}
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

// backupsGone notes that the backups in a folder are no more: nobody waits until they are
// told who was forgotten.
func (a area) backupsGone(w http.ResponseWriter, r *http.Request) error {
	if err := a.Store.DropBackupFolder(r.Context(), r.FormValue("host"), r.FormValue("folder")); err != nil {
		return err
	}
	return kit.Go(w, r, "/school/backups")
}
