package backup

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"os"
	"path/filepath"
	"time"

	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
)

// TrialFile lies beside backups and says how the last trial of one went.
const TrialFile = "trial.json"

// TrialsEvery is how often a backup is brought back to see whether it can be, and TrialLate how old the last trial may
// be before that is said.
const TrialsEvery, TrialLate = 7 * 24 * time.Hour, 15 * 24 * time.Hour

// Trial is how bringing a backup back, into a database made for it and taken away after, went.
type Trial struct {
	At                          time.Time
	Backup                      string // its name
	Wrong                       string // why it could not be brought back, empty where it could
	Schools, Teachers, Projects int    // that came back
	Seconds                     float64
}

// ReadTrial returns how the last trial of a folder's backups went; the zero Trial where there was none.
func ReadTrial(dir string) (t Trial, err error) {
	b, err := os.ReadFile(filepath.Join(dir, TrialFile))
	if errors.Is(err, os.ErrNotExist) {
		return t, nil
	}
	if err != nil {
		return t, err
	}
	return t, json.Unmarshal(b, &t)
}

// Try brings a backup of a folder back into a private server that is started for it, and writes down how that went.
// The folder's disk needs room for the whole database once more. The error is of the trial's own doings; what is
// wrong with the backup stands in the Trial.
func Try(ctx context.Context, dir, name string) (t Trial, err error) {
	t = Trial{At: time.Now().UTC().Truncate(time.Second), Backup: name}
	data, err := os.MkdirTemp(dir, "trial-")
	if err != nil {
		return t, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(data)) }()
	server, err := mariadb.Start(ctx, data)
	if err != nil {
		return t, err
	}
	defer func() { err = errors.Join(err, server.Stop()) }()
	began := time.Now()
	if wrong := t.bring(ctx, server.DSN(), filepath.Join(dir, name)); wrong != nil {
		t.Wrong = wrong.Error()
	}
	t.Seconds = time.Since(began).Seconds()
	b, err := json.Marshal(t)
	if err != nil {
		return t, err
	}
	return t, writeWhole(filepath.Join(dir, TrialFile), b)
}

// bring brings a backup back and counts what came.
func (t *Trial) bring(ctx context.Context, dsn, path string) error {
	if _, err := Restore(ctx, dsn, func() (io.ReadCloser, error) { return os.Open(path) }, nil); err != nil {
		return err
	}
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	list, err := db.Schools(ctx)
	for _, s := range list {
		t.Schools, t.Teachers, t.Projects = t.Schools+1, t.Teachers+s.Teachers, t.Projects+s.Projects
	}
	if err == nil && t.Teachers == 0 {
		err = errors.New("nobody was in it")
	}
	return err
}
