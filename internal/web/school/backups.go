package school

import (
	"context"
	"errors"
	"fmt"
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

// Backups is what the server does for them.
type Backups struct {
	Folder string              // that it backs up into, empty for none
	Now    func(school uint64) // has one made, of one of several schools or, by 0, of the whole; nil where it cannot be asked for
	// Back brings one of several schools back from a file in its own folder.
	Back func(ctx context.Context, school uint64, name string) error
}

// shelf is where the backups are that an administrator sees: where there are several schools, their own's.
func (a area) shelf(r *http.Request) (dir string, many bool, err error) {
	many, err = a.Store.ManySchools(r.Context())
	if dir = a.backups.Folder; many && dir != "" {
		dir = backup.FolderOf(dir, kit.Teacher(r).SchoolID)
	}
	return dir, many, err
}

// backupsView is the page of backups.
type backupsView struct {
	Tabs    kit.Tabs
	On      bool // there is a folder for them
	Backups []backupView
	Late    bool // none was made for two days
	Asked   bool // one is being made
	CanAsk  bool
	Many    bool // there are other schools here: these are of this one alone
	School  string
	Trial   string // when one was brought back for a trial last, and what came; empty for none
	Wrong   string // why one could not be
	Untold  []store.BackupFolder
}

type backupView struct {
	Name, When, Size string
	Sealed           bool
}

// late is how old the last backup may be before the page says so.
const late = 49 * time.Hour

func (a area) listBackups(w http.ResponseWriter, r *http.Request) error {
	v := backupsView{Tabs: tabs("/school/backups"), On: a.backups.Folder != "", CanAsk: a.backups.Now != nil, School: kit.Teacher(r).School.Name, Asked: r.URL.Query().Has("asked")}
	var err error
	if v.Untold, err = a.Store.Untold(r.Context()); err != nil {
		return err
	}
	dir, many, err := a.shelf(r)
	if err != nil {
		return err
	}
	if v.Many = many; !v.On {
		return pages.Whole(w, r, "backups.html", "Backups", v)
	}
	files, err := os.ReadDir(dir)
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
		v.Backups = append(v.Backups, backupView{f.Name(), kit.Clock(r).Stamp(info.ModTime()), kit.Bytes(info.Size()), sealed(filepath.Join(dir, f.Name()))})
	}
	// A folder of today has no nights behind it yet.
	if folder, err := os.Stat(a.backups.Folder); newest.IsZero() && err == nil {
		newest = folder.ModTime()
	}
	v.Late = time.Since(newest) > late
	if err := a.addTrial(r, &v); err != nil {
		return err
	}
	return pages.Whole(w, r, "backups.html", "Backups", v)
}

// addTrial says how the last trial of a backup went.
func (a area) addTrial(r *http.Request, v *backupsView) error {
	t, err := backup.ReadTrial(a.backups.Folder)
	if err != nil {
		return err
	}
	if v.Wrong = t.Wrong; !t.At.IsZero() && !v.Many {
		v.Trial = fmt.Sprintf("%s: %s, with %d teachers and %d projects", kit.Clock(r).Stamp(t.At), t.Backup, t.Teachers, t.Projects)
	}
	return nil
}

// backUpNow has a backup made, which is listed when it is there.
func (a area) backUpNow(w http.ResponseWriter, r *http.Request) error {
	dir, many, err := a.shelf(r)
	if err != nil {
		return err
	}
	if a.backups.Now == nil || dir == "" {
		return kit.Ask("No backups are made by themselves here: “zesty-sketch backup --out FILE” makes one.")
	}
	which := uint64(0)
	if many {
		which = kit.Teacher(r).SchoolID
	}
	a.backups.Now(which)
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

// listed returns the path of one of the files of the list, by its name in it.
func (a area) listed(r *http.Request) (path string, many bool, err error) {
	dir, many, err := a.shelf(r)
	if err != nil {
		return "", many, err
	}
	name := chi.URLParam(r, "backup")
	files, err := os.ReadDir(dir)
	if dir == "" || errors.Is(err, fs.ErrNotExist) {
		return "", many, store.ErrNotFound
	}
	if err != nil {
		return "", many, err
	}
	if !strings.HasSuffix(name, backup.Ending) || !slices.ContainsFunc(files, func(f fs.DirEntry) bool { return f.Name() == name && f.Type().IsRegular() }) {
		return "", many, store.ErrNotFound
	}
	return filepath.Join(dir, name), many, nil
}

// bringBack brings one of several schools back as one of its copies has it: its name is typed, for
// what was done since is gone.
func (a area) bringBack(w http.ResponseWriter, r *http.Request) error {
	path, many, err := a.listed(r)
	if err != nil {
		return err
	}
	place := kit.Teacher(r).School
	switch {
	case !many || a.backups.Back == nil:
		return kit.Ask("Whoever keeps the machine brings it back: “zesty-sketch restore FILE”, into an empty folder.")
	case sealed(path):
		return kit.Ask("This copy is encrypted: whoever keeps the key brings it back, by “zesty-sketch school restore”.")
	case kit.Tidy(r.FormValue("name")) != place.Name:
		return kit.AskAt("name", "Write the school's name, %s, to be sure: what was done since is gone.", place.Name)
	}
	if err := a.backups.Back(r.Context(), place.ID, filepath.Base(path)); err != nil {
		if errors.Is(err, backup.ErrSchool) || errors.Is(err, backup.ErrFile) {
			return kit.Ask("%s Nothing was changed.", kit.Sentence(err.Error()))
		}
		return err
	}
	return kit.Go(w, r, "/signin")
}

// backup hands out one of the files of the list.
func (a area) backup(w http.ResponseWriter, r *http.Request) error {
	path, _, err := a.listed(r)
	if err != nil {
		return err
	}
	name := filepath.Base(path)
	f, err := os.Open(path)
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
