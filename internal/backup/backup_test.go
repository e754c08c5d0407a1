package backup

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// school is a database with two students at work, and its address.
func school(t *testing.T) (dsn string, s storetest.School) {
	t.Helper()
	dsn = storetest.DSN(t)
	ctx := context.Background()
	db, err := store.Open(ctx, dsn)
	storetest.Must(t, err)
	t.Cleanup(func() { db.Close() })
	s = storetest.School{DB: db}
	s.Teacher, err = db.AddTeacher(ctx, "Quay", "a@quay.example", "Zoë 𝛂 'quoted' \\ ; --", "a long password")
	storetest.Must(t, err)
	s.Class, err = db.AddClass(ctx, s.Teacher.ID, "7 Quay")
	storetest.Must(t, err)
	storetest.Must(t, db.AddStudents(ctx, s.Teacher.ID, s.Class.ID, []string{"Ada", "Émile"}))
	s.Class, err = db.Class(ctx, s.Teacher.ID, s.Class.ID)
	storetest.Must(t, err)
	p := store.Project{TeacherID: s.Teacher.ID, ClassID: &s.Class.ID, Name: "Harbour light", Looseness: "normal"}
	storetest.Must(t, db.AddProject(ctx, &p))
	for i, one := range s.Class.Students {
		all := make([]byte, 70_000) // every byte there is, and NULs
		for n := range all {
			all[n] = byte(n + i)
		}
		pic := store.Picture{TeacherID: s.Teacher.ID, Name: "drawing", Width: 4, Height: 3, Hash: all[:32], Purpose: store.ForCheckIn}
		storetest.Must(t, db.AddPicture(ctx, &pic, []store.PictureFile{{Role: store.Full, Kind: "image/jpeg", Bytes: all}}))
		storetest.Must(t, errors.Join(db.AddCheckIn(ctx, s.Teacher.ID, &store.CheckIn{ProjectID: p.ID, StudentID: one.ID, PictureID: pic.ID}),
			db.AddNote(ctx, s.Teacher.ID, &store.Note{ProjectID: p.ID, StudentID: &one.ID, Words: ""})))
		for n := range 700 {
			storetest.Must(t, db.TickBoxes(ctx, s.Teacher.ID, p.ID, one.ID, []string{fmt.Sprintf("A%d", n)}, true, time.Now()))
		}
	}
	_, err = db.Link(ctx, p, s.Class.Students[0].ID)
	storetest.Must(t, err)
	return dsn, s
}

// sums returns a sum over all rows of each table that is kept.
func sums(t *testing.T, dsn string) map[string]string {
	t.Helper()
	db, err := store.Raw(dsn)
	storetest.Must(t, err)
	defer db.Close()
	conn, err := db.Conn(context.Background())
	storetest.Must(t, err)
	defer conn.Close()
	list, err := tables(context.Background(), conn)
	storetest.Must(t, err)
	all := map[string]string{}
	for _, tb := range list {
		var n int
		var sum sql.NullString
		query := fmt.Sprintf("SELECT COUNT(*), SUM(CAST(CONV(LEFT(SHA1(CONCAT_WS('|', IFNULL(`%s`, 'NULL'))), 12), 16, 10) AS DECIMAL(30))) FROM `%s`",
			strings.Join(tb.Columns, "`, 'NULL'), IFNULL(`"), tb.Name)
		storetest.Must(t, conn.QueryRowContext(context.Background(), query).Scan(&n, &sum))
		all[tb.Name] = fmt.Sprintf("%d rows, %s", n, sum.String)
	}
	return all
}

func reader(b []byte) func() (io.ReadCloser, error) {
	return func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(b)), nil }
}

