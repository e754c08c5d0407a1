package work

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// shop is a school with a project and a worker that is not started.
type shop struct {
	t testing.TB
	storetest.School
	project store.Project
	worker  Worker
}

func newShop(t testing.TB, makers map[store.JobKind]Maker) shop {
	t.Helper()
	school := storetest.New(t, "Ada")
	plan, err := grid.Make(grid.Request{Reference: "7x9in", Scale: "1.5", ReferenceSquare: "1in"})
	storetest.Must(t, err)
	project := school.Project(t, "P", school.Picture(t, "p", 700, 900, []byte("no picture")), plan)
	return shop{t, school, project, Worker{school.DB, slog.New(slog.NewTextHandler(io.Discard, nil)), makers, nil}}
}

func (s shop) queue(urgent bool) uint64 {
	s.t.Helper()
	j := store.Job{ProjectID: s.project.ID, Kind: store.SetJob, Spec: "{}", Urgent: urgent}
	storetest.Must(s.t, s.DB.AddJob(context.Background(), s.Teacher.ID, &j))
	return j.ID
}

// run runs the worker until done is closed.
func (s shop) run(done <-chan struct{}) {
	s.t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan struct{})
	go func() { s.worker.Run(ctx); close(ended) }()
	select {
	case <-done:
	case <-time.After(30 * time.Second):
		s.t.Error("half a minute and not done")
	}
	stop()
	<-ended
}

func (s shop) state(id uint64) store.Job {
	s.t.Helper()
	j, err := s.DB.Job(context.Background(), s.Teacher.ID, id)
	storetest.Must(s.t, err)
	return j
}

// Whoever waits comes first, then the oldest; a job that cannot be made says why,
// and one of a kind that nobody makes says so.
func TestTurns(t *testing.T) {
	var order []uint64
	done := make(chan struct{})
	s := newShop(t, map[store.JobKind]Maker{store.SetJob: func(ctx context.Context, db *store.Store, j store.Job) error {
		if order = append(order, j.ID); len(order) == 4 {
			defer close(done)
		}
		if len(order) == 1 {
			return Final{"The paper is too small."}
		}
		return db.FinishSet(ctx, j.ID, []byte("%PDF"), "")
	}})
	first, second, third, waits := s.queue(false), s.queue(false), s.queue(false), s.queue(true)
	odd := store.Job{ProjectID: s.project.ID, Kind: "song", Spec: "{}", Urgent: true}
	storetest.Must(t, s.DB.AddJob(context.Background(), s.Teacher.ID, &odd))
	s.run(done)
	if len(order) != 4 || order[0] != waits || order[1] != first || order[2] != second || order[3] != third {
		t.Errorf("made %v; want %d first, then %d, %d, %d", order, waits, first, second, third)
	}
	if j := s.state(waits); j.State != store.Failed || j.Message != "The paper is too small." {
		t.Errorf("one that cannot be made is %s: %q", j.State, j.Message)
	}
	if j := s.state(odd.ID); j.State != store.Failed || !strings.Contains(j.Message, "does not know how") {
		t.Errorf("one of an unknown kind is %s: %q", j.State, j.Message)
	}
}

// A worker outlives a panic and what fails in passing: the job is tried three
// times, and no more.
func TestOutlivesItsJobs(t *testing.T) {
	tries, done := 0, make(chan struct{})
	s := newShop(t, map[store.JobKind]Maker{store.SetJob: func(ctx context.Context, _ *store.Store, _ store.Job) error {
		if tries++; tries == 1 {
			panic("a page too many")
		}
		return errors.New("kept: the ink has dried")
	}})
	id := s.queue(false)
	go func() {
		for s.state(id).State != store.Failed {
			time.Sleep(20 * time.Millisecond)
		}
		close(done)
	}()
	s.run(done)
	if j := s.state(id); j.State != store.Failed || tries != 3 || !strings.Contains(j.Message, "3 times") || !strings.Contains(j.Message, "the ink has dried") {
		t.Errorf("after %d tries it is %s: %q", tries, j.State, j.Message)
	}
}

