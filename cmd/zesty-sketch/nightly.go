package main

import (
	"context"
	"crypto/sha256"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"filippo.io/age"

	"zestysketch/internal/backup"
	"zestysketch/internal/store"
)

// nightly makes backups while the server runs: every night, and before tables
// are brought up to date.
type nightly struct {
	dir  string // empty for none
	also string // a second folder, on another disk; empty for none
	keep int
	to   string // an age recipient, empty for plain

	asked chan uint64 // which school wants one now, 0 for the whole; nil where nobody can ask
}

// ask wants a backup now, of one of several schools or, by 0, of the whole; while one waits, another is not waited for.
func (n nightly) ask(school uint64) {
	select {
	case n.asked <- school:
	default:
	}
}

func (n *nightly) add(f *flag.FlagSet) {
	f.StringVar(&n.dir, "backups", "", "folder for a backup every night, and one before the tables are brought up to date; none if empty")
	f.StringVar(&n.also, "backups-also", "", "a second folder that is there, on another disk or a mounted share, or s3://bucket/folder: each night's backup is copied to it and read back")
	f.IntVar(&n.keep, "keep", 14, "how many of the nights' backups are kept")
	f.StringVar(&n.to, "backups-to", "", "encrypt them to this age recipient, age1…")
}

// recipient reads whom backups are encrypted to, nil for nobody.
func (n nightly) recipient() (age.Recipient, error) {
	if n.to == "" {
		return nil, nil
	}
	r, err := age.ParseX25519Recipient(n.to)
	if err != nil {
		return nil, fmt.Errorf("%w: wanted an age recipient that begins with age1, got %q", errUsage, n.to)
	}
	return r, nil
}

// check says what is wrong with what was asked, and makes the folder.
func (n nightly) check() error {
	if n.dir == "" {
		return nil
	}
	if n.keep < 1 || n.keep > 1000 {
		return fmt.Errorf("%w: --keep: wanted 1 to 1000 backups, got %d", errUsage, n.keep)
	}
	if n.bucketed() {
		if n.to == "" {
			return fmt.Errorf("%w: --backups-also %s is on somebody else's disk: it wants --backups-to, so that nobody there can read it", errUsage, n.also)
		}
		if _, err := openBucket(n.also); err != nil {
			return err
		}
	} else if n.also != "" && sameFolder(n.also, n.dir) {
		return fmt.Errorf("%w: --backups-also: wanted another folder than --backups, got %q twice", errUsage, n.also)
	}
	if _, err := n.recipient(); err != nil {
		return err
	}
	return os.MkdirAll(n.dir, 0o700)
}

// bucketed reports whether the second place is a bucket of object storage.
func (n nightly) bucketed() bool { return strings.HasPrefix(n.also, bucketMark) }

func sameFolder(a, b string) bool {
	x, err1 := filepath.Abs(a)
	y, err2 := filepath.Abs(b)
	return err1 == nil && err2 == nil && x == y
}

// nightBegins begins the nights' backups' names; the date follows.
const nightBegins = "night-"

// nightHour is when a night's backup is made, by the server's clock.
const nightHour, nightMinute = 2, 30

// nextNight returns when the next night's backup is made.
func nextNight(now time.Time) time.Time {
	at := time.Date(now.Year(), now.Month(), now.Day(), nightHour, nightMinute, 0, 0, now.Location())
	if !at.After(now) {
		at = at.AddDate(0, 0, 1)
	}
	return at
}

// wholeNight is how long a night's backup is one copy's of the program: the others
// make none.
const wholeNight = 20 * time.Hour

// remember notes the folder of backups, and has it told who is forgotten.
func (n nightly) remember(ctx context.Context, db *store.Store, log *slog.Logger) error {
	db.OnForgotten(func(ctx context.Context) {
		if err := backup.Tell(ctx, db); err != nil {
			log.Warn("copies that do not know yet who was forgotten", "error", err)
		}
	})
	if n.dir == "" {
		return nil
	}
	return backup.Remember(ctx, db, n.dir)
}

