package backup

import (
	"context"
	"database/sql"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"zestysketch/internal/store"
)

// passing are the tables that are not kept: who is signed in where, which walls were
// told of what, what one copy does for all, wrong tries, codes for a lesson, certificates and their
// keys, where backups lie, and which migrations have run, which the header says.
var passing = []string{unfinished, "backup_folders", "sessions", "sign_ins", "changes", "leases", "wrong_tries", "lesson_codes", "certificates", "migrations"}

// Write writes a whole backup as the database is at one moment, whoever goes on
// working in it, and returns what is in it. Its memory is that of one row.
func Write(ctx context.Context, dsn string, out io.Writer) (Header, error) {
	return write(ctx, dsn, out, func(context.Context, *sql.Conn, *Header) (func(string) string, error) {
		return func(string) string { return "TRUE" }, nil
	})
}

// write writes the rows that a condition of each table's keeps, which only chooses.
func write(ctx context.Context, dsn string, out io.Writer, only func(context.Context, *sql.Conn, *Header) (func(table string) string, error)) (h Header, err error) {
	db, err := store.Raw(dsn)
	if err != nil {
		return h, err
	}
	defer db.Close()
	conn, err := db.Conn(ctx) // one connection: a snapshot is its own
	if err != nil {
		return h, err
	}
	defer conn.Close()
	for _, q := range []string{"SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ", "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY"} {
		if _, err := conn.ExecContext(ctx, q); err != nil {
			return h, err
		}
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), "ROLLBACK")
	h = Header{Format: Format, Made: time.Now().UTC().Truncate(time.Second)}
	if err := conn.QueryRowContext(ctx, "SELECT MAX(id) FROM migrations").Scan(&h.Tables); err != nil {
		return h, err
	}
	if h.Of, err = tables(ctx, conn); err != nil {
		return h, err
	}
	kept, err := only(ctx, conn, &h)
	if err != nil {
		return h, err
	}
	w := newWriter(out)
	w.header(h)
	for _, t := range h.Of {
		if err := rows(ctx, conn, t, kept(t.Name), w); err != nil {
			return h, fmt.Errorf("reading %s: %w", t.Name, err)
		}
	}
	return h, w.end(out)
}

// tables lists what is kept.
func tables(ctx context.Context, conn *sql.Conn) (list []Table, err error) {
	found, err := conn.QueryContext(ctx, `SELECT table_name, column_name FROM information_schema.columns WHERE table_schema = DATABASE()
		AND extra NOT LIKE '%GENERATED%' ORDER BY table_name, ordinal_position`)
	if err != nil {
		return nil, err
	}
	defer found.Close()
	for found.Next() {
		var name, column string
		if err := found.Scan(&name, &column); err != nil {
			return nil, err
		}
		if slices.Contains(passing, name) {
			continue
		}
		if n := len(list); n == 0 || list[n-1].Name != name {
			list = append(list, Table{Name: name})
		}
		last := &list[len(list)-1]
		last.Columns = append(last.Columns, column)
	}
	return list, found.Err()
}

func quoted(names []string) string { return "`" + strings.Join(names, "`, `") + "`" }

// rows writes the rows of a table that a condition keeps.
func rows(ctx context.Context, conn *sql.Conn, t Table, kept string, w *writer) error {
	all, err := conn.QueryContext(ctx, fmt.Sprintf("SELECT %s FROM `%s` WHERE %s", quoted(t.Columns), t.Name, kept))
	if err != nil {
		return err
	}
	defer all.Close()
	values, into := make([]sql.RawBytes, len(t.Columns)), make([]any, len(t.Columns))
	for i := range values {
		into[i] = &values[i]
	}
	for all.Next() {
		if err := all.Scan(into...); err != nil {
			return err
		}
		w.write([]byte{rowFollows})
		for _, v := range values {
			w.value(v)
		}
	}
	w.write([]byte{tableEnds})
	return all.Err()
}
