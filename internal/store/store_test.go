package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/mariadb/mariadbtest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// empty is a database with tables and nothing in them.
var empty mariadbtest.Template

func open(t *testing.T) *Store {
	t.Helper()
	s, err := Open(context.Background(), empty.Copy(t, func(dsn string) error {
		s, err := Open(context.Background(), dsn)
		if err != nil {
			return err
		}
		return s.Close()
	}))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// room is a teacher with a class of two and a project.
func room(t *testing.T, s *Store, email string) (Teacher, Class, Project) {
	t.Helper()
	ctx := context.Background()
	teacher, err := s.AddTeacher(ctx, "Quay School", email, "T.", "a long password")
	if err != nil {
		t.Fatal(err)
	}
	class, err := s.AddClass(ctx, teacher.ID, "7b")
	if err != nil {
		t.Fatal(err)
	}
	if err := s.AddStudents(ctx, teacher.ID, class.ID, []string{"Ana", "Bo"}); err != nil {
		t.Fatal(err)
	}
	if class, err = s.Class(ctx, teacher.ID, class.ID); err != nil {
		t.Fatal(err)
	}
	p := Project{TeacherID: teacher.ID, ClassID: &class.ID, Name: "Lamp", Looseness: accuracy.Normal}
	if err := s.AddProject(ctx, &p); err != nil {
		t.Fatal(err)
	}
	return teacher, class, p
}

func TestSignIn(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, _, _ := room(t, s, "Teacher@Quay.example ")
	for _, c := range []struct {
		email, password string
		ok              bool
	}{
		{"teacher@quay.example", "a long password", true},
		{" TEACHER@quay.example", "a long password", true},
		{"teacher@quay.example", "another password", false},
		{"nobody@quay.example", "a long password", false},
		{"teacher@quay.example", "", false},
	} {
		got, err := s.SignIn(ctx, c.email, c.password)
		if c.ok && (err != nil || got.ID != teacher.ID) || !c.ok && !errors.Is(err, ErrNotFound) {
			t.Errorf("%q %q: %v, %v; want in: %v", c.email, c.password, got.ID, err, c.ok)
		}
	}
	if _, err := s.AddTeacher(ctx, "Quay School", "teacher@quay.example", "U.", "x"); !errors.Is(err, ErrTaken) {
		t.Errorf("a second teacher of that address: %v; want ErrTaken", err)
	}
	if strings.Contains(teacher.PasswordHash, "long") || !strings.HasPrefix(teacher.PasswordHash, "$argon2id$v=19$") {
		t.Errorf("hash %q", teacher.PasswordHash)
	}
}

func TestDamagedHashesMatchNothing(t *testing.T) {
	for _, hash := range []string{"", "$argon2id$", "$argon2id$v=19$m=1,t=1,p=0$AA$AA", "$argon2id$v=19$m=19456,t=2,p=1$!$!", "$argon2id$v=19$m=19456,t=2,p=1$AAAA$"} {
		if passwordMatches(hash, "") {
			t.Errorf("%q matches", hash)
		}
	}
}

func TestTicksAreSavedOnce(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, project := room(t, s, "a@quay.example")
	student := class.Students[0].ID
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			if err := s.Tick(ctx, teacher.ID, project.ID, student, "C4", true, time.Now()); err != nil {
				t.Error(err)
			}
		})
	}
	all.Wait()
	done, err := s.Ticks(ctx, project.ID)
	if err != nil || len(done[student]) != 1 || !done[student]["C4"] {
		t.Errorf("ticks %v, %v; want C4 once", done, err)
	}
	for range 2 {
		if err := s.Tick(ctx, teacher.ID, project.ID, student, "C4", false, time.Now()); err != nil {
			t.Error(err)
		}
	}
	if one, err := s.StudentTicks(ctx, project.ID, student); err != nil || len(one) != 0 {
		t.Errorf("ticks %v, %v; want none", one, err)
	}
}