// run makes a backup every night until ctx ends, in one copy of several; one that
// fails is logged, and another copy may make it.
func (n nightly) run(ctx context.Context, db *store.Store, dsn string, log *slog.Logger) {
	for n.dir != "" {
		select {
		case <-ctx.Done():
			return
		case school := <-n.asked:
			if err := n.now(ctx, dsn, school, nightBegins+time.Now().Format("2006-01-02-1504")+backup.Ending); err != nil {
				log.Error("the backup that was asked for", "error", err)
			}
			continue
		case <-time.After(time.Until(nextNight(time.Now()))):
		}
		if mine, err := db.Lease(ctx, "night", wholeNight); err != nil || !mine {
			if err != nil {
				log.Error("tonight's backup", "error", err)
			}
			continue
		}
		name := nightBegins + time.Now().Format(time.DateOnly) + backup.Ending
		err := errors.Join(n.night(ctx, dsn, name), n.schools(ctx, db, dsn, name), n.weekly(ctx, name))
		if errors.Is(err, errNotMade) {
			err = errors.Join(err, db.Release(ctx, "night"))
		}
		if err != nil {
			log.Error("tonight's backup", "error", err)
		}
	}
}

// now makes the backup that was asked for.
func (n nightly) now(ctx context.Context, dsn string, school uint64, name string) error {
	if school == 0 {
		return n.night(ctx, dsn, name)
	}
	return n.ofSchool(ctx, dsn, school, name)
}

// schools makes a copy of each of several schools, for its own administrators.
func (n nightly) schools(ctx context.Context, db *store.Store, dsn, name string) error {
	list, err := db.Schools(ctx)
	if err != nil || len(list) < 2 {
		return err
	}
	for _, one := range list {
		err = errors.Join(err, n.ofSchool(ctx, dsn, one.ID, name))
	}
	return err
}

// ofSchool makes a copy of one school, and removes its old ones.
func (n nightly) ofSchool(ctx context.Context, dsn string, school uint64, name string) error {
	to, err := n.recipient()
	if err != nil {
		return err
	}
	dir := backup.FolderOf(n.dir, school)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	err = written(filepath.Join(dir, name), to, func(w io.Writer) error {
		_, err := backup.WriteSchool(ctx, dsn, school, w)
		return err
	})
	if err != nil {
		return err
	}
	return errors.Join(n.prune(dir), remembers(ctx, dsn, dir))
}

// bringBack brings one of several schools back from one of its own copies; who was forgotten since stays so.
func (n nightly) bringBack(db *store.Store, dsn string) func(context.Context, uint64, string) error {
	return func(ctx context.Context, school uint64, name string) error {
		gone, err := db.Forgotten(ctx)
		if err != nil {
			return err
		}
		_, err = backup.ReplaceSchool(ctx, dsn, func() (io.ReadCloser, error) { return os.Open(filepath.Join(backup.FolderOf(n.dir, school), name)) }, gone)
		return err
	}
}

// weekly brings the night's backup back for a trial, where the last was a week ago. An encrypted one cannot be: its
// key is elsewhere.
func (n nightly) weekly(ctx context.Context, name string) error {
	last, err := backup.ReadTrial(n.dir)
	if err != nil || n.to != "" || time.Since(last.At) < backup.TrialsEvery-time.Hour {
		return err
	}
	t, err := backup.Try(ctx, n.dir, name)
	if err != nil {
		return fmt.Errorf("trying whether it can be brought back: %w", err)
	}
	if t.Wrong != "" {
		return fmt.Errorf("%s cannot be brought back: %s", name, t.Wrong)
	}
	return nil
}

// errNotMade is wrapped by the error of a night without a backup.
var errNotMade = errors.New("no backup was made")

// night makes a night's backup, removes old ones and copies it to the second folder. The error wraps errNotMade where
// there is none at all.
func (n nightly) night(ctx context.Context, dsn, name string) error {
	if err := n.make(ctx, dsn, name); err != nil {
		return fmt.Errorf("%w: %w", errNotMade, err)
	}
	err := n.prune(n.dir)
	if err != nil {
		err = fmt.Errorf("old backups could not be removed: %w", err)
	}
	second := n.carry(ctx, dsn, name)
	if second != nil {
		second = fmt.Errorf("it has no second copy: %w", second)
	}
	return errors.Join(err, second)
}

