package backup

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/core/plane"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

// neighbour puts a second school into a database, and returns it open.
func neighbour(t *testing.T, dsn, name, email string) (*store.Store, store.Teacher) {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, dsn)
	storetest.Must(t, err)
	t.Cleanup(func() { db.Close() })
	other, err := db.AddTeacher(ctx, name, email, "B", "a long password")
	storetest.Must(t, err)
	class, err := db.AddClass(ctx, other.ID, "8 Mole")
	storetest.Must(t, err)
	storetest.Must(t, db.AddStudents(ctx, other.ID, class.ID, []string{"Cleo", "Dario", "Edda"}))
	return db, other
}

// counts returns how many rows each table has.
func counts(t *testing.T, dsn string) map[string]string {
	all := sums(t, dsn)
	for name := range all {
		all[name], _, _ = strings.Cut(all[name], ",")
	}
	return all
}

// A school that is moved to an installation with others has all that it had, under numbers of its own; what
// is made of numbers ends, and the others are as they were. It goes when it is deleted, and nothing else.
func TestASchoolMoves(t *testing.T) {
	ctx := context.Background()
	dsn, s := school(t)
	db, _ := neighbour(t, dsn, "Mole", "b@mole.example")
	p := must(db.Projects(ctx, s.Teacher.ID))[0]
	mark := store.Landmark{ProjectID: p.ID, Name: "tip", X: 1, Y: 2}
	storetest.Must(t, db.AddLandmark(ctx, &mark))
	pool, err := db.Pool()
	storetest.Must(t, err)
	_, err = pool.Exec("UPDATE check_ins SET marks = ?", fmt.Sprintf(`{"%d":[3,4]}`, mark.ID))
	storetest.Must(t, err)
	storetest.Must(t, db.AddPrintSet(ctx, &store.PrintSet{TeacherID: s.Teacher.ID, Name: "Two", Spec: fmt.Sprintf(`{"kinds":["clean"],"students":[%d],"spare":2}`, s.Class.Students[0].ID)}))
	storetest.Must(t, db.AddJob(ctx, s.Teacher.ID, &store.Job{ProjectID: p.ID, Kind: store.SetJob, Spec: fmt.Sprintf(`{"students":[%d]}`, s.Class.Students[0].ID)}))
	before := counts(t, dsn)
	var file bytes.Buffer
	h, err := WriteSchool(ctx, dsn, s.Teacher.SchoolID, &file)
	if err != nil || h.School.Name != "Quay" {
		t.Fatalf("%+v, %v", h, err)
	}
	if bytes.Contains(file.Bytes(), []byte("b@mole.example")) || bytes.Contains(file.Bytes(), []byte("Dario")) {
		t.Error("the file has something of another school")
	}

	to := mariadbtest.DSN(t)
	there, far := neighbour(t, to, "Pier", "c@pier.example")
	was := counts(t, to)
	id, err := TakeSchool(ctx, to, reader(file.Bytes()), []uint64{s.Class.Students[1].ID})
	if err != nil {
		t.Fatal(err)
	}
	me, err := there.SignIn(ctx, "a@quay.example", "a long password")
	if err != nil || me.SchoolID != id {
		t.Fatalf("%+v, %v; want a teacher of school %d", me, err, id)
	}
	now := must(there.Projects(ctx, me.ID))[0]
	moved := must(there.CheckIns(ctx, now))
	marks := must(there.Landmarks(ctx, now.ID, nil))
	if len(moved) != 1 || len(moved[0].Marks) != 1 || len(marks) != 1 || moved[0].Marks[marks[0].ID] != (plane.Point{X: 3, Y: 4}) {
		t.Errorf("of two photos, of whom one was forgotten since: %+v, landmarks %+v", moved, marks)
	}
	if n, err := there.Waiting(ctx); err != nil || n != 0 {
		t.Errorf("%d jobs moved, that name others by their numbers; %v", n, err)
	}
	set := must(there.PrintSets(ctx, me.ID))[0]
	class := must(there.Class(ctx, me.ID, *now.ClassID))
	if want := fmt.Sprintf(`"students":[%d]`, class.Students[0].ID); !strings.Contains(set.Spec, want) || !strings.Contains(set.Spec, `"spare":2`) {
		t.Errorf("a kept choice of pages is %s; want %s", set.Spec, want)
	}
	if _, err := TakeSchool(ctx, to, reader(file.Bytes()), nil); !errors.Is(err, ErrSchool) || !strings.Contains(err.Error(), "teachers") {
		t.Errorf("a second time: %v", err)
	}
	storetest.Must(t, there.DropSchool(ctx, id))
	if after := counts(t, to); !maps.Equal(without(after, "forgotten"), without(was, "forgotten")) {
		t.Errorf("after it was deleted\n got %v\nwant %v", after, was)
	}
	if _, err := there.SignIn(ctx, far.Email, "a long password"); err != nil {
		t.Error(err)
	}
	if after := counts(t, dsn); !maps.Equal(after, before) {
		t.Errorf("where it came from there are %v; want %v", after, before)
	}
}

