package checkin_test

import (
	"bytes"
	"context"
	"errors"
	"testing"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
	"zestysketch/internal/work"
)

// next takes and makes the next job.
func (r room) next() (store.Job, error) {
	r.t.Helper()
	ctx := context.Background()
	job, ok, err := r.s.TakeJob(ctx)
	if err != nil || !ok {
		r.t.Fatal("no job to take: ", err)
	}
	made := checkin.Make(ctx, r.s, job)
	job, err = r.s.Job(ctx, r.project.TeacherID, job.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		r.t.Fatal(err)
	}
	return job, made
}

// A photo handed in is one job however often it is sent; measured, the file as it
// was sent is gone, and what came of it is said.
func TestPhotosAsJobs(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	ada := r.class.Students[0].ID
	photo := r.photo(r.project.ID, ada, demo.Hand{Size: 1})
	hand := func(h checkin.Handed, b []byte) store.Job {
		t.Helper()
		j, err := checkin.Queue(ctx, r.s, r.project, h, b, true)
		storetest.Must(t, err)
		return j
	}
	first, again := hand(checkin.Handed{Name: "p"}, photo), hand(checkin.Handed{Name: "p"}, photo)
	if first.ID == 0 || first.ID != again.ID {
		t.Errorf("sent twice it is job %d and %d; want one", first.ID, again.ID)
	}
	noted := append([]byte{0xff, 0xd8, 0xff, 0xfe, 0, 14}, "taken at home"[:12]...) // a comment (ITU-T T.81, B.2.4.5)
	if again := hand(checkin.Handed{Name: "p"}, append(noted, photo[2:]...)); again.ID != first.ID {
		t.Error("what a camera noted in a photo makes it another")
	}
	if kept, err := r.s.PhotoOf(ctx, first.ID); err != nil || len(kept) == 0 || bytes.Contains(kept, []byte("at home")) {
		t.Errorf("while it waits, %d bytes are kept, %v; want them without what the camera noted", len(kept), err)
	}
	if _, err := checkin.Queue(ctx, r.s, r.project, checkin.Handed{}, []byte("no picture"), true); !picture.Unreadable(err) {
		t.Errorf("no picture: %v; want said at once", err)
	}
	done, err := r.next()
	if err != nil || done.State != store.Done || len(done.Result) != 1 || done.Result[0].CheckIn == 0 || done.Result[0].Words == "" {
		t.Fatalf("measured: %+v, %v", done, err)
	}
	if _, err := r.s.PhotoOf(ctx, done.ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the file as it was sent: %v; want it gone", err)
	}
	if kept, err := r.s.CheckIns(ctx, r.project); err != nil || len(kept) != 1 {
		t.Errorf("%d check-ins, %v; want one", len(kept), err)
	}

	// Sent again when it was measured, it is measured again and found to be there.
	hand(checkin.Handed{Name: "p"}, photo)
	if done, err = r.next(); err != nil || done.State != store.Done {
		t.Errorf("sent again: %+v, %v", done, err)
	}
	if kept, err := r.s.CheckIns(ctx, r.project); err != nil || len(kept) != 1 {
		t.Errorf("%d check-ins after the second time, %v; want one", len(kept), err)
	}

	var final work.Final
	hand(checkin.Handed{Name: "cut"}, photo[:len(photo)/3])
	if _, err := r.next(); !errors.As(err, &final) {
		t.Errorf("a photo that is cut off: %v; want its words", err)
	}
	hand(checkin.Handed{Name: "left", Student: ada + 99}, photo)
	if _, err := r.next(); !errors.As(err, &final) {
		t.Errorf("a student who is not here: %v; want it said", err)
	}
	thrown := hand(checkin.Handed{Name: "away"}, r.photo(0, ada, demo.Hand{Size: 1}))
	job, _, err := r.s.TakeJob(ctx)
	storetest.Must(t, err)
	storetest.Must(t, r.s.CancelJob(ctx, r.project.TeacherID, thrown.ID))
	if err := checkin.Make(ctx, r.s, job); err == nil || errors.As(err, &final) {
		// its file is gone: the worker finds the job cancelled
		t.Errorf("thrown away: %v", err)
	}
	if strays, err := r.s.Strays(ctx, r.project.ID); err != nil || len(strays) != 0 {
		t.Errorf("%d in the tray, %v; want what was thrown away nowhere", len(strays), err)
	}
}

// Who is forgotten while their photo waits leaves nothing of it.
func TestForgottenWhileWaiting(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	ada := r.class.Students[0].ID
	_, err := checkin.Queue(ctx, r.s, r.project, checkin.Handed{Name: "ada", Student: ada}, r.photo(0, ada, demo.Hand{Size: 1}), false)
	storetest.Must(t, err)
	storetest.Must(t, r.s.ForgetStudent(ctx, r.project.TeacherID, ada))
	if job, ok, err := r.s.TakeJob(ctx); err != nil || ok {
		t.Errorf("their photo waits still: %+v, %v", job, err)
	}
	if kept, err := r.s.CheckIns(ctx, r.project); err != nil || len(kept) != 0 {
		t.Errorf("%d check-ins, %v; want none", len(kept), err)
	}
}
