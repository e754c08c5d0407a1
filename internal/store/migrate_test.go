package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"maps"
	"net"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	mysqldriver "github.com/go-sql-driver/mysql"

	"zestysketch/internal/mariadb/mariadbtest"
)

// schema returns every table of a database as it was made.
func schema(t *testing.T, db *sql.DB) string {
	t.Helper()
	rows, err := db.Query("SHOW TABLES")
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for rows.Next() {
		var n string
		if err := rows.Scan(&n); err != nil {
			t.Fatal(err)
		}
		names = append(names, n)
	}
	var all strings.Builder
	for _, n := range names {
		var name, text string
		if err := db.QueryRow("SHOW CREATE TABLE "+n).Scan(&name, &text); err != nil {
			t.Fatal(err)
		}
		all.WriteString(text + "\n")
	}
	return all.String()
}

func raw(t *testing.T, dsn string) *sql.DB {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	return db
}

// A start that was cut off after any statement of any migration, before it was
// written down that it ran, is made good by the next start: the tables are the
// same as those of a start that went through.
func TestMigrationsCutOff(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	whole := mariadbtest.DSN(t)
	s, err := Open(ctx, whole)
	if err != nil {
		t.Fatal(err)
	}
	s.Close()
	want := schema(t, raw(t, whole))
	all, err := steps()
	if err != nil {
		t.Fatal(err)
	}
	for i, step := range all {
		text, err := migrations.ReadFile("migrations/" + step.ID + ".sql")
		if err != nil {
			t.Fatal(err)
		}
		dsn := mariadbtest.DSN(t)
		s, err := openTo(ctx, dsn, all[:i]) // everything before
		if err != nil {
			t.Fatal(err)
		}
		db := raw(t, dsn)
		for _, one := range statements(string(text)) { // and all of this one, unrecorded
			if _, err := db.Exec(one); err != nil {
				t.Fatalf("%s: %v", step.ID, err)
			}
		}
		s.Close()
		again, err := Open(ctx, dsn)
		if err != nil {
			t.Fatalf("%s cut off at its end: %v", step.ID, err)
		}
		again.Close()
		if got := schema(t, db); got != want {
			t.Errorf("%s cut off at its end makes other tables:\n%s; want\n%s", step.ID, got, want)
		}
	}
}

// openTo opens a database with some migrations alone.
func openTo(ctx context.Context, dsn string, some []*gormigrate.Migration) (*Store, error) {
	s, err := connect(dsn)
	if err != nil || len(some) == 0 {
		return s, err
	}
	return s, gormigrate.New(s.with(ctx), gormigrate.DefaultOptions, some).Migrate()
}

// Eight copies that start at once on an empty database all serve.
func TestStartingAtOnce(t *testing.T) {
	dsn := mariadbtest.DSN(t)
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			s, err := Open(context.Background(), dsn)
			if err != nil {
				t.Errorf("copy %d: %v", i, err)
				return
			}
			if _, err := s.CountTeachers(context.Background()); err != nil {
				t.Errorf("copy %d: %v", i, err)
			}
			s.Close()
		})
	}
	all.Wait()
}