// One of two copies has a lease until it ends or is given back; the clock of the
// database counts, and one from a time to come holds nobody up.
func TestLease(t *testing.T) {
	s := newShop(t, nil)
	ctx := context.Background()
	pool, err := s.DB.Pool()
	storetest.Must(t, err)
	take := func(want bool, why string) {
		t.Helper()
		if mine, err := s.DB.Lease(ctx, "night", time.Minute); err != nil || mine != want {
			t.Errorf("%s: %v, %v; want %v", why, mine, err, want)
		}
	}
	other := func(until string) {
		t.Helper()
		_, err := pool.Exec("REPLACE INTO leases VALUES ('night', 'another copy', UTC_TIMESTAMP(3) + INTERVAL " + until + ")")
		storetest.Must(t, err)
	}
	take(true, "nobody has it")
	take(true, "it is held already")
	storetest.Must(t, s.DB.Release(ctx, "night"))
	other("30 SECOND")
	take(false, "another has it")
	storetest.Must(t, s.DB.Release(ctx, "night"))
	take(false, "another's was given back")
	other("-1 SECOND")
	take(true, "another's has ended")
	other("1 HOUR")
	take(true, "taken by a clock an hour ahead")
}

// A photo over which a maker sits too long goes behind those that wait, and fails where it
// would never end; a worker that died leaves its job to be taken again.
func TestTooLong(t *testing.T) {
	ctx := context.Background()
	s := newShop(t, nil)
	s.worker.End = func() {}
	photo := func(b byte) store.Job {
		j := store.Job{ProjectID: s.project.ID, Spec: "{}", Urgent: true}
		storetest.Must(t, s.DB.AddPhoto(ctx, s.Teacher.ID, &j, []byte{b}))
		return j
	}
	take := func(want store.Job) store.Job {
		t.Helper()
		j, ok, err := s.DB.TakeJob(ctx)
		if err != nil || !ok || j.ID != want.ID {
			t.Fatalf("took %d, %v, %v; want %d", j.ID, ok, err, want.ID)
		}
		return j
	}
	slow := photo(1)
	take(slow)
	if s.worker.tooLong(ctx, slow, whileOthersWait+time.Second) {
		t.Error("it is ended while nobody waits")
	}
	other := photo(2)
	if s.worker.tooLong(ctx, slow, whileOthersWait-time.Second) || !s.worker.tooLong(ctx, slow, whileOthersWait+time.Second) {
		t.Error("while another waits, it is not ended after a while")
	}
	take(other)
	storetest.Must(t, s.DB.FinishPhoto(ctx, other, nil))
	take(slow)
	if !s.worker.tooLong(ctx, slow, atMost+time.Second) || s.state(slow.ID).State != store.Failed {
		t.Errorf("it took longer than any may and is %s", s.state(slow.ID).State)
	}
	s.DB.HeldBy("this one")
	left := photo(3)
	take(left)
	storetest.Must(t, errors.Join(s.DB.Died(ctx, "another"), s.DB.Died(ctx, "this one")))
	if j := take(left); j.Stumbles != 1 || j.Tries != 2 {
		t.Errorf("after its worker died: %+v; want one stumble", j)
	}
}

// A job that is cancelled ends within a second, also where its maker does not listen.
func TestCancelledEnds(t *testing.T) {
	ended, deaf := make(chan struct{}), make(chan struct{})
	s := newShop(t, map[store.JobKind]Maker{store.SetJob: func(ctx context.Context, db *store.Store, j store.Job) error {
		<-deaf
		return nil
	}})
	s.worker.End = func() { close(ended) }
	id := s.queue(true)
	ctx, stop := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { s.worker.Run(ctx) })
	defer func() { close(deaf); stop(); running.Wait() }()
	for s.state(id).State != store.Running {
		time.Sleep(5 * time.Millisecond)
	}
	began := time.Now()
	storetest.Must(t, s.DB.CancelJob(context.Background(), s.Teacher.ID, id))
	select {
	case <-ended:
	case <-time.After(5 * time.Second):
		t.Fatal("it goes on")
	}
	if took := time.Since(began); took > 3*time.Second { // a machine that is busy with other tests
		t.Errorf("it ended after %v; want a second at most", took)
	}
}