// What is restored is what was there, row by row, while somebody ticked on; who
// was forgotten since is forgotten again.
func TestRestoredRowByRow(t *testing.T) {
	ctx := context.Background()
	dsn, s := school(t)
	before := sums(t, dsn)
	var file bytes.Buffer
	h, err := Write(ctx, dsn, &file)
	if err != nil || h.Tables != store.Tables() || len(h.Of) < 25 {
		t.Fatalf("%+v, %v", h, err)
	}
	to := mariadbtest.DSN(t)
	if _, err := Restore(ctx, to, reader(file.Bytes()), nil); err != nil {
		t.Fatal(err)
	}
	after := sums(t, to)
	for name, want := range before {
		if after[name] != want {
			t.Errorf("%s: %s restored; want %s", name, after[name], want)
		}
	}
	if !strings.HasPrefix(before["ticks"], "1400 rows") {
		t.Errorf("ticks: %s", before["ticks"])
	}
	restored, err := store.Open(ctx, to)
	storetest.Must(t, err)
	defer restored.Close()
	if one, err := restored.SignIn(ctx, "a@quay.example", "a long password"); err != nil || one.Name != s.Teacher.Name {
		t.Errorf("signing in: %+v, %v", one, err)
	}
	if _, err := Restore(ctx, to, reader(file.Bytes()), nil); !errors.Is(err, ErrNotEmpty) {
		t.Errorf("over a school: %v", err)
	}

	ada := s.Class.Students[0].ID
	again := mariadbtest.DSN(t)
	if _, err := Restore(ctx, again, reader(file.Bytes()), []uint64{ada, 999}); err != nil {
		t.Fatal(err)
	}
	without, err := store.Open(ctx, again)
	storetest.Must(t, err)
	defer without.Close()
	if _, err := without.Student(ctx, s.Teacher.ID, ada); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("who was forgotten is back: %v", err)
	}
	if _, err := without.Student(ctx, s.Teacher.ID, s.Class.Students[1].ID); err != nil {
		t.Errorf("the classmate: %v", err)
	}
}

// A file that is cut off, altered, foreign or newer is refused with words, and
// leaves nothing behind; one that fails in the middle leaves the database empty.
func TestBadBackups(t *testing.T) {
	ctx := context.Background()
	dsn, _ := school(t)
	var file bytes.Buffer
	_, err := Write(ctx, dsn, &file)
	storetest.Must(t, err)
	good := file.Bytes()
	altered := bytes.Clone(good)
	altered[len(good)/2] ^= 1
	bare := regexp.MustCompile(`"columns":\[[^]]*\]`).ReplaceAll(good, []byte(`"columns":[]`))
	newer := bytes.Replace(good, []byte(`"tables":"0`), []byte(`"tables":"9`), 1)
	to := mariadbtest.DSN(t)
	for name, c := range map[string]struct {
		file []byte
		want error
		say  string
	}{
		"cut off":              {good[:len(good)-100], ErrFile, "cut off or was altered"},
		"cut in the header":    {good[:40], ErrFile, "does not begin as one"},
		"altered":              {altered, ErrFile, "altered"},
		"empty":                {nil, ErrFile, "does not begin as one"},
		"a picture":            {append([]byte("\x89PNG\r\n\x1a\n"), good...), ErrFile, "does not begin as one"},
		"of another format":    {summed(bytes.Replace(good, []byte(Format), []byte("zesty-backup/2"), 1)), ErrFile, "this program reads"},
		"of a newer program":   {summed(newer), store.ErrNewer, "newer"},
		"without columns":      {summed(bare), ErrFile, "without columns"},
		"with a table unknown": {summed(bytes.Replace(good, []byte(`"name":"ticks"`), []byte(`"name":"tocks"`), 1)), ErrFile, "no table tocks"},
	} {
		if _, err := Restore(ctx, to, reader(c.file), nil); !errors.Is(err, c.want) || !strings.Contains(fmt.Sprint(err), c.say) {
			t.Errorf("%s: %v; want %q", name, err, c.say)
		}
	}
	if left := sums(t, to); len(left) > 0 && left["schools"] != "0 rows, " {
		t.Errorf("refused backups left %v", left)
	}
	if _, err := Restore(ctx, to, reader(good), nil); err != nil {
		t.Errorf("a good one after all: %v", err)
	}
}

// summed writes the right sum under a file that was changed.
func summed(b []byte) []byte {
	var out bytes.Buffer
	w := newWriter(&out)
	w.write(b[:len(b)-32])
	if err := w.end(&out); err != nil {
		panic(err)
	}
	return out.Bytes()
}

// FuzzCheck holds that whatever file is given is a backup or refused with words.
func FuzzCheck(f *testing.F) {
	var out bytes.Buffer
	w := newWriter(&out)
	w.header(Header{Format: Format, Tables: "0001", Of: []Table{{"ticks", []string{"a", "b"}}}})
	w.write([]byte{rowFollows})
	w.value([]byte("x"))
	w.value(nil)
	w.write([]byte{tableEnds})
	if err := w.end(&out); err != nil {
		f.Fatal(err)
	}
	f.Add(out.Bytes())
	f.Add([]byte(`{"format":"zesty-backup/1"}` + "\n"))
	f.Fuzz(func(t *testing.T, b []byte) {
		if h, err := Check(bytes.NewReader(b)); err == nil && h.Format != Format || err != nil && !errors.Is(err, ErrFile) {
			t.Errorf("%+v, %v", h, err)
		}
	})
}

