package work

import (
	"context"
	"errors"
	"time"

	"zestysketch/internal/store"
)

// keep is how long finished sets are kept: they hold students' links.
const keep = 24 * time.Hour

// keptWrong is how long a teacher is told of wrong tries before they signed in.
const keptWrong = 30 * 24 * time.Hour

// sweep forgets what is kept no longer at a moment; of several copies one does it.
func (w Worker) sweep(ctx context.Context, now time.Time) error {
	mine, err := w.Store.Lease(ctx, "forgetting", sweepEvery/2)
	if err != nil || !mine {
		return err
	}
	ended, err := w.Store.EndOld(ctx, now)
	if ended.Photos+ended.Notes > 0 {
		w.Log.Info("the school keeps these no longer", "photos", ended.Photos, "notes", ended.Notes)
	}
	return errors.Join(err, w.Store.SweepJobs(ctx, now.Add(-keep)), w.Store.SweepChanges(ctx, now.Add(-keep)), w.Store.SweepSessions(ctx, now),
		w.Store.SweepSignIns(ctx, now.Add(-keep)), w.Store.SweepInvitations(ctx, now), w.Store.SweepAuditLog(ctx, now.Add(-store.AuditKept)),
		w.Store.SweepWrong(ctx, now.Add(-keptWrong)), w.Store.PurgeProjects(ctx, now.Add(-store.KeptDeleted)))
}
