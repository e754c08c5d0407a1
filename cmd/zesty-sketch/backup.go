package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"filippo.io/age"

	"zestysketch/internal/backup"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
)

// backupCommand writes everything into one file, also while the server runs.
func backupCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("backup", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	out := f.String("out", "", "the file to write")
	to := f.String("to", "", "encrypt it to this age recipient, age1…; plain if empty")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *out == "" {
		return fmt.Errorf("%w: backup needs --out", errUsage)
	}
	var recipient age.Recipient
	if *to != "" {
		if recipient, err = age.ParseX25519Recipient(*to); err != nil {
			return fmt.Errorf("%w: --to: wanted an age recipient that begins with age1, got %q", errUsage, *to)
		}
	}
	dsn, stop, err := s.database(ctx, true)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	if err := remembers(ctx, dsn, filepath.Dir(*out)); err != nil {
		return err
	}
	return written(*out, recipient, func(w io.Writer) error {
		h, err := backup.Write(ctx, dsn, w)
		if err == nil {
			fmt.Fprintf(std.out, "%s holds %d tables as they were at %s\n", *out, len(h.Of), h.Made.Format("2006-01-02 15:04:05 MST"))
		}
		return err
	})
}

// written writes a file under another name until it is whole and on the disk.
func written(path string, to age.Recipient, write func(io.Writer) error) (err error) {
	half := path + ".half"
	file, err := os.OpenFile(half, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = fmt.Errorf("%w; is there room on the disk? Nothing was left at %s", err, path)
			file.Close()
			os.Remove(half)
		}
	}()
	out, closed := io.Writer(file), func() error { return nil }
	if to != nil {
		secret, err := age.Encrypt(file, to)
		if err != nil {
			return err
		}
		out, closed = secret, secret.Close
	}
	if err := write(out); err != nil {
		return err
	}
	if err := errors.Join(closed(), file.Sync(), file.Close()); err != nil {
		return err
	}
	return os.Rename(half, path)
}

// remembers notes that backups are written to a folder, and writes down in it who was
// forgotten by now.
func remembers(ctx context.Context, dsn, dir string) error {
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	return errors.Join(backup.Remember(ctx, db, dir), db.Close())
}

// restoreCommand reads a backup into an empty database. It is checked first, and
// what goes wrong leaves nothing half done.
func restoreCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("restore", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	identity := f.String("identity", "", "the file with the age identity that it was encrypted to")
	var gone gone
	gone.add(f)
	var file string
	if n := len(args); n > 0 && !strings.HasPrefix(args[n-1], "-") {
		args, file = args[:n-1], args[n-1]
	}
	if err := parse(f, args, std); err != nil {
		return err
	}
	if file == "" {
		return fmt.Errorf("%w: restore needs the backup's file, after the flags", errUsage)
	}
	open := func() (io.ReadCloser, error) { return os.Open(file) }
	if *identity != "" {
		if open, err = decrypted(file, *identity); err != nil {
			return err
		}
	}
	forgotten, err := gone.read(filepath.Dir(file))
	if err != nil {
		return err
	}
	dsn, stop, err := s.database(ctx, false)
	if errors.Is(err, mariadb.ErrBusy) {
		return fmt.Errorf("a server is running from %s; restore into a new folder, with --data", s.data)
	}
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	h, err := backup.Restore(ctx, dsn, open, forgotten)
	if errors.Is(err, store.ErrNewer) {
		return fmt.Errorf("%s was made by a newer Zesty Sketch; restore it with that one", file)
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(std.out, "restored as it was at %s\n", h.Made.Format("2006-01-02 15:04:05 MST"))
	return nil
}

// gone are the flags about who was forgotten since a backup was made.
type gone struct {
	lists []string
	none  bool
}

func (g *gone) add(f *flag.FlagSet) {
	f.Func("forgotten", "a "+backup.ForgottenFile+" that may be newer than the one beside the backup; it lies in every folder of backups", func(path string) error {
		g.lists = append(g.lists, path)
		return nil
	})
	f.BoolVar(&g.none, "forgotten-as-is", false, "there is no newer list of who was forgotten")
}

// fresh is how old a list of who was forgotten may be that nobody is asked about: the
// server writes it anew every night.
const fresh = 26 * time.Hour

// read returns the numbers of who was forgotten by every list there is. Whoever was
// forgotten after the newest of them would be back: it asks for a newer one.
func (g gone) read(dir string) (ids []uint64, err error) {
	beside := filepath.Join(dir, backup.ForgottenFile)
	var newest time.Time
	for _, path := range append(g.lists, beside) {
		list, err := backup.ReadForgotten(path)
		if errors.Is(err, fs.ErrNotExist) && path == beside {
			continue
		}
		if err != nil {
			return nil, err
		}
		ids = append(ids, list.IDs...)
		if list.AsOf.After(newest) {
			newest = list.AsOf
		}
	}
	if g.none || time.Since(newest) < fresh {
		return ids, nil
	}
	said := "beside the backup is no list of who was forgotten since"
	if !newest.IsZero() {
		said = "the newest list of who was forgotten is of " + newest.Local().Format("2006-01-02 15:04")
	}
	return nil, fmt.Errorf("%s; name a newer %s by --forgotten FILE, it lies in every folder of the server's backups, or say --forgotten-as-is where there is none", said, backup.ForgottenFile)
}

// decrypted opens a file with an age identity.
func decrypted(file, identity string) (func() (io.ReadCloser, error), error) {
	key, err := os.Open(identity)
	if err != nil {
		return nil, err
	}
	defer key.Close()
	who, err := age.ParseIdentities(bufio.NewReader(key))
	if err != nil {
		return nil, fmt.Errorf("%w: --identity: %w", errUsage, err)
	}
	return func() (io.ReadCloser, error) {
		in, err := os.Open(file)
		if err != nil {
			return nil, err
		}
		plain, err := age.Decrypt(in, who...)
		if err != nil {
			return nil, errors.Join(fmt.Errorf("%s is not encrypted to this identity: %w", file, err), in.Close())
		}
		return struct {
			io.Reader
			io.Closer
		}{plain, in}, nil
	}, nil
}