// A program that is older than its database says so and leaves it alone.
func TestOlderThanTheDatabase(t *testing.T) {
	dsn := mariadbtest.DSN(t)
	s, err := Open(context.Background(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	s.Close()
	if _, err := raw(t, dsn).Exec("INSERT INTO migrations (id) VALUES ('9999_of_another_year')"); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(context.Background(), dsn); !errors.Is(err, ErrNewer) {
		t.Errorf("%v; want ErrNewer", err)
	}
}

// A plain address is enough: times, found rows and letters are set by the
// program. One that names no database or no user is refused with words.
func TestPlainAddress(t *testing.T) {
	ctx := context.Background()
	c, err := mysqldriver.ParseDSN(mariadbtest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	s, err := Open(ctx, fmt.Sprintf("%s:%s@tcp(%s)/%s", c.User, c.Passwd, c.Addr, c.DBName))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	teacher, class, _ := room(t, s, "plain@quay.example")
	if _, err := s.SignIn(ctx, "plain@quay.example", "a long password"); err != nil {
		t.Errorf("sign in: %v", err)
	}
	for range 2 { // the second changes nothing
		if err := s.DescribeStudent(ctx, teacher.ID, class.Students[0].ID, Traits{Hand: "left"}); err != nil {
			t.Errorf("saved unchanged: %v", err)
		}
		if err := s.SetZone(ctx, teacher.SchoolID, "Europe/Lisbon"); err != nil {
			t.Errorf("the same zone: %v", err)
		}
	}
	for _, bad := range []string{"", "nonsense", "user:pw@tcp(127.0.0.1:3306)/", "tcp(127.0.0.1:3306)/zesty", "user:pw@127.0.0.1/zesty"} {
		if _, err := Open(ctx, bad); !errors.Is(err, ErrDSN) {
			t.Errorf("%q: %v; want ErrDSN", bad, err)
		}
	}
}

// Names are compared letter by letter: accents, capitals and spaces at the end tell apart.
func TestExactNames(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, _ := room(t, s, "venn@quay.example")
	if _, err := s.AddTeacher(ctx, "Quay School", "vénn@quay.example", "V.", "another password"); err != nil {
		t.Errorf("an address with an accent: %v", err)
	}
	if _, err := s.SignIn(ctx, "vénn@quay.example", "a long password"); err == nil {
		t.Error("vénn signs in as venn")
	}
	names := []string{"Zoe", "Zoé", "José", "Jose", "Straße", "Strasse", "ADA", "ada"}
	if err := s.AddStudents(ctx, teacher.ID, class.ID, names); err != nil {
		t.Errorf("%d names: %v", len(names), err)
	}
	var list []Enrol
	for _, n := range []string{"Zoe", "ZOE", "zoé", "Ada", "ada"} {
		list = append(list, Enrol{Name: n})
	}
	if done, err := s.ImportStudents(ctx, teacher.ID, class.ID, list); err != nil || done.New != 3 || done.Known != 2 {
		t.Errorf("%+v, %v; want three new", done, err)
	}
	if err := s.AddStudents(ctx, teacher.ID, class.ID, []string{"Émile", "Zz"}); err != nil {
		t.Fatal(err)
	}
	if class, err := s.Class(ctx, teacher.ID, class.ID); err != nil || class.Students[5].Name != "Émile" {
		t.Errorf("by name: %+v, %v; want Émile after Bo", class.Students, err)
	}
}

// Before the tables of an older program are brought up to date, and only then, what is to be
// done first is done, by one of the copies that start at once.
func TestBeforeOlderTables(t *testing.T) {
	ctx := context.Background()
	for upTo, want := range map[string]int32{"": 0, "0007_gists": 1, Tables(): 0} {
		dsn := mariadbtest.DSN(t)
		if upTo != "" {
			if err := MakeTables(ctx, dsn, upTo); err != nil {
				t.Fatal(err)
			}
		}
		var calls atomic.Int32
		var all sync.WaitGroup
		for range 4 {
			all.Go(func() {
				s, err := OpenAfter(ctx, dsn, func(context.Context) error {
					calls.Add(1)
					var last string
					if err := raw(t, dsn).QueryRow("SELECT MAX(id) FROM migrations").Scan(&last); err != nil || last != upTo {
						t.Errorf("called with tables of %q (%v), want %q", last, err, upTo)
					}
					return nil
				})
				if err != nil {
					t.Error(err)
					return
				}
				s.Close()
			})
		}
		all.Wait()
		if got := calls.Load(); got != want {
			t.Errorf("tables of %q: called %d times, want %d", upTo, got, want)
		}
	}
	dsn := mariadbtest.DSN(t)
	if err := MakeTables(ctx, dsn, "0007_gists"); err != nil {
		t.Fatal(err)
	}
	full := errors.New("no room for a backup")
	if _, err := OpenAfter(ctx, dsn, func(context.Context) error { return full }); !errors.Is(err, full) {
		t.Errorf("what could not be done first: %v", err)
	}
	var last string
	if err := raw(t, dsn).QueryRow("SELECT MAX(id) FROM migrations").Scan(&last); err != nil || last != "0007_gists" {
		t.Errorf("tables of %q (%v) after it", last, err)
	}
	if err := MakeTables(ctx, dsn, "9999_later"); !errors.Is(err, ErrNewer) {
		t.Errorf("of a later program: %v", err)
	}
}

// A start whose connections are cut in its middle, as those to a server that another of
// several takes over from, goes on; one whose database was never there ends at once.
func TestAwayWhileStarting(t *testing.T) {
	config, err := mysqldriver.ParseDSN(mariadbtest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	server := config.Addr
	var seen, cut atomic.Int32
	go func() {
		for {
			from, err := l.Accept()
			if err != nil {
				return
			}
			to, err := net.Dial("tcp", server)
			if err != nil {
				from.Close()
				continue
			}
			go func() { io.Copy(from, to); from.Close() }()
			go func() {
				defer to.Close()
				defer from.Close()
				some := make([]byte, 64<<10)
				for {
					n, err := from.Read(some)
					if err != nil {
						return
					}
					if bytes.Contains(some[:n], []byte("CREATE TABLE")) && seen.Add(1)%7 == 0 && cut.Add(1) < 4 {
						return
					}
					if _, err := to.Write(some[:n]); err != nil {
						return
					}
				}
			}()
		}
	}()
	config.Addr = l.Addr().String()
	s, err := Open(context.Background(), config.FormatDSN())
	if err != nil || cut.Load() < 3 {
		t.Fatalf("%v after %d cuts, want a start that goes on", err, cut.Load())
	}
	s.Close()
	l.Close()
	began := time.Now()
	if _, err := Open(context.Background(), config.FormatDSN()); err == nil || time.Since(began) > 10*time.Second {
		t.Errorf("nobody there: %v after %v", err, time.Since(began))
	}
}

// What teachers of an older database had in cupboards of their own is their school's, put
// together; another school's stays its own.
func TestCupboardsOfOneSchool(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	if err := MakeTables(ctx, dsn, "0024_seats"); err != nil {
		t.Fatal(err)
	}
	db := raw(t, dsn)
	for _, q := range []string{
		"INSERT INTO schools (id, name, created_at) VALUES (1, 'Quay', NOW()), (2, 'Hill', NOW())",
		"INSERT INTO teachers (id, school_id, email, name, password_hash, created_at) VALUES (1, 1, 'a', 'A', '', NOW()), (2, 1, 'b', 'B', '', NOW()), (3, 2, 'c', 'C', '', NOW())",
		"INSERT INTO cupboard VALUES (1, 'pencil', 20, 40), (2, 'pencil', 5, 50), (2, 'Pencil', 1, 0), (3, 'pencil', 7, 30)",
	} {
		if _, err := db.Exec(q); err != nil {
			t.Fatalf("%s: %v", q, err)
		}
	}
	s, err := Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	for school, want := range map[uint64]map[string]Stock{
		1: {"pencil": {1, "pencil", 25, 50}, "Pencil": {1, "Pencil", 1, 0}},
		2: {"pencil": {2, "pencil", 7, 30}},
	} {
		if got, err := s.Cupboard(ctx, school); err != nil || !maps.Equal(got, want) {
			t.Errorf("school %d has %v, %v; want %v", school, got, err, want)
		}
	}
	if err := s.SetStock(ctx, Stock{1, "pencil", 24, 45}); err != nil {
		t.Fatal(err)
	}
	if got, _ := s.Cupboard(ctx, 1); got["pencil"] != (Stock{1, "pencil", 24, 45}) || len(got) != 2 {
		t.Errorf("after a change: %v", got)
	}
}

// Who waited for a lease's row while another took it has no lease: its statement's time is
// older, so that the other's seems to last too long. One by a clock that is far ahead is
// nobody's.
func TestLeaseAfterWaiting(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	s, err := Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	db := raw(t, dsn)
	for longer, want := range map[string]bool{"300000 MICROSECOND": false, "45 SECOND": false, "1 HOUR": true} {
		if _, err := db.Exec("REPLACE INTO leases VALUES ('x', 'another', UTC_TIMESTAMP(3) + INTERVAL 15 SECOND + INTERVAL " + longer + ")"); err != nil {
			t.Fatal(err)
		}
		if mine, err := s.Lease(ctx, "x", 15*time.Second); mine != want || err != nil {
			t.Errorf("another's lease that lasts %s longer: mine %v, %v; want %v", longer, mine, err, want)
		}
	}
}