// Whatever a teacher asks for by id, another teacher's is not found.
func TestOwnersOnly(t *testing.T) {
	s, ctx := open(t), context.Background()
	owner, class, project := room(t, s, "a@quay.example")
	other, otherClass, otherProject := room(t, s, "b@quay.example")
	pic := Picture{TeacherID: owner.ID, Name: "lamp", Hash: make([]byte, 32)}
	if err := s.AddPicture(ctx, &pic, []PictureFile{{Role: Full, Kind: "image/png", Bytes: []byte("x")}}); err != nil {
		t.Fatal(err)
	}
	check := CheckIn{ProjectID: project.ID, StudentID: class.Students[0].ID, PictureID: pic.ID}
	if err := s.AddCheckIn(ctx, owner.ID, &check); err != nil {
		t.Fatal(err)
	}
	for name, try := range map[string]func(by uint64) error{
		"class":        func(by uint64) error { _, err := s.Class(ctx, by, class.ID); return err },
		"add students": func(by uint64) error { return s.AddStudents(ctx, by, class.ID, []string{"X"}) },
		"project":      func(by uint64) error { _, err := s.Project(ctx, by, project.ID); return err },
		"picture":      func(by uint64) error { _, err := s.PictureFile(ctx, by, pic.ID, Full); return err },
		"free boxes":   func(by uint64) error { return s.SetFree(ctx, by, project.ID, []string{"A1"}) },
		"looseness":    func(by uint64) error { return s.SetLooseness(ctx, by, project.ID, accuracy.Loose) },
		"class of project": func(by uint64) error {
			return s.SetClass(ctx, by, project.ID, class.ID)
		},
		"plan": func(by uint64) error {
			p, err := s.Project(ctx, by, project.ID)
			if err != nil {
				return err
			}
			_, err = s.SavePlan(ctx, by, project.ID, p.PlanVersion, "Lamp", "{}", nil, nil)
			return err
		},
		"tick": func(by uint64) error {
			return s.Tick(ctx, by, project.ID, class.Students[0].ID, "A1", true, time.Now())
		},
		"check-in":         func(by uint64) error { _, err := s.CheckIn(ctx, by, check.ID); return err },
		"describe picture": func(by uint64) error { return s.DescribePicture(ctx, by, pic.ID, "Lamp", "x", 1) },
		"offer":            func(by uint64) error { return s.OfferPicture(ctx, by, project.ID, pic.ID) },
		"frame": func(by uint64) error {
			if by == owner.ID { // the picture must be on offer
				if err := s.OfferPicture(ctx, by, project.ID, pic.ID); err != nil {
					return err
				}
			}
			f := Frame{ProjectID: project.ID, PictureID: pic.ID, Name: "F", Frame: "5,5 2x2"}
			if err := s.AddFrame(ctx, by, &f); err != nil {
				return err
			}
			return s.RemoveFrame(ctx, by, project.ID, f.ID)
		},
		"assign": func(by uint64) error {
			return s.Assign(ctx, by, Assignment{ProjectID: project.ID, StudentID: class.Students[0].ID})
		},
		"describe student": func(by uint64) error {
			return s.DescribeStudent(ctx, by, class.Students[0].ID, Traits{Hand: "left", Units: "cm"})
		},
		"revoke links": func(by uint64) error { return s.RevokeLinks(ctx, by, class.Students[0].ID) },
		"job":          func(by uint64) error { return s.AddJob(ctx, by, &Job{ProjectID: project.ID, Kind: SetJob, Spec: "{}"}) },
		"printer": func(by uint64) error {
			p := Printer{TeacherID: owner.ID, Name: "P"}
			if err := s.AddPrinter(ctx, &p); err != nil {
				return err
			}
			return s.RemovePrinter(ctx, by, p.ID)
		},
		"set": func(by uint64) error {
			p := PrintSet{TeacherID: owner.ID, Name: "P", Spec: "{}"}
			if err := s.AddPrintSet(ctx, &p); err != nil {
				return err
			}
			return s.RemovePrintSet(ctx, by, p.ID)
		},
		"add check-in": func(by uint64) error {
			return s.AddCheckIn(ctx, by, &CheckIn{ProjectID: project.ID, StudentID: class.Students[0].ID, PictureID: pic.ID})
		},
	} {
		if err := try(other.ID); !errors.Is(err, ErrNotFound) {
			t.Errorf("%s by another teacher: %v; want ErrNotFound", name, err)
		}
		if err := try(owner.ID); err != nil {
			t.Errorf("%s by its owner: %v", name, err)
		}
	}
	if err := s.SetClass(ctx, owner.ID, project.ID, otherClass.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another's class in a project: %v; want ErrNotFound", err)
	}
	if err := s.Tick(ctx, other.ID, otherProject.ID, class.Students[0].ID, "A1", true, time.Now()); !errors.Is(err, ErrNotFound) {
		t.Errorf("another's student in a project: %v; want ErrNotFound", err)
	}
	if err := s.SetPicture(ctx, other.ID, otherProject.ID, pic.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another's picture for a project: %v; want ErrNotFound", err)
	}
	if p, err := s.Project(ctx, other.ID, otherProject.ID); err != nil || p.PictureID != nil {
		t.Errorf("another's picture in a project: %v, %v; want none", p.PictureID, err)
	}
}