// make makes one backup by a name, and writes down who was forgotten.
func (n nightly) make(ctx context.Context, dsn, name string) error {
	if err := n.write(ctx, dsn, name); err != nil {
		return err
	}
	return remembers(ctx, dsn, n.dir)
}

// carry copies a backup to the second folder, reads it back, and writes down there who was forgotten. The folder must
// be there: made here, it would be on the wrong disk.
func (n nightly) carry(ctx context.Context, dsn, name string) error {
	if n.also == "" {
		return nil
	}
	if n.bucketed() {
		b, err := openBucket(n.also)
		if err != nil {
			return err
		}
		return b.keep(ctx, n.dir, name, n.keep)
	}
	if _, err := os.Stat(n.also); err != nil {
		return fmt.Errorf("--backups-also: %w; is its disk plugged in, its share mounted?", err)
	}
	from, to := filepath.Join(n.dir, name), filepath.Join(n.also, name)
	sum, err := summed(from, func(r io.Reader) error {
		return written(to, nil, func(w io.Writer) error {
			_, err := io.Copy(w, r)
			return err
		})
	})
	if err != nil {
		return err
	}
	back, err := summed(to, func(r io.Reader) error {
		_, err := io.Copy(io.Discard, r)
		return err
	})
	if err == nil && back != sum {
		err = fmt.Errorf("%s reads back otherwise than it was written; is that disk well?", to)
	}
	if err != nil {
		return err
	}
	return errors.Join(n.prune(n.also), remembers(ctx, dsn, n.also))
}

// summed has a file read to its end and returns the sum of what was read.
func summed(path string, read func(io.Reader) error) (sum [sha256.Size]byte, err error) {
	file, err := os.Open(path)
	if err != nil {
		return sum, err
	}
	defer file.Close()
	of := sha256.New()
	if err := read(io.TeeReader(file, of)); err != nil {
		return sum, err
	}
	return [sha256.Size]byte(of.Sum(nil)), nil
}

func (n nightly) write(ctx context.Context, dsn, name string) error {
	to, err := n.recipient()
	if err != nil {
		return err
	}
	return written(filepath.Join(n.dir, name), to, func(w io.Writer) error {
		_, err := backup.Write(ctx, dsn, w)
		return err
	})
}

// before returns what makes a backup of a database whose tables an older program made;
// nil where no backups are wanted. Each start has a file of its own: one that was cut off
// leaves tables half brought up to date, and the backup of before is the one that counts.
func (n nightly) before(dsn string) func(context.Context) error {
	if n.dir == "" {
		return nil
	}
	return func(ctx context.Context) error {
		name := "before-" + store.Tables() + time.Now().Format("-2006-01-02-150405.000") + backup.Ending
		if err := n.write(ctx, dsn, name); err != nil {
			return fmt.Errorf("backing up before the tables are brought up to date: %w", err)
		}
		return nil
	}
}

// tellAgain is how often folders of backups that could not be reached are tried again.
const tellAgain = time.Minute

// tell has every folder of backups told of who was forgotten: at the forgetting, and again
// until ctx ends where a disk was not there.
func (n nightly) tell(ctx context.Context, db *store.Store, log *slog.Logger) {
	for {
		if err := backup.Tell(ctx, db); err != nil && ctx.Err() == nil {
			log.Warn("copies that do not know yet who was forgotten", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(tellAgain):
		}
	}
}

// isNight reports whether a file is a night's backup, by its name.
func isNight(name string) bool {
	date, ok := strings.CutPrefix(strings.TrimSuffix(name, backup.Ending), nightBegins)
	_, err := time.Parse(time.DateOnly, date)
	return ok && err == nil && strings.HasSuffix(name, backup.Ending)
}

// prune removes the nights' backups but the latest; others are somebody's own.
func (n nightly) prune(dir string) error {
	files, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	var nights []string
	for _, f := range files {
		if isNight(f.Name()) {
			nights = append(nights, f.Name())
		}
	}
	slices.Sort(nights)
	for _, name := range nights[:max(0, len(nights)-n.keep)] {
		if err := os.Remove(filepath.Join(dir, name)); err != nil {
			return err
		}
	}
	return nil
}
