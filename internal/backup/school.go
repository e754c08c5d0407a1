package backup

import (
	"bufio"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	mysqldriver "github.com/go-sql-driver/mysql"

	"zestysketch/internal/store"
)

// OfSchool says of which school a file is that holds one of several.
type OfSchool struct {
	ID   uint64 `json:"id"` // where it was made
	Name string `json:"name"`
}

// FolderOf returns the folder of one school's copies, within that of the whole installation's backups.
func FolderOf(dir string, school uint64) string {
	return filepath.Join(dir, "school-"+strconv.FormatUint(school, 10))
}

// nobodys is the table of no school: who was forgotten lies beside backups.
const nobodys = "forgotten"

// ErrSchool is wrapped by the error of a school that cannot be brought into a database, in words.
var ErrSchool = errors.New("this school cannot be brought in")

// link is a column that names a row of another table.
type link struct {
	column, parent, of string
	null               bool
}

// links returns which table's rows name which others'.
func links(ctx context.Context, conn *sql.Conn) (map[string][]link, error) {
	found, err := conn.QueryContext(ctx, `SELECT k.table_name, k.column_name, k.referenced_table_name, k.referenced_column_name, c.is_nullable = 'YES'
		FROM information_schema.key_column_usage k JOIN information_schema.columns c
		ON c.table_schema = k.table_schema AND c.table_name = k.table_name AND c.column_name = k.column_name
		WHERE k.table_schema = DATABASE() AND k.referenced_table_name IS NOT NULL ORDER BY k.table_name, k.column_name`)
	if err != nil {
		return nil, err
	}
	defer found.Close()
	all := map[string][]link{}
	for found.Next() {
		var table string
		var l link
		if err := found.Scan(&table, &l.column, &l.parent, &l.of, &l.null); err != nil {
			return nil, err
		}
		all[table] = append(all[table], l)
	}
	return all, found.Err()
}

// belongs returns the condition of a table's rows that are a school's: by a column that is never empty, or
// by any of those that may be; empty for a table of no school.
func belongs(all map[string][]link, table string, school uint64, within ...string) string {
	if table == "schools" {
		return fmt.Sprintf("`id` = %d", school)
	}
	var may []string
	for _, l := range all[table] {
		if slices.Contains(within, l.parent) || l.parent == table {
			continue
		}
		of := belongs(all, l.parent, school, append(within, table)...)
		if of == "" {
			continue
		}
		one := fmt.Sprintf("`%s` IN (SELECT `%s` FROM `%s` WHERE %s)", l.column, l.of, l.parent, of)
		if !l.null {
			return one
		}
		may = append(may, one)
	}
	return strings.Join(may, " OR ")
}

// WriteSchool is Write for one of several schools.
func WriteSchool(ctx context.Context, dsn string, school uint64, out io.Writer) (Header, error) {
	return write(ctx, dsn, out, func(ctx context.Context, conn *sql.Conn, h *Header) (func(string) string, error) {
		h.School = &OfSchool{ID: school}
		err := conn.QueryRowContext(ctx, "SELECT name FROM schools WHERE id = ?", school).Scan(&h.School.Name)
		if err != nil {
			return nil, err
		}
		all, err := links(ctx, conn)
		h.Of = slices.DeleteFunc(h.Of, func(t Table) bool { return t.Name == nobodys })
		return func(table string) string { return belongs(all, table, school) }, err
	})
}

// TakeSchool brings a school from a file into a database with others, under numbers of its own, and
// returns its number there. Links of students and feeds end: they are made of numbers.
func TakeSchool(ctx context.Context, dsn string, open func() (io.ReadCloser, error), forgotten []uint64) (uint64, error) {
	return bring(ctx, dsn, open, forgotten, false)
}

// ReplaceSchool brings a school back as a file of this installation has it, in the place of what it is now.
func ReplaceSchool(ctx context.Context, dsn string, open func() (io.ReadCloser, error), forgotten []uint64) (uint64, error) {
	return bring(ctx, dsn, open, forgotten, true)
}

