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
}

// Every so often a worker looks for a job that another copy queued or left, says
// that it lives, and forgets what is old.
const (
	look       = 300 * time.Millisecond
	beat       = 5 * time.Second
	sweepEvery = time.Hour
)

// Run works until ctx ends.
func (w Worker) Run(ctx context.Context) {
	tick := time.NewTicker(look)
	defer tick.Stop()
	var swept time.Time
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
			continue
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
	go w.live(making, job, stop)
	err := w.made(making, job)
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

// live says that a job's maker lives, and stops it once the job was cancelled.
func (w Worker) live(ctx context.Context, job store.Job, stop func()) {
	tick := time.NewTicker(beat)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		if going, err := w.Store.Alive(ctx, job.ID); err == nil && !going {
			stop()
		}
	}
}

// Said is an error without its sentinel.
func Said(err error) string {
	_, words, found := strings.Cut(err.Error(), ": ")
	if !found {
		words = err.Error()
	}
	return words
}
