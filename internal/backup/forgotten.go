package backup

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/store"
)

// ForgottenFile lies beside backups and holds the numbers of who was forgotten: a
// backup of before that is restored forgets them too.
const ForgottenFile = "forgotten.txt"

// asOf begins the line of the file that says when it was written.
const asOf = "# as of "

// Gone are the numbers of who was forgotten by a moment.
type Gone struct {
	AsOf time.Time
	IDs  []uint64
}

// ReadForgotten reads a ForgottenFile; lines that are no number are passed over. One that
// does not say of when it is is of when it was written.
func ReadForgotten(path string) (g Gone, err error) {
	b, err := os.ReadFile(path)
	if err != nil {
		return g, err
	}
	if info, err := os.Stat(path); err == nil {
		g.AsOf = info.ModTime()
	}
	for line := range strings.Lines(string(b)) {
		line = strings.TrimSpace(line)
		if at, ok := strings.CutPrefix(line, asOf); ok {
			if t, err := time.Parse(time.RFC3339, at); err == nil {
				g.AsOf = t
			}
		} else if id, err := strconv.ParseUint(line, 10, 64); err == nil {
			g.IDs = append(g.IDs, id)
		}
	}
	return g, nil
}

// write adds numbers to the list in a folder, which is there whole at every moment.
func (g Gone) write(dir string) error {
	path := filepath.Join(dir, ForgottenFile)
	was, err := ReadForgotten(path)
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	var text strings.Builder
	fmt.Fprintln(&text, asOf+g.AsOf.UTC().Format(time.RFC3339))
	for _, id := range slices.Compact(slices.Sorted(slices.Values(append(was.IDs, g.IDs...)))) {
		fmt.Fprintln(&text, id)
	}
	return writeWhole(path, []byte(text.String()))
}

// writeWhole writes a small file that is there whole at every moment.
func writeWhole(path string, b []byte) error {
	half := path + ".half"
	if err := os.WriteFile(half, b, 0o600); err != nil {
		return err
	}
	return os.Rename(half, path)
}

// now returns who was forgotten by now.
func now(ctx context.Context, db *store.Store) (Gone, error) {
	ids, err := db.Forgotten(ctx)
	return Gone{time.Now(), ids}, err
}

// Remember notes that backups are written to a folder of this machine, and writes into it
// who was forgotten by now.
func Remember(ctx context.Context, db *store.Store, dir string) error {
	host, err := os.Hostname()
	if err != nil {
		return err
	}
	if dir, err = filepath.Abs(dir); err != nil {
		return err
	}
	gone, err := now(ctx, db)
	if err != nil {
		return err
	}
	if err := gone.write(dir); err != nil {
		return err
	}
	f := store.BackupFolder{Host: host, Folder: dir}
	if err := db.AddBackupFolder(ctx, f); err != nil {
		return err
	}
	return tell(ctx, db, f, gone)
}

// Tell writes into every folder of backups of this machine that does not know it yet who
// was forgotten. The error names those that could not be reached; the others are told.
func Tell(ctx context.Context, db *store.Store) error {
	host, err := os.Hostname()
	if err != nil {
		return err
	}
	list, err := db.Untold(ctx)
	if err != nil || len(list) == 0 {
		return err
	}
	gone, err := now(ctx, db)
	if err != nil {
		return err
	}
	for _, f := range list {
		if f.Host == host {
			err = errors.Join(err, tell(ctx, db, f, gone))
		}
	}
	return err
}

func tell(ctx context.Context, db *store.Store, f store.BackupFolder, gone Gone) error {
	if err := gone.write(f.Folder); err != nil {
		return err
	}
	f.Told = uint64(len(gone.IDs))
	return db.ToldOf(ctx, f)
}
