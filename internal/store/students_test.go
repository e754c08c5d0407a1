package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"
)

// atWork gives a student something of everything: ticks of two grids, a photo, a
// note with a photo, a verdict, a hand, an absence, an objective, a link, a set.
func atWork(t *testing.T, s *Store, teacher Teacher, p Project, student Student) {
	t.Helper()
	ctx := context.Background()
	photo := func(name string) uint64 {
		pic := Picture{TeacherID: teacher.ID, Name: name, Width: 4, Height: 3, Purpose: ForCheckIn, Hash: []byte(name)}
		if err := s.AddPicture(ctx, &pic, []PictureFile{{Role: Full, Kind: "image/jpeg", Bytes: []byte("bytes of " + name)}}); err != nil {
			t.Fatal(err)
		}
		return pic.ID
	}
	beside := photo(student.Name + " at the board")
	_, linked := s.Link(ctx, p, student.ID)
	for i, err := range []error{
		s.TickBoxes(ctx, teacher.ID, p.ID, student.ID, []string{"A1", "B2"}, true, time.Now()),
		s.AddCheckIn(ctx, teacher.ID, &CheckIn{ProjectID: p.ID, StudentID: student.ID, PictureID: photo(student.Name + "'s drawing")}),
		s.AddNote(ctx, teacher.ID, &Note{ProjectID: p.ID, StudentID: &student.ID, PictureID: &beside, Words: student.Name + " found the ellipse."}),
		s.db.Create(&Verdict{ProjectID: p.ID, StudentID: student.ID, Stage: "markup", Verdict: "passed", ByWhom: "T.", Note: "well ruled, " + student.Name}).Error,
		s.db.Create(&Seat{ProjectID: p.ID, StudentID: student.ID, Flag: "glasses of " + student.Name}).Error,
		s.db.Create(&Absence{StudentID: student.ID, Day: "2026-11-20"}).Error,
		s.db.Create(&Reached{ProjectID: p.ID, StudentID: student.ID, Objective: "proportions"}).Error,
		s.db.Create(&OldTick{ProjectID: p.ID, PlanVersion: 1, StudentID: student.ID, Label: "C3"}).Error,
		s.AddJob(ctx, teacher.ID, &Job{ProjectID: p.ID, Kind: SetJob, Spec: `{"kinds":["clean"]}`}),
		linked,
	} {
		if err != nil {
			t.Fatalf("%d: %v", i, err)
		}
	}
	job, _, err := s.TakeJob(ctx)
	if err == nil {
		err = s.FinishSet(ctx, job.ID, []byte("PDF for "+student.Name), "all for "+student.Name)
	}
	if err != nil {
		t.Fatal(err)
	}
}

// traces returns where in the database something is said of a student: every
// column of every table is asked, for the name in letters and bytes, and for the
// number where it is a student's.
func traces(t *testing.T, s *Store, id uint64, name string) (found []string) {
	t.Helper()
	var columns []struct{ TableName, ColumnName, DataType string }
	if err := s.db.Raw("SELECT table_name, column_name, data_type FROM information_schema.columns WHERE table_schema = DATABASE()").Scan(&columns).Error; err != nil || len(columns) < 100 {
		t.Fatalf("%d columns, %v", len(columns), err)
	}
	for _, c := range columns {
		var n int64
		query := fmt.Sprintf("SELECT COUNT(*) FROM `%s` WHERE INSTR(CAST(`%s` AS BINARY), ?) > 0", c.TableName, c.ColumnName)
		args := []any{[]byte(name)}
		if c.ColumnName == "student_id" {
			query, args = fmt.Sprintf("SELECT COUNT(*) FROM `%s` WHERE student_id = ?", c.TableName), []any{id}
		}
		if err := s.db.Raw(query, args...).Scan(&n).Error; err != nil {
			t.Fatalf("%s.%s: %v", c.TableName, c.ColumnName, err)
		}
		if n > 0 {
			found = append(found, c.TableName+"."+c.ColumnName)
		}
	}
	slices.Sort(found)
	return found
}

// Of who is forgotten nothing is left in any column of any table but that a
// number was forgotten; of a classmate nothing is touched.
func TestForgotten(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	other, _, _ := room(t, s, "b@quay.example")
	one, mate := class.Students[0], class.Students[1]
	for i, name := range []string{"Quillfeather", "Brackenbury"} {
		if err := s.RenameStudent(ctx, teacher.ID, class.Students[i].ID, name); err != nil {
			t.Fatal(err)
		}
		class.Students[i].Name = name
		atWork(t, s, teacher, p, class.Students[i])
	}
	before := traces(t, s, one.ID, "Quillfeather")
	if len(before) < 18 {
		t.Fatalf("of Quillfeather there is only %v", before)
	}
	kept := traces(t, s, mate.ID, "Brackenbury")
	if err := s.ForgetStudent(ctx, other.ID, one.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher forgets: %v", err)
	}
	if err := s.ForgetStudent(ctx, teacher.ID, one.ID); err != nil {
		t.Fatal(err)
	}
	if after := traces(t, s, one.ID, "Quillfeather"); !slices.Equal(after, []string{"forgotten.student_id"}) {
		t.Errorf("of Quillfeather is left %v", after)
	}
	// The sets with everybody's names in them are gone too.
	kept = slices.DeleteFunc(kept, func(c string) bool { return strings.HasPrefix(c, "job") })
	if after := traces(t, s, mate.ID, "Brackenbury"); !slices.Equal(after, kept) {
		t.Errorf("of Brackenbury is left %v; want %v", after, kept)
	}
}