func TestPlansConflict(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, _, project := room(t, s, "a@quay.example")
	if _, err := s.CurrentPlan(ctx, project); !errors.Is(err, ErrNotFound) {
		t.Errorf("a plan before any: %v; want ErrNotFound", err)
	}
	v, err := s.SavePlan(ctx, teacher.ID, project.ID, 0, "Lamp", `{"a":1}`, nil, nil)
	if err != nil || v != 1 {
		t.Fatalf("version %d, %v; want 1", v, err)
	}
	if _, err := s.SavePlan(ctx, teacher.ID, project.ID, 0, "Lamp", `{"b":1}`, nil, nil); !errors.Is(err, ErrConflict) {
		t.Errorf("saving over a newer plan: %v; want ErrConflict", err)
	}
	project, _ = s.Project(ctx, teacher.ID, project.ID)
	if plan, err := s.CurrentPlan(ctx, project); err != nil || plan.JSON != `{"a":1}` {
		t.Errorf("plan %+v, %v; want the first", plan, err)
	}
}

func TestPictureOfTwelveMegabytes(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, _, _ := room(t, s, "a@quay.example")
	big := bytes.Repeat([]byte("zest & leaf "), 1<<20)
	pic := Picture{TeacherID: teacher.ID, Name: "wall", Hash: make([]byte, 32), Size: int64(len(big))}
	if err := s.AddPicture(ctx, &pic, []PictureFile{{Role: Full, Kind: "image/png", Bytes: big}}); err != nil {
		t.Fatal(err)
	}
	f, err := s.PictureFile(ctx, teacher.ID, pic.ID, Full)
	if err != nil || !bytes.Equal(f.Bytes, big) {
		t.Errorf("%d bytes came back, %v; want %d", len(f.Bytes), err, len(big))
	}
	if _, err := s.PictureFile(ctx, teacher.ID, pic.ID, Thumb); !errors.Is(err, ErrNotFound) {
		t.Errorf("a rendering that was never made: %v; want ErrNotFound", err)
	}
}

func TestCheckInKeepsPlaces(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, project := room(t, s, "a@quay.example")
	pic := Picture{TeacherID: teacher.ID, Name: "photo", Hash: make([]byte, 32)}
	if err := s.AddPicture(ctx, &pic, nil); err != nil {
		t.Fatal(err)
	}
	c := CheckIn{ProjectID: project.ID, StudentID: class.Students[1].ID, PictureID: pic.ID}
	if err := s.AddCheckIn(ctx, teacher.ID, &c); err != nil {
		t.Fatal(err)
	}
	got, err := s.CheckIn(ctx, teacher.ID, c.ID)
	if err != nil || got.Corners != nil || got.Student.Name != "Bo" {
		t.Fatalf("%+v, %v; want Bo's, with no corners", got, err)
	}
	stale := got
	got.Corners = &plane.Quad{plane.Pt(1, 2), plane.Pt(3, 4), plane.Pt(5, 6), plane.Pt(7, 8.5)}
	got.Marks = map[uint64]plane.Point{9: plane.Pt(10, 11)}
	if err := s.Place(ctx, &got); err != nil {
		t.Fatal(err)
	}
	if err := s.Place(ctx, &stale); !errors.Is(err, ErrConflict) {
		t.Errorf("placing over newer corners: %v; want ErrConflict", err)
	}
	again, err := s.CheckIn(ctx, teacher.ID, c.ID)
	if err != nil || *again.Corners != *got.Corners || again.Marks[9] != got.Marks[9] {
		t.Errorf("%+v, %v; want %+v", again, err, got)
	}
}

func TestMigratingTwiceIsOnce(t *testing.T) {
	dsn, ctx := mariadbtest.DSN(t), context.Background()
	for range 2 {
		s, err := Open(ctx, dsn)
		if err != nil {
			t.Fatal(err)
		}
		s.Close()
	}
}

