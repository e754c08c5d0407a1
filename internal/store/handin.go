package store

import (
	"context"

	"zestysketch/internal/core/lesson"
)

// SetHandIn changes when a project's students may hand photos in, and whether they see the
// boxes without words.
func (s *Store) SetHandIn(ctx context.Context, teacher, project uint64, when lesson.HandIn, bare bool) error {
	return s.update(ctx, teacher, project, map[string]any{"hand_in": when, "hand_in_bare": bare})
}

// RemoveJobs throws some ended jobs of a project away that the caller has fetched.
func (s *Store) RemoveJobs(ctx context.Context, project uint64, ids []uint64) error {
	if len(ids) == 0 {
		return nil
	}
	return s.with(ctx).Delete(&Job{}, "project_id = ? AND state = ? AND id IN ?", project, Failed, ids).Error
}