// Who leaves is off lists and links, with their work kept, and comes back with it.
func TestLeavingAndComingBack(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	one := class.Students[0]
	atWork(t, s, teacher, p, one)
	link, err := s.Link(ctx, p, one.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, left := range []bool{true, false} {
		if err := s.LeaveClass(ctx, teacher.ID, one.ID, left); err != nil {
			t.Fatal(err)
		}
		want := map[bool]int{true: 1, false: 2}[left]
		c, err1 := s.Class(ctx, teacher.ID, class.ID)
		q, err2 := s.Project(ctx, teacher.ID, p.ID)
		o, err3 := s.Overview(ctx, teacher.ID, time.Now())
		gone, err4 := s.LeftOf(ctx, teacher.ID)
		if err := errors.Join(err1, err2, err3, err4); err != nil || len(c.Students) != want || len(q.Class.Students) != want || len(o.Students[class.ID]) != want || len(gone[class.ID]) != 2-want {
			t.Errorf("left %v: %d, %d, %d in lists, %d gone, %v; want %d", left, len(c.Students), len(q.Class.Students), len(o.Students[class.ID]), len(gone[class.ID]), err, want)
		}
		if _, _, err := s.Linked(ctx, link); !errors.Is(err, ErrNotFound) {
			t.Errorf("left %v: the link of before: %v", left, err)
		}
		if ticks, err := s.StudentTicks(ctx, p.ID, one.ID); err != nil || len(ticks) != 2 {
			t.Errorf("left %v: %d ticks, %v", left, len(ticks), err)
		}
	}
}

// Moved with their work it is theirs there; moved without, somebody new begins
// there and the work stays with who left. Names that are taken are numbered.
func TestMoving(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	other, theirs, _ := room(t, s, "b@quay.example")
	to, err := s.AddClass(ctx, teacher.ID, "8c")
	if err == nil {
		err = s.AddStudents(ctx, teacher.ID, to.ID, []string{"Ana"})
	}
	if err != nil {
		t.Fatal(err)
	}
	one, two := class.Students[0], class.Students[1]
	atWork(t, s, teacher, p, one)
	if _, err := s.MoveStudent(ctx, teacher.ID, one.ID, theirs.ID, true); !errors.Is(err, ErrNotFound) {
		t.Errorf("into another teacher's class: %v", err)
	}
	if _, err := s.MoveStudent(ctx, other.ID, one.ID, theirs.ID, true); !errors.Is(err, ErrNotFound) {
		t.Errorf("by another teacher: %v", err)
	}
	there, err := s.MoveStudent(ctx, teacher.ID, one.ID, to.ID, true)
	got, err2 := s.Student(ctx, teacher.ID, there)
	ticks, err3 := s.StudentTicks(ctx, p.ID, there)
	if err := errors.Join(err, err2, err3); err != nil || there != one.ID || got.ClassID != to.ID || got.Name != "Ana 2" || len(ticks) != 2 {
		t.Errorf("with work: %+v with %d ticks, %v", got, len(ticks), err)
	}
	there, err = s.MoveStudent(ctx, teacher.ID, two.ID, to.ID, false)
	anew, err2 := s.Student(ctx, teacher.ID, there)
	stays, err3 := s.Student(ctx, teacher.ID, two.ID)
	if err := errors.Join(err, err2, err3); err != nil || there == two.ID || anew.ClassID != to.ID || anew.LeftAt != nil || stays.LeftAt == nil || stays.ClassID != class.ID {
		t.Errorf("without: %+v there, %+v here, %v", anew, stays, err)
	}
}

// Two who are one have the work of both, each box once.
func TestMerging(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	for _, one := range class.Students {
		atWork(t, s, teacher, p, one)
	}
	from, into := class.Students[0], class.Students[1]
	if err := s.TickBoxes(ctx, teacher.ID, p.ID, from.ID, []string{"D4"}, true, time.Now()); err != nil {
		t.Fatal(err)
	}
	if err := s.MergeStudents(ctx, teacher.ID, from.ID, from.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("with herself: %v", err)
	}
	if err := s.MergeStudents(ctx, teacher.ID, from.ID, into.ID); err != nil {
		t.Fatal(err)
	}
	ticks, err1 := s.StudentTicks(ctx, p.ID, into.ID)
	photos, err2 := s.PhotosOf(ctx, into.ID)
	notes, err3 := s.Notes(ctx, p.ID, into.ID, "")
	_, gone := s.Student(ctx, teacher.ID, from.ID)
	if err := errors.Join(err1, err2, err3); err != nil || len(ticks) != 3 || len(photos) != 4 || len(notes) != 2 || !errors.Is(gone, ErrNotFound) {
		t.Errorf("%d ticks, %d photos, %d notes, %v, %v; want 3, 4, 2", len(ticks), len(photos), len(notes), err, gone)
	}
}

// A note is rewritten, or deleted with its photo, by its own teacher only.
func TestChangedNotes(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	other, _, _ := room(t, s, "b@quay.example")
	atWork(t, s, teacher, p, class.Students[0])
	notes, err := s.Notes(ctx, p.ID, 0, "")
	if err != nil || len(notes) != 1 {
		t.Fatal(err)
	}
	if _, err := s.ChangeNote(ctx, other.ID, notes[0].ID, "mine"); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher's: %v", err)
	}
	for _, words := range []string{"better", ""} {
		if _, err := s.ChangeNote(ctx, teacher.ID, notes[0].ID, words); err != nil {
			t.Fatal(err)
		}
		after, err := s.Notes(ctx, p.ID, 0, "")
		photos, err2 := s.PhotosOf(ctx, class.Students[0].ID)
		if err := errors.Join(err, err2); err != nil || (words == "") != (len(after) == 0) || words != "" && after[0].Words != words || len(photos) != map[bool]int{true: 1, false: 2}[words == ""] {
			t.Errorf("%q: %+v, %d photos, %v", words, after, len(photos), err)
		}
	}
}
