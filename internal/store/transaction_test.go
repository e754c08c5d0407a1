package store_test

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

// Whatever statement a deadlock comes at, what was to be done is done once and whole.
func TestDeadlocks(t *testing.T) {
	ctx, must := context.Background(), storetest.Must
	school := storetest.New(t, "Ana")
	db, teacher := school.DB, school.Teacher.ID
	pic := school.Picture(t, "Lamp", 10, 10, []byte("x"))
	p := store.Project{TeacherID: teacher, ClassID: &school.Class.ID, PictureID: &pic.ID, Name: "Lamp"}
	must(t, db.AddProject(ctx, &p))
	other, err := db.AddClass(ctx, teacher, "8b")
	must(t, err)
	number := 0
	// joins is somebody new in class with a photo, a tick, a note, a link and a printed set.
	joins := func(t *testing.T) store.Student {
		number++
		name := "Student " + string(rune('A'+number/26)) + string(rune('A'+number%26))
		must(t, db.AddStudents(ctx, teacher, school.Class.ID, []string{name}))
		class, err := db.Class(ctx, teacher, school.Class.ID)
		must(t, err)
		one := class.Students[len(class.Students)-1]
		shot := store.Picture{TeacherID: teacher, Name: "photo", Hash: make([]byte, 32), Purpose: store.ForCheckIn}
		must(t, db.AddPicture(ctx, &shot, []store.PictureFile{{Role: store.Full, Kind: "image/png", Bytes: []byte("x")}}))
		must(t, db.AddCheckIn(ctx, teacher, &store.CheckIn{ProjectID: p.ID, StudentID: one.ID, PictureID: shot.ID}))
		must(t, db.Tick(ctx, teacher, p.ID, one.ID, "A1", true, time.Now()))
		must(t, db.AddNote(ctx, teacher, &store.Note{ProjectID: p.ID, StudentID: &one.ID, Words: "Good lines."}))
		_, err = db.AddHelperLink(ctx, teacher, p.ID, one.ID, "draw")
		must(t, err)
		return one
	}
	running := func(t *testing.T) store.Job {
		number++
		must(t, db.AddPhoto(ctx, teacher, &store.Job{ProjectID: p.ID, Spec: "{}"}, []byte{byte(number), byte(number >> 8)}))
		j, _, err := db.TakeJob(ctx)
		must(t, err)
		return j
	}
	for name, prepare := range map[string]func(t *testing.T) func(*store.Store) error{
		"check-in": func(t *testing.T) func(*store.Store) error {
			job, one := running(t), joins(t)
			return func(s *store.Store) error {
				return s.Transaction(ctx, func(s *store.Store) error {
					shot := store.Picture{TeacherID: teacher, Name: "photo", Hash: make([]byte, 32), Purpose: store.ForCheckIn}
					if err := s.AddPicture(ctx, &shot, []store.PictureFile{{Role: store.Full, Kind: "image/png", Bytes: []byte("x")}}); err != nil {
						return err
					}
					if err := s.AddCheckIn(ctx, teacher, &store.CheckIn{ProjectID: p.ID, StudentID: one.ID, PictureID: shot.ID}); err != nil {
						return err
					}
					return s.FinishPhoto(ctx, job, nil)
				})
			}
		},
		"forget": func(t *testing.T) func(*store.Store) error {
			one := joins(t)
			return func(s *store.Store) error { return s.ForgetStudent(ctx, teacher, one.ID) }
		},
		"leave": func(t *testing.T) func(*store.Store) error {
			one := joins(t)
			return func(s *store.Store) error { return s.LeaveClass(ctx, teacher, one.ID, true) }
		},
		"move": func(t *testing.T) func(*store.Store) error {
			one := joins(t)
			return func(s *store.Store) error {
				_, err := s.MoveStudent(ctx, teacher, one.ID, other.ID, false)
				return err
			}
		},
		"merge": func(t *testing.T) func(*store.Store) error {
			one, stays := joins(t), joins(t)
			return func(s *store.Store) error { return s.MergeStudents(ctx, teacher, one.ID, stays.ID) }
		},
		"copy": func(t *testing.T) func(*store.Store) error {
			return func(s *store.Store) error {
				_, err := s.CopyProject(ctx, teacher, p.ID, true)
				return err
			}
		},
		"password": func(t *testing.T) func(*store.Store) error {
			return func(s *store.Store) error { return s.SetPassword(ctx, teacher, "another long password") }
		},
	} {
		t.Run(name, func(t *testing.T) {
			storetest.Deadlocks(t, db, func() func(*store.Store) error { return prepare(t) })
		})
	}
}

// A transaction that was given up sends nothing more and is not kept, also where
// somebody on the way swallowed the error.
func TestLostTransactionIsLost(t *testing.T) {
	ctx := context.Background()
	school := storetest.New(t, "Ana")
	swallowed := 0
	storetest.Deadlocks(t, school.DB, func() func(*store.Store) error {
		return func(s *store.Store) error {
			return s.Transaction(ctx, func(s *store.Store) error {
				_, _ = s.AddClass(ctx, school.Teacher.ID, "one")
				if _, err := s.AddClass(ctx, school.Teacher.ID, "two"); err != nil {
					swallowed++
				}
				return nil
			})
		}
	})
	if swallowed == 0 {
		t.Error("no deadlock reached the second change")
	}
}

// A job can be queued within a larger change; its worker is called once that is kept.
func TestJobWithinATransaction(t *testing.T) {
	ctx := context.Background()
	school := storetest.New(t, "Ana")
	p := store.Project{TeacherID: school.Teacher.ID, ClassID: &school.Class.ID, Name: "Lamp"}
	storetest.Must(t, school.DB.AddProject(ctx, &p))
	no := errors.New("no")
	for _, fails := range []error{no, nil} {
		err := school.DB.Transaction(ctx, func(s *store.Store) error {
			if err := s.AddJob(ctx, school.Teacher.ID, &store.Job{ProjectID: p.ID, Kind: store.SetJob, Spec: "{}"}); err != nil {
				return err
			}
			return fails
		})
		rang := false
		select {
		case <-school.DB.Bell():
			rang = true
		default:
		}
		if !errors.Is(err, fails) || rang != (fails == nil) {
			t.Errorf("a change that ends with %v: %v, the bell rang: %v", fails, err, rang)
		}
	}
}

// Four hundred notes at once wait for no connection that one of them holds.
func TestNotesAtOnce(t *testing.T) {
	ctx, end := context.WithTimeout(context.Background(), 30*time.Second)
	defer end()
	school := storetest.New(t, "Ana")
	p := store.Project{TeacherID: school.Teacher.ID, ClassID: &school.Class.ID, Name: "Lamp"}
	storetest.Must(t, school.DB.AddProject(ctx, &p))
	var all sync.WaitGroup
	for range 400 {
		all.Go(func() {
			if err := school.DB.AddNote(ctx, school.Teacher.ID, &store.Note{ProjectID: p.ID, Words: "Light lines."}); err != nil {
				t.Error(err)
			}
		})
	}
	all.Wait()
}
