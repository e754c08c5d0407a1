// Package work does what need not be done while somebody's request waits: class
// sets, photos to be measured, and forgetting what is old. Jobs lie in the
// database; every copy of the program has one worker, which takes one at a time.
package work

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"zestysketch/internal/store"
)

// Maker makes one job. It keeps what came of it itself; an error that is Final
// ends the job with its words, any other lets it be tried again.
type Maker func(ctx context.Context, s *store.Store, job store.Job) error

// Final is an error that trying again does not mend. Its words are for a person.
type Final struct{ Words string }

func (f Final) Error() string { return f.Words }

// Worker makes queued jobs, one at a time.
type Worker struct {
	Store  *store.Store
	Log    *slog.Logger
	Makers map[store.JobKind]Maker
	// End ends the worker's process, which is started again; nil where it has none of its own.
	// A photo over which a maker sits too long is ended so.
	End func()
}

// Every so often a worker looks for a job that another copy queued or left, says
// that it lives, and forgets what is old.
const (
	look       = 300 * time.Millisecond
	beat       = 5 * time.Second
	patience   = 400 * time.Millisecond // for a maker whose job was cancelled
	sweepEvery = time.Hour
)

// A photo may take so much of a processor while others wait, and at all (ours: one of 12
// megapixels without tags takes 1.3 s; a HEIC file, or a machine a fifth as fast, some 8).
const whileOthersWait, atMost = 6 * time.Second, 30 * time.Second

// Run works until ctx ends.
func (w Worker) Run(ctx context.Context) {
	tick := time.NewTicker(look)
	defer tick.Stop()
	var swept time.Time
	worked := false
	for {
		if time.Since(swept) > sweepEvery {
			swept = time.Now()
			if err := w.sweep(ctx, swept.UTC()); err != nil && ctx.Err() == nil {
				w.Log.Error("forgetting what is old", "error", err)
			}
		}
		job, ok, err := w.Store.TakeJob(ctx)
		if err != nil && ctx.Err() == nil && !store.Away(err) {
			w.Log.Error("looking for jobs", "error", err)
		}
		if ok {
			w.do(ctx, job)
			worked = true
			continue
		}
		if worked {
			worked = false
			debug.FreeOSMemory() // nobody knows when the next photo comes
		}
		select {
		case <-ctx.Done():
			return
		case <-w.Store.Bell():
		case <-tick.C:
		}
	}
}

// do makes one job. A worker that is stopped in the middle leaves it to the next.
// What cannot be made fails with the reason; what could not be kept, or made the
// maker stumble, is tried again until it fails for good.
func (w Worker) do(ctx context.Context, job store.Job) {
	making, stop := context.WithCancel(ctx)
	defer stop()
	made := make(chan struct{})
	go w.live(making, job, stop, made)
	err := w.made(making, job)
	close(made)
	var final Final
	switch {
	case err == nil || making.Err() != nil:
	case errors.As(err, &final):
		err = w.Store.FailJob(ctx, job, final.Words)
	default:
		w.Log.Error("making a job", "kind", job.Kind, "job", job.ID, "error", err)
		err = w.Store.RequeueJob(ctx, job, Said(err))
	}
	if err != nil && ctx.Err() == nil && making.Err() == nil {
		w.Log.Error("saying what became of a job", "job", job.ID, "error", err)
	}
}

// made calls the job's maker and outlives its panic.
func (w Worker) made(ctx context.Context, job store.Job) (err error) {
	defer func() {
		if cause := recover(); cause != nil {
			err = fmt.Errorf("the maker stumbled over it: %v", cause)
			w.Log.Error("a maker stumbled", "kind", job.Kind, "job", job.ID, "stack", string(debug.Stack()))
		}
	}()
	make, known := w.Makers[job.Kind]
	if !known {
		return Final{"This program does not know how to make it."}
	}
	return make(ctx, w.Store, job)
}

// live says that a job's maker lives, until it has made it. It stops it once the job was
// cancelled, and ends what does not stop, or takes too long.
func (w Worker) live(ctx context.Context, job store.Job, stop func(), made <-chan struct{}) {
	tick := time.NewTicker(look)
	defer tick.Stop()
	began, beaten := processor(), time.Now()
	for {
		select {
		case <-ctx.Done():
			return
		case <-made:
			return
		case <-tick.C:
		}
		going, err := w.Store.Going(ctx, job.ID)
		if err == nil && !going {
			stop()
			w.endUnless(made)
			return
		}
		if time.Since(beaten) > beat {
			beaten = time.Now()
			w.Store.Alive(ctx, job.ID)
		}
		if w.tooLong(ctx, job, processor()-began) {
			stop()
			w.endUnless(made)
			return
		}
	}
}

// endUnless ends the process unless the maker stops by itself.
func (w Worker) endUnless(made <-chan struct{}) {
	select {
	case <-made:
	case <-time.After(patience):
		if w.End != nil {
			w.End()
		}
	}
}

// tooLong reports whether a photo took more of the processor than it may, and says so of it:
// it fails, or goes behind those that wait.
func (w Worker) tooLong(ctx context.Context, job store.Job, took time.Duration) bool {
	if w.End == nil || job.Kind != store.PhotoJob || took < whileOthersWait {
		return false
	}
	if took > atMost {
		return w.Store.FailJob(ctx, job, "The photo takes too long to open. Save it as an ordinary JPEG, and send it again.") == nil
	}
	waiting, err := w.Store.Waiting(ctx)
	return err == nil && waiting > 1 && w.Store.RequeueJob(ctx, job, "The photo takes long to open, and others wait.") == nil
}

// processor returns how much of the processor this process has used.
func processor() time.Duration {
	var u syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &u); err != nil {
		return 0
	}
	return time.Duration(u.Utime.Nano() + u.Stime.Nano())
}

// Said is an error without its sentinel.
func Said(err error) string {
	_, words, found := strings.Cut(err.Error(), ": ")
	if !found {
		words = err.Error()
	}
	return words
}