func without(all map[string]string, name string) map[string]string {
	delete(all, name)
	return all
}

// A school that is brought back is as its file has it, row by row; another is not touched, and a file that
// reaches into another is refused whole.
func TestASchoolIsBroughtBack(t *testing.T) {
	ctx := context.Background()
	dsn, s := school(t)
	db, other := neighbour(t, dsn, "Mole", "b@mole.example")
	p := must(db.Projects(ctx, s.Teacher.ID))[0]
	before := sums(t, dsn)
	var file bytes.Buffer
	_, err := WriteSchool(ctx, dsn, s.Teacher.SchoolID, &file)
	storetest.Must(t, err)
	storetest.Must(t, db.TickBoxes(ctx, s.Teacher.ID, p.ID, s.Class.Students[0].ID, []string{"B1"}, true, time.Now()))
	if maps.Equal(sums(t, dsn), before) {
		t.Fatal("nothing changed")
	}
	if _, err := ReplaceSchool(ctx, dsn, reader(file.Bytes()), nil); err != nil {
		t.Fatal(err)
	}
	for name, want := range before {
		if got := sums(t, dsn)[name]; got != want {
			t.Errorf("%s: %s; want %s", name, got, want)
		}
	}
	pool, err := db.Pool()
	storetest.Must(t, err)
	theirs := store.Picture{TeacherID: other.ID, Name: "theirs", Width: 4, Height: 3, Hash: make([]byte, 32), Purpose: store.ForCheckIn}
	storetest.Must(t, db.AddPicture(ctx, &theirs, nil))
	_, err = pool.Exec("UPDATE projects SET picture_id = ? WHERE id = ?", theirs.ID, p.ID)
	storetest.Must(t, err)
	reaching := sums(t, dsn)
	file.Reset()
	_, err = WriteSchool(ctx, dsn, s.Teacher.SchoolID, &file)
	storetest.Must(t, err)
	if _, err := ReplaceSchool(ctx, dsn, reader(file.Bytes()), nil); !errors.Is(err, ErrSchool) {
		t.Errorf("another school's picture: %v", err)
	}
	if !maps.Equal(sums(t, dsn), reaching) {
		t.Error("a file that was refused changed something")
	}
	storetest.Must(t, db.DropSchool(ctx, s.Teacher.SchoolID))
	if _, err := ReplaceSchool(ctx, dsn, reader(file.Bytes()), nil); !errors.Is(err, ErrSchool) {
		t.Errorf("in nobody's place: %v", err)
	}
}

// Every table is a school's, or nobody's.
func TestEveryTableBelongs(t *testing.T) {
	dsn, _ := school(t)
	pool, err := store.Raw(dsn)
	storetest.Must(t, err)
	defer pool.Close()
	conn, err := pool.Conn(context.Background())
	storetest.Must(t, err)
	defer conn.Close()
	all, err := links(context.Background(), conn)
	storetest.Must(t, err)
	for _, table := range must(tables(context.Background(), conn)) {
		if belongs(all, table.Name, 1) == "" && table.Name != nobodys {
			t.Errorf("%s: whose are its rows?", table.Name)
		}
		for _, l := range all[table.Name] {
			if l.of == "id" && !numbered(l.column) {
				t.Errorf("%s.%s names a number and is not moved", table.Name, l.column)
			}
		}
	}
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}
