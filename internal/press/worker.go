package press

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"strings"
	"time"

	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// Every so often a worker looks for a job that another copy queued or left.
const look = time.Second

// keep is how long finished sets are kept: they hold students' links.
const keep = 24 * time.Hour

// Worker makes queued class sets, one at a time.
type Worker struct {
	Store *store.Store
	Log   *slog.Logger
}

// Run works until ctx ends.
func (w Worker) Run(ctx context.Context) {
	tick := time.NewTicker(look)
	defer tick.Stop()
	var swept time.Time
	for {
		if time.Since(swept) > time.Hour {
			swept = time.Now()
			if err := w.sweep(ctx, swept.UTC()); err != nil && ctx.Err() == nil {
				w.Log.Error("forgetting what is old", "error", err)
			}
		}
		job, ok, err := w.Store.TakeJob(ctx)
		if err != nil && ctx.Err() == nil {
			w.Log.Error("looking for class sets to make", "error", err)
		}
		if ok {
			w.guarded(ctx, job, func() { w.make(ctx, job) })
			continue
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// sweep forgets what is kept no longer at a moment.
func (w Worker) sweep(ctx context.Context, now time.Time) error {
	ended, err := w.Store.EndOld(ctx, now)
	if ended.Photos+ended.Notes > 0 {
		w.Log.Info("the school keeps these no longer", "photos", ended.Photos, "notes", ended.Notes)
	}
	return errors.Join(err, w.Store.SweepJobs(ctx, now.Add(-keep)), w.Store.SweepChanges(ctx, now.Add(-keep)), w.Store.SweepSessions(ctx, now),
		w.Store.SweepSignIns(ctx, now.Add(-keep)), w.Store.SweepInvitations(ctx, now), w.Store.SweepDeeds(ctx, now.Add(-store.KeptDeeds)),
		w.Store.PurgeProjects(ctx, now.Add(-store.KeptDeleted)))
}

var errCancelled = errors.New("cancelled")

// make makes one job's file. A worker that is stopped in the middle leaves the
// job to the next. What cannot be made fails with the reason; what could not be
// kept, or made the maker stumble, is tried again until it fails for good.
func (w Worker) make(ctx context.Context, job store.PrintJob) {
	file, message, err := w.file(ctx, job)
	switch {
	case err == nil:
		if err := w.Store.FinishJob(ctx, job.ID, file, message); err != nil {
			w.again(ctx, job, err)
		}
	case errors.Is(err, errCancelled) || ctx.Err() != nil:
	default:
		if err := w.Store.FailJob(ctx, job.ID, said(err)); err != nil {
			w.again(ctx, job, err)
		}
	}
}

// guarded runs what makes a job and outlives its panic.
func (w Worker) guarded(ctx context.Context, job store.PrintJob, work func()) {
	defer func() {
		if cause := recover(); cause != nil {
			w.again(ctx, job, fmt.Errorf("the maker stumbled over it: %v", cause))
			w.Log.Error("a class set's maker stumbled", "job", job.ID, "stack", string(debug.Stack()))
		}
	}()
	work()
}

// again queues a job once more.
func (w Worker) again(ctx context.Context, job store.PrintJob, why error) {
	if ctx.Err() != nil {
		return
	}
	w.Log.Error("making a class set", "job", job.ID, "error", why)
	if err := w.Store.RequeueJob(ctx, job.ID, said(why)); err != nil {
		w.Log.Error("queueing a class set again", "job", job.ID, "error", err)
	}
}

// said is an error without its sentinel.
func said(err error) string {
	_, words, found := strings.Cut(err.Error(), ": ")
	if !found {
		words = err.Error()
	}
	return words
}

func (w Worker) file(ctx context.Context, job store.PrintJob) (file []byte, message string, err error) {
	spec, err := Parse(job.Spec)
	if err != nil {
		return nil, "", err
	}
	p, err := w.Store.AnyProject(ctx, job.ProjectID, spec.Class)
	if err != nil {
		return nil, "", err
	}
	set, err := Load(ctx, w.Store, p, spec)
	if err != nil {
		return nil, "", err
	}
	beat := time.Time{}
	made, err := set.Make(ctx, spec, func(done, total int) error {
		if time.Since(beat) < 100*time.Millisecond && done < total {
			return nil
		}
		beat = time.Now()
		going, err := w.Store.Progress(ctx, job.ID, done, total)
		if err == nil && !going {
			err = errCancelled
		}
		return err
	})
	if err != nil {
		return nil, "", err
	}
	pictures, err := Files(ctx, w.Store, p.TeacherID, made, store.Full)
	if err != nil {
		return nil, "", err
	}
	var out bytes.Buffer
	if err := render.PDF(&out, made.Pages, pictures); err != nil {
		return nil, "", err
	}
	if len(made.Left) > 0 {
		message = "Left out: " + strings.Join(made.Left, "; ") + "."
	}
	return out.Bytes(), message, nil
}