// A database of the first version, with things in it, comes forward whole: its
// picture is on offer in its project, its photo is no reference, its landmark
// belongs to the picture.
func TestMigratingForward(t *testing.T) {
	dsn, ctx := mariadbtest.DSN(t), context.Background()
	first, err := migrations.ReadFile("migrations/0001_begin.sql")
	if err != nil {
		t.Fatal(err)
	}
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for statement := range strings.SplitSeq(string(first)+`
CREATE TABLE migrations (id VARCHAR(255) NOT NULL PRIMARY KEY);
INSERT INTO migrations VALUES ('0001_begin');
INSERT INTO schools VALUES (1, 'Quay', NOW());
INSERT INTO teachers VALUES (1, 1, 'a@quay.example', 'A', 'x', NOW());
INSERT INTO classes VALUES (1, 1, '7', NOW());
INSERT INTO students VALUES (1, 1, 'Ada', NOW());
INSERT INTO pictures VALUES (1, 1, 'Lamp', 10, 10, 1, REPEAT('x', 32), NOW()), (2, 1, 'photo', 10, 10, 1, REPEAT('y', 32), NOW());
INSERT INTO projects VALUES (1, 1, 1, 1, 'Lamp', 'normal', 0, NOW(), NOW());
INSERT INTO landmarks VALUES (1, 1, 'Tip', 1, 5, 5);
INSERT INTO check_ins VALUES (1, 1, 1, 2, NULL, NULL, 0, NOW());
`, ";\n") {
		if strings.TrimSpace(statement) == "" {
			continue
		}
		if _, err := db.Exec(statement); err != nil {
			t.Fatalf("%s: %v", statement, err)
		}
	}
	s, err := Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	offered, err := s.ProjectPictures(ctx, 1)
	if err != nil || len(offered) != 1 || offered[0].ID != 1 {
		t.Errorf("on offer %+v, %v", offered, err)
	}
	library, err := s.Library(ctx, 1, "")
	if err != nil || len(library) != 1 || library[0].ID != 1 {
		t.Errorf("library %+v, %v; want the lamp alone", library, err)
	}
	one := uint64(1)
	marks, err := s.Landmarks(ctx, 1, &one)
	if err != nil || len(marks) != 1 {
		t.Errorf("landmarks %+v, %v", marks, err)
	}
	class, err := s.Class(ctx, 1, 1)
	if err != nil || class.Students[0].Hand != "right" {
		t.Errorf("student %+v, %v", class.Students, err)
	}
}