// Every folder of backups is told at the forgetting; one that is not there is told once it
// is, and stands on the list until then.
func TestForgettingIsTold(t *testing.T) {
	ctx := context.Background()
	_, s := school(t)
	here, away := t.TempDir(), filepath.Join(t.TempDir(), "disk")
	storetest.Must(t, os.Mkdir(away, 0o700))
	storetest.Must(t, errors.Join(Remember(ctx, s.DB, here), Remember(ctx, s.DB, away)))
	s.DB.OnForgotten(func(ctx context.Context) { _ = Tell(ctx, s.DB) })
	told := func(dir string) []uint64 {
		g, err := ReadForgotten(filepath.Join(dir, ForgottenFile))
		if err != nil || time.Since(g.AsOf) > time.Minute {
			t.Errorf("%s: %+v, %v; want a list of now", dir, g, err)
		}
		return g.IDs
	}
	storetest.Must(t, os.Rename(away, away+".unplugged"))
	ada, bryn := s.Class.Students[0].ID, s.Class.Students[1].ID
	storetest.Must(t, s.DB.ForgetStudent(ctx, s.Teacher.ID, ada))
	if got := told(here); !slices.Equal(got, []uint64{ada}) {
		t.Errorf("told at the forgetting: %v; want %d", got, ada)
	}
	untold, err := s.DB.Untold(ctx)
	if err != nil || len(untold) != 1 || untold[0].Folder != away {
		t.Errorf("not told yet: %v, %v; want %s", untold, err, away)
	}
	storetest.Must(t, os.Rename(away+".unplugged", away))
	storetest.Must(t, os.WriteFile(filepath.Join(away, ForgottenFile), []byte("7\nno number\n"), 0o600))
	storetest.Must(t, s.DB.ForgetStudent(ctx, s.Teacher.ID, bryn))
	want := slices.Sorted(slices.Values([]uint64{7, ada, bryn}))
	if got := told(away); !slices.Equal(got, want) {
		t.Errorf("told when the disk was back: %v; want %v", got, want)
	}
	if untold, err := s.DB.Untold(ctx); err != nil || len(untold) != 0 {
		t.Errorf("not told yet: %v, %v; want none", untold, err)
	}
}

// A restore that was cut off at any of its steps is begun anew by the next; until then
// nobody serves what it left.
func TestRestoreCutOff(t *testing.T) {
	ctx := context.Background()
	dsn, s := school(t)
	var file bytes.Buffer
	_, err := Write(ctx, dsn, &file)
	storetest.Must(t, err)
	for name, cut := range map[string]func(t *testing.T, to string){
		"between tables": func(t *testing.T, to string) {
			db, err := store.Raw(to)
			storetest.Must(t, err)
			defer db.Close()
			storetest.Must(t, store.MakeTables(ctx, to, "0001_begin"))
		},
		"before anybody was forgotten": func(t *testing.T, to string) {
			_, err := Restore(ctx, to, reader(file.Bytes()), nil)
			storetest.Must(t, err)
			db, err := store.Raw(to)
			storetest.Must(t, err)
			defer db.Close()
			_, err = db.Exec("CREATE TABLE " + unfinished + " (id INT PRIMARY KEY)")
			storetest.Must(t, err)
			if err := Whole(ctx, to); !errors.Is(err, ErrUnfinished) {
				t.Errorf("what was left is served: %v; want ErrUnfinished", err)
			}
		},
	} {
		t.Run(name, func(t *testing.T) {
			to := mariadbtest.DSN(t)
			cut(t, to)
			ada := s.Class.Students[0].ID
			if _, err := Restore(ctx, to, reader(file.Bytes()), []uint64{ada}); err != nil {
				t.Fatalf("again: %v", err)
			}
			storetest.Must(t, Whole(ctx, to))
			restored, err := store.Open(ctx, to)
			storetest.Must(t, err)
			defer restored.Close()
			if _, err := restored.Student(ctx, s.Teacher.ID, ada); !errors.Is(err, store.ErrNotFound) {
				t.Errorf("who was forgotten is back: %v", err)
			}
		})
	}
}