func bring(ctx context.Context, dsn string, open func() (io.ReadCloser, error), forgotten []uint64, again bool) (uint64, error) {
	h, err := checked(open)
	if err != nil {
		return 0, err
	}
	switch {
	case h.School == nil:
		return 0, fmt.Errorf("%w: the file is of a whole installation; zesty-sketch restore reads it into an empty folder", ErrSchool)
	case h.Tables != store.Tables():
		return 0, fmt.Errorf("%w: its tables are as of %s, and here as of %s: restore it into an empty folder with this program, and export it there", ErrSchool, h.Tables, store.Tables())
	}
	s, err := store.Open(ctx, dsn)
	if err != nil {
		return 0, err
	}
	defer s.Close()
	past, err := put(ctx, dsn, h, open, again)
	if err != nil {
		return 0, err
	}
	for i := range forgotten {
		forgotten[i] += past
	}
	return h.School.ID + past, s.ForgetAgain(ctx, forgotten)
}

// put puts a school's rows in, all or none, and returns by how much its numbers were moved.
func put(ctx context.Context, dsn string, h Header, open func() (io.ReadCloser, error), again bool) (past uint64, err error) {
	db, err := store.Raw(dsn)
	if err != nil {
		return 0, err
	}
	defer db.Close()
	conn, err := db.Conn(ctx)
	if err != nil {
		return 0, err
	}
	defer conn.Close()
	all, err := links(ctx, conn)
	if err != nil {
		return 0, err
	}
	if !again {
		if past, err = highest(ctx, conn, h.Of); err != nil {
			return 0, err
		}
	}
	if _, err := conn.ExecContext(ctx, "SET foreign_key_checks = 1"); err != nil {
		return 0, err
	}
	tx, err := conn.BeginTx(ctx, nil)
	if err != nil {
		return 0, err
	}
	defer tx.Rollback()
	if again {
		if err := makeRoom(ctx, tx, *h.School); err != nil {
			return 0, err
		}
	}
	if _, err := tx.ExecContext(ctx, "SET foreign_key_checks = 0"); err != nil {
		return 0, err
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), "SET foreign_key_checks = 1")
	if err := putRows(ctx, tx, h, open, all, past); err != nil {
		return 0, err
	}
	return past, tx.Commit()
}

// putRows puts the rows in, and looks whether they are the school's.
func putRows(ctx context.Context, tx *sql.Tx, h Header, open func() (io.ReadCloser, error), all map[string][]link, past uint64) error {
	in, change := map[string]int{}, moved(all, past)
	err := each(ctx, tx, open, func(t Table, row []any) (bool, error) {
		keep, err := change(t, row)
		if keep {
			in[t.Name]++
		}
		return keep, err
	})
	for _, t := range h.Of {
		if err == nil {
			err = sound(ctx, tx, all, t.Name, h.School.ID+past, in[t.Name])
		}
	}
	return err
}

// makeRoom takes away the school whose place a file of it takes.
func makeRoom(ctx context.Context, tx *sql.Tx, is OfSchool) error {
	done, err := tx.ExecContext(ctx, "DELETE FROM schools WHERE id = ? AND name = ?", is.ID, is.Name)
	if err != nil {
		return err
	}
	n, err := done.RowsAffected()
	if err == nil && n != 1 {
		err = fmt.Errorf("%w: there is no %s here whose place it could take", ErrSchool, is.Name)
	}
	return err
}

// each puts the rows of every table in, as change makes them; those that it does not keep stay out.
func each(ctx context.Context, tx *sql.Tx, open func() (io.ReadCloser, error), change func(Table, []any) (bool, error)) error {
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
	for _, t := range h.Of {
		err := loadTable(ctx, tx, t, r, change)
		var twice *mysqldriver.MySQLError
		if errors.As(err, &twice) && twice.Number == doubled {
			return fmt.Errorf("%w: something of %s is here already, such as a teacher who signs in with the same address: %w", ErrSchool, t.Name, err)
		}
		if err != nil {
			return fmt.Errorf("%s: %w", t.Name, err)
		}
	}
	return nil
}

// doubled is MariaDB's number for a key that is there already.
const doubled = 1062

// highest returns the highest number in use.
func highest(ctx context.Context, conn *sql.Conn, of []Table) (most uint64, err error) {
	for _, t := range of {
		for _, c := range t.Columns {
			if !numbered(c) {
				continue
			}
			var n sql.NullInt64
			if err := conn.QueryRowContext(ctx, fmt.Sprintf("SELECT MAX(CAST(`%s` AS UNSIGNED)) FROM `%s`", c, t.Name)).Scan(&n); err != nil {
				return 0, err
			}
			most = max(most, uint64(n.Int64))
		}
	}
	var n sql.NullInt64
	err = conn.QueryRowContext(ctx, "SELECT MAX(student_id) FROM "+nobodys).Scan(&n)
	return max(most, uint64(n.Int64)), err
}

