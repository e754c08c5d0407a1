package backup

import (
	"bufio"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"zestysketch/internal/store"
)

// ErrNotEmpty is the error of a database that holds something already.
var ErrNotEmpty = errors.New("this database holds a school already; restore into an empty one, such as a new data folder")

// Rows are put in so many at once, or so many bytes.
const mostRows, mostBytes = 500, 4 << 20

// Restore reads a backup into an empty database, and brings it up to what this
// program works with. The file is read twice: first it is checked. What goes
// wrong later leaves the database as empty as it was. Students who were
// forgotten since, by their numbers, are forgotten again. Errors wrap ErrFile, or
// are ErrNotEmpty or store.ErrNewer.
func Restore(ctx context.Context, dsn string, open func() (io.ReadCloser, error), forgotten []uint64) (h Header, err error) {
	if h, err = checked(open); err != nil {
		return h, err
	}
	db, err := store.Raw(dsn)
	if err != nil {
		return h, err
	}
	defer db.Close()
	if err := empty(ctx, db); err != nil {
		return h, err
	}
	if err := fill(ctx, db, dsn, h, open, forgotten); err != nil {
		return h, errors.Join(err, drop(context.WithoutCancel(ctx), db))
	}
	return h, nil
}

// fill brings a checked backup into a database without tables.
func fill(ctx context.Context, db *sql.DB, dsn string, h Header, open func() (io.ReadCloser, error), forgotten []uint64) error {
	if _, err := db.ExecContext(ctx, "CREATE TABLE "+unfinished+" (id INT PRIMARY KEY)"); err != nil {
		return err
	}
	if err := store.MakeTables(ctx, dsn, h.Tables); err != nil {
		return err
	}
	if err := load(ctx, db, open); err != nil {
		return err
	}
	s, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := s.ForgetAgain(ctx, forgotten); err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, "DROP TABLE "+unfinished)
	return err
}

// unfinished is a table that is there from a restore's first step to its last: where one
// was cut off, what there is counts for nothing.
const unfinished = "unfinished_restore"

// ErrUnfinished is the error of a database whose restoring was cut off.
var ErrUnfinished = errors.New("bringing a backup back was cut off here; restore it again, which begins anew")

// Whole returns ErrUnfinished where a restore was cut off.
func Whole(ctx context.Context, dsn string) error {
	db, err := store.Raw(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	cut, err := there(ctx, db, unfinished)
	if err == nil && cut {
		return ErrUnfinished
	}
	return err
}

// there reports whether there is a table of a name.
func there(ctx context.Context, db *sql.DB, table string) (bool, error) {
	var n int
	err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = ?", table).Scan(&n)
	return n > 0, err
}

func checked(open func() (io.ReadCloser, error)) (Header, error) {
	in, err := open()
	if err != nil {
		return Header{}, err
	}
	defer in.Close()
	return Check(in)
}

// empty makes the database one without tables; ErrNotEmpty where there is a school that
// was not left there by a restore that was cut off.
func empty(ctx context.Context, db *sql.DB) error {
	cut, err := there(ctx, db, unfinished)
	if err != nil {
		return err
	}
	for _, table := range []string{"schools", "pictures"} {
		made, err := there(ctx, db, table)
		if err != nil {
			return err
		}
		if !made || cut {
			continue
		}
		var rows bool
		if err := db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM "+table+")").Scan(&rows); err != nil {
			return err
		}
		if rows {
			return ErrNotEmpty
		}
	}
	return drop(ctx, db) // tables without a school are made anew as the backup had them
}

// drop takes every table away.
func drop(ctx context.Context, db *sql.DB) error {
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	list, err := conn.QueryContext(ctx, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
	if err != nil {
		return err
	}
	var names []string
	for list.Next() {
		var name string
		if err := list.Scan(&name); err != nil {
			return errors.Join(err, list.Close())
		}
		names = append(names, name)
	}
	if err := errors.Join(list.Err(), list.Close()); err != nil || len(names) == 0 {
		return err
	}
	_, err1 := conn.ExecContext(ctx, "SET foreign_key_checks = 0")
	_, err2 := conn.ExecContext(ctx, "DROP TABLE "+quoted(names))
	return errors.Join(err1, err2)
}

// load puts every row in, all or none.
func load(ctx context.Context, db *sql.DB, open func() (io.ReadCloser, error)) error {
	in, err := open()
	if err != nil {
		return err
	}
	defer in.Close()
	r := bufio.NewReaderSize(in, 1<<20)
	h, err := readHeader(r, nil)
	if err != nil {
		return err
	}
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	// Parents may come after their children; the whole is whole.
	if _, err := conn.ExecContext(ctx, "SET foreign_key_checks = 0"); err != nil {
		return err
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), "SET foreign_key_checks = 1")
	tx, err := conn.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	known, err := tables(ctx, conn)
	if err != nil {
		return err
	}
	for _, t := range h.Of {
		if !slices.ContainsFunc(known, func(k Table) bool { return k.Name == t.Name && subset(t.Columns, k.Columns) }) {
			return fmt.Errorf("%w: there is no table %s like its own", ErrFile, t.Name)
		}
		if err := loadTable(ctx, tx, t, r, asItIs); err != nil {
			return fmt.Errorf("restoring %s: %w", t.Name, err)
		}
	}
	return tx.Commit()
}

func subset(of, all []string) bool {
	return !slices.ContainsFunc(of, func(c string) bool { return !slices.Contains(all, c) })
}

func asItIs(Table, []any) (bool, error) { return true, nil }

// loadTable puts a table's rows in, many at once, as change makes them; those that it does not keep stay out.
func loadTable(ctx context.Context, tx *sql.Tx, t Table, r *bufio.Reader, change func(Table, []any) (bool, error)) error {
	var values []any
	bytes := 0
	put := func() error {
		if len(values) == 0 {
			return nil
		}
		row := "(" + strings.TrimSuffix(strings.Repeat("?,", len(t.Columns)), ",") + ")"
		n := len(values) / len(t.Columns)
		_, err := tx.ExecContext(ctx, fmt.Sprintf("INSERT INTO `%s` (%s) VALUES %s%s", t.Name, quoted(t.Columns), strings.Repeat(row+",", n-1), row), values...)
		values, bytes = values[:0], 0
		return err
	}
	most := min(mostRows, 60_000/len(t.Columns)) // the protocol's own bound on values
	for {
		mark, err := r.ReadByte()
		if err != nil {
			return fmt.Errorf("%w: %w", ErrFile, err)
		}
		if mark == tableEnds {
			return put()
		}
		begin := len(values)
		for range t.Columns {
			v, err := value(r)
			if err != nil {
				return fmt.Errorf("%w: %w", ErrFile, err)
			}
			if bytes += len(v); v == nil {
				values = append(values, nil)
			} else {
				values = append(values, v)
			}
		}
		if keep, err := change(t, values[begin:]); err != nil {
			return err
		} else if !keep {
			values = values[:begin]
		}
		if len(values) >= most*len(t.Columns) || bytes >= mostBytes {
			if err := put(); err != nil {
				return err
			}
		}
	}
}