// A photo in the tray and in check-ins is its teacher's alone, waits where it
// must, and goes when nothing shows it any more.
func TestTrayAndPhotos(t *testing.T) {
	s, ctx := open(t), context.Background()
	mine, class, p := room(t, s, "mine@quay.example")
	other, _, theirs := room(t, s, "other@quay.example")
	photo := func(teacher uint64) Picture {
		t.Helper()
		pic := Picture{TeacherID: teacher, Name: "photo", Width: 10, Height: 10, Hash: make([]byte, 32), Purpose: ForCheckIn}
		if err := s.AddPicture(ctx, &pic, []PictureFile{{Role: Full, Kind: "image/jpeg", Bytes: []byte("x")}}); err != nil {
			t.Fatal(err)
		}
		return pic
	}
	pic := photo(mine.ID)
	x := Stray{ProjectID: p.ID, PictureID: pic.ID, Words: "No tags."}
	if err := s.AddStray(ctx, &x); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Stray(ctx, other.ID, x.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher's tray: %v", err)
	}
	c := CheckIn{ProjectID: p.ID, StudentID: class.Students[0].ID, PictureID: pic.ID}
	if err := s.AddCheckIn(ctx, mine.ID, &c); err != nil {
		t.Fatal(err)
	}
	if err := s.AddCheckIn(ctx, other.ID, &CheckIn{ProjectID: p.ID, StudentID: class.Students[0].ID, PictureID: pic.ID}); !errors.Is(err, ErrNotFound) {
		t.Errorf("a check-in in another teacher's project: %v", err)
	}
	waiting := func() int {
		o, err := s.Overview(ctx, mine.ID, time.Now())
		if err != nil {
			t.Fatal(err)
		}
		return o.Waiting[p.ID][0] + o.Waiting[p.ID][class.ID]
	}
	if n := waiting(); n != 2 {
		t.Errorf("%d wait; want the stray and the check-in without corners", n)
	}
	corners := plane.Quad{plane.Pt(1, 1), plane.Pt(9, 1), plane.Pt(9, 9), plane.Pt(1, 9)}
	c.Settle(accuracy.Report{Format: accuracy.Format, Corners: corners, Say: []string{"Well."}, Cells: []accuracy.Cell{{Label: "A1", State: accuracy.Drawn}}})
	c.PlanSum = 77
	if err := s.Place(ctx, &c); err != nil {
		t.Fatal(err)
	}
	kept, err := s.CheckIn(ctx, mine.ID, c.ID)
	if err != nil || kept.Report == nil || kept.Report.Say[0] != "Well." || kept.Report.Cells[0].State != accuracy.Drawn || kept.PlanSum != 77 {
		t.Errorf("kept %+v, %v", kept.Report, err)
	}
	if n := waiting(); n != 1 {
		t.Errorf("%d wait; want the stray alone", n)
	}
	who := class.Students[0].ID
	if of, err := s.LastMeasured(ctx, p.ID, who, 0, 77); err != nil || of.ID != c.ID || of.Report == nil {
		t.Errorf("last measured is %d, %v; want %d with its report", of.ID, err, c.ID)
	}
	for _, none := range []struct {
		before uint64
		sum    uint32
	}{{c.ID, 0}, {0, 78}} {
		if of, err := s.LastMeasured(ctx, p.ID, who, none.before, none.sum); !errors.Is(err, ErrNotFound) {
			t.Errorf("before %d of plan %d: %d, %v; want none", none.before, none.sum, of.ID, err)
		}
	}
	// Lists have the gist without the report, also of rows from before gists were kept.
	for _, sql := range []string{"", "UPDATE check_ins SET gist = NULL"} {
		if sql != "" {
			if err := s.db.Exec(sql).Error; err != nil {
				t.Fatal(err)
			}
		}
		list, err := s.CheckIns(ctx, p)
		if err != nil || len(list) != 1 || list[0].Report != nil || list[0].Gist == nil ||
			!slices.Equal(list[0].Gist.Drawn, []string{"A1"}) || list[0].Student.ID != who ||
			list[0].Picture.ID != pic.ID {
			t.Errorf("listed %+v, %v; want the gist, the student and the photo", list, err)
		}
		all, err := s.CheckInsEverywhere(ctx, mine.ID, []uint64{who})
		if err != nil || len(all) != 1 || all[0].Gist == nil || all[0].Project.Name != p.Name {
			t.Errorf("everywhere %+v, %v; want it with its project's name", all, err)
		}
	}
	if all, err := s.CheckInsEverywhere(ctx, other.ID, []uint64{who}); err != nil || len(all) != 0 {
		t.Errorf("another teacher sees %d of the student's photos, %v", len(all), err)
	}

	// The stray goes, the photo stays with the check-in; then it goes as well.
	if err := s.RemoveStray(ctx, x); err != nil {
		t.Fatal(err)
	}
	if _, err := s.PictureFile(ctx, mine.ID, pic.ID, Full); err != nil {
		t.Errorf("the photo went with the tray: %v", err)
	}
	if err := s.RemoveCheckIn(ctx, other.ID, c.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher throws it away: %v", err)
	}
	if err := s.RemoveCheckIn(ctx, mine.ID, c.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.PictureFile(ctx, mine.ID, pic.ID, Full); !errors.Is(err, ErrNotFound) {
		t.Errorf("the photo that nothing shows: %v; want it gone", err)
	}

	// What is compared is the owner's to say.
	if err := s.SetCompare(ctx, mine.ID, p.ID, accuracy.Fold); err != nil {
		t.Fatal(err)
	}
	if err := s.SetCompare(ctx, mine.ID, theirs.ID, accuracy.Fold); !errors.Is(err, ErrNotFound) {
		t.Errorf("another's project: %v", err)
	}
	if again, err := s.Project(ctx, mine.ID, p.ID); err != nil || again.Compare != accuracy.Fold {
		t.Errorf("compare %q, %v", again.Compare, err)
	}
}

// Boxes ticked together are ticked once each, and only by their teacher.
func TestTickBoxes(t *testing.T) {
	s, ctx := open(t), context.Background()
	mine, class, p := room(t, s, "mine@quay.example")
	other, _, _ := room(t, s, "other@quay.example")
	who, now := class.Students[0].ID, time.Now()
	for range 2 {
		if err := s.TickBoxes(ctx, mine.ID, p.ID, who, []string{"A1", "B2", "C3"}, true, now); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.TickBoxes(ctx, mine.ID, p.ID, who, nil, true, now); err != nil {
		t.Errorf("no boxes: %v", err)
	}
	if err := s.TickBoxes(ctx, other.ID, p.ID, who, []string{"D4"}, true, now); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher: %v", err)
	}
	if ticks, err := s.StudentTicks(ctx, p.ID, who); err != nil || len(ticks) != 3 || !ticks["B2"] {
		t.Errorf("%v, %v; want the three", ticks, err)
	}
	if err := s.TickBoxes(ctx, mine.ID, p.ID, who, []string{"A1", "B2", "F9"}, false, now); err != nil {
		t.Fatal(err)
	}
	if ticks, err := s.StudentTicks(ctx, p.ID, who); err != nil || len(ticks) != 1 || !ticks["C3"] {
		t.Errorf("%v, %v; want C3 alone", ticks, err)
	}
}

// The check-in before one, round the project: from the oldest on to the newest,
// never one of another project; alone it is its own.
func TestCheckInBefore(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	other := Project{TeacherID: teacher.ID, ClassID: &class.ID, Name: "Jug", Looseness: accuracy.Normal}
	if err := s.AddProject(ctx, &other); err != nil {
		t.Fatal(err)
	}
	pic := Picture{TeacherID: teacher.ID, Name: "photo", Width: 4, Height: 3, Hash: make([]byte, 32), Purpose: ForCheckIn}
	if err := s.AddPicture(ctx, &pic, nil); err != nil {
		t.Fatal(err)
	}
	var all []CheckIn
	for _, project := range []uint64{p.ID, other.ID, p.ID, p.ID} {
		c := CheckIn{ProjectID: project, StudentID: class.Students[0].ID, PictureID: pic.ID}
		if err := s.AddCheckIn(ctx, teacher.ID, &c); err != nil {
			t.Fatal(err)
		}
		all = append(all, c)
	}
	for i, want := range []int{3, 1, 0, 2} {
		if got, err := s.CheckInBefore(ctx, all[i]); err != nil || got != all[want].ID {
			t.Errorf("before %d comes %d, %v; want %d", all[i].ID, got, err, all[want].ID)
		}
	}
}

// A project without a class has none, and a class without lessons has no calendar.
func TestNothingJoined(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, _, p := room(t, s, "a@quay.example")
	bare := Project{TeacherID: teacher.ID, Name: "Bare", Looseness: accuracy.Normal}
	if err := s.AddProject(ctx, &bare); err != nil {
		t.Fatal(err)
	}
	if got, err := s.Project(ctx, teacher.ID, bare.ID); err != nil || got.Class != nil || got.Picture != nil || got.Plan != nil {
		t.Errorf("class %v, picture %v, plan %v, %v; want none of them", got.Class, got.Picture, got.Plan, err)
	}
	if got, err := s.Project(ctx, teacher.ID, p.ID); err != nil || got.Class == nil || got.Class.Calendar != nil {
		t.Errorf("class %+v, %v; want one without lessons", got.Class, err)
	}
}

// A database that cannot be reached is told from one that says no.
func TestAway(t *testing.T) {
	s := open(t)
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	_, err := Open(context.Background(), "zesty:secret@tcp(127.0.0.1:1)/nothing")
	if !Away(err) {
		t.Errorf("nobody there: %v", err)
	}
	if Away(ErrNotFound) || Away(nil) || Away(&mysqldriver.MySQLError{Number: 1045}) {
		t.Error("an answer counts as none")
	}
}

// A disk without room is told from other troubles, however MariaDB puts it.
func TestNoRoom(t *testing.T) {
	for _, c := range []struct {
		err  error
		want bool
	}{
		{fmt.Errorf("keeping: %w", &mysqldriver.MySQLError{Number: 1114, Message: "The table 'picture_files' is full"}), true}, {&mysqldriver.MySQLError{Number: 1021}, true},
		{&mysqldriver.MySQLError{Number: 1030, Message: `Got error 28 "No space left on device" from storage engine InnoDB`}, true},
		{&mysqldriver.MySQLError{Number: 1030, Message: "Got error 122 from storage engine"}, false}, {ErrNotFound, false}, {nil, false},
	} {
		if NoRoom(c.err) != c.want {
			t.Errorf("%v: %v", c.err, !c.want)
		}
	}
}