// numbered reports whether a column holds a row's number.
func numbered(column string) bool { return column == "id" || strings.HasSuffix(column, "_id") }

// moved returns what moves a row's numbers past those in use. What is made of numbers ends then: students' links,
// feeds, jobs under way, and the taking back of a school year.
func moved(all map[string][]link, past uint64) func(Table, []any) (bool, error) {
	return func(t Table, row []any) (bool, error) {
		if past == 0 {
			return true, nil
		}
		if t.Name == "student_links" || t.Name == "jobs" || slices.ContainsFunc(all[t.Name], func(l link) bool { return l.parent == "jobs" }) {
			return false, nil
		}
		for i, c := range t.Columns {
			text, ok := row[i].([]byte)
			if !ok {
				continue // NULL
			}
			to, err := movedValue(t.Name, c, text, past)
			if err != nil {
				return false, err
			}
			row[i] = to
		}
		return true, nil
	}
}

// movedValue moves what a column of a table holds.
func movedValue(table, column string, text []byte, past uint64) (any, error) {
	switch {
	case numbered(column):
		n, err := strconv.ParseUint(string(text), 10, 63)
		if err != nil {
			return nil, fmt.Errorf("%w: %s is %q", ErrFile, column, text)
		}
		if n == 0 {
			return text, nil
		}
		return strconv.AppendUint(nil, n+past, 10), nil
	case table == "teachers" && column == "year_begun":
		return nil, nil
	case table == "check_ins" && column == "marks":
		return movedKeys(text, past), nil
	case table == "print_sets" && column == "spec":
		return movedSpec(text, past), nil
	}
	return text, nil
}

// movedKeys moves the numbers that a JSON object's values are kept by.
func movedKeys(text []byte, past uint64) any {
	var by map[uint64]json.RawMessage
	if json.Unmarshal(text, &by) != nil {
		return text
	}
	to := map[uint64]json.RawMessage{}
	for n, v := range by {
		to[n+past] = v
	}
	b, _ := json.Marshal(to) // what was read can be written
	return b
}

// movedSpec moves the numbers of a kept choice of pages.
func movedSpec(text []byte, past uint64) any {
	var spec map[string]any
	in := json.NewDecoder(strings.NewReader(string(text)))
	in.UseNumber()
	if in.Decode(&spec) != nil {
		return text
	}
	move := func(v any) any {
		if n, ok := v.(json.Number); ok && n != "0" {
			if whole, err := n.Int64(); err == nil {
				return uint64(whole) + past
			}
		}
		return v
	}
	for _, name := range []string{"printer", "class"} {
		if v, ok := spec[name]; ok {
			spec[name] = move(v)
		}
	}
	if list, ok := spec["students"].([]any); ok {
		for i := range list {
			list[i] = move(list[i])
		}
	}
	b, _ := json.Marshal(spec)
	return b
}

// sound returns an error where rows that came in are not the school's, or name something of another's: no file
// may reach into it.
func sound(ctx context.Context, tx *sql.Tx, all map[string][]link, table string, school uint64, in int) error {
	own, n := belongs(all, table, school), 0
	if err := tx.QueryRowContext(ctx, fmt.Sprintf("SELECT COUNT(*) FROM `%s` WHERE %s", table, own)).Scan(&n); err != nil {
		return err
	}
	if n != in {
		return fmt.Errorf("%w: %d of %d rows of %s are not its own", ErrSchool, in-n, in, table)
	}
	for _, l := range all[table] {
		of := belongs(all, l.parent, school)
		if of == "" {
			continue
		}
		var strange int
		err := tx.QueryRowContext(ctx, fmt.Sprintf("SELECT COUNT(*) FROM `%s` WHERE (%s) AND `%s` IS NOT NULL AND `%[3]s` NOT IN (SELECT `%[4]s` FROM `%[5]s` WHERE %[6]s)",
			table, own, l.column, l.of, l.parent, of)).Scan(&strange)
		if err != nil {
			return err
		}
		if strange > 0 {
			return fmt.Errorf("%w: %d rows of %s name a %s of another school", ErrSchool, strange, table, l.column)
		}
	}
	return nil
}
